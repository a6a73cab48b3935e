"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

import io
import sqlite3
from unittest import mock

from PIL import Image

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.stations import open_items, stations_of
from jaxel.core.units import IMPERIAL, Units
from jaxel.store import (
    addenda,
    bringing_in,
    db,
    faults,
    fitting,
    hand_over,
    intake,
    limits,
    machines,
    numbers,
    photos,
    revisions,
    road_tests,
    stamps,
    upkeep,
    visit_log,
    visits,
    workshop,
)
from jaxel.store.bringing_in import Stranger
from jaxel.store.edits import Edit, undo
from tests.examples import example, read
from tests.store.back_together import back_together
from tests.store.test_store import StoreCase

MASS = "primary.weights.base_mass_g"


class Case(StoreCase):
    def stranger(self, **said):
        return bringing_in.bring_in(
            self.db, Stranger(**{"machine": "quad", "primary": "roller-variator-primary"} | said)
        )

    def lacking(self, visit=None):
        return [item.field for item in open_items(visits.get(self.db, visit or self.visit).record())]

    def correct(self, value, machine=None, path=MASS, how="correction", reason="", origin="measured", sure=False):
        numbers.put_number(self.db, machine or self.machine, path, Edit(None, value, sure), origin=origin, how=how,
                           reason=reason)  # fmt: skip


class BringingIn(Case):
    def test_a_stranger_has_a_visit_its_kinds_and_what_was_read(self):
        visit = visits.get(self.db, self.stranger(complaint="Slow", readings={"belt_width": {"width_mm": "30.4"}}))
        machine = machines.get(self.db, visit.machine_id)
        self.assertEqual(
            (machine.name, machine.kind, machine.primary_kind), ("Quad", "quad", "roller-variator-primary")
        )
        self.assertEqual((visit.intake.complaint, visit.fitted_belt.width_mm), ("Slow", 30.4))
        self.assertEqual(visit.found.evidence["belt.top_width_mm"].origin, "measured")
        self.assertEqual(limits.in_force(self.db, machine.id, "belt_width_min_mm").origin, "from memory")

    def test_weights_found_unequal_are_a_fault_of_the_visit(self):
        visit = visits.get(self.db, self.stranger(machine="sled", primary="tower-and-button-primary",
                                                  readings={"weights": {"mass_g": "48.1/48.0/46.9"}}))  # fmt: skip
        self.assertEqual([each.fault.name for each in visit.faults], ["Weights unequal, 48.1 / 48 / 46.9 g"])

    def test_what_contradicts_settles_nothing(self):
        both = {"helix_stamp": {"stamp": "38"}, "helix_lift": {"lift_mm": "40", "turn_deg": "60"}}
        visit = visits.get(self.db, self.stranger(readings=both))
        self.assertEqual(visit.found.evidence["secondary.helix.angles"].origin, "typical")

    def test_a_bare_clutch_has_an_identity_and_no_machine(self):
        visit = visits.get(self.db, self.stranger(bare=True, identity=machines.Identity("30 mm", 12.0, "K7")))
        machine = machines.get(self.db, visit.machine_id)
        self.assertTrue(machine.bare)
        self.assertEqual((machine.name, machine.taper, machine.offset_mm), ("Clutch K7", "30 mm", 12.0))
        self.assertEqual(
            (visit.scope, stations_of(visit.record())), ("bench", ["intake", "strip", "set-up", "rebuild", "hand-over"])
        )
        with self.assertRaises(InvalidValue):
            intake.set_scope(self.db, visit.id, Edit("bench", "tune"))

    def test_a_copy_is_typical_of_the_other(self):
        machine = bringing_in.copy(self.db, self.machine, "Twin", "Ida")
        document = revisions.newest(self.db, machine).document
        self.assertEqual(document.belt.top_width_mm, document.belt.top_width_new_mm)
        self.assertEqual(document.evidence[MASS].origin, "typical")
        with self.assertRaises(InvalidValue):
            bringing_in.copy(self.db, self.machine, " ", "")

    def test_a_kind_that_does_not_fit_writes_nothing(self):
        before = len(machines.all_machines(self.db))
        with self.assertRaises(InvalidValue):
            self.stranger(secondary="steam")
        self.assertEqual(len(machines.all_machines(self.db)), before)


