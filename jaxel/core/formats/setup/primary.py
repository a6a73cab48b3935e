"""The primary clutch in a setup document: profile, weights, spring, shim and clicker.

A part may be written as it is fitted or as a scale or a drawing gives it; reading turns every form into the
fitted one, and that is what is written back.
"""

from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import AfterValidator, Field, Tag, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.clutch.primary import Clicker, PointMass, Profile, RampRoller, SwingArm, ramp_path
from jaxel.core.mechanism.numerics.tables import HeldCurve, most_pieces, smooth_curve
from jaxel.core.units import DEG, GRAM, MM

from ..catalogue import AnySpring
from ..faults import in_document_terms
from ..quantities import Angle, Length, Mass, Travel, increasing
from ..reading import Part, form


class SwingPoint(Part):
    travel_mm: Travel
    deg: Angle


class Station(Part):
    name: Annotated[str, Field(min_length=1, max_length=40)]
    distance_mm: Length
    deg: Angle = 0
    pieces_max: Annotated[int, Field(ge=1, le=12)] | None = None


Pieces = Annotated[int, Field(ge=1, le=200)]
"""Pieces of the smooth curve among a table's points, for an arm or a pocket with a notch ground in it."""


def _check_pieces(pieces: int | None, points: int) -> None:
    if pieces is not None and pieces > most_pieces(points):
        raise InvalidValue("pieces", f"must be at most {most_pieces(points)}: there are {points} points")


class SwingArmPart(Part):
    kind: Literal["swing-arm"]
    pivot_radius_mm: Length
    cg_mm: Length
    cg_deg: Angle
    swing: Annotated[list[SwingPoint], Field(min_length=2, max_length=200)]
    stations: Annotated[list[Station], Field(max_length=20)] = Field(default_factory=list)
    pieces: Pieces | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        increasing("swing", "travel_mm", [point.travel_mm for point in self.swing])
        _check_pieces(self.pieces, len(self.swing))
        names = [station.name for station in self.stations]
        for index, name in enumerate(names):
            if name in names[:index]:
                raise InvalidValue(f"stations[{index}].name", f"“{name}” is the name of another station")
        return self


class PathPoint(Part):
    travel_mm: Travel
    radius_mm: Length


Size = Annotated[str, Field(min_length=1, max_length=20)]
"""A roller's size code, diameter by width: what must match its pocket before its mass matters."""


class RampRollerPart(Part):
    kind: Literal["ramp-roller"]
    size: Size | None = None
    path: Annotated[list[PathPoint], Field(min_length=2, max_length=200)]
    pieces: Pieces | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        increasing("path", "travel_mm", [point.travel_mm for point in self.path])
        _check_pieces(self.pieces, len(self.path))
        return self


class RampPoint(Part):
    travel_mm: Travel
    deg: Annotated[float, Field(gt=0, lt=90, json_schema_extra={"unit": "°"})]


