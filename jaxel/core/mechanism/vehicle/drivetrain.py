"""One machine as the model knows it: engine, air, belt drive, both clutches and vehicle."""

from dataclasses import dataclass
from math import atan, radians, sin, tan

from ..clutch.geometry import BeltDrive
from ..clutch.primary import Primary
from ..clutch.secondary import Secondary
from ..errors import Impossible
from .atmosphere import GRAVITY, Conditions
from .engine import Engine

STEEPEST = radians(85)
"""Angle of groove and friction together from which a belt would be wedged fast."""


@dataclass(frozen=True)
class BeltModel:
    """What is not measured on a bench but calibrated from runs.

    `friction` μ of the belt on its sheaves; `adhesion_share` λ and the shares of friction `seating_primary` ψ1 and
    `seating_secondary` ψ2 with which the belt is drawn into the groove (see `balance`); `torque_scale` of the engine;
    `drive_efficiency` of what follows the secondary.
    """

    friction: float = 0.35
    adhesion_share: float = 0.35
    torque_scale: float = 1.0
    drive_efficiency: float = 0.9
    seating_primary: float = 0.5
    seating_secondary: float = 1.0


@dataclass(frozen=True)
class Vehicle:
    """What the clutch moves.

    `mass` [kg] with rider; `drive_ratio`, secondary turns per turn of the axle; `rolling_radius` [m];
    `drag_area` c_d·A [m²]; `rolling_coefficient` c_rr [-]; `ground_grip`, push the ground takes over the weight [-].
    """

    mass: float
    drive_ratio: float
    rolling_radius: float
    drag_area: float
    rolling_coefficient: float
    ground_grip: float = 0.7

    @property
    def rolling_resistance(self) -> float:
        """Force that holds the vehicle still on the level [N], c_rr·m·g."""
        return self.rolling_coefficient * self.mass * GRAVITY

    @property
    def push_limit(self) -> float:
        """Largest force the ground takes before track or tyre slips on it [N]."""
        return self.ground_grip * self.mass * GRAVITY


@dataclass(frozen=True)
class Drivetrain:
    """A machine's clutches as set up, in their surroundings."""

    engine: Engine
    conditions: Conditions
    drive: BeltDrive
    primary: Primary
    secondary: Secondary
    vehicle: Vehicle
    belt: BeltModel

    def __post_init__(self) -> None:
        for part in ("seating_primary", "seating_secondary"):
            if self.drive.half_angle + getattr(self.belt, part) * atan(self.belt.friction) >= STEEPEST:
                raise Impossible(part, "with this friction would wedge the belt fast in its groove")

    @property
    def power_factor(self) -> float:
        """Share of its reference power the engine makes in this air; 1 where boost makes up for it."""
        return 1.0 if self.engine.boost_compensated else self.conditions.power_factor

    @property
    def torque_factor(self) -> float:
        """What the engine's torque curve is multiplied by: air and calibration."""
        return self.power_factor * self.belt.torque_scale

    @property
    def wedge_friction(self) -> float:
        """Friction of the belt in its groove, μ_e = μ/sin β [-]."""
        return self.belt.friction / sin(self.drive.half_angle)

    @property
    def seats(self) -> tuple[float, float]:
        """What friction against seating multiplies each clutch's radial push by: primary, secondary [-].

        tan(β + ψ·atan μ)/tan β

        Reference: a wedge of half-angle β drawn in against friction, e.g. J. E. Shigley, Mechanical Engineering Design.
        """
        angle, drawn = self.drive.half_angle, atan(self.belt.friction)
        primary, secondary = (
            tan(angle + share * drawn) / tan(angle)
            for share in (self.belt.seating_primary, self.belt.seating_secondary)
        )
        return primary, secondary
