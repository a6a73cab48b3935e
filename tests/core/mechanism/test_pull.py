"""The simulated strip: energy, agreement with the predicted shift, and what a logger makes of it."""

import unittest
from dataclasses import asdict

import numpy as np
from scipy.integrate import solve_ivp

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.run.pull import pull_figures
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import TRACES, Strip
from jaxel.core.units import MPH, RPM
from tests.examples import DEMO, PAGES, drivetrain, example, read


def in_shift(core, trace, low=0.5, high=0.95):
    """Samples of the first pull in which the sheave is between the launch and the end."""
    start, end = core.drive.engagement_travel, core.drive.end_travel
    done = (trace.travel - start) / (end - start)
    return (done > low) & (done < high) & (trace.throttle > 0.99) & (trace.time < 9)


class Mechanics(unittest.TestCase):
    def test_energy_is_accounted_for(self):
        # First law: what the engine gave is heat, resistance, climb or motion.
        for name in (*PAGES, *DEMO):
            for throttle in TRACES.values():
                energy = simulate(read(example(name)).core(), Strip(throttle=throttle, duration=14)).energy
                with self.subTest(name):
                    spent = asdict(energy)
                    gained = spent.pop("engine")
                    self.assertLess(abs(gained - sum(spent.values())), 0.003 * gained)

    def test_full_throttle_holds_the_predicted_shift(self):
        for name in (*PAGES, *DEMO):
            core = read(example(name)).core()
            trace, curve = simulate(core), predict(core).shift
            here = in_shift(core, trace)
            expected = np.interp(trace.travel[here], curve.path.travel, curve.speed)
            with self.subTest(name):
                self.assertGreater(here.sum(), 10)
                # The sheave needs some surplus to move at all: a quick shift runs a little above the standing one.
                self.assertTrue(0.99 < np.mean(trace.engine_speed[here] / expected) < 1.045)

    def test_locked_clutch_follows_the_equation_of_motion(self):
        # SciPy's solve_ivp on one lumped inertia, from fully shifted out: an independent route.
        core = drivetrain("sled", engine__rev_limit_rpm=12000, vehicle__ground_grip=2)
        trace = simulate(core, Strip(duration=20))
        top = trace.travel > core.drive.end_travel - 1e-9
        first = int(np.argmax(top)) + 25
        ratio, vehicle = trace.ratio[first], core.vehicle
        gear = ratio * vehicle.drive_ratio / vehicle.rolling_radius

        def accelerate(_, state):
            v = state[0]
            torque = core.engine.full_throttle(v * gear, core.torque_factor)
            resistance = vehicle.rolling_resistance + 0.5 * core.conditions.density * vehicle.drag_area * v * v
            mass = vehicle.mass + 0.03 * gear**2 * 0.9
            return [(float(torque) * gear * 0.9 - resistance) / mass]

        span = (trace.time[first], trace.time[first] + 4)
        smooth = solve_ivp(accelerate, span, [trace.vehicle_speed[first]], rtol=1e-8, t_eval=[span[1]])
        found = np.interp(span[1], trace.time, trace.vehicle_speed)
        self.assertAlmostEqual(found / smooth.y[0, -1], 1, delta=0.004)

    def test_the_ground_takes_no_more_than_its_grip(self):
        # Newton's second law with all the push the ground takes: no sample accelerates faster, and what the belt
        # carries beyond it is booked.
        for name, grip in (("sled", 0.5), ("farm-side-by-side", 0.7), ("sled", 0.3)):
            core = drivetrain(name, vehicle__ground_grip=grip)
            trace = simulate(core, Strip(duration=6))
            fastest = np.max(np.diff(trace.vehicle_speed) / np.diff(trace.time))
            most = (grip - core.vehicle.rolling_coefficient) * 9.80665
            with self.subTest(name, grip=grip):
                self.assertLess(fastest, most * 1.001)
                self.assertGreater(fastest, most * 0.9)
                self.assertGreater(trace.energy.ground_slip, 0)

    def test_more_grip_gets_away_sooner(self):
        pulls = [simulate(drivetrain("sled", vehicle__ground_grip=grip), Strip(duration=8)) for grip in (0.4, 0.5, 2)]
        times = [pull.time_to_speed(30 * MPH) for pull in pulls]
        self.assertEqual(times, sorted(times, reverse=True))
        # Half a weight of push less rolling, v = a·t, after some tenths for the engine to run up to the belt.
        steady = 30 * MPH / ((0.5 - 0.12) * 9.80665)
        self.assertTrue(steady < times[1] < steady + 0.8, (steady, times))
        self.assertLess(pulls[2].energy.ground_slip, 0.05 * pulls[1].energy.ground_slip)

    def test_grip_on_snow_and_on_dirt(self):
        # From memory: half a machine's weight on snow, seven tenths on dirt.
        self.assertEqual(drivetrain("sled").vehicle.ground_grip, 0.5)
        self.assertEqual(drivetrain("quad").vehicle.ground_grip, 0.7)

    def test_a_chop_shifts_back(self):
        core = drivetrain("side-by-side")
        trace = simulate(core, Strip(throttle=TRACES["chop"]))
        before = trace.ratio[np.searchsorted(trace.time, 8.9)]
        after = trace.ratio[(trace.time > 9.2) & (trace.time < 11.8)].max()
        self.assertGreater(after, before + 0.02)
        again = (trace.time > 12.5) & (trace.time < 14)
        self.assertAlmostEqual(trace.engine_speed[again].mean() / predict(core).shift.mean, 1, delta=0.03)

    def test_roll_on_is_slower_than_a_full_pull(self):
        core = drivetrain("sled")
        full, rolled = (simulate(core, Strip(throttle=TRACES[name])) for name in ("full", "roll-on"))
        self.assertLess(full.time_to_speed(60 * MPH), rolled.time_to_speed(60 * MPH))

    def test_a_grade_costs_time_and_warms_the_belt(self):
        core = drivetrain("side-by-side")
        level, climb = pull_figures(core), pull_figures(core, Strip(grade=0.15))
        self.assertGreater(climb["to_200_m_s"], level["to_200_m_s"] + 0.5)
        self.assertGreater(climb["belt_temperature_max_c"], level["belt_temperature_max_c"])

    def test_a_worn_belt_reaches_less_gearing(self):
        # A worn belt loses its lowest gearing (common practice, one measurement: 8.4 → 5.6 on a small converter).
        # The sheave must come to the end of its travel for it.
        new, worn = (
            simulate(drivetrain("sled", belt__top_width_mm=width), Strip(duration=26)) for width in (36.5, 35.2)
        )
        self.assertGreater(worn.lowest_gearing, new.lowest_gearing + 0.03)

    def test_a_small_converter_gains_from_a_new_belt(self):
        # Common practice, one measurement: 0–30 mph 9.6 → 7.6 s, wheel torque up by half, 31 → 34.5 mph.
        def pulled(width):
            core = drivetrain("torque-converter", belt__top_width_mm=width)
            return pull_figures(core, Strip(duration=30)), predict(core)

        (worn, worn_at), (new, new_at) = pulled(17.0), pulled(19.5)
        self.assertTrue(0.05 < 1 - new["to_30_mph_s"] / worn["to_30_mph_s"] < 0.4)
        self.assertTrue(0.2 < new_at.low_ratio / worn_at.low_ratio - 1 < 0.8)
        self.assertLess(new["lowest_gearing"], worn["lowest_gearing"])

    def test_a_worn_belt_is_never_quicker_off_the_line(self):
        # Common practice: it bites harder or later and starts in a taller gear; nothing of it makes 0–30 shorter.
        for name in DEMO:
            document = example(name)
            limits = document["belt"]
            times, starts = [], []
            for width in (limits["top_width_new_mm"], limits["top_width_min_mm"]):
                core = drivetrain(name, belt__top_width_mm=width)
                times.append(pull_figures(core, Strip(duration=6))["to_30_mph_s"])
                starts.append(predict(core))
            new, worn = (each.engagement for each in starts)
            with self.subTest(name):
                self.assertGreater(times[1], 0.98 * times[0])
                self.assertLess(starts[1].low_ratio, starts[0].low_ratio)
                self.assertTrue(worn.touch > new.touch - 1e-6 or worn.snap > new.snap)

    def test_never_reached_is_none(self):
        self.assertIsNone(simulate(drivetrain("quad"), Strip(duration=2)).time_to_speed(60 * MPH))

    def test_a_machine_left_at_idle_stands(self):
        trace = simulate(drivetrain("sled"), Strip(duration=3, throttle=((0.0, 0.0),)))
        self.assertEqual(trace.distance[-1], 0)
        self.assertAlmostEqual(trace.engine_speed[-1] / RPM, 1300, delta=60)

    def test_bad_strips_are_refused(self):
        for strip, hz in (
            (Strip(duration=0), 50), (Strip(duration=float("nan")), 50), (Strip(), 0), (Strip(), float("inf")),
            (Strip(throttle=()), 50), (Strip(throttle=((1.0, 0.0), (0.5, 1.0))), 50), (Strip(grade=2), 50),
            (Strip(throttle=((0.0, 1.4),)), 50),
        ):  # fmt: skip
            self.assertRaises(InvalidValue, simulate, drivetrain("sled"), strip, hz)


