"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

import json

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.calibration import Calibration
from jaxel.core.trade.lifetimes import SurvivalStep
from jaxel.core.trade.scores import score_card
from jaxel.store import (
    belts,
    calibrations,
    faults,
    fitting,
    lifetimes,
    machines,
    parts,
    predictions,
    road_tests,
    sheets,
    shelf,
    upkeep,
    visits,
)
from jaxel.store.db import Conflict, NotFound
from jaxel.store.edits import Edit, undo
from jaxel.store.fitting import Fill
from tests.examples import changed, example, read
from tests.store.test_store import StoreCase

SHEET = b"""number,kind,make,pieces,price,fits,base_mass_g,mass_g,force_start_n,force_finish_n,travel_mm,members
A-57,arm,Brackholm,6,62,,57/57.1/56.9,,,,,
A-58,arm,Brackholm,3,62,,58,,,,,
PS-1,primary spring,Brackholm,1,54,,,,640,1390,30,
L-15,load,Brackholm,7,1.5,,,1.5,,,,
VR-1,variator roller,Tarnrigg,8,5,roller-variator-primary,17,,,,,
KT-1,kit,Brackholm,1,140,,,,,,,A-57; PS-1
"""


class Bench(StoreCase):
    def setUp(self):
        super().setUp()
        report = sheets.take_in(self.db, SHEET)
        self.assertEqual((report.refused, len(report.added)), ([], 6))
        self.parts = {each.number: each.id for each in parts.all_parts(self.db)}

    def fill(self, slot, number=None, *, whole=False, numbers=None):
        part = None if number is None else self.parts[number]
        fills = [Fill(slot, part, numbers or {})]
        fitting.fill(self.db, self.visit, fills, self.held().set_up.left_draft, whole=whole)

    def here(self):
        at_hand = shelf.at_hand(self.db)
        return {number: at_hand.get(key) for number, key in self.parts.items()}

    def another_visit(self, name="trail-sled"):
        machine = machines.bring_in(self.db, read(example(name)), "sled", "Other")
        return visits.open_visit(self.db, machine)


class OnTheTray(Bench):
    def test_a_part_fills_its_slot_and_what_is_typed_over_it_is_a_reading_of_it(self):
        self.fill("primary_spring", "PS-1")
        spring = self.held().as_left().primary.spring
        self.assertEqual((spring.force_start_n, spring.force_finish_n), (640, 1390))
        self.try_out(primary_start_n=633)
        typed = {"primary_start_n": 633, "primary_finish_n": 1390}
        self.assertEqual(self.held().set_up.left_draft, {"part.primary_spring": self.parts["PS-1"]} | typed)
        self.fill("primary_spring")
        self.assertEqual(self.held().set_up.left_draft, {})
        self.assertEqual(self.held().as_left().primary.spring.force_start_n, 610)

    def test_a_kit_fills_every_slot_it_has_a_part_for(self):
        self.fill("kit", "KT-1")
        left = self.held().as_left()
        self.assertEqual((round(left.primary.weights.base_mass_g, 3), left.primary.spring.force_start_n), (57, 640))
        self.assertEqual(set(self.held().tray), {"arms", "primary_spring"})

    def test_an_answer_replaces_what_lies_there(self):
        self.try_out(shim_mm=0.5)
        self.fill("load:tip", "L-15", whole=True, numbers={"helix_deg.0": 43.0})
        left = self.held().as_left()
        self.assertEqual(left.primary.shim_mm, 0)
        self.assertEqual((left.secondary.helix.angles[0].deg, left.primary.weights.loads[0].mass_g), (43, 1.5))

    def test_what_cannot_go_there_is_refused_and_nothing_changes(self):
        upkeep.change(self.db, self.machine, {"primary_kind": Edit(None, "shimmed-spider-primary")})
        for slot, number, reason in (
            ("arms", "VR-1", "VR-1 is for another clutch: roller variator"),
            ("arms", "PS-1", "does not go there"),
            ("load:knee", "L-15", "does not go there"),
        ):
            with self.assertRaisesRegex(InvalidValue, reason) as caught:
                self.fill(slot, number)
            self.assertEqual(caught.exception.field, "part")
        with self.assertRaisesRegex(InvalidValue, "no longer on the shelf"):
            fitting.fill(self.db, self.visit, [Fill("arms", 99)], {})
        with self.assertRaises(Conflict):
            fitting.fill(self.db, self.visit, [Fill("arms", self.parts["A-57"])], {"shim_mm": 1.0})
        self.assertEqual(self.held().set_up.left_draft, {})

    def test_a_part_on_a_tray_stays_what_it_is(self):
        self.fill("kit", "KT-1")
        for number in ("KT-1", "PS-1"):
            with self.assertRaisesRegex(Conflict, f"tray of visit {self.visit}"):
                parts.remove(self.db, self.parts[number])
        held = parts.one(self.db, self.parts["PS-1"]).spec
        with self.assertRaisesRegex(Conflict, "PS-1 lies on the tray"):
            parts.change(self.db, self.parts["PS-1"], {"spec": Edit(held, held | {"force_start_n": 700.0})})
        parts.change(self.db, self.parts["PS-1"], {"place": Edit("", "rack")})
        parts.remove(self.db, self.parts["A-58"])


