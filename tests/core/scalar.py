"""The clutch solved one node at a time by SciPy: an independent route to the same numbers.

Written from the equations, sharing no code with the core: quad integrates the belt's tension along each
wrap, the arm's force comes from the numerical derivative of its kinetic energy, its profile from linear least squares
on truncated powers, the helix's rotation from quad, what the secondary holds from bisection on its own clamp, and
brentq closes every equation.
"""

from math import asin, atan, cos, exp, log, pi, radians, sin, sqrt, tan
from typing import Any

import numpy as np
from scipy.integrate import quad
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

RPM = pi / 30


def held(at: list[float], values: list[float]) -> Any:
    curve = PchipInterpolator(at, values)
    return lambda x: float(curve(min(max(x, at[0]), at[-1])))


def smooth(at: list[float], values: list[float], pieces: int | None) -> Any:
    """The least-squares cubic spline in truncated powers, ends held; its knots at the table's own places."""
    n, x = len(at), np.array(at)
    degree = min(3, n - 1)
    count = pieces or max(1, min(4, (n - 1) // 3))
    scale = x[-1] - x[0]
    knots = [at[j * (n - 1) // count] for j in range(1, count)]

    def basis(place: Any) -> Any:
        u = (np.asarray(place, float) - x[0]) / scale
        powers = [u**k for k in range(degree + 1)]
        powers += [np.maximum(u - (knot - x[0]) / scale, 0.0) ** degree for knot in knots]
        return np.stack(powers, axis=-1)

    weights, *_ = np.linalg.lstsq(basis(x), np.array(values), rcond=None)
    return lambda place: float(basis(min(max(place, at[0]), at[-1])) @ weights)


class ScalarClutch:
    """A setup document's clutch in SI; every method solves for one travel."""

    def __init__(self, d: dict[str, Any]):
        self.d = d
        self.curve: Any = None
        geometry, belt, model = d["geometry"], d["belt"], d.get("model", {})
        self.c = geometry["centre_distance_mm"] / 1e3
        self.beta = radians(geometry["sheave_half_angle_deg"])
        self.hub = geometry["primary"]["hub_radius_mm"] / 1e3
        self.length = (belt["outer_circumference_mm"] - 2 * pi * belt["cord_depth_mm"]) / 1e3
        wear = (belt["top_width_new_mm"] - belt["top_width_mm"]) / 1e3
        self.x_e = geometry["primary"]["idle_clearance_mm"] / 1e3 + wear
        adjuster = geometry["secondary"].get("adjuster_mm", 0) / 1e3
        self.r2_stop = geometry["secondary"]["closed_radius_mm"] / 1e3 - (wear - adjuster) / (2 * tan(self.beta))
        taut = brentq(lambda r1: self.belt_length(r1, self.r2_stop) - self.length, 1e-4, self.c)
        self.x_g = max(0.0, self.x_e + 2 * tan(self.beta) * max(0.0, taut - self.hub))
        self.travel = geometry["primary"]["travel_mm"] / 1e3
        r2_open = self.r2_stop - geometry["secondary"]["travel_mm"] / 1e3 / (2 * tan(self.beta))
        r1_end = brentq(lambda r1: self.belt_length(r1, r2_open) - self.length, 1e-4, self.c)
        limit = self.travel - d["primary"].get("limiter_mm", 0) / 1e3
        self.x_end = min(limit, self.x_e + (r1_end - self.hub) * 2 * tan(self.beta))
        friction = model.get("friction", 0.35)
        self.mu = friction / sin(self.beta)
        self.seat1, self.seat2 = (
            tan(self.beta + share * atan(friction)) / tan(self.beta)
            for share in (model.get("seating_primary", 0.5), model.get("seating_secondary", 1.0))
        )
        self.share = model.get("adhesion_share", 0.35)
        self.hysteresis = model.get("hysteresis", 0.05)
        curve = d["engine"]["curve"]
        self.torque_curve = held([p["rpm"] * RPM for p in curve], [p["torque_nm"] for p in curve])
        self.factor = 1.0 if d["engine"].get("boost_compensated") else self.power_factor()

    def power_factor(self) -> float:
        air = self.d["conditions"]
        height = 6356766 * air["elevation_m"] / (6356766 + air["elevation_m"])
        pressure = 1013.25 * (1 - 0.0065 * height / 288.15) ** (9.80665 / (0.0065 * 8314.32 / 28.9644))
        t = air["temperature_c"]
        vapour = air["relative_humidity"] * 6.1121 * exp((18.678 - t / 234.5) * t / (257.14 + t))
        return 1 / (1.18 * 990 / (pressure - vapour) * sqrt((t + 273) / 298) - 0.18)

    def belt_length(self, r1: float, r2: float) -> float:
        lean = asin((r2 - r1) / self.c)
        return 2 * self.c * cos(lean) + pi * (r1 + r2) + 2 * lean * (r2 - r1)

    def radii(self, x: float) -> tuple[float, float]:
        r1 = self.hub + max(0.0, x - self.x_e) / (2 * tan(self.beta))
        r2 = brentq(lambda r: self.belt_length(r1, r) - self.length, 1e-4, r1 + 0.99 * self.c)
        return r1, min(r2, self.r2_stop)

    def profile(self, table: str, value: str, unit: float) -> Any:
        if self.curve is None:
            held_by = self.d["primary"]["profile"]
            rows = held_by[table]
            self.curve = smooth(
                [p["travel_mm"] / 1e3 for p in rows], [p[value] * unit for p in rows], held_by.get("pieces")
            )
        return self.curve

    def kinetic_energy(self, x: float) -> float:
        """Rotating energy of all the weights at 1 rad/s [J]."""
        primary = self.d["primary"]
        profile, weights = primary["profile"], primary["weights"]
        x += primary.get("shim_mm", 0) / 1e3
        if profile["kind"] == "ramp-roller":
            path = self.profile("path", "radius_mm", 1e-3)
            return weights["count"] * weights["base_mass_g"] / 1e3 * path(x) ** 2 / 2
        swing = self.profile("swing", "deg", pi / 180)
        masses = [(weights["base_mass_g"], profile["cg_mm"], profile["cg_deg"])]
        at = {s["name"]: s for s in profile["stations"]}
        for load in weights["loads"]:
            place = at[load["station"]]
            masses.append((load["mass_g"] * load.get("pieces", 1), place["distance_mm"], place["deg"]))
        radius = [
            (mass / 1e3, profile["pivot_radius_mm"] / 1e3 + distance / 1e3 * sin(swing(x) + radians(psi)))
            for mass, distance, psi in masses
        ]
        return weights["count"] * sum(m * r * r for m, r in radius) / 2

    def weight_force(self, x: float, speed: float) -> float:
        step = 1e-6
        # At the end of its table, and outside it, the weights keep the slope they had there.
        profile, shim = self.d["primary"]["profile"], self.d["primary"].get("shim_mm", 0)
        table = [(point["travel_mm"] - shim) / 1e3 for point in profile.get("path") or profile["swing"]]
        x = min(max(x, table[0] + step), table[-1] - step)
        force = (self.kinetic_energy(x + step) - self.kinetic_energy(x - step)) / (2 * step) * speed**2
        clicker = self.d["primary"].get("clicker")
        if clicker:
            force *= 1 - clicker["gain_step"] * (clicker["position"] - clicker["reference"])
        return force

    def secondary_clamp(self, opening: float, torque: float, sign: int) -> float:
        secondary = self.d["secondary"]
        spring, helix = secondary["spring"], secondary["helix"]
        at = [p["travel_mm"] / 1e3 for p in helix["angles"]]
        angles = [radians(p["deg"]) for p in helix["angles"]]
        radius = helix["radius_mm"] / 1e3
        turned = quad(
            lambda x: 1 / (radius * tan(np.interp(x, at, angles))),
            0,
            opening,
            points=[p for p in at if 0 < p < opening] or None,
        )[0]
        wind = spring.get("torsion_rate_nm_per_deg", 0) * (self.pretwist() + turned * 180 / pi)
        mu, slope = self.d.get("model", {}).get("helix_friction", 0.0) * sign, tan(np.interp(opening, at, angles))
        lever = (1 + mu * slope) / (slope - mu) / radius
        rate = (spring["force_finish_n"] - spring["force_start_n"]) / (spring["travel_mm"] / 1e3)
        push = spring["force_start_n"] + rate * (opening + secondary.get("washer_mm", 0) / 1e3)
        return push + (wind + secondary.get("torque_share", 0.5) * torque) * lever

    def pretwist(self) -> float:
        secondary = self.d["secondary"]
        holes = secondary.get("holes")
        if not holes:
            return secondary["spring"].get("pretwist_deg", 0)
        return next(row["pretwist_deg"] for row in holes["table"] if row | holes["fitted"] == row)

    def wrap_sum(self, wrap: float, idle: float, tight: float, slack: float) -> float:
        """∫T dθ of the two limits, mixed: an idle arc then sliding, and creep over the whole wrap."""
        k = log(tight / slack)
        active = min(k / self.mu, wrap)
        rate = k / active
        sliding = quad(lambda a: slack * exp(rate * a), 0, active)[0]
        creeping = quad(lambda a: slack * exp(k / wrap * a), 0, wrap)[0]
        return self.share * (idle * (wrap - active) + sliding) + (1 - self.share) * creeping

    def hold(self, x: float, sign: int) -> float:
        """Torque on the primary that the secondary holds: bisection on friction against pull, infinite for none."""
        r1, r2 = self.radii(x)
        opening = 2 * tan(self.beta) * (self.r2_stop - r2)

        def left(torque: float) -> float:
            return 2 * tan(self.beta) * self.mu * self.secondary_clamp(opening, torque * r2 / r1, sign) - torque / r1

        return brentq(left, 0.0, 1e5, xtol=1e-9) if left(1e5) < 0 else float("inf")

    def required_clamp(self, x: float, torque: float, sign: int) -> float:
        r1, r2 = self.radii(x)
        lean = asin((r2 - r1) / self.c)
        torque = min(torque, self.hold(x, sign))
        pull = torque / r1
        opening = 2 * tan(self.beta) * (self.r2_stop - r2)
        seated = 2 * tan(self.beta) * self.secondary_clamp(opening, pull * r2, sign) * self.seat2
        wrap1, wrap2 = pi - 2 * lean, pi + 2 * lean
        least = pull / (exp(self.mu * wrap2) - 1)
        slack = brentq(lambda t: self.wrap_sum(wrap2, t, t + pull, t) - seated, least * (1 + 1e-12), 1e7)
        squeezed = self.wrap_sum(wrap1, slack + pull, slack + pull, slack) / (2 * tan(self.beta) * self.seat1)
        return max(squeezed, pull / (2 * tan(self.beta) * self.mu))

    def spring_force(self, x: float) -> float:
        spring = self.d["primary"]["spring"]
        rate = (spring["force_finish_n"] - spring["force_start_n"]) / (spring["travel_mm"] / 1e3)
        return spring["force_start_n"] + rate * (x + self.d["primary"].get("washer_mm", 0) / 1e3)

    def touch_rpm(self) -> float:
        """The highest release speed on the sheave's way to x_g, looked for on a fine grid [rpm]."""
        way = np.linspace(0.0, self.x_g, 301)
        share = 1 - self.hysteresis
        return max(sqrt(self.spring_force(x) / (self.weight_force(x, 1.0) * share)) for x in way) / RPM

    def running_rpm(self, x: float, held_rpm: float) -> float:
        """Where the engine runs on past the speed that balances the belt, looked for turn by turn [rpm]."""
        limit, hold = self.d["engine"]["rev_limit_rpm"], self.hold(x, 1)
        rpm = held_rpm
        while rpm < limit and self.torque_curve(rpm * RPM) * self.factor > hold:
            rpm += 0.25
        return max(held_rpm, min(rpm, limit))

    def held_rpm(self, x: float, *, backshift: bool = False, near_rpm: float = 0.0) -> float:
        """The engine speed the clutch holds at full throttle at one travel [rpm]."""
        sign = -1 if backshift else 1
        push = self.spring_force(x)

        def excess(speed: float) -> float:
            weights = self.weight_force(x, speed) * (1 - sign * self.hysteresis)
            return weights - push - self.required_clamp(x, self.torque_curve(speed) * self.factor, sign)

        low, high = (0.98 * near_rpm, 1.02 * near_rpm) if near_rpm else (1500, 30000)
        return brentq(excess, low * RPM, high * RPM, xtol=1e-6) / RPM
