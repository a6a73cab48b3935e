"""Which parts at hand land in the window: against every combination worked out, and against other libraries."""

import json
import unittest
from itertools import product
from typing import Any

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scipy.stats import multivariate_normal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.plan.stock import read_stock
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.formats.setup.primary import Load
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.run.fit import calibrate
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.figures import ENGAGEMENT, MEAN, figures_of
from jaxel.core.trade.setup.parts import with_load
from jaxel.core.trade.setup.prediction import predicted
from jaxel.core.trade.shelf.planner import plan
from jaxel.core.trade.shelf.stock import options
from jaxel.core.trade.shelf.window import inside_both
from jaxel.core.units import RPM
from tests.examples import changed, example, read

SLED = example("mountain-sled")
HIGH = read(changed(SLED, "conditions.elevation_m", 1800))
WINDOWS = (
    (HIGH.target.engagement_rpm, HIGH.target.engagement_tolerance_rpm),
    (HIGH.target.shift_rpm, HIGH.target.shift_tolerance_rpm),
)
MEASURED = calibrate(HIGH, [RunPart(engagement_rpm=3960.0, shift_mean_rpm=7640.0)])[1]


def stock(**groups):
    return read_stock(json.dumps({"format": "jaxel-stock", "version": 1} | groups).encode())


def weights(*masses, **more):
    return [{"name": f"arms {mass}", "base_mass_g": mass} | more for mass in masses]


def spring(start, finish, **more):
    return {"name": f"spring {start}", "force_start_n": start, "force_finish_n": finish,
            "travel_mm": SLED["primary"]["spring"]["travel_mm"]} | more  # fmt: skip


class AgainstEveryCombination(unittest.TestCase):
    """A stock small enough to work out whole."""

    def setUp(self):
        self.stock = stock(
            weights=weights(56.0, 58.0),
            loads={"tip": [0, 2.5], "heel": [2.0]},
            primary_springs=[spring(640.0, 1390.0), spring(590.0, 1400.0)],
            helixes=[{"name": "43", "angles": [{"travel_mm": 0, "deg": 43}]}],
            secondary_springs=[{"name": "stiff", "force_start_n": 880, "force_finish_n": 1380, "travel_mm": 32}],
        )

    def every(self):
        """Every set-up and how many parts it changes."""
        slots = options(HIGH, self.stock)
        for chosen in product(*slots.values()):
            setup = HIGH
            for option in chosen:
                setup = option.write(setup)
            yield setup, sum(option is not axis[0] for option, axis in zip(chosen, slots.values(), strict=True))

    def test_the_best_is_found_and_its_figures_are_the_exact_solvers(self):
        every = list(self.every())
        self.assertEqual(len(every), 3 * 3 * 2 * 3 * 2 * 2)
        found = plan(HIGH, self.stock, MEASURED, top=5)
        self.assertEqual(found.combinations, len(every))
        setups = [setup for setup, parts in every if parts]
        estimates = MEASURED.estimates(setups)
        grips = [predict(MEASURED.applied(setup).core(), 21).shift.least_grip for setup in setups]
        likely = max(
            float(inside_both(
                each.engagement, each.engagement_sd, each.mean, each.mean_sd, each.correlation,
                *WINDOWS,
            )) for each, grip in zip(estimates, grips, strict=True) if grip >= 1.1
        )  # fmt: skip
        best = max(each.probability for each in found.answers)
        self.assertAlmostEqual(best, likely, delta=0.05)  # compared to the nearest twentieth
        self.assertTrue(found.answers[0].inside)
        for answer in found.answers:
            setup = self.written(answer)
            exact = predicted(setup, MEASURED)
            self.assertAlmostEqual(answer.engagement_rpm, exact.engagement.bite_rpm, delta=1)
            self.assertAlmostEqual(answer.shift_mean_rpm, exact.shift.mean_rpm, delta=1)
            self.assertAlmostEqual(answer.full_shift_rpm, exact.shift.full_shift_rpm, delta=1)
            self.assertAlmostEqual(answer.shift_sd_rpm, exact.band.mean_rpm, delta=0.2)
            self.assertAlmostEqual(answer.engagement_sd_rpm, exact.band.bite_rpm, delta=0.2)

    def written(self, answer):
        slots = options(HIGH, self.stock)
        setup = HIGH
        for change in answer.changes:
            setup = next(each for each in slots[change.slot] if each.words == change.to).write(setup)
        return setup

    def test_shares_add_up_to_the_change(self):
        for answer in plan(HIGH, self.stock, MEASURED).answers:
            setup = self.written(answer)
            (told,) = MEASURED.changes(HIGH, [setup])
            for figure, name in ((ENGAGEMENT, "engagement_rpm"), (MEAN, "shift_mean_rpm")):
                total = sum(getattr(change, name) for change in answer.changes)
                self.assertAlmostEqual(total, told[figure], delta=0.3)

    def test_order_of_rank(self):
        found = plan(HIGH, self.stock, MEASURED, top=12).answers
        rest = found[1:] if len(found[0].changes) == 1 else found
        keys = [(-round(each.merit / 0.05), len(each.changes), each.depth) for each in rest]
        self.assertEqual(keys, sorted(keys))


