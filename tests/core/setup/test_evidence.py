"""How sure a set-up's numbers are: deviations by origin, propagation, and what to measure next."""

import unittest
from dataclasses import replace

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.evidence import inputs
from jaxel.core.trade.setup.figures import ENGAGEMENT, FIGURES, MEAN, figures_of
from jaxel.core.trade.setup.worth import effects_on, variances, worths
from tests.examples import changed, example, read


def known(name="sled", **evidence):
    """An example with an evidence block; a double underscore in a name stands for the dot of a path."""
    block = {path.replace("__", "."): each for path, each in evidence.items()}
    return read(changed(example(name), "evidence", block))


def deviation(document, path):
    return next(each.sd for each in inputs(document) if each.path == path)


class Deviations(unittest.TestCase):
    def test_a_stamped_mass_and_angle_are_nearer_than_a_printed_force(self):
        # From memory: arms and helixes are machined to 1 %, springs are wound to 3 %.
        stamped = {"origin": "stamped"}
        document = known(
            primary__weights__base_mass_g=stamped, secondary__helix__angles=stamped,
            primary__spring__force_start_n=stamped,
        )  # fmt: skip
        mass, start = document.primary.weights.base_mass_g, document.primary.spring.force_start_n
        self.assertAlmostEqual(deviation(document, "primary.weights.base_mass_g"), 0.01 * mass)
        self.assertAlmostEqual(deviation(document, "secondary.helix.angles"), 0.01)
        self.assertAlmostEqual(deviation(document, "primary.spring.force_start_n"), 0.03 * start)

    def test_by_origin(self):
        # Scale 0.1 g, caliper 0.05 mm, tester 1 %, stamped and manual 3 %, rider says 6 %: from memory.
        said = {"origin": "measured"}
        document = known(
            primary__weights__base_mass_g=said,
            belt__top_width_mm=said,
            primary__spring__force_start_n=said,
            primary__spring__force_finish_n={"origin": "stamped"},
            secondary__spring__force_start_n={"origin": "manual"},
            secondary__spring__force_finish_n={"origin": "rider says"},
        )
        spring, other = document.primary.spring, document.secondary.spring
        for path, expected in (
            ("primary.weights.base_mass_g", 0.1),
            ("belt.top_width_mm", 0.05),
            ("primary.spring.force_start_n", 0.01 * spring.force_start_n),
            ("primary.spring.force_finish_n", 0.03 * spring.force_finish_n),
            ("secondary.spring.force_start_n", 0.03 * other.force_start_n),
            ("secondary.spring.force_finish_n", 0.06 * other.force_finish_n),
            ("geometry.centre_distance_mm", 0.8),
        ):
            self.assertAlmostEqual(deviation(document, path), expected, msg=path)
        stated = known(primary__weights__base_mass_g={"origin": "fitted", "sd": 0.7})
        self.assertEqual(deviation(stated, "primary.weights.base_mass_g"), 0.7)

    def test_without_the_block_the_numbers_are_exact(self):
        self.assertEqual(
            [each.path for each in inputs(read(example("sled")))],
            [f"model.{name}" for name in
             ("gain_scale", "gain_tilt", "torque_scale", "seating_primary", "seating_secondary")],
        )  # fmt: skip
        self.assertGreater(len(inputs(known())), 30)

    def test_a_field_of_no_kind_counts_too(self):
        document = known(
            secondary__torque_share={"origin": "rider says"}, model__friction={"origin": "measured", "sd": 0.02}
        )
        self.assertAlmostEqual(deviation(document, "secondary.torque_share"), 0.06 * 0.5)
        self.assertEqual(deviation(document, "model.friction"), 0.02)
        self.assertEqual(deviation(known(model__gain_scale={"origin": "fitted", "sd": 0.01}), "model.gain_scale"), 0.01)

    def test_what_two_set_ups_hold_in_common_is_one(self):
        one = known(name="side-by-side")
        other = one.model_copy(update={"primary": one.primary.model_copy(
            update={"weights": one.primary.weights.model_copy(update={"base_mass_g": 47.0})})})  # fmt: skip
        keys = [{each.path: each.key for each in inputs(document)} for document in (one, other)]
        self.assertEqual(keys[0]["primary.profile.swing"], keys[1]["primary.profile.swing"])
        self.assertEqual(keys[0]["primary.spring.force_start_n"], keys[1]["primary.spring.force_start_n"])
        self.assertNotEqual(keys[0]["primary.weights.base_mass_g"], keys[1]["primary.weights.base_mass_g"])

    def test_bad_evidence_is_refused_by_its_path(self):
        for path, each, field in (
            ("belt.colour", {"origin": "measured"}, "evidence.belt.colour"),
            ("primary.weights.loads", {"origin": "measured"}, "evidence.primary.weights.loads"),
            ("engine.boost_compensated", {"origin": "manual"}, "evidence.engine.boost_compensated"),
            ("belt.top_width_mm", {"origin": "guessed"}, "evidence.belt.top_width_mm.origin"),
            ("belt.top_width_mm", {"origin": "measured", "sd": 0}, "evidence.belt.top_width_mm.sd"),
            ("belt.top_width_mm", {"origin": "measured", "sd": -1}, "evidence.belt.top_width_mm.sd"),
            ("belt.top_width_mm", {"origin": "fitted"}, "evidence.belt.top_width_mm.sd"),
        ):
            with self.subTest(path), self.assertRaises(InvalidValue) as refused:
                read(changed(example("sled"), "evidence", {path: each}))
            self.assertEqual(refused.exception.field, field)


