"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

from jaxel.store.db import connect
from jaxel.store.visit import visits
from tests.web.cases.api_case import ApiCase

SHEET = """number,kind,make,pieces,price,base_mass_g,force_start_n,force_finish_n,travel_mm,mass_g,members
A-57,arm,Brackholm,6,62,57/57.1/56.9,,,,,
A-61,arm,Brackholm,3,62,61,,,,,
PS-1,primary spring,Brackholm,1,54,,640,1390,30,,
L-15,load,Brackholm,12,1.5,,,,,1.5,
KT-1,kit,Brackholm,1,140,,,,,,A-57; PS-1
"""


class Case(ApiCase):
    def setUp(self):
        super().setUp()
        self.at = f"/api/visits/{self.visit['id']}"
        report = self.taken_in(SHEET)["report"]
        self.assertEqual((report["added"], report["refused"]), (5, []))
        self.parts = {each["number"]: each["id"] for each in report["parts"]["parts"]}

    def sent(self, method, path, body=None, status=200):
        answer = self.client.open(path, method=method, json=body)
        self.assertEqual(answer.status_code, status, answer.text[:2000])
        return answer.json

    def taken_in(self, text):
        """A stock sheet taken in, once it has ended."""
        found = self.sent("POST", "/api/sheets", {"text": text}, 202)
        while found["state"] in ("waiting", "working"):
            found = self.sent("GET", f"/api/sheets/{found['job']}")
        return found

    def fill(self, *fills, whole=False, status=200):
        draft = self.client.get(self.at).json["setup"]["draft"]
        filled = [{"slot": slot, "part": part} for slot, part in fills]
        body = {"fills": filled, "draft": draft, "whole": whole}
        return self.sent("POST", f"{self.at}/setup/fill", body, status)

    def stored(self):
        db = connect(self.app.config["DATABASE"])
        self.addCleanup(db.close)
        return db, visits.get(db, self.visit["id"])
