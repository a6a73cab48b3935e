"""Faults as found, how each slot is known, and what a visit's scope asks for."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.setup.worth import variances
from jaxel.core.trade.stranger.label import clutch_label
from jaxel.core.trade.stranger.origins import origins, with_origins
from jaxel.core.units import IMPERIAL
from tests.core.cases.as_found_case import CAM


class Known(unittest.TestCase):
    def test_unknown_widens_and_measured_narrows(self):
        def deviation(origin):
            return variances(with_origins(CAM, {"arms": origin})).deviation()[1]

        plain = variances(CAM).deviation()[1]
        self.assertLess(deviation("measured"), plain - 50)
        self.assertLess(deviation("stamped"), plain)
        self.assertAlmostEqual(deviation("unknown"), plain, delta=1)  # a stranger's weights are unknown already
        exact = CAM.model_copy(update={"evidence": {}})
        self.assertGreater(variances(with_origins(exact, {"arms": "unknown"})).deviation()[1],
                           variances(exact).deviation()[1] + 50)  # fmt: skip

    def test_the_weakest_of_a_slot_is_said(self):
        known = with_origins(CAM, {"primary_spring": "measured"})
        self.assertEqual(origins(known)["primary_spring"], "measured")
        part = dict(known.evidence)
        del part["primary.spring.force_finish_n"]
        self.assertEqual(origins(known.model_copy(update={"evidence": part}))["primary_spring"], "typical")
        with self.assertRaises(InvalidValue):
            with_origins(CAM, {"arms": "hearsay"})

    def test_a_label_reads_in_the_hand_s_units(self):
        exact = CAM.model_copy(update={"evidence": None})
        lines = clutch_label("Clutch K7", exact, identity={"taper": "30 mm", "stamp": ""}, units=IMPERIAL)
        self.assertEqual(lines[0:2], ["Clutch K7", "taper 30 mm"])
        self.assertIn("Primary spring 165.2 lbf / 317 lbf, as recorded", lines)
        self.assertIn("Arms 3 × 59.5 g, as recorded", lines)
