"""Engine or clutch: machines with one known fault each, as the records know nothing of it."""

import unittest
from dataclasses import replace
from functools import cache

import numpy as np

from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.run.log_file import read_log
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.run.reading import Reading
from jaxel.core.mechanism.run.road import gear_over
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.trade.run.fault.signs import (
    SIGNS,
    Fault,
    effects,
    power_over,
    pulled,
    read_pull,
    read_twins,
    twins_of,
    twins_text,
    with_fault,
)
from jaxel.core.trade.run.fault.verdict import verdict
from jaxel.core.trade.run.fault.weighing import Context, Kind
from jaxel.core.trade.run.like import Like
from jaxel.core.trade.run.reader import RunReader
from jaxel.core.trade.setup.figures import MEAN, figures_of
from jaxel.core.units import RPM
from jaxel.instruments.logger import STYLES, Logger
from tests.core.run.logs import setup

SECONDS = {"sled": 25.0, "side-by-side": 40.0, "quad": 25.0}

FAULTS: list[tuple[Fault, float, Kind]] = [
    ("narrow belt", 0.9, "belt"),
    ("narrow belt", 1.8, "belt"),
    ("slip", 0.3, "slip"),
    ("binding sheave", 2.0, "clutch"),
    ("binding sheave", 4.0, "clutch"),
    ("weak engine", 0.12, "engine"),
    ("weak engine", 0.2, "engine"),
    ("heavy arms", 0.08, "engine"),
    ("heavy arms", 0.15, "engine"),
    ("gearing", -0.1, "gearing"),
    ("gearing", 0.12, "gearing"),
]


@cache
def new(name: str) -> SetupDocument:
    """A machine of the examples on a new belt."""
    return setup(name).with_belt_width(setup(name).belt.top_width_new_mm)


def rode(document: SetupDocument, name: str, seed: int, seconds: float | None = None, style: str = "own") -> RunReader:
    """The log of a machine's pull, read as the machine it is recorded as."""
    trace = simulate(document.core(), Strip(duration=seconds or SECONDS[name]), 50)
    data = Logger(style=STYLES[style]).written(log_columns(trace), seed)
    return RunReader.of(read_log(data), new(name).core())


@cache
def twins(name: str):
    return twins_of(rode(new(name), name, 0), new(name))


def told(name, read, recorded=None, *, sd=50.0, target=None, measured=True, seen=None):
    """The verdict, by the twins of the machine as it is recorded."""
    recorded, known = recorded or new(name), seen or twins(name)
    rest = float(figures_of([recorded]).values[0, MEAN])
    pull = read_pull(read)
    mean = None
    if pull.mean is not None and known.sound.mean is not None:
        mean = Like("shift_mean_rpm", pull.mean, 3.0, known.sound.mean, rest + pull.mean - known.sound.mean)
    aim = mean.counted if target == "held" else target or rest
    context = Context(mean, (rest, sd), (aim, 100.0), measured, read.grid["secondary"] is not None)
    return verdict(recorded, pull, known, context)


class OneFaultEach(unittest.TestCase):
    def test_right_or_cannot_be_told_and_never_sure_and_wrong(self):
        rng, right, untold = np.random.default_rng(23), 0, 0
        for name in SECONDS:
            for fault, size, wanted in FAULTS:
                model = new(name).model
                own = {"gain_scale": rng.normal(1, 0.01), "torque_scale": rng.normal(1, 0.02)}
                truth = new(name).model_copy(update={"model": model.model_copy(update=own)})
                read = rode(with_fault(truth, fault, size), name, int(rng.integers(1_000_000)))
                found = told(name, read, measured=fault != "narrow belt")
                with self.subTest(name=name, fault=fault, size=size, found=found.kind, chance=found.probability):
                    if found.sure:
                        self.assertEqual(found.kind, wanted)
                    if found.kind != "cannot be told":
                        self.assertGreaterEqual(found.probability, 0.7)
                    right, untold = right + (found.kind == wanted), untold + (found.kind == "cannot be told")
        every = len(SECONDS) * len(FAULTS)
        self.assertGreaterEqual((right + untold) / every, 0.9)
        self.assertGreaterEqual(right / every, 0.5)

    def test_a_sound_machine_shows_nothing(self):
        for name in SECONDS:
            found = told(name, rode(new(name), name, 4))
            if found.kind != "cannot be told":
                self.assertEqual(found.kind, "nothing amiss")
                self.assertEqual(found.settle, ())

    def test_a_short_strip_tells_nothing(self):
        read = rode(new("sled"), "sled", 5, 6.0)
        found = told("sled", read, seen=twins_of(read, new("sled")))
        self.assertEqual(found.kind, "cannot be told")
        self.assertIn("This pull does not show the top gear reached.", found.reasons)
        self.assertIn("a longer strip, held at full throttle until the rpm runs up past the shift", found.settle)


