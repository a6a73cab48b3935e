"""Slots and parts: read, typed, set and compared; which a clutch has comes from its kind."""

import unittest
from typing import get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.kinds.kinds import Kinds, Side, check_kind, kinds, kinds_for
from jaxel.core.trade.setup.slot import Depth
from jaxel.core.trade.setup.slots import changes, numbers, parts_of, slots, with_kept_numbers, with_numbers
from jaxel.core.units import IMPERIAL, METRIC
from jaxel.core.words import told as plain
from tests.examples import DEMO, PAGES, changed, example, read

SLED = example("mountain-sled")


def told(found, left):
    """Changes as (slot, label, found, left)."""
    return [(each.slot.name, plain(each.label), each.found, each.left) for each in changes(read(found), read(left))]


class Numbers(unittest.TestCase):
    def test_read_and_set_by_key(self):
        document = with_numbers(read(SLED), {"arm_mass_g": 59.5, "load_g.heel": 2, "helix_deg.0": 39, "shim_mm": 0.4})
        held = {key: number.value for key, number in numbers(document).items()}
        self.assertEqual([held[key] for key in ("arm_mass_g", "load_g.heel", "load_g.tip", "helix_deg.0", "shim_mm")],
                         [59.5, 2, 1.5, 39, 0.4])  # fmt: skip
        self.assertEqual({each.key: each.found for each in changes(read(SLED), document)},
                         {"arm_mass_g": 60, "load_g.heel": 0, "helix_deg.0": 45, "shim_mm": 0})  # fmt: skip

    def test_an_emptied_station_leaves_the_document(self):
        self.assertEqual(with_numbers(read(SLED), {"load_g.tip": 0}).primary.weights.loads, [])

    def test_refusals_name_the_number(self):
        for values, key, reason in (
            ({"arm_mass_g": -1}, "arm_mass_g", "above 0"),
            ({"helix_deg.0": 91}, "helix_deg.0", "below 90"),
            ({"primary_finish_n": 10}, "primary_finish_n", "starting force"),
            ({"load_g.elbow": 1}, "load_g.elbow", "not a slot"),
            ({"primary_travel_mm": 20}, "primary_travel_mm", "not a slot"),
            ({"clicker": 9}, "clicker", "at most 6"),
            ({"clicker": 2.5}, "clicker", "whole number"),
        ):
            with self.subTest(values), self.assertRaises(InvalidValue) as caught:
                with_numbers(read(SLED), values)
            self.assertEqual(caught.exception.field, key)
            self.assertRegex(caught.exception.reason, reason)

    def test_typed_at_a_bench(self):
        known = numbers(read(SLED))
        for key, text, value in (
            ("arm_mass_g", "60.0 / 60.1 / 59.9", 60), ("arm_mass_g", "60,0;60,1;59,9", 60),
            ("arm_mass_g", "60/60.1/59.9", 60), ("arm_mass_g", "60 60.1 59,9 g", 60),
            ("arm_mass_g", "2.1 oz", 59.533999), ("shim_mm", "1/32 in", 0.79375),
            ("primary_start_n", "150 lbf", 667.233242), ("helix_deg.0", "39 1/2°", 39.5),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(known[key].parse(text), value, places=4)
        for key, text, reason in (
            ("arm_mass_g", "60 / 61 / 60", "unequal"), ("arm_mass_g", "60 / 60", "all 3"), ("shim_mm", " ", "needs"),
            ("shim_mm", "thick", "not a number"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(InvalidValue) as caught:
                known[key].parse(text)
            self.assertEqual(caught.exception.field, key)
            self.assertRegex(caught.exception.reason, reason)

    def test_steps_and_depth(self):
        found = {slot.key: slot for slot in slots(read(example("adjustable-cam")))}
        self.assertEqual([found[key].step_words(METRIC) for key in ("arms", "primary_spring", "clicker")],
                         ["+1 g", "+50 N", "+1"])  # fmt: skip
        self.assertEqual([found[key].step_words(IMPERIAL) for key in ("primary_spring", "shim")],
                         ["+10 lbf", "+1/32 in"])  # fmt: skip
        # Common practice: clicker < weight screw < cover off < spider off; spring moved < spring out < helix out.
        self.assertLess(found["clicker"].depth, found["load:pin"].depth)
        self.assertLess(found["load:pin"].depth, found["primary_spring"].depth)
        self.assertLess(found["primary_spring"].depth, found["shim"].depth)
        self.assertLess(Depth.SPRING_MOVED, found["secondary_spring"].depth)
        self.assertLess(found["secondary_spring"].depth, found["helix"].depth)


class Changes(unittest.TestCase):
    def test_a_second_helix_angle_and_another_radius(self):
        two = changed(SLED, "secondary.helix.angles", [{"travel_mm": 0, "deg": 45}, {"travel_mm": 20, "deg": 37}])
        self.assertEqual(told(SLED, two), [("Helix", "at 20 mm", None, 37), ("Helix", "angle 2 at", None, 20)])
        self.assertEqual(told(two, SLED), [("Helix", "at 20 mm", 37, None), ("Helix", "angle 2 at", 20, None)])
        radius = SLED["secondary"]["helix"]["radius_mm"]
        other = changed(SLED, "secondary.helix.radius_mm", radius + 1)
        self.assertEqual(told(SLED, other), [("Helix", "radius", radius, radius + 1)])

    def test_another_spring_travel(self):
        travel = SLED["primary"]["spring"]["travel_mm"]
        self.assertEqual(told(SLED, changed(SLED, "primary.spring.travel_mm", travel + 2)),
                         [("Primary spring", "travel", travel, travel + 2)])  # fmt: skip

    def test_a_clicker_added_or_moved(self):
        with_clicker = changed(SLED, "primary.clicker", {"position": 4})
        self.assertEqual(told(SLED, with_clicker), [("Clicker", "of 6", None, 4)])
        moved = changed(SLED, "primary.clicker", {"position": 2})
        self.assertEqual(told(with_clicker, moved), [("Clicker", "of 6", 4, 2)])

    def test_arms_of_another_shape(self):
        other = changed(SLED, "primary.profile.cg_mm", 41)
        self.assertEqual(told(SLED, other), [("Arms", "another part", None, None)])
        self.assertEqual(told(SLED, SLED), [])

    def test_a_part_is_taken_whole(self):
        base = read(SLED)
        stiffer = with_numbers(base, {"primary_start_n": 640})
        finish = base.primary.spring.force_finish_n
        self.assertEqual(parts_of(base, stiffer), {"primary_start_n": 640, "primary_finish_n": finish})
        self.assertEqual(parts_of(base, base), {})
        self.assertEqual(parts_of(base, with_numbers(base, {"load_g.heel": 1})), {"load_g.heel": 1})
        # So the two ends stay together on a base whose spring has been changed meanwhile.
        other = with_numbers(base, {"primary_start_n": 700, "primary_finish_n": finish + 300})
        self.assertEqual(with_numbers(other, parts_of(base, stiffer)).primary.spring, stiffer.primary.spring)


class KindsOfClutch(unittest.TestCase):
    def names(self, name, primary=None, secondary=None):
        return [slot.key for slot in slots(read(example(name)), Kinds(primary, secondary))]

    def test_every_kind_of_the_table_is_there(self):
        self.assertEqual(
            set(kinds()),
            {
                "tower-and-button-primary", "shimmed-spider-primary", "loaded-arm-primary", "adjustable-cam-primary",
                "roller-variator-primary", "one-way-bearing-primary", "bolt-in-helix-secondary", "floating-secondary",
                "jackshaft-roller-secondary", "nut-retained-torque-spring-secondary", "light-torque-converter",
            },
        )  # fmt: skip
        for kind in kinds().values():
            self.assertTrue(kind.slots and kind.name)

    def test_slots_come_from_the_kind(self):
        weights, rest = (
            ["arms", "load:heel", "load:middle", "load:tip", "primary_spring"],
            ["helix", "secondary_spring"],
        )
        secondary = "bolt-in-helix-secondary"
        self.assertEqual(self.names("sled"), [*weights, "shim", *rest])
        self.assertEqual(self.names("sled", "tower-and-button-primary", secondary), weights + rest)
        self.assertEqual(self.names("sled", "shimmed-spider-primary", secondary), [*weights, "shim", *rest])
        self.assertEqual(self.names("sled", "adjustable-cam-primary", secondary), [*weights, "clicker", *rest])

    def test_what_a_setup_holds_is_never_hidden(self):
        document = read(changed(SLED, "primary.shim_mm", 0.5))
        shown = [slot.key for slot in slots(document, Kinds("tower-and-button-primary", "bolt-in-helix-secondary"))]
        self.assertIn("shim", shown)
        self.assertIn("load:tip", shown)

    def test_washers_and_a_limiter_are_shown_where_they_are_fitted(self):
        plain = read(SLED)
        self.assertFalse({"washer:primary", "limiter"} & {slot.key for slot in slots(plain)})
        washed = with_numbers(plain, {"washer_primary_mm": 1.5, "limiter_mm": 2.0, "washer_secondary_mm": 1.0})
        self.assertEqual(
            (washed.primary.washer_mm, washed.primary.limiter_mm, washed.secondary.washer_mm), (1.5, 2.0, 1.0)
        )
        here = {slot.key: slot.depth for slot in slots(washed)}
        self.assertEqual(here["washer:primary"], here["primary_spring"])
        self.assertEqual(here["washer:secondary"], here["secondary_spring"])
        self.assertEqual({change.key for change in changes(plain, washed)},
                         {"washer_primary_mm", "limiter_mm", "washer_secondary_mm"})  # fmt: skip

    def test_a_new_number_drops_the_old_ones_evidence(self):
        told = {"primary.spring.force_start_n": {"origin": "measured"}, "primary.weights.loads[0].mass_g": {
            "origin": "measured"}, "belt.top_width_mm": {"origin": "measured"}}  # fmt: skip
        known = read(changed(SLED, "evidence", told))
        other = with_numbers(known, {"primary_start_n": 700.0, "load_g.tip": 0})
        self.assertEqual(set(other.evidence), {"belt.top_width_mm"})
        self.assertEqual([load.station for load in other.primary.weights.loads],
                         [load.station for load in known.primary.weights.loads])  # fmt: skip

    def test_numbers_kept_are_those_checked_and_stand_where_the_set_up_cannot_work(self):
        told = {"primary.weights.base_mass_g": {"origin": "measured"}, "belt.top_width_mm": {"origin": "measured"}}
        values = {"arm_mass_g": 57.0, "helix_deg.0": 43.0}
        for document in (read(SLED), read(changed(SLED, "evidence", told))):
            self.assertEqual(with_kept_numbers(document, values), with_numbers(document, values))
            short = document.model_copy(
                update={"belt": document.belt.model_copy(update={"outer_circumference_mm": 400.0})}
            )
            self.assertRaises(InvalidValue, with_numbers, short, values)
            self.assertEqual(with_kept_numbers(short, values).primary, with_numbers(document, values).primary)

    def test_one_side_stated_leaves_the_other_as_it_was(self):
        self.assertEqual(self.names("sled", "tower-and-button-primary")[-2:], ["helix", "secondary_spring"])
        self.assertIn("shim", self.names("sled", None, "bolt-in-helix-secondary"))

    def test_a_clicker_that_was_not_described_can_be_set(self):
        document = with_numbers(read(example("sled")), {"clicker": 4})
        self.assertEqual((document.primary.clicker.position, document.primary.clicker.reference), (4, 3))

    def test_a_kind_that_does_not_fit_is_refused(self):
        sled, quad = read(example("sled")), read(example("quad"))
        cases: list[tuple[SetupDocument, str, Side, str]] = [
            (sled, "roller-variator-primary", "primary", "has rollers; this machine's set-up has arms"),
            (quad, "tower-and-button-primary", "primary", "has arms; this machine's set-up has rollers"),
            (sled, "floating-secondary", "primary", "is no primary clutch"),
            (sled, "loaded-arm-primary", "secondary", "is no secondary clutch"),
            (sled, "brass-clutch", "primary", "no kind of clutch"),
        ]
        for document, key, side, reason in cases:
            with self.subTest(key), self.assertRaisesRegex(InvalidValue, reason):
                check_kind("primary_kind", key, side, document)
        for name in (*PAGES, *DEMO):
            document = read(example(name))
            for side in get_args(Side):
                self.assertTrue(kinds_for(document, side))
                for kind in kinds_for(document, side):
                    check_kind("kind", kind.key, side, document)
