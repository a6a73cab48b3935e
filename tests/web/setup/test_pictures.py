"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

import json

from jaxel.core.trade.setup.picture import clutch_picture
from jaxel.core.trade.setup.prediction import predicted
from tests.web.cases.set_up_bench_case import Case


class Pictures(Case):
    def test_both_clutches_are_the_cores(self):
        self.send("PATCH", "/setup/slots", which="left", slots={"arm_mass_g": "58"})
        found = self.sent("GET", f"{self.at}/setup/picture")
        _, visit = self.stored()
        for side, document in (("found", visit.as_found()), ("left", visit.as_left())):
            wanted = clutch_picture(document, predicted(document, backshift=True))
            self.assertEqual(found[side], json.loads(wanted.model_dump_json()))

    def test_a_preview_is_quick_without_its_band_and_whole_with_it(self):
        body = {"numbers": {"arm_mass_g": "58"}}
        quick = self.sent("POST", f"{self.at}/setup/preview", body | {"banded": False})
        whole = self.sent("POST", f"{self.at}/setup/preview", body | {"banded": True})
        self.assertIsNone(quick["figures"]["band"])
        self.assertGreater(whole["figures"]["band"]["mean_rpm"], 0)
        self.assertAlmostEqual(quick["figures"]["shift"]["mean_rpm"], whole["figures"]["shift"]["mean_rpm"], delta=0.2)
        self.assertEqual((quick["picture"], whole["picture"]["mass_g"]), (None, 58))
        self.assertNotEqual(quick["figures"]["key"], whole["figures"]["key"])
