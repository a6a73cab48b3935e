"""Belt, strip, guide, parts and dues over HTTP: what is shown is the core's, and nonsense is refused by its field."""

from tests.web.cases.api_case import ApiCase


class Case(ApiCase):
    def setUp(self):
        super().setUp()
        kinds = {"primary_kind": "tower-and-button-primary", "secondary_kind": "bolt-in-helix-secondary"}
        self.send("PATCH", "/kinds", **kinds)
        self.at = f"/api/visits/{self.visit['id']}"
        # What this made-up machine's manual lets an arm's bushing wear: no kind has a limit of its own.
        limit = {"item": "arm_bushing", "value": "0.4", "origin": "manual", "machine_id": self.visit["machine"]["id"]}
        self.sent("POST", "/api/guide/kinds/tower-and-button-primary/limits", limit, 201)

    def sent(self, method, path, body, status=200):
        answer = self.client.open(path, method=method, json=body)
        self.assertEqual(answer.status_code, status, answer.text)
        return answer.json

    def say(self, side, item, **values):
        body = {name: {"was": {"overruled": None}.get(name, ""), "now": value} for name, value in values.items()}
        return self.sent("PATCH", f"{self.at}/strip/items/{side}/{item}", body)

    def read(self, side, item, place, value, status=200):
        body = {"place": place, "was": None, "now": value}
        return self.sent("PUT", f"{self.at}/strip/items/{side}/{item}/reading", body, status)

    def item(self, view, key):
        return next(each for each in view["strip"]["items"] if each["key"] == key)
