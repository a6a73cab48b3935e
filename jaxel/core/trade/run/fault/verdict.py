"""Engine or clutch: what a run says is at fault, how sure that is, and what would settle it.

Two comparisons of the gearing, reached against what this belt allows and this belt against a new one; the speed held
against its target; the power at the wheel against the rated in that air. Each fault that the records know nothing of
is weighed by what it would do to them, together with what is in doubt about the records, the model and the trace.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import exp, log, sqrt

import numpy as np

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import said
from jaxel.core.words import q

from ...setup.figures import HIGH_RATIO, LOW_RATIO, figures_of
from .signs import Pulled, Twins
from .weighing import Context, Kind, Weighed

VERDICTS: Mapping[Kind, str] = {
    "belt": "The belt",
    "clutch": "The clutch, not the engine",
    "slip": "Slip",
    "engine": "The engine, or too much weight",
    "gearing": "The final gearing",
    "nothing amiss": "Nothing amiss in this run",
    "cannot be told": "Cannot be told from this",
}

WORN = 0.03
"""Loss of the highest gear from which a belt counts as what holds a machine back [-]; from memory."""

TOLD, SURE = 0.7, 0.95
"""Chances from which a verdict is given, and from which it is called sure."""


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
    weighed = Weighed(setup, read, twins, known, here)
    low = _gear(read.low, read.low_sd, here[LOW_RATIO], fresh[LOW_RATIO])
    high = _gear(read.high, read.high_sd, here[HIGH_RATIO], fresh[HIGH_RATIO])
    worn = high.belt / high.new - 1 >= WORN
    chances = weighed.kinds(worn)
    kind = max(chances, key=lambda each: chances[each])
    if chances[kind] < TOLD:
        kind = "cannot be told"
    words = _Words(weighed, low, high, worn)
    return Verdict(
        kind, chances[kind], chances, tuple(words.reasons(kind)), tuple(words.settle(kind, chances)), low, high
    )


def _gear(reached: float | None, sd: float, belt: float, new: float) -> Gear:
    if reached is None:
        return Gear(None, None, float(belt), float(new))
    return Gear(exp(reached), exp(reached) * sd, float(belt), float(new))


class _Words:
    """A verdict's reasons and what would settle it, in words."""

    def __init__(self, weighed: Weighed, low: Gear, high: Gear, worn: bool):
        self.weighed, self.low, self.high, self.worn = weighed, low, high, worn

    def reasons(self, kind: Kind) -> list[str]:
        found = [self._reached()]
        if self.worn and kind in ("belt", "nothing amiss", "engine", "cannot be told"):
            found.append(self._lost())
        if kind == "belt" and not self.worn:
            gears, them = ("both gears fall", "them") if self.low.reached is not None else ("the top gear falls", "it")
            found.append(f"{gears} short as a belt narrower than recorded would make {them}")
        if kind == "slip":
            found.append("slip explains what was read better than anything else that was looked at")
        found += [each for each in (self._gearing(kind), self._held(), self._power()) if each]
        return [f"{each[:1].upper()}{each[1:]}." for each in found]

    def _reached(self) -> str:
        if self.high.reached is None or not self.weighed.read.ended:
            return "this pull does not show the top gear reached"
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
            if self.weighed.read.spun:
                return "power cannot be told: the ground may have given way before the engine did"
            return "power cannot be told: no speed was logged, or too little of one pull"
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
        beyond = -float(self.weighed.signs[1]) > 2 * sqrt(float(self.weighed.covariance[1, 1]))
        if beyond:
            found.append("the belt's width once more: it reached a gear that no belt so narrow allows")
        elif "belt" in likely and not known.belt_measured:
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
