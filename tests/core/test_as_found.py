"""Faults as found, how each slot is known, and what a visit's scope asks for."""

import unittest
from dataclasses import replace

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.shift import predict
from jaxel.core.trade.as_found import FAULT_KINDS, Fault, consequence, fault_kinds, read_fault, with_faults
from jaxel.core.trade.evidence import variances
from jaxel.core.trade.inspection import ItemLook, reached
from jaxel.core.trade.kinds import Kinds
from jaxel.core.trade.label import clutch_label
from jaxel.core.trade.line_up import LineUp
from jaxel.core.trade.origins import origins, with_origins
from jaxel.core.trade.packages import packages
from jaxel.core.trade.stations import (
    BeltCheck,
    FoundFault,
    Ride,
    SetUp,
    open_items,
    scopes_for,
    station_states,
    stations_of,
)
from jaxel.core.trade.strip import Inspection, Strip, clutches
from jaxel.core.units import IMPERIAL, RPM
from tests.core.test_rules import INTAKE, visit

CAM = packages()["sled-cam-850"].document
HELIX = packages()["side-by-side-loaded-1000"].document
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


class Faults(unittest.TestCase):
    def test_what_leaves_nothing_to_predict_says_so(self):
        for kind in ("wound-backwards", "secondary-spring-broken", "primary-spring-broken"):
            with self.subTest(kind), self.assertRaises(InvalidValue) as caught:
                with_faults(HELIX, [Fault(kind)])
            self.assertIn("not predicted as found", caught.exception.reason)

    def test_unequal_arms_are_their_mean_with_the_imbalance(self):
        fault = read_fault(CAM, "arms-unequal", "48.1/48.0/46.9")
        self.assertAlmostEqual(with_faults(CAM, [fault]).primary.weights.base_mass_g, 143 / 3)
        self.assertEqual(fault.name, "Weights unequal, 48.1 / 48 / 46.9 g")
        core = with_faults(CAM, [fault]).core()
        shift = predict(core, 21).shift
        radius = float(core.primary.profile.radius(shift.path.travel).mean())
        # m·r·ω² of the vector sum of the three: √(a²+b²+c²−ab−bc−ca) = 1.15326 g.
        force = 1.15326e-3 * radius * shift.mean**2
        self.assertIn(f"{force:.0f} N turning with the shaft", consequence(CAM, fault))

    def test_an_unwound_spring_has_no_twist_at_rest(self):
        loose = with_faults(HELIX, [Fault("unwound")])
        self.assertEqual((HELIX.secondary.pretwist_deg, loose.secondary.pretwist_deg), (90, 0.01))
        # Less clamp in the secondary: it shifts up earlier.
        self.assertLess(predict(loose.core()).shift.mean, predict(HELIX.core()).shift.mean - 50 * RPM)

    def test_clickers_apart_push_with_their_mean(self):
        # 3/3/4 at 0.065 a click: 1 − 0.065·(10/3 − 3) = 0.97833 of the push; about a third of a click's 200 rpm.
        apart = with_faults(CAM, [read_fault(CAM, "clickers-differ", "3/3/4")])
        self.assertAlmostEqual(apart.model.gain_scale, 0.978333, places=6)
        gained = (predict(apart.core()).shift.mean - predict(CAM.core()).shift.mean) / RPM
        self.assertTrue(40 < gained < 100, gained)

    def test_what_cannot_be_counted_changes_nothing(self):
        for kind in ("washer-missing", "magnets-turned", "other"):
            self.assertEqual(with_faults(CAM, [Fault(kind, note="seen")]), CAM)
            self.assertIn("not counted", FAULT_KINDS[kind].means)

    def test_only_what_these_clutches_can_have(self):
        cam, variator = ({each.key for each in fault_kinds(packages()[key].document)}
                         for key in ("sled-cam-850", "quad-variator-500"))  # fmt: skip
        self.assertIn("clickers-differ", cam)
        self.assertNotIn("clickers-differ", variator)
        self.assertNotIn("wound-backwards", cam)  # a spring that only presses has no wind
        self.assertIn("wound-backwards", variator)

    def test_what_is_no_fault_is_refused(self):
        for kind, figures, field, reason in (
            ("gremlins", "", "kind", "no kind"),
            ("arms-unequal", "48.0/48.1/48.0", "values", "a set, not a fault"),
            ("arms-unequal", "48.0/46", "values", "not a unit"),
            ("arms-unequal", "48.0 / 47.0", "values", "all 3"),
            ("arms-unequal", "-1 / 48 / 48", "values", "above 0"),
            ("clickers-differ", "3/3/3", "values", "a setting"),
            ("clickers-differ", "3/3/9", "values", "1 to 6"),
            ("washer-missing", "7", "values", "without numbers"),
            ("other", "", "note", "says what"),
        ):  # fmt: skip
            with self.subTest(kind=kind, figures=figures), self.assertRaises(InvalidValue) as caught:
                read_fault(CAM, kind, figures)
            self.assertEqual(caught.exception.field, field)
            self.assertRegex(caught.exception.reason, reason)


class Known(unittest.TestCase):
    def test_unknown_widens_and_measured_narrows(self):
        def deviation(origin):
            return variances(with_origins(CAM, {"arms": origin})).deviation()[1]

        plain = variances(CAM).deviation()[1]
        self.assertLess(deviation("measured"), plain - 50)
        self.assertLess(deviation("stamped"), plain)
        self.assertAlmostEqual(deviation("unknown"), plain, delta=1)  # a stranger's weights are unknown already
        exact = CAM.model_copy(update={"evidence": {}})
        self.assertGreater(variances(with_origins(exact, {"arms": "unknown"})).deviation()[1],
                           variances(exact).deviation()[1] + 50)  # fmt: skip

    def test_the_weakest_of_a_slot_is_said(self):
        known = with_origins(CAM, {"primary_spring": "measured"})
        self.assertEqual(origins(known)["primary_spring"], "measured")
        part = dict(known.evidence)
        del part["primary.spring.force_finish_n"]
        self.assertEqual(origins(known.model_copy(update={"evidence": part}))["primary_spring"], "typical")
        with self.assertRaises(InvalidValue):
            with_origins(CAM, {"arms": "hearsay"})

    def test_a_label_reads_in_the_hand_s_units(self):
        lines = clutch_label("Clutch K7", CAM, identity={"taper": "30 mm", "stamp": ""}, units=IMPERIAL)
        self.assertEqual(lines[0:2], ["Clutch K7", "taper 30 mm"])
        self.assertIn("Primary spring 133.8 lbf / 314.7 lbf", lines)
        self.assertIn("Arms 3 × 59.5 g", lines)


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
        self.assertEqual(len(self.fields(scope="tune", rides=(), intake=silent)), 2)

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
