"""The clutches in a setup document: weights, springs, helix and their catalogue forms.

A part may be written as it is fitted or as a catalogue, a stamp or a tester gives it; reading turns every form
into the fitted one, and that is what is written back.
"""

import re
from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import AfterValidator, Discriminator, Field, Tag, model_validator

from ..errors import InvalidValue
from ..flyweight import Clicker, PointMass, Profile, RampRoller, SwingArm, ramp_path
from ..helix import Helix
from ..spring import CompressionSpring, SpringRating, rating_from_points
from ..tables import HeldCurve
from ..units import DEG, GRAM, MM
from .quantities import Angle, Force, Length, Mass, Rate, Stroke, Travel, increasing
from .reading import Part


def _form(**tokens: str) -> Discriminator:
    """Tells the forms of a part apart by a field only one of them has; `else_` names the fitted form."""
    fitted = tokens.pop("else_")

    def pick(value: Any) -> str:
        if isinstance(value, dict):
            return next((form for field, form in tokens.items() if field in value), fitted)
        return fitted

    return Discriminator(pick)


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
        increasing("swing", "travel_mm", [point.travel_mm for point in self.swing])
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
        increasing("path", "travel_mm", [point.travel_mm for point in self.path])
        return self


class RampPoint(Part):
    travel_mm: Travel
    deg: Annotated[float, Field(gt=0, lt=90, json_schema_extra={"unit": "°"})]


class RampAnglesPart(Part):
    """A roller's pocket by the angle of its ramp along the travel, and of its back plate."""

    kind: Literal["ramp-angles"]
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
        radii = ramp_path(
            lambda x: float(ramp(x / MM)),
            self.plate_deg * DEG,
            self.start_radius_mm * MM,
            [travel * MM for travel in travels],
        )
        path = [PathPoint(travel_mm=t, radius_mm=float(r) / MM) for t, r in zip(travels, radii, strict=True)]
        return RampRollerPart(kind="ramp-roller", path=path)


class Load(Part):
    station: Annotated[str, Field(min_length=1, max_length=40)]
    mass_g: Annotated[float, Field(ge=0, le=200, json_schema_extra={"unit": "g"})]


class WeightsPart(Part):
    """Equal weights by the bare mass of one and its loads."""

    count: Annotated[int, Field(ge=2, le=16)]
    base_mass_g: Mass
    loads: Annotated[list[Load], Field(max_length=20)] = Field(default_factory=list)


class WeightsByTotal(Part):
    """Equal weights by what one weighs with its loads in it."""

    count: Annotated[int, Field(ge=2, le=16)]
    total_mass_g: Mass
    loads: Annotated[list[Load], Field(max_length=20)] = Field(default_factory=list)

    def fitted(self) -> WeightsPart:
        """The same weights with the bare mass worked out."""
        bare = self.total_mass_g - sum(load.mass_g for load in self.loads)
        if bare <= 0:
            raise InvalidValue("total_mass_g", "must be more than the loads it holds")
        return WeightsPart(count=self.count, base_mass_g=bare, loads=self.loads)


class SpringPart(Part):
    """A spring as fitted: force at rest, and after the clutch's travel."""

    force_start_n: Force
    force_finish_n: Force
    travel_mm: Stroke

    @model_validator(mode="after")
    def _stiffens(self) -> Self:
        if self.force_finish_n < self.force_start_n:
            raise InvalidValue("force_finish_n", "must not be below the starting force")
        return self

    def core(self) -> CompressionSpring:
        return CompressionSpring(self.force_start_n, self.force_finish_n, self.travel_mm * MM)


class _InClutch(Part):
    """How a clutch holds a spring known by its lengths."""

    installed_length_mm: Length
    travel_mm: Stroke

    def rating(self) -> SpringRating:
        """The spring off the machine."""
        raise TypeError("a catalogue form says how")

    def forces(self) -> dict[str, float]:
        """What the clutch makes of it, as the fields of a fitted spring."""
        spring = self.rating().fitted(self.installed_length_mm * MM, self.travel_mm * MM)
        return {"force_start_n": spring.force_start, "force_finish_n": spring.force_finish, "travel_mm": self.travel_mm}


