"""The `jaxel-stock` document: the parts at hand that a plan may choose from.

What is fitted is always at hand; a group left out stays as it is.
"""

from typing import TYPE_CHECKING, Annotated, Any, Literal, Self

from pydantic import Field, Tag, model_validator

from jaxel.core.errors import InvalidValue

from ..catalogue import MeasuredSpring, RatedSpring, SecondarySpringPart, SpringPart, Wind
from ..quantities import Angle, Length, Mass, Stroke, Text
from ..reading import Part, check_version, form, read_json, validate
from ..setup.evidence import Origin
from ..setup.primary import Size, Station, SwingPoint
from ..setup.secondary import HelixPart, HelixPoint, HolePair, StampedHelix

Price = Annotated[float, Field(ge=0, le=100_000)]
Minutes = Annotated[float, Field(ge=0, le=10_000)]
Pieces = Annotated[int, Field(ge=0, le=10_000)]
Grams = Annotated[float, Field(ge=0, le=200, json_schema_extra={"unit": "g"})]
Thickness = Annotated[float, Field(ge=0, le=20, json_schema_extra={"unit": "mm"})]
ShimThickness = Annotated[float, Field(ge=-20, le=20, json_schema_extra={"unit": "mm"})]
Position = Annotated[int, Field(ge=1, le=12)]
Some = Field(max_length=200)
"""At most so many of a group."""


class Held(Part):
    """What is known of a part beside what it is: pieces at hand, the price of one, the minutes its fitting takes, and
    where its numbers come from."""

    pieces: Pieces | None = None
    price: Price = 0
    minutes: Minutes | None = None
    origin: Origin = "stamped"

    @model_validator(mode="after")
    def _not_from_a_run(self) -> Self:
        if self.origin == "fitted":
            raise InvalidValue("origin", "must not be fitted: no run was made with a part on the shelf")
        return self


class Named(Held):
    name: Text


class WeightsInStock(Named):
    """A set of weights by the bare mass of one, or by all of them weighed one by one; arms of another shape with what
    differs of it."""

    base_mass_g: Mass | Annotated[list[Mass], Field(min_length=2, max_length=16)]
    size: Size | None = None
    cg_mm: Length | None = None
    cg_deg: Angle | None = None
    stations: Annotated[list[Station], Field(max_length=20)] | None = None
    swing: Annotated[list[SwingPoint], Field(min_length=2, max_length=200)] | None = None


class LoadInStock(Held):
    """A rivet, magnet, set-screw or pin: the mass of one."""

    mass_g: Grams


class SpringInStock(Named, SpringPart):
    """A primary spring as it would be fitted."""

    def spring(self) -> SpringPart:
        return SpringPart(**self.model_dump(include=set(SpringPart.model_fields)))


class RatedSpringInStock(Named, RatedSpring):
    """A primary spring by rate and free length."""

    def spring(self) -> SpringPart:
        return SpringPart(**self.forces())


class MeasuredSpringInStock(Named, MeasuredSpring):
    """A primary spring by forces at lengths."""

    def spring(self) -> SpringPart:
        return SpringPart(**self.forces())


def _wind(part: Wind) -> dict[str, float]:
    return part.model_dump(include=set(Wind.model_fields))


class SecondarySpringInStock(Named, SecondarySpringPart):
    """A secondary spring as it would be fitted, with its wind."""

    def spring(self) -> SecondarySpringPart:
        return SecondarySpringPart(**self.model_dump(include=set(SecondarySpringPart.model_fields)))


class RatedSecondarySpringInStock(Named, RatedSpring, Wind):
    """A secondary spring by rate and free length, with its wind."""

    def spring(self) -> SecondarySpringPart:
        return SecondarySpringPart(**self.forces(), **_wind(self))


class MeasuredSecondarySpringInStock(Named, MeasuredSpring, Wind):
    """A secondary spring by forces at lengths, with its wind."""

    def spring(self) -> SecondarySpringPart:
        return SecondarySpringPart(**self.forces(), **_wind(self))


