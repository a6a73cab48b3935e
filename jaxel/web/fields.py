"""Fields as they arrive from a bench: numbers typed with fractions, commas and units, blanks for nothing."""

from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from jaxel.core.errors import InvalidValue
from jaxel.core.units import parse_quantity


def _typed(unit: str) -> BeforeValidator:
    def read(value: Any) -> Any:
        if isinstance(value, bool):
            raise InvalidValue("", "must be a number")
        if isinstance(value, str):
            return parse_quantity(value, unit) if value.strip() else None
        return value

    return BeforeValidator(read, json_schema_input_type=float | str | None)


Width = Annotated[Annotated[float, Field(gt=0, le=200)] | None, _typed("mm")]
Distance = Annotated[Annotated[float, Field(ge=0, le=1_000_000)] | None, _typed("km")]
Elevation = Annotated[float, _typed("m"), Field(ge=-430, le=6000)]
Temperature = Annotated[float, _typed("°C"), Field(ge=-50, le=60)]
Percent = Annotated[float, _typed("%"), Field(ge=0, le=100)]
Rpm = Annotated[float, _typed("rpm"), Field(gt=0, le=30000)]
MeasuredRpm = Annotated[Annotated[float, Field(gt=0, le=30000)] | None, _typed("rpm")]
Id = Annotated[int, Field(ge=1, le=2**31)]


class Request(BaseModel):
    """A request's body: unknown fields refused, numbers finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class VisitPath(BaseModel):
    visit_id: Id


class MachinePath(BaseModel):
    machine_id: Id


class RevisionPath(BaseModel):
    revision_id: Id


class Edit(Request):
    """Every change of a visit names the edit it was based on."""

    edit: Annotated[int, Field(ge=1, le=2**31, strict=True)]

    def sent(self) -> dict[str, Any]:
        """The fields that were sent, without the edit: what is absent stays as it is."""
        return self.model_dump(exclude_unset=True, exclude={"edit"})