class Scope(Case):
    def test_widened_and_narrowed_keeps_what_was_typed(self):
        self.note(baseline_shift_rpm=7900.0)
        intake.set_scope(self.db, self.visit, Edit("tune", "belt"))
        self.assertEqual(self.lacking()[:2], ["odometer_km", "complaint"])
        self.assertNotIn("fitted", self.lacking())
        intake.set_scope(self.db, self.visit, Edit("belt", "rebuild"))
        self.assertEqual(self.held().intake.baseline_shift_rpm, 7900.0)
        self.assertIn("fitted", self.lacking())
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().scope, "belt")
        with self.assertRaises(db.Conflict):
            intake.set_scope(self.db, self.visit, Edit("tune", "service"))

    def test_a_belt_only_visit_closes_without_an_rpm(self):
        intake.set_scope(self.db, self.visit, Edit("tune", "belt"))
        self.note(odometer_km=900.0, complaint="Belt broke")
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.decide(decision="discard", reason="cord out", next_width_mm=36.5)
        back_together(self.db, self.visit)
        hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")
        self.assertEqual(machines.fitted_belt(self.db, self.machine).number, 2)

    def test_hours_running_backwards_are_asked_about(self):
        self.note(odometer_h=210.0)
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "no parts", "Jo")
        self.visit = visits.open_visit(self.db, self.machine)
        with self.assertRaises(Implausible) as caught:
            self.note(odometer_h=190.0)
        self.assertIn("less than at the last visit, 210 h", caught.exception.reason)
        self.note(odometer_h=230.0)

    def test_closed_unrepaired_with_a_reason_and_amended_by_an_addendum(self):
        with self.assertRaises(InvalidValue):
            hand_over.close_unrepaired(self.db, self.visit, self.held().edit, " ", "Jo")
        self.decide(decision="discard", reason="worn", next_width_mm=36.5)
        with self.assertRaises(db.Conflict):
            addenda.add(self.db, self.visit, "late news", "Jo")
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "Rider sells it", "Jo")
        signed = self.held()
        self.assertEqual((signed.unrepaired, signed.signed_off_by), ("Rider sells it", "Jo"))
        self.assertEqual([each.state for each in machines.belts(self.db, self.machine)], ["fitted"])
        addenda.add(self.db, self.visit, "Sold on the 3rd", "Ebba")
        (added,) = addenda.of_visit(self.db, self.visit)
        self.assertEqual((added.text, added.added_by), ("Sold on the 3rd", "Ebba"))
        self.assertEqual(self.held(), signed)
        for change in ("UPDATE addendum SET text = ''", "DELETE FROM addendum"):
            with self.assertRaises(sqlite3.IntegrityError):
                self.db.execute(change)


class Faults(Case):
    def setUp(self):
        super().setUp()
        self.visit = self.stranger()
        self.machine = self.held().machine_id

    def test_recorded_put_right_and_undone(self):
        fault = faults.record(self.db, self.visit, "wound-backwards", "", "top the wrong way", "Jo")
        self.assertIn(f"fault_{fault}", self.lacking())
        with self.assertRaises(InvalidValue):
            self.held().as_it_works()
        self.assertEqual(self.held().as_left().secondary.pretwist_deg, 60)  # as left it is predicted
        faults.put_right(self.db, self.visit, fault, Edit("", "wound as it should be"))
        self.assertNotIn(f"fault_{fault}", self.lacking())
        undo(self.db, self.visit, "Jo")
        self.assertIn(f"fault_{fault}", self.lacking())
        faults.remove(self.db, self.visit, fault, {"note": "top the wrong way", "put_right": ""})
        self.assertEqual(self.held().faults, ())
        self.assertIn("Secondary spring wound backwards", visit_log.last(self.db, self.held()).lines[0].now)
        undo(self.db, self.visit, "Jo")
        self.assertEqual([each.id for each in self.held().faults], [fault])

    def test_is_refused_as_left(self):
        fault = faults.record(self.db, self.visit, "wound-backwards", "", "", "Jo")
        with self.assertRaises(hand_over.NotReady) as caught:
            hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")
        self.assertIn(f"fault_{fault}", [item.field for item in caught.exception.items])
        with self.assertRaises(InvalidValue) as refused:
            fitting.try_numbers(self.db, self.visit, "left", {"pretwist_deg": Edit(60, "-60", sure=True)})
        self.assertIn("must be wound", refused.exception.reason)

    def test_of_clutches_that_cannot_have_it(self):
        with self.assertRaises(InvalidValue):
            faults.record(self.db, self.visit, "magnets-turned", "", "", "Jo")
        with self.assertRaises(db.NotFound):
            faults.put_right(self.db, self.visit, 99, Edit("", "x"))

    def test_how_a_slot_is_known_is_said_and_taken_up(self):
        intake.say_origin(self.db, self.visit, "arms", Edit(None, "unknown"))
        self.assertEqual(self.held().as_found().evidence[MASS].origin, "unknown")
        self.assertEqual(self.held().as_left().evidence[MASS].origin, "unknown")
        with self.assertRaises(InvalidValue):
            intake.say_origin(self.db, self.visit, "arms", Edit("unknown", "hearsay"))
        with self.assertRaises(InvalidValue):
            intake.say_origin(self.db, self.visit, "wings", Edit(None, "typical"))
        intake.confirm_fitted(self.db, self.visit, {}, "Jo")
        self.assertEqual((self.held().found.evidence[MASS].origin, self.held().set_up.found_origins), ("unknown", {}))


