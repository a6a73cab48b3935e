"""A belt followed round its sheaves, against Eytelwein, an independent integration and the limits of the model."""

import unittest
from math import atan, cos, exp, pi, sin, tan

import numpy as np
from scipy.integrate import solve_ivp

from jaxel.instruments.machine.wrap import Flanks, wrapped

BETA, MU = 0.2269, 0.35
GROOVED = MU / sin(BETA)
"""What a wedge makes of the friction."""


def coulomb(flanks: Flanks, entering: float, creep: float, wrap: float, radius: float) -> tuple[float, float]:
    """Leaving tension and thrust of a driven wrap that slides everywhere: scipy.integrate.solve_ivp, DOP853 to 1e-9.

    Rigid in shear the friction stands against the sliding at once, at an angle γ from straight inward; γ³/3 grows
    evenly where the belt enters, γ itself without bound.
    """
    s, c, mu, k = sin(flanks.half_angle), cos(flanks.half_angle), flanks.friction, flanks.stiffness

    def grow(_: float, state: np.ndarray) -> list[float]:
        tension, cubed, _thrust = state
        gamma = max((3 * cubed) ** (1 / 3), 1e-9)
        across = s + mu * c * cos(gamma)
        load = tension / (2 * radius * across)
        slides = creep + (tension - entering) / flanks.cord + load / k / radius
        pulls = mu * sin(gamma) / across
        sinks = radius * slides * c / tan(gamma) / (load / k)
        turns = (sinks - pulls) * across / (mu * c * sin(gamma))
        return [tension * pulls, gamma**2 * turns, load * (c - mu * s * cos(gamma)) * radius]

    found = solve_ivp(grow, (0.0, wrap), [entering, 1e-12, 0.0], method="DOP853", rtol=1e-9, atol=1e-12)
    return float(found.y[0, -1]), float(found.y[2, -1])


class Wrap(unittest.TestCase):
    def test_a_belt_that_slips_all_round_is_eytelwein_s(self):
        # Eytelwein's equation, T1/T2 = e^(μθ/sin β): any text on machine design.
        for wrap in (2.2, pi, 3.9):
            found = wrapped(Flanks(MU, BETA), 100.0, np.array([30.0]), wrap, 0.09, steps=2000)
            self.assertAlmostEqual(float(found.leaving[0]) / (100 * exp(GROOVED * wrap)), 1, delta=0.025, msg=str(wrap))
            # Without seating both terms of model.md §5 come to S = ΔT/μ_e, and the thrust to S/(2·tan β).
            limit = (float(found.leaving[0]) - 100) / GROOVED / (2 * tan(BETA))
            self.assertAlmostEqual(float(found.thrust[0]) / limit, 1, delta=0.01, msg=str(wrap))

    def test_the_same_backwards_on_a_driver(self):
        found = wrapped(Flanks(MU, BETA), 5000.0, np.array([-30.0]), 2.6, 0.06, steps=2000)
        self.assertAlmostEqual(float(found.leaving[0]) * exp(GROOVED * 2.6) / 5000, 1, delta=0.01)

    def test_a_belt_rigid_in_shear_is_coulomb_s(self):
        # scipy.integrate.solve_ivp as an independent route: another state, another method, no element of shear.
        flanks = Flanks(MU, BETA, shear=150.0)
        for creep in (0.005, 0.02, 0.05):
            tension, thrust = coulomb(flanks, 1000.0, creep, 3.4, 0.09)
            found = wrapped(flanks, 1000.0, np.array([creep]), 3.4, 0.09, steps=4000)
            self.assertAlmostEqual(float(found.leaving[0]) / tension, 1, delta=0.02, msg=str(creep))
            self.assertAlmostEqual(float(found.thrust[0]) / thrust, 1, delta=0.02, msg=str(creep))

    def test_a_belt_that_only_sinks_is_seated_wholly(self):
        # A wedge drawn in against friction: thrust = T·θ/(2·tan(β + atan μ)), model.md §5 with ψ = 1.
        flanks = Flanks(MU, BETA, shear=20.0, cord=1e12)
        low, high = -0.05, 0.05
        for _ in range(60):
            middle = (low + high) / 2
            pulls = float(wrapped(flanks, 1000.0, np.array([middle]), 0.4, 0.09, 400).leaving[0])
            low, high = (middle, high) if pulls < 1000 else (low, middle)
        found = wrapped(flanks, 1000.0, np.array([low]), 0.4, 0.09, 400)
        whole = 1000 * 0.4 / (2 * tan(BETA + atan(MU)))
        self.assertAlmostEqual(float(found.thrust[0]) / whole, 1, delta=0.08)

    def test_it_scales_with_its_tension(self):
        flanks = Flanks(MU, BETA)
        one = wrapped(flanks, 1.0, np.array([2e-6]), 3.0, 0.08)
        many = wrapped(flanks, 800.0, np.array([1.6e-3]), 3.0, 0.08)
        for part in ("leaving", "thrust", "sink"):
            self.assertAlmostEqual(float(getattr(many, part)[0] / getattr(one, part)[0]) / 800, 1, places=6, msg=part)

    def test_more_creep_pulls_more(self):
        pulled = wrapped(Flanks(MU, BETA), 500.0, np.linspace(-0.01, 0.03, 30), 3.3, 0.1).leaving
        self.assertTrue(np.all(np.diff(pulled) > -1e-6))
        self.assertLess(pulled[0], 500)
        self.assertGreater(pulled[-1], 500)
