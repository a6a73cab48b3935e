"""A change logged before its field moved is still told; its undo is refused in words."""

from jaxel.store import edits
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit
from jaxel.store.visit import intake, visit_log
from tests.store.cases.store_case import StoreCase


class Moved(StoreCase):
    def test_told_and_not_put_back(self):
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")}, "Jo")
        before = self.held().edit
        with edits.changing(self.db, self.visit, "Jo") as desk:
            desk.note("intake", self.visit, "grumble", "", "bogs")  # as a version logged it that kept it there
        (change,) = visit_log.after(self.db, self.held(), before)
        (line,) = change.lines
        self.assertEqual((line.what, line.was, line.now), ("intake, grumble", "", "“bogs”"))
        with self.assertRaisesRegex(Conflict, "kept elsewhere since"):
            edits.undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().intake.complaint, "bogs")

    def test_nothing_of_a_change_is_put_back_where_part_of_it_moved(self):
        with edits.changing(self.db, self.visit, "Jo") as desk:
            desk.write("intake", self.visit, {"complaint": Edit("", "bogs")})
            desk.note("intake", self.visit, "grumble", "", "bogs")
        self.assertRaises(Conflict, edits.undo, self.db, self.visit, "Jo")
        self.assertEqual(self.held().intake.complaint, "bogs")