class RatedSpring(_InClutch):
    """A spring by rate and free length, as a catalogue gives it."""

    rate_n_per_mm: Rate
    free_length_mm: Length

    def rating(self) -> SpringRating:
        return SpringRating(self.rate_n_per_mm / MM, self.free_length_mm * MM)


class LengthForce(Part):
    length_mm: Length
    force_n: Force


class MeasuredSpring(_InClutch):
    """A spring by forces at lengths: two from a catalogue, or as many as a tester gave (least squares)."""

    points: Annotated[list[LengthForce], Field(min_length=2, max_length=100)]

    def rating(self) -> SpringRating:
        return rating_from_points([p.length_mm * MM for p in self.points], [p.force_n for p in self.points])


class Wind(Part):
    """The twist of a spring that also winds."""

    torsion_rate_nm_per_deg: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "N·m/°"})] = 0
    pretwist_deg: Annotated[float, Field(ge=-360, le=360, json_schema_extra={"unit": "°"})] = 0


class SecondarySpringPart(SpringPart, Wind):
    """The secondary's spring as fitted, with its twist."""


class RatedSecondarySpring(RatedSpring, Wind):
    """The secondary's spring by rate and free length, with its twist."""


class MeasuredSecondarySpring(MeasuredSpring, Wind):
    """The secondary's spring by forces at lengths, with its twist."""


def _fitted_spring(spring: Any) -> SpringPart:
    return SpringPart(**spring.forces()) if isinstance(spring, _InClutch) else spring


def _fitted_secondary_spring(spring: Any) -> SecondarySpringPart:
    if not isinstance(spring, _InClutch):
        return spring
    wind = spring.model_dump(include={"torsion_rate_nm_per_deg", "pretwist_deg"})
    return SecondarySpringPart(**spring.forces(), **wind)


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


class HelixPoint(Part):
    travel_mm: Travel
    deg: Annotated[float, Field(gt=0, lt=90, json_schema_extra={"unit": "°"})]


