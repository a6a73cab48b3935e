"""What a page asks at first glance: which machines, where a figure comes from, photos in order, answers made small."""

import gzip
import json

from tests.store.cases.any_machine_case import picture
from tests.web.cases.api_case import ApiCase


class Floor(ApiCase):
    def names(self, **query):
        answer = self.client.get("/api/floor", query_string=query, headers=query.pop("headers", {}))
        self.assertEqual(answer.status_code, 200, answer.text)
        return [each["machine"]["name"] for each in answer.json["machines"]]

    def test_by_station_hand_and_age(self):
        quad = {"machine": "quad", "primary_kind": "roller-variator-primary", "name": "Quad", "complaint": "Slow"}
        self.client.post("/api/bring-in", json=quad, headers={"Jaxel-Hand": "Ebba"})
        sled = self.names()[-1] if self.names()[0] == "Quad" else self.names()[0]
        self.assertEqual(self.names(hand="Ebba"), ["Quad"])
        self.assertEqual(set(self.names(station="intake")), {"Quad", sled})
        self.assertEqual(self.names(station="rebuild"), [])
        self.assertEqual(self.names(days=2), [])
        self.assertEqual(self.names(due=True), [])
        self.assertEqual(self.client.get("/api/floor").json["hands"], ["Ebba", "bench"])

    def test_what_a_hand_has_in_hand_comes_first(self):
        for name, hand in (("A quad", "Jo"), ("Z quad", "Ebba")):
            body = {"machine": "quad", "name": name, "complaint": "Slow"}
            self.client.post("/api/bring-in", json=body, headers={"Jaxel-Hand": hand})
        first = self.client.get("/api/floor", headers={"Jaxel-Hand": "Ebba"}).json["machines"][0]
        self.assertEqual((first["machine"]["name"], first["visit"]["hand"]), ("Z quad", "Ebba"))

    def test_nonsense_is_refused_by_its_field(self):
        for query, field in (({"station": "moon"}, "station"), ({"days": -1}, "days"), ({"due": "perhaps"}, "due")):
            answer = self.client.get("/api/floor", query_string=query)
            self.assertEqual((answer.status_code, answer.json["error"]["field"]), (422, field))


class WhereFrom(ApiCase):
    def test_formula_and_shares_in_the_hand_s_units(self):
        body = {"machine": "sled", "primary_kind": "tower-and-button-primary", "complaint": "Slow"}
        visit = self.client.post("/api/bring-in", json=body).json["visit_id"]
        found = self.client.get(f"/api/visits/{visit}/setup/where-from").json
        self.assertIn("the weights' push", found["formulas"]["engagement"])
        spring = next(each for each in found["shares"] if each["name"] == "primary spring, start")
        self.assertEqual((spring["value"], spring["origin"]), ("540 ± 65 N", "typical"))
        self.assertGreater(spring["engagement"], 0.25)
        self.assertTrue(found["evidenced"])


class Altitude(ApiCase):
    def test_a_height_asked_for_stands_among_the_others(self):
        at = f"/api/visits/{self.visit['id']}/setup/altitude"
        found = self.client.get(at, query_string={"slot": "arms", "at": "5,500 ft"}).json
        heights = [row["elevation_m"] for row in found["table"]["rows"]]
        self.assertEqual(heights, sorted(heights))
        # 5,500 ft of 0.3048 m.
        self.assertIn(1676.4, heights)
        self.assertEqual(found["also_m"], 1676.4)
        self.assertGreater(found["shift_sd_rpm"], 0)
        self.refused(self.client.get(at, query_string={"at": "up"}), 422, "at", "is not a number")


class Photographed(ApiCase):
    def test_in_order_drawn_on_and_told_what_they_are_of(self):
        add = f"/api/machines/{self.machine}/photos?visit_id={self.visit['id']}&subject=belt"
        for _ in range(2):
            self.assertEqual(self.client.post(add, data=picture(), content_type="image/jpeg").status_code, 201)
        at = f"/api/visits/{self.visit['id']}/photos"
        first, second = self.client.get(at).json["photos"]["belt"]
        self.assertEqual((first["place"], second["place"]), (1, 2))
        mark = {"kind": "arrow", "x1": 0.1, "y1": 0.2, "x2": 0.5, "y2": 0.5}
        changes = {"place": {"was": 2, "now": 1}, "marks": {"was": [], "now": [mark]}}
        answer = self.client.patch(f"/api/photos/{second['id']}", json=changes)
        self.assertEqual(answer.status_code, 200, answer.text)
        found = self.client.get(at).json["photos"]["belt"]
        self.assertEqual([each["id"] for each in found], [second["id"], first["id"]])
        self.assertEqual(found[0]["marks"], [mark])
        for marks in ([{**mark, "x2": 1.1}], [{**mark, "kind": "star"}], [mark] * 13, "arrow"):
            refused = self.client.patch(f"/api/photos/{first['id']}", json={"marks": {"was": [], "now": marks}})
            self.assertEqual(refused.status_code, 422, refused.text)


class Pressed(ApiCase):
    def test_a_large_answer_comes_pressed_where_it_is_taken_so(self):
        at = f"/api/visits/{self.visit['id']}"
        plain = self.client.get(at)
        pressed = self.client.get(at, headers={"Accept-Encoding": "gzip"})
        self.assertNotIn("Content-Encoding", plain.headers)
        self.assertEqual((pressed.headers["Content-Encoding"], pressed.vary.to_header()), ("gzip", "Accept-Encoding"))
        self.assertEqual(json.loads(gzip.decompress(pressed.data)), plain.json)
        self.assertLess(len(pressed.data), len(plain.data) / 3)
        small = self.client.get("/api/health", headers={"Accept-Encoding": "gzip"})
        self.assertNotIn("Content-Encoding", small.headers)
