"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

from jaxel.core.words import told as plain
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit, undo
from jaxel.store.machine import machines
from jaxel.store.run import road_tests
from jaxel.store.visit import hand_over, intake, visit_log
from tests.store.cases.store_case import StoreCase


class Log(StoreCase):
    """The visit's log in the trade's words."""

    def lines(self, after=0):
        changes = visit_log.after(self.db, self.held(), after)
        return [(plain(line.what), plain(line.was), plain(line.now)) for change in changes for line in change.lines]

    def test_each_thing_in_words(self):
        intake.change(self.db, self.visit, {"odometer_km": Edit(None, 2310.0), "complaint": Edit("", "bogs")}, "Jörn")
        self.measure(2, 36.0)
        self.measure(2, 35.9)
        self.try_out(arm_mass_g=58)
        self.record("thin air")
        revision = self.held().set_up.left_revision_id
        run = road_tests.begin(self.db, self.visit, revision)
        road_tests.change(self.db, self.visit, run, {"shift_rpm": Edit(None, 7880)})
        hand_over.change(self.db, self.visit, {"watch": Edit("", "x" * 200)})
        self.assertEqual(self.lines(), [
            ("odometer", "", "2,310 km"), ("complaint", "", "“bogs”"),
            ("belt width at place 2", "", "36 mm"), ("belt width at place 2", "36 mm", "35.9 mm"),
            ("Arms, each of 3", "", "58 g"), ("change recorded as fitted", "", ""),
            ("run begun", "", ""), ("run 1, shift", "", "7,880 rpm"), ("what to watch", "", f"“{'x' * 79}…”"),
        ])  # fmt: skip
        undo(self.db, self.visit, "Jo")
        self.assertEqual(visit_log.last(self.db, self.held()).lines[0].what, "run 1, shift")

    def test_a_kind_and_a_belt_by_their_names(self):
        intake.state_kinds(self.db, self.visit, {"primary_kind": Edit(None, "loaded-arm-primary")})
        self.db.execute("INSERT INTO belt (machine_id, number, state, width_mm) VALUES (?, 7, 'spare', 36)",
                        (self.machine,))  # fmt: skip
        spare = machines.belts(self.db, self.machine)[-1].id
        belt_checks.change(self.db, self.visit, {"next_belt_id": Edit(None, spare)})
        self.assertEqual(self.lines()[:2], [("kind of primary", "", "“Loaded-arm primary”"),
                                            ("spare belt going on", "", "“belt 7”")])  # fmt: skip

    def test_what_is_tried_against_what_is_recorded(self):
        self.try_out(arm_mass_g=58)
        self.assertEqual(self.lines(), [("Arms, each of 3", "60 g", "58 g")])

    def test_after_an_edit_and_by_whom(self):
        self.note(complaint="one")
        edit = self.held().edit
        intake.change(self.db, self.visit, {"complaint": Edit("one", "two")}, "Jörn")
        (change,) = visit_log.after(self.db, self.held(), edit)
        self.assertEqual((change.edit, change.by, change.lines[0].station), (edit + 1, "Jörn", "intake"))
        self.assertEqual(self.lines(edit), [("complaint", "“one”", "“two”")])