class HelixPart(Part):
    """A helix by its table of angles over the secondary's opening."""

    radius_mm: Length
    angles: Annotated[list[HelixPoint], Field(min_length=1, max_length=50)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        increasing("angles", "travel_mm", [point.travel_mm for point in self.angles])
        return self

    def core(self) -> Helix:
        openings = tuple(point.travel_mm * MM for point in self.angles)
        return Helix(self.radius_mm * MM, openings, tuple(point.deg * DEG for point in self.angles))


class StampedHelix(Part):
    """A helix by the angles stamped on it: `40`, or `44/36` running from one to the other over a length."""

    radius_mm: Length
    stamped: Annotated[str, Field(max_length=20)]
    over_mm: Stroke | None = None

    def fitted(self) -> HelixPart:
        """The same helix as a table of angles."""
        found = re.fullmatch(r"\s*(\d+(?:\.\d+)?)\s*(?:/\s*(\d+(?:\.\d+)?)\s*)?", self.stamped)
        if not found:
            raise InvalidValue("stamped", "must be one angle or two, like 40 or 44/36")
        first, second = found[1], found[2]
        if second and self.over_mm is None:
            raise InvalidValue("over_mm", "is missing: two angles need the length they run over")
        points = [(0.0, first)] + ([(self.over_mm, second)] if second else [])
        for _, angle in points:
            if not 0 < float(angle) < 90:
                raise InvalidValue("stamped", f"holds {angle}°: an angle must be above 0 and below 90")
        angles = [HelixPoint(travel_mm=travel or 0.0, deg=float(angle)) for travel, angle in points]
        return HelixPart(radius_mm=self.radius_mm, angles=angles)


class HolePair(Part):
    """The holes a torsion spring's ends stand in."""

    sheave: Annotated[str, Field(min_length=1, max_length=12)]
    helix: Annotated[str, Field(min_length=1, max_length=12)]


class WoundHoles(HolePair):
    pretwist_deg: Annotated[float, Field(gt=0, le=360, json_schema_extra={"unit": "°"})]


class HolesPart(Part):
    """A clutch's own table of hole pairs and their twist, and the pair the spring stands in."""

    fitted: HolePair
    table: Annotated[list[WoundHoles], Field(min_length=1, max_length=60)]

    @model_validator(mode="after")
    def _known(self) -> Self:
        pairs = [(row.sheave, row.helix) for row in self.table]
        for index, pair in enumerate(pairs):
            if pair in pairs[:index]:
                raise InvalidValue(f"table[{index}]", f"names the pair {pair[0]}–{pair[1]} again")
        if (self.fitted.sheave, self.fitted.helix) not in pairs:
            raise InvalidValue("fitted", f"{self.fitted.sheave}–{self.fitted.helix} is no pair of this clutch's table")
        return self

    @property
    def position(self) -> int:
        """Where the fitted pair stands in the table, from 1."""
        pairs = [(row.sheave, row.helix) for row in self.table]
        return pairs.index((self.fitted.sheave, self.fitted.helix)) + 1


# A type checker sees the fitted form; a reader may write any.
if TYPE_CHECKING:
    AnyProfile = SwingArmPart | RampRollerPart
    AnyWeights = WeightsPart
    AnySpring = SpringPart
    AnySecondarySpring = SecondarySpringPart
    AnyHelix = HelixPart
else:
    AnyProfile = Annotated[
        SwingArmPart | RampRollerPart | RampAnglesPart,
        Field(discriminator="kind"),
        AfterValidator(lambda profile: profile.fitted() if isinstance(profile, RampAnglesPart) else profile),
    ]
    AnyWeights = Annotated[
        Annotated[WeightsPart, Tag("bare")] | Annotated[WeightsByTotal, Tag("total")],
        _form(total_mass_g="total", else_="bare"),
        AfterValidator(lambda weights: weights.fitted() if isinstance(weights, WeightsByTotal) else weights),
    ]
    AnySpring = Annotated[
        Annotated[SpringPart, Tag("forces")]
        | Annotated[RatedSpring, Tag("rated")]
        | Annotated[MeasuredSpring, Tag("measured")],
        _form(rate_n_per_mm="rated", points="measured", else_="forces"),
        AfterValidator(_fitted_spring),
    ]
    AnySecondarySpring = Annotated[
        Annotated[SecondarySpringPart, Tag("forces")]
        | Annotated[RatedSecondarySpring, Tag("rated")]
        | Annotated[MeasuredSecondarySpring, Tag("measured")],
        _form(rate_n_per_mm="rated", points="measured", else_="forces"),
        AfterValidator(_fitted_secondary_spring),
    ]
    AnyHelix = Annotated[
        Annotated[HelixPart, Tag("table")] | Annotated[StampedHelix, Tag("stamp")],
        _form(stamped="stamp", else_="table"),
        AfterValidator(lambda helix: helix.fitted() if isinstance(helix, StampedHelix) else helix),
    ]


class PrimaryPart(Part):
    profile: AnyProfile
    weights: AnyWeights
    spring: AnySpring
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


class SecondaryPart(Part):
    helix: AnyHelix
    spring: AnySecondarySpring
    holes: HolesPart | None = None
    torque_share: Annotated[float, Field(ge=0, le=1)] = 0.5

    @model_validator(mode="after")
    def _one_twist(self) -> Self:
        if self.holes and self.spring.pretwist_deg:
            raise InvalidValue("spring.pretwist_deg", "must be left out where the hole pair gives the twist")
        if self.holes and not self.spring.torsion_rate_nm_per_deg:
            raise InvalidValue("spring.torsion_rate_nm_per_deg", "must be above 0 where the spring stands in holes")
        return self

    @property
    def pretwist_deg(self) -> float:
        """Twist of the spring at rest, from its hole pair where the clutch has a table of them."""
        return self.holes.table[self.holes.position - 1].pretwist_deg if self.holes else self.spring.pretwist_deg
