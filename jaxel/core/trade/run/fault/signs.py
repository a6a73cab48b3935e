"""What a pull shows of a fault beside the same pull simulated: its signs, and what each fault would do to them."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from itertools import pairwise
from math import log
from typing import Any, Literal, get_args

import numpy as np

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.run.reading import Found, Reading
from jaxel.core.mechanism.run.road import SPEEDS, gear_over, power_at_speeds
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.units import RPM

from ...setup.figures import HIGH_RATIO, LOW_RATIO, MEAN, figures_of
from ..reader import Marks, PullReading, RunReader
from ..twin import simulated_twin

Fault = Literal["narrow belt", "binding sheave", "slip", "weak engine", "heavy arms", "gearing"]
"""What may be wrong with a machine that its records do not know of."""

Sign = Literal["low", "high", "mean", "power", "gear"]
"""Lowest and highest gear reached, power at the wheel, final gearing [ln of each over the set-up's as recorded], the
shift's mean [rpm over it]."""

SIGNS: tuple[Sign, ...] = get_args(Sign)

SLIPS = (0.1, 0.2, 0.3, 0.4)
"""Shares of the belt's friction that are gone where a pull is simulated with slip; from memory."""

GROUND = 0.8
"""Share of the ground's grip from which the ground, and not the engine, may set the power; from memory."""

LEAST_SPEEDS = 3


@dataclass(frozen=True)
class Pulled:
    """A pull's gears, their deviations from this trace [ln], the mean of its shift [rpm], whether it came to the end of
    its shift, and its power [W] at SPEEDS, None where not passed or where the ground may have slipped; `spun`, whether
    it may have anywhere."""

    low: float | None
    high: float | None
    gear: float | None
    mean: float | None
    ended: bool
    power: tuple[float | None, ...]
    low_sd: float = 0.0
    high_sd: float = 0.0
    gear_sd: float = 0.0
    spun: bool = False


@dataclass(frozen=True)
class Twins:
    """The pull simulated as recorded, and with each share of SLIPS of the belt's friction gone; None where none was."""

    sound: Pulled
    slipping: tuple[Pulled | None, ...]


def pulled(one: PullReading, drivetrain: Drivetrain) -> Pulled:
    """What a pull shows, read as of a set-up as it is recorded."""
    vehicle, shift = drivetrain.vehicle, one.shift
    ended = isinstance(shift.full_shift, Reading)
    low, high = _ln(shift.low), _ln(shift.high if ended else shift.full_shift)
    gear = _ln(gear_over(one.grid, one.pull, vehicle.drive_ratio / vehicle.rolling_radius))
    mean = shift.mean.value / RPM if isinstance(shift.mean, Reading) else None
    power = power_at_speeds(one.grid, one.pull, drivetrain)
    free = power < GROUND * _gripped(drivetrain)
    return Pulled(
        low[0], high[0], gear[0], mean, ended,
        tuple(float(each) if ok else None for each, ok in zip(power, free, strict=True)),
        low[1], high[1], gear[1], bool(np.any(power >= GROUND * _gripped(drivetrain))),
    )  # fmt: skip


def _gripped(drivetrain: Drivetrain) -> Array:
    """Power that the ground takes at SPEEDS before track or tyre slips on it [W]."""
    return np.asarray(drivetrain.vehicle.push_limit * SPEEDS)


def _ln(found: Found) -> tuple[float | None, float]:
    if isinstance(found, Reading) and found.value > 0:
        return log(found.value), found.sd / found.value
    return None, 0.0


def read_pull(reader: RunReader, marks: Mapping[int, Marks] | None = None) -> Pulled | None:
    """What the pull the shift is read from shows, its marks as a hand moved them; None without a set-up or a pull."""
    if reader.of_shift is None or reader.drivetrain is None:
        return None
    moved = (marks or {}).get(reader.of_shift.number)
    one = reader.pull(reader.of_shift.number, moved) if moved else reader.of_shift
    return pulled(one, reader.drivetrain)


def twins_of(reader: RunReader, setup: SetupDocument) -> Twins | None:
    """The pull the shift is read from, simulated; None where it cannot be, or no throttle says what to simulate."""
    read, known = reader.of_shift, reader.drivetrain
    if read is None or known is None or not (read.pull.known or read.pull.stabbed):
        return None
    sound = _simulated(reader, read, known, known)
    if sound is None:
        return None
    return Twins(sound, tuple(_simulated(reader, read, slipping(setup, each).core(), known) for each in SLIPS))


def _simulated(reader: RunReader, read: PullReading, machine: Drivetrain, known: Drivetrain) -> Pulled | None:
    twin = simulated_twin(reader, read, machine, known)
    return pulled(twin.of_shift, known) if twin is not None and twin.of_shift is not None else None


def slipping(setup: SetupDocument, lost: float) -> SetupDocument:
    """A set-up whose belt has lost a share of its friction."""
    model = setup.model.model_copy(update={"friction": setup.model.friction * (1 - lost)})
    return setup.model_copy(update={"model": model})


def power_over(one: Pulled, other: Pulled) -> float | None:
    """Power over another pull's [ln], the median of the faster half of the speeds at which neither the ground nor a
    blank has it; None where there are too few."""
    pairs = [
        log(mine / its)
        for mine, its in zip(one.power, other.power, strict=True)
        if mine is not None and its is not None and mine > 0 and its > 0
    ]
    faster = pairs[len(pairs) // 2 :]
    return float(np.median(faster)) if len(faster) >= LEAST_SPEEDS else None


@dataclass(frozen=True)
class Effect:
    """What a fault of a size does to the signs [SIGNS], NaN where they could not be read; `ends`, whether the pull
    comes to the end of its shift as it would without it, and `grips`, whether the belt still grips before the shift."""

    fault: Fault
    size: float
    signs: Array
    ends: bool = True
    grips: bool = True


_SIZES: Mapping[Fault, Sequence[float]] = {
    "narrow belt": np.arange(0.25, 3.01, 0.25).tolist(),
    "binding sheave": np.arange(0.5, 8.01, 0.5).tolist(),
    "weak engine": np.arange(0.04, 0.45, 0.04).tolist(),
    "heavy arms": np.arange(0.02, 0.31, 0.02).tolist(),
}
"""Sizes that are looked at: mm of belt width and of travel, share of the torque and of the weights' force."""


def effects(setup: SetupDocument, twins: Twins, secondary: bool) -> list[Effect]:
    """What each fault would do to the signs: by the model at rest, of slip by the pulls simulated with it.

    Parameters: `secondary`, whether the gears were read from the secondary, and not from the vehicle's speed.
    """
    cases = [(fault, size) for fault, sizes in _SIZES.items() for size in sizes]
    figures = figures_of([setup, *(with_fault(setup, *case) for case in cases)]).values
    engine = setup.core().engine
    base, found = figures[0], []
    speeds = figures[:, MEAN] * RPM
    with np.errstate(invalid="ignore"):
        power = np.log(engine.torque(np.nan_to_num(speeds, nan=1.0)) * speeds)
        gears = np.log(figures[:, [LOW_RATIO, HIGH_RATIO]])
    if twins.sound.high is not None:  # out of power before out of sheave: what lies beyond is not seen
        gears[:, 1] = np.maximum(gears[:, 1], twins.sound.high)
    gears -= gears[0]
    for place, (fault, size) in enumerate(cases, start=1):
        if not np.isfinite(figures[place]).all():
            continue  # no clutch works so
        mean = figures[place, MEAN] - base[MEAN] if fault in ("weak engine", "heavy arms") else 0.0
        given = np.log1p(-size) if fault == "weak engine" else 0.0
        changed = power[place] - power[0] if fault in ("weak engine", "heavy arms") else 0.0
        found.append(Effect(fault, size, np.array([*gears[place], mean, given + changed, 0.0])))
    for size in (each for each in np.arange(-0.3, 0.31, 0.02).tolist() if abs(each) > 0.01):
        off = 0.0 if secondary else float(np.log1p(size))
        found.append(Effect("gearing", size, np.array([off, off, 0.0, 0.0, np.log1p(size)])))
    return found + list(_slips(twins))


def _slips(twins: Twins) -> Iterator[Effect]:
    """Slip of the shares simulated, and of those between: straight from one to the next."""
    sound, known = twins.sound, [(0.0, np.zeros(len(SIGNS)), True, True)]
    for size, each in zip(SLIPS, twins.slipping, strict=True):
        if each is None:
            continue
        pairs = ((each.low, sound.low), (each.high, sound.high), (each.mean, sound.mean),
                 (power_over(each, sound), 0.0), (0.0, 0.0))  # fmt: skip
        signs = [one - other if one is not None and other is not None else np.nan for one, other in pairs]
        known.append((size, np.array(signs), each.ended or not sound.ended, each.low is not None or sound.low is None))
    for (before, low, *_), (size, high, ends, grips) in pairwise(known):
        for part in (0.25, 0.5, 0.75, 1.0):
            # What can no longer be read at the next share is as at the last for half of the way.
            beyond = np.where(np.isfinite(high), high, low if part <= 0.5 else np.nan)
            last = part > 0.5 or bool(np.isfinite(high).all())
            yield Effect("slip", before + part * (size - before), low + part * (beyond - low), ends or not last, grips)


def with_fault(setup: SetupDocument, fault: Fault, size: float) -> SetupDocument:
    """A set-up with a fault of a size: mm of belt width or of travel, a share of torque, of the weights' force, of
    friction or of the final gearing."""
    model = setup.model
    match fault:
        case "narrow belt":
            return setup.with_belt_width(setup.belt.top_width_mm - size)
        case "binding sheave":
            primary = setup.primary.model_copy(update={"limiter_mm": setup.primary.limiter_mm + size})
            return setup.model_copy(update={"primary": primary})
        case "slip":
            return slipping(setup, size)
        case "gearing":
            vehicle = setup.vehicle.model_copy(update={"drive_ratio": setup.vehicle.drive_ratio * (1 + size)})
            return setup.model_copy(update={"vehicle": vehicle})
        case "weak engine":
            model = model.model_copy(update={"torque_scale": model.torque_scale * (1 - size)})
        case "heavy arms":
            model = model.model_copy(update={"gain_scale": model.gain_scale * (1 + size)})
    return setup.model_copy(update={"model": model})


def twins_text(twins: Twins) -> str:
    """Twins as they are kept."""
    return json.dumps(asdict(twins))


def read_twins(text: str) -> Twins:
    """The same read back."""
    kept = json.loads(text)
    return Twins(_pulled(kept["sound"]), tuple(each and _pulled(each) for each in kept["slipping"]))


def _pulled(kept: Mapping[str, Any]) -> Pulled:
    return Pulled(**{**kept, "power": tuple(kept["power"])})