class OffTheShelf(Bench):
    def test_recording_takes_every_piece_and_undoing_returns_it(self):
        self.fill("arms", "A-57")
        self.fill("load:middle", "L-15")
        before = self.here()
        self.assertEqual((before["A-57"], before["L-15"]), (6, 7))
        self.record("lighter")
        self.assertEqual((self.here()["A-57"], self.here()["L-15"]), (3, 4))
        self.assertEqual(shelf.held_by(self.db, self.held().set_up.left_revision_id),
                         {"arms": (self.parts["A-57"], 3), "load:middle": (self.parts["L-15"], 3)})  # fmt: skip
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.here(), before)
        self.assertEqual(set(self.held().tray), {"arms", "load:middle"})

    def test_what_a_change_takes_off_goes_back(self):
        self.fill("arms", "A-57")
        self.record("lighter")
        self.fill("primary_spring", "PS-1")
        self.record("a stiffer start")
        self.assertEqual((self.here()["A-57"], self.here()["PS-1"]), (3, 0))  # the arms stayed in
        self.fill("arms", "A-58")
        self.record("heavier again")
        self.assertEqual((self.here()["A-57"], self.here()["A-58"]), (6, 0))
        self.try_out(arm_mass_g=60)
        self.record("the rider's own arms")
        self.assertEqual((self.here()["A-58"], self.here()["PS-1"]), (3, 0))

    def test_a_kit_is_taken_once_and_comes_back_once(self):
        self.fill("kit", "KT-1")
        self.record("for thin air")
        self.assertEqual((self.here()["KT-1"], self.here()["A-57"]), (0, 6))
        self.try_out(arm_mass_g=60)
        self.record("its spring stays")
        self.assertEqual(self.here()["KT-1"], 0)
        self.try_out(primary_start_n=610, primary_finish_n=1380)
        self.record("all of it off")
        self.assertEqual(self.here()["KT-1"], 1)

    def test_another_hand_took_the_last_one(self):
        self.fill("primary_spring", "PS-1")
        other = self.another_visit()
        fitting.fill(self.db, other, [Fill("primary_spring", self.parts["PS-1"])], {})
        fitting.record(self.db, other, "first there", visits.get(self.db, other).set_up.left_draft)
        revision = self.held().set_up.left_revision_id
        with self.assertRaisesRegex(InvalidValue, "PS-1: 1 needed, 0 on the shelf: another hand took it") as caught:
            self.record("too late")
        self.assertEqual(caught.exception.field, "slots")
        self.assertEqual((self.held().set_up.left_revision_id, self.here()["PS-1"]), (revision, 0))
        self.assertEqual(set(self.held().tray), {"primary_spring"})

    def test_what_nobody_counted_is_never_short(self):
        part = parts.add(self.db, "PS-9", "primary spring")
        spec = {"force_start_n": 600.0, "force_finish_n": 1300.0, "travel_mm": 30.0}
        parts.change(self.db, part, {"spec": Edit(None, spec)})
        fitting.fill(self.db, self.visit, [Fill("primary_spring", part)], {})
        self.record("one from the drawer")
        self.assertIsNone(shelf.at_hand(self.db).get(part))

    def test_counting_says_what_it_replaces(self):
        part = self.parts["PS-1"]
        shelf.count(self.db, part, Edit(1, 4))
        self.assertEqual(self.here()["PS-1"], 4)
        with self.assertRaises(Conflict) as caught:
            shelf.count(self.db, part, Edit(1, 3))
        self.assertEqual((caught.exception.field, caught.exception.theirs), ("pieces", 4))
        for bad in (-1, 2.5, None, 10_001):
            with self.assertRaises(InvalidValue):
                shelf.count(self.db, part, Edit(4, bad))
        with self.assertRaises(NotFound):
            shelf.count(self.db, 99, Edit(None, 1))