class Ranking(unittest.TestCase):
    def test_probability_is_scipys(self):
        # scipy.stats.multivariate_normal, its rectangle by numerical integration.
        rng = np.random.default_rng(4)
        for _ in range(40):
            mean, sd, tolerance = rng.normal(0, 150, 2), rng.uniform(20, 300, 2), rng.uniform(50, 200, 2)
            correlation = rng.uniform(-0.98, 0.98)
            off = correlation * sd[0] * sd[1]
            normal = multivariate_normal(mean, [[sd[0] ** 2, off], [off, sd[1] ** 2]])
            expected = normal.cdf([tolerance[0], 30 + tolerance[1]], lower_limit=[-tolerance[0], 30 - tolerance[1]])
            found = inside_both(mean[0], sd[0], mean[1], sd[1], correlation, (0, tolerance[0]), (30, tolerance[1]))
            self.assertAlmostEqual(float(found), float(expected), places=5)

    def test_a_single_change_stands_first_when_nearly_as_likely(self):
        # Two grams off alone, or the same with a spring that brings the engagement a little nearer its middle.
        (now,) = MEASURED.estimates([HIGH])
        lighter = next(
            mass for mass in np.arange(59.0, 50.0, -0.25)
            if MEASURED.estimates([with_value(HIGH, "primary.weights.base_mass_g", mass)])[0].mean >= 7845
        )  # fmt: skip
        found = plan(HIGH, stock(weights=weights(lighter), primary_springs=[spring(605.0, 1380.0)]), MEASURED)
        self.assertEqual([change.slot for change in found.answers[0].changes], ["arms"])
        self.assertLess(now.mean, found.answers[0].shift_mean_rpm)
        self.assertLess(max(each.probability for each in found.answers) - found.answers[0].probability, 0.1)

    def test_one_that_slips_is_dropped_and_one_near_slipping_is_said(self):
        soft = [{"name": f"soft {start}", "force_start_n": start, "force_finish_n": start + 300, "travel_mm": 32}
                for start in (60, 420, 700)]  # fmt: skip
        found = plan(HIGH, stock(secondary_springs=soft), MEASURED, top=9)
        grips = {each.changes[0].part: each.least_grip for each in found.answers}
        exact = {
            part["name"]: predict(MEASURED.applied(with_value(with_value(
                HIGH, "secondary.spring.force_start_n", float(part["force_start_n"])),
                "secondary.spring.force_finish_n", float(part["force_finish_n"]))).core()).shift.least_grip
            for part in soft
        }  # fmt: skip
        self.assertEqual(set(grips), {name for name, grip in exact.items() if grip >= 1})
        self.assertLess(len(grips), 3)
        for answer in found.answers:
            self.assertEqual("near slipping" in answer.why, answer.least_grip < 1.1)

    def test_a_blemish_is_said_and_takes_fifteen_hundredths(self):
        tight = read(changed(SLED, "target.spread_rpm", 20))
        found = plan(tight, stock(weights=weights(59.0, 61.0))).answers
        now = predict(tight.core()).shift.spread / RPM
        self.assertEqual({each.spread_rpm > now for each in found}, {True, False})
        for each in found:
            crooked, slips = each.spread_rpm > now, each.least_grip < 1.1
            self.assertGreater(each.spread_rpm, 20)
            self.assertEqual("more than the 20 asked" in each.why, crooked)
            self.assertAlmostEqual(each.merit, each.probability - 0.15 * (crooked + slips), places=3)
        self.assertEqual(tight.target.straightness_rpm, 20)
        self.assertEqual(HIGH.target.straightness_rpm, 4 * HIGH.target.shift_tolerance_rpm)

    def test_cost_and_minutes_are_of_what_is_changed(self):
        parts = stock(weights=weights(57.0, price=30.0, pieces=3),
                      loads={"tip": [{"mass_g": 0.5, "price": 2.0, "minutes": 10}]})  # fmt: skip
        by_slots = {tuple(change.slot for change in each.changes): each for each in plan(HIGH, parts, top=9).answers}
        self.assertEqual(by_slots["arms",].price, 90)
        self.assertEqual(by_slots["load:tip",].price, 6)
        self.assertEqual(by_slots["load:tip",].minutes, 10)
        self.assertEqual(by_slots["arms", "load:tip"].minutes, by_slots["arms",].minutes + 10)
        self.assertEqual([by_slots["load:tip",].teardown, by_slots["arms",].teardown], ["weight screw", "cover off"])


