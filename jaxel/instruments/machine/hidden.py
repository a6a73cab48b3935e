"""What nobody wrote down: how one machine differs from its kind, and what is wrong with it; the same for one seed.

The sizes are how machines of one kind differ that have been ridden a season or three; from memory.
"""

import copy
from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from .clutches import Rubs
from .machine import Machine, Physics

LENGTHS: Mapping[str, float] = {
    "belt.outer_circumference_mm": 1.0,
    "belt.cord_depth_mm": 0.15,
    "belt.top_width_new_mm": 0.2,
    "belt.top_width_mm": 0.3,
    "geometry.centre_distance_mm": 0.8,
    "geometry.sheave_half_angle_deg": 0.15,
    "geometry.primary.hub_radius_mm": 0.4,
    "geometry.primary.idle_clearance_mm": 0.3,
    "geometry.secondary.closed_radius_mm": 0.4,
    "primary.profile.pivot_radius_mm": 0.5,
    "primary.profile.cg_mm": 0.8,
    "primary.profile.cg_deg": 1.0,
    "secondary.helix.radius_mm": 0.5,
    "conditions.elevation_m": 50.0,
    "conditions.temperature_c": 4.0,
}
"""Standard deviations in a field's own unit."""

SHARES: Mapping[str, float] = {
    "primary.weights.base_mass_g": 0.03,
    "vehicle.mass_kg": 0.06,
    "vehicle.rolling_coefficient": 0.2,
    "vehicle.rolling_radius_mm": 0.02,
    "secondary.spring.torsion_rate_nm_per_deg": 0.06,
}
"""Standard deviations as a share of a field."""

TABLES: Mapping[str, tuple[str, float]] = {
    "primary.profile.swing": ("deg", 0.03),
    "primary.profile.path": ("radius_mm", 0.015),
    "secondary.helix.angles": ("deg", 0.02),
    "engine.curve": ("torque_nm", 0.03),
}
"""A table's field of values, and the standard deviation of its scale."""

SPRING_NEW, SPRING_SAG = 0.02, 0.045
"""What a new spring misses its rating by, one standard deviation of both ends; what a used one has lost, at the mean,
two thirds of which are in what is typical of its kind."""

SPRING_ENDS = 0.025
"""How much more one end of a used spring is off than the other: it sags most where it is pressed most."""

ARM = 0.0025
"""How unequal the arms of a set are, of one arm's push."""

Doc = dict[str, Any]


def drawn(document: Mapping[str, Any], seed: int, faults: Iterable[str] = ()) -> Machine:
    """A machine of a document's kind, its numbers drawn about the document's, with what is wrong with it.

    Raises KeyError for a fault that is none of FAULTS.
    """
    rng = np.random.default_rng(seed)
    true = copy.deepcopy(dict(document))
    for path, sd in LENGTHS.items():
        _move(true, path, lambda value, sd=sd: value + rng.normal(0, sd))  # type: ignore[misc]
    for path, share in SHARES.items():
        _move(true, path, lambda value, share=share: value * (1 + rng.normal(0, share)))  # type: ignore[misc]
    for path, (name, share) in TABLES.items():
        scale = 1 + rng.normal(0, share)
        for point in _at(true, path) or ():
            point[name] *= scale
    for side in ("primary", "secondary"):
        worn(true[side]["spring"], rng)
    belt = true["belt"]
    belt["top_width_mm"] = min(belt["top_width_mm"], belt["top_width_new_mm"] + 0.2)
    machine = Machine(true, physics(rng, true["primary"]["weights"]["count"]))
    for fault in faults:
        machine = FAULTS[fault](machine, rng)
    return machine


