"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

from tests.examples import example
from tests.web.cases.api_case import ApiCase, left


class Refusals(ApiCase):
    def test_fields(self):
        cases = [
            ("PATCH", "/intake", {"odometer_km": "far"}, "odometer_km", "is not a number"),
            ("PATCH", "/intake", {"odometer_km": -1}, "odometer_km", "at least 0"),
            ("PATCH", "/intake", {"target_shift_rpm": ""}, "target_shift_rpm", "must be a number"),
            ("PATCH", "/intake", {"temperature_c": 200}, "temperature_c", "at most 60"),
            ("PATCH", "/intake", {"humidity_pct": True}, "humidity_pct", "must be a number"),
            ("PATCH", "/intake", {"colour": "red"}, "colour", "not a field"),
            ("PATCH", "/intake", {"riding": "flying"}, "riding", "must be"),
            ("PATCH", "/intake", {"complaint": "x" * 2001}, "complaint", "at most 2000 characters"),
            ("PUT", "/belt/reading", {"place": 1, "now": 37.6}, "place_1", "wider than the new belt"),
            ("PUT", "/belt/reading", {"place": 2, "now": "6", "sure": True}, "place_2", "too narrow to be gripped"),
            ("PUT", "/belt/reading", {"place": 2, "now": "0"}, "now", "above 0"),
            ("PUT", "/belt/reading", {"place": 13, "now": 36}, "place", "at most 12"),
            ("PATCH", "/setup/slots", left("arm_mass_g", "60/61/60"), "arm_mass_g", "unequal"),
            ("PATCH", "/setup/slots", left("arm_mass_g", "60 / 60"), "arm_mass_g", "all 3"),
            ("PATCH", "/setup/slots", left("arm_mass_g", ""), "arm_mass_g", "needs a number"),
            ("PATCH", "/setup/slots", left("helix_deg.0", "steep"), "helix_deg.0", "not a number"),
            ("PATCH", "/runs/9", {"shift_rpm": {"now": 7000}}, "address", "no such road test"),
        ]  # fmt: skip
        edit = self.visit["edit"]
        for method, path, body, field, reason in cases:
            with self.subTest(path=path, body=body):
                status = 404 if field == "address" else 422
                self.refused(self.send(method, path, **body), status, field, reason)
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}").json["edit"], edit)

    def test_documents(self):
        for data, status, field in (
            (b"", 422, "document"), (b"[" * 100_000, 422, "document"), (b"\xff\xfe", 422, "document"),
            (b'{"format": "jaxel-setup", "version": 1}', 422, "name"), (b"x" * 1_200_000, 413, "document"),
        ):  # fmt: skip
            answer = self.bring_in(data)
            self.refused(answer, status, field, ".")
        self.refused(self.bring_in(example("mountain-sled"), "kind=boat"), 422, "kind", "sled")
        self.assertEqual(len(self.client.get("/api/floor").json["machines"]), 1)

    def test_addresses(self):
        for path in ("/api/machines/99", "/api/visits/99", "/api/revisions/99/document", "/api/nothing", "/anything"):
            self.assertEqual(self.client.get(path).status_code, 404, path)
        self.assertEqual(self.client.get("/api/visits/" + "9" * 30).status_code, 422)
        self.assertEqual(self.client.post("/api/floor").status_code, 405)

    def test_broken_bodies(self):
        address = f"/api/visits/{self.visit['id']}/intake"
        for body in (b"", b"null", b"[]", b'"text"', b"{", b"[" * 100_000, b'{"odometer_km": {"now": 1e999}}',
                     b'{"odometer_km": {"now": NaN}}', b'{"complaint": {"now": "\\ud800"}}', b'{"complaint": 7}',
                     b'{"odometer_km": {"now": ' + b"9" * 5000 + b"}}"):  # fmt: skip
            answer = self.client.patch(address, data=body, content_type="application/json")
            self.assertEqual(answer.status_code, 422, (body[:30], answer.text))
