"""Belt, strip, guide, parts and dues over HTTP: what is shown is the core's, and nonsense is refused by its field."""

from datetime import date

from icalendar import Calendar

from tests.web.cases.belt_and_strip_case import Case


class Dues(Case):
    def close(self, **hand_over):
        self.sent("PATCH", f"{self.at}/scope", {"was": "tune", "now": "belt"})
        self.send("PATCH", "/intake", odometer_km=900, complaint="service")
        for place in (1, 2, 3):
            self.send("PUT", "/belt/reading", place=place, now=36.0)
        self.send("PATCH", "/belt", decision="run on", went_on="as it came off", risen=True)
        self.send("PATCH", "/counts/tool.belt_spreader_or_jack_bolts", back={"was": None, "now": 1})
        self.send("PATCH", "/hand-over", guard_on=True, **hand_over)
        self.assertEqual(self.send("POST", "/sign-off", by="Jo").status_code, 200)

    def test_the_calendar_parses_and_goes_round(self):
        self.say("primary", "buttons", looked="assembled", grade="loose")
        self.close(next_service_km=2000.0, watch="the belt; with, commas\nand lines")
        (item, service) = self.client.get("/api/due").json["due"]
        self.assertEqual((item["key"], item["km"], item["season"]), ("primary.buttons", 1700, True))
        self.assertEqual((service["key"], service["on"]), ("service", None))  # one reading tells no use a day
        answer = self.client.get("/api/due.ics")
        self.assertEqual(answer.mimetype, "text/calendar")
        calendar = Calendar.from_ical(answer.data)
        (event,) = calendar.walk("VEVENT")
        self.assertEqual(str(event["uid"]), f"machine-{self.machine}-primary.buttons@jaxel")
        self.assertEqual(event.decoded("dtstart"), date.fromisoformat(item["on"]))
        self.assertIn("Due at 1,700 km or before the next season, whichever is first.", str(event["description"]))
        self.assertEqual(Calendar.from_ical(calendar.to_ical()).to_ical(), calendar.to_ical())
        again = Calendar.from_ical(self.client.get(f"/api/due.ics?machine_id={self.machine}").data)
        self.assertEqual(str(again.walk("VEVENT")[0]["uid"]), str(event["uid"]))
