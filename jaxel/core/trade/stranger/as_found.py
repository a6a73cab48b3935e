"""Faults as found: what no set-up may have and a clutch on the bench can, and what of it can still be predicted.

A fault is recorded as it was found, keeps the prediction honest, and stays an open item until it has been put right:
it is refused only as left.
"""

import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.reading import validate
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.clutch.bench import imbalance
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.units import GRAM, RPM, parse_quantity, said
from jaxel.core.words import q

from ..kinds.kinds import NOT_STATED, Kinds, Side
from ..record.quantities import Words
from ..record.said import Said
from ..setup.slot import EQUAL_WITHIN_G, weighings

Effect = Literal["computed", "not counted", "no prediction"]
Values = Literal["masses", "positions"]


@dataclass(frozen=True)
class FaultKind:
    """A kind of fault: `effect`, what becomes of the prediction as found; `values`, what it is recorded with, if
    anything; `means`, what it does, in the trade's words (common practice)."""

    key: str
    name: str
    side: Side
    slot: str
    effect: Effect
    means: str
    values: Values | None = None


FAULT_KINDS: dict[str, FaultKind] = {
    each.key: each
    for each in (
        FaultKind(
            "wound-backwards",
            "Secondary spring wound backwards",
            "secondary",
            "secondary_spring",
            "no prediction",
            "the spring opens the sheaves instead of holding them shut: no shift can be told",
        ),
        FaultKind(
            "unwound",
            "Secondary spring not wound",
            "secondary",
            "secondary_spring",
            "computed",
            "computed with no twist at rest: weak on the belt at take-off and slow to shift back",
        ),
        FaultKind(
            "secondary-spring-broken",
            "Secondary spring broken",
            "secondary",
            "secondary_spring",
            "no prediction",
            "its force is unknown: no shift can be told, and the belt slips",
        ),
        FaultKind(
            "primary-spring-broken",
            "Primary spring broken",
            "primary",
            "primary_spring",
            "no prediction",
            "its force is unknown: it engages early, and no speed can be told",
        ),
        FaultKind(
            "arms-unequal",
            "Weights unequal",
            "primary",
            "arms",
            "computed",
            "computed with their mean; out of balance",
            "masses",
        ),
        FaultKind(
            "clickers-differ",
            "Clickers not alike",
            "primary",
            "clicker",
            "computed",
            "computed with the mean of their pushes; the sheave is pushed askew",
            "positions",
        ),
        FaultKind(
            "washer-missing",
            "Thrust washer missing",
            "primary",
            "washer",
            "not counted",
            "not counted in the prediction; a washer that is missing is somewhere",
        ),
        FaultKind(
            "magnets-turned",
            "Magnets turned round",
            "primary",
            "loads",
            "not counted",
            "not counted in the prediction; they push each other out of their pockets",
        ),
        FaultKind(
            "other",
            "Another fault, in words",
            "primary",
            "",
            "not counted",
            "not counted in the prediction",
        ),
    )
}
"""Every kind of fault by its key; from memory and common practice."""


@dataclass(frozen=True)
class Fault:
    """A fault as it was found: `values`, masses [g] or positions; `note` in words; `put_right`, what was done, empty
    until it has been."""

    kind: str
    values: tuple[float, ...] = ()
    note: Annotated[Words, Said("fault found", hand=False)] = ""
    put_right: Annotated[Words, Said("put right", hand=False)] = ""

    @property
    def name(self) -> str:
        """What it is called, with what it was recorded with.

        >>> Fault("clickers-differ", (3, 3, 4)).name
        'Clickers not alike, 3 / 3 / 4'
        """
        kind = FAULT_KINDS[self.kind]
        figures = " / ".join(said(value) for value in self.values)
        words = [kind.name if self.kind != "other" or not self.note else self.note]
        if figures:
            words.append(figures + (" g" if kind.values == "masses" else ""))
        return ", ".join(words)


@dataclass(frozen=True)
class FoundFault:
    """A fault found at a visit, under its number."""

    id: int
    fault: Fault


def lacks(faults: Iterable[FoundFault]) -> Iterator[tuple[str, str]]:
    """The faults that were not put right, as (field, words)."""
    for each in faults:
        if not each.fault.put_right:
            yield f"fault_{each.id}", f"found, and not put right: {each.fault.name[:1].lower()}{each.fault.name[1:]}"


def fault_kinds(document: SetupDocument, kinds: Kinds = NOT_STATED) -> list[FaultKind]:
    """The kinds of fault this machine's clutches can have.

    Whether its spring is wound is seen at the clutch; where its kind is not stated, the set-up's torsion says it.
    """
    secondary = kinds.of("secondary")
    winds = bool(document.secondary.spring.torsion_rate_nm_per_deg)
    if secondary is not None:
        winds = any(part.wound for part in secondary.guide.part)
    can: dict[str, bool] = {
        "wound-backwards": winds,
        "unwound": winds,
        "clickers-differ": document.primary.clicker is not None or kinds.primary == "adjustable-cam-primary",
        "magnets-turned": bool(document.primary.stations),
    }
    return [each for each in FAULT_KINDS.values() if can.get(each.key, True) and _has(kinds, each.key)]


def _has(kinds: Kinds, fault: str) -> bool:
    """Whether a fault's own clutch is here: of a bare clutch only what can be found of its half."""
    return fault == "other" or FAULT_KINDS[fault].side in kinds.sides


