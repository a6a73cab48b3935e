"""The `jaxel-setup` document: one machine's engine, clutches, belt, surroundings and target."""

from functools import lru_cache
from math import pi
from typing import Annotated, Literal, Self

from pydantic import Field, ValidationError, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.clutch.geometry import BeltDrive
from jaxel.core.mechanism.clutch.primary import Clicker, Primary
from jaxel.core.mechanism.clutch.secondary import Secondary
from jaxel.core.mechanism.numerics.tables import held_curve
from jaxel.core.mechanism.vehicle.atmosphere import Conditions
from jaxel.core.mechanism.vehicle.drivetrain import BeltModel, Drivetrain, Vehicle
from jaxel.core.mechanism.vehicle.engine import Engine
from jaxel.core.units import DEG, HPA, MM, RPM
from jaxel.core.words import q

from ..faults import in_document_terms
from ..quantities import Length, Speed, Stroke, Text, Travel, increasing
from ..reading import Part, check_version, read_json, refuse, validate
from .evidence import Evidence, check_evidence
from .primary import PrimaryPart
from .secondary import SecondaryPart

SNOW_GRIP, DIRT_GRIP = 0.5, 0.7
"""Push the ground takes over the weight [-]; from memory."""

SNOW_ROLLING = 0.09
"""Rolling coefficient from which a machine is taken to run on snow, a track above it, a tyre below; from memory."""

WIDER_THAN_NEW_MM = 1.0
"""How much wider than new a belt may measure before the reading is refused: callipers and moulds differ."""


class TorquePoint(Part):
    rpm: Speed
    torque_nm: Annotated[float, Field(gt=0, le=2000, json_schema_extra={"unit": "N·m"})]


class EnginePart(Part):
    curve: Annotated[list[TorquePoint], Field(min_length=2, max_length=200)]
    rev_limit_rpm: Speed
    boost_compensated: bool = False

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        increasing("curve", "rpm", [point.rpm for point in self.curve])
        return self

    def core(self) -> Engine:
        curve = held_curve(tuple(p.rpm * RPM for p in self.curve), tuple(p.torque_nm for p in self.curve))
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
    travel_mm: Stroke


class SecondaryGeometry(Part):
    """`adjuster_mm`: how much further than for a new belt an adjuster lets the sheaves close."""

    closed_radius_mm: Length
    travel_mm: Stroke
    adjuster_mm: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "mm"})] = 0


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
            raise InvalidValue("top_width_min_mm", f"must be below the new width, {q(self.top_width_new_mm, 'mm')}")
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
            f"is more than {q(WIDER_THAN_NEW_MM, 'mm')} wider than the new belt, {q(new_mm, 'mm')}: "
            "measure again, or check which belt this is",
        )


class VehiclePart(Part):
    mass_kg: Annotated[float, Field(gt=0, le=5000, json_schema_extra={"unit": "kg"})]
    drive_ratio: Annotated[float, Field(gt=0, le=200)]
    rolling_radius_mm: Length
    cd_a_m2: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "m²"})]
    rolling_coefficient: Annotated[float, Field(ge=0, le=1)]
    ground_grip: Annotated[float, Field(gt=0, le=2)] | None = None

    @property
    def grip(self) -> float:
        """Push the ground takes over the weight [-]: as given, else that of the ground its rolling tells of."""
        if self.ground_grip is not None:
            return self.ground_grip
        return SNOW_GRIP if self.rolling_coefficient >= SNOW_ROLLING else DIRT_GRIP

    def core(self) -> Vehicle:
        return Vehicle(
            self.mass_kg,
            self.drive_ratio,
            self.rolling_radius_mm * MM,
            self.cd_a_m2,
            self.rolling_coefficient,
            self.grip,
        )


class TargetPart(Part):
    engagement_rpm: Speed
    engagement_tolerance_rpm: Speed = 100
    shift_rpm: Speed
    shift_tolerance_rpm: Speed = 100
    spread_rpm: Speed | None = None

    @property
    def straightness_rpm(self) -> float:
        """Most spread that is still a straight shift [rpm]: four tolerances unless set."""
        return self.spread_rpm or 4 * self.shift_tolerance_rpm


