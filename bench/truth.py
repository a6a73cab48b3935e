"""Print how what is claimed compares with what lands, on machines of another physics: `python -m bench.truth`.

Each trial is a machine drawn about a typical package, ridden once with a logger's error, calibrated, planned for a
window, and given the planner's first answer in parts that miss their stamps as new parts do. Claimed and landed are
compared in thirds of what was claimed; the bands by how often they cover; the factors of model.md §8 by least squares.
"""

import argparse
import copy
import os
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np

from jaxel.core.formats.paths import value_at
from jaxel.core.formats.plan.stock import StockDocument
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.formats.setup.setup import SetupDocument, TargetPart
from jaxel.core.trade.run.fit import calibrate
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.evidence import inputs
from jaxel.core.trade.setup.figures import ENGAGEMENT, FULL_SHIFT, MEAN
from jaxel.core.trade.setup.slots import with_numbers
from jaxel.core.trade.shelf.planner import plan
from jaxel.core.trade.stranger.packages import packages
from jaxel.instruments.machine.fitted import put_in
from jaxel.instruments.machine.hidden import drawn
from jaxel.instruments.machine.machine import Figures, Machine

Known = Literal["typical", "measured"]

LOGGED = {"engagement_rpm": 40.0, "shift_mean_rpm": 20.0, "full_shift_rpm": 30.0}
"""What a good log's figures are off by, one standard deviation [rpm]; model.md §8."""

TOLERANCE = 100.0
AWAY_ENGAGEMENT, AWAY_SHIFT = 150.0, 250.0
"""Half-width of a window, and how far its middle lies at most from what was read of the machine [rpm]."""

NORMAL_90 = 1.6449
"""Half-width of a normal distribution's middle 90 %, in standard deviations."""

NOT_READ = ("engine.curve", "conditions.", "vehicle.")
"""Numbers that nobody measures at a bench."""

ENDS = ("force_start_n", "force_finish_n")

KINDS = ("arms", "primary_spring", "helix", "secondary_spring", "air")


@dataclass
class Trial:
    """One machine: what was `claimed` of the first answer and whether it `landed`; standardised misses of its figures
    [engagement, mean]; by kind of change its size as the model has it and as it was [3]."""

    key: str
    known: Known
    claimed: float = float("nan")
    landed: bool = False
    misses: tuple[float, float] = (float("nan"), float("nan"))
    off: tuple[float, float] = (float("nan"), float("nan"))
    slots: tuple[str, ...] = ()
    changes: dict[str, tuple[np.ndarray, np.ndarray]] = field(default_factory=dict)


def of_known(package: SetupDocument, machine: Machine, known: Known, rng: np.random.Generator) -> SetupDocument:
    """What the technician has of a machine: the package, or each number read off it with its instrument's error."""
    bare = package.model_copy(update={"evidence": {}})
    if known == "typical":
        return bare
    true = SetupDocument.model_validate(machine.document)
    evidence, read = {}, bare
    for each in inputs(true.model_copy(update={"evidence": {}})):
        if each.path.startswith(("model.", *NOT_READ)) or each.reading is None or each.along or each.value == 0:
            continue
        now = next((one for one in inputs(read) if one.path == each.path), None)
        if now is None:
            continue
        if each.value is None:
            held = scale_of(true, bare, each.path)
            read = now.moved(read, held * (1 + rng.normal(0, each.reading)) - 1)
        else:
            read = now.moved(read, each.value + rng.normal(0, each.reading) - (now.value or 0.0))
        evidence[each.path] = EvidencePart(origin="measured", sd=each.reading)
    return SetupDocument.model_validate(
        read.model_dump() | {"evidence": {k: v.model_dump() for k, v in evidence.items()}}
    )


def scale_of(true: SetupDocument, nominal: SetupDocument, path: str) -> float:
    """How many times its nominal values a table has."""
    rows, plain = value_at(true, path), value_at(nominal, path)
    name = next(name for name in ("deg", "radius_mm", "pretwist_deg") if name in type(rows[0]).model_fields)
    return float(sum(getattr(row, name) for row in rows) / sum(getattr(row, name) for row in plain))


