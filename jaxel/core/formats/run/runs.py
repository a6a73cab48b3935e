"""The `jaxel-runs` document: what a machine's measured runs gave, each on the set-up it was made with."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.words import q

from ..quantities import Speed
from ..reading import Part, check_version, read_json, validate
from ..setup.setup import SetupDocument

RunFigure = Literal["engagement_rpm", "shift_mean_rpm", "slope_rpm", "full_shift_rpm", "low_ratio", "high_ratio"]

NOISE: dict[RunFigure, float] = {
    "engagement_rpm": 75.0,
    "shift_mean_rpm": 50.0,
    "slope_rpm": 60.0,
    "full_shift_rpm": 60.0,
    "low_ratio": 0.05,
    "high_ratio": 0.01,
}
"""Standard deviation of a measured figure that states none: read off a tachometer by eye; from memory."""

Ratio = Annotated[float, Field(gt=0, le=20)]
Slope = Annotated[float, Field(ge=-10_000, le=10_000, json_schema_extra={"unit": "rpm"})]
Deviation = Annotated[float, Field(gt=0, le=10_000)]


Kind = Annotated[str, Field(min_length=1, max_length=60)]
Change = Annotated[float, Field(ge=-30_000, le=30_000)]


class ForetoldPart(Part):
    """What the change that a run was made to try was predicted to do before it [rpm], by kind and without factors;
    `swap`, by which the two set-ups it lies between are known."""

    swap: Annotated[str, Field(max_length=64)]
    engagement: dict[Kind, Change]
    shift: dict[Kind, Change]
    full_shift: dict[Kind, Change]


class RunPart(Part):
    """One run: any of its figures, each with its standard deviation in `sd`; without `setup` it was of the base.

    `foretold`, what was predicted of its change before it: by that it is scored, and not by what today's model says.
    """

    setup: SetupDocument | None = None
    engagement_rpm: Speed | None = None
    shift_mean_rpm: Speed | None = None
    slope_rpm: Slope | None = None
    full_shift_rpm: Speed | None = None
    low_ratio: Ratio | None = None
    high_ratio: Ratio | None = None
    sd: dict[RunFigure, Deviation] = Field(default_factory=dict)
    note: Annotated[str, Field(max_length=500)] = ""
    foretold: ForetoldPart | None = None

    @model_validator(mode="after")
    def _measures(self) -> Self:
        if not self.measured:
            raise InvalidValue("", "has no figure: a run measures at least one")
        for figure in self.sd:
            if figure not in self.measured:
                raise InvalidValue(f"sd.{figure}", "is given for a figure this run does not hold")
        return self

    @property
    def measured(self) -> dict[RunFigure, float]:
        """The figures measured."""
        found: dict[RunFigure, float | None] = {figure: getattr(self, figure) for figure in NOISE}
        return {figure: value for figure, value in found.items() if value is not None}

    def noise(self, figure: RunFigure) -> float:
        """The standard deviation of a figure."""
        return self.sd.get(figure, NOISE[figure])


class RunsDocument(Part):
    """A `jaxel-runs` document, version 1."""

    format: Literal["jaxel-runs"] = "jaxel-runs"
    version: Literal[1] = 1
    runs: Annotated[list[RunPart], Field(min_length=1, max_length=100)]


def read_runs(data: bytes) -> RunsDocument:
    """Read a runs document; raises InvalidValue naming the field and the reason."""
    value: dict[str, Any] = read_json(data)
    check_version(value, "jaxel-runs")
    return validate(RunsDocument, value)


def check_same_machine(field: str, base: SetupDocument, other: SetupDocument) -> None:
    """Refuse a set-up that is of another machine than `base`: no run of the one says anything of the other."""
    one, two = base.primary, other.primary
    if one.profile.kind != two.profile.kind:
        raise InvalidValue(field, "is of another machine: its weights are of another kind")
    if one.weights.count != two.weights.count:
        raise InvalidValue(field, "is of another machine: it has another number of weights")
    if base.geometry.sheave_half_angle_deg != other.geometry.sheave_half_angle_deg:
        raise InvalidValue(field, "is of another machine: its sheaves have another half-angle")
    if abs(base.geometry.centre_distance_mm - other.geometry.centre_distance_mm) > SAME_CENTRES_MM:
        raise InvalidValue(
            field, f"is of another machine: its centre distance is more than {q(SAME_CENTRES_MM, 'mm')} off"
        )


SAME_CENTRES_MM = 5.0
"""How far two readings of one machine's centre distance may lie apart."""
