"""The shelf: what a part is, which slots it fills and with how many pieces; sheets in and out; how long parts last."""

import csv
import io
import random
import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.slots import numbers, with_numbers
from jaxel.core.trade.shelf.lifetimes import Fitting, PartLife, lives_of, survival
from jaxel.core.trade.shelf.part_sheet import MOST_ROWS, cells_of, read_cells, read_sheet, write_sheet
from jaxel.core.trade.shelf.part_specs import GROUPS, figures_of_part, read_spec
from jaxel.core.trade.shelf.sheet_rows import SheetRow
from jaxel.core.trade.shelf.shelf import (
    StockPart,
    filled,
    narrowed,
    needed,
    options_of,
    part_named,
    slots_of,
    stock_of,
)
from jaxel.core.words import told as plain
from tests.examples import changed, example, read

SLED = read(example("mountain-sled"))
SIDE_BY_SIDE = read(example("farm-side-by-side"))
QUAD = read(example("quad"))


def part(number, kind, spec, **more):
    return StockPart(len(number), number, kind, "", read_spec(kind, number, spec), **more)


ARMS = part("A", "arm", {"base_mass_g": [57.0, 57.1, 56.9]}, price=62.0, pieces=6)
SPRING = part("PS", "primary spring", {"force_start_n": 600.0, "force_finish_n": 1390.0, "travel_mm": 30.0}, pieces=1)
MAGNET = part("MAG", "load", {"mass_g": 3.5}, pieces=9)
SPACER = part("SPCR", "limiter spacer", {"thickness_mm": 2.0}, pieces=1)
KIT = part("KIT-1", "kit", {"members": ["A", "PS"]}, pieces=1, price=140.0, members=(ARMS, SPRING))


class Specs(unittest.TestCase):
    def test_a_measured_spring_lies_on_its_line_and_tells_its_sag(self):
        # Hooke's law: 1,421 N at 32 mm and 668 N at 62 mm are 25.1 N/mm.
        spec = read_spec("primary spring", "S", {
            "points": [{"length_mm": 62.0, "force_n": 668.0}, {"length_mm": 32.0, "force_n": 1421.0}],
            "installed_length_mm": 62.0, "travel_mm": 30.0, "rated_start_n": 720.0,
        })  # fmt: skip
        found = figures_of_part("primary spring", spec)
        self.assertEqual(plain(found.words), "668 / 1,421 N")
        self.assertAlmostEqual(found.sag, (720 - 668) / 720, places=4)
        self.assertEqual(found.flag, "has lost 7.2 % of its rated force")
        self.assertEqual([(p.length_mm, p.force_n) for p in found.line], [(62.0, 668.0), (32.0, 1421.0)])

    def test_little_sag_is_said_and_not_flagged(self):
        spec = read_spec("primary spring", "S", {
            "points": [{"length_mm": 60.0, "force_n": 95.1}, {"length_mm": 30.0, "force_n": 200.0}],
            "installed_length_mm": 60.0, "travel_mm": 20.0, "rated_start_n": 100.0,
        })  # fmt: skip
        found = figures_of_part("primary spring", spec)
        self.assertAlmostEqual(found.sag, 0.049, places=4)
        self.assertEqual(found.flag, "")

    def test_a_set_is_within_a_fifth_of_a_gram(self):
        for masses, flag in (([57.0, 57.1, 57.2], ""), ([57.0, 57.1, 57.21], "out of balance by 0.21 g")):
            found = figures_of_part("arm", read_spec("arm", "A", {"base_mass_g": masses}))
            self.assertAlmostEqual(found.mean_g, sum(masses) / 3, places=3)
            self.assertTrue(found.flag.startswith(flag) and bool(found.flag) == bool(flag), found.flag)

    def test_words_of_every_group(self):
        for kind, spec, words in (
            ("variator roller", {"base_mass_g": 17.0, "size": "18x14"}, "17 g each, size 18x14"),
            ("load", {"mass_g": 0.5, "station": "tip"}, "0.5 g, for tip"),
            ("secondary spring", {"force_start_n": 800.0, "force_finish_n": 1300.0, "travel_mm": 30.0,
                                  "torsion_rate_nm_per_deg": 0.12}, "800 / 1,300 N, 0.12 N·m/deg"),
            ("helix", {"stamped": "48/44", "over_mm": 20.0}, "48° / 44°"),
            ("washer", {"thickness_mm": 1.5, "side": "primary"}, "1.5 mm, primary"),
            ("kit", {"members": ["A", "B"]}, "A + B"),
        ):  # fmt: skip
            with self.subTest(kind=kind):
                self.assertEqual(plain(figures_of_part(kind, read_spec(kind, "N", spec)).words), words)

    def test_what_is_no_spec_is_refused_by_its_field(self):
        for kind, spec, field in (
            ("button", {"mass_g": 1.0}, "kind"),
            ("arm", {"base_mass_g": 0.0}, "base_mass_g"),
            ("primary spring", {"force_start_n": 600.0, "force_finish_n": 500.0, "travel_mm": 30.0}, "force_finish_n"),
            ("helix", {}, "angles"),
            ("load", {"mass_g": 1.0, "pieces": 3}, "pieces"),
            ("shim", {"thickness_mm": float("nan")}, "thickness_mm"),
            ("kit", {"members": []}, "members"),
        ):
            with self.subTest(kind=kind), self.assertRaises(InvalidValue) as caught:
                read_spec(kind, "N", spec)
            self.assertEqual(caught.exception.field, field)