def stock_of(document: SetupDocument) -> StockDocument:
    """A shelf about what is fitted: five more sets of arms, four springs a side, four helixes, as stamped."""
    mass, helix = document.primary.weights.base_mass_g, document.secondary.helix
    size = document.primary.weights.size

    def springs(part: Any, shares: Sequence[float]) -> list[dict[str, Any]]:
        held = part.model_dump(exclude_none=True)
        return [
            held | {"name": f"{share:.2f}"} | {end: round(held[end] * share, 1) for end in ENDS} for share in shares
        ]

    return StockDocument.model_validate({
        "weights": [{"name": f"{s}", "base_mass_g": round(mass * s, 2)} | ({"size": size} if size else {})
                    for s in (0.90, 0.94, 0.97, 1.03, 1.06, 1.10)],
        "primary_springs": springs(document.primary.spring, (0.90, 0.95, 1.05, 1.10)),
        "secondary_springs": springs(document.secondary.spring, (0.88, 0.94, 1.07, 1.14)),
        "helixes": [{"name": f"{by:+}", "angles": [p.model_dump() | {"deg": p.deg + by} for p in helix.angles]}
                    for by in (-4.0, -2.0, 2.0, 4.0)],
    })  # fmt: skip


def ridden(figures: Figures, rng: np.random.Generator) -> RunPart:
    """A run as a good log gives it."""
    true = {"engagement_rpm": figures.engagement, "shift_mean_rpm": figures.mean, "full_shift_rpm": figures.full_shift}
    return RunPart.model_validate(
        {name: round(value + rng.normal(0, LOGGED[name]), 1) for name, value in true.items()} | {"sd": LOGGED}
    )


def trial(seed: int, known: Known) -> Trial | None:
    """One machine through a run, a plan and its first answer; None where it finds no balance, or its numbers are such
    as no set-up can have."""
    try:
        return _tried(seed, known)
    except ValueError:
        return None


def _tried(seed: int, known: Known) -> Trial | None:
    rng = np.random.default_rng([seed, 1])
    every = list(packages().values())
    package = every[seed % len(every)]
    document = package.document.model_copy(update={"evidence": None})
    machine = drawn(document.model_dump(mode="json", exclude_none=True), seed)
    now = machine.figures
    if not np.isfinite(now.mean) or now.slips:
        return None
    held = of_known(document, machine, known, rng)
    run = ridden(now, rng)
    # About what was read, not about the truth: a window near the truth would tell of it.
    target = TargetPart(
        engagement_rpm=round((run.engagement_rpm or 0.0) + rng.uniform(-1, 1) * AWAY_ENGAGEMENT),
        engagement_tolerance_rpm=TOLERANCE,
        shift_rpm=round((run.shift_mean_rpm or 0.0) + rng.uniform(-1, 1) * AWAY_SHIFT),
        shift_tolerance_rpm=TOLERANCE,
        spread_rpm=2000,
    )
    held = held.model_copy(update={"target": target})
    _, calibration = calibrate(held, [run])
    found = Trial(package.key, known)
    found.changes = changes(held, calibration, machine, now, rng)
    answers = plan(held, stock_of(held), calibration, 1).answers
    if not answers:
        return found
    first = answers[0]
    slots = tuple(each.slot for each in first.changes)
    after = with_numbers(held, {key: value for each in first.changes for key, value in each.numbers.items()})
    made = put_in(machine, after.model_dump(mode="json", exclude_none=True), slots, rng).figures
    found.claimed, found.slots = first.probability, slots
    off = (made.engagement - first.engagement_rpm, made.mean - first.shift_mean_rpm)
    found.off = off
    found.misses = (off[0] / first.engagement_sd_rpm, off[1] / first.shift_sd_rpm)
    found.landed = bool(
        abs(made.engagement - target.engagement_rpm) <= TOLERANCE and abs(made.mean - target.shift_rpm) <= TOLERANCE
    )
    return found


def changes(
    held: SetupDocument, calibration: Calibration, machine: Machine, now: Figures, rng: np.random.Generator
) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """One change of each kind, exactly as large in the machine as in the model: its size without a factor [3 figures],
    and as it was."""
    found = {}
    for kind in KINDS:
        size = float(rng.choice([-1.0, 1.0]) * rng.uniform(0.5, 1.0))
        after = changed(held.model_dump(mode="json", exclude_none=True), kind, size)
        true = replace(machine, document=changed(dict(machine.document), kind, size)).figures
        (shares,) = calibration.shares([(held, SetupDocument.model_validate(after))])
        told = sum(shares.values(), np.zeros(6))[[ENGAGEMENT, MEAN, FULL_SHIFT]]
        was = np.array([true.engagement - now.engagement, true.mean - now.mean, true.full_shift - now.full_shift])
        if np.isfinite(told).all() and np.isfinite(was).all() and not true.slips:
            found[kind] = (told, was)
    return found


