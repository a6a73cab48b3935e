"""Rebuild, wrenches, line-up, break-in and close over HTTP: values by unit, refusals by field, nonsense never fatal."""

from tests.web.cases.back_together_case import Opened


class Shims(Opened):
    def test_typed_in_any_unit(self):
        body = {"behind": {"was": [], "now": "1,5 + 1/32 in"}}
        held = self.sent("PATCH", f"{self.at}/line-up", body)["line_up"]["read"]["behind"]
        self.assertEqual([round(each, 5) for each in held], [1.5, 0.79375])
        for typed in ("abc", "-1", "0.5 + x"):
            refused = self.sent("PATCH", f"{self.at}/line-up", {"behind": {"was": held, "now": typed}}, 422)
            self.assertTrue(refused["error"]["field"].startswith("behind"))