class Sheets(Bench):
    def test_a_known_number_is_changed_where_the_sheet_says_otherwise(self):
        report = sheets.take_in(self.db, SHEET.replace(b"PS-1,primary spring,Brackholm,1,54",
                                                       b"ps-1,primary spring,Ravnsete,5,54"))  # fmt: skip
        self.assertEqual((report.added, report.changed, report.alike), ([], ["ps-1"], 5))
        held = parts.one(self.db, self.parts["PS-1"])
        self.assertEqual((held.number, held.make, held.pieces), ("PS-1", "Ravnsete", 5))

    def test_a_row_refused_half_way_leaves_nothing_behind(self):
        self.fill("primary_spring", "PS-1")
        report = sheets.take_in(
            self.db,
            b"number,kind,make,superseded_by,force_start_n,force_finish_n,travel_mm\n"
            b"PS-1,primary spring,Ravnsete,,700,1400,30\n"  # on a tray
            b"A-57,primary spring,,,,,\n"  # known as an arm
            b"N-1,button,Ravnsete,N-1,,,\n"  # superseded by itself
            b"N-2,button,Ravnsete,,,,\n",
        )
        self.assertEqual([(row.line, row.column) for row in report.refused],
                         [(2, "part"), (3, "kind"), (4, "superseded_by")])  # fmt: skip
        self.assertEqual(report.added, ["N-2"])
        held = {each.number: each for each in parts.all_parts(self.db)}
        self.assertEqual((held["PS-1"].make, held["PS-1"].spec["force_start_n"]), ("Brackholm", 640.0))
        self.assertNotIn("N-1", held)

    def test_out_and_in_again_changes_nothing(self):
        report = sheets.take_in(self.db, sheets.sheet(self.db).encode())
        self.assertEqual((report.added, report.changed, report.alike, report.refused), ([], [], 6, []))


class Calibrations(Bench):
    def test_a_visit_stands_on_what_the_machine_did_before(self):
        self.assertIsNone(self.held().calibration)
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        bare = predictions.kept(self.db, self.held().as_left())
        self.assertIsNone(bare.anchor)
        self.sign()
        self.visit = visits.open_visit(self.db, self.machine)
        known = self.held().calibration
        self.assertEqual([run.shift_mean_rpm for run in known.document.runs], [7700])
        anchored = predictions.kept(self.db, self.held().as_left(), known)
        self.assertAlmostEqual(anchored.shift.mean_rpm, 7700, delta=0.5)
        self.assertAlmostEqual(anchored.engagement.bite_rpm, 3900, delta=0.5)
        self.assertLess(anchored.band.mean_rpm, bare.band.mean_rpm / 3)
        self.assertNotEqual(anchored.key, bare.key)

    def ready(self):
        self.note(odometer_km=100, complaint="new")
        self.confirm()
        self.measure(1, 36.4)
        self.measure(2, 36.4)
        self.measure(3, 36.4)
        self.decide(decision="run on")

    def test_this_visits_runs_join_on_demand_and_undoing_lets_them_go(self):
        self.ready()
        self.note(baseline_shift_rpm=7750)
        self.ride(engagement_rpm=3900)
        self.assertEqual(calibrations.fresh(self.db, self.machine, None), 2)
        fitting.calibrate(self.db, self.visit)
        known = self.held().calibration
        self.assertEqual([(run.engagement_rpm, run.shift_mean_rpm) for run in known.document.runs],
                         [(None, 7750), (3900, None)])  # fmt: skip
        self.assertEqual(calibrations.fresh(self.db, self.machine, known), 0)
        self.assertEqual(len(known.core.anchors), 2)
        undo(self.db, self.visit, "Jo")
        self.assertIsNone(self.held().calibration)
        self.assertEqual(len(calibrations.history(self.db, self.machine)), 1)  # the fact of its day stays

    def test_a_baseline_with_a_fault_says_nothing_of_the_set_up(self):
        self.ready()
        self.note(baseline_shift_rpm=7200)
        faults.record(self.db, self.visit, "primary-spring-broken", "", "")
        with self.assertRaisesRegex(InvalidValue, "none that the model can be fitted to"):
            fitting.calibrate(self.db, self.visit)

    def test_the_same_runs_make_one_calibration(self):
        self.ready()
        self.ride(shift_rpm=7700)
        fitting.calibrate(self.db, self.visit)
        fitting.calibrate(self.db, self.visit)
        self.assertEqual(len(calibrations.history(self.db, self.machine)), 1)

    def test_a_run_keeps_its_own_set_up_and_air(self):
        self.ready()
        self.ride(shift_rpm=7700)
        self.note(elevation_m=1500, temperature_c=-20)
        self.try_out(arm_mass_g=58)
        self.record("lighter")
        self.ride(shift_rpm=7760)
        first, second = calibrations.runs_of(self.db, self.machine)
        self.assertEqual((first.setup.primary.weights.base_mass_g, second.setup.primary.weights.base_mass_g), (60, 58))
        self.assertEqual(second.setup.conditions.elevation_m, 1500)
        self.assertNotEqual(first.setup.conditions.elevation_m, 1500)

    def test_a_calibration_of_another_clutch_is_left_out(self):
        self.ready()
        self.ride(shift_rpm=7700)
        fitting.calibrate(self.db, self.visit)
        known = self.held().calibration
        moved = read(changed(example("mountain-sled"), "geometry.centre_distance_mm", 279.0))
        self.assertIsNone(json.loads(predictions.work_out(moved, known).document)["anchor"])
        quick = predictions.work_out_quickly(moved, moved, known)
        shifts = [json.loads(each.figures)["shift"]["mean_rpm"] for each in (quick, predictions.work_out(moved))]
        self.assertAlmostEqual(*shifts, delta=0.2)

    def test_runs_that_cannot_be_fitted_leave_the_sign_off_alone(self):
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        good = calibrations.runs_of(self.db, self.machine)
        wide = read(changed(example("mountain-sled"), "geometry.sheave_half_angle_deg", 13.5))
        self.assertEqual(calibrations.usable(wide, good), [])
        self.assertIsNone(calibrations.make(self.db, self.machine, wide, None))
        self.sign()
        self.assertEqual(self.held().signed_off_by, "Jo")

    def test_the_workshops_scores_are_of_the_day(self):
        self.ready()
        self.ride(engagement_rpm=3900, shift_rpm=7700)
        (row,) = road_tests.scored(self.db)
        bare = Calibration.none(self.held().as_left()).estimates([self.held().as_left()], 41)[0]
        self.assertAlmostEqual(row.row[0].shift_rpm, bare.mean, delta=0.1)
        fitting.calibrate(self.db, self.visit)
        self.assertEqual(road_tests.scored(self.db), [row])  # a later calibration never rewrites a past miss
        self.assertEqual([each.runs for each in score_card([row.row])], [1, 1])


