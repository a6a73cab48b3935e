"""What ships with the application: no curve ripples, no belt is met by leaps, and a worn belt is never better."""

import unittest
from itertools import pairwise

import numpy as np

from jaxel.core.formats.run.pull import launch_warning, pull_figures
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.equilibrium.shift import engagement, predict, window
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.trade.stranger.packages import packages
from jaxel.core.units import RPM
from tests.examples import DEMO, PAGES, changed, example, read


def shipped() -> dict[str, SetupDocument]:
    """Every set-up that ships: examples, demo machines, packages."""
    return {name: read(example(name)) for name in (*PAGES, *DEMO)} | {
        key: each.document for key, each in packages().items()
    }


class Shipped(unittest.TestCase):
    def test_there_are_twenty(self):
        self.assertEqual(len(shipped()), 20)

    def test_no_curve_ripples(self):
        # Against its own fifth-order polynomial over the window, numpy's polyfit: at most 20 rpm peak to peak.
        done = np.linspace(0.0, 1.0, 41)[window(41)]
        for name, document in shipped().items():
            rpm = predict(document.core(), 41).shift.speed[window(41)] / RPM
            off = rpm - np.polyval(np.polyfit(done, rpm, 5), done)
            self.assertLess(np.ptp(off), 20, name)

    def test_every_target_is_met_as_shipped(self):
        for name, document in shipped().items():
            found, target = predict(document.core(), 41), document.target
            self.assertLess(
                abs(found.engagement.bite / RPM - target.engagement_rpm), target.engagement_tolerance_rpm, name
            )
            self.assertLess(abs(found.shift.mean / RPM - target.shift_rpm), target.shift_tolerance_rpm, name)
            self.assertGreaterEqual(found.shift.least_grip, 1.095, name)

    def test_a_tenth_of_a_millimetre_moves_engagement_by_little(self):
        for name, document in shipped().items():
            bites = [engagement(document.with_belt_width(width).core()).bite / RPM for width in widths(document)]
            self.assertLessEqual(max(abs(one - other) for one, other in pairwise(bites)), 35, name)

    def test_wear_never_lowers_hit_or_touch_or_raises_the_low_ratio(self):
        for name, document in shipped().items():
            starts = [document.with_belt_width(width).core() for width in widths(document)]
            for (one, before), (other, after) in pairwise((core, engagement(core)) for core in starts):
                self.assertGreaterEqual(after.hit, before.hit - 1e-6, name)
                self.assertGreaterEqual(after.touch, before.touch - 1e-6, name)
                self.assertLessEqual(other.drive.start.ratio, one.drive.start.ratio + 1e-12, name)

    def test_a_worn_belt_is_no_quicker_off_the_line(self):
        for name, document in shipped().items():
            belt = document.belt
            new, worn = (
                pull_figures(document.with_belt_width(width).core(), Strip(duration=8))
                for width in (belt.top_width_new_mm, belt.top_width_min_mm)
            )
            if launch_warning(new["limiter_gripped_s"]):
                continue  # its new belt hangs on the limiter: there a worn one can be quicker
            self.assertGreater(worn["to_20_m_s"] / new["to_20_m_s"], 0.98, name)


class Launch(unittest.TestCase):
    def test_too_little_clamp_hangs_on_the_limiter_and_says_so(self):
        # Arms so light that what grips first cannot carry the engine.
        light = changed(example("sled"), "primary.weights.base_mass_g", 25.0)
        light = changed(light, "vehicle.ground_grip", 1.5)
        figures = pull_figures(read(light).core(), Strip(duration=6))
        self.assertGreater(figures["limiter_gripped_s"], 0.3)
        said = launch_warning(figures["limiter_gripped_s"])
        self.assertEqual(said, f"launch-on-limiter: {figures['limiter_gripped_s']:.1f} s on the rev limiter before the "
                               "sheave moves on: the clutch has too little clamp at the start; not a reason to run a "
                               "narrow belt")  # fmt: skip
        self.assertEqual((launch_warning(0.3), launch_warning(None)), ("", ""))


def widths(document: SetupDocument) -> list[float]:
    """Tenths of a millimetre from a new belt to its limit."""
    belt = document.belt
    return np.arange(belt.top_width_new_mm, belt.top_width_min_mm - 1e-9, -0.1).tolist()


if __name__ == "__main__":
    unittest.main()
