"""Many set-ups in one call give what each gives alone, and one that cannot work does not stop the others."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from jaxel.core.mechanism.clutch.balance import primary_clamp_of_one, tension_log
from jaxel.core.mechanism.clutch.primary import RampRoller
from jaxel.core.mechanism.clutch.secondary import Helix
from jaxel.core.mechanism.clutch.spring import CompressionSpring
from jaxel.core.mechanism.equilibrium.batch import shifts
from jaxel.core.mechanism.equilibrium.screen import SecondarySide, primary_side, screen
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.numerics.tables import SmoothCurve
from jaxel.core.units import RPM
from tests.examples import drivetrain

FALLING = RampRoller(SmoothCurve([0.0, 0.03], [0.06, 0.05]), 0.02)


def bench(base, count, seed=3):
    """Gains, springs and helixes around a machine's own, as a bench might hold them: each as its own whole machines,
    and as the two sides of one screen."""
    rng = np.random.default_rng(seed)
    spring, own = base.primary.spring, base.secondary
    gains, stiff = rng.uniform(0.9, 1.1, (count, 1)), rng.uniform(0.85, 1.15, (count, 1))
    helixes = [Helix(own.helix.radius, (0.0,), (angle,)) for angle in np.radians(rng.uniform(38, 50, count))]
    primaries = [
        replace(base.primary, gain_scale=gain, spring=CompressionSpring(spring.force_start * by,
                                                                        spring.force_finish * by, spring.travel))
        for (gain,), (by,) in zip(gains.tolist(), stiff.tolist(), strict=True)
    ]  # fmt: skip
    machines = [
        replace(base, primary=primary, secondary=replace(own, helix=helix))
        for primary in primaries for helix in helixes
    ]  # fmt: skip
    weights = lambda x: gains * base.primary.weight_factor(x)  # noqa: E731
    springs = lambda x: stiff * spring.force(x)  # noqa: E731
    opening = base.drive.at(base.drive.nodes(21)).secondary_opening
    terms = [replace(own, helix=helix).clamp_terms(opening) for helix in helixes]
    secondary = SecondarySide(*(np.array(column) for column in zip(*terms, strict=True)))
    return machines, primary_side(base, 21, weights, springs), secondary


class Alone(unittest.TestCase):
    def test_whole_machines(self):
        base = drivetrain("sled")
        each = [base, drivetrain("sled", belt__top_width_mm=35.5), drivetrain("sled", conditions__elevation_m=2400)]
        found = shifts(each, 21)
        for index, one in enumerate(each):
            alone = predict(one, 21)
            np.testing.assert_allclose(found.held[index], alone.shift.held, rtol=1e-9)
            self.assertAlmostEqual(found.mean[index], alone.shift.mean, places=6)
            self.assertAlmostEqual(found.full_shift[index], alone.shift.full_shift, places=6)
            self.assertAlmostEqual(found.bite[index], alone.engagement.bite, places=9)


class Screen(unittest.TestCase):
    def test_every_primary_with_every_secondary(self):
        for name in ("side-by-side", "quad", "farm-side-by-side"):
            base = drivetrain(name)
            machines, primary, secondary = bench(base, 12)
            found, exact = screen(base, primary, secondary), shifts(machines, 21)
            np.testing.assert_allclose(found.bite, exact.bite, rtol=1e-9)
            grips = found.least_grip > 1  # one that slips is dropped, not placed
            self.assertGreater(grips.sum(), 100)
            for figure in ("mean", "spread", "full_shift"):
                error = np.abs(getattr(found, figure) - getattr(exact, figure))[grips] / RPM
                self.assertLess(error.max(), 0.5, (name, figure))
            for index in range(0, 144, 13):
                self.assertAlmostEqual(
                    found.least_grip[index], predict(machines[index], 21).shift.least_grip, delta=0.005
                )

    def test_one_that_slips_is_told(self):
        # Half the helix's help and a soft secondary spring: the exact solver and the screen both find it slipping.
        base = drivetrain("side-by-side", secondary__torque_share=0.15)
        soft = replace(base, secondary=replace(base.secondary, spring=CompressionSpring(50.0, 300.0, 0.03)))
        path = soft.drive.at(soft.drive.nodes(21))
        terms = soft.secondary.clamp_terms(path.secondary_opening)
        one = SecondarySide(*(each[None] for each in terms))
        primary = primary_side(
            soft, 21, lambda x: soft.primary.weight_factor(x)[None], lambda x: soft.primary.spring.force(x)[None]
        )
        self.assertLess(screen(soft, primary, one).least_grip[0], 1)
        self.assertLess(predict(soft, 21).shift.least_grip, 1)

    def test_weights_that_cannot_close_are_masked(self):
        base = drivetrain("sled")
        _, primary, secondary = bench(base, 3)
        broken = replace(primary, weights=primary.weights * np.array([[1.0], [-1.0], [1.0]]))
        broken = replace(broken, weights=np.where(broken.weights > 0, broken.weights, np.nan))
        found, whole = screen(base, broken, secondary), screen(base, primary, secondary)
        self.assertTrue(np.isnan(found.mean[3:6]).all() and np.isnan(found.least_grip[3:6]).all())
        np.testing.assert_allclose(found.mean[[0, 1, 2, 6, 7, 8]], whole.mean[[0, 1, 2, 6, 7, 8]], rtol=1e-6)


class Masked(unittest.TestCase):
    def test_one_that_cannot_work_is_masked_with_its_reason(self):
        base = drivetrain("sled")
        stuck = replace(base.primary, profile=FALLING)
        found = shifts([base, replace(base, primary=stuck), base], 21)
        self.assertEqual(found.valid.tolist(), [True, False, True])
        self.assertEqual([reason and reason.field for reason in found.reasons], [None, "profile", None])
        self.assertTrue(np.isnan(found.mean[1]) and np.isnan(found.bite[1]))
        self.assertEqual(found.mean[0], found.mean[2])


class AnyFriction(unittest.TestCase):
    @settings(max_examples=200, deadline=None, derandomize=True)
    @example(0.99, 5.0, 3.6, 2.0)
    @example(0.99, 14.0, 2.2, 0.0)
    @example(1.0, 5.0, 3.0, -2.0)
    @example(1.0, 8.0, 4.0, 1.0)
    @given(st.floats(0, 1), st.floats(0.1, 14), st.floats(2.2, 4.0), st.floats(-8, 5))
    def test_tension_log_is_brentqs(self, share, friction, wrap, reach):
        # SciPy's brentq on the same equation, also where λ is nearly 1 and μ_e high and Newton's steps overshoot.
        squeeze = 1 / friction + 10.0**reach

        def error(odds):
            z = 1 / (1 + np.exp(odds))
            k = friction * wrap * z
            weight = share / np.expm1(k) + (1 - share) / k
            return np.log(wrap * np.exp(odds) * z * weight) - np.log(squeeze - 1 / friction)

        z = 1 / (1 + np.exp(brentq(error, -60, 60, xtol=1e-13)))
        expected = friction * wrap * z
        found = float(tension_log(squeeze, wrap, friction, share))
        self.assertAlmostEqual(found / expected, 1, places=7)
        one = primary_clamp_of_one(
            1.0, 2.7, wrap, squeeze / 0.46, closing=0.46, friction=friction, adhesion_share=share,
            primary_seat=1.0, secondary_seat=1.0,
        )  # fmt: skip
        active = min(expected / friction, 2.7)
        split = (2.7 - active) / -np.expm1(-expected) + active / expected
        by_hand = max(share * split + (1 - share) * 2.7 / expected, 1 / friction) / 0.46
        self.assertAlmostEqual(one / by_hand, 1, places=7)
