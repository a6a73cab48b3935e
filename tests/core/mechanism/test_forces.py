"""Weights, springs, helix and belt tension against virtual work, quadrature and Eytelwein."""

import unittest
from dataclasses import replace
from itertools import product
from math import exp, pi, radians, tan
from typing import Any

import numpy as np
from scipy.integrate import quad, solve_ivp

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.clutch.balance import balance, primary_clamp_of_one, tension_log, wrap_integral
from jaxel.core.mechanism.clutch.forces import Forces
from jaxel.core.mechanism.clutch.primary import Clicker, RampRoller, ramp_path
from jaxel.core.mechanism.clutch.secondary import Helix, Secondary
from jaxel.core.mechanism.clutch.spring import CompressionSpring, SpringRating, rating_from_points
from jaxel.core.mechanism.numerics.tables import SmoothCurve
from jaxel.core.trade.setup.slot import equal_mass
from jaxel.core.units import POUND_FORCE
from tests.core.scalar import ScalarClutch
from tests.examples import changed, drivetrain, example, read


class Weights(unittest.TestCase):
    def test_force_is_the_gradient_of_kinetic_energy(self):
        # Virtual work: F = d(½·Σm·r²·ω²)/dx, by numerical derivative, for every kind of weight.
        shimmed = changed(example("trail-sled"), "primary.shim_mm", 1.5)
        for document in (example("mountain-sled"), example("side-by-side"), shimmed, example("quad")):
            with self.subTest(document["name"]):
                frictionless = changed(document, "model", {"hysteresis": 0})
                primary, scalar = read(frictionless).core().primary, ScalarClutch(frictionless)
                for x in np.linspace(0.002, 0.025, 9):
                    self.assertAlmostEqual(float(primary.weight_factor(x)) / scalar.weight_force(x, 1.0), 1, delta=1e-4)

    def test_table_is_held_past_its_end(self):
        primary = drivetrain("mountain-sled").primary
        self.assertAlmostEqual(float(primary.profile.pull(0.0325)), float(primary.profile.pull(0.06)), places=15)

    def test_a_clicker_step_scales_the_weights(self):
        primary = drivetrain("mountain-sled").primary
        one_up = replace(primary, clicker=Clicker(position=4))
        self.assertAlmostEqual(float(one_up.weight_factor(0.01) / primary.weight_factor(0.01)), 1 - 0.065)

    def test_weights_that_pull_inward_are_refused(self):
        falling = RampRoller(SmoothCurve([0.0, 0.03], [0.06, 0.05]), 0.02)
        with self.assertRaisesRegex(InvalidValue, "do not push the sheave closed"):
            replace(drivetrain("mountain-sled").primary, profile=falling).weight_factor(0.01)

    def test_unequal_arms_are_refused(self):
        self.assertAlmostEqual(equal_mass([62.0, 62.1, 61.95], 3), 62.0167, places=4)
        with self.assertRaisesRegex(InvalidValue, "unequal, 61.5 to 62.5 g"):
            equal_mass([62.5, 61.5, 62.0], 3)
        with self.assertRaisesRegex(InvalidValue, "all 3 weighed"):
            equal_mass([62.0, 62.0], 3)

    def test_ramp_angles_give_the_rollers_path(self):
        # A 45° ramp against a 30° plate: the roller leaves by 1/(1 + tan 30°) of the travel.
        path = ramp_path(lambda _: radians(45), radians(30), 0.03, [0.0, 0.01, 0.02])
        self.assertAlmostEqual(path[-1], 0.03 + 0.02 / (1 + tan(radians(30))), places=10)


class Springs(unittest.TestCase):
    def test_catalogue_forms_agree(self):
        # One spring described three ways; a pound-force is 4.4482216152605 N (NIST SP 811, exact).
        by_rate = SpringRating(26000, 0.089).fitted(0.065, 0.03)
        by_forces = rating_from_points([0.065, 0.035], [624, 1404]).fitted(0.065, 0.03)
        by_points = rating_from_points([0.07, 0.06, 0.05, 0.04], [494, 754, 1014, 1274]).fitted(0.065, 0.03)
        for spring in (by_forces, by_points):
            self.assertAlmostEqual(spring.force_start, by_rate.force_start, places=6)
            self.assertAlmostEqual(spring.force_finish, by_rate.force_finish, places=6)
        self.assertAlmostEqual(POUND_FORCE, 4.4482216152605, places=13)

    def test_tester_line_says_how_good_it_is(self):
        exact = rating_from_points([0.06, 0.05, 0.04], [700, 1000, 1300])
        rough = rating_from_points([0.06, 0.05, 0.04], [710, 980, 1310])
        self.assertAlmostEqual(exact.residual, 0, places=9)
        # By hand: slope unchanged, errors +10 −20 +10 about the line → √(600/1).
        self.assertAlmostEqual(rough.residual, 600**0.5, places=6)

    def test_sag(self):
        self.assertAlmostEqual(SpringRating(26000, 0.087).sag(SpringRating(26000, 0.089), 0.065), 2 / 24)

    def test_bad_springs_are_refused(self):
        for build in (
            lambda: rating_from_points([0.065, 0.035], [1404, 624]),
            lambda: rating_from_points([0.065, -0.035], [624, 1404]),
            lambda: rating_from_points([0.05], [500]),
            lambda: rating_from_points([0.05, 0.05], [500, 510]),
            lambda: SpringRating(26000, 0.089).fitted(0.09, 0.03),
            lambda: SpringRating(26000, 0.089).fitted(0.05, 0.06),
        ):
            self.assertRaises(InvalidValue, build)


