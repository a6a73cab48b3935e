"""Engine or clutch: what a run says is at fault, how sure that is, and what would settle it.

Two comparisons of the gearing, reached against what this belt allows and this belt against a new one; the speed held
against its target; the power at the wheel against the rated in that air. Each fault that the records know nothing of
is weighed by what it would do to them, together with what is in doubt about the records, the model and the trace.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log, sqrt
from typing import Literal, get_args

import numpy as np

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.units import said
from jaxel.core.words import q

from ..setup.calibration import least_deviations
from ..setup.figures import HIGH_RATIO, LOW_RATIO, MEAN, figures_of
from ..setup.worth import effects_on
from .like import REPEAT, Like
from .signs import SIGNS, Effect, Fault, Pulled, Twins, effects, power_over

Kind = Literal["belt", "clutch", "slip", "engine", "gearing", "nothing amiss", "cannot be told"]

KINDS: tuple[Kind, ...] = get_args(Kind)

VERDICTS: Mapping[Kind, str] = {
    "belt": "The belt",
    "clutch": "The clutch, not the engine",
    "slip": "Slip",
    "engine": "The engine, or too much weight",
    "gearing": "The final gearing",
    "nothing amiss": "Nothing amiss in this run",
    "cannot be told": "Cannot be told from this",
}

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
"""How often a pull comes to the end of its shift where its twin does."""

READ_ALL_THE_SAME = 0.2
"""How often a sign is read that a simulated pull with the fault does not show; from memory."""

WORN = 0.03
"""Loss of the highest gear from which a belt counts as what holds a machine back [-]; from memory."""

TOLD, SURE = 0.7, 0.95
"""Chances from which a verdict is given, and from which it is called sure."""


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


@dataclass(frozen=True)
class Gear:
    """One end of the gearing, engine over secondary: `reached` with its deviation, None where not read; what the `belt`
    as recorded allows, and a `new` one."""

    reached: float | None
    reached_sd: float | None
    belt: float
    new: float


@dataclass(frozen=True)
class Verdict:
    """What a run says is at fault: the `kind`, its probability, those of all kinds, the reasons, what would settle it,
    and the two ends of the gearing. `sure`, from SURE on."""

    kind: Kind
    probability: float
    chances: Mapping[Kind, float]
    reasons: tuple[str, ...]
    settle: tuple[str, ...]
    low: Gear
    high: Gear

    @property
    def name(self) -> str:
        """The verdict in words."""
        return VERDICTS[self.kind]

    @property
    def sure(self) -> bool:
        """Whether it may be called sure."""
        return self.kind != "cannot be told" and self.probability >= SURE


def verdict(setup: SetupDocument, read: Pulled, twins: Twins, known: Context) -> Verdict:
    """What a run says is at fault.

    P(fault | signs) ∝ P(fault)·∫ N(signs; effect(size), Σ)·p(size) d size, Σ of the trace, of what repeats, and of what
    is in doubt about the set-up and the model, to first order.

    Parameters: `setup` with the belt and the air of the run. Raises InvalidValue where the set-up cannot work.

    Reference: Bayes' theorem, model comparison with Gaussian deviations, e.g. D. J. C. MacKay, Information Theory,
    Inference, and Learning Algorithms, 28; from memory.
    """
    new = setup.with_belt_width(setup.belt.top_width_new_mm)
    here, fresh = figures_of([setup, new]).values
    weighed = _Weighed(setup, read, twins, known, here)
    return weighed.verdict(
        _gear(read.low, read.low_sd, here[LOW_RATIO], fresh[LOW_RATIO]),
        _gear(read.high, read.high_sd, here[HIGH_RATIO], fresh[HIGH_RATIO]),
    )


def _gear(reached: float | None, sd: float, belt: float, new: float) -> Gear:
    if reached is None:
        return Gear(None, None, float(belt), float(new))
    return Gear(exp(reached), exp(reached) * sd, float(belt), float(new))


class _Weighed:
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
        densities = [exp(self._log_density(each.signs, self.covariance)) * self._ended(each.ends) for each in some]
        return float(np.average(densities, weights=weights))

    def _ended(self, ends: bool) -> float:
        """Chance of the shift having come to its end, or not, as it did."""
        if not self.twins.sound.ended:
            return 0.5
        return ENDS if self.read.ended == ends else 1 - ENDS

    def _chances(self) -> dict[str, float]:
        priors = dict(PRIORS)
        if self.known.belt_measured:
            priors["narrow belt"] = MEASURED_BELT
        sound = 1.0 - sum(priors.values()) - STRANGE
        none = np.zeros(len(SIGNS))
        found: dict[str, float] = {
            "": sound * exp(self._log_density(none, self.covariance)) * self._ended(True),
            "strange": STRANGE * exp(self._log_density(none, self.covariance + np.diag(ANYTHING**2))) * 0.5,
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
            found["nothing amiss"] += sound * (1 - below - above)
        if not self.read.ended:  # without the gearing reached nobody can say which of the others it is
            for kind in ("belt", "clutch", "engine", "nothing amiss"):
                found["cannot be told"] += found[kind]
                found[kind] = 0.0
        return found

    def verdict(self, low: Gear, high: Gear) -> Verdict:
        worn = high.belt / high.new - 1 >= WORN
        chances = self.kinds(worn)
        kind = max(chances, key=lambda each: chances[each])
        if chances[kind] < TOLD:
            kind = "cannot be told"
        telling = _Words(self, low, high, worn)
        probability = chances[kind]
        return Verdict(kind, probability, chances, tuple(telling.reasons(kind)), tuple(telling.settle(kind, chances)),
                       low, high)  # fmt: skip


class _Words:
    """A verdict's reasons and what would settle it, in words."""

    def __init__(self, weighed: _Weighed, low: Gear, high: Gear, worn: bool):
        self.weighed, self.low, self.high, self.worn = weighed, low, high, worn

    def reasons(self, kind: Kind) -> list[str]:
        found = [self._reached()]
        if self.worn and kind in ("belt", "nothing amiss", "engine", "cannot be told"):
            found.append(self._lost())
        if kind == "belt" and not self.worn:
            found.append("both gears fall short as a belt narrower than recorded would make them")
        if kind == "slip":
            found.append("the engine ran on past what the belt carried")
        found += [each for each in (self._gearing(kind), self._held(), self._power()) if each]
        return [f"{each[:1].upper()}{each[1:]}." for each in found]

    def _reached(self) -> str:
        if self.high.reached is None or not self.weighed.read.ended:
            return "the top gear was not reached: the ratio was still falling when the pull ended"
        reached, allowed = self.high.reached, self.high.belt
        off, doubt = float(self.weighed.signs[1]), sqrt(float(self.weighed.covariance[1, 1]))
        twin = self.weighed.twins.sound.high
        words = f"the top ratio came to {_ratio(reached)}; this belt allows {_ratio(allowed)}"
        if twin is not None and twin - log(allowed) > 2 * doubt:
            words += f", and the same pull simulated comes to {_ratio(exp(twin))}"
        return words + (": not reached" if off > 2 * doubt else ": beyond it" if off < -2 * doubt else ": reached")

    def _lost(self) -> str:
        share = 100 * (self.high.belt / self.high.new - 1)
        return (
            f"a new belt allows {_ratio(self.high.new)}: this one, as recorded, costs {share:.0f} % at the top and "
            f"starts at {self.low.belt:.2f} where a new one starts at {self.low.new:.2f}"
        )

    def _gearing(self, kind: Kind) -> str:
        if kind != "gearing":
            return ""
        off = self.weighed.signs[4] if np.isfinite(self.weighed.signs[4]) else np.nanmean(self.weighed.signs[:2])
        share = 100 * (exp(float(off)) - 1)
        way = "more" if share > 0 else "fewer"
        return f"the engine turns {abs(share):.0f} % {way} for the way than the gearing as recorded makes it"

    def _held(self) -> str:
        held, target = self.weighed.held, self.weighed.known.target
        if held is None or target is None:
            return ""
        off = held[0] - target[0]
        words = f"the shift held {said(round(held[0]))} ± {said(round(held[1]))} rpm"
        if abs(off) <= target[1]:
            return f"{words}, inside its window"
        return f"{words}, {said(round(abs(off)))} {'above' if off > 0 else 'below'} its target"

    def _power(self) -> str:
        power = float(self.weighed.signs[3])
        if not np.isfinite(power):
            return "power cannot be told: no speed was logged, or the ground gave way before the engine did"
        doubt = sqrt(float(self.weighed.covariance[3, 3]))
        share = 100 * (exp(power) - 1)
        rated = f"power at the wheel is {share:+.0f} ± {100 * doubt:.0f} % of what the rated gives in that air"
        return rated.replace("-", "−")

    def settle(self, kind: Kind, chances: Mapping[Kind, float]) -> list[str]:
        known, read = self.weighed.known, self.weighed.read
        found = []
        if not read.ended and kind == "cannot be told":
            found.append("a longer strip, held at full throttle until the rpm runs up past the shift")
        if known.mean is None:
            found.append("one pull at full throttle from a standstill")
        likely = {each for each, chance in chances.items() if chance > 0.1} | {kind}
        if "belt" in likely and not known.belt_measured:
            found.append("a caliper on the belt: its width says which gears it allows")
        if "clutch" in likely:
            found.append("the sheaves by hand, belt off: do they close to their stops, and open again by themselves?")
        if "slip" in likely:
            found.append("the faces and the belt: glaze, grease, heat; the secondary spring's force")
        if "engine" in likely:
            found.append(
                "the weights on a scale, and the engine's own checks"
                if not np.isfinite(self.weighed.signs[3]) or abs(self.weighed.signs[3]) < 0.08
                else "the engine's own checks; the weights on a scale"
            )
        if "gearing" in likely:
            found.append("the teeth counted and the rolling radius measured")
        if kind == "cannot be told" and known.predicted is not None and known.predicted[1] > 120:
            found.append("a calibration: what this machine should hold is only known to "
                         f"± {q(round(known.predicted[1]), 'rpm')}")  # fmt: skip
        return [] if kind == "nothing amiss" else found


def _ratio(value: float) -> str:
    return f"{value:.3f}"
