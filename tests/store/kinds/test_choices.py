"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from jaxel.core.errors import InvalidValue
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit
from jaxel.store.kinds import choices
from tests.store.cases.store_case import StoreCase


class Choices(StoreCase):
    def test_a_choice_is_kept_and_compared(self):
        choices.choose(self.db, "abrasive", Edit("pad", "fine"))
        self.assertEqual(choices.made(self.db), {"abrasive": "fine"})
        with self.assertRaises(Conflict):
            choices.choose(self.db, "abrasive", Edit("pad", "emery"))
        with self.assertRaises(InvalidValue):
            choices.choose(self.db, "abrasive", Edit("fine", "sand"))