class Propagation(unittest.TestCase):
    def test_first_order_agrees_with_monte_carlo(self):
        # JCGM 101: the same inputs drawn at random. Small deviations, where first order is exact.
        document = known("quad", **{path.replace(".", "__"): {"origin": "measured", "sd": sd} for path, sd in (
            ("primary.weights.base_mass_g", 0.15), ("primary.spring.force_start_n", 3.0),
            ("belt.top_width_mm", 0.05), ("secondary.spring.force_start_n", 4.0))})  # fmt: skip
        some = [each for each in inputs(document) if each.origin == "measured"]
        self.assertEqual(len(some), 4)
        _, (effects,) = effects_on([document], [some])
        rng = np.random.default_rng(5)
        drawn = []
        for draws in rng.normal(size=(1500, 4)):
            moved = document
            for each, draw in zip(some, draws, strict=True):
                moved = each.moved(moved, draw * each.sd)
            drawn.append(moved)
        values = figures_of(drawn).values
        for figure in (ENGAGEMENT, MEAN):
            # 1,500 draws know a standard deviation to 1.8 %.
            first_order = np.sqrt((effects.values[:, figure] ** 2).sum())
            self.assertAlmostEqual(first_order / values[:, figure].std(), 1, delta=0.07, msg=FIGURES[figure])

    def test_shares_are_of_the_whole(self):
        found = worths(known("side-by-side"))
        self.assertAlmostEqual(sum(each.engagement_share for each in found), 1)
        self.assertAlmostEqual(sum(each.shift_share for each in found), 1)
        ranks = [each.off_per_minute for each in found]
        self.assertEqual(ranks, sorted(ranks, reverse=True))

    def test_a_reading_takes_off_what_it_says(self):
        document = known()
        first = worths(document)[0]
        taken = known(**{first.input.path.replace(".", "__"): {"origin": "measured"}})
        before, after = (Calibration.none(each).estimates([each])[0] for each in (document, taken))
        self.assertAlmostEqual(before.engagement_sd - after.engagement_sd, first.engagement_off_rpm, delta=0.5)
        self.assertAlmostEqual(before.mean_sd - after.mean_sd, first.shift_off_rpm, delta=0.5)
        self.assertGreater(first.engagement_off_rpm, 1)

    def test_a_table_read_at_the_bench_has_the_noise_of_its_points(self):
        # Against drawn readings: every point of the swing off by 0.1° of its own, the spline through them.
        document = known(primary__profile__swing={"origin": "measured"})
        points = [each for each in inputs(document) if each.along]
        self.assertEqual((len(points), {each.sd for each in points}), (7, {0.1}))
        small = [replace(each, sd=0.01) for each in points]  # small, where first order is exact
        _, (effects,) = effects_on([document], [small])
        rng = np.random.default_rng(3)
        drawn = []
        for _ in range(1200):
            swing = [point.model_copy(update={"deg": point.deg + rng.normal(0, 0.01)})
                     for point in document.primary.profile.swing]  # fmt: skip
            drawn.append(with_value(document, "primary.profile.swing", swing))
        values = figures_of(drawn).values
        for figure in (ENGAGEMENT, MEAN):
            first_order = np.sqrt((effects.values[:, figure] ** 2).sum())
            self.assertAlmostEqual(first_order / values[:, figure].std(), 1, delta=0.08, msg=FIGURES[figure])
        # A tenth of a degree moves a sled's touch by hundreds of rpm; one row says so, and what would narrow it.
        (row,) = [each for each in worths(document) if each.input.along]
        self.assertEqual(row.input.name, "arms, swing along the roller: the reading of each point")
        before = Calibration.none(known()).estimates([known()])[0].engagement_sd
        after = Calibration.none(document).estimates([document])[0].engagement_sd
        self.assertTrue(200 < np.sqrt(after**2 - before**2) < 700, (before, after))
        self.assertGreater(row.engagement_off_rpm, 50)
        self.assertEqual(row.input.minutes, 25)

    def test_points_are_one_and_the_same_on_the_same_arms(self):
        one = known(primary__profile__swing={"origin": "measured"})
        heavier = with_value(one, "primary.weights.base_mass_g", one.primary.weights.base_mass_g + 2)
        other = with_value(one, "primary.profile.cg_mm", one.primary.profile.cg_mm + 1)
        keys = [{each.key for each in inputs(each_one) if each.along} for each_one in (one, heavier, other)]
        self.assertEqual(keys[0], keys[1])
        self.assertFalse(keys[0] & keys[2])  # another set of arms was read by itself

    def test_a_table_promises_what_its_reading_delivers_with_its_sign(self):
        for name, path in (("sled", "primary.profile.swing"), ("quad", "primary.profile.path")):
            document = known(name)
            row = next(each for each in worths(document) if each.input.path == path)
            taken = known(name, **{path.replace(".", "__"): {"origin": "measured"}})
            before, after = (variances(each).deviation() for each in (document, taken))
            self.assertAlmostEqual(row.engagement_off_rpm, before[0] - after[0], places=6)
            self.assertAlmostEqual(row.shift_off_rpm, before[1] - after[1], places=6)
        self.assertLess(next(each for each in worths(known()) if each.input.path == "primary.profile.swing")
                        .engagement_off_rpm, 0)  # it would make engagement less sure  # fmt: skip

    def test_what_comes_off_is_by_the_formula(self):
        # σ − √(σ² − share·(σ² − 8²)·(1 − (reading/sd)²)), σ with the 8 rpm that no reading takes off.
        document = known("side-by-side")
        (now,) = Calibration.none(document).estimates([document])
        for each in [each for each in worths(document) if each.input.value is not None][:6]:
            left = 1 - (each.input.reading / each.input.sd) ** 2
            for sd, share, off in ((now.engagement_sd, each.engagement_share, each.engagement_off_rpm),
                                   (now.mean_sd, each.shift_share, each.shift_off_rpm)):  # fmt: skip
                self.assertAlmostEqual(off, sd - np.sqrt(sd**2 - share * (sd**2 - 64) * left), places=6)
            self.assertAlmostEqual(
                each.off_per_minute, (each.engagement_off_rpm + each.shift_off_rpm) / each.input.minutes
            )

    def test_before_any_run_the_shift_is_known_to_some_300_rpm(self):
        # Priors of the five model parameters, from memory; about ±300 rpm before any run.
        (estimate,) = Calibration.none(read(example("sled"))).estimates([read(example("sled"))])
        self.assertTrue(250 < estimate.mean_sd < 380)
        (exact,) = [Calibration.none(known()).estimates([known()])[0]]
        self.assertGreater(exact.mean_sd, estimate.mean_sd)