class Parts(unittest.TestCase):
    def one(self, document, **groups):
        (answer,) = plan(document, stock(**groups)).answers
        return answer

    def test_a_washer_preloads_by_thickness_times_rate(self):
        held = HIGH.primary.spring
        rate = (held.force_finish_n - held.force_start_n) / held.travel_mm
        stiffer = with_value(with_value(HIGH, "primary.spring.force_start_n", held.force_start_n + 2 * rate),
                             "primary.spring.force_finish_n", held.force_finish_n + 2 * rate)  # fmt: skip
        washed = with_value(HIGH, "primary.washer_mm", 2.0)
        one, other = figures_of([stiffer, washed]).values
        np.testing.assert_allclose(one, other, rtol=1e-9)
        found = plan(HIGH, stock(washers_mm=[2.0]), top=9)
        slots = {tuple(change.slot for change in each.changes) for each in found.answers}
        self.assertEqual(slots, {("washer:primary",), ("washer:secondary",), ("washer:primary", "washer:secondary")})

    def test_a_limiter_ends_the_shift_early(self):
        answer = self.one(HIGH, limiters_mm=[3.0])
        exact = predict(with_value(HIGH, "primary.limiter_mm", 3.0).core()).shift
        self.assertAlmostEqual(answer.full_shift_rpm, exact.full_shift / RPM, delta=1)

    def test_pieces_fill_a_pocket_up_to_its_room(self):
        roomy = changed(SLED, "primary.profile.stations", [
            station | {"pieces_max": 3} for station in SLED["primary"]["profile"]["stations"]])  # fmt: skip
        here = read(roomy)
        found = options(here, stock(loads={"tip": [2.0]}))["load:tip"]
        self.assertEqual([each.words for each in found[1:]], ["2 g", "2 × 2 g", "3 × 2 g"])
        few = options(here, stock(loads={"tip": [{"mass_g": 2.0, "pieces": 6}]}))["load:tip"]
        self.assertEqual([each.words for each in few[1:]], ["2 g", "2 × 2 g"])  # three arms take six
        two, four = found[2].write(here), with_load(here, "tip", Load(station="tip", mass_g=4.0))
        np.testing.assert_allclose(*figures_of([two, four]).values)

    def test_a_clicker_and_a_hole_pair(self):
        cam = read(example("adjustable-cam"))
        there = with_value(cam, "primary.clicker", cam.primary.clicker.model_copy(update={"position": 5}))
        answer = self.one(cam, clicker=[5])
        self.assertAlmostEqual(answer.shift_mean_rpm, figures_of([there], 41).values[0, MEAN], delta=1)
        self.assertEqual((answer.changes[0].from_, answer.changes[0].to), (str(cam.primary.clicker.position), "5"))
        converter = read(example("torque-converter"))
        pairs = [row.model_dump(include={"sheave", "helix"}) for row in converter.secondary.holes.table]
        self.assertEqual(plan(converter, stock(hole_pairs=pairs)).combinations, len(pairs))

    def test_the_likeliest_of_many_clicks_and_masses_is_found(self):
        # More than are worked out exactly: the screen must tell them apart by itself.
        clicked = changed(example("adjustable-cam"), "primary.clicker.position", 5)
        cam = read(changed(clicked, "conditions", {"elevation_m": 900, "temperature_c": -5}))
        masses = [cam.primary.weights.base_mass_g + 2 * by for by in range(-4, 5)]
        best = 0.0
        for mass in masses:
            for position in range(1, 7):
                clicker = cam.primary.clicker.model_copy(update={"position": position})
                setup = with_value(with_value(cam, "primary.weights.base_mass_g", mass), "primary.clicker", clicker)
                (here,) = Calibration.none(setup).estimates([setup])
                windows = ((cam.target.engagement_rpm, cam.target.engagement_tolerance_rpm),
                           (cam.target.shift_rpm, cam.target.shift_tolerance_rpm))  # fmt: skip
                likely = inside_both(
                    here.engagement, here.engagement_sd, here.mean, here.mean_sd, here.correlation, *windows
                )
                best = max(best, float(likely))
        found = plan(cam, stock(clicker=list(range(1, 7)), weights=weights(*masses[:4], *masses[5:])), top=2)
        self.assertEqual(found.combinations, 6 * 9)
        self.assertGreater(max(each.probability for each in found.answers), best - 0.05)
        self.assertGreater(best, 0.08)

    def test_a_helix_that_would_lock_stops_no_other(self):
        rough = read(changed(SLED, "model", {"helix_friction": 0.12}))
        found = plan(rough, stock(helixes=[{"name": name, "stamped": name} for name in ("5", "43")]))
        self.assertEqual(found.combinations, 3)
        self.assertEqual([each.changes[0].part for each in found.answers], ["43"])

    def test_a_kit_is_one_record_with_its_members_shares(self):
        kit = {"name": "hill kit", "price": 210, "changes": {
            "weights": {"name": "kit arms", "base_mass_g": 57}, "primary_spring": spring(650.0, 1400.0),
            "helix": {"name": "44", "stamped": "44"}}}  # fmt: skip
        found = plan(HIGH, stock(kits=[kit]), MEASURED)
        (answer,) = found.answers
        self.assertEqual((answer.kit, answer.price, found.combinations), ("hill kit", 210, 2))
        self.assertEqual([change.slot for change in answer.changes], ["arms", "primary_spring", "helix"])
        setup = HIGH
        for path, value in (
            ("primary.weights.base_mass_g", 57.0),
            ("primary.spring.force_start_n", 650.0),
            ("primary.spring.force_finish_n", 1400.0),
            ("secondary.helix.angles[0].deg", 44.0),
        ):
            setup = with_value(setup, path, value)
        (change,) = MEASURED.changes(HIGH, [setup])
        self.assertAlmostEqual(sum(each.shift_mean_rpm for each in answer.changes), change[MEAN], delta=0.3)
        self.assertLess(answer.changes[2].shift_mean_rpm * (44 - HIGH.secondary.helix.angles[0].deg), 0)

    def test_a_kit_that_is_not_whole_is_not_at_hand(self):
        lone = {"name": "kit", "changes": {"weights": {"name": "arms", "base_mass_g": 57},
                                           "primary_spring": spring(650.0, 1400.0, pieces=0)}}  # fmt: skip
        found = plan(HIGH, stock(kits=[lone]))
        self.assertEqual((found.answers, found.combinations), ([], 1))
        self.assertEqual(plan(HIGH, stock(kits=[lone | {"pieces": 0}])).combinations, 1)

    def test_a_part_from_the_shelf_brings_its_own_evidence(self):
        known = read(changed(SLED, "evidence", {"primary.weights.base_mass_g": {"origin": "measured"},
                                                "primary.spring.force_start_n": {"origin": "measured"}}))  # fmt: skip
        found = options(
            known,
            stock(
                weights=[{"name": "weighed", "base_mass_g": [58.0, 58.1, 58.0]}],
                primary_springs=[spring(640.0, 1390.0), spring(620.0, 1390.0, origin="typical")],
            ),
        )
        origins = [
            each.write(known).evidence["primary.spring.force_start_n"].origin for each in found["primary_spring"]
        ]
        self.assertEqual(origins, ["measured", "stamped", "typical"])
        weighed = found["arms"][1].write(known)
        self.assertEqual(weighed.evidence["primary.weights.base_mass_g"].origin, "measured")
        self.assertAlmostEqual(weighed.primary.weights.base_mass_g, 58.03)


