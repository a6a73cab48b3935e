"""What the planner's first look hands on to be worked out."""

import unittest

import numpy as np

from jaxel.core.trade.shelf.planner import plan
from tests.core.shelf.test_planner import HIGH, MEASURED, stock, weights


class FirstLook(unittest.TestCase):
    def test_the_first_look_ranks_as_the_last(self):
        # Many helixes, of which the screen hands on a few: the likeliest by the change as it is told is among them.
        helixes = [{"name": f"{deg}", "angles": [{"travel_mm": 0, "deg": deg}]} for deg in np.arange(34.0, 46.0, 0.2)]
        few, every = (plan(HIGH, stock(helixes=helixes), MEASURED, top).answers for top in (1, 70))
        self.assertAlmostEqual(few[0].probability, max(each.probability for each in every), delta=0.02)
        # And by blemishes: sets that are likelier but less straight than asked and than now keep no better one out.
        asked = {
            "spread_rpm": 20.0,
            "shift_rpm": 7520.0,
            "shift_tolerance_rpm": 220.0,
            "engagement_tolerance_rpm": 2000.0,
        }
        tight = HIGH.model_copy(update={"target": HIGH.target.model_copy(update=asked)})
        answer = plan(tight, stock(weights=weights(*np.arange(50.0, 66.0, 0.25).tolist())), MEASURED, 1).answers[0]
        self.assertEqual(answer.merit, answer.probability)
