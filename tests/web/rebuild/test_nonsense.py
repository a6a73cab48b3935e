"""Rebuild, wrenches, line-up, break-in and close over HTTP: values by unit, refusals by field, nonsense never fatal."""

import random
from typing import Any

from tests.web.cases.back_together_case import Opened


class Nonsense(Opened):
    def test_whatever_is_sent_is_never_5xx(self):
        dice = random.Random(12)
        strange: list[Any]
        strange = [None, "", "x" * 600, -1, 0, 1e308, "1e400", True, [], {}, "\x00", "٣", [None], {"was": 1}, "½ in", 3,
                   "60 ft-lb", "primary.cover", "primary.cover.back", "clockwise", "done", "own.", "../.."]  # fmt: skip
        said = f"{self.at}/rebuild"
        changes = {
            said: ("closes", "wound", "wound_deg", "sheave_hole", "helper"),
            f"{said}/fasteners/primary/cover_bolts": ("state", "torque_nm", "means", "wrench", "note"),
            f"{self.at}/line-up": ("way", "front_mm", "base_mm", "behind", "turned", "seated", "toe_tolerance_deg"),
            f"{self.at}/break-in": ("released", "reason"),
            f"{self.at}/counts/tool.belt_spreader_or_jack_bolts": ("out", "back", "note"),
            "/api/wrenches/1": ("name", "length_mm", "due_on", "retired"),
        }
        plain = {
            ("PATCH", f"{said}/seen"): ("asked", "was", "now"),
            ("PATCH", f"{said}/left-on"): ("part", "was", "now"),
            ("PATCH", f"{said}/accepted"): ("step", "was", "now"),
            ("PUT", f"{said}/matched/primary/arms/mass"): ("place", "was", "now"),
            ("PUT", f"{said}/matched/primary/rollers/radius"): ("was", "now"),
            ("POST", f"{said}/fasteners/secondary/helix_screws/clock"): ("what",),
            ("POST", f"{said}/torques"): ("kind", "fastener", "tightness", "torque", "origin"),
            ("POST", f"{said}/torques/choose"): ("stated_id",),
            ("POST", f"{self.at}/break-in/heats/1/end"): ("temperature_c",),
            ("POST", f"{self.at}/counts"): ("name", "sort", "out", "note"),
            ("POST", "/api/wrenches"): ("name", "low", "high", "step", "ratio", "due_on"),
        }
        body: dict[str, Any]
        self.wrench()
        for _ in range(450):
            if dice.random() < 0.5:
                path, names = dice.choice(list(changes.items()))
                method = "PATCH"
                body = {name: {"was": dice.choice(strange), "now": dice.choice(strange)} for name in names}
                body = dict(dice.sample(list(body.items()), dice.randint(1, len(body))))
            else:
                (method, path), names = dice.choice(list(plain.items()))
                body = {name: dice.choice(strange) for name in names}
            answer = self.client.open(path, method=method, json=body)
            self.assertLess(answer.status_code, 500, (method, path, body, answer.text))
        for address in (self.at, "/api/floor", f"{self.at}/log?after=0", "/api/wrenches"):
            self.assertEqual(self.client.get(address).status_code, 200)
