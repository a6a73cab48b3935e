"""The `jaxel-setup` document: one machine's engine, clutches, belt, surroundings and target."""

from collections.abc import Sequence
from itertools import pairwise
from math import pi
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..atmosphere import Conditions
from ..engine import Engine
from ..errors import InvalidValue
from ..flyweight import Clicker, PointMass, Primary, Profile, RampRoller, SwingArm
from ..geometry import BeltDrive
from ..helix import Helix, Secondary
from ..setup import BeltModel, Setup, Target, Vehicle
from ..spring import CompressionSpring
from ..tables import HeldCurve
from ..units import DEG, GRAM, HPA, MM, RPM
from .reading import Part, check_version, read_json, validate

WIDER_THAN_NEW_MM = 1.0
"""How much wider than new a belt may measure before the reading is refused: callipers and moulds differ."""

Text = Annotated[str, Field(min_length=1, max_length=120)]
Length = Annotated[float, Field(gt=0, le=2000, json_schema_extra={"unit": "mm"})]
Travel = Annotated[float, Field(ge=0, le=200, json_schema_extra={"unit": "mm"})]
Force = Annotated[float, Field(ge=0, le=20000, json_schema_extra={"unit": "N"})]
Mass = Annotated[float, Field(gt=0, le=1000, json_schema_extra={"unit": "g"})]
Speed = Annotated[float, Field(gt=0, le=30000, json_schema_extra={"unit": "rpm"})]
Angle = Annotated[float, Field(ge=-90, le=90, json_schema_extra={"unit": "°"})]


def _increasing(field: str, name: str, values: Sequence[float]) -> None:
    """Refuse a table whose points are out of order or stand at the same place."""
    for index, (before, after) in enumerate(pairwise(values), start=1):
        if after == before:
            raise InvalidValue(f"{field}[{index}].{name}", f"repeats {after:g}: each point needs its own place")
        if after < before:
            raise InvalidValue(f"{field}[{index}].{name}", f"is out of order: {after:g} stands after {before:g}")


class TorquePoint(Part):
    rpm: Speed
    torque_nm: Annotated[float, Field(gt=0, le=2000, json_schema_extra={"unit": "N·m"})]


class EnginePart(Part):
    curve: Annotated[list[TorquePoint], Field(min_length=2, max_length=200)]
    rev_limit_rpm: Speed
    boost_compensated: bool = False

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        _increasing("curve", "rpm", [point.rpm for point in self.curve])
        return self

    def core(self) -> Engine:
        curve = HeldCurve([p.rpm * RPM for p in self.curve], [p.torque_nm for p in self.curve])
        return Engine(curve, self.rev_limit_rpm * RPM, self.boost_compensated)


class ConditionsPart(Part):
    """Missing altogether, the reference air of SAE J1349: the engine's curve as it was given."""

    elevation_m: Annotated[float, Field(ge=-430, le=6000, json_schema_extra={"unit": "m"})] = 0
    temperature_c: Annotated[float, Field(ge=-50, le=60, json_schema_extra={"unit": "°C"})] = 25
    relative_humidity: Annotated[float, Field(ge=0, le=1)] = 0
    barometer_hpa: Annotated[float, Field(ge=400, le=1100, json_schema_extra={"unit": "hPa"})] | None = None

    def core(self) -> Conditions:
        barometer = None if self.barometer_hpa is None else self.barometer_hpa * HPA
        return Conditions(self.elevation_m, self.temperature_c, self.relative_humidity, barometer)


REFERENCE_AIR = ConditionsPart(elevation_m=0, temperature_c=25, relative_humidity=0, barometer_hpa=990)


class PrimaryGeometry(Part):
    hub_radius_mm: Length
    idle_clearance_mm: Travel
    travel_mm: Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]


class SecondaryGeometry(Part):
    closed_radius_mm: Length
    travel_mm: Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]


class GeometryPart(Part):
    centre_distance_mm: Length
    sheave_half_angle_deg: Annotated[float, Field(ge=8, le=20, json_schema_extra={"unit": "°"})]
    primary: PrimaryGeometry
    secondary: SecondaryGeometry


