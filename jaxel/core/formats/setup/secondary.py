"""The secondary clutch in a setup document: helix, spring and the holes the spring stands in.

A helix may be written as its table or by its stamp; reading turns the stamp into the table.
"""

import re
from typing import TYPE_CHECKING, Annotated, Self

from pydantic import AfterValidator, Field, Tag, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.clutch.secondary import Helix
from jaxel.core.units import DEG, MM

from ..catalogue import AnySecondarySpring
from ..quantities import Length, Stroke, Travel, increasing
from ..reading import Part, form


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


ANGLE = r"\d+(?:[.,]\d+)?"


class StampedHelix(Part):
    """A helix by the angles stamped on it: `40`, or `44/36`, `44-36`, `44°/36°` from one to the other over a length."""

    radius_mm: Length
    stamped: Annotated[str, Field(max_length=20)]
    over_mm: Stroke | None = None

    def fitted(self) -> HelixPart:
        """The same helix as a table of angles."""
        found = re.fullmatch(rf"\s*({ANGLE})\s*°?\s*(?:[/–-]\s*({ANGLE})\s*°?\s*)?", self.stamped)
        if not found:
            raise InvalidValue("stamped", "must be one angle or two, like 40 or 44/36")
        first, second = (each and each.replace(",", ".") for each in found.groups())
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
    AnyHelix = HelixPart
else:
    AnyHelix = Annotated[
        Annotated[HelixPart, Tag("table")] | Annotated[StampedHelix, Tag("stamp")],
        form(stamped="stamp", else_="table"),
        AfterValidator(lambda helix: helix.fitted() if isinstance(helix, StampedHelix) else helix),
    ]


class SecondaryPart(Part):
    helix: AnyHelix
    spring: AnySecondarySpring
    holes: HolesPart | None = None
    torque_share: Annotated[float, Field(ge=0, le=1)] = 0.5
    washer_mm: Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "mm"})] = 0

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
