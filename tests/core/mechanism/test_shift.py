"""The shift against the scalar solution, and the signs and sizes a technician knows."""

import unittest

import numpy as np

from jaxel.core.formats.prediction import warnings
from jaxel.core.mechanism.equilibrium.shift import engagement, predict
from jaxel.core.units import RPM
from jaxel.core.words import told as plain
from tests.core.scalar import ScalarClutch
from tests.examples import DEMO, PAGES, changed, drivetrain, example, read


def figures(document) -> dict[str, float]:
    p = predict(read(document).core())
    return {
        "bite": p.engagement.bite / RPM,
        "mean": p.shift.mean / RPM,
        "full": p.shift.full_shift / RPM,
        "low": p.low_ratio,
        "high": p.high_ratio,
        "clamp": float(p.shift.balance.secondary_clamp.mean()),
    }


def gain(document, path, value) -> dict[str, float]:
    before, after = figures(document), figures(changed(document, path, value))
    return {name: after[name] - before[name] for name in before}


class AgainstTheScalarSolution(unittest.TestCase):
    """SciPy's brentq and quad, node by node, sharing no code with the core."""

    def check(self, document, *, backshift=False):
        prediction = predict(read(document).core(), 21, backshift=backshift)
        curve = prediction.backshift if backshift else prediction.shift
        scalar = ScalarClutch(document)
        self.assertAlmostEqual(scalar.x_end, curve.path.travel[-1], places=8)
        for node in range(2, 21, 3):
            rpm, travel = curve.held[node] / RPM, curve.path.travel[node]
            self.assertAlmostEqual(scalar.held_rpm(travel, backshift=backshift, near_rpm=rpm) / rpm, 1, delta=1e-4)
            if not backshift:
                self.assertAlmostEqual(scalar.running_rpm(travel, rpm), curve.speed[node] / RPM, delta=0.3)

    def test_every_example(self):
        # A sled; a side-by-side with loaded stations, tabled helix and wound spring; a roller variator; the demo's.
        for name in (*PAGES, *DEMO):
            with self.subTest(name):
                self.check(example(name))

    def test_backshift_with_follower_friction(self):
        self.check(changed(example("trail-sled"), "model", {"helix_friction": 0.1}), backshift=True)

    def test_worn_belt_shim_and_clicker(self):
        document = changed(example("trail-sled"), "belt.top_width_mm", 34.0)
        document["primary"] |= {"shim_mm": 0.8, "clicker": {"position": 4, "reference": 3, "gain_step": 0.065}}
        self.check(document)

    def test_bite_is_where_rolling_resistance_is_carried(self):
        # Same equation by hand: c_rr·m·g·R over the gearing, through the slipping primary.
        document = example("side-by-side")  # met so softly that the bite comes after the touch
        scalar, vehicle = ScalarClutch(document), document["vehicle"]
        r1, r2 = scalar.radii(scalar.x_g)
        torque = (
            vehicle["rolling_coefficient"]
            * vehicle["mass_kg"]
            * 9.80665
            * vehicle["rolling_radius_mm"]
            / 1e3
            / (r2 / r1 * vehicle["drive_ratio"] * 0.9)
        )
        clamp = torque / (r1 * scalar.mu * 2 * np.tan(scalar.beta))
        speed = ((clamp + scalar.spring_force(scalar.x_g)) / (scalar.weight_force(scalar.x_g, 1.0) * 0.95)) ** 0.5
        self.assertAlmostEqual(figures(document)["bite"], speed / RPM, delta=0.05)

    def test_touch_and_snap(self):
        for name in (*PAGES, *DEMO):
            for worn in (0.0, 1.0):
                document = example(name)
                width = document["belt"]["top_width_new_mm"] - worn
                document = changed(document, "belt.top_width_mm", width)
                scalar, found = ScalarClutch(document), engagement(read(document).core())
                with self.subTest(name, worn=worn):
                    touch = scalar.touch_rpm() * RPM
                    self.assertAlmostEqual(found.touch / touch, 1, delta=3e-4)
                    weights = scalar.weight_force(scalar.x_g, touch) * (1 - scalar.hysteresis)
                    self.assertAlmostEqual(found.snap, weights - scalar.spring_force(scalar.x_g), delta=2)
                    self.assertGreaterEqual(found.bite, found.touch)