class Logger(unittest.TestCase):
    def setUp(self):
        self.trace = simulate(drivetrain("sled"), Strip(duration=5), hz=100)

    def test_rate(self):
        np.testing.assert_allclose(np.diff(self.trace.time), 0.01, atol=1e-9)
        self.assertEqual(len(self.trace.time), 501)

    def test_columns_by_value(self):
        # 60 turns a minute are 2π radians a second; 3.6 km/h are a metre a second (NIST SP 811).
        columns = log_columns(self.trace)
        np.testing.assert_allclose(columns["engine_rpm"] * 2 * np.pi / 60, self.trace.engine_speed)
        np.testing.assert_allclose(columns["secondary_rpm"] * 2 * np.pi / 60, self.trace.secondary_speed)
        np.testing.assert_allclose(columns["speed_kph"] / 3.6, self.trace.vehicle_speed)
        np.testing.assert_allclose(columns["throttle_pct"], 100 * self.trace.throttle)
        self.assertTrue(7000 < columns["engine_rpm"].max() < 8800)

    def test_the_throttle_is_read_between_its_points(self):
        # FULL opens from 0.3 to 0.4 s: a quarter open at 0.325, half at 0.35.
        trace = simulate(drivetrain("sled"), Strip(duration=0.5), hz=200)
        opening = dict(zip(np.round(trace.time, 3), trace.throttle, strict=True))
        self.assertAlmostEqual(opening[0.325], 0.25)
        self.assertAlmostEqual(opening[0.35], 0.5)
        self.assertEqual((opening[0.3], opening[0.4]), (0, 1))

    def test_figures_by_value(self):
        # Interpolated here by numpy: seconds from opening the throttle (0.3 s) to 30 mph = 13.4112 m/s.
        figures, trace = pull_figures(drivetrain("sled"), Strip(duration=5)), self.trace
        self.assertAlmostEqual(figures["to_30_mph_s"], np.interp(13.4112, trace.vehicle_speed, trace.time) - 0.3,
                               delta=0.025)  # fmt: skip
        self.assertAlmostEqual(figures["lowest_gearing"], trace.ratio.min(), delta=0.01)
        self.assertAlmostEqual(figures["belt_temperature_max_c"], trace.belt_temperature.max(), delta=0.5)
        self.assertEqual(figures["ground_grip"], 0.5)

    def test_the_limiter_at_launch_is_told_from_one_in_the_shift(self):
        # A sled flares while the ground takes no more; weights far too light hold it there all the way.
        light = {"primary__weights__base_mass_g": 36}
        for name, fields, launch, shift in (
            ("mountain-sled", {}, True, False), ("mountain-sled", light, True, True), ("quad", {}, False, False),
        ):  # fmt: skip
            core = drivetrain(name, **fields)
            figures = pull_figures(core, Strip(duration=12))
            trace = simulate(core, Strip(duration=12))
            held = 0.02 * np.sum((trace.engine_speed >= core.engine.rev_limit) & (trace.throttle > 0))
            with self.subTest(name, **fields):
                self.assertAlmostEqual(figures["limiter_launch_s"] + figures["limiter_shift_s"], held, delta=0.03)
                self.assertEqual((figures["limiter_launch_s"] > 0, figures["limiter_shift_s"] > 0), (launch, shift))


class Sense(unittest.TestCase):
    def test_high_country_is_slower(self):
        low = pull_figures(drivetrain("side-by-side"))
        high = pull_figures(drivetrain("side-by-side", conditions__elevation_m=2800))
        self.assertLess(low["to_400_m_s"], high["to_400_m_s"])
