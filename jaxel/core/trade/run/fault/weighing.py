"""A run's signs weighed against every fault: Bayes' rule over the faults and their sizes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log
from typing import Literal, get_args

import numpy as np

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array

from ...setup.calibration import least_deviations
from ...setup.figures import HIGH_RATIO, LOW_RATIO, MEAN
from ...setup.worth import effects_on
from ..like import REPEAT, Like
from .signs import SIGNS, Effect, Fault, Pulled, Twins, effects, power_over

Kind = Literal["belt", "clutch", "slip", "engine", "gearing", "nothing amiss", "cannot be told"]

KINDS: tuple[Kind, ...] = get_args(Kind)

_OF: Mapping[Fault, Kind] = {
    "narrow belt": "belt",
    "binding sheave": "clutch",
    "slip": "slip",
    "weak engine": "engine",
    "heavy arms": "engine",
    "gearing": "gearing",
}

PRIORS: Mapping[Fault, float] = {
    "narrow belt": 0.10,
    "binding sheave": 0.10,
    "slip": 0.08,
    "weak engine": 0.08,
    "heavy arms": 0.08,
    "gearing": 0.05,
}
"""How often a machine that is brought in has a fault nobody recorded; from memory."""

MEASURED_BELT = 0.02
"""The same of a belt narrower than recorded, once a caliper was on it; from memory."""

STRANGE = 0.06
"""How often something else is at fault, which may do anything; from memory."""


USUAL: Mapping[Fault, float] = {
    "narrow belt": 1.2,
    "binding sheave": 3.0,
    "weak engine": 0.15,
    "heavy arms": 0.1,
    "gearing": 0.1,
    "slip": 1.0,
}
"""Deviation of a fault's size, half-normal, in its unit; of slip each share looked at counts alike; from memory."""

ANYTHING = np.array([0.15, 0.15, 400.0, 0.4, 0.15])
"""What something else may do to each of SIGNS, one deviation; from memory."""

POWER_REPEAT, GEAR_REPEAT = 0.04, 0.02
"""Deviations of power and of the gearing a log tells from run to run [-]: ground, wind, a receiver; from memory."""

ENDS = 0.95
"""How often a pull comes to the end of its shift, or grips before it, where its twin does."""

READ_ALL_THE_SAME = 0.2
"""How often a sign is read that a simulated pull with the fault does not show; from memory."""


@dataclass(frozen=True)
class Context:
    """What is known beside the pull: the `mean` of its shift set beside a simulated run, None where it cannot be; what
    was `predicted` for it that day with its deviation, None where nothing was kept; the `target` speed with its
    tolerance [rpm]; whether a caliper was on the belt; and whether the gears were read from the `secondary`."""

    mean: Like | None
    predicted: tuple[float, float] | None
    target: tuple[float, float] | None
    belt_measured: bool
    secondary: bool


