"""Springs in a setup document: as fitted, and as a catalogue or a tester gives them.

Reading turns every form into the fitted one, and that is what is written back.
"""

from typing import TYPE_CHECKING, Annotated, Any, Self

from pydantic import AfterValidator, Field, Tag, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.clutch.spring import CompressionSpring, SpringRating, rating_from_points
from jaxel.core.units import MM

from .faults import in_document_terms
from .quantities import Force, Length, Rate, Stroke
from .reading import Part, form


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
        with in_document_terms():
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


# A type checker sees the fitted form; a reader may write any.
if TYPE_CHECKING:
    AnySpring = SpringPart
    AnySecondarySpring = SecondarySpringPart
else:
    AnySpring = Annotated[
        Annotated[SpringPart, Tag("forces")]
        | Annotated[RatedSpring, Tag("rated")]
        | Annotated[MeasuredSpring, Tag("measured")],
        form(rate_n_per_mm="rated", points="measured", else_="forces"),
        AfterValidator(_fitted_spring),
    ]
    AnySecondarySpring = Annotated[
        Annotated[SecondarySpringPart, Tag("forces")]
        | Annotated[RatedSecondarySpring, Tag("rated")]
        | Annotated[MeasuredSecondarySpring, Tag("measured")],
        form(rate_n_per_mm="rated", points="measured", else_="forces"),
        AfterValidator(_fitted_secondary_spring),
    ]
