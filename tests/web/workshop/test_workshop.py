"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

import csv
import io
from datetime import UTC, datetime, timedelta

from tests.web.cases.api_case import ApiCase


class TheWorkshop(ApiCase):
    def test_name_and_people(self):
        send = self.client
        held = send.get("/api/workshop").json
        self.assertEqual((held["name"], held["people"]), ("", []))
        self.assertEqual(send.patch("/api/workshop/name", json={"was": "", "now": "Fellside"}).json["name"], "Fellside")
        self.refused(send.patch("/api/workshop/name", json={"was": "", "now": "Other"}), 409, "name", "elsewhere")
        (person,) = send.post("/api/workshop/people", json={"name": "Jörn"}).json["people"]
        self.assertEqual((person["name"], person["archived"]), ("Jörn", False))
        self.refused(send.post("/api/workshop/people", json={"name": " "}), 422, "name", "needs a name")
        path = f"/api/workshop/people/{person['id']}/archived"
        self.assertTrue(send.patch(path, json={"was": False, "now": True}).json["people"][0]["archived"])
        self.refused(
            send.patch("/api/workshop/people/9/archived", json={"now": True}), 404, "address", "no such person"
        )
        self.refused(send.patch(path, json={"now": "gone"}), 422, "now", "true or false|boolean")

    def test_a_wrench_is_overdue_from_the_day_after(self):
        today = datetime.now(UTC).date()
        for days, overdue in ((-1, True), (0, False), (1, False)):
            due = (today + timedelta(days=days)).isoformat()
            body = {"name": f"W{days}", "low": "10", "high": "80", "step": "0.5", "due_on": due}
            held = self.client.post("/api/wrenches", json=body).json["wrenches"]
            (found,) = (each for each in held if each["name"] == f"W{days}")
            self.assertEqual(found["overdue"], overdue, due)

    def test_the_log_in_words_and_as_a_table(self):
        self.client.post("/api/parts", json={"number": "=1+1", "kind": "arm"}, headers={"Jaxel-Hand": "Maren"})
        part = self.client.get("/api/parts").json["parts"][0]["id"]
        for field, was, now in (("price", None, "12.5"), ("life_km", None, "4000 km")):
            self.client.patch(f"/api/parts/{part}", json={field: {"was": was, "now": now}})
        found = self.client.get("/api/workshop/log?of=part").json
        told = [(each["by"], each["name"], each["field"], each["was"], each["now"]) for each in found["lines"]]
        self.assertEqual(told[:2], [("bench", "=1+1", "life", "", "4,000 km"), ("bench", "=1+1", "price", "", "12.5")])
        self.assertEqual((told[2][0], told[2][2], told[2][4]), ("Maren", "added", "kind arm; pack 1"))
        self.assertEqual((found["older"], found["hands"]), (False, ["Maren", "bench"]))
        first = self.client.get("/api/workshop/log?of=part&limit=2").json
        self.assertTrue(first["older"])
        older = self.client.get(f"/api/workshop/log?of=part&before={first['lines'][-1]['id']}").json
        self.assertEqual([each["field"] for each in older["lines"]], ["added"])
        table = self.client.get("/api/workshop/log.csv?of=part").text
        line, *rows = csv.reader(io.StringIO(table))
        self.assertEqual((line, rows[0][:3]), (["# jaxel-log 1"], ["line", "at", "by"]))
        self.assertEqual([row[4] for row in rows[1:]], ["'=1+1"] * 3)
        self.assertEqual([row[7] for row in rows[2:]], ["12.5", "4000.0"])
