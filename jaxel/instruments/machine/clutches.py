"""What weights, springs and helix push with: each arm by itself, a spring that has sagged, a helix that rubs."""

from dataclasses import dataclass
from math import radians
from typing import Any

import numpy as np
from scipy.interpolate import CubicSpline

from .wrap import Array

REACH = 1e-5
"""Step of travel over which a radius' slope is taken [m]."""


@dataclass(frozen=True)
class Rubs:
    """Friction inside the clutches, and what else no rating tells.

    `primary`, share of the weights' push lost where they move out and held back where they return; `helix`, friction of
    the followers [-]; `torque_share` of the belt that enters by the movable sheave; `arms`, what each arm's push is of
    the set's [weights]; `notch`, how deep a roller has worn the arm's face half-way [rad, or of a path m].
    """

    primary: float = 0.06
    helix: float = 0.02
    torque_share: float = 0.5
    arms: tuple[float, ...] = ()
    notch: float = 0.0


def weights_push(document: dict[str, Any], rubs: Rubs, travel: Array) -> Array:
    """Force of the weights per squared speed, friction left out [n, kg·m].

    The work of the spin, ½·d(Σ m·r²)/dx, by differences of the masses' radii; each arm weighs what it weighs.
    """
    primary = document["primary"]
    profile, weights = primary["profile"], primary["weights"]
    at = np.asarray(travel) + primary.get("shim_mm", 0.0) / 1e3
    moved = (_spin(profile, weights, rubs, at + REACH) - _spin(profile, weights, rubs, at - REACH)) / (2 * REACH)
    arms = np.asarray(rubs.arms or (1.0,) * weights["count"])
    clicker = primary.get("clicker")
    turned = 1 - clicker["gain_step"] * (clicker["position"] - clicker["reference"]) if clicker else 1.0
    return np.asarray(0.5 * moved * arms.sum() * turned)


def _spin(profile: dict[str, Any], weights: dict[str, Any], rubs: Rubs, at: Array) -> Array:
    """Σ m·r² of one weight [kg·m²]."""
    if profile["kind"] == "swing-arm":
        swing = _table(profile["swing"], "deg", radians(1), at, rubs.notch)
        masses = [(weights["base_mass_g"], profile["cg_mm"], profile["cg_deg"])]
        stations = {each["name"]: each for each in profile.get("stations", [])}
        for load in weights.get("loads", []):
            place = stations[load["station"]]
            masses.append((load["mass_g"] * load.get("pieces", 1), place["distance_mm"], place.get("deg", 0.0)))
        pivot = profile["pivot_radius_mm"]
        return np.asarray(
            sum(m / 1e3 * ((pivot + d * np.sin(swing + radians(angle))) / 1e3) ** 2 for m, d, angle in masses)
        )
    path = _table(profile["path"], "radius_mm", 1e-3, at, rubs.notch)
    return np.asarray(weights["base_mass_g"] / 1e3 * path**2)


def _table(points: list[dict[str, float]], key: str, unit: float, at: Array, notch: float) -> Array:
    """A table as a curve through its points, carried on straight beyond them, with a hollow worn in its middle."""
    x = np.array([each["travel_mm"] / 1e3 for each in points])
    y = np.array([each[key] * unit for each in points])
    held = np.clip(at, x[0], x[-1])
    through = CubicSpline(x, y) if len(x) > 2 else None
    values = through(held) if through else np.interp(held, x, y)
    ends = [(y[1] - y[0]) / (x[1] - x[0]), (y[-1] - y[-2]) / (x[-1] - x[-2])]
    beyond = np.where(at < x[0], ends[0], ends[1]) * (at - held)
    middle, wide = (x[0] + x[-1]) / 2, (x[-1] - x[0]) / 5
    return np.asarray(values + beyond - notch * np.exp(-(((at - middle) / wide) ** 2)))


def spring_push(spring: dict[str, Any], washer_mm: float, travel: Array) -> Array:
    """Force of a compression spring [n, N] over its travel."""
    rate = (spring["force_finish_n"] - spring["force_start_n"]) / spring["travel_mm"]
    return np.asarray(spring["force_start_n"] + rate * (np.asarray(travel) * 1e3 + washer_mm))


def secondary_push(document: dict[str, Any], rubs: Rubs, opening: Array, opens: bool = True) -> tuple[Array, Array]:
    """Clamp of the secondary without torque [n, N], and per torque on it [n, 1/m].

    A screw with friction, the helix its thread: friction adds to the clamp while the belt `opens` the sheaves.
    """
    secondary = document["secondary"]
    helix, spring = secondary["helix"], secondary["spring"]
    at = np.array([each["travel_mm"] / 1e3 for each in helix["angles"]])
    angles = np.array([radians(each["deg"]) for each in helix["angles"]])
    radius, rub = helix["radius_mm"] / 1e3, rubs.helix if opens else -rubs.helix
    slope = np.tan(np.interp(opening, at, angles))
    lever = (1 + rub * slope) / (slope - rub) / radius
    push = spring_push(spring, secondary.get("washer_mm", 0.0), opening)
    torsion = spring.get("torsion_rate_nm_per_deg", 0.0)
    if torsion:
        fine = np.linspace(0.0, max(float(np.max(opening)), 1e-6), 200)
        turned = np.concatenate([[0.0], np.cumsum(np.diff(fine) / (radius * np.tan(np.interp(fine[1:], at, angles))))])
        wind = wound(secondary) + np.degrees(np.interp(opening, fine, turned))
        push = push + torsion * wind * lever
    return np.asarray(push), np.asarray(rubs.torque_share * lever)


def wound(secondary: dict[str, Any]) -> float:
    """Twist of the secondary's spring at rest [deg], from its hole pair where it stands in one."""
    holes = secondary.get("holes")
    if not holes:
        return float(secondary["spring"].get("pretwist_deg", 0.0))
    pair = holes["fitted"]
    return next(
        float(each["pretwist_deg"])
        for each in holes["table"]
        if (each["sheave"], each["helix"]) == (pair["sheave"], pair["helix"])
    )
