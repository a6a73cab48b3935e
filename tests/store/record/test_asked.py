"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit
from jaxel.store.run import road_tests
from jaxel.store.setup import fitting
from jaxel.store.visit import hand_over, intake, visits
from tests.store.cases.store_case import StoreCase


class Asked(StoreCase):
    def test_an_implausible_value_is_not_written_until_the_hand_is_sure(self):
        revision = self.held().set_up.left_revision_id
        run = road_tests.begin(self.db, self.visit, revision)
        for write, value in (
            (lambda edit: intake.change(self.db, self.visit, {"baseline_shift_rpm": edit}), 7.81),
            (lambda edit: belt_checks.measure(self.db, self.visit, 1, edit), 33),
            (lambda edit: belt_checks.change(self.db, self.visit, {"next_width_mm": edit}), 33),
            (lambda edit: fitting.try_numbers(self.db, self.visit, "left", {"load_g.heel": edit}), 25),
            (lambda edit: road_tests.change(self.db, self.visit, run, {"shift_rpm": edit}), 1000),
        ):
            before = self.db.execute("SELECT count(*) FROM visit_log").fetchone()[0]
            was = 0 if value == 25 else None
            with self.subTest(value=value), self.assertRaises(Implausible):
                write(Edit(was, value))
            self.assertEqual(self.db.execute("SELECT count(*) FROM visit_log").fetchone()[0], before)
            write(Edit(was, value, sure=True))
            self.assertGreater(self.db.execute("SELECT count(*) FROM visit_log").fetchone()[0], before)

    def test_what_was_likely_meant_goes_before_what_cannot_be(self):
        with self.assertRaises(Implausible) as caught:
            belt_checks.measure(self.db, self.visit, 1, Edit(None, 1.41))
        self.assertEqual(caught.exception.meant, {"place_1": "1.41 in"})

    def test_the_odometer_of_the_last_visit_counts(self):
        for kilometres in (500, 800):
            self.note(odometer_km=kilometres)
            self.db.execute("UPDATE visit SET signed_off_at = '2026-01-01T00:00:00Z', signed_off_by = 'Jo'")
            self.visit = visits.open_visit(self.db, self.machine)
        with self.assertRaisesRegex(Implausible, "is less than at the last visit"):
            self.note(odometer_km=600)
        self.note(odometer_km=800)

    def test_a_service_that_lies_behind(self):
        self.note(odometer_km=2310)
        with self.assertRaisesRegex(Implausible, "lies behind"):
            hand_over.change(self.db, self.visit, {"next_service_km": Edit(None, 500)})
        hand_over.change(self.db, self.visit, {"next_service_km": Edit(None, 500, sure=True)})
        self.assertEqual(self.held().hand_over.next_service_km, 500)

    def test_what_cannot_be_is_asked_about_and_refused_however_sure(self):
        with self.assertRaisesRegex(Implausible, "narrower than a new belt"):
            belt_checks.measure(self.db, self.visit, 1, Edit(None, 6))
        with self.assertRaises(InvalidValue) as caught:
            belt_checks.measure(self.db, self.visit, 1, Edit(None, 6, sure=True))
        self.assertIn("too narrow to be gripped", caught.exception.reason)
        self.assertEqual(self.held().widths_mm, {})