class RampAnglesPart(Part):
    """A roller's pocket by the angle of its ramp along the travel, and of its back plate."""

    kind: Literal["ramp-angles"]
    size: Size | None = None
    start_radius_mm: Length
    plate_deg: Annotated[float, Field(ge=0, lt=90, json_schema_extra={"unit": "°"})] = 0
    ramp: Annotated[list[RampPoint], Field(min_length=2, max_length=100)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        increasing("ramp", "travel_mm", [point.travel_mm for point in self.ramp])
        return self

    def fitted(self) -> RampRollerPart:
        """The same pocket as the path of its roller, four points between each two of the ramp."""
        at = [point.travel_mm for point in self.ramp]
        ramp = HeldCurve(at, [point.deg * DEG for point in self.ramp])
        travels = [low + (high - low) * part / 4 for low, high in pairwise(at) for part in range(4)] + at[-1:]
        with in_document_terms():
            radii = ramp_path(
                lambda x: float(ramp(x / MM)),
                self.plate_deg * DEG,
                self.start_radius_mm * MM,
                [travel * MM for travel in travels],
            )
        path = [PathPoint(travel_mm=t, radius_mm=float(r) / MM) for t, r in zip(travels, radii, strict=True)]
        return RampRollerPart(kind="ramp-roller", size=self.size, path=path)


class Load(Part):
    """What one arm carries at a station: so many pieces of `mass_g` each."""

    station: Annotated[str, Field(min_length=1, max_length=40)]
    mass_g: Annotated[float, Field(ge=0, le=200, json_schema_extra={"unit": "g"})]
    pieces: Annotated[int, Field(ge=1, le=12)] = 1

    @property
    def total_g(self) -> float:
        """Mass of all its pieces [g]."""
        return self.mass_g * self.pieces


class WeightsPart(Part):
    """Equal weights by the bare mass of one and its loads."""

    count: Annotated[int, Field(ge=2, le=16)]
    base_mass_g: Mass
    size: Size | None = None
    loads: Annotated[list[Load], Field(max_length=20)] = Field(default_factory=list)


class WeightsByTotal(Part):
    """Equal weights by what one weighs with its loads in it."""

    count: Annotated[int, Field(ge=2, le=16)]
    total_mass_g: Mass
    size: Size | None = None
    loads: Annotated[list[Load], Field(max_length=20)] = Field(default_factory=list)

    def fitted(self) -> WeightsPart:
        """The same weights with the bare mass worked out."""
        bare = self.total_mass_g - sum(load.total_g for load in self.loads)
        if bare <= 0:
            raise InvalidValue("total_mass_g", "must be more than the loads it holds")
        return WeightsPart(count=self.count, base_mass_g=bare, size=self.size, loads=self.loads)


class ClickerPart(Part):
    position: Annotated[int, Field(ge=1, le=12)] = 3
    reference: Annotated[int, Field(ge=1, le=12)] = 3
    positions: Annotated[int, Field(ge=1, le=12)] = 6
    gain_step: Annotated[float, Field(ge=0, le=0.2)] = 0.065

    @model_validator(mode="after")
    def _on_the_scale(self) -> Self:
        for name in ("position", "reference"):
            if getattr(self, name) > self.positions:
                raise InvalidValue(name, f"must be at most {self.positions}, the last position")
        return self

    def core(self) -> Clicker:
        return Clicker(self.position, self.reference, self.gain_step)


# A type checker sees the fitted form; a reader may write any.
if TYPE_CHECKING:
    AnyProfile = SwingArmPart | RampRollerPart
    AnyWeights = WeightsPart
else:
    AnyProfile = Annotated[
        SwingArmPart | RampRollerPart | RampAnglesPart,
        Field(discriminator="kind"),
        AfterValidator(lambda profile: profile.fitted() if isinstance(profile, RampAnglesPart) else profile),
    ]
    AnyWeights = Annotated[
        Annotated[WeightsPart, Tag("bare")] | Annotated[WeightsByTotal, Tag("total")],
        form(total_mass_g="total", else_="bare"),
        AfterValidator(lambda weights: weights.fitted() if isinstance(weights, WeightsByTotal) else weights),
    ]


class PrimaryPart(Part):
    profile: AnyProfile
    weights: AnyWeights
    spring: AnySpring
    shim_mm: Annotated[float, Field(ge=-20, le=20, json_schema_extra={"unit": "mm"})] = 0
    clicker: ClickerPart | None = None
    washer_mm: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "mm"})] = 0
    limiter_mm: Annotated[float, Field(ge=0, le=50, json_schema_extra={"unit": "mm"})] = 0

    @model_validator(mode="after")
    def _loads_have_stations(self) -> Self:
        room = {station.name: station.pieces_max for station in self.stations}
        seen: set[str] = set()
        for index, load in enumerate(self.weights.loads):
            at = f"weights.loads[{index}]"
            if load.station not in room:
                known = ", ".join(room) or "none"
                raise InvalidValue(f"{at}.station", f"“{load.station}” is no station here ({known})")
            if load.station in seen:
                raise InvalidValue(f"{at}.station", f"“{load.station}” is loaded twice")
            most = room[load.station]
            if most is not None and load.pieces > most:
                raise InvalidValue(f"{at}.pieces", f"is more than “{load.station}” takes: {most}")
            seen.add(load.station)
        return self

    @model_validator(mode="after")
    def _rollers_match_their_pockets(self) -> Self:
        pocket = None if isinstance(self.profile, SwingArmPart) else self.profile.size
        size = self.weights.size
        if size is not None and pocket is not None and size != pocket:
            raise InvalidValue("weights.size", f"is {size}, but the pockets take {pocket}")
        return self

    @property
    def stations(self) -> list[Station]:
        """Places on the arm that take a load; a roller has none."""
        return self.profile.stations if isinstance(self.profile, SwingArmPart) else []

    def profile_core(self) -> Profile:
        profile, weights = self.profile, self.weights
        if isinstance(profile, RampRollerPart):
            path = smooth_curve(
                tuple(p.travel_mm * MM for p in profile.path),
                tuple(p.radius_mm * MM for p in profile.path),
                profile.pieces,
            )
            return RampRoller(path, weights.base_mass_g * GRAM)
        at = {station.name: station for station in profile.stations}
        homeless = [load.station for load in weights.loads if load.station not in at]
        if homeless:  # a document is checked when it is read; parts of two put together are not
            raise InvalidValue("primary.weights.loads", f"has “{homeless[0]}”, which these arms have not")
        masses = [PointMass(weights.base_mass_g * GRAM, profile.cg_mm * MM, profile.cg_deg * DEG)]
        masses += [
            PointMass(load.total_g * GRAM, at[load.station].distance_mm * MM, at[load.station].deg * DEG)
            for load in weights.loads
        ]
        swing = smooth_curve(
            tuple(p.travel_mm * MM for p in profile.swing), tuple(p.deg * DEG for p in profile.swing), profile.pieces
        )
        return SwingArm(profile.pivot_radius_mm * MM, swing, tuple(masses))