class BeltPart(Part):
    outer_circumference_mm: Annotated[float, Field(gt=0, le=5000, json_schema_extra={"unit": "mm"})]
    cord_depth_mm: Annotated[float, Field(ge=0, le=50, json_schema_extra={"unit": "mm"})]
    top_width_new_mm: Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]
    top_width_mm: Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]
    top_width_min_mm: Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]

    @model_validator(mode="after")
    def _plausible(self) -> Self:
        if self.top_width_min_mm >= self.top_width_new_mm:
            raise InvalidValue("top_width_min_mm", f"must be below the new width, {self.top_width_new_mm:g} mm")
        check_width("top_width_mm", self.top_width_mm, self.top_width_new_mm)
        if self.pitch_length_mm <= 0:
            raise InvalidValue("cord_depth_mm", "leaves no belt: the cord line would have no length")
        return self

    @property
    def pitch_length_mm(self) -> float:
        """Length of the cord line, outside circumference less 2π·cord depth [mm]."""
        return self.outer_circumference_mm - 2 * pi * self.cord_depth_mm


def check_width(field: str, width_mm: float, new_mm: float) -> None:
    """Refuse a belt width [mm] that no belt of this size can have."""
    if width_mm <= 0:
        raise InvalidValue(field, "must be above 0 mm")
    if width_mm > new_mm + WIDER_THAN_NEW_MM:
        raise InvalidValue(
            field,
            f"is more than {WIDER_THAN_NEW_MM:g} mm wider than the new belt, {new_mm:g} mm: "
            "measure again, or check which belt this is",
        )


class SwingPoint(Part):
    travel_mm: Travel
    deg: Angle


class Station(Part):
    name: Annotated[str, Field(min_length=1, max_length=40)]
    distance_mm: Length
    deg: Angle = 0


class SwingArmPart(Part):
    kind: Literal["swing-arm"]
    pivot_radius_mm: Length
    cg_mm: Length
    cg_deg: Angle
    swing: Annotated[list[SwingPoint], Field(min_length=2, max_length=200)]
    stations: Annotated[list[Station], Field(max_length=20)] = Field(default_factory=list)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        _increasing("swing", "travel_mm", [point.travel_mm for point in self.swing])
        names = [station.name for station in self.stations]
        for index, name in enumerate(names):
            if name in names[:index]:
                raise InvalidValue(f"stations[{index}].name", f"“{name}” is the name of another station")
        return self


class PathPoint(Part):
    travel_mm: Travel
    radius_mm: Length


class RampRollerPart(Part):
    kind: Literal["ramp-roller"]
    path: Annotated[list[PathPoint], Field(min_length=2, max_length=200)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        _increasing("path", "travel_mm", [point.travel_mm for point in self.path])
        return self


class Load(Part):
    station: Annotated[str, Field(min_length=1, max_length=40)]
    mass_g: Annotated[float, Field(ge=0, le=200, json_schema_extra={"unit": "g"})]


class WeightsPart(Part):
    count: Annotated[int, Field(ge=2, le=16)]
    base_mass_g: Mass
    loads: Annotated[list[Load], Field(max_length=20)] = Field(default_factory=list)


class SpringPart(Part):
    force_start_n: Force
    force_finish_n: Force
    travel_mm: Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]

    @model_validator(mode="after")
    def _stiffens(self) -> Self:
        if self.force_finish_n < self.force_start_n:
            raise InvalidValue("force_finish_n", "must not be below the starting force")
        return self

    def core(self) -> CompressionSpring:
        return CompressionSpring(self.force_start_n, self.force_finish_n, self.travel_mm * MM)


class SecondarySpringPart(SpringPart):
    torsion_rate_nm_per_deg: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "N·m/°"})] = 0
    pretwist_deg: Annotated[float, Field(ge=-360, le=360, json_schema_extra={"unit": "°"})] = 0


class ClickerPart(Part):
    position: Annotated[int, Field(ge=1, le=12)] = 3
    reference: Annotated[int, Field(ge=1, le=12)] = 3
    positions: Annotated[int, Field(ge=1, le=12)] = 6
    gain_step: Annotated[float, Field(ge=0, le=0.2)] = 0.048

    @model_validator(mode="after")
    def _on_the_scale(self) -> Self:
        for name in ("position", "reference"):
            if getattr(self, name) > self.positions:
                raise InvalidValue(name, f"must be at most {self.positions}, the last position")
        return self

    def core(self) -> Clicker:
        return Clicker(self.position, self.reference, self.gain_step)


