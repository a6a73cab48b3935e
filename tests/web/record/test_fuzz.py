"""Bodies made from the API's own description: whatever fits it is taken or refused in words, and never a 5xx."""

import json
import re
from collections.abc import Iterator
from typing import Any

from hypothesis import HealthCheck, given, seed, settings
from hypothesis_jsonschema import from_schema

from jaxel.web.record.blueprint import describe
from tests.web.cases.api_case import ApiCase

EXAMPLES = 5
"""Bodies for each address; an answer takes some 20 ms."""

TAKEN = 0.2
"""Share of bodies that must be carried out: below it the bodies no longer reach what they are meant to try."""

KNOWN = {
    "side": "primary", "item": "buttons", "matched": "arms", "fastener": "cover_bolts",
    "kind": "roller-variator-primary", "slot": "arms", "key": "own.none", "question": "belt_way",
}  # fmt: skip
"""What stands in an address where it is no number."""


def standalone(schema: Any, components: dict[str, Any]) -> Any:
    """A schema with what it refers to put in its place."""
    if isinstance(schema, list):
        return [standalone(each, components) for each in schema]
    if not isinstance(schema, dict):
        return schema
    if "$ref" in schema:
        return standalone(components[schema["$ref"].rsplit("/", 1)[1]], components)
    kept = {name: each for name, each in schema.items() if name not in ("title", "description", "default", "$defs")}
    return {name: standalone(each, components) for name, each in kept.items()}


class FromTheDescription(ApiCase):
    def setUp(self):
        super().setUp()
        kinds = {"primary_kind": "tower-and-button-primary", "secondary_kind": "bolt-in-helix-secondary"}
        at = f"/api/visits/{self.visit['id']}"
        self.client.patch(f"{at}/kinds", json={name: {"was": None, "now": kind} for name, kind in kinds.items()})
        self.client.patch(f"{at}/strip", json={"depth": {"was": None, "now": "full strip"}})
        self.description = json.loads(json.dumps(describe(self.app)))

    def writes(self) -> Iterator[tuple[str, str, Any]]:
        """Every write: its method, its address, the schema of its body; those that close the visit aside."""
        for path, operations in self.description["paths"].items():
            for method, operation in operations.items():
                body = operation.get("requestBody", {}).get("content", {}).get("application/json")
                if method != "get" and body and not path.endswith(("/sign-off", "/unrepaired", "/merge")):
                    schema = standalone(body["schema"], self.description["components"]["schemas"])
                    address = re.sub(r"\{(\w+)\}", lambda name: KNOWN.get(name[1], "1"), path)
                    yield method, address, schema

    def sent(self, method: str, address: str, body: Any) -> int:
        """The status of a body, sent again as by a hand that has looked where another was before it."""
        answer = self.client.open(address, method=method.upper(), json=body)
        for _ in range(6):
            if answer.status_code != 409 or "theirs" not in answer.json["error"]:
                break
            change = body.get(answer.json["error"]["field"], body) if isinstance(body, dict) else None
            if not isinstance(change, dict) or "was" not in change:
                break
            change["was"] = answer.json["error"]["theirs"]
            answer = self.client.open(address, method=method.upper(), json=body)
        self.assertLess(answer.status_code, 500, (method, address, body, answer.text))
        return answer.status_code

    def test_whatever_fits_the_description_is_taken_or_refused_in_words(self):
        statuses: list[int] = []
        for method, address, schema in self.writes():

            @seed(20261129)
            @settings(
                max_examples=EXAMPLES, deadline=None, database=None, derandomize=False,
                suppress_health_check=list(HealthCheck),
            )  # fmt: skip
            @given(from_schema(schema))
            def tried(body):
                statuses.append(self.sent(method, address, body))  # noqa: B023 (called before the next is made)

            tried()
        self.assertGreater(len(statuses), 300)
        taken = sum(status < 300 for status in statuses) / len(statuses)
        self.assertGreater(taken, TAKEN, f"{taken:.0%} of {len(statuses)} bodies were carried out")