class Comparisons(unittest.TestCase):
    def test_a_worn_belt_that_is_recorded(self):
        """Reached against this belt: reached. This belt against a new one: short."""
        worn = new("sled").with_belt_width(new("sled").belt.top_width_new_mm - 1.4)
        trace = simulate(worn.core(), Strip(duration=25), 50)
        read = RunReader.of(read_log(Logger().written(log_columns(trace), 2)), worn.core())
        found = told("sled", read, worn, seen=twins_of(read, worn))
        self.assertEqual((found.kind, found.sure), ("belt", True))
        self.assertAlmostEqual(found.high.reached, found.high.belt, delta=0.006)
        self.assertGreater(found.high.belt / found.high.new, 1.06)
        self.assertGreater(found.low.new, found.low.belt)

    def test_a_gear_beyond_what_the_belt_allows_asks_for_its_width(self):
        worn = new("sled").with_belt_width(new("sled").belt.top_width_new_mm - 1.4)
        read = RunReader(rode(new("sled"), "sled", 7).grid, worn.core())
        found = told("sled", read, worn, seen=twins_of(read, worn))
        self.assertEqual(found.kind, "cannot be told")
        self.assertIn("the belt's width once more: it reached a gear that no belt so narrow allows", found.settle)

    def test_low_rpm_with_the_gearing_reached_is_engine_or_weight(self):
        found = told("sled", rode(new("sled"), "sled", 6), target=8300.0)
        self.assertEqual(found.kind, "engine")
        self.assertGreater(found.probability, 0.85)
        self.assertIn("below its target", " ".join(found.reasons))

    def test_high_rpm_with_the_gearing_reached_is_the_clutch(self):
        self.assertEqual(told("sled", rode(new("sled"), "sled", 6), target=7500.0).kind, "clutch")

    def test_a_caliper_tells_the_belt_from_the_clutch(self):
        read = rode(with_fault(new("sled"), "binding sheave", 1.2), "sled", 8)
        unmeasured, measured = (told("sled", read, measured=each) for each in (False, True))
        self.assertGreater(unmeasured.chances["belt"], measured.chances["belt"] * 2)
        self.assertIn("a caliper on the belt: its width says which gears it allows", unmeasured.settle)
        self.assertNotIn("a caliper on the belt: its width says which gears it allows", measured.settle)

    def test_a_wide_prediction_is_sure_of_less(self):
        read = rode(with_fault(new("quad"), "heavy arms", 0.08), "quad", 9)
        narrow, wide = (told("quad", read, sd=each, target="held") for each in (25.0, 300.0))
        self.assertGreater(narrow.chances["engine"], wide.chances["engine"] + 0.2)


class Signs(unittest.TestCase):
    def test_the_final_gearing_by_secondary_and_speed(self):
        read = rode(with_fault(new("quad"), "gearing", 0.12), "quad", 3)
        vehicle = new("quad").vehicle.core()
        found = gear_over(read.grid, read.pulls[0], vehicle.drive_ratio / vehicle.rolling_radius)
        assert isinstance(found, Reading)
        self.assertAlmostEqual(found.value, 1.12, delta=0.005)

    def test_power_beside_the_same_pull_at_full_power(self):
        read = rode(with_fault(new("quad"), "weak engine", 0.2), "quad", 3)
        lost = power_over(read_pull(read), twins("quad").sound)
        # A fifth of the torque at a somewhat lower speed.
        self.assertAlmostEqual(lost, np.log(0.8) + np.log(5558 / 5860), delta=0.06)
        self.assertIsNone(power_over(read_pull(rode(new("sled"), "sled", 3)), twins("sled").sound))
        self.assertTrue(twins("sled").sound.spun)

    def test_what_each_fault_does(self):
        found = {(each.fault, round(each.size, 2)): each.signs for each in effects(new("sled"), twins("sled"), True)}
        low, high, mean, power, gear = (SIGNS.index(each) for each in ("low", "high", "mean", "power", "gear"))
        belt, binds = found["narrow belt", 1.0], found["binding sheave", 2.0]
        self.assertLess(belt[low], -0.05)
        self.assertGreater(belt[high], 0.03)
        self.assertEqual((binds[low], binds[mean]), (0.0, 0.0))
        self.assertGreater(binds[high], 0.08)
        self.assertLess(found["weak engine", 0.2][mean], -200)
        self.assertLess(found["weak engine", 0.2][power], np.log(0.82))
        self.assertLess(found["heavy arms", 0.1][mean], -200)
        self.assertGreater(found["heavy arms", 0.1][power], -0.12)
        self.assertAlmostEqual(found["gearing", 0.1][gear], np.log(1.1), places=6)
        self.assertEqual(found["gearing", 0.1][high], 0.0)
        by_speed = {
            (each.fault, round(each.size, 2)): each.signs for each in effects(new("sled"), twins("sled"), False)
        }
        self.assertAlmostEqual(by_speed["gearing", 0.1][high], np.log(1.1), places=6)

    def test_kept_and_read_back(self):
        known = twins("sled")
        self.assertEqual(read_twins(twins_text(known)), known)
        without = replace(known, slipping=(None, known.slipping[1]))
        self.assertEqual(read_twins(twins_text(without)), without)

    def test_speed_in_rpm(self):
        one = rode(new("quad"), "quad", 1)
        assert one.of_shift is not None and isinstance(one.of_shift.shift.mean, Reading)
        found = pulled(one.of_shift, new("quad").core())
        self.assertAlmostEqual(found.mean or 0.0, one.of_shift.shift.mean.value / RPM)
