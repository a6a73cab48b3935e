"""The API's own description is valid, and what the server answers is what it describes."""

import json
import re
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
from openapi_spec_validator import OpenAPIV31SpecValidator

from jaxel.instruments.logger import Logger
from jaxel.store.db import connect
from jaxel.store.machine.machines import call_made_up
from jaxel.web.record.blueprint import describe
from tests.examples import changed, example
from tests.store.cases.any_machine_case import picture
from tests.web.cases import jobs_asked
from tests.web.cases.api_case import ApiCase

AT = np.arange(0, 20, 0.02)
RUN = {
    "time_s": AT,
    "engine_rpm": np.interp(AT, [0, 1, 1.5, 20], [1300, 1300, 7800, 7900]),
    "speed_kph": np.interp(AT, [0, 1.2, 20], [0, 0, 150]),
    "throttle_pct": np.where(AT > 1, 100.0, 0.0),
}
"""A pull such as a logger might have had."""


class Description(ApiCase):
    def setUp(self):
        super().setUp()
        # As it is written to a file: the front end's types are made from this.
        self.description = json.loads(json.dumps(describe(self.app)))

    def stated(self):
        """A torque that was stated, by its id."""
        rebuild = self.client.get("/api/visits/1").json["rebuild"]
        fasteners = [each for step in rebuild["steps"] for each in step["fasteners"]]
        return next(said["id"] for each in fasteners for said in each["statements"])

    def test_is_valid(self):
        # openapi-spec-validator (PyPI), OpenAPI 3.1.
        OpenAPIV31SpecValidator(self.description).validate()

    def log_of_a_run(self, ask, at):
        """Every address of a run's log, refusals among them."""
        bytes_of = {"content_type": "application/octet-stream"}
        data = Logger().written(RUN, 1)
        ask("GET", at, 404)
        ask("GET", f"{at}/file", 404)
        ask("POST", f"{at}/uploads", 422, json={"name": "strip.csv", "size": 60_000_000})
        upload = ask("POST", f"{at}/uploads", 201, json={"name": "strip.csv", "size": 3}).json["id"]
        ask("POST", f"{at}/uploads/{upload}/cancel", 200, json={})
        upload = ask("POST", f"{at}/uploads", 201, json={"name": "strip.csv", "size": len(data)}).json["id"]
        ask("PUT", f"{at}/uploads/{upload}/parts/0", 422, data=data[:9], **bytes_of)
        ask("POST", f"{at}/uploads/{upload}/read", 422, json={})
        ask("PUT", f"{at}/uploads/{upload}/parts/0", 200, data=data, **bytes_of)
        ask("POST", f"{at}/uploads/{upload}/read", 200, json={})
        self.client.application.extensions["reading_room"].finish()
        self.assertEqual(ask("GET", f"{at}/uploads/{upload}", 200).json["state"], "read")
        ask("GET", at, 200)
        ask("GET", f"{at}/traces?first=100&last=300&points=100", 200)
        ask("GET", f"{at}/pulls/0", 200)
        ask("GET", f"{at}/pulls/9", 422)
        ask("GET", f"{at}/verdict", 200)
        ask("POST", f"{at}/tried", 200, json={"pull": 0, "marks": {"shift_start": 4.0}})
        ask("PATCH", f"{at}/marks", 200, json={"pull": 0, "mark": "shift_start", "was": None, "now": 4.0})
        ask("PATCH", f"{at}/marks", 409, json={"pull": 0, "mark": "shift_start", "was": 2.0, "now": 5.0})
        ask("POST", f"{at}/again", 200, json={})
        ask("POST", f"{at}/counts", 200, json={"counts": False})

    def devices(self, ask, visit):
        """Benches, what their devices send, and stand-ins, which there are none of in a workshop of its own."""
        ask("GET", "/api/benches", 200)
        ask("POST", "/api/benches", 201, json={"name": "By the door"})
        ask("POST", "/api/benches", 422, json={"name": "By the door"})
        token = ask("POST", "/api/benches/1/token", 200, json={}).json["token"]
        ask("POST", "/api/benches/9/token", 404, json={})
        reading = {"format": "jaxel-reading", "version": 1, "bench": 1, "instrument": "caliper", "value": 35.42,
                   "unit": "mm"}  # fmt: skip
        let_in = {"headers": {"Authorization": f"Bearer {token}"}}
        sent = ask("POST", "/api/readings", 201, json=reading, **let_in).json["id"]
        ask("POST", "/api/readings", 422, json=reading | {"unit": "N"}, **let_in)
        ask("POST", "/api/readings", 403, json=reading)
        ask("GET", "/api/benches/1/readings", 200)
        ask("GET", "/api/benches/9/readings", 404)
        ask("POST", f"/api/benches/1/readings/{sent}/take", 200, json={})
        ask("POST", f"/api/benches/1/readings/{sent}/take", 404, json={})
        ask("POST", "/api/benches/1/remove", 200, json={})
        ask("GET", f"/api/visits/{visit}/instruments", 200)
        held = {"station": "belt", "place": "place_1", "device": "caliper"}
        ask("POST", f"/api/visits/{visit}/instruments/read", 422, json=held)
        ask("POST", f"/api/visits/{visit}/instruments/ride", 422, json={})
        with closing(connect(Path(self.app.config["DATABASE"]))) as connection:
            call_made_up(connection)
        ask("POST", f"/api/visits/{visit}/instruments/read", 200, json=held)
        ask("POST", f"/api/visits/{visit}/instruments/ride", 422, json={})  # no run was begun

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
        self.log_of_a_run(ask, f"{at}/runs/{run}/log")
        another = ask("POST", f"{at}/runs", 200, json={"revision_id": left}).json["runs"][-1]["id"]
        ask(
            "PATCH",
            f"{at}/runs/{another}",
            200,
            json={"shift_rpm": {"now": "7,950"}, "strip": {"was": "", "now": "lake"}},
        )
        ask("GET", f"{at}/compare/runs", 200)
        ask("GET", f"{at}/compare?a={run}&b={another}&along=time", 200)
        ask("GET", f"{at}/compare?a={run}&b={run}", 422)
        ask("POST", f"{at}/runs/{another}/remove", 200,
            json={"engagement_rpm": None, "shift_rpm": 7950, "note": "", "strip": "lake"})  # fmt: skip
        ask("POST", f"{at}/strip/outcome", 422, json={"cause": "steam", "outcome": "was it"})
        said = {"revision_id": left, "place": "top", "word": "better"}
        word = ask("POST", f"{at}/words", 200, json=said).json["words"][0]["id"]
        ask("POST", f"{at}/words", 422, json=said | {"word": "splendid"})
        ask("POST", f"{at}/words/{word}/remove", 200, json={})
        ask("POST", f"{at}/words/{word}/remove", 404, json={})
        ask("POST", f"{at}/runs/{run}/remove", 200, json={"engagement_rpm": None, "shift_rpm": 7900, "note": ""})
        ask("GET", f"{at}/page", 200)
        ask("PATCH", f"{at}/hand-over", 200, json={"watch": {"was": "", "now": "the belt"}})
        ask("GET", f"{at}/log?after=1", 200)
        ask("POST", f"{at}/undo", 200, json={"edit": client.get(at).json["last_change"]["edit"]})
        ask("POST", f"{at}/sign-off", 409, json={"edit": client.get(at).json["edit"], "by": "Jo"})
        ask("GET", "/api/bring-in", 200)
        stranger = {"machine": "quad", "primary_kind": "roller-variator-primary"}
        ask("POST", "/api/bring-in/look", 200, json=stranger | {"readings": {"weights": {"mass_g": "19.5"}}})
        ask("POST", "/api/bring-in/look", 422, json=stranger | {"primary_kind": "steam"})
        brought = ask("POST", "/api/bring-in", 201, json=stranger).json
        there, machine = f"/api/visits/{brought['visit_id']}", f"/api/machines/{brought['machine_id']}"
        ask("PATCH", f"{there}/scope", 200, json={"was": "tune", "now": "belt"})
        ask("PATCH", f"{there}/origin", 200, json={"slot": "arms", "was": None, "now": "unknown"})
        (fault,) = ask("POST", f"{there}/faults", 201, json={"kind": "wound-backwards"}).json["faults"]
        ask("PATCH", f"{there}/faults/{fault['id']}/put-right", 200, json={"was": "", "now": "wound anew"})
        was = {"note": "", "put_right": "wound anew"}
        ask("POST", f"{there}/faults/{fault['id']}/remove", 200, json={"was": was})
        ask("POST", f"{there}/faults/{fault['id']}/remove", 404, json={"was": was})
        ask("PATCH", f"{machine}/said", 200, json={"tyre": {"was": "", "now": "25 × 8"}})
        mass = {"path": "primary.weights.base_mass_g", "was": 20, "origin": "measured", "how": "correction"}
        ask("POST", f"{machine}/numbers", 200, json=mass | {"now": "19.5 g"})
        ask("POST", f"{machine}/numbers", 409, json=mass | {"now": "19 g"})
        ask("POST", f"{machine}/look", 200, json={"readings": {"weights": {"mass_g": "19"}}})
        ask("POST", f"{machine}/readings", 200, json={"readings": {"weights": {"mass_g": "19"}}, "how": "correction"})
        limit = {"what": "belt_width_min_mm", "value": "29 mm", "origin": "manual"}
        stated = ask("POST", f"{machine}/limits", 201, json=limit).json["limits"]
        ask("POST", f"{machine}/limits/{stated[-1]['id']}/withdraw", 200, json={})
        photo = ask("POST", f"{machine}/photos", 201, data=picture(), content_type="image/jpeg").json["photos"][0]
        ask("POST", f"{machine}/photos", 415, data="{}", content_type="application/json")
        self.assertEqual(client.get(f"/api/photos/{photo['id']}?small=true").mimetype, "image/jpeg")
        ask("GET", "/api/photos/99", 404)
        ask("PATCH", f"/api/photos/{photo['id']}", 200, json={"removed": {"was": False, "now": True}})
        self.belt_and_strip(ask, at)
        self.set_up_bench(ask, at)
        self.back_together(ask, at)
        edit = client.get(there).json["edit"]
        ask("POST", f"{there}/unrepaired", 200, json={"edit": edit, "by": "Jo", "reason": "no parts"})
        ask("POST", f"{there}/addenda", 201, json={"text": "parts came"})
        ask("POST", f"{machine}/mount", 422, json={"machine_id": 1, "took_off": "gone"})
        ask("GET", "/api/guide/glossary", 200)
        ask("PATCH", f"{machine}/archived", 200, json={"was": False, "now": True})
        copy = ask("POST", f"{machine}/copy", 201, json={"name": "Twin"}).json["machine"]["id"]
        ask("POST", f"{machine}/merge", 200, json={"double": copy})
        ask("POST", "/api/demo", 409, json={})
        units = client.get("/api/workshop").json
        ask("PATCH", "/api/workshop/units", 200, json={"was": units["units"], "now": units["presets"][1]["units"]})
        ask("POST", "/api/workshop/stamps", 201, json={"stamp": "K7", "mass_g": "49.2"})
        ask("POST", "/api/workshop/stamps/1/forget", 200, json={})
        ask("PATCH", "/api/workshop/hour", 200, json={"was": None, "now": "80"})
        ask("PATCH", "/api/workshop/hour", 409, json={"was": 70, "now": 90})
        ask("PATCH", "/api/workshop/hour", 422, json={"was": 80, "now": -1})
        ask("PATCH", "/api/workshop/name", 200, json={"was": "", "now": "Fellside"})
        self.devices(ask, visit)
        ask("POST", "/api/workshop/people", 201, json={"name": "Jo"})
        ask("PATCH", "/api/workshop/people/1/units", 200, json={"was": None, "now": units["presets"][2]["units"]})
        ask("PATCH", "/api/workshop/people/1/archived", 200, json={"was": False, "now": True})
        return asked

    def belt_and_strip(self, ask: Callable[..., Any], at: str) -> None:
        kinds = {"primary_kind": {"was": "loaded-arm-primary", "now": "tower-and-button-primary"},
                 "secondary_kind": {"was": None, "now": "bolt-in-helix-secondary"}}  # fmt: skip
        ask("PATCH", f"{at}/kinds", 200, json=kinds)
        ask("PATCH", f"{at}/intake", 200, json={"symptoms": {"was": [], "now": ["bog"]}})
        ask("PATCH", f"{at}/strip", 200, json={"depth": {"was": None, "now": "cover off"}})
        ask("PATCH", f"{at}/strip/marked", 200, json={"part": "primary.cover", "was": False, "now": True})
        ask("PATCH", f"{at}/strip/off", 200, json={"part": "primary.cover", "was": False, "now": True})
        ask("PATCH", f"{at}/strip/off", 422, json={"part": "primary.hat", "was": False, "now": True})
        job = ask("PATCH", f"{at}/strip/job", 200,
                  json={"job": "primary.bushing_service", "was": False, "now": True}).json["strip"]["jobs"]  # fmt: skip
        self.assertEqual([each["key"] for each in job if each["chosen"]], ["primary.bushing_service"])
        ask("PATCH", f"{at}/strip/job", 422, json={"job": "primary.polish", "was": False, "now": True})
        bushing = f"{at}/strip/items/primary/arm_bushing"
        ask("PUT", f"{bushing}/reading", 200, json={"place": 1, "was": None, "now": "0.6 mm"})
        ask("PATCH", bushing, 200, json={"looked": {"was": "", "now": "assembled"}})
        ask("PATCH", bushing, 422, json={"grade": {"was": "", "now": "purple"}})
        face = f"{at}/strip/items/primary/moving_face/ring"
        ask("PUT", face, 200, json={"place": 0, "was": None, "now": 2})
        ask("POST", f"{at}/strip/clutches/primary/rest", 200, json={})
        ask("GET", f"{at}/strip/felt", 200)
        ask("GET", f"{at}/photos", 200)
        ask("GET", "/api/visits/99/strip/parts.csv", 404)
        ask("POST", f"{at}/belt/marks", 201, json={"kind": "cup", "place": 0.3, "flank": "both"})
        ask("POST", f"{at}/belt/marks/1/remove", 200, json={})
        ask("POST", f"{at}/belt/substitute", 200, json={"width_mm": "36 mm"})
        ask("POST", f"{at}/belt/substitute", 422, json={"round_mm": "300"})
        ask("POST", "/api/machines/1/belts", 201, json={"width_mm": "36.2"})
        ask("GET", "/api/belts/1", 200)
        ask("GET", "/api/belts/1/start", 200)
        ask("GET", "/api/belts/99/code.svg", 404)
        ask("PATCH", "/api/belts/1", 200, json={"make_number": {"was": "", "now": "B 7"}})
        ask("POST", "/api/belts/1/discard", 409, json={})
        ask("GET", "/api/due", 200)
        ask("GET", "/api/due.ics?machine_id=0", 422)
        ask("POST", "/api/parts", 201, json={"number": "B-3", "kind": "arm bushing"})
        ask("PATCH", "/api/parts/1", 200, json={"price": {"was": None, "now": "38.00"}})
        ask("PATCH", "/api/tools", 200, json={"name": "arm bushing driver", "owned": {"was": False, "now": True}})
        ask("GET", "/api/parts", 200)
        ask("POST", "/api/parts/1/remove", 200, json={})
        ask("GET", "/api/guide", 200)
        ask("GET", "/api/guide/words", 200)
        ask("GET", "/api/guide/find?find=needle", 200)
        ask("PATCH", "/api/guide/school", 200, json={"question": "abrasive", "was": "pad", "now": "fine"})
        kind = "/api/guide/kinds/tower-and-button-primary"
        ask("GET", kind, 200)
        limit = {"item": "arm_bushing", "value": "0.5 mm", "origin": "manual", "model": "Fell", "manual": "F 1"}
        stated = ask("POST", f"{kind}/limits", 201, json=limit).json["limits"]
        ask("POST", f"{kind}/limits/{stated[0]['id']}/withdraw", 200, json={})

    def set_up_bench(self, ask: Callable[..., Any], at: str) -> None:
        sheet = "number,kind,pieces,base_mass_g\nA-1,arm,6,57\nA-2,arm,x,57\n"
        parts = jobs_asked.a_sheet(ask, sheet)["report"]["parts"]["parts"]
        jobs_asked.bundles(ask, "machine", self.machine)
        part = f"/api/parts/{parts[0]['id']}"
        ask("PATCH", f"{part}/pieces", 200, json={"was": 6, "now": 9})
        spec = {"was": parts[0]["cells"], "now": {"base_mass_g": "57/57.1/56.9"}}
        ask("PATCH", f"{part}/spec", 200, json=spec)
        ask("PATCH", f"{part}/spec", 409, json=spec | {"now": {"base_mass_g": "58"}})
        ask("GET", "/api/lasted", 200)
        ask("GET", "/api/scores", 200)
        ask("GET", "/api/parts.csv", 403, headers={"Host": "elsewhere.example"})
        for path in ("picture", "shelf", "shares", "calibration", "altitude", "altitude?slot=load:tip"):
            ask("GET", f"{at}/setup/{path}", 200)
        ask("GET", f"{at}/setup/altitude?slot=elbow", 422)
        ask("GET", "/api/visits/99/setup/altitude.csv", 404)
        draft = self.client.get(at).json["setup"]["draft"]
        arms = {"slot": "arms", "part": parts[0]["id"]}
        ask("POST", f"{at}/setup/fill", 200, json={"fills": [arms], "draft": draft})
        ask("POST", f"{at}/setup/fill", 409, json={"fills": [arms], "draft": {"shim_mm": 9.0}})
        ask("POST", f"{at}/setup/preview", 200, json={"fills": [arms | {"part": None}]})
        ask("POST", f"{at}/setup/what-if", 200, json={"elevation_m": "2000"})
        search = ask("POST", f"{at}/setup/plan", 200, json={}).json["search"]
        ask("GET", f"{at}/setup/plan/{search}", 200)
        ask("POST", f"{at}/setup/plan/{search}/cancel", 200, json={})
        ask("POST", f"{at}/setup/plan/{search}/answers/99/take", 404, json={"draft": {}})
        ask("POST", f"{at}/setup/plan/{'0' * 64}/answers/0/take", 404, json={"draft": {}})
        ask("POST", f"{at}/setup/calibrate", 422, json={})
        ask("GET", f"{at}/setup/where-from", 200)

    def back_together(self, ask: Callable[..., Any], at: str) -> None:
        said = f"{at}/rebuild"
        ask("PATCH", f"{at}/strip", 200, json={"depth": {"was": "cover off", "now": "full strip"}})
        ask("PATCH", said, 200, json={"closes": {"was": "", "now": "clockwise"}, "wound_deg": {"now": "110"}})
        ask("PATCH", f"{said}/seen", 200, json={"asked": "secondary.helix.back", "was": False, "now": True})
        ask("PATCH", f"{said}/seen", 422, json={"asked": "primary.elbow.back", "was": False, "now": True})
        ask("PATCH", f"{said}/left-on", 200, json={"part": "secondary.fixed", "was": False, "now": True})
        ask("PATCH", f"{said}/accepted", 200, json={"step": "secondary.spring", "was": "", "now": "tried"})
        ask("PUT", f"{said}/matched/primary/arms/mass", 200, json={"place": 0, "was": None, "now": "48.1 g"})
        ask("PUT", f"{said}/matched/primary/rollers/radius", 200, json={"was": None, "now": "55"})
        stated = {"kind": "bolt-in-helix-secondary", "fastener": "helix_screws", "tightness": "torque",
                  "torque": "14", "origin": "manual"}  # fmt: skip
        ask("POST", f"{said}/torques", 200, json=stated)
        ask("POST", f"{said}/torques", 422, json=stated | {"torque": "60 ft-lb"})
        ask("POST", f"{said}/torques/choose", 200, json={"stated_id": self.stated()})
        screws = f"{said}/fasteners/secondary/helix_screws"
        ask("POST", f"{screws}/clock", 200, json={"what": "compound_at"})
        ask("POST", f"{screws}/clock", 409, json={"what": "compound_at"})
        since = self.client.get(at).json["rebuild"]["steps"]
        since = next(each["done"]["compound_at"] for step in since for each in step["fasteners"]
                     if each["key"] == "helix_screws")  # fmt: skip
        ask("POST", f"{screws}/clock/stop", 200, json={"what": "compound_at", "was": since})
        ask("PATCH", screws, 200, json={"state": {"was": "", "now": "done"}, "torque_nm": {"was": None, "now": "14"}})
        ask("PATCH", screws, 422, json={"torque_nm": {"was": 14, "now": "60 ft-lb"}})
        ask("POST", f"{said}/torques/withdraw", 200, json={"stated_id": self.stated()})
        ask("PATCH", f"{at}/line-up", 200, json={"way": {"was": "", "now": "gaps"}, "front_mm": {"now": "36"}})
        ask("PATCH", f"{at}/line-up", 422, json={"base_mm": {"was": None, "now": "0"}})
        ask("PATCH", f"{at}/belt", 200, json={"decision": {"was": "run on", "now": "discard"}})
        heat = ask("POST", f"{at}/break-in/heats", 200, json={}).json["break_in"]["cycles"][0]["id"]
        ask("POST", f"{at}/break-in/heats", 409, json={})
        ask("POST", f"{at}/break-in/heats/{heat}/end", 200, json={"temperature_c": "140 F"})
        ask("POST", f"{at}/break-in/heats/{heat}/remove", 200, json={})
        ask("PATCH", f"{at}/break-in", 200, json={"released": {"was": "", "now": "overruled"}})
        made = {"side": "secondary", "variant": "spring_form", "was": "", "now": "holes"}
        ask("PATCH", f"{at}/strip/variants", 200, json=made)
        ask("PATCH", f"{at}/strip/variants", 422, json=made | {"now": "glue", "was": "holes"})
        ask("POST", f"{said}/matched/primary/arms/take", 422, json={})
        ask("POST", f"{at}/strip/items/primary/buttons/take", 422, json={})
        ask("POST", f"{said}/seen-all", 200, json={"step": "secondary.helix"})
        ask("POST", f"{said}/seen-all", 422, json={"step": "secondary.song"})
        ask("PATCH", f"{said}/off-shaft", 200, json={"side": "primary", "was": False, "now": True})
        ask("PATCH", f"{said}/items/primary/arm_bushing", 422, json={"how": {"was": "", "now": "new"}})
        ask("GET", f"{at}/belt/ways", 200)
        ask("PATCH", f"{at}/counts/tools", 200, json={"back": {"was": None, "now": 1}})
        ask("POST", f"{at}/counts", 200, json={"name": "Front shock", "sort": "access", "note": "47 N·m"})
        ask("POST", f"{at}/counts/own.front_shock/remove", 200, json={})
        wrench = {"name": "Bench", "low": "10", "high": "60 ft-lb", "step": "0.5", "length_mm": "340"}
        ask("POST", "/api/wrenches", 201, json=wrench)
        ask("POST", "/api/wrenches", 422, json=wrench | {"name": "Empty", "high": "5"})
        ask("GET", "/api/wrenches", 200)
        ask("PATCH", "/api/wrenches/1", 200, json={"due_on": {"was": "", "now": "2027-02-04"}})
        ask("GET", "/api/torque-adapter?torque=30&extension=76&angle=0", 200)
        ask("GET", "/api/torque-adapter?torque=30&extension=-340", 422)

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
                taken = set(operations[method]["requestBody"]["content"])
                photo = {"image/jpeg", "image/png", "image/webp"}
                wanted = photo if path.endswith("/photos") else {"application/json"}
                wanted = {"application/octet-stream"} if path.endswith("/parts/{number}") else wanted
                self.assertEqual(taken, wanted, path)
        self.assertEqual(schemas["SignOff"]["properties"]["by"]["maxLength"], 120)
        width = json.dumps(schemas["BeltReading"]["properties"]["now"])
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