class Corrections(Case):
    def test_a_mistyped_weight_is_put_right_without_a_change(self):
        run = road_tests.begin(self.db, self.visit, self.held().set_up.left_revision_id)
        road_tests.change(self.db, self.visit, run, {"shift_rpm": Edit(None, 7880.0)})
        self.correct("59.5")
        visit = self.held()
        self.assertEqual(
            (visit.found.primary.weights.base_mass_g, visit.left.primary.weights.base_mass_g), (59.5, 59.5)
        )
        newest = revisions.newest(self.db, self.machine)
        self.assertEqual((newest.nature, newest.corrects), ("correction", 1))
        # The run that was made counts for the set-up as it is recorded now.
        self.assertNotIn("shift_rpm", self.lacking())
        self.assertEqual(visit_log.last(self.db, visit).lines[0].what, "number put right")
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().left.primary.weights.base_mass_g, 60)

    def test_a_correction_keeps_a_change_made_at_the_visit(self):
        fitting.try_numbers(self.db, self.visit, "left", {"primary_start_n": Edit(610, "640")})
        fitting.record(self.db, self.visit, "later bite", self.held().set_up.left_draft)
        self.correct("59.5")
        found, left = self.held().found.primary, self.held().left.primary
        self.assertEqual((found.weights.base_mass_g, left.weights.base_mass_g), (59.5, 59.5))
        self.assertEqual((found.spring.force_start_n, left.spring.force_start_n), (610, 640))
        self.assertEqual(revisions.newest(self.db, self.machine).document, self.held().left)

    def test_a_change_is_of_the_set_up_as_left_and_needs_a_reason(self):
        with self.assertRaises(InvalidValue) as caught:
            self.correct("58", how="change")
        self.assertEqual(caught.exception.field, "reason")
        self.correct("58", how="change", reason="other arms")
        self.assertEqual((self.held().found.primary.weights.base_mass_g, self.held().left.primary.weights.base_mass_g),
                         (60, 58))  # fmt: skip

    def test_asked_about_refused_and_raced(self):
        with self.assertRaises(Implausible):
            self.correct("6")
        self.correct("6.1", sure=True, path="vehicle.drive_ratio")
        for path, value, field in ((MASS, "-5", "number"), ("primary.nothing", "3", "number"),
                                   ("belt.top_width_min_mm", "34", "number"), (MASS, "heavy", "number"),
                                   ("geometry.centre_distance_mm", "151", "number")):  # fmt: skip
            with self.subTest(path=path), self.assertRaises(InvalidValue) as caught:
                self.correct(value, path=path, sure=True)
            self.assertEqual(caught.exception.field, field)
        for was in (55, "60", [60]):
            with self.assertRaises(db.Conflict):
                numbers.put_number(
                    self.db, self.machine, MASS, Edit(was, "59"), origin="measured", how="correction", reason=""
                )
        with self.assertRaises(InvalidValue):
            self.correct("59", origin="hearsay")

    def test_a_belt_s_width_is_the_belt_s_too(self):
        self.correct("35.9", path="belt.top_width_mm")
        self.assertEqual(self.held().fitted_belt.width_mm, 35.9)
        self.assertEqual(self.held().as_found().belt.top_width_mm, 35.9)
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().fitted_belt.width_mm, 36.5)
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "sold", "Jo")
        self.correct("35.7", path="belt.top_width_mm")
        self.correct("59", path=MASS)
        self.assertEqual(machines.fitted_belt(self.db, self.machine).width_mm, 35.7)

    def test_readings_are_taken_whole_or_not_at_all(self):
        visit = self.stranger()
        machine = visits.get(self.db, visit).machine_id
        numbers.take_readings(self.db, machine, {"weights": {"mass_g": "19.5"}}, {}, how="correction", reason="")
        held = visits.get(self.db, visit)
        self.assertEqual((held.found.primary.weights.base_mass_g, held.found.evidence[MASS].sd), (19.5, 0.1))
        for taken in ({}, {"weights": {"mass_g": "nine"}}, {"centre_distance": {"outside_mm": "260"}},
                      {"helix_stamp": {"stamp": "38"}, "helix_lift": {"lift_mm": "40", "turn_deg": "60"}}):  # fmt: skip
            with self.subTest(taken), self.assertRaises(InvalidValue):
                numbers.take_readings(self.db, machine, taken, {}, how="correction", reason="")