class Lives(Bench):
    def test_each_make_beside_its_makers_word(self):
        parts.add(self.db, "AB-1", "arm bushing")
        part = {each.number: each.id for each in parts.all_parts(self.db)}["AB-1"]
        parts.change(self.db, part, {"make": Edit("", "Brackholm"), "life_km": Edit(None, 3000)})
        for number, way, km in (("AB-1", "in", 500.0), ("", "out", 3100.0), ("AB-1", "in", 3100.0)):
            parts.event(self.db, self.visit, self.machine, "primary", "arm bushing", 3, way, km, None, number=number)
        self.note(odometer_km=3900)
        (lasted,) = lifetimes.lasted(self.db)
        self.assertEqual((lasted.kind, lasted.make, lasted.unit, lasted.said), ("arm bushing", "Brackholm", "km", 3000))
        self.assertEqual((lasted.survival.lives, lasted.survival.running, lasted.share_at_said), (2, 1, None))
        self.assertEqual([(s.use, s.share, s.at_risk) for s in lasted.survival.steps], [(800, 1, 2), (2600, 0, 1)])
        self.assertIsInstance(lasted.survival.steps[0], SurvivalStep)

    def test_a_belt_on_the_shelf_still_runs(self):
        spare = belts.put_on_shelf(self.db, self.machine, 35.9)
        self.db.execute("UPDATE belt SET used_km = 900, removed_at_km = 1000 WHERE id = ?", (spare,))
        belts.change(self.db, spare, {"make_number": Edit("", "B 7")})
        (lasted,) = [each for each in lifetimes.lasted(self.db) if each.make == "B 7"]
        self.assertEqual((lasted.survival.lives, lasted.survival.running), (1, 1))
        belts.discard(self.db, spare)
        (lasted,) = [each for each in lifetimes.lasted(self.db) if each.make == "B 7"]
        self.assertEqual((lasted.survival.running, lasted.survival.median), (0, 900))

    def test_spares_are_listed_the_widest_first(self):
        for width in (35.2, 36.1):
            belts.put_on_shelf(self.db, self.machine, width)
        found = belts.spares(self.db)
        self.assertEqual([(each.width_mm, each.limit_mm) for each in found], [(36.1, 35.0), (35.2, 35.0)])


class Upkeep(Bench):
    def test_merging_a_double_takes_its_calibrations_along(self):
        self.complete()
        self.sign()
        other = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Rider")
        upkeep.merge(self.db, other, self.machine)
        self.assertEqual(len(calibrations.history(self.db, other)), 1)