class Slots(unittest.TestCase):
    def test_a_part_fills_its_slot_whole(self):
        tried = filled(SLED, {"primary_spring": SPRING, "arms": ARMS})
        held = {key: number.value for key, number in numbers(tried).items()}
        self.assertEqual((held["primary_start_n"], held["primary_finish_n"]), (600.0, 1390.0))
        self.assertAlmostEqual(held["arm_mass_g"], 57.0)

    def test_a_load_goes_to_any_station_in_as_many_pieces_as_its_pocket_takes(self):
        self.assertEqual(slots_of(SIDE_BY_SIDE, MAGNET), ["load:pocket 1", "load:pocket 2", "load:pocket 3"])
        found = options_of(SIDE_BY_SIDE, "load:pocket 2", MAGNET)
        self.assertEqual([each.words for each in found], ["3.5 g", "2 × 3.5 g", "3 × 3.5 g"])
        two = found[1].write(SIDE_BY_SIDE)
        held = {key: number.value for key, number in numbers(two).items()}
        self.assertEqual((held["load_g.pocket 2"], held["load_pieces.pocket 2"]), (3.5, 2))
        self.assertEqual(needed(two, {"load:pocket 2": MAGNET}), {MAGNET.id: 6})  # two in each of three arms

    def test_a_set_takes_a_piece_for_every_arm_and_a_kit_is_one(self):
        self.assertEqual(needed(SLED, {"arms": ARMS, "primary_spring": SPRING}), {ARMS.id: 3, SPRING.id: 1})
        self.assertEqual(needed(SLED, {"arms": KIT, "primary_spring": KIT}), {KIT.id: 1})

    def test_what_does_not_go_there_says_so(self):
        roller = part("VR", "variator roller", {"base_mass_g": 17.0}, fits="roller-variator-primary")
        unequal = part("UN", "arm", {"base_mass_g": [48.1, 48.0, 46.9]})
        for document, slot, tried, on, reason in (
            (SLED, "arms", SPRING, Kinds(), "PS does not go there: it is a primary spring"),
            (SLED, "arms", roller, Kinds("tower-and-button-primary"), "VR is for another clutch: roller variator"),
            (SLED, "arms", unequal, Kinds(), "UN: the arms are unequal, 46.9 to 48.1 g"),
            (SLED, "helix", KIT, Kinds(), "KIT-1 brings nothing for this slot"),
            (QUAD, "arms", part("AR", "arm", {"base_mass_g": 50.0}), Kinds(), "AR does not go there: it is an arm"),
            (SLED, "arms", part("VR", "variator roller", {"base_mass_g": 17.0}), Kinds(), "it is a variator roller"),
        ):
            with self.subTest(reason=reason), self.assertRaisesRegex(InvalidValue, reason) as caught:
                options_of(document, slot, tried, on)
            self.assertEqual(caught.exception.field, "part")

    def test_a_stock_holds_what_fits_and_every_position(self):
        far = part("FAR", "arm", {"base_mass_g": 50.0}, fits="roller-variator-primary")
        gone = part("GONE", "primary spring", SPRING.in_stock().model_dump(include={"force_start_n", "force_finish_n",
                                                                                   "travel_mm"}), pieces=0)  # fmt: skip
        on = Kinds("loaded-arm-primary", "bolt-in-helix-secondary")
        found = stock_of(SIDE_BY_SIDE, [ARMS, SPRING, MAGNET, SPACER, KIT, far, gone], on)
        self.assertEqual([each.name for each in found.weights], ["A"])
        self.assertEqual([each.name for each in found.primary_springs], ["PS"])
        self.assertEqual(sorted(found.loads), ["pocket 1", "pocket 2", "pocket 3"])
        self.assertEqual(found.limiters_mm, [0.0, 2.0])
        self.assertEqual(len(found.hole_pairs), 5)
        self.assertEqual(
            [(kit.name, kit.price, kit.changes.weights.name) for kit in found.kits], [("KIT-1", 140.0, "A")]
        )
        only = stock_of(SIDE_BY_SIDE, [ARMS, SPRING, MAGNET, KIT], on, frozenset({"primary_spring"}))
        self.assertEqual((only.weights, only.kits, only.hole_pairs), ([], [], []))
        self.assertEqual(len(only.primary_springs), 1)
        self.assertIsNone(stock_of(SLED, [], on))

    def test_too_few_pieces_are_no_set(self):
        two = part("TWO", "arm", {"base_mass_g": 55.0}, pieces=2)
        self.assertIsNone(stock_of(SLED, [two], Kinds()))

    def test_too_many_combinations_leave_the_middle_of_the_arm_out(self):
        # What is fitted or one, two, three magnets in each of three pockets, by five hole pairs: 4³·5 = 320.
        on = Kinds("loaded-arm-primary", "bolt-in-helix-secondary")
        whole, nothing = narrowed(SIDE_BY_SIDE, [MAGNET], on, None, 320)
        self.assertEqual((len(whole.loads), nothing), (3, []))
        less, left_out = narrowed(SIDE_BY_SIDE, [MAGNET], on, None, 319)
        self.assertEqual((sorted(less.loads), left_out), (["pocket 1", "pocket 3"], ["load:pocket 2"]))
        least, left_out = narrowed(SIDE_BY_SIDE, [MAGNET], on, None, 1)
        self.assertEqual((least.loads, len(left_out), len(least.hole_pairs)), ({}, 3, 5))
        self.assertEqual(narrowed(SIDE_BY_SIDE, [], on, frozenset(), 10), (None, []))

    def test_a_nameless_answer_finds_its_part(self):
        parts = [ARMS, MAGNET, SPACER]
        self.assertIs(part_named(SIDE_BY_SIDE, parts, "load:pocket 1", "", {"load_g.pocket 1": 3.5}), MAGNET)
        self.assertIs(part_named(SIDE_BY_SIDE, parts, "limiter", "", {"limiter_mm": 2.0}), SPACER)
        self.assertIsNone(part_named(SIDE_BY_SIDE, parts, "load:pocket 1", "", {"load_g.pocket 1": 3.0}))
        self.assertIs(part_named(SIDE_BY_SIDE, parts, "arms", "A", {}), ARMS)