def physics(rng: np.random.Generator, arms: int) -> Physics:
    """What no reading tells, drawn: belt, friction, engine."""
    return Physics(
        friction=float(np.clip(rng.normal(0.405, 0.02), 0.34, 0.47)),
        stiffness=4e7 * float(np.exp(rng.normal(0, 0.15))),
        shear=0.115 * float(np.exp(rng.normal(0, 0.08))),
        cord=6e4 * float(np.exp(rng.normal(0, 0.12))),
        rubs=Rubs(
            primary=float(np.clip(rng.normal(0.055, 0.012), 0.02, 0.1)),
            helix=float(np.clip(rng.normal(0.01, 0.006), 0.0, 0.03)),
            torque_share=float(rng.normal(0.49, 0.01)),
            arms=tuple((1 + rng.normal(0, ARM, arms)).tolist()),
            notch=float(rng.uniform(0.0, 0.002)),
        ),
        strength=float(rng.normal(1.0, 0.02)),
        own_share=float(rng.normal(0.18, 0.02)),
        efficiency=float(rng.normal(0.9, 0.02)),
    )


def worn(spring: Doc, rng: np.random.Generator, used: bool = True) -> None:
    """A spring's forces as they are: off its rating by as much at both ends, and sagged where it is used."""
    lost = rng.exponential(SPRING_SAG) - SPRING_SAG * 2 / 3 if used else 0.0
    scale = (1 + rng.normal(0, SPRING_NEW)) * (1 - lost)
    for end in ("force_start_n", "force_finish_n"):
        spring[end] *= scale * (1 + rng.normal(0, SPRING_ENDS if used else SPRING_NEW / 2))


def _at(document: Doc, path: str) -> Any:
    held: Any = document
    for name in path.split("."):
        if not isinstance(held, dict) or name not in held:
            return None
        held = held[name]
    return held


def _move(document: Doc, path: str, moved: Callable[[float], float]) -> None:
    head, name = path.rsplit(".", 1)
    holder = _at(document, head)
    if isinstance(holder, dict) and holder.get(name) is not None:
        holder[name] = float(moved(holder[name]))


Fault = Callable[[Machine, np.random.Generator], Machine]


def _spring_sagged(side: str, least: float, most: float) -> Fault:
    def apply(machine: Machine, rng: np.random.Generator) -> Machine:
        document = copy.deepcopy(dict(machine.document))
        left = 1 - rng.uniform(least, most)
        for end in ("force_start_n", "force_finish_n"):
            document[side]["spring"][end] *= left
        return replace(machine, document=document)

    return apply


def _narrow_belt(machine: Machine, rng: np.random.Generator) -> Machine:
    document = copy.deepcopy(dict(machine.document))
    belt = document["belt"]
    belt["top_width_mm"] = belt["top_width_min_mm"] + rng.uniform(-0.3, 0.3)
    return replace(machine, document=document)


def _physics(change: Callable[[Physics, np.random.Generator], Physics]) -> Fault:
    return lambda machine, rng: replace(machine, physics=change(machine.physics, rng))


def _rubs(change: Callable[[Rubs, np.random.Generator], Rubs]) -> Fault:
    return _physics(lambda of, rng: replace(of, rubs=change(of.rubs, rng)))


def _one_arm(of: Rubs, rng: np.random.Generator) -> Rubs:
    first, *others = of.arms
    return replace(of, arms=(first * (1 - rng.uniform(0.06, 0.12)), *others))


FAULTS: Mapping[str, Fault] = {
    "primary spring sagged": _spring_sagged("primary", 0.08, 0.16),
    "secondary spring sagged": _spring_sagged("secondary", 0.10, 0.22),
    "belt narrow": _narrow_belt,
    "belt glazed": _physics(lambda of, rng: replace(of, friction=of.friction - rng.uniform(0.05, 0.09))),
    "primary binds": _rubs(lambda of, rng: replace(of, primary=of.primary + rng.uniform(0.08, 0.15))),
    "helix dry": _rubs(lambda of, rng: replace(of, helix=of.helix + rng.uniform(0.06, 0.12))),
    "arms worn hollow": _rubs(lambda of, rng: replace(of, notch=of.notch + rng.uniform(0.006, 0.012))),
    "one arm light": _rubs(_one_arm),
    "engine weak": _physics(lambda of, rng: replace(of, strength=of.strength * rng.uniform(0.85, 0.93))),
}
"""What can be wrong with a machine, in a hand's words."""