class HelixForce(unittest.TestCase):
    def test_rotation_is_the_integral_of_its_table(self):
        # SciPy's quad over 1/(r·tan α) as the independent route; one angle, steep then shallow, three points.
        for openings, angles in (
            ((0.0,), (40.0,)),
            ((0.0, 0.02), (44.0, 36.0)),
            ((0.004, 0.012, 0.02), (36.0, 48.0, 40.0)),
        ):
            helix = Helix(0.044, openings, tuple(radians(a) for a in angles))
            for opening in (0.0, 0.003, 0.01, 0.017, 0.03):

                def turn(x: float, at=openings, deg=angles) -> float:
                    return 1 / (0.044 * tan(radians(np.interp(x, at, deg))))

                expected = quad(turn, 0, opening, points=[p for p in openings if 0 < p < opening] or None)[0]
                self.assertAlmostEqual(float(helix.rotation(opening)), expected, places=9)

    def test_torque_becomes_clamp(self):
        # By hand: 100 N·m, half of it, over 0.05 m and tan 45° → 1000 N on top of the spring's 500.
        secondary = Secondary(Helix(0.05, (0.0,), (radians(45),)), CompressionSpring(500, 900, 0.03))
        self.assertAlmostEqual(float(secondary.clamp(0.0, 100.0)), 1500)

    def test_follower_friction_opens_a_band(self):
        secondary = Secondary(
            Helix(0.05, (0.0,), (radians(40),)), CompressionSpring(500, 900, 0.03), follower_friction=0.1
        )
        smooth = replace(secondary, follower_friction=0.0)
        up, back = secondary.clamp(0.01, 80.0), secondary.clamp(0.01, 80.0, backshift=True)
        self.assertLess(back, smooth.clamp(0.01, 80.0))
        self.assertLess(smooth.clamp(0.01, 80.0), up)

    def test_wound_the_wrong_way_or_locking_is_refused(self):
        good = drivetrain("side-by-side").secondary
        changes: tuple[dict[str, Any], ...] = ({"pretwist": 0.0}, {"pretwist": -0.5}, {"follower_friction": 0.9})
        for change in changes:
            with self.subTest(change), self.assertRaises(InvalidValue):
                replace(good, **change)