class Refused(unittest.TestCase):
    def refused(self, field, document=HIGH, **groups):
        with self.assertRaises(InvalidValue) as refusal:
            plan(document, stock(**groups))
        self.assertEqual(refusal.exception.field, field)

    def test_parts_that_do_not_fit(self):
        quad, cam = read(example("quad")), read(example("adjustable-cam"))
        sized = read(
            changed(changed(example("quad"), "primary.profile.size", "18x14"), "primary.weights.size", "18x14")
        )
        self.refused("weights[0].size", sized, weights=weights(16.0, size="20x15"))
        self.refused("weights[0].cg_mm", quad, weights=weights(16.0, cg_mm=40))
        self.refused("loads.toe[0]", loads={"toe": [1.0]})
        self.refused("loads.heel[0]", quad, loads={"heel": [1.0]})
        self.refused("clicker[0]", clicker=[3])
        self.refused("clicker[1]", cam, clicker=[3, 9])
        self.refused("hole_pairs[0]", hole_pairs=[{"sheave": "A", "helix": "1"}])
        self.refused("hole_pairs[0]", read(example("torque-converter")), hole_pairs=[{"sheave": "Z", "helix": "9"}])
        wound = {"name": "wound", "force_start_n": 500, "force_finish_n": 900, "travel_mm": 30}
        self.refused("secondary_springs[0].pretwist_deg", secondary_springs=[wound | {"torsion_rate_nm_per_deg": 0.4}])
        self.refused("secondary_springs[0].torsion_rate_nm_per_deg", read(example("torque-converter")),
                     secondary_springs=[wound])  # fmt: skip
        self.refused("kits[0].changes.clicker", kits=[{"name": "kit", "changes": {"clicker": 2}}])

    def test_unequal_arms_are_an_error(self):
        self.refused("weights[0].base_mass_g", weights=[{"name": "mixed", "base_mass_g": [58.0, 58.1, 59.0]}])
        self.refused("weights[0].base_mass_g", weights=[{"name": "pair", "base_mass_g": [58.0, 58.1]}])
        self.refused("weights[0].pieces", weights=weights(58.0, pieces=2))

    def test_an_empty_stock(self):
        empty: list[dict[str, Any]] = [{}, {"weights": []}, {"loads": {"tip": []}}]
        for groups in empty:
            with self.assertRaisesRegex(InvalidValue, "nothing to choose from"):
                stock(**groups)

    def test_an_impossible_window(self):
        for target, field in (
            (..., "target"),
            (SLED["target"] | {"engagement_rpm": 8000}, "target.engagement_rpm"),
            (SLED["target"] | {"shift_rpm": 9500}, "target.shift_rpm"),
        ):
            self.refused(field, read(changed(SLED, "target", target)), weights=weights(58.0))

    def test_more_combinations_than_are_looked_at(self):
        many = [spring(500.0 + i, 1300.0 + i) for i in range(190)]
        self.refused("stock", weights=weights(*(50.0 + i / 16 for i in range(190))), primary_springs=many,
                     shims_mm=[0.1 * i for i in range(1, 9)])  # fmt: skip


