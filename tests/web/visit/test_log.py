"""The application's answers: a visit from end to end, refusals at the field, never a 5xx."""

import json

from tests.examples import changed, example
from tests.web.cases.api_case import ApiCase


class LogAndUndo(ApiCase):
    def test_the_last_change_is_named_and_undone(self):
        at = f"/api/visits/{self.visit['id']}"
        before = self.visit["edit"]
        last = self.send("PATCH", "/intake", complaint="bogs").json["last_change"]
        self.assertEqual(last["lines"], [{"station": "intake", "what": "complaint", "was": "", "now": "“bogs”"}])
        self.refused(self.client.post(f"{at}/undo", json={"edit": last["edit"] - 1}), 409, "edit", "changed last")
        once = {"Jaxel-Once": "0123456789"}
        for _ in range(2):  # sent twice, undone once
            undone = self.client.post(f"{at}/undo", json={"edit": last["edit"]}, headers=once).json
        self.assertEqual((undone["intake"]["complaint"], undone["last_change"]), ("", None))
        changes = self.client.get(f"{at}/log?after={before}").json["changes"]
        self.assertEqual([line["now"] for change in changes for line in change["lines"]], ["“bogs”", ""])

    def test_an_act_sent_twice_is_done_once(self):
        once = {"Jaxel-Once": "0123456789"}
        body = {"revision_id": self.visit["left_revision_id"]}
        for _ in range(2):
            answer = self.client.post(f"/api/visits/{self.visit['id']}/runs", json=body, headers=once)
            self.assertEqual(len(answer.json["runs"]), 1)
        document, found = json.dumps(changed(example("mountain-sled"), "name", "Twice")), set()
        for _ in range(2):
            answer = self.client.post("/api/machines?kind=sled", data=document, content_type="application/json",
                                      headers={"Jaxel-Once": "abcdefghij"})  # fmt: skip
            found.add(answer.json["machine"]["id"])
        self.assertEqual(len(found), 1)
        self.refused(self.client.post(f"/api/visits/{self.visit['id']}/runs", json=body, headers={"Jaxel-Once": "x"}),
                     422, "once", "8 to 64")  # fmt: skip
