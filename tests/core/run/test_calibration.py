"""A machine's model fitted to its runs, and predictions that stand on what was measured."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.linalg import block_diag
from scipy.optimize import curve_fit

from jaxel.core.formats.paths import with_value
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.mechanism.numerics.uncertainty import combined, posterior
from jaxel.core.trade.run.calibration_file import calibrated
from jaxel.core.trade.run.fit import calibrate
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.discrepancy import Discrepancy, study
from jaxel.core.trade.setup.evidence import inputs
from jaxel.core.trade.setup.figures import ENGAGEMENT, FULL_SHIFT, MEAN, figures_of
from jaxel.core.trade.setup.prediction import predicted
from jaxel.core.trade.setup.worth import effects_on
from tests.examples import changed, example, read

BASE = read(example("mountain-sled"))
LIGHTER = with_value(BASE, "primary.weights.base_mass_g", 57.0)
STEEPER = with_value(BASE, "secondary.helix.angles[0].deg", BASE.secondary.helix.angles[0].deg + 3)


def run(setup=None, **figures):
    return RunPart(setup=setup, **figures)


def truth(document, gain=1.04, torque=0.97):
    """What a machine whose model is a little other than thought measures."""
    other = with_value(with_value(document, "model.gain_scale", gain), "model.torque_scale", torque)
    bite, mean, slope, full, low, high = figures_of([other]).values[0].tolist()
    return {"engagement_rpm": bite, "shift_mean_rpm": mean, "slope_rpm": slope, "full_shift_rpm": full,
            "low_ratio": low, "high_ratio": high}  # fmt: skip


class TheFit(unittest.TestCase):
    def test_is_curve_fits(self):
        # scipy.optimize.curve_fit on the same figures, the priors as data of their own, its own numerical slopes.
        runs = [run(**truth(BASE)), run(LIGHTER, engagement_rpm=4060.0, shift_mean_rpm=7930.0)]
        fit, _ = calibrate(BASE, runs)
        found = fit.settled(Discrepancy.of_the_study(), np.zeros(5))
        priors = [0.06, 0.10, 0.05, 0.06, 0.08]
        names = ["gain_scale", "gain_tilt", "torque_scale", "seating_primary", "seating_secondary"]
        self.assertEqual([each.name for each in found.fitted], names)

        def model(_, *at):
            setups = [each.setup or BASE for each in runs]
            for name, place, sd in zip(names, at, priors, strict=True):
                path = f"model.{name}"
                setups = [with_value(each, path, getattr(BASE.model, name) + place * sd) for each in setups]
            values = figures_of(setups).values
            return np.concatenate([[values[index, figure] for index, figure in fit.rows], at])

        sigma = block_diag(fit.covariance(Discrepancy.of_the_study()), np.eye(5))
        data = np.concatenate([fit.measured, np.zeros(5)])
        at, covariance = curve_fit(model, np.arange(len(data)), data, np.zeros(5), sigma, absolute_sigma=True)
        np.testing.assert_allclose([each.at for each in found.fitted], at, atol=2e-3)
        np.testing.assert_allclose(found.covariance, covariance, atol=2e-3)

    def test_runs_narrow_what_they_tell(self):
        _, found = calibrate(BASE, [run(**truth(BASE)), run(LIGHTER, **truth(LIGHTER))])
        bare = Calibration.none(BASE).estimates([BASE])[0]
        here = found.estimates([STEEPER])[0]
        expected = truth(STEEPER)
        self.assertLess(here.mean_sd, bare.mean_sd / 4)
        self.assertLess(abs(here.mean - expected["shift_mean_rpm"]), 2 * here.mean_sd)
        # The truth here is the model's own, the helix told at three quarters: what is left is a quarter of its change.
        (told,) = found.changes(BASE, [STEEPER])
        self.assertAlmostEqual(here.mean - expected["shift_mean_rpm"], told[MEAN] * (1 - 1 / 0.75), delta=25)
        self.assertLess(abs(here.engagement - expected["engagement_rpm"]), 25)
        self.assertGreater(next(each.value for each in found.fitted if each.name == "gain_scale"), 1.01)

    def test_a_measured_ratio_informs_the_belt(self):
        evidence = {"primary.weights.base_mass_g": {"origin": "measured"}}
        base = read(changed(example("mountain-sled"), "evidence", evidence))
        low = float(figures_of([base]).values[0, 4])
        fit, found = calibrate(base, [run(low_ratio=low - 0.1, sd={"low_ratio": 0.02})])
        moved = {each.name: each.at for each in found.fitted if abs(each.at) > 0.2}
        self.assertTrue(moved and all(name.startswith(("belt.", "geometry.")) for name in moved), moved)
        after = figures_of([found.applied(base)]).values[0, 4]
        self.assertTrue(low - 0.1 - 0.02 < after < low - 0.04, after)
        self.assertEqual(len(fit.fitted), 5 + 8)

    def test_a_changed_parts_error_is_not_blamed_on_a_good_run(self):
        # The same miss: on the base it moves the model, behind a helix change of 130 rpm less.
        off = 150.0
        on_base, behind = (
            calibrate(BASE, [run(setup, shift_mean_rpm=float(figures_of([setup]).values[0, MEAN]) + off)])[1]
            for setup in (BASE, STEEPER)
        )
        drift = [np.linalg.norm([each.at for each in found.fitted]) for found in (on_base, behind)]
        self.assertGreater(drift[0], 1.05 * drift[1])

    def test_a_run_on_another_set_up_is_told_by_its_factor(self):
        # Measured just as the study tells a helix, at three quarters: nothing is left for the parameters to explain.
        here, there = figures_of([BASE, STEEPER]).values[:, MEAN]
        told = float(here + 0.75 * (there - here))
        found = calibrated(BASE, [run(STEEPER, shift_mean_rpm=told)])
        self.assertEqual(found.moved, [])
        self.assertAlmostEqual(found.residuals[0].predicted, told, delta=0.5)


class Anchored(unittest.TestCase):
    def test_the_same_set_up_is_what_was_measured(self):
        _, found = calibrate(BASE, [run(shift_mean_rpm=7777.0, engagement_rpm=3888.0, sd={"shift_mean_rpm": 40.0})])
        here = found.estimates([BASE])[0]
        self.assertAlmostEqual(here.mean, 7777.0)
        self.assertAlmostEqual(here.engagement, 3888.0)
        # V = noise² + 8².
        self.assertAlmostEqual(here.mean_sd, np.hypot(40, 8), places=6)
        self.assertAlmostEqual(here.engagement_sd, np.hypot(75, 8), places=6)

    def test_the_curves_band_runs_from_the_means_to_the_ends(self):
        sd = {"shift_mean_rpm": 40.0, "full_shift_rpm": 25.0}
        _, found = calibrate(BASE, [run(shift_mean_rpm=7800.0, full_shift_rpm=7900.0, sd=sd)])
        here = found.estimates([BASE], 41)[0]
        self.assertAlmostEqual(here.full_shift, 7900)
        self.assertAlmostEqual(here.full_shift_sd, np.hypot(25, 8), places=6)
        # The window runs from 0.20 to 0.95 of the shift: its middle is node 23 of 0 to 40.
        self.assertAlmostEqual(here.curve_sd[0], here.mean_sd, places=6)
        self.assertAlmostEqual(here.curve_sd[23], here.mean_sd, places=6)
        self.assertLess(here.curve_sd[24], here.mean_sd)
        self.assertAlmostEqual(here.curve_sd[-1], here.full_shift_sd, places=6)

    def test_a_curve_measured_at_one_place_moves_as_a_whole(self):
        for figure, other in (("shift_mean_rpm", "full_shift"), ("full_shift_rpm", "mean")):
            _, found = calibrate(BASE, [run(**{figure: 7800.0})])
            here = found.estimates([BASE])[0]
            moved = {"full_shift": here.full_shift - here.bare[FULL_SHIFT], "mean": here.mean - here.bare[MEAN]}
            self.assertAlmostEqual(moved["full_shift"], moved["mean"], places=6)
            self.assertGreater(getattr(here, f"{other}_sd"), 60)

    def test_where_a_selection_in_between_cannot_work_all_that_changed_is_one_part(self):
        sled, cam = read(example("sled")), read(example("adjustable-cam"))
        (shares,) = Calibration.none(sled).shares([(sled, cam)])
        self.assertEqual(len(shares), 1)
        ((parts, change),) = shares.items()
        self.assertIn("arms", parts)
        there, here = figures_of([cam, sled]).values
        np.testing.assert_allclose(change, there - here)

    def test_the_next_is_what_was_measured_plus_the_change(self):
        _, found = calibrate(BASE, [run(shift_mean_rpm=7700.0)])
        here, next_one = found.estimates([BASE, LIGHTER])
        change = next_one.bare[MEAN] - here.bare[MEAN]
        self.assertAlmostEqual(next_one.mean, 7700 + change)
        self.assertTrue(100 < change < 300)
        # By the formula: noise, 8 rpm, what the parameters leave in doubt of the change, and 5 and 5 % of it.
        known = [inputs(each) for each in (BASE, LIGHTER)]
        _, effects = effects_on([found.applied(each) for each in (BASE, LIGHTER)], known)
        step = (effects[1].values - effects[0].values)[:, MEAN]
        expected = 50**2 + 8**2 + step @ found.covariance @ step + (0.05**2 + 0.05**2) * change**2
        self.assertAlmostEqual(next_one.mean_sd, expected**0.5, delta=0.2)

    def test_a_part_s_own_doubt_moves_a_figure_no_more_than_the_part_does(self):
        # A helix told at half its size (b of model.md §8): what its angle is in doubt by counts a quarter as variance.
        doubt = {"secondary.helix.angles": EvidencePart(origin="typical", sd=0.03)}
        base, other = (each.model_copy(update={"evidence": doubt}) for each in (BASE, STEEPER))
        _, found = calibrate(base, [run(shift_mean_rpm=7700.0)])
        helix = next(each for each in inputs(other) if each.path == "secondary.helix.angles")
        _, (effects,) = effects_on([found.applied(other)], [[helix]])
        effect = float(effects.values[0, MEAN])
        self.assertGreater(abs(effect), 20)

        def variance(factor):
            told = dict(study())
            told["helix", "shift"] = replace(told["helix", "shift"], factor=factor)
            (estimate,) = replace(found, discrepancy=Discrepancy(told, {})).estimates([other])
            return estimate.mean_sd**2

        # The helix that came out and the one that goes in are each in doubt: by much the same effect.
        self.assertAlmostEqual((variance(1.0) - variance(0.5)) / (0.75 * 2 * effect**2), 1, delta=0.35)

    def test_correlation_is_through_the_parameters_alone(self):
        bare = Calibration.none(BASE).estimates([BASE])[0]
        _, (effects,) = effects_on([BASE], [inputs(BASE)])
        bite, mean = effects.values[:, ENGAGEMENT], effects.values[:, MEAN]
        expected = float(bite @ mean / np.sqrt((bite @ bite + 64) * (mean @ mean + 64)))
        self.assertAlmostEqual(bare.correlation, expected, places=6)
        self.assertGreater(expected, 0.2)
        self.assertAlmostEqual(bare.mean_sd, float(np.sqrt(mean @ mean + 64)), places=6)

    def test_a_prediction_document_agrees_with_its_figures(self):
        _, found = calibrate(BASE, [run(shift_mean_rpm=7700.0, full_shift_rpm=7850.0, engagement_rpm=3900.0)])
        document = predicted(BASE, found, backshift=True)
        curve = np.array([point.rpm for point in document.curve])
        self.assertAlmostEqual(document.shift.mean_rpm, 7700, delta=0.2)
        self.assertAlmostEqual(document.shift.full_shift_rpm, 7850, delta=0.2)
        self.assertAlmostEqual(curve[8:39].mean(), 7700, delta=0.5)
        self.assertEqual(curve[-1], 7850)
        bare = predicted(found.applied(BASE), banded=False)
        moved = curve - np.array([point.rpm for point in bare.curve])
        np.testing.assert_allclose(np.diff(moved), np.diff(moved).mean(), atol=0.02)  # linear in travel
        self.assertAlmostEqual(document.engagement.touch_rpm - bare.engagement.touch_rpm,
                               document.engagement.bite_rpm - bare.engagement.bite_rpm, delta=0.11)  # fmt: skip
        both = (document, predicted(found.applied(BASE), backshift=True))
        one, other = (each.backshift.mean_rpm if each.backshift else 0.0 for each in both)
        self.assertAlmostEqual(one - other, document.shift.mean_rpm - bare.shift.mean_rpm, delta=0.3)
        (here,) = found.estimates([BASE], 41)
        band = document.band
        shown = (band.bite_rpm, band.mean_rpm, band.full_shift_rpm)
        np.testing.assert_allclose(shown, (here.engagement_sd, here.mean_sd, here.full_shift_sd), atol=0.06)
        np.testing.assert_allclose(band.curve_rpm, here.curve_sd, atol=0.06)
        anchors = [(1, "engagement_rpm", 3900), (1, "shift_mean_rpm", 7700), (1, "full_shift_rpm", 7850)]
        self.assertEqual([(each.run, each.figure, each.measured) for each in document.anchor], anchors)
        self.assertEqual(document.band.counts, "model")

    def test_a_figure_no_run_measured_stays_the_models(self):
        _, found = calibrate(BASE, [run(shift_mean_rpm=7700.0)])
        document = predicted(BASE, found)
        self.assertAlmostEqual(document.engagement.bite_rpm, found.estimates([BASE])[0].bare[ENGAGEMENT], delta=0.1)
        self.assertAlmostEqual(document.shift.mean_rpm, 7700, delta=0.2)


class Linear(unittest.TestCase):
    def test_posterior_is_that_of_least_squares_with_priors_as_data(self):
        # numpy.linalg.lstsq on the whitened rows and the priors' own, from whatever place one starts.
        rng = np.random.default_rng(8)
        effects, measured, root = rng.normal(size=(6, 3)), rng.normal(size=6), np.tril(rng.normal(size=(6, 6)))
        root += 3 * np.eye(6)
        rows = np.vstack([np.linalg.solve(root, effects), np.eye(3)])
        expected = np.linalg.lstsq(rows, np.concatenate([np.linalg.solve(root, measured), np.zeros(3)]))[0]
        for at in (np.zeros(3), np.array([1.0, -2.0, 0.5])):
            found, spread = posterior(effects, measured - effects @ at, root @ root.T, at)
            np.testing.assert_allclose(found, expected, atol=1e-12)
            np.testing.assert_allclose(spread, np.linalg.inv(rows.T @ rows), atol=1e-12)
        found, spread = posterior(np.zeros((0, 2)), np.zeros(0), np.zeros((0, 0)), np.array([0.3, -0.1]))
        np.testing.assert_allclose(found, 0, atol=1e-12)
        np.testing.assert_allclose(spread, np.eye(2))


class Shared(unittest.TestCase):
    """What runs share stays shared."""

    @settings(max_examples=150, deadline=None, derandomize=True)
    @given(st.integers(1, 5), st.integers(0, 9999))
    def test_more_measurements_never_widen_and_never_narrow_below_what_is_shared(self, count, seed):
        rng = np.random.default_rng(seed)
        effects = rng.normal(0, 40, (count + 1, 4))
        change = rng.normal(0, 200, (count + 1, 3))
        shared = 15**2 + effects @ effects.T + (change * [0.12, 0.35, 0.55]) @ (change * [0.12, 0.35, 0.55]).T
        covariance = shared + np.diag(rng.uniform(5, 100, count + 1) ** 2)
        few, more = (combined(np.zeros(size), covariance[:size, :size]) for size in (count, count + 1))
        self.assertLessEqual(more.variance, few.variance * (1 + 1e-9))
        self.assertGreaterEqual(more.variance, 15**2)
        self.assertAlmostEqual(more.weights.sum(), 1)

    def test_runs_of_one_set_up_never_narrow_the_next_change_below_what_they_share(self):
        for count in (1, 4, 40):
            _, found = calibrate(BASE, [run(shift_mean_rpm=7850.0)] * count)
            estimate = found.estimates([STEEPER])[0]
            here = found.estimates([BASE])[0]
            self.assertAlmostEqual(here.mean_sd, np.hypot(50 / count**0.5, 8), places=6)
            change = estimate.bare[MEAN] - here.bare[MEAN]
            self.assertGreater(estimate.mean_sd, np.hypot(8, np.hypot(0.15, 0.12) * change))

    def test_a_run_never_widens_what_others_said(self):
        runs = [run(shift_mean_rpm=7850.0), run(LIGHTER, shift_mean_rpm=8010.0), run(STEEPER, shift_mean_rpm=7700.0)]
        spreads = [calibrate(BASE, runs[:count])[1] for count in (1, 2, 3)]
        fixed = [replace(each, discrepancy=Discrepancy.of_the_study()) for each in spreads]
        widths = [each.estimates([LIGHTER])[0].mean_sd for each in fixed]
        self.assertEqual(widths, sorted(widths, reverse=True))


class Contradicting(unittest.TestCase):
    def test_a_run_the_others_do_not_bear_out_is_named(self):
        good = [run(**truth(BASE)), run(LIGHTER, **truth(LIGHTER)), run(**truth(BASE))]
        bad = run(LIGHTER, shift_mean_rpm=truth(LIGHTER)["shift_mean_rpm"] + 400)
        self.assertEqual(calibrated(BASE, good).contradicts, [])
        found = calibrated(BASE, [*good, bad]).contradicts
        self.assertIn((4, "shift_mean_rpm"), [(each.run, each.figure) for each in found])
        worst = next(each for each in found if each.run == 4)
        self.assertGreater(worst.z, 2.5)
        self.assertAlmostEqual(worst.expected, truth(LIGHTER)["shift_mean_rpm"], delta=40)

    def test_a_lone_run_contradicts_nothing(self):
        self.assertEqual(calibrated(BASE, [run(shift_mean_rpm=6500.0)]).contradicts, [])