class PrimaryPart(Part):
    profile: Annotated[SwingArmPart | RampRollerPart, Field(discriminator="kind")]
    weights: WeightsPart
    spring: SpringPart
    shim_mm: Annotated[float, Field(ge=-20, le=20, json_schema_extra={"unit": "mm"})] = 0
    clicker: ClickerPart | None = None

    @model_validator(mode="after")
    def _loads_have_stations(self) -> Self:
        names = [station.name for station in self.stations]
        seen: set[str] = set()
        for index, load in enumerate(self.weights.loads):
            if load.station not in names:
                known = ", ".join(names) or "none"
                raise InvalidValue(f"weights.loads[{index}].station", f"“{load.station}” is no station here ({known})")
            if load.station in seen:
                raise InvalidValue(f"weights.loads[{index}].station", f"“{load.station}” is loaded twice")
            seen.add(load.station)
        return self

    @property
    def stations(self) -> list[Station]:
        """Places on the arm that take a load; a roller has none."""
        return self.profile.stations if isinstance(self.profile, SwingArmPart) else []

    def profile_core(self) -> Profile:
        profile, weights = self.profile, self.weights
        if isinstance(profile, RampRollerPart):
            path = HeldCurve([p.travel_mm * MM for p in profile.path], [p.radius_mm * MM for p in profile.path])
            return RampRoller(path, weights.base_mass_g * GRAM)
        at = {station.name: station for station in profile.stations}
        masses = [PointMass(weights.base_mass_g * GRAM, profile.cg_mm * MM, profile.cg_deg * DEG)]
        masses += [
            PointMass(load.mass_g * GRAM, at[load.station].distance_mm * MM, at[load.station].deg * DEG)
            for load in weights.loads
        ]
        swing = HeldCurve([p.travel_mm * MM for p in profile.swing], [p.deg * DEG for p in profile.swing])
        return SwingArm(profile.pivot_radius_mm * MM, swing, tuple(masses))


class HelixPoint(Part):
    travel_mm: Travel
    deg: Annotated[float, Field(gt=0, lt=90, json_schema_extra={"unit": "°"})]


class HelixPart(Part):
    radius_mm: Length
    angles: Annotated[list[HelixPoint], Field(min_length=1, max_length=50)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        _increasing("angles", "travel_mm", [point.travel_mm for point in self.angles])
        return self

    def core(self) -> Helix:
        openings = tuple(point.travel_mm * MM for point in self.angles)
        return Helix(self.radius_mm * MM, openings, tuple(point.deg * DEG for point in self.angles))


class SecondaryPart(Part):
    helix: HelixPart
    spring: SecondarySpringPart
    torque_share: Annotated[float, Field(ge=0, le=1)] = 0.5


class VehiclePart(Part):
    mass_kg: Annotated[float, Field(gt=0, le=5000, json_schema_extra={"unit": "kg"})]
    drive_ratio: Annotated[float, Field(gt=0, le=200)]
    rolling_radius_mm: Length
    cd_a_m2: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "m²"})]
    rolling_coefficient: Annotated[float, Field(ge=0, le=1)]

    def core(self) -> Vehicle:
        return Vehicle(
            self.mass_kg, self.drive_ratio, self.rolling_radius_mm * MM, self.cd_a_m2, self.rolling_coefficient
        )


class TargetPart(Part):
    engagement_rpm: Speed
    engagement_tolerance_rpm: Speed = 100
    shift_rpm: Speed
    shift_tolerance_rpm: Speed = 100

    def core(self) -> Target:
        return Target(
            self.engagement_rpm * RPM,
            self.engagement_tolerance_rpm * RPM,
            self.shift_rpm * RPM,
            self.shift_tolerance_rpm * RPM,
        )


