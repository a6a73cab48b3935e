"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

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
