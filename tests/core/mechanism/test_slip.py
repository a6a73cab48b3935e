"""What the secondary holds, and where an engine runs on that it does not hold."""

import unittest
from dataclasses import replace
from math import radians, sin, tan

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from jaxel.core.mechanism.clutch.balance import balance, holding_torque, primary_clamp_of_one
from jaxel.core.mechanism.clutch.forces import Forces
from jaxel.core.mechanism.equilibrium.batch import shifts
from jaxel.core.mechanism.equilibrium.screen import SecondarySide, primary_side, screen
from jaxel.core.mechanism.equilibrium.shift import predict, window
from jaxel.core.mechanism.numerics.roots import first_fall
from jaxel.core.mechanism.numerics.tables import HeldCurve
from jaxel.core.units import RPM
from tests.core.scalar import ScalarClutch
from tests.examples import DEMO, PAGES, changed, drivetrain, example, read


def soft(name, share=0.2, force=0.15):
    """A machine whose secondary hardly squeezes."""
    document = example(name)
    spring = document["secondary"]["spring"]
    document = changed(document, "secondary.spring.force_start_n", spring["force_start_n"] * force)
    document = changed(document, "secondary.spring.force_finish_n", spring["force_finish_n"] * force)
    return changed(document, "secondary.torque_share", share)


class Hold(unittest.TestCase):
    def test_by_hand_on_one_machine(self):
        # The sled at 10 mm of travel, written out: Λ = 2·tan β·μ/sin β, F2₀ the spring, c = share·i/(r_h·tan α).
        document = example("sled")
        core = read(document).core()
        path = core.drive.at(np.array([0.010]))
        forces = Forces.of(core, path)
        secondary, angle = document["secondary"], radians(document["geometry"]["sheave_half_angle_deg"])
        grip = 2 * tan(angle) * document.get("model", {}).get("friction", 0.35) / sin(angle)
        spring, helix = secondary["spring"], secondary["helix"]
        opening, r1, ratio = (float(each[0]) for each in (path.secondary_opening, path.primary_radius, path.ratio))
        slope = (spring["force_finish_n"] - spring["force_start_n"]) / (spring["travel_mm"] / 1e3)
        clamp = spring["force_start_n"] + slope * opening
        per_torque = 0.5 * ratio / (helix["radius_mm"] / 1e3 * tan(radians(helix["angles"][0]["deg"])))
        expected = grip * clamp * r1 / (1 - grip * per_torque * r1)
        self.assertGreater(expected, 0)
        self.assertAlmostEqual(float(forces.hold[0]) / expected, 1, places=9)
        # At that torque the pull is just what the clamp's friction bears.
        self.assertAlmostEqual(expected / r1 / (grip * (clamp + per_torque * expected)), 1, places=12)

    def test_by_bisection_on_every_example(self):
        # The scalar solver bisects friction against pull on its own secondary.
        for name in (*PAGES, *DEMO):
            for document in (example(name), soft(name)):
                core, scalar = read(document).core(), ScalarClutch(document)
                at = core.drive.nodes(9)
                found = Forces.of(core, core.drive.at(at)).hold
                for travel, hold in zip(at, found, strict=True):
                    expected = scalar.hold(travel, 1)
                    self.assertTrue(hold == expected or abs(hold / expected - 1) < 1e-7, (name, travel, hold, expected))

    def test_the_primary_squeezes_at_least_what_its_friction_bears(self):
        # A groove that seats so well that seating asks for less than Eytelwein's limit: that limit is asked, and said.
        groove = {"closing": 0.46, "friction": 1.55, "adhesion_share": 0.35, "secondary_seat": 2.6}
        pull = 120 / 0.05
        found = balance(0.05, 2.7, 3.6, 120.0, 3800.0, primary_seat=6.0, **groove)
        self.assertAlmostEqual(float(found.primary_clamp), pull / (0.46 * 1.55), places=9)
        self.assertLess(float(found.grip_primary), 1)
        self.assertAlmostEqual(primary_clamp_of_one(pull, 2.7, 3.6, 3800.0, primary_seat=6.0, **groove),
                               float(found.primary_clamp), places=6)  # fmt: skip

    def test_a_helix_that_takes_enough_holds_whatever_it_gets(self):
        self.assertEqual(float(holding_torque(0.05, 100.0, 40.0, closing=0.4, friction=1.5)), np.inf)  # Λ·c·r1 = 1.2
        self.assertTrue(0 < float(holding_torque(0.05, 100.0, 30.0, closing=0.4, friction=1.5)) < np.inf)