def read_fault(document: SetupDocument, kind: str, text: str, note: str = "") -> Fault:
    """A fault as a hand records it.

    Parameters: `text`, its values as typed, 48.1/48.0/46.9 or 3/3/4. Raises InvalidValue (field `kind`, `values`,
    `note`) for a kind that is none, values that are no fault, and words that are missing.
    """
    known = FAULT_KINDS.get(kind)
    if known is None:
        raise InvalidValue("kind", "is no kind of fault known here")
    if kind == "other" and not note.strip():
        raise InvalidValue("note", "says what was found")
    if known.values is None:
        if text.strip():
            raise InvalidValue("values", f"{known.name.lower()} is recorded without numbers")
        return Fault(kind, (), note.strip())
    count = document.primary.weights.count
    unit = "g" if known.values == "masses" else ""
    pieces = [each for each in re.split(r"[\s/;]+", text.strip()) if each] if not unit else weighings(text.strip())
    try:
        values = tuple(parse_quantity(each, unit) for each in pieces)
    except InvalidValue as error:
        raise InvalidValue("values", error.reason) from None
    if len(values) != count:
        raise InvalidValue("values", f"needs all {count}, one by one: {len(values)} were given")
    if known.values == "masses":
        if min(values) <= 0:
            raise InvalidValue("values", "must each be above 0 g")
        if max(values) - min(values) <= EQUAL_WITHIN_G + 1e-9:
            raise InvalidValue("values", f"are alike within {EQUAL_WITHIN_G:g} g: that is a set, not a fault")
    else:
        most = document.primary.clicker.positions if document.primary.clicker else 6
        if any(value != int(value) or not 1 <= value <= most for value in values):
            raise InvalidValue("values", f"must each be a position from 1 to {most}")
        if len(set(values)) == 1:
            raise InvalidValue("values", "are all alike: that is a setting, not a fault")
    return Fault(kind, values, note.strip())


def with_faults(document: SetupDocument, faults: Iterable[Fault]) -> SetupDocument:
    """The set-up as a clutch with these faults works, as far as that can be computed.

    Raises InvalidValue (field `faults`) where one leaves nothing to predict.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> cam = packages()["sled-cam-850"].document
    >>> round(with_faults(cam, [Fault("arms-unequal", (48.1, 48.0, 46.9))]).primary.weights.base_mass_g, 3)
    47.667
    """
    for fault in faults:
        kind = FAULT_KINDS[fault.kind]
        if kind.effect == "no prediction":
            raise InvalidValue("faults", f"not predicted as found: {kind.name.lower()}, {kind.means}")
        compute = _COMPUTED.get(fault.kind)
        if compute:
            document = validate(SetupDocument, compute(document, fault.values).model_dump(exclude_none=True))
    return document


SLACK_DEG = 0.01
"""Wind of a spring that was not wound [deg]: the model takes any above 0."""


def _unwound(document: SetupDocument, _: Sequence[float]) -> SetupDocument:
    if not document.secondary.spring.torsion_rate_nm_per_deg:
        return document  # its torsion is not known: it is predicted without any
    loose = with_value(with_value(document, "secondary.holes", None), "secondary.spring.pretwist_deg", SLACK_DEG)
    known = {path: each for path, each in (document.evidence or {}).items() if not path.startswith("secondary.holes")}
    return loose.model_copy(update={"evidence": known if document.evidence is not None else None})


def _mean_mass(document: SetupDocument, masses: Sequence[float]) -> SetupDocument:
    return with_value(document, "primary.weights.base_mass_g", sum(masses) / len(masses))


def _mean_push(document: SetupDocument, positions: Sequence[float]) -> SetupDocument:
    clicker = document.primary.clicker
    if clicker is None:
        return document
    mean = sum(positions) / len(positions)
    scale = document.model.gain_scale * (1 - clicker.gain_step * (mean - clicker.reference))
    at_reference = with_value(document, "primary.clicker.position", clicker.reference)
    return with_value(at_reference, "model.gain_scale", scale)


_COMPUTED: dict[str, Callable[[SetupDocument, Sequence[float]], SetupDocument]] = {
    "unwound": _unwound,
    "arms-unequal": _mean_mass,
    "clickers-differ": _mean_push,
}


def consequence(document: SetupDocument, fault: Fault) -> str:
    """What a fault does, in a sentence; of unequal weights with the force they leave out of balance.

    Parameters: `document`, the set-up as recorded. Reference: `mechanism.bench.imbalance`.
    """
    kind = FAULT_KINDS[fault.kind]
    if fault.kind != "arms-unequal":
        return kind.means
    mean = sum(fault.values) / len(fault.values)
    try:
        with in_document_terms():
            core = _mean_mass(document, fault.values).core()
            shift = predict(core, 21).shift
            radius = float(core.primary.profile.radius(shift.path.travel).mean())
    except InvalidValue:
        return kind.means
    uneven = imbalance([each * GRAM for each in fault.values], radius)
    force = uneven * shift.mean**2
    return (
        f"computed with their mean, {said(round(mean, 1))} g; out of balance, "
        f"{q(force, 'N', 0)} turning with the shaft at {said(round(shift.mean / RPM))} rpm"
    )
