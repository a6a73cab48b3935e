"""Lists: the shop floor, a machine's visits and set-ups in pages, and what is looked for."""

from dataclasses import replace
from math import pi

from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.kinds.schools import questions
from jaxel.core.trade.visit.stations import open_items
from jaxel.store import db, edits
from jaxel.store.edits import Edit
from jaxel.store.kinds import choices
from jaxel.store.machine import machines, upkeep
from jaxel.store.record import facts
from jaxel.store.setup import predictions, revisions
from jaxel.store.visit import floor, open_visits, past, visits
from tests.examples import example, read
from tests.store.cases.store_case import StoreCase


class Floor(StoreCase):
    def test_says_of_every_machine_what_its_visit_says(self):
        machines.bring_in(self.db, read(example("trail-sled")), "sled", "Edvin")
        self.note(complaint="bogs", odometer_km=2310.0)
        self.measure(1, 36.0)
        self.try_out(shim_mm=0.5)
        resting, waiting = floor.machines_on_floor(self.db)
        self.assertEqual((resting.machine.rider, resting.visit), ("Edvin", None))
        held = self.held().record()
        # What new parts should read is left out of a list: it changes no open item.
        self.assertEqual(replace(held, inspection=waiting.visit.record.inspection), waiting.visit.record)
        self.assertEqual(open_items(waiting.visit.record), open_items(held))
        self.assertEqual(len(open_items(waiting.visit.record)), 9)
        self.assertEqual((waiting.visit.id, waiting.revision_id), (self.visit, 1))
        kept = revisions.figures_of(predictions.kept(self.db, self.held().found))
        self.assertEqual((waiting.engagement_rpm, waiting.shift_rpm, waiting.figures_kept),
                         (kept.engagement_rpm, kept.shift_rpm, True))  # fmt: skip

    def test_a_signed_visit_is_off_the_floor(self):
        self.complete()
        self.sign()
        (machine,) = floor.machines_on_floor(self.db)
        self.assertIsNone(machine.visit)

    def test_what_was_said_of_a_machine_is_found(self):
        self.note(complaint="Bogs at 50 % on_a climb up Straße 5, says Åse", odometer_km=2310.4)
        there = ("bogs", "BOGS", "2310", "50 %", "on_a", "åse", "ÅSE", "straße", "Straße")
        for word in (*there, "onxa", "øse", "%%", "2311"):
            found = word in there
            self.assertEqual(floor.machines_visited(self.db, word), {self.machine} if found else set(), word)


class Pages(StoreCase):
    def test_visits_newest_first_in_pages(self):
        numbers = [self.visit]
        for _ in range(4):
            self.complete()
            self.sign()
            self.visit = visits.open_visit(self.db, self.machine)
            numbers.append(self.visit)
        lines = past.lines_of(self.db, self.machine)
        self.assertEqual([line.id for line in lines], numbers[::-1])
        self.assertEqual((lines[0].mean_width_mm, lines[1].mean_width_mm, lines[1].complaint), (None, 36.0, "bogs"))
        # What was done, as its page keeps it; of one that is open nothing.
        self.assertEqual((lines[0].done, lines[1].done), ((), ("Belt off and on again: as it came off",)))
        page = past.lines_of(self.db, self.machine, before=lines[1].id, limit=2)
        self.assertEqual([line.id for line in page], numbers[1:3][::-1])

    def test_setups_newest_first_in_pages_with_their_last_run(self):
        self.complete()
        for mass in (59.0, 58.0, 57.0):
            self.try_out(arm_mass_g=mass)
            self.record(f"to {mass}")
        self.ride(shift_rpm=7900.0)
        self.ride(shift_rpm=7910.0)
        masses = [each.document.primary.weights.base_mass_g for each in revisions.history(self.db, self.machine)]
        self.assertEqual(masses, [57.0, 58.0, 59.0, 60])
        page = revisions.history(self.db, self.machine, before=3, limit=1)
        self.assertEqual([each.reason for each in page], ["to 59.0"])
        runs = past.last_runs(self.db, [1, 2, 3, 4])
        self.assertEqual({key: run.shift_rpm for key, (run, _) in runs.items()}, {1: 7800, 4: 7910})
        self.assertEqual(
            [each.reason for each in revisions.of_visit(self.db, self.visit)], ["to 59.0", "to 58.0", "to 57.0"]
        )

    def test_figures_are_kept_with_a_revision(self):
        (revision,) = revisions.history(self.db, self.machine)
        kept = revisions.figures(self.db, [revision])
        predicted = predict(revision.document.core())
        self.assertAlmostEqual(kept[revision.id].engagement_rpm, predicted.engagement.bite * 30 / pi, delta=0.06)
        self.assertAlmostEqual(kept[revision.id].shift_rpm, predicted.shift.mean * 30 / pi, delta=0.06)
        revisions.keep_figures(self.db, {revision.id: revisions.Figures(1.0, 3.0, 4.0, 2.0)})
        self.assertEqual(revisions.figures(self.db, [revision]), kept)


class Remembered(StoreCase):
    def remembered(self):
        return open_visits.open_visits(self.db)[self.machine].record

    def test_a_record_is_read_again_when_something_it_depends_on_has_changed(self):
        held = self.remembered()
        self.assertIs(self.remembered(), held)

        def limit():
            with db.writing(self.db):
                facts.state(self.db, "item", "buttons", 0.4, "manual", "Jo", machine_id=self.machine,
                            kind="tower-and-button-primary")  # fmt: skip

        for name, change in (
            ("the visit", lambda: self.note(complaint="bogs")),
            ("its belt", lambda: self.measure(1, 35.9)),
            ("a school", lambda: choices.choose(self.db, "break_in", Edit(self.school(), self.another()), "Jo")),
            ("a limit", limit),
            ("the machine", lambda: upkeep.change(self.db, self.machine, {"tyre": Edit("", "129 in")}, "Jo")),
            ("undone", lambda: edits.undo(self.db, self.visit, "Jo")),
        ):
            with self.subTest(name):
                change()
                fresh = self.remembered()
                self.assertIsNot(fresh, held)
                self.assertIs(self.remembered(), fresh)
                held = fresh
        self.assertEqual(held.intake.complaint, "bogs")
        self.assertEqual(held.widths_mm, {})

    def school(self):
        return choices.made(self.db).get("break_in", questions()["break_in"].default)

    def another(self):
        return next(each.key for each in questions()["break_in"].schools if each.key != self.school())
