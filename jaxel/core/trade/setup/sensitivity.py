"""What one step of each slot does to engagement and shift, around the set-up in hand."""

from dataclasses import dataclass

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import ConditionsPart, SetupDocument
from jaxel.core.mechanism.equilibrium.batch import shifts
from jaxel.core.units import FOOT, METRIC, RPM, Units

from ..kinds.kinds import NOT_STATED, Kinds
from .discrepancy import FIGURES, Discrepancy
from .figures import NODES
from .parts import differing
from .slot import Number, Slot, step_of
from .slots import slots, with_numbers

THOUSAND_FEET_M = 1000 * FOOT

HOLE_DEG = 20.0
"""How far one hole winds a spring whose clutch's table of holes is not known [deg]; from memory."""

HOLE_SPREAD = 0.4
"""Share by which that differs from clutch to clutch, one standard deviation; from memory."""


@dataclass(frozen=True)
class Sensitivity:
    """Change per step: `step` of `unit` moves bite, shift mean and full shift by so much [rpm].

    `spread`, the share by which the step itself is not known: one standard deviation.
    """

    key: str
    label: str
    step: float
    unit: str
    bite_rpm: float
    mean_rpm: float
    full_shift_rpm: float
    spread: float = 0.0


@dataclass(frozen=True)
class _Pair:
    """A set-up on either side of the one in hand, each with its place on the slot's scale."""

    key: str
    label: str
    unit: str
    step: float
    below: tuple[SetupDocument, float]
    above: tuple[SetupDocument, float]
    spread: float = 0.0


def sensitivities(
    document: SetupDocument, kinds: Kinds = NOT_STATED, units: Units = METRIC, told: Discrepancy | None = None
) -> list[Sensitivity]:
    """Change of the figures per step of every slot, of the belt's width and of the altitude, told by its factor.

    Central differences, (y(p + h) − y(p − h))/2h with half a step for h; one-sided at the end of a slot's
    range. A slot that cannot move either way is left out. All sides are solved in one call.

    Parameters: `units`, the hand's, of whose numbers one step is taken; `told`, how changes are, None as by the study.

    Raises InvalidValue where the set-up itself cannot work.

    >>> from jaxel.demo.workshop import document
    >>> gram = next(each for each in sensitivities(document("mountain-sled")) if each.key == "arm_mass_g")
    >>> gram.step, gram.unit, round(gram.mean_rpm)
    (1.0, 'g', -55)

    Reference: central difference quotient, error O(h²).
    """
    document.core()
    known = told or Discrepancy.of_the_study()
    pairs = [
        _of_number(document, slot, number, units)
        for slot in slots(document, kinds)
        for number in slot.numbers
        if number.typed
    ]
    pairs += [_of_width(document, units), _of_altitude(document, units)]
    moved = [pair for pair in pairs if pair is not None and pair.below[1] != pair.above[1]]
    sides = shifts([side.core() for pair in moved for side, _ in (pair.below, pair.above)], NODES)
    figures = np.column_stack([sides.bite, sides.mean, sides.full_shift]) / RPM
    found = []
    for index, pair in enumerate(moved):
        if sides.valid[2 * index] and sides.valid[2 * index + 1]:
            per_step = pair.step / (pair.above[1] - pair.below[1])
            parts = differing(pair.below[0], pair.above[0])
            factors = [known.of(parts, figure).factor for figure in FIGURES]
            change = (figures[2 * index + 1] - figures[2 * index]) * per_step * factors
            bite, mean, full = change.tolist()
            found.append(Sensitivity(pair.key, pair.label, pair.step, pair.unit, bite, mean, full, pair.spread))
    return found


def _of_number(document: SetupDocument, slot: Slot, number: Number, units: Units) -> _Pair | None:
    here = number.value
    if here is None:
        return None
    # A clutch without a table of its holes is wound a hole at a time, by degrees that nobody has measured.
    hole = number.key == "pretwist_deg"
    step = HOLE_DEG if hole else step_of(number.unit, units)
    half = step if number.unit == "" else step / 2

    def moved(by: float) -> tuple[SetupDocument, float]:
        try:
            return with_numbers(document, {number.key: here + by}), here + by
        except InvalidValue:
            return document, here

    label = f"{slot.name}, {'one hole on' if hole else number.label}"
    return _Pair(number.key, label, number.unit, step, moved(-half), moved(half), HOLE_SPREAD if hole else 0.0)


def _of_width(document: SetupDocument, units: Units) -> _Pair | None:
    width = document.belt.top_width_mm

    def moved(by: float) -> tuple[SetupDocument, float] | None:
        try:
            changed = document.with_belt_width(width + by)
            changed.core()
        except InvalidValue:
            return None
        return changed, width + by

    here = (document, width)
    return _Pair("belt_width_mm", "Belt, width", "mm", step_of("mm", units), moved(-0.25) or here, moved(0.25) or here)


def _of_altitude(document: SetupDocument, units: Units) -> _Pair | None:
    air = document.conditions
    if air.barometer_hpa is not None:
        return None

    def moved(by: float) -> tuple[SetupDocument, float]:
        height = min(6000.0, max(-430.0, air.elevation_m + by))
        changed: ConditionsPart = air.model_copy(update={"elevation_m": height})
        return document.in_use(document.belt.top_width_mm, changed, document.target), height

    step = THOUSAND_FEET_M if units.altitude == "ft" else 300.0
    return _Pair("elevation_m", "Altitude", "m", step, moved(-THOUSAND_FEET_M / 2), moved(THOUSAND_FEET_M / 2))