class Weighed:
    """A run's signs against every fault."""

    def __init__(self, setup: SetupDocument, read: Pulled, twins: Twins, known: Context, here: Array):
        self.setup, self.read, self.twins, self.known = setup, read, twins, known
        self.signs = self._signs(here)
        self.covariance = self._covariance()
        self.there = np.isfinite(self.signs)
        self.effects = effects(setup, twins, known.secondary)
        self.chance = self._chances()

    def _signs(self, here: Array) -> Array:
        read, sound = self.read, self.twins.sound
        ends = [
            None if mine is None else mine - (its if its is not None else log(allowed))
            for mine, its, allowed in (
                (read.low, sound.low, here[LOW_RATIO]), (read.high, sound.high, here[HIGH_RATIO]),
            )
        ]  # fmt: skip
        mean = self.known.mean.miss if self.known.mean else None
        if mean is not None and self.known.predicted is not None:
            mean -= self.known.predicted[0] - float(here[MEAN])
        gear = read.gear if self.known.secondary else None
        signs = [*ends, mean, power_over(read, sound), gear]
        return np.array([np.nan if each is None else each for each in signs])

    def _covariance(self) -> Array:
        """What the signs are in doubt by [signs, signs]."""
        (inputs,) = least_deviations([self.setup])
        base, (found,) = effects_on([self.setup], [inputs])
        moved = np.zeros((len(inputs), len(SIGNS)))
        moved[:, 0] = found.values[:, LOW_RATIO] / base.values[0, LOW_RATIO]
        moved[:, 1] = found.values[:, HIGH_RATIO] / base.values[0, HIGH_RATIO]
        moved[:, 2] = found.values[:, MEAN]
        if self.known.predicted is not None and np.any(moved[:, 2]):
            moved[:, 2] *= self.known.predicted[1] / float(np.linalg.norm(moved[:, 2]))
        for row, each in enumerate(inputs):
            share = each.sd / each.value if each.value else each.sd
            if each.path in ("model.torque_scale", "engine.curve", "vehicle.mass_kg"):
                moved[row, 3] = share
            elif each.path in ("vehicle.drive_ratio", "vehicle.rolling_radius_mm"):
                off = -share if each.path == "vehicle.drive_ratio" else share
                moved[row, 4] = off
                if not self.known.secondary:
                    moved[row, :2] += off
        read = self.read
        low, high = REPEAT["low_ratio"] / exp(read.low or 0.0), REPEAT["high_ratio"] / exp(read.high or 0.0)
        own = [
            read.low_sd**2 + low**2, read.high_sd**2 + high**2,
            self.known.mean.sd() ** 2 if self.known.mean else 1.0, POWER_REPEAT**2, read.gear_sd**2 + GEAR_REPEAT**2,
        ]  # fmt: skip
        return moved.T @ moved + np.diag(own)

    def _log_density(self, expected: Array, covariance: Array) -> float:
        """Of the signs that were read; one that a fault leaves unreadable may be read as anything, and seldom is."""
        if not self.there.any():
            return 0.0
        blank = ~np.isfinite(expected)
        wide = covariance + np.diag(np.where(blank, ANYTHING**2, 0.0))
        off = (self.signs - np.where(blank, 0.0, expected))[self.there]
        held = wide[np.ix_(self.there, self.there)]
        _, size = np.linalg.slogdet(held)
        density = -0.5 * (off @ np.linalg.solve(held, off) + size + self.there.sum() * log(2 * np.pi))
        return float(density + (blank & self.there).sum() * log(READ_ALL_THE_SAME))

    def _of(self, some: Sequence[Effect]) -> float:
        """Density of the signs under a fault, over its sizes."""
        if not some:
            return 0.0
        sizes = np.array([each.size for each in some])
        usual = USUAL[some[0].fault]
        weights = np.ones(len(some)) if some[0].fault == "slip" else np.exp(-0.5 * (sizes / usual) ** 2)
        densities = [
            exp(self._log_density(each.signs, self.covariance)) * self._as_it_went(each.ends, each.grips)
            for each in some
        ]
        return float(np.average(densities, weights=weights))

    def _as_it_went(self, ends: bool, grips: bool) -> float:
        """Chance of the shift having come to its end, and of the belt having gripped before it, or not, as it did."""
        sound, read = self.twins.sound, self.read
        ended = ENDS if read.ended == ends else 1 - ENDS
        gripped = ENDS if (read.low is not None) == grips else 1 - ENDS
        return (ended if sound.ended else 0.5) * (gripped if sound.low is not None else 0.5)

    def _chances(self) -> dict[str, float]:
        priors = dict(PRIORS)
        if self.known.belt_measured:
            priors["narrow belt"] = MEASURED_BELT
        sound = 1.0 - sum(priors.values()) - STRANGE
        none = np.zeros(len(SIGNS))
        found: dict[str, float] = {
            "": sound * exp(self._log_density(none, self.covariance)) * self._as_it_went(True, True),
            "strange": STRANGE * exp(self._log_density(none, self.covariance + np.diag(ANYTHING**2))) * 0.25,
        }
        for fault, prior in priors.items():
            found[fault] = prior * self._of([each for each in self.effects if each.fault == fault])
        total = sum(found.values())
        return {key: each / total for key, each in found.items()} if total > 0 else {"strange": 1.0}

    @property
    def held(self) -> tuple[float, float] | None:
        """The mean of the shift as it counts, with its deviation [rpm]."""
        return (self.known.mean.counted, self.known.mean.sd()) if self.known.mean else None

    def _outside(self) -> tuple[float, float]:
        """Chances that the speed held lies below and above its window; of a speed nobody knows, none."""
        from scipy.special import ndtr  # slow to import: a server answers before it needs it

        if self.held is None or self.known.target is None:
            return 0.0, 0.0
        (mean, sd), (target, tolerance) = self.held, self.known.target
        return float(ndtr((target - tolerance - mean) / sd)), float(ndtr((mean - target - tolerance) / sd))

    def kinds(self, worn: bool) -> dict[Kind, float]:
        """Chances of each kind of verdict: of a machine without an unrecorded fault by what the records and the window
        say."""
        found: dict[Kind, float] = dict.fromkeys(KINDS, 0.0)
        for fault, kind in _OF.items():
            found[kind] += self.chance.get(fault, 0.0)
        found["cannot be told"] += self.chance["strange"]
        sound = self.chance.get("", 0.0)
        below, above = self._outside()
        if worn:
            found["belt"] += sound
        else:
            found["engine"] += sound * below
            found["clutch"] += sound * above
            found["nothing amiss"] += sound * max(0.0, 1 - below - above)
        if not self.read.ended:  # without the gearing reached nobody can say which of the others it is
            for kind in ("belt", "clutch", "engine", "nothing amiss"):
                found["cannot be told"] += found[kind]
                found[kind] = 0.0
        return found
