"""Parts as a catalogue, a stamp or a tester gives them, and the twist of a spring by its holes."""

import unittest

from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.setup.sensitivity import sensitivities
from jaxel.core.trade.setup.slots import numbers, with_numbers
from jaxel.core.units import IMPERIAL, RPM
from tests.examples import DEMO, PAGES, changed, example, read


class Steps(unittest.TestCase):
    def test_each_is_the_difference_it_predicts(self):
        # Against whole predictions a step either side, forty-one nodes each: the quotient's own error stays small.
        document = read(example("sled"))
        found = {each.key: each for each in sensitivities(document)}
        # The study tells a helix at three quarters.
        for key, value, step, factor in (
            ("arm_mass_g", 62, 1, 1.0), ("load_g.tip", 1, 1, 1.0), ("helix_deg.0", 40, 1, 0.75),
        ):  # fmt: skip
            base = with_numbers(document, {key: value})
            two = [predict(with_numbers(document, {key: value + by}).core()) for by in (-step, step)]
            slope = (two[1].shift.mean - two[0].shift.mean) / RPM / 2
            around = {each.key: each for each in sensitivities(base)}[key]
            self.assertAlmostEqual(around.mean_rpm / slope, factor, delta=0.06, msg=key)
        self.assertLess(found["load_g.tip"].mean_rpm, found["load_g.heel"].mean_rpm)

    def test_every_slot_width_and_altitude(self):
        for name in (*PAGES, *DEMO):
            document = read(example(name))
            keys = {each.key for each in sensitivities(document)}
            self.assertEqual(
                keys,
                {key for key, number in numbers(document).items() if number.value is not None}
                | {"belt_width_mm", "elevation_m"},
            )

    def test_signs(self):
        # Common practice, no source.
        found = {each.key: each for each in sensitivities(read(example("sled")))}
        self.assertTrue(-100 < found["arm_mass_g"].full_shift_rpm < -50)
        self.assertGreater(found["primary_start_n"].bite_rpm, 50)
        self.assertLess(found["elevation_m"].mean_rpm, 0)

    def test_a_step_by_value(self):
        # A gram, 10 lbf = 44.482216152605 N, a degree, 1/32 in, 1000 ft = 304.8 m: by the hand's units.
        metric = {each.key: each.step for each in sensitivities(read(example("sled")))}
        self.assertEqual([metric[key] for key in ("primary_start_n", "shim_mm", "elevation_m")], [50, 1, 300])
        found = {each.key: (each.step, each.unit) for each in sensitivities(read(example("sled")), units=IMPERIAL)}
        self.assertEqual(found["arm_mass_g"], (1, "g"))
        self.assertAlmostEqual(found["primary_start_n"][0], 44.482216152605, places=9)
        self.assertEqual((found["helix_deg.0"], found["shim_mm"]), ((1, "deg"), (0.79375, "mm")))
        self.assertEqual((found["belt_width_mm"][1], found["elevation_m"]), ("mm", (304.8, "m")))

    def test_one_hole_on_is_twenty_degrees_give_or_take(self):
        """From memory: what one hole winds where no table of holes says it; its spread is told beside it."""
        wound = read(example("quad"))
        self.assertIsNone(wound.secondary.holes)
        step = {each.key: each for each in sensitivities(wound)}["pretwist_deg"]
        self.assertEqual((step.step, step.unit, step.spread, step.label),
                         (20.0, "deg", 0.4, "Secondary spring, one hole on"))  # fmt: skip
        twist = wound.secondary.pretwist_deg
        low, high = (predict(with_numbers(wound, {"pretwist_deg": twist + by}).core()) for by in (-10, 10))
        gain = (high.shift.mean - low.shift.mean) / RPM
        self.assertAlmostEqual(step.mean_rpm / gain, 0.62, delta=0.04)  # a secondary spring, by the study
        self.assertGreater(gain, 0)  # wound further, it shifts out at more rpm
        self.assertEqual({each.spread for each in sensitivities(wound) if each.key != "pretwist_deg"}, {0.0})

    def test_an_end_position_moves_one_way(self):
        document = read(changed(example("sled"), "primary.clicker", {"position": 6}))
        click = {each.key: each for each in sensitivities(document)}["clicker"]
        self.assertTrue(120 < click.mean_rpm < 280)