class HelixInStock(Named):
    """A helix by its table or its stamp; without a radius it runs where the fitted one does."""

    radius_mm: Length | None = None
    angles: Annotated[list[HelixPoint], Field(min_length=1, max_length=50)] | None = None
    stamped: Annotated[str, Field(max_length=20)] | None = None
    over_mm: Stroke | None = None

    @model_validator(mode="after")
    def _one_form(self) -> Self:
        if (self.angles is None) == (self.stamped is None):
            raise InvalidValue("angles", "or stamped: one of the two says what the helix is")
        self.helix(1.0)
        return self

    def helix(self, radius_mm: float) -> HelixPart:
        """The helix, at this radius where it has none of its own."""
        radius = self.radius_mm or radius_mm
        if self.angles is not None:
            return HelixPart(radius_mm=radius, angles=self.angles)
        return StampedHelix(radius_mm=radius, stamped=self.stamped or "", over_mm=self.over_mm).fitted()


# A type checker sees the fitted form; a reader may write any.
if TYPE_CHECKING:
    AnySpringInStock = SpringInStock
    AnySecondarySpringInStock = SecondarySpringInStock
else:
    _forms = {"rate_n_per_mm": "rated", "points": "measured", "else_": "forces"}
    AnySpringInStock = Annotated[
        Annotated[SpringInStock, Tag("forces")]
        | Annotated[RatedSpringInStock, Tag("rated")]
        | Annotated[MeasuredSpringInStock, Tag("measured")],
        form(**_forms),
    ]
    AnySecondarySpringInStock = Annotated[
        Annotated[SecondarySpringInStock, Tag("forces")]
        | Annotated[RatedSecondarySpringInStock, Tag("rated")]
        | Annotated[MeasuredSecondarySpringInStock, Tag("measured")],
        form(**_forms),
    ]

AnyLoad = Grams | LoadInStock


class KitChanges(Part):
    """What a kit changes at once; what it omits stays as it is."""

    weights: WeightsInStock | None = None
    loads: Annotated[dict[str, AnyLoad], Some] = Field(default_factory=dict)
    primary_spring: AnySpringInStock | None = None
    secondary_spring: AnySecondarySpringInStock | None = None
    helix: HelixInStock | None = None
    holes: HolePair | None = None
    clicker: Position | None = None
    shim_mm: ShimThickness | None = None
    washer_primary_mm: Thickness | None = None
    washer_secondary_mm: Thickness | None = None
    limiter_mm: Thickness | None = None

    @model_validator(mode="after")
    def _changes_something(self) -> Self:
        members = len(self.model_fields_set - {"loads"}) + len(self.loads)
        if not members:
            raise InvalidValue("", "changes nothing")
        if members > MOST_MEMBERS:
            raise InvalidValue("", f"changes {members} parts; a kit of more than {MOST_MEMBERS} is not told apart")
        return self


MOST_MEMBERS = 8


class KitInStock(Named):
    """Parts from one maker's sheet, fitted together."""

    changes: KitChanges


class StockDocument(Part):
    """A `jaxel-stock` document, version 1."""

    format: Literal["jaxel-stock"] = "jaxel-stock"
    version: Literal[1] = 1
    weights: Annotated[list[WeightsInStock], Some] = Field(default_factory=list)
    loads: dict[Annotated[str, Field(min_length=1, max_length=40)], Annotated[list[AnyLoad], Some]] = Field(
        default_factory=dict
    )
    primary_springs: Annotated[list[AnySpringInStock], Some] = Field(default_factory=list)
    secondary_springs: Annotated[list[AnySecondarySpringInStock], Some] = Field(default_factory=list)
    helixes: Annotated[list[HelixInStock], Some] = Field(default_factory=list)
    hole_pairs: Annotated[list[HolePair], Some] = Field(default_factory=list)
    clicker: Annotated[list[Position], Some] = Field(default_factory=list)
    shims_mm: Annotated[list[ShimThickness], Some] = Field(default_factory=list)
    washers_mm: Annotated[list[Thickness], Some] = Field(default_factory=list)
    limiters_mm: Annotated[list[Thickness], Some] = Field(default_factory=list)
    kits: Annotated[list[KitInStock], Some] = Field(default_factory=list)

    @model_validator(mode="after")
    def _holds_something(self) -> Self:
        groups = [getattr(self, name) for name in type(self).model_fields if name not in ("format", "version")]
        if not any(any(group.values()) if isinstance(group, dict) else group for group in groups):
            raise InvalidValue("", "the stock is empty: there is nothing to choose from")
        return self


def read_stock(data: bytes) -> StockDocument:
    """Read a stock document; raises InvalidValue naming the field and the reason."""
    value: dict[str, Any] = read_json(data)
    check_version(value, "jaxel-stock")
    return validate(StockDocument, value)
