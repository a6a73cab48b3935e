"""The belt that goes on: what it brings, what is asked of it, and that it went on as it should, in every scope."""

from jaxel.core.errors import Implausible
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.visit.stations import open_items
from jaxel.core.words import told as plain
from jaxel.store.belt import belts
from jaxel.store.edits import Edit
from jaxel.store.line_up import line_up
from jaxel.store.machine import machines
from jaxel.store.run import road_tests
from jaxel.store.visit import hand_over, intake, pages, visits
from tests.store.cases.store_case import StoreCase

SAID = {"next_is": "new", "next_number": "B-7", "went_on": "by its arrow", "risen": True}


class GoingOn(StoreCase):
    def setUp(self):
        super().setUp()
        intake.set_scope(self.db, self.visit, Edit("tune", "belt"))
        self.note(odometer_km=900, complaint="slow")

    def waits(self):
        return [each.field for each in open_items(self.held().record()) if each.station == "belt"]

    def page(self, row):
        return [line.words for each in pages.page(self.db, self.held()).rows if each.key == row for line in each.lines]

    def measured(self):
        for place in (1, 2, 3):
            self.measure(place, 36.0)

    def test_which_belt_goes_on_is_decided_before_how_it_went_on_is_asked(self):
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.assertEqual(self.waits(), ["decision"])
        self.decide(decision="run on")
        self.assertEqual(self.waits(), ["went_on", "risen"])

    def test_a_spare_brings_its_own_length_width_number_and_history(self):
        long = self.held().left.belt.outer_circumference_mm + 6
        spare = belts.put_on_shelf(self.db, self.machine, 36.2, make_number="LONG-1")
        belts.change(self.db, spare, {"length_mm": Edit(None, long)})
        self.decide(decision="discard", next_belt_id=spare)
        held = self.held()
        self.assertEqual((held.as_left().belt.outer_circumference_mm, held.left_width_mm), (long, 36.2))
        ours, short = (predict(each.core()).low_ratio for each in (held.as_left(), held.as_found()))
        self.assertNotAlmostEqual(ours, short, places=2)
        self.decide(went_on="by its arrow", risen=True, reason="cracked")
        self.sign()
        self.visit = visits.open_visit(self.db, self.machine, scope="belt")
        held = self.held()
        self.assertEqual(held.fitted_belt.make_number, "LONG-1")
        self.assertEqual(held.as_found().belt.outer_circumference_mm, long)

    def test_a_new_one_is_asked_for_its_number_and_its_width_or_what_its_number_says(self):
        self.decide(decision="discard", reason="cracked")
        self.assertEqual(self.waits(), ["next_is", "next_number", "next_width_mm", "went_on", "risen"])
        self.decide(next_is="new", next_number="B-7", next_as_numbered=True)
        self.assertEqual(self.waits(), ["went_on", "risen"])
        self.assertEqual(self.held().left_width_mm, self.held().left.belt.top_width_new_mm)
        self.decide(went_on="by its arrow", risen=True, next_price=120.0, next_length_mm=1203.0)
        self.assertEqual(self.waits(), [])
        first, fitted, on = self.page("decision")
        self.assertEqual(first, "discarded: cracked")
        self.assertEqual(on, "went on by its arrow; tool out, turned by hand until it rode where it should")
        told = "new one fitted, B-7, width as its number says, not measured, 1,203 mm round, 120.00"
        self.assertEqual(plain(fitted), told)
        self.sign()
        (row,) = self.db.execute("SELECT * FROM belt WHERE state = 'fitted'").fetchall()
        self.assertEqual((row["make_number"], row["length_mm"], row["fitted_width_mm"]), ("B-7", 1203.0, None))

    def test_not_in_stock_keeps_the_visit_waiting(self):
        self.decide(decision="discard", reason="cracked", waits="not in stock")
        self.assertEqual(self.waits(), ["waits"])
        self.assertIn("none fitted: not in stock", self.page("decision"))

    def test_what_hardly_goes_on_is_asked_about(self):
        belt = self.held().left.belt
        self.decide(decision="discard", next_is="new")
        for width in (belt.top_width_min_mm, belt.top_width_new_mm - 0.6, belt.top_width_new_mm + 0.6):
            with self.subTest(width), self.assertRaises(Implausible) as caught:
                self.decide(next_width_mm=width)
            self.assertEqual(caught.exception.field, "next_width_mm")
        self.decide(next_width_mm=belt.top_width_new_mm - 0.3)
        worn = belts.put_on_shelf(self.db, self.machine, belt.top_width_min_mm - 0.1)
        with self.assertRaises(Implausible) as caught:
            self.decide(next_belt_id=worn)
        self.assertEqual(caught.exception.field, "next_belt_id")

    def test_a_strangers_belt_has_an_unknown_life(self):
        belt = self.held().fitted_belt
        self.assertEqual((belt.unknown_before, belt.use_km(900.0)), (True, None))
        self.measured()
        self.decide(decision="spare", reason="narrow", next_width_mm=36.4, **SAID)
        self.sign()
        kept = next(each for each in machines.belts(self.db, self.machine) if each.state == "spare")
        self.assertEqual((kept.used_km, kept.unknown_before), (0.0, True))
        fresh = machines.fitted_belt(self.db, self.machine)
        self.assertEqual((fresh.unknown_before, fresh.use_km(1000.0)), (False, 100.0))

    def test_a_broken_one_needs_no_width_and_no_reason_but_its_cause(self):
        self.decide(no_width="broke", failure="snapped", decision="discard", next_as_numbered=True, **SAID)
        self.assertEqual(self.waits(), ["pieces", "ducts", "clutches", "seals", "faces", "cause"])
        cleared = dict.fromkeys(("pieces", "ducts", "clutches", "seals", "faces"), "clear")
        self.decide(cause="found", **cleared)
        self.assertEqual(self.waits(), ["cause_words"])
        self.decide(cause="not looked for")
        self.assertEqual(self.waits(), [])
        self.assertIn("cause not looked for", self.page("belt"))

    def test_seated_and_directed_wherever_one_went_on(self):
        self.measured()
        self.decide(decision="run on")
        self.assertEqual(self.waits(), ["went_on", "risen"])
        with self.assertRaises(hand_over.NotReady):
            hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")

    def test_undisturbed_and_not_measured(self):
        self.decide(decision="run on", unmeasured="no caliper at hand")
        self.assertEqual(self.waits(), ["went_on", "risen"])
        self.decide(went_on="as it came off", risen=True)
        self.sign()
        self.assertIn("not measured: no caliper at hand", self.page("belt"))
        self.assertEqual(machines.fitted_belt(self.db, self.machine).width_mm, self.held().fitted_belt.width_mm)

    def test_broken_in_by_the_rider_stands_on_the_page_and_no_full_throttle_beside_it(self):
        self.decide(decision="discard", reason="cracked", next_as_numbered=True, **SAID)
        intake.set_scope(self.db, self.visit, Edit("belt", "tune"))
        run = self.ride(engagement_rpm=4000.0)
        with self.assertRaises(Implausible) as caught:
            road_tests.change(self.db, self.visit, run, {"shift_rpm": Edit(None, 7800.0)})
        self.assertIn("had no heat cycle yet", caught.exception.reason)
        line_up.release(self.db, self.visit, {"released": Edit("", "by the rider")})
        told = " ".join(self.page("break-in"))
        self.assertTrue(told.startswith("to be done by the rider: no full throttle"), told)
        self.assertEqual(self.page("after")[0], "on a belt that is still to be broken in: no figure of full throttle")
        lacking = {each.station for each in open_items(self.held().record())}
        self.assertNotIn("road-test", lacking)
        line_up.release(self.db, self.visit, {"released": Edit("by the rider", "released")})
        road_tests.change(self.db, self.visit, run, {"shift_rpm": Edit(None, 7800.0)})
        self.assertEqual(self.page("after"), [])