SHEET = """number;kind;make;pieces;price;force_start_lbf;force_finish_lbf;travel_in;base_mass_g;thickness_mm;angles
PS-1;primary spring;Brackholm;2;54;140;315;1 3/16;;;
A-1;arm;Brackholm;3;62;;;;57.0/57.1/56.9;;
W-1;washer;;10;0,4;;;;;1/16 in;
H-1;helix;;1;;;;;;;0:48; 20:44
"""


class Sheets(unittest.TestCase):
    def read(self, text):
        return read_sheet(text.encode(), [*GROUPS, "button"])

    def test_units_stand_in_the_header_or_the_cell(self):
        # Exact factors: 1 lbf = 4.4482216152605 N, 1 in = 25.4 mm (NIST SP 811).
        found = self.read(SHEET.replace("0:48; 20:44", '"0:48; 20:44"'))
        self.assertEqual(found.refused, [])
        spring, arms, washer, helix = found.rows
        self.assertAlmostEqual(spring.spec["force_start_n"], 140 * 4.4482216152605)
        self.assertAlmostEqual(spring.spec["travel_mm"], 1.1875 * 25.4)
        self.assertEqual((spring.of["pieces"], spring.of["price"]), (2, 54.0))
        self.assertEqual(arms.spec, {"base_mass_g": [57.0, 57.1, 56.9]})
        self.assertAlmostEqual(washer.spec["thickness_mm"], 1.5875)
        self.assertEqual(washer.of["price"], 0.4)
        self.assertEqual(helix.spec["angles"], [{"travel_mm": 0.0, "deg": 48.0}, {"travel_mm": 20.0, "deg": 44.0}])

    def test_a_bad_row_is_refused_with_its_line_and_reason_and_the_rest_is_read(self):
        found = self.read(
            "number,kind,pieces,base_mass_g,fits\n"
            "A-1,arm,3,57,\n"
            ",arm,3,57,\n"
            "A-2,steam valve,1,,\n"
            "A-3,arm,2.5,57,\n"
            "A-4,arm,3,heavy,\n"
            "A-1,arm,3,58,\n"
            "B-1,button,3,5,\n"
            "A-5,arm,3,57,steam engine\n"
            "A-6,arm,3\n"
        )
        self.assertEqual([row.number for row in found.rows], ["A-1"])
        self.assertEqual(
            [(row.line, row.column) for row in found.refused],
            [(3, "number"), (4, "kind"), (5, "pieces"), (6, "base_mass_g"), (7, "number"), (8, "base_mass_g"),
             (9, "fits"), (10, "")],
        )  # fmt: skip
        self.assertIn("“steam valve” is no kind of part", found.refused[1].reason)

    def test_a_sheet_that_is_none_is_refused_whole(self):
        rows = "number,kind\n" + "".join(f"N-{i},button\n" for i in range(MOST_ROWS + 1))
        for text, reason in (
            ("", "is empty"),
            ("number,kind\n", "has a header and no row"),
            ("number,colour\nA,red\n", "a column “colour” that is not known"),
            ("kind,pieces\nbutton,1\n", "no column “number”"),
            ("number,kind,number\nA,button,B\n", "“number” twice"),
            ("number,kind,force_start_kg\nA,button,1\n", "“kg” is no unit of it: force_start_n, .*force_start_lbf"),
            ('number,kind\n"A,button\n', "is no table at line"),
            (rows, "more than 5,000 rows"),
            ("number,kind\n" + "A" * 1_000_001, "larger than 1,000 kB"),
            ("number,kind\nA\0,button\n", "a zero byte"),
        ):
            with self.subTest(reason=reason), self.assertRaisesRegex(InvalidValue, reason) as caught:
                self.read(text)
            self.assertEqual(caught.exception.field, "sheet")
        with self.assertRaisesRegex(InvalidValue, "is no text"):
            read_sheet(b"\xff\xfenumber", ["button"])

    def test_out_and_in_again_is_the_same(self):
        rows = self.read(SHEET.replace("0:48; 20:44", '"0:48; 20:44"')).rows
        again = self.read(write_sheet(rows))
        self.assertEqual(again.refused, [])
        self.assertEqual([(r.number, r.kind, r.of, r.spec) for r in again.rows],
                         [(r.number, r.kind, r.of, r.spec) for r in rows])  # fmt: skip

    def test_no_cell_is_a_formula(self):
        text = write_sheet([SheetRow(0, "=1+2", "button", {"make": "@SUM(A1)", "supplier_note": "-cmd"}, None)])
        first, _, rest = text.partition("\n")
        self.assertEqual(first, "# jaxel-parts 1")
        (row,) = csv.DictReader(io.StringIO(rest))
        self.assertEqual((row["number"], row["make"], row["supplier_note"]), ("'=1+2", "'@SUM(A1)", "'-cmd"))
        self.assertEqual(self.read(text).rows[0].number, "=1+2")

    def test_nonsense_never_breaks_it(self):
        dice = random.Random(8)
        header = "number,kind,pieces,points,angles,base_mass_g,members,travel_in\n"
        for _ in range(200):
            cells = [
                "".join(dice.choice("0123456789.,:;/-=+\"' aé½\t") for _ in range(dice.randrange(12))) for _ in range(8)
            ]
            try:
                self.read(header + ",".join(cells) + "\n")
            except InvalidValue as error:
                self.assertEqual(error.field, "sheet")

    def test_cells_are_typed_and_read_back(self):
        for kind, cells in (
            ("primary spring", {"points": "62:668; 32:1421", "installed_length_mm": "62", "travel_mm": "30"}),
            ("helix", {"angles": "0:48; 20:44"}),
            ("kit", {"members": "A; PS", "sheet": "start here"}),
        ):
            told = cells_of(kind, read_cells(kind, "N", cells))
            self.assertEqual({name: cell for name, cell in told.items() if cell}, cells)
        with self.assertRaisesRegex(InvalidValue, "is not said of helix"):
            read_cells("helix", "N", {"mass_g": "3"})