class CommonPractice(unittest.TestCase):
    """Facts of the trade (common practice, no source): sign and order of size on every example."""

    SWING = ("sled", "side-by-side", *DEMO)

    def test_a_gram_on_each_arm_lowers_the_top(self):
        for name in self.SWING:
            document = example(name)
            mass = document["primary"]["weights"]["base_mass_g"]
            change = gain(document, "primary.weights.base_mass_g", mass + 1)["full"]
            self.assertTrue(-130 < change < -35, (name, change))

    def test_tip_mass_pulls_the_top_more_than_heel_mass(self):
        document = changed(example("mountain-sled"), "primary.weights.loads", [])
        at = {s: gain(document, "primary.weights.loads", [{"station": s, "mass_g": 2.5}]) for s in ("heel", "tip")}
        self.assertLess(at["tip"]["full"], at["heel"]["full"])
        self.assertGreater(at["heel"]["bite"] / at["heel"]["full"], at["tip"]["bite"] / at["tip"]["full"])

    def test_a_click_is_about_200_rpm(self):
        document = changed(example("mountain-sled"), "primary.clicker", {"position": 3})
        self.assertTrue(120 < gain(document, "primary.clicker", {"position": 4})["mean"] < 280)

    def test_springs(self):
        for name in self.SWING:
            document = example(name)
            spring = document["primary"]["spring"]
            start = gain(document, "primary.spring.force_start_n", spring["force_start_n"] + 50)
            finish = gain(document, "primary.spring.force_finish_n", spring["force_finish_n"] + 50)
            self.assertGreater(start["bite"], 5 * abs(start["full"]), name)
            self.assertGreater(finish["full"], 2 * abs(finish["bite"]), name)
            stiff = gain(
                document, "secondary.spring.force_start_n", document["secondary"]["spring"]["force_start_n"] + 100
            )
            self.assertGreater(stiff["mean"], 10, name)

    def test_a_steeper_helix_lowers_rpm_and_clamp(self):
        for name in self.SWING:
            document = example(name)
            angle = document["secondary"]["helix"]["angles"][0]["deg"]
            change = gain(document, "secondary.helix.angles.0.deg", angle + 2)
            self.assertLess(change["mean"], 0, name)
            self.assertLess(change["clamp"], 0, name)

    def test_thin_air_lowers_the_shift(self):
        for name in self.SWING:
            self.assertLess(gain(example(name), "conditions.elevation_m", 2500)["mean"], -30, name)

    def test_boost_makes_up_for_thin_air(self):
        boosted = changed(example("side-by-side"), "engine.boost_compensated", True)
        self.assertEqual(gain(boosted, "conditions.elevation_m", 2500)["mean"], 0)
        high = changed(boosted, "conditions.elevation_m", 2500)
        self.assertEqual(read(high).core().power_factor, 1)
        self.assertLess(read(changed(high, "engine.boost_compensated", False)).core().power_factor, 0.85)

    def test_a_narrow_belt_loses_both_ends_of_the_ratio(self):
        for name in self.SWING:
            document = example(name)
            change = gain(document, "belt.top_width_mm", document["belt"]["top_width_new_mm"] - 1)
            self.assertLess(change["low"], 0, name)
            self.assertGreater(change["high"], 0, name)

    def test_lighter_rollers_rev_higher(self):
        # 16 g for 21 g (common practice).
        document = changed(example("quad"), "primary.weights.base_mass_g", 21)
        self.assertGreater(gain(document, "primary.weights.base_mass_g", 16)["mean"], 200)

    def test_backshift_lies_below_upshift(self):
        for document in (*(example(name) for name in self.SWING), example("quad")):
            prediction = predict(read(document).core(), backshift=True)
            self.assertTrue(np.all(prediction.backshift.speed < prediction.shift.speed))
            self.assertTrue(100 < prediction.friction_band / RPM < 700)

    def test_a_stiffer_secondary_spring_helps_backshift(self):
        weak, stiff = (
            predict(drivetrain("mountain-sled", secondary__spring__force_start_n=force), backshift=True)
            for force in (600, 1000)
        )
        self.assertGreater(stiff.backshift.mean, weak.backshift.mean)


class Words(unittest.TestCase):
    def test_over_rev_is_said_in_rpm(self):
        light = predict(drivetrain("mountain-sled", primary__weights__base_mass_g=44))
        over = light.shift.over_rev / RPM
        self.assertGreater(over, 0)
        self.assertIn(f"runs past the rev limit at the top: {over:.0f} rpm over", warnings(light))

    def test_slip_is_said_with_its_ratios(self):
        spring = {"force_start_n": 50, "force_finish_n": 300, "travel_mm": 30}
        loose = predict(drivetrain("side-by-side", secondary__spring=spring, secondary__torque_share=0.15))
        said = "secondary slips at full throttle from ratio 3.27"
        self.assertTrue(any(text.startswith(said) for text in warnings(loose)), warnings(loose))
        self.assertIn("slip-limited", loose.shift.flags()[0])

    def test_a_pinched_belt_is_said(self):
        # 0.9 mm wider than new, 0.5 mm of side gap: pinched by 0.4 mm.
        document = changed(example("sled"), "geometry.primary.idle_clearance_mm", 0.5)
        pinched = changed(document, "belt.top_width_mm", document["belt"]["top_width_new_mm"] + 0.9)
        said = "the belt is pinched at idle: it is wider than the open sheaves"
        self.assertIn(said, warnings(predict(read(pinched).core())))
        self.assertNotIn(said, warnings(predict(read(document).core())))

    def test_slack_belt_is_said(self):
        worn = predict(drivetrain(belt__top_width_mm=35.4))
        slack = worn.drivetrain.drive.low_slack * 1e3
        self.assertTrue(8 < slack < 11)
        said = f"the belt is slack in low ratio by {slack:.1f} mm: it is met late and starts in a higher gear"
        self.assertIn(said, [plain(each) for each in warnings(worn)])
        self.assertEqual(warnings(predict(drivetrain())), [])

    def test_weights_far_too_light_over_rev_beyond_the_launch(self):
        curve = predict(drivetrain("mountain-sled", primary__weights__base_mass_g=36)).shift
        self.assertTrue(np.all(curve.speed > curve.rev_limit))
        self.assertEqual(curve.flags()[0], ["slip-limited"])
        self.assertIn("over-rev", curve.flags()[20])
        self.assertFalse(curve.launch[20])

    def test_launch_peak_is_slip_limited_not_over_rev(self):
        curve = predict(drivetrain()).shift
        self.assertGreater(curve.speed[0], curve.rev_limit)
        self.assertEqual(curve.flags()[0], ["slip-limited"])
        self.assertFalse(curve.over_rev_nodes.any())
