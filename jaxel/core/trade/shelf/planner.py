"""Which parts at hand bring a machine into its window: every combination is looked at, the likely ones worked out.

Ranked by merit, the probability of landing in both windows less a little for each blemish, compared to the nearest
twentieth; then by how many parts change, how deep the teardown goes, the order of tuning, what it costs and how long it
takes. A single change stands first when its merit is nearly that of the best, so that cause and effect stay readable.
"""

from collections.abc import Callable, Sequence
from math import prod

import numpy as np
from numpy.typing import NDArray

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.plan.plan import Answer, PlanDocument, PlannedChange
from jaxel.core.formats.plan.stock import StockDocument
from jaxel.core.formats.setup.primary import ClickerPart, Load
from jaxel.core.formats.setup.setup import SetupDocument, TargetPart
from jaxel.core.mechanism.equilibrium.screen import PrimarySide, Screened, SecondarySide, primary_side, screen
from jaxel.core.mechanism.equilibrium.shift import ShiftCurve, predict
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.units import RPM

from ..setup.calibration import TOLD, Calibration, Estimate
from ..setup.figures import ENGAGEMENT, MEAN, NODES, core_or_none, cores_of, figures_of
from ..setup.parts import shapley, with_load
from ..setup.prediction import anchored
from ..setup.slot import Depth, Slot
from ..setup.slots import every_slot
from .answers import BLEMISH, LAST, NEAREST, TuningOrder, behind, for_rider, tuning_rank
from .candidate import Candidate
from .reach import reach
from .stock import Option, fitted, kits, options
from .window import checked_target, inside_both, odds_of

MOST = 250_000
"""Combinations looked at in one plan: some seconds' work."""

SINGLE_WITHIN = 0.10
"""How much less merit than the best a single change may have and still stand first; from memory."""

SURE_GRIP = 1.1
"""Least grip below which a set-up has a blemish, from memory; below 1 the belt slips and it is dropped."""

Watch = Callable[[float], None]

SCREENED = 0.8
"""Share of a search's time that the first look at every combination takes, about."""

SPARE = 6
"""Candidates worked out beyond those asked for: the screen's order is not yet the last."""

PRIMARY = ("arms", "shim", "clicker", "primary_spring", "washer:primary")
SECONDARY = ("helix", "secondary_spring", "holes", "washer:secondary")

TEARDOWN = {
    Depth.ON_THE_MACHINE: "on the machine",
    Depth.WEIGHT_SCREW: "weight screw",
    Depth.COVER_OFF: "cover off",
    Depth.SPRING_MOVED: "spring moved",
    Depth.SECONDARY_SPRING: "secondary apart",
    Depth.SPIDER_OFF: "spider off",
    Depth.HELIX: "helix out",
}


def plan(
    document: SetupDocument, stock: StockDocument | None, calibration: Calibration | None = None, top: int = 5, *,
    order: TuningOrder = "spring", single: bool = False, watch: Watch | None = None,
) -> PlanDocument:  # fmt: skip
    """The best answers of a stock, and where none lands in the window what a part would need.

    Parameters: `document` as fitted, with its target; `stock`, None where there is nothing on the shelf; `calibration`
    of its machine, None where it was never measured; `top`, how many answers; `order` in which the workshop tunes, for
    answers otherwise alike; `single`, whether the best single change is to be among them; `watch` is told the share
    done, and may raise to give the search up. Raises InvalidValue for a stock that does not fit, a window no set-up can
    have, or more combinations than are looked at.

    Reference: see docs/model.md, *Planning*.
    """
    target = checked_target(document)
    known = calibration or Calibration.none(document)
    slots = options(document, stock) if stock else {}
    count = prod(len(each) for each in slots.values())
    if count > MOST:
        raise InvalidValue("stock", f"makes {count:,} combinations; up to {MOST:,} are looked at: leave a group out")
    whole = [Candidate(kit.options, kit) for kit in kits(document, stock)] if stock else []
    (now,) = known.estimates([document])
    grid = _Grid(document, known, slots, now, watch)
    chosen = grid.best(target, top + SPARE, order)
    with in_document_terms():
        straight = anchored(predict(known.applied(document).core()), now).shift.spread / RPM
    ranked = _ranked(document, known, [*chosen, *whole], target, order, straight)
    answers = _first(ranked, top) if single else ranked[:top]
    answers = [each.model_copy(update={"behind": behind(each, answers[index - 1]) if index else ""})
               for index, each in enumerate(answers)]  # fmt: skip
    return PlanDocument(
        combinations=count + len(whole),
        target=target,
        probability=round(odds_of(now, target), 4),
        answers=answers,
        reach=[] if any(each.inside for each in answers) else reach(document, known, now, target),
    )


