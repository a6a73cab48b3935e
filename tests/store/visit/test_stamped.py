"""Stamped needs what is stamped: without a new figure the one on record is asked about."""

from jaxel.core.errors import Implausible
from jaxel.store.edits import Edit
from jaxel.store.visit import intake
from tests.store.cases.store_case import StoreCase


class Stamped(StoreCase):
    def say(self, origin, **sure):
        intake.say_origin(self.db, self.visit, "arms", Edit(None, origin, **sure))

    def test_it_asks_for_the_figure_or_that_the_one_on_record_is_it(self):
        with self.assertRaises(Implausible) as caught:
            self.say("stamped")
        self.assertEqual(caught.exception.field, "origin_arms")
        self.assertIn("stamped with what?", caught.exception.reason)
        self.assertEqual(self.held().set_up.found_origins, {})
        self.say("stamped", sure=True)
        self.assertEqual(self.held().set_up.found_origins, {"arms": "stamped"})

    def test_a_figure_just_typed_is_what_is_stamped(self):
        self.try_out("found", arm_mass_g=58.0)
        self.say("stamped")
        self.assertEqual(self.held().set_up.found_origins, {"arms": "stamped"})

    def test_measured_asks_nothing(self):
        self.say("measured")
        self.assertEqual(self.held().set_up.found_origins, {"arms": "measured"})