class ModelPart(Part):
    friction: Annotated[float, Field(gt=0, le=2)] = 0.35
    adhesion_share: Annotated[float, Field(ge=0, le=1)] = 0.35
    hysteresis: Annotated[float, Field(ge=0, le=0.5)] = 0.05
    helix_friction: Annotated[float, Field(ge=0, le=0.5)] = 0.0
    gain_scale: Annotated[float, Field(gt=0.2, le=5)] = 1.0
    gain_tilt: Annotated[float, Field(ge=-1, le=1)] = 0.0
    torque_scale: Annotated[float, Field(gt=0.2, le=5)] = 1.0
    drive_efficiency: Annotated[float, Field(gt=0, le=1)] = 0.9

    def core(self) -> BeltModel:
        return BeltModel(self.friction, self.adhesion_share, self.torque_scale, self.drive_efficiency)


class SetupDocument(Part):
    """A `jaxel-setup` document, version 1."""

    format: Literal["jaxel-setup"] = "jaxel-setup"
    version: Literal[1] = 1
    name: Text
    engine: EnginePart
    conditions: ConditionsPart = REFERENCE_AIR
    geometry: GeometryPart
    belt: BeltPart
    primary: PrimaryPart
    secondary: SecondaryPart
    vehicle: VehiclePart
    target: TargetPart | None = None
    model: ModelPart = ModelPart()

    def with_belt_width(self, width_mm: float) -> "SetupDocument":
        """The same machine on a belt of another width [mm]."""
        return self._with(belt=self.belt.model_copy(update={"top_width_mm": width_mm}))

    def in_use(self, width_mm: float, conditions: ConditionsPart, target: TargetPart | None) -> "SetupDocument":
        """The same clutches on a belt of this width [mm], in this air, for this target."""
        return self.with_belt_width(width_mm)._with(conditions=conditions, target=target)

    def _with(self, **parts: Part | None) -> "SetupDocument":
        return self.model_copy(update=parts)

    def core(self) -> Setup:
        """The machine in SI units, ready to compute; raises InvalidValue where the parts do not fit together."""
        geometry, belt, model = self.geometry, self.belt, self.model
        drive = BeltDrive(
            centre_distance=geometry.centre_distance_mm * MM,
            half_angle=geometry.sheave_half_angle_deg * DEG,
            hub_radius=geometry.primary.hub_radius_mm * MM,
            idle_clearance=geometry.primary.idle_clearance_mm * MM,
            primary_travel=geometry.primary.travel_mm * MM,
            closed_radius=geometry.secondary.closed_radius_mm * MM,
            secondary_travel=geometry.secondary.travel_mm * MM,
            pitch_length=belt.pitch_length_mm * MM,
            wear=(belt.top_width_new_mm - belt.top_width_mm) * MM,
        )
        primary = Primary(
            profile=self.primary.profile_core(),
            count=self.primary.weights.count,
            spring=self.primary.spring.core(),
            travel=drive.primary_travel,
            shim=self.primary.shim_mm * MM,
            clicker=self.primary.clicker.core() if self.primary.clicker else Clicker(),
            gain_scale=model.gain_scale,
            gain_tilt=model.gain_tilt,
            hysteresis=model.hysteresis,
        )
        spring = self.secondary.spring
        secondary = Secondary(
            helix=self.secondary.helix.core(),
            spring=spring.core(),
            torsion_rate=spring.torsion_rate_nm_per_deg / DEG,
            pretwist=spring.pretwist_deg * DEG,
            torque_share=self.secondary.torque_share,
            follower_friction=model.helix_friction,
        )
        setup = Setup(
            engine=self.engine.core(),
            conditions=self.conditions.core(),
            drive=drive,
            primary=primary,
            secondary=secondary,
            vehicle=self.vehicle.core(),
            belt=model.core(),
            target=self.target.core() if self.target else None,
        )
        primary.weight_factor(drive.nodes(41))
        return setup


def read_setup(data: bytes) -> SetupDocument:
    """Read a setup document and check that its parts fit together.

    Raises InvalidValue naming the field and the reason.
    """
    value = read_json(data)
    check_version(value, "jaxel-setup")
    document = validate(SetupDocument, value)
    document.core()
    return document


def write_setup(document: SetupDocument) -> str:
    """The document as JSON text; reading it back gives an equal document."""
    return document.model_dump_json(indent=2, exclude_none=True) + "\n"
