"""No valid document makes NaN, a crash or a shift that is not monotone: hypothesis looks for one."""

import unittest
from typing import Any

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import prediction_document, write_prediction
from jaxel.core.formats.setup.setup import read_setup, write_setup
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import Strip
from jaxel.core.trade.belt.wear import assess
from jaxel.core.units import parse_quantity
from tests.examples import PAGES, changed, example, read


@st.composite
def documents(draw):
    """An example with most of its numbers moved, some far from what a machine would have."""
    document = example(draw(st.sampled_from(PAGES)))

    def scale(path, low=0.5, high=1.8):
        nonlocal document
        value: Any = document
        for step in path.split("."):
            value = value[int(step) if step.isdigit() else step]
        document = changed(document, path, value * draw(st.floats(low, high)))

    scale("primary.weights.base_mass_g", 0.3, 3)
    scale("primary.spring.force_start_n", 0, 1.2)
    scale("primary.spring.force_finish_n", 1, 3)
    scale("secondary.spring.force_start_n", 0, 1.1)
    scale("secondary.spring.force_finish_n", 1, 3)
    scale("secondary.helix.angles.0.deg", 0.3, 1.8)
    scale("geometry.centre_distance_mm", 0.9, 1.1)
    scale("belt.outer_circumference_mm", 0.95, 1.05)
    scale("geometry.primary.travel_mm", 0.6, 1.3)
    scale("geometry.secondary.travel_mm", 0.6, 1.3)
    scale("vehicle.mass_kg", 0.2, 4)
    document["geometry"]["sheave_half_angle_deg"] = draw(st.floats(8, 20))
    document["belt"]["top_width_mm"] = document["belt"]["top_width_new_mm"] + draw(st.floats(-4, 1))
    document["primary"]["shim_mm"] = draw(st.floats(-3, 3))
    document["conditions"] = {"elevation_m": draw(st.floats(-400, 4500)), "temperature_c": draw(st.floats(-40, 45)),
                              "relative_humidity": draw(st.floats(0, 1))}  # fmt: skip
    document["model"] = {"friction": draw(st.floats(0.1, 1)), "adhesion_share": draw(st.floats(0, 1)),
                         "hysteresis": draw(st.floats(0, 0.3)), "helix_friction": draw(st.floats(0, 0.15))}  # fmt: skip
    return document


QUIET = settings(max_examples=120, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))


class AnyDocument(unittest.TestCase):
    @QUIET
    @given(documents())
    def test_is_refused_with_a_field_or_predicted_in_full(self, data):
        try:
            document = read(data)
        except InvalidValue as refusal:
            self.assertTrue(refusal.field and refusal.reason)
            return
        prediction = predict(document.core(), backshift=True)
        path = prediction.shift.path
        self.assertTrue(np.all(np.diff(path.travel) > 0))
        self.assertTrue(np.all(np.diff(path.ratio) < 0))
        for curve in (prediction.shift, prediction.backshift):
            for values in (curve.speed, curve.balance.tight, curve.balance.slack, curve.balance.primary_clamp):
                self.assertTrue(np.all(np.isfinite(values)) and np.all(values > 0))
            available = document.core().primary.weight_factor(path.travel, backshift=curve is prediction.backshift)
            surplus = available * curve.speed**2 - document.core().primary.spring.force(path.travel)
            np.testing.assert_allclose(surplus, curve.balance.primary_clamp, rtol=1e-5)
        text = write_prediction(prediction_document(prediction))
        self.assertNotRegex(text, "NaN|Infinity|null")
        self.assertEqual(read_setup(write_setup(document).encode()), document)

    @settings(QUIET, max_examples=25)
    @given(documents())
    def test_runs_without_nan(self, data):
        try:
            core = read(data).core()
        except InvalidValue:
            return
        trace = simulate(core, Strip(duration=4), hz=20)
        for values in (trace.engine_speed, trace.vehicle_speed, trace.belt_temperature, trace.ratio):
            self.assertTrue(np.all(np.isfinite(values)))
        self.assertTrue(np.all(np.diff(trace.distance) >= 0))
        self.assertTrue(np.all((trace.travel >= 0) & (trace.travel <= core.drive.end_travel + 1e-12)))


ANYTHING = st.recursive(
    st.none() | st.booleans() | st.floats() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner),
)
PARTS = [
    *("belt", "primary", "primary.spring", "primary.profile.swing", "primary.clicker", "secondary.helix"),
    *("secondary.holes", "engine.curve", "target", "model", "vehicle.mass_kg"),
]


class AnyReading(unittest.TestCase):
    @QUIET
    @given(st.floats(-9999, 9999).map(lambda value: round(value, 3)), st.sampled_from(["mm", "g", "N", "rpm", "°C"]))
    def test_a_typed_number_is_read_as_it_stands(self, value, unit):
        texts = [f"{value}", f"{value} {unit}", f"{value:,}"]
        if unit in ("mm", "g"):
            texts.append(f"{value}".replace(".", ","))
        for text in texts:
            self.assertAlmostEqual(parse_quantity(text, unit), value, places=9)

    @QUIET
    @given(st.text(max_size=60), st.sampled_from(["mm", "km", "%", "deg"]))
    def test_any_text_is_a_number_or_refused(self, text, unit):
        try:
            self.assertTrue(np.isfinite(parse_quantity(text, unit)))
        except InvalidValue as refusal:
            self.assertTrue(refusal.reason)

    @QUIET
    @given(st.lists(st.floats(30.0, 37.4), min_size=1, max_size=3))
    def test_a_belt_is_judged_by_its_worst_place(self, widths):
        found = assess(widths, 36.5, 35.0)
        self.assertTrue(min(widths) - 1e-9 <= found.mean_mm <= max(widths) + 1e-9)
        self.assertEqual(found.finding == "replace", min(widths) <= 35.0)
        thinner = assess([width - 0.2 for width in widths], 36.5, 35.0)
        self.assertGreater(thinner.wear_used, found.wear_used)
        self.assertLessEqual(["keep", "watch", "replace"].index(found.finding),
                             ["keep", "watch", "replace"].index(thinner.finding))  # fmt: skip

    @QUIET
    @given(st.binary(max_size=80))
    def test_any_bytes_are_a_document_or_refused(self, data):
        with self.assertRaises(InvalidValue):
            read_setup(data)

    @QUIET
    @given(ANYTHING, st.sampled_from(PARTS))
    def test_any_part_replaced_is_read_or_refused(self, value, path):
        try:
            predict(read(changed(example("sled"), path, value)).core())
        except InvalidValue as refusal:
            self.assertTrue(refusal.field)
