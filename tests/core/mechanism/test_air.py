"""The air against published tables and a general-purpose package."""

import unittest

import fluids.atmosphere
import psychrolib

from jaxel.core.mechanism.vehicle.atmosphere import Conditions, power_factor, saturation_pressure, standard_pressure


class StandardAtmosphere(unittest.TestCase):
    def test_pressure_table(self):
        # U.S. Standard Atmosphere 1976, Table I, pressure at geometric altitude.
        for altitude, pressure in (
            (0, 101325),
            (500, 95461),
            (1000, 89876),
            (2000, 79501),
            (3000, 70121),
            (5000, 54048),
        ):
            with self.subTest(altitude=altitude):
                self.assertAlmostEqual(standard_pressure(altitude) / pressure, 1, delta=2e-5)

    def test_agrees_with_a_reference_package(self):
        # fluids (PyPI), its own implementation of the 1976 standard.
        for altitude in (-300, 0, 800, 1900, 3600):
            self.assertAlmostEqual(
                standard_pressure(altitude) / fluids.atmosphere.ATMOSPHERE_1976(altitude).P, 1, delta=1e-5
            )

    def test_density_altitude_in_standard_air_is_the_altitude(self):
        for altitude in (0, 1000, 2500):
            standard = fluids.atmosphere.ATMOSPHERE_1976(altitude)
            air = Conditions(altitude, standard.T - 273.15, 0.0)
            self.assertAlmostEqual(air.density, standard.rho, delta=2e-4)
            self.assertAlmostEqual(air.density_altitude, altitude, delta=0.002 * altitude + 0.5)


class Humidity(unittest.TestCase):
    def test_saturation_pressure_table(self):
        # Over water, from the steam tables (IAPWS-IF97, e.g. NIST): 0.6113 kPa at 0.01 °C, 2.339 at 20, 7.384 at 40.
        for temperature, pascals in ((0.01, 611.3), (20, 2339), (40, 7384)):
            self.assertAlmostEqual(saturation_pressure(temperature) / pascals, 1, delta=3e-3)

    def test_moist_density_agrees_with_a_reference_package(self):
        # PsychroLib (ASHRAE Handbook of Fundamentals 2017, chapter 1).
        psychrolib.SetUnitSystem(psychrolib.SI)
        for temperature, humidity in ((5, 0.9), (22, 0.45), (35, 0.8)):
            air = Conditions(250, temperature, humidity)
            ratio = psychrolib.GetHumRatioFromRelHum(temperature, humidity, air.pressure)
            density = psychrolib.GetMoistAirDensity(temperature, ratio, air.pressure)
            self.assertAlmostEqual(air.density / density, 1, delta=2e-3)


class EnginePower(unittest.TestCase):
    def test_reference_point(self):
        # SAE J1349: 990 hPa of dry air at 25 °C is the reference, factor 1.
        self.assertEqual(power_factor(99000, 25), 1)

    def test_correction_formula_at_a_worked_point(self):
        # SAE J1349 CA = 1.18·(990/950)·√(308/298) − 0.18 = 1.07015 by hand, at 950 hPa and 35 °C.
        self.assertAlmostEqual(1 / power_factor(95000, 35), 1.07015, places=4)

    def test_barometer_wins_over_altitude(self):
        self.assertEqual(Conditions(2000, 20, 0.0, barometer=100000).pressure, 100000)

    def test_thin_air_costs_power(self):
        factors = [Conditions(altitude, -5, 0.5).power_factor for altitude in (0, 800, 1600, 2400)]
        self.assertEqual(factors, sorted(factors, reverse=True))
