"""Many set-ups in one call give what each gives alone, and one that cannot work does not stop the others."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from jaxel.core.mechanism import forces
from jaxel.core.mechanism.balance import primary_clamp_of_one, tension_log
from jaxel.core.mechanism.batch import combinations, shifts
from jaxel.core.mechanism.primary import RampRoller
from jaxel.core.mechanism.secondary import Helix
from jaxel.core.mechanism.shift import predict
from jaxel.core.mechanism.spring import CompressionSpring
from jaxel.core.mechanism.tables import HeldCurve
from tests.examples import DEMO, drivetrain

FALLING = RampRoller(HeldCurve([0.0, 0.03], [0.06, 0.05]), 0.02)


def parts(base, count, seed=3):
    """Primaries and secondaries around a machine's own: springs, gains and helixes a bench might hold."""
    rng = np.random.default_rng(seed)
    spring, own = base.primary.spring, base.secondary
    primaries = [
        replace(base.primary, gain_scale=gain, spring=CompressionSpring(spring.force_start * stiff,
                                                                        spring.force_finish * stiff, spring.travel))
        for gain, stiff in zip(rng.uniform(0.85, 1.15, count), rng.uniform(0.8, 1.2, count), strict=True)
    ]  # fmt: skip
    secondaries = [
        replace(own, helix=Helix(own.helix.radius, (0.0,), (angle,)))
        for angle in np.radians(rng.uniform(36, 50, count))
    ]
    return primaries, secondaries


class Alone(unittest.TestCase):
    def test_whole_machines(self):
        base = drivetrain("sled")
        each = [base, drivetrain("sled", belt__top_width_mm=35.5), drivetrain("sled", conditions__elevation_m=2400)]
        found = shifts(each, 21)
        for index, one in enumerate(each):
            alone = predict(one, 21)
            np.testing.assert_allclose(found.speed[index], alone.shift.speed, rtol=1e-9)
            self.assertAlmostEqual(found.mean[index], alone.shift.mean, places=6)
            self.assertAlmostEqual(found.full_shift[index], alone.shift.full_shift, places=6)
            self.assertAlmostEqual(found.bite[index], alone.engagement.bite, places=9)

    def test_every_primary_with_every_secondary(self):
        # 24 × 24 is past TABLE_FROM: closed on tables first, and still the same to rounding.
        self.assertGreater(24 * 24, forces.TABLE_FROM)
        for name in ("sled", "quad", DEMO[0]):
            base = drivetrain(name)
            primaries, secondaries = parts(base, 24)
            found = combinations(base, primaries, secondaries, 21)
            self.assertTrue(found.valid.all())
            for p, s in ((0, 0), (0, 1), (1, 0), (7, 19), (23, 23)):
                alone = predict(replace(base, primary=primaries[p], secondary=secondaries[s]), 21)
                np.testing.assert_allclose(found.speed[p * 24 + s], alone.shift.speed, rtol=1e-8)
                self.assertAlmostEqual(found.bite[p * 24 + s], alone.engagement.bite, places=9)

    def test_the_tables_are_only_a_first_look(self):
        # Tables so coarse that most roots lie outside CLOSE of what they say: the exact route takes over.
        base = drivetrain("sled")
        primaries, secondaries = parts(base, 21)
        fine = combinations(base, primaries, secondaries, 11).speed
        kept = forces.TORQUE_POINTS, forces.CLAMP_POINTS
        try:
            forces.TORQUE_POINTS, forces.CLAMP_POINTS = 3, 4
            rough = combinations(base, primaries, secondaries, 11).speed
        finally:
            forces.TORQUE_POINTS, forces.CLAMP_POINTS = kept
        np.testing.assert_allclose(rough, fine, rtol=1e-6)


class Masked(unittest.TestCase):
    def test_one_that_cannot_work_is_masked_with_its_reason(self):
        base = drivetrain("sled")
        stuck = replace(base.primary, profile=FALLING)
        found = shifts([base, replace(base, primary=stuck), base], 21)
        self.assertEqual(found.valid.tolist(), [True, False, True])
        self.assertEqual([reason and reason.field for reason in found.reasons], [None, "profile", None])
        self.assertTrue(np.isnan(found.mean[1]) and np.isnan(found.bite[1]))
        self.assertEqual(found.mean[0], found.mean[2])

        pairs = combinations(base, [stuck, base.primary], [base.secondary] * 3, 21)
        self.assertEqual(pairs.valid.tolist(), [False] * 3 + [True] * 3)
        np.testing.assert_allclose(pairs.mean[3:], found.mean[0], rtol=1e-9)
        none = combinations(base, [stuck], [base.secondary], 21)
        self.assertEqual((none.valid.tolist(), none.speed.shape), ([False], (1, 21)))


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
        by_hand = (share * split + (1 - share) * 2.7 / expected) / 0.46
        self.assertAlmostEqual(one / by_hand, 1, places=7)
