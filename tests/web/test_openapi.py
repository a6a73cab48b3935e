"""The API's own description is valid, and what the server answers is what it describes."""

import json
import re

import jsonschema
from openapi_spec_validator import OpenAPIV31SpecValidator

from tests.examples import changed, example
from tests.web.test_api import ApiCase


class Description(ApiCase):
    def setUp(self):
        super().setUp()
        # As it is written to a file: the front end's types are made from this.
        self.description = json.loads(json.dumps(self.app.api_doc))

    def test_is_valid(self):
        # openapi-spec-validator (PyPI), OpenAPI 3.1.
        OpenAPIV31SpecValidator(self.description).validate()

    def answers(self):
        """Every address asked for with what a page sends, refusals among them: (method, address, answer)."""
        client, visit = self.client, self.visit["id"]
        asked = []

        def ask(method, path, status, **options):
            answer = client.open(path, method=method, **options)
            self.assertEqual(answer.status_code, status, (method, path, answer.text))
            asked.append((method, path.split("?")[0], answer))
            return answer

        document = json.dumps(changed(example("quad"), "name", "Quad"))
        ask("POST", "/api/machines?kind=quad", 201, data=document, content_type="application/json")
        ask("POST", "/api/machines?kind=quad", 422, data="{}", content_type="application/json")
        ask("POST", "/api/machines?kind=quad", 415, data="{}", content_type="text/plain")
        ask("POST", "/api/machines/2/visits", 201, json={})
        ask("POST", "/api/machines/2/visits", 409, json={})
        for path in ("/api/floor", "/api/floor?find=quad", "/api/machines/1", "/api/machines/1/visits", "/api/workshop",
                     "/api/machines/1/setups", "/api/revisions/1/document", f"/api/visits/{visit}",
                     f"/api/visits/{visit}/setup/steps", f"/api/visits/{visit}/setup/strip",
                     f"/api/predictions/{self.visit['left']['key']}"):  # fmt: skip
            ask("GET", path, 200)
            ask("GET", path, 403, headers={"Host": "elsewhere.example"})
        for path in ("/api/machines/9", "/api/visits/9", "/api/revisions/9/document", "/api/predictions/" + "0" * 64):
            ask("GET", path, 404)
        at = f"/api/visits/{visit}"
        ask("PATCH", f"{at}/intake", 200, json={"complaint": {"was": "", "now": "bogs"}, "odometer_km": {"now": "9"}})
        ask("PATCH", f"{at}/intake", 409, json={"complaint": {"was": "", "now": "other"}})
        ask("PATCH", f"{at}/kinds", 200, json={"primary_kind": {"now": "loaded-arm-primary"}})
        ask("PUT", f"{at}/belt/reading", 200, json={"place": 1, "now": 36})
        ask("PATCH", f"{at}/belt", 200, json={"decision": {"now": "run on"}})
        ask("POST", f"{at}/fitted", 200, json={"draft": {}})
        ask(
            "PATCH",
            f"{at}/setup/slots",
            200,
            json={"which": "left", "numbers": {"arm_mass_g": {"was": 60, "now": "58"}}},
        )
        ask("PATCH", f"{at}/setup/reason", 200, json={"was": "", "now": "thin air"})
        ask("POST", f"{at}/setup/record", 200, json={"draft": {"arm_mass_g": 58}, "reason": "thin air"})
        ask("POST", f"{at}/setup/drop", 200, json={"draft": {}})
        ask("POST", f"{at}/setup/preview", 200, json={"numbers": {"arm_mass_g": "57"}})
        ask("POST", f"{at}/setup/preview", 200, json={"numbers": {"arm_mass_g": "5"}})
        ask("POST", f"{at}/setup/preview", 422, json={"numbers": {}})
        left = client.get(at).json["left_revision_id"]
        run = ask("POST", f"{at}/runs", 200, json={"revision_id": left}).json["runs"][0]["id"]
        ask("PATCH", f"{at}/runs/{run}", 200, json={"shift_rpm": {"now": "7,900"}})
        ask("POST", f"{at}/runs/{run}/remove", 200, json={"engagement_rpm": None, "shift_rpm": 7900, "note": ""})
        ask("PATCH", f"{at}/hand-over", 200, json={"watch": {"was": "", "now": "the belt"}})
        ask("GET", f"{at}/log?after=1", 200)
        ask("POST", f"{at}/undo", 200, json={"edit": client.get(at).json["last_change"]["edit"]})
        ask("POST", f"{at}/sign-off", 409, json={"edit": client.get(at).json["edit"], "by": "Jo"})
        ask("PATCH", "/api/workshop/name", 200, json={"was": "", "now": "Fellside"})
        ask("POST", "/api/workshop/people", 201, json={"name": "Jo"})
        ask("PATCH", "/api/workshop/people/1/archived", 200, json={"was": False, "now": True})
        return asked

    def test_every_answer_is_as_described(self):
        # jsonschema (PyPI), draft 2020-12, which OpenAPI 3.1 uses.
        asked, seen = self.answers(), set()
        for method, address, answer in asked:
            path = next(
                path for path in sorted(self.description["paths"], key=len, reverse=True)
                if re.fullmatch(re.sub(r"\{\w+\}", "[^/]+", path), address)
            )  # fmt: skip
            operation = self.description["paths"][path][method.lower()]
            seen.add((method.lower(), path))
            with self.subTest(method=method, path=path, status=answer.status_code):
                self.assertIn(str(answer.status_code), operation["responses"])
                schema = operation["responses"][str(answer.status_code)]["content"]["application/json"]["schema"]
                jsonschema.validate(answer.json, schema | {"components": self.description["components"]})
        described = {(method, path) for path, each in self.description["paths"].items() for method in each}
        self.assertEqual(seen, described)

    def test_bodies_and_their_limits(self):
        schemas = self.description["components"]["schemas"]
        for path, operations in self.description["paths"].items():
            for method in operations.keys() & {"post", "put", "patch"}:
                self.assertIn("application/json", operations[method]["requestBody"]["content"], path)
        self.assertEqual(schemas["SignOff"]["properties"]["by"]["maxLength"], 120)
        width = json.dumps(schemas["Reading"]["properties"]["now"])
        for limit in ('"exclusiveMinimum": 0', '"maximum": 200', '"maxLength": 40'):
            self.assertIn(limit, width)

    def test_other_methods_are_405_and_say_which_are_taken(self):
        for path, operations in self.description["paths"].items():
            address = re.sub(r"\{\w+\}", "1", path)
            for method in {"get", "post", "put", "patch", "delete"} - operations.keys():
                answer = self.client.open(address, method=method.upper(), json={})
                with self.subTest(path=path, method=method):
                    self.assertEqual(answer.status_code, 405)
                    self.assertTrue({each.upper() for each in operations} <= set(answer.headers["Allow"].split(", ")))
