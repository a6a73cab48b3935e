"""Kits from a box and parts without numbers: what goes where, what a sheet begins with, what nobody knows of it."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.prediction import predicted
from jaxel.core.trade.setup.slots import changes, numbers
from jaxel.core.trade.shelf.part_sheet import cells_of, read_cells
from jaxel.core.trade.shelf.part_specs import KitSpec, UnmeasuredSpec, read_spec, spec_words
from jaxel.core.trade.shelf.shelf import StockPart, begins_with, check_whole, filled, options_of, slots_of, stock_of
from jaxel.core.trade.stranger.origins import origins
from jaxel.core.trade.stranger.packages import packages

SLED = packages()["sled-tower-600"].document
QUAD = packages()["quad-variator-500"].document


def part(number, kind, spec, **more):
    return StockPart(sum(map(ord, number)), number, kind, "", read_spec(kind, number, spec), **more)


STRIPE = part("KS-2", "primary spring", {"mark": "paint stripe, no numbers"}, pieces=1)
LETTER = part("ARM-F", "arm", {"mark": "stamped F"}, pieces=3)
ROLLERS = part("VR-17", "variator roller", {"base_mass_g": 17.0, "size": "20 × 15"})
HEAVY = part("VR-99", "variator roller", {"base_mass_g": 17.0})
SHEET = {
    "members": ["ARM-F", "KS-2", "B-7"],
    "sheet": "middle of the range",
    "starts": [{"key": "load_g.tip", "value": 2.5}],
    "omits": ["cover bushing"],
    "not_used": ["the six short bolts"],
    "decal": "on the guard, seen from the seat",
}
KIT = part("BX-1", "kit", SHEET, members=(LETTER, STRIPE), besides=("B-7, belt",))


class WithoutNumbers(unittest.TestCase):
    def test_its_figures_stay_and_nobody_knows_them(self):
        (option,) = options_of(SLED, "primary_spring", STRIPE)
        fitted = option.write(SLED)
        self.assertEqual(fitted.primary, SLED.primary)
        self.assertEqual(changes(SLED, fitted), [])
        self.assertEqual(origins(fitted)["primary_spring"], "unknown")
        self.assertEqual(origins(fitted)["arms"], origins(SLED)["arms"])
        self.assertEqual(option.words, "paint stripe, no numbers, not measured")

    def test_the_band_is_wider_than_of_a_spring_that_was_measured(self):
        known = {**SLED.evidence}
        for path in ("primary.spring.force_start_n", "primary.spring.force_finish_n"):
            known[path] = known[path].model_copy(update={"origin": "measured", "sd": 5.0})
        measured = SLED.model_copy(update={"evidence": known})
        before, after = (predicted(each).band for each in (measured, filled(measured, {"primary_spring": STRIPE})))
        self.assertGreater(after.bite_rpm, before.bite_rpm + 20)

    def test_a_set_up_taken_as_exact_stays_known_but_for_it(self):
        exact = SLED.model_copy(update={"evidence": None})
        fitted = filled(exact, {"primary_spring": STRIPE})
        self.assertEqual(fitted.evidence["primary.spring.force_start_n"].origin, "unknown")
        self.assertEqual(fitted.evidence["secondary.spring.force_start_n"].origin, "measured")

    def test_no_plan_is_made_with_it(self):
        self.assertIsNone(stock_of(SLED, [STRIPE, KIT], may=frozenset({"primary_spring", "arms"})))

    def test_it_is_entered_by_its_mark_alone(self):
        spec = read_spec("primary spring", "S", read_cells("primary spring", "S", {"mark": "yellow"}))
        self.assertIsInstance(spec, UnmeasuredSpec)
        self.assertEqual(spec_words("primary spring", spec), "yellow, not measured")
        with self.assertRaises(InvalidValue):
            read_spec("shim", "S", {"mark": "red"})
        with self.assertRaises(InvalidValue):
            read_spec("primary spring", "S", {"mark": "yellow", "force_start_n": 600.0})


class WhereItGoes(unittest.TestCase):
    def test_an_arm_goes_to_no_roller_s_slot_nor_a_roller_to_an_arm_s(self):
        self.assertEqual(slots_of(SLED, LETTER), ["arms"])
        self.assertEqual(slots_of(QUAD, LETTER), [])
        self.assertEqual(slots_of(QUAD, ROLLERS), ["arms"])
        self.assertEqual(slots_of(SLED, ROLLERS), [])
        self.assertEqual(stock_of(QUAD, [LETTER], may=frozenset({"arms"})), None)

    def test_a_size_not_known_is_asked_before_it_fits(self):
        def of_size(size):
            weights = QUAD.primary.weights.model_copy(update={"size": size})
            profile = QUAD.primary.profile.model_copy(update={"size": None})
            primary = QUAD.primary.model_copy(update={"weights": weights, "profile": profile})
            return QUAD.model_copy(update={"primary": primary})

        for size, roller, reason in (
            ("20 × 15", HEAVY, "of which size is it"),
            (None, ROLLERS, "of which size are the rollers that are in"),
            ("18 × 14", ROLLERS, "the pockets take 18 × 14, this is 20 × 15"),
        ):
            with self.subTest(reason=reason), self.assertRaisesRegex(InvalidValue, reason):
                options_of(of_size(size), "arms", roller)
        self.assertTrue(options_of(of_size("20 × 15"), "arms", ROLLERS))
        self.assertTrue(options_of(of_size(None), "arms", HEAVY))  # nothing is known of either: nothing contradicts

    def test_a_kit_with_a_part_for_another_clutch_is_refused_whole(self):
        with self.assertRaisesRegex(InvalidValue, "BX-1: ARM-F goes nowhere here: it is an arm"):
            check_whole(QUAD, KIT)
        check_whole(SLED, KIT)
        check_whole(SLED, KIT, Kinds("tower-and-button-primary", bare=True))
        with self.assertRaisesRegex(InvalidValue, "goes nowhere here"):
            check_whole(SLED, KIT, Kinds(None, "bolt-in-helix-secondary", bare=True))
        with self.assertRaisesRegex(InvalidValue, "brings nothing for a slot"):
            check_whole(SLED, part("BX-2", "kit", {"members": ["B-7"]}, besides=("B-7, belt",)))


class ForHalfAMachine(unittest.TestCase):
    def test_a_plan_for_a_bare_clutch_chooses_of_its_own_half(self):
        springs = [
            part("P-1", "primary spring", {"force_start_n": 600.0, "force_finish_n": 1200.0, "travel_mm": 30.0}),
            part("W-1", "washer", {"thickness_mm": 1.0}),
        ]
        whole = stock_of(SLED, springs, Kinds("tower-and-button-primary", "bolt-in-helix-secondary"))
        assert whole is not None
        self.assertTrue(whole.primary_springs)
        half = stock_of(SLED, springs, Kinds(None, "bolt-in-helix-secondary", bare=True))
        self.assertFalse(half.primary_springs if half else [])


class FromABox(unittest.TestCase):
    def test_its_sheet_is_told_and_asked(self):
        assert isinstance(KIT.spec, KitSpec)
        self.assertEqual(
            KIT.spec.notes("BX-1"),
            [
                "BX-1 begins with: middle of the range",
                "BX-1 does not bring: cover bushing",
                "Not to be used of BX-1: the six short bolts",
                "Decal of BX-1: on the guard, seen from the seat",
            ],
        )
        self.assertEqual([(key, sort) for key, sort, _ in KIT.spec.asks("BX-1")],
                         [("kit_not_used", "stop"), ("kit_decal", "back")])  # fmt: skip
        self.assertEqual(KitSpec(members=["A"]).asks("BX"), [])

    def test_it_begins_where_its_sheet_says(self):
        self.assertEqual(begins_with(SLED, KIT), {"load_g.tip": 2.5})
        self.assertIn("load_g.tip", numbers(SLED))
        other = part("BX-3", "kit", {**SHEET, "starts": [{"key": "clicker", "value": 3}]}, members=(LETTER,))
        with self.assertRaisesRegex(InvalidValue, "begins with clicker, which this clutch has not"):
            begins_with(SLED, other, Kinds("tower-and-button-primary"))

    def test_its_cells_are_read_as_they_are_written(self):
        cells = cells_of("kit", SHEET)
        self.assertEqual(cells["starts"], "load_g.tip:2.5")
        self.assertEqual(cells["not_used"], "the six short bolts")
        self.assertEqual(read_cells("kit", "BX-1", cells), SHEET)
        with self.assertRaises(InvalidValue) as caught:
            read_cells("kit", "BX-1", {**cells, "starts": "clicker 3"})
        self.assertEqual(caught.exception.field, "starts")