def changed(document: dict[str, Any], kind: str, size: float) -> dict[str, Any]:
    """A document with one part changed, `size` −1 … 1 of as much as is common."""
    document = copy.deepcopy(document)
    if kind == "arms":
        document["primary"]["weights"]["base_mass_g"] *= 1 + 0.07 * size
    elif kind in ("primary_spring", "secondary_spring"):
        side = kind.removesuffix("_spring")
        for end in ENDS:
            document[side]["spring"][end] *= 1 + (0.10 if side == "primary" else 0.15) * size
    elif kind == "helix":
        for point in document["secondary"]["helix"]["angles"]:
            point["deg"] += 4.0 * size
    else:
        document.setdefault("conditions", {})["elevation_m"] = document["conditions"].get("elevation_m", 0.0) + 750 * (
            1 + size
        )
    return document


def thirds(trials: Sequence[Trial]) -> list[tuple[int, float, float]]:
    """Trials by what was claimed, in three: how many, what was claimed on average, what share landed."""
    ranked = sorted((each for each in trials if np.isfinite(each.claimed)), key=lambda each: each.claimed)
    parts = np.array_split(np.arange(len(ranked)), 3)
    return [
        (len(part), float(np.mean([ranked[i].claimed for i in part])), float(np.mean([ranked[i].landed for i in part])))
        for part in parts
    ]


def factor(trials: Sequence[Trial], kind: str, figure: int) -> tuple[float, float, int]:
    """b of a kind by least squares through zero, what is missed after it as a share of the change, and of how many."""
    pairs = [each.changes[kind] for each in trials if kind in each.changes]
    told, was = np.array([p[0][figure] for p in pairs]), np.array([p[1][figure] for p in pairs])
    large = np.abs(told) > 20
    told, was = told[large], was[large]
    if not len(told):
        return float("nan"), float("nan"), 0
    b = float((told @ was) / (told @ told))
    return b, float(np.sqrt(np.mean((was - b * told) ** 2) / np.mean(told**2))), len(told)


def main(argv: Sequence[str] | None = None) -> None:
    """Run the trials on every core and print what came of them."""
    parser = argparse.ArgumentParser(prog="python -m bench.truth", description=__doc__.splitlines()[0])
    parser.add_argument("--machines", type=int, default=300, help="of each kind of evidence")
    parser.add_argument("--seed", type=int, default=0, help="of the first")
    options = parser.parse_args(argv)
    os.environ.setdefault("OMP_NUM_THREADS", "1")
    seeds = range(options.seed, options.seed + options.machines)
    every: list[Trial] = []
    with ProcessPoolExecutor() as pool:
        for known in ("typical", "measured"):
            found = [each for each in pool.map(trial, seeds, [known] * len(seeds), chunksize=4) if each]
            every += found
            print(f"{known} evidence, {len(found)} machines of another physics, each ridden once")
            for count, claimed, landed in thirds(found):
                print(f"  claimed {claimed:.2f}  landed {landed:.2f}  of {count}")
            misses = np.array([each.misses for each in found])
            misses = misses[np.isfinite(misses).all(axis=1)]
            off = np.abs(np.array([each.off for each in found]))
            off = off[np.isfinite(off).all(axis=1)]
            for index, name in enumerate(("engagement", "shift")):
                covered = float(np.mean(np.abs(misses[:, index]) <= NORMAL_90))
                near, of = float(np.mean(off[:, index] <= 50)), misses[:, index]
                print(f"  90 % band of {name} covers {covered:.2f}, within 50 rpm {near:.2f}, "
                      f"misses in deviations {of.mean():+.2f} ± {of.std():.2f}")  # fmt: skip
    print("factors of a change, and what is missed after them as a share of it")
    for kind in KINDS:
        told = [factor(every, kind, figure) for figure in (1, 2, 0)]
        print(f"  {kind:17}" + "  ".join(f"{name} {b:5.2f} ± {rel:.2f} (of {count})" for name, (b, rel, count) in
                                         zip(("shift", "full shift", "engagement"), told, strict=True)))  # fmt: skip


if __name__ == "__main__":
    main()