class Limits(Case):
    def test_the_best_origin_holds_and_conflicts_stand_side_by_side(self):
        numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 34.5, "from memory")
        stated = [(each.value, each.origin) for each in limits.of_machine(self.db, self.machine)]
        self.assertEqual(stated, [(35.0, "manual"), (34.5, "from memory")])
        self.assertEqual(self.held().found.belt.top_width_min_mm, 35.0)
        first = limits.of_machine(self.db, self.machine)[0]
        numbers.withdraw_limit(self.db, self.machine, first.id)
        self.assertEqual(self.held().found.belt.top_width_min_mm, 34.5)
        numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 35.2, "part maker's sheet")
        self.assertEqual(self.held().left.belt.top_width_min_mm, 35.2)
        self.assertEqual(revisions.newest(self.db, self.machine).nature, "correction")

    def test_what_cannot_be_writes_nothing(self):
        with self.assertRaises(InvalidValue) as caught:
            numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 40.0, "manual")
        self.assertEqual((caught.exception.field, len(limits.of_machine(self.db, self.machine))), ("value", 1))
        with self.assertRaises(db.Conflict):
            numbers.withdraw_limit(self.db, self.machine, limits.of_machine(self.db, self.machine)[0].id)
        with self.assertRaises(InvalidValue):
            numbers.state_limit(self.db, self.machine, "belt_width_min_mm", 35.0, "hearsay")  # type: ignore[arg-type]


class PutAway(Case):
    def test_archived_and_restored(self):
        with self.assertRaises(db.Conflict):
            upkeep.archive(self.db, self.machine, Edit(False, True))
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "gone", "Jo")
        upkeep.archive(self.db, self.machine, Edit(False, True))
        with self.assertRaises(db.Conflict):
            visits.open_visit(self.db, self.machine)
        upkeep.archive(self.db, self.machine, Edit(True, False))
        visits.open_visit(self.db, self.machine)

    def test_a_double_becomes_one_record(self):
        double = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Same rider")
        visit = visits.open_visit(self.db, double)
        hand_over.close_unrepaired(self.db, visit, visits.get(self.db, visit).edit, "no time", "Jo")
        photos.add(self.db, double, photos.encoded(picture()))
        before = revisions.newest(self.db, self.machine).document
        upkeep.merge(self.db, self.machine, double, "Jo")
        self.assertEqual(len(visits.lines_of(self.db, self.machine)), 2)
        self.assertEqual([(each.number, each.state) for each in machines.belts(self.db, self.machine)],
                         [(1, "fitted"), (2, "doubled")])  # fmt: skip
        self.assertEqual(revisions.newest(self.db, self.machine).document, before)
        self.assertEqual(len(photos.of_machine(self.db, self.machine)), 1)
        self.assertEqual(machines.get(self.db, double).merged_into, self.machine)
        self.assertEqual(self.db.execute("PRAGMA foreign_key_check").fetchall(), [])
        with self.assertRaises(sqlite3.IntegrityError):
            self.db.execute("UPDATE setup_revision SET document = '{}'")

    def test_what_is_no_double_is_refused_and_nothing_moves(self):
        quad = visits.get(self.db, self.stranger()).machine_id
        twin = machines.bring_in(self.db, read(example("mountain-sled")), "sled")
        visits.open_visit(self.db, twin)
        for double, error in (
            (self.machine, InvalidValue),
            (quad, InvalidValue),
            (twin, db.Conflict),
            (99, db.NotFound),
        ):
            with self.subTest(double), self.assertRaises(error):
                upkeep.merge(self.db, self.machine, double)
        self.assertEqual(len(visits.lines_of(self.db, self.machine)), 1)

    def test_what_is_said_of_it(self):
        upkeep.change(self.db, self.machine, {"tyre": Edit("", " 154 in track "), "rider": Edit("Rider", "Ida")})
        machine = machines.get(self.db, self.machine)
        self.assertEqual((machine.tyre, machine.rider), ("154 in track", "Ida"))
        for field, edit, error in (("name", Edit("Tarnhowe 840 mountain sled", " "), InvalidValue),
                                   ("rider", Edit("Rider", "Else"), db.Conflict),
                                   ("kind", Edit("sled", "bare clutch"), InvalidValue),
                                   ("primary_kind", Edit(None, "roller-variator-primary"), InvalidValue),
                                   ("archived", Edit(False, True), InvalidValue)):  # fmt: skip
            with self.subTest(field), self.assertRaises(error):
                upkeep.change(self.db, self.machine, {field: edit})