class RunsOn(unittest.TestCase):
    def test_against_the_scalar_solution(self):
        for name in ("sled", "side-by-side"):
            document = soft(name)
            curve = predict(read(document).core(), 11).shift
            scalar = ScalarClutch(document)
            ran = curve.speed - curve.held > 1e-6
            self.assertGreater(ran.sum(), 3)
            for node in range(0, 11, 2):
                held, travel = curve.held[node] / RPM, curve.path.travel[node]
                self.assertAlmostEqual(scalar.held_rpm(travel, near_rpm=held) / held, 1, delta=1e-4)
                self.assertAlmostEqual(scalar.running_rpm(travel, held), curve.speed[node] / RPM, delta=0.3)

    def test_tensions_grips_and_flags_of_a_slipping_node(self):
        core = read(soft("sled")).core()
        curve = predict(core, 41).shift
        forces = Forces.of(core, core.drive.shift_path(41))
        slips = curve.balance.secondary_slips
        self.assertTrue(slips[window(41)].any())
        pull = forces.hold / curve.path.primary_radius
        np.testing.assert_allclose((curve.balance.tight - curve.balance.slack)[slips], pull[slips], rtol=1e-9)
        ratio = np.exp(core.wedge_friction * curve.path.secondary_wrap)  # Eytelwein over the whole wrap
        np.testing.assert_allclose((curve.balance.tight / curve.balance.slack)[slips], ratio[slips], rtol=1e-9)
        given = forces.weights * curve.speed**2 - forces.spring
        np.testing.assert_allclose(curve.balance.primary_clamp[slips], given[slips], rtol=1e-9)
        whole = core.torque_factor * core.engine.torque(curve.held)
        limit = core.drive.closing_per_radius * core.wedge_friction * curve.path.primary_radius
        grip = limit * (forces.clamp + forces.clamp_per_torque * whole) / whole
        np.testing.assert_allclose(curve.balance.grip_secondary[slips], grip[slips], rtol=1e-9)
        self.assertLess(curve.least_grip, 1)
        self.assertTrue(
            all(("secondary-slips" in flags) == slip for flags, slip in zip(curve.flags(), slips, strict=True))
        )
        self.assertLessEqual(curve.speed[slips & (curve.held < curve.rev_limit)].max(), curve.rev_limit)

    def test_node_batch_and_screen_alike(self):
        core = read(soft("side-by-side")).core()
        curve, found = predict(core, 21).shift, shifts([core, core], 21)
        np.testing.assert_allclose(found.held[0], curve.held, rtol=1e-9)
        self.assertTrue(found.slips.all() and curve.window_slips)
        self.assertFalse(shifts([drivetrain("side-by-side")], 21).slips[0])
        one = SecondarySide(
            *(each[None] for each in core.secondary.clamp_terms(core.drive.shift_path(21).secondary_opening))
        )
        primary = primary_side(
            core, 21, lambda x: core.primary.weight_factor(x)[None], lambda x: core.primary.spring.force(x)[None]
        )
        screened = screen(core, primary, one)
        self.assertAlmostEqual(screened.mean[0] / RPM, curve.mean / RPM, delta=3)
        self.assertAlmostEqual(screened.full_shift[0] / RPM, curve.full_shift / RPM, delta=3)
        self.assertAlmostEqual(screened.least_grip[0], curve.least_grip, delta=0.01)

    def test_the_clamp_required_has_no_jump(self):
        core = read(soft("sled")).core()
        forces = Forces.of(core, core.drive.at(core.drive.nodes(5)))
        for node in range(5):
            hold = float(forces.hold[node])
            torques = np.array([hold * by for by in (0.999, 1.0, 1.001, 3.0)])
            needed = [float(forces.required(np.full(5, torque))[node]) for torque in torques]
            self.assertAlmostEqual(needed[0] / needed[1], 1, delta=0.01)
            self.assertAlmostEqual(needed[2], needed[1], places=6)  # what is not held asks for nothing
            self.assertAlmostEqual(needed[3], needed[1], places=6)

    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(st.sampled_from([*PAGES, *DEMO]), st.floats(0.5, 1.5), st.floats(0.01, 0.4), st.floats(0.1, 1.0))
    def test_more_torque_never_lowers_a_nodes_rpm(self, name, power, more, force):
        core = read(soft(name, share=0.3, force=force)).core()
        one, other = (
            predict(replace(core, belt=replace(core.belt, torque_scale=scale)), 21).shift.speed
            for scale in (power, power + more)
        )
        self.assertGreaterEqual((other - one).min(), -1e-5 * one.max())

    def test_first_fall(self):
        # A hill: numpy's own search on a fine grid.
        hill = HeldCurve([100.0, 300.0, 500.0, 700.0], [40.0, 90.0, 100.0, 30.0])
        fine = np.linspace(100, 700, 600_001)
        for start, level in ((150.0, 80.0), (420.0, 99.5), (100.0, 45.0), (650.0, 60.0)):
            above = fine[(fine >= start) & (hill(fine) <= level)]
            found = first_fall(hill, np.array([level]), np.array([start]), 680.0)
            self.assertAlmostEqual(found[0], above[0] if len(above) and above[0] <= 680 else 680.0, delta=0.01)
        self.assertEqual(first_fall(hill, np.array([20.0]), np.array([650.0]), 680.0)[0], 680.0)


if __name__ == "__main__":
    unittest.main()