class ModelPart(Part):
    friction: Annotated[float, Field(gt=0, le=2)] = 0.35
    adhesion_share: Annotated[float, Field(ge=0, le=1)] = 0.35
    hysteresis: Annotated[float, Field(ge=0, le=0.5)] = 0.05
    helix_friction: Annotated[float, Field(ge=0, le=0.5)] = 0.0
    gain_scale: Annotated[float, Field(gt=0.2, le=5)] = 1.0
    gain_tilt: Annotated[float, Field(ge=-1, le=1)] = 0.0
    torque_scale: Annotated[float, Field(gt=0.2, le=5)] = 1.0
    drive_efficiency: Annotated[float, Field(gt=0, le=1)] = 0.9
    seating_primary: Annotated[float, Field(ge=0, le=2)] = 0.5
    seating_secondary: Annotated[float, Field(ge=0, le=2)] = 1.0

    def core(self) -> BeltModel:
        return BeltModel(
            self.friction,
            self.adhesion_share,
            self.torque_scale,
            self.drive_efficiency,
            self.seating_primary,
            self.seating_secondary,
        )


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
    evidence: Evidence | None = None

    @model_validator(mode="after")
    def _evidence_is_of_its_fields(self) -> Self:
        if self.evidence is not None:
            check_evidence(self.evidence, self)
        return self

    def with_belt_width(self, width_mm: float) -> "SetupDocument":
        """The same machine on a belt of another width [mm]."""
        return self._with(belt=self.belt.model_copy(update={"top_width_mm": width_mm}))

    def in_use(self, width_mm: float, conditions: ConditionsPart, target: TargetPart | None) -> "SetupDocument":
        """The same clutches on a belt of this width [mm], in this air, for this target."""
        return self.with_belt_width(width_mm)._with(conditions=conditions, target=target)

    def bare(self) -> "SetupDocument":
        """The same without what no prediction depends on: its name and its target."""
        return self.model_copy(update={"name": "-", "target": None})

    def _with(self, **parts: Part | None) -> "SetupDocument":
        return self.model_copy(update=parts)

    def core(self, *, checked: bool = True, like: "tuple[SetupDocument, Drivetrain] | None" = None) -> Drivetrain:
        """The machine in SI units, ready to compute; raises InvalidValue where the parts do not fit together.

        `checked`, whether also to see that its weights close the sheave; `like`, a set-up with its core, whose parts
        are taken over where this one holds the very same.
        """
        with in_document_terms():
            found = self._core(like)
            if checked:
                found.primary.weight_factor(found.drive.nodes(41))
            return found

    def _core(self, like: "tuple[SetupDocument, Drivetrain] | None") -> Drivetrain:
        other, core = like or (self, None)

        def taken(*parts: str) -> Drivetrain | None:
            """The other's core, where this one has the very same of these parts."""
            return core if all(getattr(self, part) is getattr(other, part) for part in parts) else None

        limited = self.primary.limiter_mm == other.primary.limiter_mm
        driven, engine, air = taken("geometry", "belt") if limited else None, taken("engine"), taken("conditions")
        primary, secondary = taken("model", "primary", "geometry"), taken("model", "secondary")
        vehicle, model = taken("vehicle"), taken("model")
        drive = driven.drive if driven else _drive(self.geometry, self.belt, self.primary.limiter_mm)
        return Drivetrain(
            engine=engine.engine if engine else self.engine.core(),
            conditions=air.conditions if air else self.conditions.core(),
            drive=drive,
            primary=primary.primary if primary else self._primary(drive.primary_travel),
            secondary=secondary.secondary if secondary else self._secondary(),
            vehicle=vehicle.vehicle if vehicle else self.vehicle.core(),
            belt=model.belt if model else self.model.core(),
        )

    def _primary(self, travel: float) -> Primary:
        return Primary(
            profile=self.primary.profile_core(),
            count=self.primary.weights.count,
            spring=self.primary.spring.core().shimmed(self.primary.washer_mm * MM),
            travel=travel,
            shim=self.primary.shim_mm * MM,
            clicker=self.primary.clicker.core() if self.primary.clicker else Clicker(),
            gain_scale=self.model.gain_scale,
            gain_tilt=self.model.gain_tilt,
            hysteresis=self.model.hysteresis,
        )

    def _secondary(self) -> Secondary:
        spring = self.secondary.spring
        return Secondary(
            helix=self.secondary.helix.core(),
            spring=spring.core().shimmed(self.secondary.washer_mm * MM),
            torsion_rate=spring.torsion_rate_nm_per_deg / DEG,
            pretwist=self.secondary.pretwist_deg * DEG,
            torque_share=self.secondary.torque_share,
            follower_friction=self.model.helix_friction,
        )


@lru_cache(maxsize=512)
def _drive(geometry: GeometryPart, belt: BeltPart, limiter_mm: float) -> BeltDrive:
    """The belt drive in SI units, made once: set-ups compared with each other mostly differ elsewhere."""
    return BeltDrive(
        centre_distance=geometry.centre_distance_mm * MM,
        half_angle=geometry.sheave_half_angle_deg * DEG,
        hub_radius=geometry.primary.hub_radius_mm * MM,
        idle_clearance=geometry.primary.idle_clearance_mm * MM,
        primary_travel=geometry.primary.travel_mm * MM,
        closed_radius=geometry.secondary.closed_radius_mm * MM,
        secondary_travel=geometry.secondary.travel_mm * MM,
        pitch_length=belt.pitch_length_mm * MM,
        wear=(belt.top_width_new_mm - belt.top_width_mm) * MM,
        adjuster=geometry.secondary.adjuster_mm * MM,
        limiter=limiter_mm * MM,
    )


def read_setup(data: bytes) -> SetupDocument:
    """Read a setup document and check that its parts fit together.

    Raises InvalidValue naming the field and the reason.
    """
    value = read_json(data)
    check_version(value, "jaxel-setup")
    document = validate(SetupDocument, value)
    document.core()
    return document


def written_setup(text: str) -> SetupDocument:
    """A set-up from what `write_setup` made of one, which may hold what no document may: raises InvalidValue."""
    try:
        return SetupDocument.model_validate_json(text)
    except ValidationError as error:
        raise refuse(error) from None


def write_setup(document: SetupDocument) -> str:
    """The document as JSON text; reading it back gives an equal document."""
    return document.model_dump_json(indent=2, exclude_none=True) + "\n"
