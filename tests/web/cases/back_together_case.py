"""Rebuild, wrenches, line-up, break-in and close over HTTP: values by unit, refusals by field, nonsense never fatal."""

from tests.web.cases.belt_and_strip_case import Case


class Opened(Case):
    def setUp(self):
        super().setUp()
        self.sent("PATCH", f"{self.at}/scope", {"was": "tune", "now": "rebuild"})
        self.view = self.sent("PATCH", f"{self.at}/strip", {"depth": {"was": None, "now": "full strip"}})

    def fastener(self, key):
        steps = self.client.get(self.at).json["rebuild"]["steps"]
        return next(each for step in steps for each in step["fasteners"] if each["key"] == key)

    def state(self, fastener, torque, status=200, kind="tower-and-button-primary", **more):
        body = {"kind": kind, "fastener": fastener, "tightness": "torque", "torque": torque, "origin": "manual"}
        return self.sent("POST", f"{self.at}/rebuild/torques", body | more, status)

    def wrench(self, status=201, **values):
        body = {"name": "Bench", "low": "10", "high": "60 ft-lb", "step": "0.5", "length_mm": "340"} | values
        return self.sent("POST", "/api/wrenches", body, status)
