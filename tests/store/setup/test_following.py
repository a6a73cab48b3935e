"""What is found put right after a change was recorded: slots nobody changed follow, whichever click came first."""

from jaxel.core.trade.setup.slots import changes, numbers
from jaxel.store.edits import undo
from jaxel.store.machine import machines
from jaxel.store.run import road_tests
from jaxel.store.setup import revisions
from jaxel.store.visit import pages, visits
from tests.examples import example, read
from tests.store.cases.store_case import StoreCase


class Following(StoreCase):
    """The arms on the machine are lighter than on record; the spring is what is changed."""

    def setUp(self):
        super().setUp()
        known = numbers(self.held().as_found())
        self.arms = known["arm_mass_g"].value
        self.spring = "primary_start_n"
        self.stood = known[self.spring].value

    def find(self):
        self.try_out("found", arm_mass_g=self.arms - 5.9)
        self.confirm()

    def change(self):
        self.try_out(**{self.spring: self.stood + 20})
        self.record("stiffer start")

    def shown(self):
        held = self.held()
        return {(each.slot.key, each.found, each.left) for each in changes(held.found, held.left, held.kinds)}

    def masses(self):
        held = self.held()
        return [numbers(each)["arm_mass_g"].value for each in (held.found, held.left)]

    def test_the_order_of_two_clicks_changes_nothing(self):
        self.find()
        self.change()
        one, document = self.shown(), self.held().left
        self.visit = visits.open_visit(self.db, self.again())
        self.change()
        self.find()
        self.assertEqual(self.shown(), one)
        self.assertEqual(self.held().left.primary, document.primary)
        self.assertEqual(self.masses(), [self.arms - 5.9] * 2)

    def again(self):
        return machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Maren")

    def test_runs_go_with_it_and_are_scored_no_more(self):
        self.change()
        self.ride(engagement_rpm=4000.0, shift_rpm=7800.0)
        predicted = self.held().runs[0].predicted
        self.assertEqual(len(road_tests.scored(self.db)), 1)
        self.find()
        (run,) = self.held().runs
        self.assertEqual((run.predicted, run.set_aside), (predicted, "set-up corrected since"))
        self.assertEqual(self.held().ridden(run), self.held().set_up.left_revision_id)
        self.assertEqual(road_tests.scored(self.db), [])
        undo(self.db, self.visit, "Jo")
        (run,) = self.held().runs
        self.assertEqual((run.set_aside, len(road_tests.scored(self.db))), ("", 1))
        self.assertEqual(self.masses(), [self.arms] * 2)

    def test_every_set_up_of_the_visit_follows(self):
        self.change()
        first = self.held().set_up.left_revision_id
        self.try_out(arm_mass_g=self.arms + 1)
        self.record("heavier arms too")
        self.find()
        held = self.held()
        self.assertEqual(self.masses(), [self.arms - 5.9, self.arms + 1])  # changed by a hand: it stays
        parent = revisions.get(self.db, held.set_up.left_revision_id).parent_id or 0
        self.assertNotEqual(parent, first)
        between = revisions.get(self.db, parent).document
        self.assertEqual(numbers(between)["arm_mass_g"].value, self.arms - 5.9)
        self.assertEqual(numbers(between)[self.spring].value, self.stood + 20)

    def test_what_is_only_tried_is_on_no_page(self):
        self.try_out(**{self.spring: self.stood + 20})
        self.assertEqual(self.told(), ["nothing"])
        self.record("stiffer start")
        self.assertEqual(self.told()[-1], "stiffer start")

    def told(self):
        (row,) = (each for each in pages.page(self.db, self.held()).rows if each.key == "changed")
        return [line.words for line in row.lines]
