"""The workshop: its name and its people, who are archived and never deleted."""

from jaxel.core.errors import InvalidValue
from jaxel.core.units import METRIC
from jaxel.store import db
from jaxel.store.edits import Edit
from jaxel.store.workshop import workshop
from tests.store.cases.store_case import StoreCase


class Workshop(StoreCase):
    def people(self):
        return [(each.name, each.archived) for each in workshop.get(self.db).people]

    def test_name(self):
        self.assertEqual(workshop.get(self.db), workshop.Workshop("", METRIC, ()))
        workshop.rename(self.db, Edit("", " Fellside "))
        self.assertEqual(workshop.get(self.db).name, "Fellside")
        with self.assertRaises(db.Conflict) as caught:
            workshop.rename(self.db, Edit("", "Other"))
        self.assertEqual((caught.exception.field, caught.exception.theirs), ("name", "Fellside"))
        self.assertRaises(InvalidValue, workshop.rename, self.db, Edit("Fellside", "x" * 121))

    def test_people_come_and_go_and_come_back(self):
        jo = workshop.add_person(self.db, " Jo ", "Ebba")
        workshop.add_person(self.db, "Ada")
        self.assertEqual(self.people(), [("Ada", False), ("Jo", False)])
        workshop.archive(self.db, jo, Edit(False, True))
        self.assertEqual(self.people(), [("Ada", False), ("Jo", True)])
        with self.assertRaisesRegex(InvalidValue, "bring them back"):
            workshop.add_person(self.db, "jo")
        workshop.archive(self.db, jo, Edit(True, False))
        self.assertEqual(self.people(), [("Ada", False), ("Jo", False)])
        workshop.archive(self.db, jo, Edit(True, False))  # sent twice: settles
        self.assertRaises(db.NotFound, workshop.archive, self.db, 99, Edit(False, True))
        self.assertEqual(self.db.execute("SELECT added_by FROM person WHERE id = ?", (jo,)).fetchone()[0], "Ebba")

    def test_names_that_are_none(self):
        workshop.add_person(self.db, "Ada")
        for name, reason in (("", "needs a name"), ("  ", "needs a name"), ("x" * 121, "at most 120"),
                             ("ADA", "works here already"), ("Bench", "nobody has claimed")):  # fmt: skip
            with self.assertRaisesRegex(InvalidValue, reason):
                workshop.add_person(self.db, name)
        self.assertEqual(self.people(), [("Ada", False)])
