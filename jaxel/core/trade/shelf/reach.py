"""The values a part would need to land in the window when nothing at hand does."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from jaxel.core.formats.paths import value_at, with_value
from jaxel.core.formats.plan.plan import Reach, ReachValue
from jaxel.core.formats.setup.setup import SetupDocument, TargetPart
from jaxel.core.mechanism.numerics.tables import Array

from ..setup.calibration import Calibration, Estimate
from ..setup.figures import ENGAGEMENT, MEAN

FURTHEST = 2.5
"""How many times itself, or which part of itself, a value may become and still be a part one could buy; from memory."""

CLOSE_RPM = 1.0


@dataclass(frozen=True)
class Knob:
    """A number that a part could have otherwise: its slot, its field, its unit, and where it must stay."""

    slot: str
    path: str
    unit: str
    low: float = 0.0
    high: float = np.inf


ENGAGEMENT_KNOBS = (Knob("primary_spring", "primary.spring.force_start_n", "N"),)
SHIFT_KNOBS = (
    Knob("arms", "primary.weights.base_mass_g", "g"),
    Knob("primary_spring", "primary.spring.force_finish_n", "N"),
    Knob("helix", "secondary.helix.angles[0].deg", "°", 15.0, 75.0),
    Knob("secondary_spring", "secondary.spring.force_start_n", "N"),
)


def reach(document: SetupDocument, known: Calibration, now: Estimate, target: TargetPart) -> list[Reach]:
    """Pairs of values that would land in the middle of both windows, the least change first.

    Each pair is one number that moves the engagement and one that moves the shift. Parameters: `known` of the machine
    and the estimate of the set-up as it is, from which changes are told by their factors.

    Reference: scipy.optimize.root, hybrid Powell.
    """
    from scipy.optimize import root  # slow to import: a server answers before it needs it

    at = np.array([now.engagement, now.mean])
    wanted = np.array([target.engagement_rpm, target.shift_rpm])
    found = []
    for first in ENGAGEMENT_KNOBS:
        for second in SHIFT_KNOBS:
            knobs = (first, second)
            here = [float(value_at(document, each.path)) for each in knobs]
            if min(here) <= 0:
                continue
            figures = _figures(known, document, at, knobs, here)
            scale = np.asarray(root(_missing(figures, wanted), np.ones(2), tol=1e-7).x)
            near = np.abs(_missing(figures, wanted)(scale)).max() * 1e3 <= CLOSE_RPM
            could_be = all(1 / FURTHEST <= by <= FURTHEST for by in scale) and all(
                each.low <= value <= each.high for each, value in zip(knobs, scale * here, strict=True)
            )
            if near and could_be:
                said_of = _said(document, knobs, scale, figures(scale))
                found.append((float(np.abs(np.log(scale)).sum()), said_of))
    return [each for _, each in sorted(found, key=lambda one: one[0])]


def _figures(
    known: Calibration, document: SetupDocument, at: Array, knobs: Sequence[Knob], here: Sequence[float]
) -> Callable[[Array], Array]:
    """Engagement and shift mean with the knobs scaled [2, rpm], from what they are now, `at`."""

    def figures(scale: Array) -> Array:
        there = document
        for each, value, by in zip(knobs, here, scale, strict=True):
            there = with_value(there, each.path, value * abs(float(by)))
        return np.asarray(at + known.changes(document, [there])[0, [ENGAGEMENT, MEAN]])

    return figures


def _missing(figures: Callable[[Array], Array], wanted: Array) -> Callable[[Array], Array]:
    """What is missing to the window's middle, in thousands of turns; far off where there is no clutch."""

    def missing(scale: Array) -> Array:
        at = figures(scale)
        return np.where(np.isnan(at), 10.0, (at - wanted) / 1e3)

    return missing


def _said(document: SetupDocument, knobs: Sequence[Knob], scale: Array, at: Array) -> Reach:
    values = []
    for each, by in zip(knobs, scale, strict=True):
        now = float(value_at(document, each.path))
        values.append(ReachValue(slot=each.slot, field=each.path, unit=each.unit, now=now,
                                 needed=round(now * float(by), 2)))  # fmt: skip
    return Reach(values=values, engagement_rpm=round(float(at[0]), 1), shift_mean_rpm=round(float(at[1]), 1))
