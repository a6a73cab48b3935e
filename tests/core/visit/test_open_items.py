"""The rules of the job: typed numbers, belt wear, what a visit still lacks, predicted against measured."""

import unittest
from dataclasses import replace
from typing import Any

from jaxel.core.trade.belt.check import BeltCheck
from jaxel.core.trade.line_up.break_in import BreakIn
from jaxel.core.trade.line_up.line_up import LineUp
from jaxel.core.trade.run.road_test import Ride
from jaxel.core.trade.setup.tried import SetUp
from jaxel.core.trade.visit.close_out import Count
from jaxel.core.trade.visit.intake import Intake
from jaxel.core.trade.visit.record import VisitRecord
from jaxel.core.trade.visit.stations import STATIONS, open_items, station_states
from jaxel.core.trade.visit.told import HandOver

INTAKE = Intake(
    elevation_m=600, temperature_c=-8, humidity_pct=60, target_engagement_rpm=3950,
    target_engagement_tolerance_rpm=100, target_shift_rpm=7900, target_shift_tolerance_rpm=100, odometer_km=2310.0,
    complaint="bogs", fitted_confirmed=True,
)  # fmt: skip
NEW: dict[str, Any] = {"next_is": "new", "next_number": "B-7", "went_on": "by its arrow", "risen": True}
ON_AGAIN = BeltCheck(1, "run on", went_on="as it came off", risen=True)
SHIMS = Count("own.shims", "Shims behind the secondary", "small part", 2, 2)


def visit(**change) -> VisitRecord:
    complete = VisitRecord(
        scope="tune", faults=(), intake=INTAKE, belt=ON_AGAIN, set_up=SetUp(1, 2),
        hand_over=HandOver(guard_on=True), counts=(SHIMS,), break_in=BreakIn("overruled", "easy first ride"),
        widths_mm={1: 35.4, 2: 35.5, 3: 35.4}, belt_limits_mm=(36.5, 35.0), rides=(Ride(2, 4100.0, 7880.0),),
    )  # fmt: skip
    return replace(complete, **change)


class OpenItems(unittest.TestCase):
    def fields(self, **change):
        return [(item.station, item.field) for item in open_items(visit(**change))]

    def test_nothing_lacks(self):
        self.assertEqual(open_items(visit()), [])

    def test_each_gap_by_name(self):
        for change, gap in (
            ({"intake": replace(INTAKE, odometer_km=None)}, ("intake", "odometer_km")),
            ({"intake": replace(INTAKE, complaint="  ")}, ("intake", "complaint")),
            ({"intake": replace(INTAKE, fitted_confirmed=False)}, ("intake", "fitted")),
            ({"set_up": SetUp(1, 2, found_draft={"shim_mm": 1.0})}, ("intake", "fitted")),
            ({"widths_mm": {1: 35.4, 3: 35.4}}, ("belt", "place_2")),
            ({"belt": BeltCheck(1, went_on="as it came off", risen=True)}, ("belt", "decision")),
            ({"belt": BeltCheck(1, "discard", next_width_mm=36.5, **NEW)}, ("belt", "reason")),
            ({"belt": BeltCheck(1, "spare", "narrow", **NEW)}, ("belt", "next_width_mm")),
            ({"belt": BeltCheck(1, "run on", risen=True)}, ("belt", "went_on")),
            ({"widths_mm": {1: 35.0, 2: 35.1, 3: 35.1}}, ("belt", "reason")),
            ({"set_up": SetUp(1, 2, left_draft={"shim_mm": 1.0})}, ("set-up", "reason")),
            ({"rides": (Ride(2, None, 7880.0),)}, ("road-test", "engagement_rpm")),
            ({"rides": (Ride(2, 4100.0, None),)}, ("road-test", "shift_rpm")),
            ({"counts": (replace(SHIMS, back=None),)}, ("hand-over", "count_own.shims")),
            ({"counts": (replace(SHIMS, back=1),)}, ("hand-over", "count_own.shims")),
            ({"hand_over": HandOver()}, ("hand-over", "guard_on")),
            (
                {"belt": BeltCheck(1, "discard", "cord", next_width_mm=36.5, **NEW), "break_in": BreakIn()},
                ("hand-over", "break_in"),
            ),
        ):
            with self.subTest(gap):
                self.assertEqual(self.fields(**change), [gap])

    def test_a_belt_not_risen_keeps_its_tool_on_the_list(self):
        not_risen = BeltCheck(1, "run on", went_on="as it came off")
        self.assertEqual(self.fields(belt=not_risen), [("belt", "risen"), ("hand-over", "count_tools")])

    def test_risen_is_asked_once_at_belt_or_at_line_up(self):
        not_risen = BeltCheck(1, "run on", went_on="as it came off")
        seated = self.fields(belt=not_risen, line_up=LineUp(seated=True, unmeasured="not disturbed"))
        self.assertNotIn(("belt", "risen"), seated)
        at_belt = self.fields(line_up=LineUp(unmeasured="not disturbed"))
        self.assertNotIn(("line-up", "seated"), at_belt)

    def test_a_tool_counted_by_itself_is_not_asked_for_again(self):
        not_risen = BeltCheck(1, "run on", went_on="as it came off")
        spreader = Count("tool.belt_spreader_or_jack_bolts", "Belt spreader or jack bolts", "tool", 1, 1)
        self.assertEqual(self.fields(belt=not_risen, counts=(spreader,)), [("belt", "risen")])

    def test_what_is_not_there_or_not_used_is_not_counted(self):
        self.assertEqual(self.fields(counts=(replace(SHIMS, out=0, back=None),)), [])
        self.assertEqual(self.fields(counts=(replace(SHIMS, out=0, back=1),)), [("hand-over", "count_own.shims")])

    def test_what_a_visit_may_leave_out_is_said_once(self):
        for words in ("cannot be read", "has none"):
            self.assertEqual(self.fields(intake=replace(INTAKE, odometer_km=None, no_odometer=words)), [])
        worn = {1: 35.4, 2: 35.5, 3: 35.4}
        undisturbed = replace(ON_AGAIN, unmeasured="it goes back on undisturbed")
        self.assertEqual(self.fields(widths_mm={}, belt=undisturbed), [])
        self.assertEqual(self.fields(widths_mm=worn, belt=undisturbed), [])
        self.assertEqual(self.fields(rides=(), intake=replace(INTAKE, no_tachometer=True)), [])

    def test_broken_in_by_the_rider_is_an_ordinary_end(self):
        new = BeltCheck(1, "discard", "cord", next_width_mm=36.5, **NEW)
        self.assertEqual(self.fields(belt=new, break_in=BreakIn("by the rider")), [])

    def test_a_run_on_an_earlier_setup_does_not_count(self):
        self.assertEqual(len(self.fields(rides=(Ride(1, 4100.0, 7880.0),))), 2)

    def test_states(self):
        states = station_states(visit(widths_mm={1: 35.4}, rides=()), signed_off=False)
        self.assertNotIn("strip", states)  # of no part in a tune nobody stripped for
        shown = [states[s] for s in STATIONS if s in states]
        self.assertEqual(shown, ["done", "attention", "done", "to do", "done"])
        self.assertEqual(set(station_states(visit(), signed_off=True).values()), {"done"})
        fresh = visit(widths_mm={}, rides=(), belt=BeltCheck(1), set_up=SetUp(1, 1), hand_over=HandOver(), counts=())
        blank = replace(INTAKE, odometer_km=None, complaint="", fitted_confirmed=False)
        states = station_states(replace(fresh, intake=blank), signed_off=False)
        self.assertEqual(set(states.values()), {"to do"})
