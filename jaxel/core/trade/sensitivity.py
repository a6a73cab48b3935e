"""What one step of each slot does to engagement and shift, around the set-up in hand."""

from dataclasses import dataclass

from ..errors import InvalidValue
from ..formats.faults import in_document_terms
from ..formats.setup import ConditionsPart, SetupDocument
from ..mechanism.shift import predict
from ..units import FOOT, POUND_FORCE, RPM
from .slots import Slot, slots, with_slots

NODES = 21
"""Half the full curve's nodes, to be quick: the differences need the shape, not the detail."""

STEPS = {"g": 1.0, "N": 10 * POUND_FORCE, "deg": 1.0, "mm": 1.0, "": 1.0}
"""One step of a slot by its unit: a gram, 10 lbf, a degree, a millimetre, a click or hole."""

THOUSAND_FEET_M = 1000 * FOOT


@dataclass(frozen=True)
class Sensitivity:
    """Change per step: `step` of `unit` moves bite, shift mean and full shift by so much [rpm]."""

    key: str
    label: str
    step: float
    unit: str
    bite_rpm: float
    mean_rpm: float
    full_shift_rpm: float


def sensitivities(document: SetupDocument) -> list[Sensitivity]:
    """Change of the figures per step of every slot, of the belt's width and of the altitude.

    Central differences, (y(p + h) − y(p − h))/2h with half a step for h; one-sided at the end of a slot's
    range. A slot that cannot move either way is left out.

    Raises InvalidValue where the set-up itself cannot work.

    Reference: central difference quotient, error O(h²).
    """
    document.core()
    found = [_of_slot(document, slot) for slot in slots(document)]
    found += [_of_width(document), _of_altitude(document)]
    return [each for each in found if each is not None]


def _figures(document: SetupDocument) -> tuple[float, float, float]:
    with in_document_terms():
        done = predict(document.core(), NODES)
    return done.engagement.bite / RPM, done.shift.mean / RPM, done.shift.full_shift / RPM


def _between(
    key: str,
    label: str,
    unit: str,
    step: float,
    below: tuple[SetupDocument, float] | None,
    above: tuple[SetupDocument, float] | None,
) -> Sensitivity | None:
    """From the set-ups on both sides, each with its place on the slot's scale."""
    if below is None or above is None or above[1] == below[1]:
        return None
    low, high = _figures(below[0]), _figures(above[0])
    bite, mean, full = ((b - a) / (above[1] - below[1]) * step for a, b in zip(low, high, strict=True))
    return Sensitivity(key, label, step, unit, bite, mean, full)


def _of_slot(document: SetupDocument, slot: Slot) -> Sensitivity | None:
    step = STEPS[slot.unit]
    whole = slot.unit == ""
    half = step if whole else step / 2
    label = f"{slot.group}, {slot.label}"

    def moved(by: float) -> tuple[SetupDocument, float] | None:
        value = slot.value + by
        try:
            changed = with_slots(document, {slot.key: value})
        except InvalidValue:
            return None
        return changed, value

    here = (document, slot.value)
    below, above = moved(-half), moved(half)
    return _between(slot.key, label, slot.unit, step, below or here, above or here)


def _of_width(document: SetupDocument) -> Sensitivity | None:
    width = document.belt.top_width_mm

    def moved(by: float) -> tuple[SetupDocument, float] | None:
        try:
            changed = document.with_belt_width(width + by)
            changed.core()
        except InvalidValue:
            return None
        return changed, width + by

    here = (document, width)
    return _between("belt_width_mm", "Belt, width", "mm", 1.0, moved(-0.25) or here, moved(0.25) or here)


def _of_altitude(document: SetupDocument) -> Sensitivity | None:
    air = document.conditions
    if air.barometer_hpa is not None:
        return None

    def moved(by: float) -> tuple[SetupDocument, float]:
        height = min(6000.0, max(-430.0, air.elevation_m + by))
        changed: ConditionsPart = air.model_copy(update={"elevation_m": height})
        return document.in_use(document.belt.top_width_mm, changed, document.target), height

    return _between(
        "elevation_m", "Altitude", "m", THOUSAND_FEET_M, moved(-THOUSAND_FEET_M / 2), moved(THOUSAND_FEET_M / 2)
    )