def _first(ranked: list[Answer], top: int) -> list[Answer]:
    """The first answers, the best single change among them, if need be as the last."""
    single = next((each for each in ranked if len(each.changes) == 1), None)
    return ranked[:top] if single is None or single in ranked[:top] else [*ranked[: top - 1], single]


class _Grid:
    """Every combination of a stock's options, screened: axes are limiter, the primary's and the secondary's slots."""

    def __init__(
        self, document: SetupDocument, known: Calibration, slots: dict[str, list[Option]], now: Estimate,
        watch: Watch | None,
    ):  # fmt: skip
        self.document, self.known, self.now = document, known, now
        loads = [slot for slot in slots if slot.startswith("load:")]
        order = ["limiter", "arms", "shim", *loads, *PRIMARY[2:], *SECONDARY]
        self.axes = [slots.get(slot) or [fitted(document, slot)] for slot in order]
        self.slots, self.loads = order, loads
        self.shape = tuple(len(axis) for axis in self.axes)
        # As calibrated; every option is written over what is fitted.
        self.base = known.applied(document)
        found = [self._screened(limiter, _part_of(watch, index, len(self.axes[0])))
                 for index, limiter in enumerate(self.axes[0])]  # fmt: skip
        self.bite = np.concatenate([each.bite for each in found]) / RPM
        self.mean = np.concatenate([each.mean for each in found]) / RPM
        self.spread = np.concatenate([each.spread for each in found]) / RPM
        self.grip = np.concatenate([each.least_grip for each in found])

    def _screened(self, limiter: Option, watch: Watch | None) -> Screened:
        base = limiter.write(self.base)
        with in_document_terms():
            core = base.core()
        return screen(core, self._primaries(base, core), self._secondaries(base, core), watch)

    def _primaries(self, base: SetupDocument, core: Drivetrain) -> PrimarySide:
        """The primary's options, outermost first; A is linear in the masses and a matrix product in the end.

        Each arm and shim gives the pull of its bare mass and of a gram at each station, a clicker a factor on both.
        """
        arms, shims = self.axes[1], self.axes[2]
        grams = [[self._grams(option, slot) for option in axis]
                 for slot, axis in zip(self.loads, self.axes[3:], strict=False)]  # fmt: skip
        clickers, springs, washers = self.axes[3 + len(self.loads) : 6 + len(self.loads)]
        turned = np.array([self._click(option, base) for option in clickers])
        bare = _unloaded(base, self.loads)
        cores = [[core_or_none(shim.write(arm.write(bare))) for shim in shims] for arm in arms]
        each_gram = [
            [[core_or_none(with_load(shim.write(arm.write(bare)), slot.removeprefix("load:"), _gram(slot)))
              for slot in self.loads] for shim in shims] for arm in arms
        ]  # fmt: skip
        mass = np.array(np.meshgrid(*grams, indexing="ij")).reshape(len(grams), -1) if grams else np.zeros((0, 1))
        fitted_springs = [washer.write(spring.write(base)) for spring in springs for washer in washers]
        cores_sprung = [each.primary.spring.core().shimmed(each.primary.washer_mm / 1e3) for each in fitted_springs]

        def weights(x: Array) -> Array:
            """[arms × shims × loads × clickers, repeated for springs and washers; m]."""
            rows = []
            for row, each in zip(cores, each_gram, strict=True):
                for one, stations in zip(row, each, strict=True):
                    empty = _pull(one, x)
                    unit = np.array([_pull(station, x) - empty for station in stations]).reshape(len(grams), len(x))
                    loaded = empty + mass.T @ unit
                    rows.append((turned[:, None] * loaded[:, None, :]).reshape(-1, len(x)))
            return np.repeat(np.concatenate(rows), len(cores_sprung), axis=0)

        def spring(x: Array) -> Array:
            sprung = np.array([each.force(x) for each in cores_sprung])
            return np.tile(sprung, (len(arms) * len(shims) * mass.shape[1] * len(turned), 1))

        return primary_side(core, NODES, weights, spring)

    def _grams(self, option: Option, slot: str) -> float:
        loads = {load.station: load.total_g for load in option.write(self.base).primary.weights.loads}
        return loads.get(slot.removeprefix("load:"), 0.0)

    def _click(self, option: Option, base: SetupDocument) -> float:
        """What a clicker's position multiplies A by, over that of the position fitted."""
        here, there = (each.primary.clicker or ClickerPart() for each in (base, option.write(base)))
        return there.core().factor / here.core().factor

    def _secondaries(self, base: SetupDocument, core: Drivetrain) -> SecondarySide:
        opening = core.drive.shift_path(NODES).secondary_opening
        documents = [base]
        for axis in self.axes[-len(SECONDARY) :]:
            documents = [option.write(each) for each in documents for option in axis]
        cores = cores_of(documents)
        none = np.full((2, NODES), np.nan)
        terms = [none if each is None else each.secondary.clamp_terms(opening) for each in cores]
        return SecondarySide(*(np.array(column) for column in zip(*terms, strict=True)))

    def best(self, target: TargetPart, count: int, tuned: TuningOrder) -> list[Candidate]:
        """The likeliest combinations, as far as the screen tells, and the likeliest single changes."""
        places = np.indices(self.shape).reshape(len(self.shape), -1)
        changed = places > 0
        probability = self._probability(target, places)
        parts = changed.sum(axis=0)
        depths = np.array([max((option.depth for option in axis[1:]), default=0) for axis in self.axes])
        depth = (changed * depths[:, None]).max(axis=0)
        ranks = np.array([tuning_rank(tuned, slot) for slot in self.slots])
        first = np.where(changed, ranks[:, None], LAST).min(axis=0)
        prices = [np.array([option.price for option in axis]) for axis in self.axes]
        price = np.sum([each[place] for each, place in zip(prices, places, strict=True)], axis=0)
        present = np.nan_to_num(self.spread[0])
        crooked = (self.spread > target.straightness_rpm) & (self.spread > present)
        merit = probability - BLEMISH * ((self.grip < SURE_GRIP).astype(int) + crooked)
        works = np.isfinite(self.mean) & (self.grip >= 1) & (parts > 0)
        near = -np.round(merit / NEAREST)
        order = np.lexsort((-merit, price, first, depth, parts, near))
        order = order[works[order]]
        singles = order[parts[order] == 1][: max(2, count // 3)]
        picked = dict.fromkeys([*order[: count - len(singles)].tolist(), *singles.tolist()])
        return [self._candidate(places[:, index]) for index in picked]

    def _candidate(self, place: NDArray[np.intp]) -> Candidate:
        return Candidate(tuple(axis[index] for axis, index in zip(self.axes, place.tolist(), strict=True) if index))

    def _probability(self, target: TargetPart, places: NDArray[np.intp]) -> Array:
        """Of both windows, with the doubt of the set-up as it is and of each change taken alone, told by its factor."""
        now = self.now
        doubt = [np.full(places.shape[1], now.engagement_sd**2), np.full(places.shape[1], now.mean_sd**2)]
        figures = [
            self.bite + now.engagement - now.bare[ENGAGEMENT],
            self.mean + now.mean - now.bare[MEAN],
        ]
        strides = np.array([prod(self.shape[index + 1 :]) for index in range(len(self.shape))])
        for axis, (slot, place) in enumerate(zip(self.slots, places, strict=True)):
            alone = np.arange(self.shape[axis]) * strides[axis]
            for index, (figure, values) in enumerate(((ENGAGEMENT, self.bite), (MEAN, self.mean))):
                told = self.known.discrepancy.of([slot], TOLD[figure])
                change = np.nan_to_num(values[alone] - values[0])
                figures[index] += ((told.factor - 1) * change)[place]
                if self.known.anchors:
                    doubt[index] += ((told.rel**2 + told.factor_sd**2) * change**2)[place]
        bite, mean = figures
        found = inside_both(
            np.nan_to_num(bite), np.sqrt(doubt[0]), np.nan_to_num(mean), np.sqrt(doubt[1]), now.correlation,
            (target.engagement_rpm, target.engagement_tolerance_rpm), (target.shift_rpm, target.shift_tolerance_rpm),
        )  # fmt: skip
        return np.where(np.isfinite(self.mean), found, 0.0)


def _part_of(watch: Watch | None, index: int, count: int) -> Watch | None:
    """Tells of one of several searches as its part of all of them."""
    if watch is None:
        return None
    told = watch
    return lambda share: told(SCREENED * (index + share) / count)


def _unloaded(document: SetupDocument, slots: Sequence[str]) -> SetupDocument:
    for slot in slots:
        document = with_load(document, slot.removeprefix("load:"), None)
    return document


def _gram(slot: str) -> Load:
    return Load(station=slot.removeprefix("load:"), mass_g=1.0)


def _pull(core: Drivetrain | None, x: Array) -> Array:
    """A(x) of a primary, NaN of one that cannot be."""
    if core is None:
        return np.full(len(x), np.nan)
    return core.primary.weight_factor(x)


def _ranked(
    document: SetupDocument, known: Calibration, candidates: Sequence[Candidate], target: TargetPart,
    order: TuningOrder, straight: float,
) -> list[Answer]:  # fmt: skip
    """Candidates worked out exactly, those that slip or cannot work left out, the best first; `straight`, the spread
    of the set-up as it is [rpm]."""
    written = [(each, each.write(document)) for each in candidates]
    written = [(each, setup) for each, setup in written if setup != document and core_or_none(known.applied(setup))]
    estimates = known.estimates([setup for _, setup in written], 41) if written else []
    answers = []
    for (candidate, setup), estimate in zip(written, estimates, strict=True):
        with in_document_terms():
            shift = anchored(predict(known.applied(setup).core()), estimate).shift
        if shift.least_grip >= 1:
            answers.append(_answer(document, known, candidate, estimate, shift, target, straight))
    answers.sort(key=lambda each: _key(each, order))
    return _single_first(answers)


def _answer(
    document: SetupDocument, known: Calibration, candidate: Candidate, estimate: Estimate, shift: ShiftCurve,
    target: TargetPart, straight: float,
) -> Answer:  # fmt: skip
    bite, mean, spread, grip = estimate.engagement, estimate.mean, shift.spread / RPM, shift.least_grip
    blemishes = _blemishes(spread, grip, target, straight)
    windows = (
        (target.engagement_rpm, target.engagement_tolerance_rpm),
        (target.shift_rpm, target.shift_tolerance_rpm),
    )
    probability = inside_both(bite, estimate.engagement_sd, mean, estimate.mean_sd, estimate.correlation, *windows)
    shares = _shares(document, known, candidate)
    after = {slot.key: slot for slot in slots_after(document, candidate)}
    changes = [
        PlannedChange.model_validate({
            "slot": option.slot, "from": fitted(document, option.slot).words, "to": option.words, "part": option.part,
            "engagement_rpm": round(float(share[0]), 1), "shift_mean_rpm": round(float(share[1]), 1),
            "numbers": {n.key: n.value for n in after[option.slot].numbers if n.typed and n.value is not None},
        })
        for option, share in zip(candidate.options, shares, strict=True)
    ]  # fmt: skip
    inside = all(
        abs(value - middle) <= tolerance for value, (middle, tolerance) in zip((bite, mean), windows, strict=True)
    )
    return Answer(
        kit=candidate.kit.name if candidate.kit else "",
        changes=changes,
        engagement_rpm=round(bite, 1), engagement_sd_rpm=round(estimate.engagement_sd, 1),
        shift_mean_rpm=round(mean, 1), shift_sd_rpm=round(estimate.mean_sd, 1),
        spread_rpm=round(spread, 1), full_shift_rpm=round(estimate.full_shift, 1), least_grip=round(grip, 3),
        probability=round(float(probability), 4), merit=round(float(probability) - BLEMISH * len(blemishes), 4),
        inside=inside,
        depth=int(candidate.depth), teardown=TEARDOWN[candidate.depth],
        price=round(candidate.price, 2), minutes=candidate.minutes,
        why=_why(changes, blemishes),
        for_rider=for_rider(changes, bite, mean, float(probability)),
    )  # fmt: skip


def slots_after(document: SetupDocument, candidate: Candidate) -> list[Slot]:
    """The slots of the set-up a candidate makes, those it changes among them whatever the clutch's kind."""
    changed = {option.slot.split(":")[0] for option in candidate.options}
    return every_slot(candidate.write(document), changed)


def _shares(document: SetupDocument, known: Calibration, candidate: Candidate) -> Array:
    """What each option does of the whole change as it is told, engagement and shift mean [options, 2, rpm]."""
    count = len(candidate.options)
    selections = [
        Candidate(tuple(option for index, option in enumerate(candidate.options) if place >> index & 1))
        for place in range(2**count)
    ]
    worth = figures_of([known.applied(each.write(document)) for each in selections]).values[:, [ENGAGEMENT, MEAN]]
    between = not np.isnan(worth).any()  # where a selection in between cannot work: evenly among them
    shares = shapley(worth) if between else np.tile((worth[-1] - worth[0]) / count, (count, 1))
    factors = [[known.discrepancy.of([option.slot], TOLD[figure]).factor for figure in (ENGAGEMENT, MEAN)]
               for option in candidate.options]  # fmt: skip
    return shares * np.array(factors).reshape(-1, 2)


def _blemishes(spread: float, grip: float, target: TargetPart, straight: float) -> list[str]:
    """What speaks against an answer besides its probability; `spread` [rpm] and that of the set-up as it is."""
    said_of = []
    if grip < SURE_GRIP:
        said_of.append(f"least grip {grip:.2f}, near slipping")
    if spread > max(target.straightness_rpm, straight):
        asked = f"more than the {target.straightness_rpm:,.0f} asked and the {straight:,.0f} of now"
        said_of.append(f"spread {spread:,.0f} rpm, {asked}")
    return said_of


def _why(changes: Sequence[PlannedChange], blemishes: Sequence[str]) -> str:
    """What each change does, and what speaks against the answer."""
    said_of = []
    for each in changes:
        slot = each.slot.replace(":", " ").replace("_", " ")
        does = f"engagement {each.engagement_rpm:+,.0f}, shift {each.shift_mean_rpm:+,.0f} rpm"
        said_of.append(f"{slot} {each.from_} → {each.to}: {does}")
    return "; ".join([*said_of, *blemishes])


def _key(answer: Answer, order: TuningOrder) -> tuple[float, ...]:
    near = -round(answer.merit / NEAREST)
    parts = len(answer.changes)
    first = min((tuning_rank(order, each.slot) for each in answer.changes), default=LAST)
    return (near, parts, answer.depth, first, answer.price, answer.minutes, -answer.merit)


def _single_first(answers: list[Answer]) -> list[Answer]:
    """The best single change first where its merit is nearly that of the best answer."""
    if not answers or len(answers[0].changes) == 1:
        return answers
    best = answers[0]
    near = [
        each for each in answers
        if len(each.changes) == 1 and not each.kit and each.merit >= best.merit - SINGLE_WITHIN
    ]  # fmt: skip
    return near[:1] + [each for each in answers if each not in near[:1]]