class Lifetimes(unittest.TestCase):
    # Remission times of 21 leukaemia patients on 6-MP, weeks, + still in remission: E. A. Gehan, Biometrika 52 (1965)
    # 203, and the Kaplan–Meier estimate as in D. G. Kleinbaum, M. Klein, Survival Analysis, table 2.3 (from memory).
    ENDED = (6, 6, 6, 7, 10, 13, 16, 22, 23)
    RUNNING = (6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35)
    PUBLISHED = ((6, 0.857, 21), (7, 0.807, 17), (10, 0.753, 15), (13, 0.690, 12), (16, 0.627, 11), (22, 0.538, 7),
                 (23, 0.448, 6))  # fmt: skip

    def test_a_published_example(self):
        lives = [PartLife(t, True) for t in self.ENDED] + [PartLife(t, False) for t in self.RUNNING]
        found = survival(lives)
        self.assertEqual((found.lives, found.running, found.median), (21, 12, 23))
        steps = {step.use: step for step in found.steps}
        for use, share, at_risk in self.PUBLISHED:
            self.assertEqual((round(steps[use].share, 3), steps[use].at_risk), (share, at_risk))
            self.assertTrue(steps[use].low < steps[use].share < steps[use].high)
        self.assertEqual(round(found.share_at(12), 3), 0.753)
        self.assertIsNone(found.share_at(36))

    def test_greenwoods_interval_on_the_log_log_scale(self):
        # By hand at t = 10: S = 0.7529, Σ d/(n(n−d)) = 3/(21·18) + 1/(17·16) + 1/(15·14); θ = 1.96·√Σ/ln S.
        lives = [PartLife(t, True) for t in self.ENDED] + [PartLife(t, False) for t in self.RUNNING]
        step = next(each for each in survival(lives).steps if each.use == 10)
        self.assertAlmostEqual(step.low, 0.5032, places=3)
        self.assertAlmostEqual(step.high, 0.8894, places=3)

    def test_all_running_and_all_ended(self):
        running = survival([PartLife(100, False), PartLife(300, False)])
        self.assertEqual((running.median, running.share_at(300)), (None, 1.0))
        ended = survival([PartLife(100, True), PartLife(300, True)])
        self.assertEqual([step.share for step in ended.steps], [0.5, 0.0])
        for bad in ([], [PartLife(-1, True)]):
            with self.assertRaises(InvalidValue):
                survival(bad)

    def test_lives_are_told_from_what_was_put_in_and_taken_out(self):
        here, there = (1, "primary", "arm bushing"), (2, "primary", "arm bushing")
        events = [
            Fitting(here, "", "out", 500, None),  # came on the machine: nobody knows when its life began
            Fitting(here, "Brackholm", "in", 500, None),
            Fitting(here, "", "out", 3600, None),
            Fitting(here, "Ravnsete", "in", 3600, None),
            Fitting(there, "Brackholm", "in", None, 40.0),
        ]
        now = {1: (4000.0, None), 2: (None, 95.0)}
        self.assertEqual(
            lives_of(events, now, "km"), {"Brackholm": [PartLife(3100, True)], "Ravnsete": [PartLife(400, False)]}
        )
        self.assertEqual(lives_of(events, now, "h"), {"Brackholm": [PartLife(55, False)]})


class LoadPieces(unittest.TestCase):
    def test_pieces_and_their_mass_are_written_in_any_order(self):
        for order in (("load_g.pocket 1", "load_pieces.pocket 1"), ("load_pieces.pocket 1", "load_g.pocket 1")):
            values = {"load_g.pocket 1": 3.5, "load_pieces.pocket 1": 2.0}
            (load, *_) = with_numbers(SIDE_BY_SIDE, {key: values[key] for key in order}).primary.weights.loads
            self.assertEqual((load.mass_g, load.pieces, load.total_g), (3.5, 2, 7.0))
        with self.assertRaisesRegex(InvalidValue, "whole number"):
            with_numbers(SIDE_BY_SIDE, {"load_pieces.pocket 1": 1.5})
        with self.assertRaisesRegex(InvalidValue, "more than “pocket 1” takes: 3"):
            with_numbers(SIDE_BY_SIDE, {"load_pieces.pocket 1": 4})
        one = read(changed(example("farm-side-by-side"), "primary.profile.stations.0.pieces_max", 1))
        self.assertNotIn("load_pieces.pocket 1", numbers(one))
