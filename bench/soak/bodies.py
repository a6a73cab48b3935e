"""Bodies made from the API's own description: most fit it, some fit it badly, each made again alike by its seed."""

import random
import re
from collections.abc import Mapping
from typing import Any

TEXTS = ("", "bogs", "0", "-1", "35.9", "1 1/8 in", "9e99", "NaN", "=1+1", "Ünïcode ✓", "'; DROP TABLE visit; --",
         "<script>alert(1)</script>", "\u0000", "a" * 300, "2027-02-30", "2027-01-15", "٣", " ")  # fmt: skip
NUMBERS = (0, -1, 1, 0.5, 3, 12, 35.9, 1e-9, 1e9, 1e300, 2**63, -0.0)
DEEPEST = 12
NUMBER_RATHER = 0.7
"""How often a field that takes a number or a text gets the number."""


class Bodies:
    """Makes values of the schemas of one description."""

    def __init__(self, components: Mapping[str, Any], dice: random.Random, known: Mapping[str, tuple[Any, ...]]):
        self.components, self.dice, self.known = components, dice, known

    def of(self, schema: Mapping[str, Any], name: str = "", depth: int = 0) -> Any:
        """A value of a schema; where its field's name is known, often one that stands in the database."""
        if "$ref" in schema:
            return self.of(self.components[schema["$ref"].rsplit("/", 1)[1]], name, depth)
        if name in self.known and self.dice.random() < 0.8:
            return self.dice.choice(self.known[name])
        several = schema.get("anyOf") or schema.get("oneOf") or schema.get("allOf")
        if several:
            kinds = [each for each in several if each.get("type") in ("number", "integer")]
            chosen = self.dice.choice(kinds if kinds and self.dice.random() < NUMBER_RATHER else several)
            return self.of(chosen, name, depth + 1)
        fixed = schema.get("enum", [schema["const"]] if "const" in schema else None)
        return self.dice.choice(fixed) if fixed else self._typed(schema, depth)

    def _typed(self, schema: Mapping[str, Any], depth: int) -> Any:
        kind = schema.get("type")
        if kind == "object" or "properties" in schema:
            return self._object(schema, depth)
        if kind == "array":
            most = min(schema.get("maxItems", 3), 3) if depth < DEEPEST else 0
            count = max(schema.get("minItems", 0), self.dice.randint(0, most))
            return [self.of(schema.get("items", {}), depth=depth + 1) for _ in range(count)]
        if kind == "boolean":
            return self.dice.random() < 0.5
        if kind in ("integer", "number"):
            return self._number(schema, whole=kind == "integer")
        if kind == "string":
            return self._text(schema)
        return None if kind == "null" else self.dice.choice((None, True, 3, "bogs", [], {}))

    def _object(self, schema: Mapping[str, Any], depth: int) -> dict[str, Any]:
        fields = schema.get("properties", {})
        needed = set(schema.get("required", ()))
        share = 0.35 if len(fields) > 4 else 0.7
        chosen = [each for each in fields if each in needed or (depth < DEEPEST and self.dice.random() < share)]
        found = {each: self.of(fields[each], each, depth + 1) for each in chosen}
        more = schema.get("additionalProperties")
        if isinstance(more, dict) and depth < DEEPEST:
            found |= {self.dice.choice(("arms", "shim_mm", "holes", "x")): self.of(more, depth=depth + 1)}
        return found

    def _number(self, schema: Mapping[str, Any], *, whole: bool) -> float:
        low = schema.get("minimum", schema.get("exclusiveMinimum", 0))
        high = schema.get("maximum", schema.get("exclusiveMaximum", low + 1000))
        value = self.dice.uniform(low, min(high, low + 10 ** self.dice.randint(0, 4)))
        return int(value) if whole else round(value, self.dice.randint(0, 3))

    def _text(self, schema: Mapping[str, Any]) -> str:
        pattern = schema.get("pattern", "")
        if digits := re.fullmatch(r"\^\[0-9a-f\]\{(\d+)\}\$", pattern):
            return f"{self.dice.getrandbits(4 * int(digits[1])):0{int(digits[1])}x}"
        if schema.get("format") == "date":
            return self.dice.choice(("2026-11-30", "2027-02-29"))
        text = self.dice.choice(TEXTS) if self.dice.random() < 0.5 else f"words {self.dice.randint(0, 99)}"
        return text.ljust(schema.get("minLength", 0), "x")[: schema.get("maxLength", 400)]

    def spoiled(self, body: Any) -> Any:
        """A body with one thing wrong: a field gone, another type, one too many, a number out of bounds."""
        if not isinstance(body, dict) or not body:
            return self.dice.choice((None, [], "x", 3, {"x": 1}))
        spoiled, key = dict(body), self.dice.choice(list(body))
        how = self.dice.randrange(4)
        if how == 0:
            del spoiled[key]
        elif how == 1 and isinstance(spoiled[key], dict):
            spoiled[key] = self.spoiled(spoiled[key])
        elif how == 2:
            spoiled[self.dice.choice(TEXTS) or "x"] = 1
        else:
            spoiled[key] = self.dice.choice((*NUMBERS, *TEXTS, None, [], {}, [[[]]]))
        return spoiled
