"""The label for the cover of a clutch that lies on a shelf: what it is, and what is known to be in it, in few lines."""

from collections.abc import Collection, Mapping, Sequence

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import METRIC, Units, said

from ..kinds.kinds import NOT_STATED, Kinds, kinds
from ..setup.slot import Number
from ..setup.slots import slots
from .origins import origins

TOLD = ("measured", "stamped")
"""How a number is known that a label prints: whoever reads it takes what stands there for what is in the clutch."""


def clutch_label(
    name: str,
    document: SetupDocument,
    stated: Kinds = NOT_STATED,
    identity: Mapping[str, str] | None = None,
    units: Units = METRIC,
    recorded: Collection[str] = (),
    faults: Sequence[str] = (),
) -> list[str]:
    """The lines of a clutch's label: of its own half, what was measured, stamped or put in here; the rest is not known.

    Parameters: `identity`, what tells it from another, by what it is called; `units` of the hand that reads it;
    `recorded`, slots by key that were changed here; `faults` found in it and not put right.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> clutch_label("Clutch 7", packages()["quad-variator-500"].document, identity={"taper": "30 mm"})[1:3]
    ['taper 30 mm', 'Rollers: not known']
    """
    lines = [name]
    lines += [f"Found, not put right: {each}" for each in faults]
    words = [kinds()[key].name for key in dict.fromkeys((stated.primary, stated.secondary)) if key in kinds()]
    if words:
        lines.append(" · ".join(words))
    told = [f"{what} {value}" for what, value in (identity or {}).items() if value]
    if told:
        lines.append(" · ".join(told))
    count = document.primary.weights.count
    known = origins(document, stated)
    for slot in slots(document, stated):
        figures = [each for each in slot.numbers if each.typed and each.value]
        how = known.get(slot.key, "")
        if how in TOLD or slot.key in recorded or document.evidence is None:
            many = f"{count} × " if slot.key == "arms" else ""
            told_by = how if how in TOLD else "as put in here" if slot.key in recorded else "as recorded"
            if figures:
                lines.append(f"{slot.name} {many}{' / '.join(_figure(each, units) for each in figures)}, {told_by}")
        else:
            lines.append(f"{slot.name}: not known")
    return list(dict.fromkeys(lines))


def _figure(number: Number, units: Units) -> str:
    value = number.value or 0.0
    if number.options:
        return number.options[int(value) - 1]
    shown = units.shown(number.unit)
    figures = said(round(shown.of(value), max(1, shown.digits)))
    return f"{figures}°" if shown.name == "deg" else f"{figures} {shown.name}".strip()
