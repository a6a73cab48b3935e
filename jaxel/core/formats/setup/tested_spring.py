"""The `jaxel-spring` document: a spring as a tester measured it, beside what it was rated at."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from jaxel.core.mechanism.clutch.spring import SpringRating, rating_from_points
from jaxel.core.units import MM

from ..catalogue import LengthForce
from ..faults import in_document_terms
from ..quantities import Length, Rate
from ..reading import Part, check_version, read_json, validate


class Rated(Part):
    """What the catalogue promises."""

    rate_n_per_mm: Rate
    free_length_mm: Length


class SpringDocument(Part):
    """A `jaxel-spring` document, version 1."""

    format: Literal["jaxel-spring"] = "jaxel-spring"
    version: Literal[1] = 1
    name: Annotated[str, Field(max_length=120)] = ""
    points: Annotated[list[LengthForce], Field(min_length=2, max_length=100)]
    rated: Rated | None = None
    installed_length_mm: Length | None = None


class SpringReport(BaseModel, defer_build=True):
    """The line through a tester's points, how well they lie on it, and what the spring has lost.

    `sag_share` is the share of the rated force missing at the installed length, or where none is given at the
    longest length measured.
    """

    format: Literal["jaxel-spring-report"] = "jaxel-spring-report"
    version: Literal[1] = 1
    name: str
    rate_n_per_mm: float
    free_length_mm: float
    residual_n: float
    at_length_mm: float
    force_n: float
    sag_share: float | None


def read_spring(data: bytes) -> SpringDocument:
    """Read a spring document; raises InvalidValue naming the field and the reason."""
    value: dict[str, Any] = read_json(data)
    check_version(value, "jaxel-spring")
    return validate(SpringDocument, value)


def spring_report(document: SpringDocument) -> SpringReport:
    """Judge a measured spring; raises InvalidValue for points no spring gives."""
    points = document.points
    line = rating_from_points([p.length_mm * MM for p in points], [p.force_n for p in points])
    at = (document.installed_length_mm or max(p.length_mm for p in points)) * MM
    sag = None
    if document.rated:
        rated = SpringRating(document.rated.rate_n_per_mm / MM, document.rated.free_length_mm * MM)
        with in_document_terms():
            sag = round(line.sag(rated, at), 4)
    return SpringReport(
        name=document.name,
        rate_n_per_mm=round(line.rate * MM, 4),
        free_length_mm=round(line.free_length / MM, 3),
        residual_n=round(line.residual, 2),
        at_length_mm=round(at / MM, 3),
        force_n=round(float(line.force(at)), 2),
        sag_share=sag,
    )