def picture(size=(60, 40), kind="JPEG", **more) -> bytes:
    out = io.BytesIO()
    image = Image.new("RGB", size, "white")
    image.putpixel((0, 0), (255, 0, 0))
    image.save(out, kind, **more)
    return out.getvalue()


class Photos(Case):
    def test_upright_small_and_stripped_of_what_a_camera_adds(self):
        # Exif 2.32, tag 274: orientation 6 is to be turned a quarter right; 0x010F the maker, 0x8825 where it was.
        exif = Image.Exif()
        exif[274], exif[0x010F] = 6, "camera of somebody"
        exif.get_ifd(0x8825)[1] = "N"
        photo = photos.add(self.db, self.machine, photos.encoded(picture((3000, 1500), exif=exif)), "Jo")
        with Image.open(io.BytesIO(photos.image(self.db, photo))) as kept:
            self.assertEqual((kept.format, kept.size), ("JPEG", (1000, 2000)))
            self.assertEqual(dict(kept.getexif()), {})
        self.assertNotIn(b"camera of somebody", photos.image(self.db, photo))
        with Image.open(io.BytesIO(photos.image(self.db, photo, small=True))) as small:
            self.assertEqual(max(small.size), 320)

    def test_png_and_webp_come_in_and_nothing_else(self):
        for kind in ("PNG", "WEBP"):
            photos.add(self.db, self.machine, photos.encoded(picture(kind=kind)))
        whole = picture()
        for data in (b"", b"%PDF-1.7", picture(kind="GIF"), picture(kind="BMP"), whole[: len(whole) // 2],
                     whole[:40], b"\xff\xd8\xff" + b"\0" * 500, b"x" * (photos.LIMIT_BYTES + 1)):  # fmt: skip
            with self.subTest(data[:12]), self.assertRaises(InvalidValue) as caught:
                photos.encoded(data)
            self.assertEqual(caught.exception.field, "photo")
        with mock.patch.object(photos, "MOST_PIXELS", 100), self.assertRaises(InvalidValue):
            photos.encoded(whole)
        self.assertEqual(len(photos.of_machine(self.db, self.machine)), 2)

    def test_captioned_removed_and_brought_back(self):
        photo = photos.add(self.db, self.machine, photos.encoded(picture()))
        photos.change(self.db, photo, {"caption": Edit("", "worn buttons"), "removed": Edit(False, True)})
        (held,) = photos.of_machine(self.db, self.machine)
        self.assertEqual((held.caption, held.removed), ("worn buttons", True))
        photos.change(self.db, photo, {"removed": Edit(True, False)})
        with self.assertRaises(db.Conflict):
            photos.change(self.db, photo, {"caption": Edit("", "else")})


class Habits(Case):
    def test_a_person_s_units_win_over_the_workshop_s(self):
        person = workshop.add_person(self.db, "Ebba")
        workshop.read_in(self.db, None, Edit(workshop.get(self.db).units, IMPERIAL))
        self.assertEqual(workshop.get(self.db).units_of("Ebba"), IMPERIAL)
        mixed = Units(force="lbf")
        workshop.read_in(self.db, person, Edit(None, mixed))
        held = workshop.get(self.db)
        self.assertEqual((held.units_of("ebba"), held.units_of("bench")), (mixed, IMPERIAL))
        with self.assertRaises(db.Conflict):
            workshop.read_in(self.db, person, Edit(None, IMPERIAL))
        with self.assertRaises(db.NotFound):
            workshop.read_in(self.db, 99, Edit(None, IMPERIAL))

    def test_a_stamp_is_weighed_again_and_forgotten(self):
        stamps.note(self.db, " k7 ", 49.0)
        stamps.note(self.db, "K7", 49.2)
        self.assertEqual(stamps.masses(self.db), {"K7": 49.2})
        for stamp, mass in (("", 49), ("K" * 21, 49), ("K", 0), ("K", 2000)):
            with self.assertRaises(InvalidValue):
                stamps.note(self.db, stamp, mass)
        stamps.forget(self.db, stamps.all_stamps(self.db)[0].id)
        self.assertEqual(stamps.masses(self.db), {})
        with self.assertRaises(db.NotFound):
            stamps.forget(self.db, 1)
