"""What a change was predicted to do before it was ridden, kept so that it can be scored as it was told."""

from jaxel.core.formats.run.runs import ForetoldPart
from jaxel.core.formats.setup.setup import SetupDocument

from ..setup.calibration import ANCHORED, TOLD, Calibration
from ..setup.discrepancy import FIGURES, kind_of
from ..setup.parts import swap_of


def foretold(before: SetupDocument, after: SetupDocument, known: Calibration | None = None) -> ForetoldPart:
    """What a change is predicted to do to each figure, by kind and without factors, by the machine's calibration."""
    (shares,) = (known or Calibration.none(before)).shares([(before, after)])
    found: dict[str, dict[str, float]] = {figure: {} for figure in FIGURES}
    for group, change in shares.items():
        kinds = dict.fromkeys(kind_of(part) for part in group)
        for place in ANCHORED:
            by_kind = found[TOLD[place]]
            for kind in kinds:
                by_kind[kind] = round(by_kind.get(kind, 0.0) + float(change[place]) / len(kinds), 2)
    return ForetoldPart(swap=swap_of(before, after), **found)