class AnyStock(unittest.TestCase):
    @settings(max_examples=15, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
    @given(
        st.sampled_from(["sled", "side-by-side", "quad", "adjustable-cam", "torque-converter"]),
        st.lists(st.floats(0.2, 3), max_size=3),
        st.lists(st.tuples(st.floats(0.05, 3), st.floats(1, 3)), max_size=2),
        st.lists(st.floats(10, 85), max_size=2),
        st.lists(st.floats(0, 20), max_size=1),
        st.booleans(),
    )
    def test_gives_probabilities_or_a_reason(self, name, masses, springs, angles, washers, evidence):
        document = read(changed(example(name), "evidence", {} if evidence else None))
        start = document.primary.spring.force_start_n
        groups = {
            "weights": [{"name": "w", "base_mass_g": document.primary.weights.base_mass_g * by} for by in masses],
            "primary_springs": [spring(start * by, start * by * more) for by, more in springs],
            "helixes": [{"name": "h", "angles": [{"travel_mm": 0, "deg": angle}]} for angle in angles],
            "washers_mm": washers, "limiters_mm": [1.0],
        }  # fmt: skip
        try:
            found = plan(document, stock(**groups))
        except InvalidValue as refusal:
            self.assertTrue(refusal.field)
            return
        for answer in found.answers:
            self.assertTrue(0 <= answer.probability <= 1)
            self.assertGreater(answer.engagement_sd_rpm, 0)
            self.assertGreaterEqual(answer.least_grip, 1)
        self.assertNotRegex(found.model_dump_json(), "NaN|Infinity")

    @settings(max_examples=12, deadline=None, derandomize=True)
    @given(st.lists(st.tuples(st.floats(1500, 6000), st.floats(5000, 9500), st.floats(1, 500)), min_size=1, max_size=4))
    def test_any_runs_leave_a_positive_variance(self, runs):
        made = [RunPart(engagement_rpm=bite, shift_mean_rpm=mean, sd={"shift_mean_rpm": sd}) for bite, mean, sd in runs]
        _, found = calibrate(HIGH, made)
        for each in (found, Calibration.none(HIGH)):
            (estimate,) = each.estimates([with_value(HIGH, "primary.weights.base_mass_g", 57.0)])
            self.assertTrue(np.isfinite([estimate.engagement, estimate.mean, estimate.full_shift]).all())
            self.assertGreater(min(estimate.engagement_sd, estimate.mean_sd, estimate.full_shift_sd), 0)
            self.assertTrue(-1 < estimate.correlation < 1)
        self.assertGreaterEqual(np.linalg.eigvalsh(found.covariance).min(), 0)