class BeltTension(unittest.TestCase):
    FRICTION, CLOSING = 1.55, 0.46

    def solved(self, **change):
        values = {
            "primary_radius": 0.05,
            "primary_wrap": 2.7,
            "secondary_wrap": 3.6,
            "torque": 120.0,
            "clamp": 5000.0,
            "closing": self.CLOSING,
            "friction": self.FRICTION,
            "adhesion_share": 0.35,
            "primary_seat": 1.0,
            "secondary_seat": 1.0,
        } | change
        return balance(**values)

    def test_wrap_sum_is_the_integral_of_the_belt_element(self):
        # solve_ivp along the wrap: dT/dα = μ_e·T over the active arc after an idle one (λ = 1), and
        # dT/dα = (K/θ)·T over the whole wrap (λ = 0).
        for tight, slack, wrap in ((1500.0, 300.0, 2.7), (900.0, 700.0, 3.3)):
            k = np.log(tight / slack)
            for idle in (slack, tight):
                for share, rate, idle_arc in ((1.0, self.FRICTION, wrap - k / self.FRICTION), (0.0, k / wrap, 0.0)):
                    active = wrap - idle_arc

                    def along(_, y, rate=rate):
                        return [rate * y[0], y[0]]

                    path = solve_ivp(along, (0, active), [slack, 0.0], rtol=1e-10, atol=1e-10)
                    self.assertAlmostEqual(path.y[0, -1] / tight, 1, places=7)
                    expected = path.y[1, -1] + idle * idle_arc
                    found = wrap_integral(wrap, idle, tight - slack, k, self.FRICTION, share)
                    self.assertAlmostEqual(float(found) / expected, 1, places=7)

    def test_eytelwein_limit(self):
        # As the whole wrap slides T1/T2 = e^{μ_e·θ} (Eytelwein) and every λ gives ∫T dθ = ΔT/μ_e.
        wrap, slack = 3.0, 100.0
        tight = slack * exp(self.FRICTION * wrap)
        for share in (0.0, 0.35, 1.0):
            found = wrap_integral(wrap, tight, tight - slack, self.FRICTION * wrap, self.FRICTION, share)
            self.assertAlmostEqual(float(found) / ((tight - slack) / self.FRICTION), 1, places=12)

    def test_textbook_v_belt(self):
        # Shigley, V-belts: T1/T2 = e^{f·θ/sin β}; f = 0.13, 2β = 34°… net of centrifugal tension. With θ = π the
        # ratio is e^{0.13·π/sin 17°} = 4.04.
        friction = 0.13 / np.sin(radians(17))
        slipping = self.solved(friction=friction, secondary_wrap=pi, clamp=1.0)
        self.assertAlmostEqual(float(slipping.tight / slipping.slack), 4.04, places=2)
        self.assertLess(float(slipping.grip_secondary), 1)

    def test_solution_balances_both_sheaves(self):
        for share, seats in product((0.0, 0.35, 1.0), ((1.0, 1.0), (1.8, 2.6))):
            found = self.solved(adhesion_share=share, primary_seat=seats[0], secondary_seat=seats[1])
            k = np.log(found.tight / found.slack)
            pull = found.tight - found.slack
            self.assertAlmostEqual(float(pull), 120 / 0.05, places=6)
            secondary = wrap_integral(3.6, found.slack, pull, k, self.FRICTION, share) / self.CLOSING / seats[1]
            self.assertAlmostEqual(float(secondary), 5000, delta=1e-3)
            primary = wrap_integral(2.7, found.tight, pull, k, self.FRICTION, share) / self.CLOSING / seats[0]
            self.assertAlmostEqual(float(primary), float(found.primary_clamp), places=6)

    def test_tension_log_over_its_whole_range(self):
        # What it returns satisfies the equation it solves, from a bare grip to a hundred thousand times one.
        for share in (0.0, 0.35, 1.0):
            for friction in (0.5, 1.5, 2.5):
                wrap = np.linspace(2.2, 4.0, 7)[:, None]
                squeeze = np.geomspace(1.0001, 1e5, 60) / friction
                k = tension_log(squeeze, wrap, friction, share)
                given = (wrap - k / friction) * (share / np.expm1(k) + (1 - share) / k) + 1 / friction
                np.testing.assert_allclose(given, np.broadcast_to(squeeze, given.shape), rtol=1e-6)

    def test_one_belt_in_plain_floats_agrees_with_the_arrays(self):
        groove = {"closing": self.CLOSING, "friction": self.FRICTION, "primary_seat": 1.8, "secondary_seat": 2.6}
        for clamp, torque, share in product((200.0, 1500.0, 3366.0, 5000.0, 2e5), (0.05, 30.0, 120.0), (0, 0.35, 1)):
            many = self.solved(clamp=clamp, torque=torque, adhesion_share=share, **groove).primary_clamp
            one = primary_clamp_of_one(torque / 0.05, 2.7, 3.6, clamp, adhesion_share=share, **groove)
            self.assertAlmostEqual(one / float(many), 1, places=6)

    def test_grip_falls_to_one_where_slip_begins(self):
        pull = 120 / 0.05
        at_limit = pull / self.FRICTION / self.CLOSING
        self.assertAlmostEqual(float(self.solved(clamp=at_limit).grip_secondary), 1, places=5)
        self.assertLess(float(self.solved(clamp=0.8 * at_limit).grip_secondary), 0.81)
        self.assertGreater(float(self.solved(clamp=1.2 * at_limit).grip_secondary), 1)


class Bracket(unittest.TestCase):
    def test_the_weights_lose_below_it_and_win_above_it(self):
        for name in ("mountain-sled", "side-by-side", "quad", "trail-sled"):
            core = drivetrain(name)
            forces = Forces.of(core, core.drive.shift_path(41))
            low, high = forces.bracket()
            with self.subTest(name):
                self.assertTrue((low < high).all())
                np.testing.assert_allclose(low**2 * forces.weights, np.maximum(forces.spring, 0))  # just let go
                self.assertTrue((forces.excess(low) <= 0).all())
                self.assertTrue((forces.excess(high) >= 0).all())
                held = forces.held_speed()
                self.assertTrue(((low <= held) & (held <= high)).all())
