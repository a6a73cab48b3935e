"""Faults as found, how each slot is known, and what a visit's scope asks for."""

import unittest
from dataclasses import replace

from jaxel.core.trade.belt.check import BeltCheck
from jaxel.core.trade.kinds.kinds import Kinds, clutches
from jaxel.core.trade.line_up.line_up import LineUp
from jaxel.core.trade.record.scope import scopes_for
from jaxel.core.trade.run.road_test import Ride
from jaxel.core.trade.setup.tried import SetUp
from jaxel.core.trade.stranger.as_found import (
    Fault,
    FoundFault,
)
from jaxel.core.trade.strip.inspection import ItemLook, reached
from jaxel.core.trade.strip.strip import Inspection, Strip
from jaxel.core.trade.visit.stations import open_items, station_states, stations_of
from tests.core.visit.test_open_items import INTAKE, visit

KINDS = Kinds("tower-and-button-primary", "bolt-in-helix-secondary")
LOOKED_AT = Inspection(
    Strip("on machine"),
    KINDS,
    {
        (side, item.key): ItemLook("not reached")
        for side, kind in clutches(KINDS)
        for item in reached(kind.guide, "on machine")
    },
)
LINED_UP = LineUp("gaps", 35.2, 35.0, 200.0, nominal_mm=35.0, deflection_mm=30.0, seated=True)
IN_SERVICE = {"inspection": LOOKED_AT, "line_up": LINED_UP}


class Scopes(unittest.TestCase):
    FAULT = FoundFault(7, Fault("wound-backwards"))

    def fields(self, **change):
        return [(item.station, item.field) for item in open_items(visit(**change))]

    def test_a_belt_change_asks_for_no_rpm_and_no_set_up(self):
        bare = replace(INTAKE, fitted_confirmed=False)
        blank = {"rides": (), "intake": bare, "set_up": SetUp(1, 1)}
        self.assertEqual(self.fields(scope="belt", **blank), [])
        self.assertEqual(stations_of(visit(scope="belt", **blank)), ["intake", "belt", "hand-over"])
        self.assertEqual(
            self.fields(scope="tune", **blank),
            [("intake", "fitted"), ("road-test", "engagement_rpm"), ("road-test", "shift_rpm")],
        )

    def test_a_service_without_a_tachometer_asks_for_no_rpm_if_said_so(self):
        silent = replace(INTAKE, no_tachometer=True)
        self.assertEqual(len(self.fields(scope="service", rides=(), **IN_SERVICE)), 2)
        self.assertEqual(self.fields(scope="service", rides=(), intake=silent, **IN_SERVICE), [])
        self.assertEqual(self.fields(scope="rebuild", rides=(), intake=silent, **IN_SERVICE), [])
        self.assertEqual(self.fields(scope="tune", rides=(), intake=silent), [])

    def test_a_clutch_on_the_bench_has_no_machine_belt_or_run(self):
        blank = replace(INTAKE, odometer_km=None)
        alone = {"scope": "bench", "intake": blank, "widths_mm": {}, "belt": BeltCheck(1), "rides": ()}
        self.assertEqual(self.fields(**alone), [("strip", "depth")])
        self.assertEqual(self.fields(**alone, inspection=LOOKED_AT), [])
        self.assertEqual(stations_of(visit(**alone)), ["intake", "strip", "set-up", "rebuild", "hand-over"])
        self.assertEqual((scopes_for("bare clutch"), "bench" in scopes_for("sled")), (["bench"], False))

    def test_hours_stand_for_an_odometer(self):
        self.assertEqual(self.fields(intake=replace(INTAKE, odometer_km=None, odometer_h=212.0)), [])

    def test_narrowed_nothing_typed_is_out_of_sight(self):
        run = {"scope": "belt", "rides": (Ride(2, 4100.0, None),)}
        self.assertIn("road-test", stations_of(visit(**run)))
        self.assertEqual(self.fields(**run), [])
        tried = {"scope": "belt", "set_up": SetUp(1, 1, left_draft={"shim_mm": 1.0})}
        self.assertEqual(self.fields(**tried), [("set-up", "reason")])

    def test_a_fault_stands_open_in_every_scope_until_put_right(self):
        right = FoundFault(7, Fault("wound-backwards", put_right="wound the other way"))
        for scope in ("belt", "service", "tune", "rebuild"):
            found = {"scope": scope, **IN_SERVICE}
            self.assertEqual(self.fields(**found, faults=(self.FAULT,)), [("intake", "fault_7")])
            self.assertEqual(self.fields(**found, faults=(right,)), [])
        self.assertEqual(station_states(visit(faults=(self.FAULT,)), signed_off=False)["intake"], "attention")
