"""The `jaxel-calibration` document: what a machine's runs say of its model, and all it takes to apply them."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from jaxel.core.errors import InvalidValue

from ..reading import Part, check_version, read_json, validate
from ..setup.setup import SetupDocument
from .runs import RunFigure, RunPart

Name = Annotated[str, Field(min_length=1, max_length=200)]
Share = Annotated[float, Field(ge=0, le=10)]


class Residual(Part):
    """A figure of a run beside what the calibrated model gives for it; `z` over noise and discrepancy together."""

    run: Annotated[int, Field(ge=1)]
    figure: RunFigure
    measured: float
    predicted: float
    z: float


class Contradiction(Part):
    """A figure of a run more than 2.5 deviations off what the other runs predict for it."""

    run: Annotated[int, Field(ge=1)]
    figure: RunFigure
    measured: float
    expected: float
    z: float


class Anchor(Part):
    """A measured figure that predictions stand on."""

    run: Annotated[int, Field(ge=1)]
    figure: RunFigure
    measured: float


class TellingPart(Part):
    """How a change of one kind is told for one figure: the factor on it, the factor's standard deviation, and its miss
    as a share of the change before the factor."""

    factor: Annotated[float, Field(gt=0, le=10)]
    factor_sd: Annotated[float, Field(ge=0, le=10)]
    rel: Share


class DiscrepancyPart(Part):
    """How changes are told, by kind, of engagement, of the shift's mean and slope, and of its end; `scored`, how many
    of the workshop's own scores of each kind that stands on."""

    engagement: dict[Name, TellingPart]
    shift: dict[Name, TellingPart]
    full_shift: dict[Name, TellingPart]
    scored: dict[Name, Annotated[int, Field(ge=0)]] = Field(default_factory=dict)


class ScorePart(Part):
    """A change that was predicted by earlier runs and then measured [rpm]: `changes` by kind without factors, `told`
    with the study's; `variance` [rpm²] of noise and parameters; `swap`, by which the same two parts are known."""

    figure: Literal["engagement", "shift", "full_shift"]
    changes: dict[Name, float]
    told: float
    measured: float
    variance: Annotated[float, Field(ge=0)]
    swap: Annotated[str, Field(max_length=64)]


class CalibrationDocument(Part):
    """A `jaxel-calibration` document, version 1.

    `setup` and `runs` as they were given, runs counted from 1 everywhere; `model` parameters and `inputs` as fitted, a
    table's as the factor on it; `order` names the rows of `covariance`, an input of another run's part with `@` and the
    run; `moved`, what the data moved by a fifth of its prior deviation or more. `model_version` made it: one of another
    version is fitted anew from its runs when it is applied. `others`, scores of the workshop's other machines that its
    discrepancy stands on beside its own `scores`.
    """

    format: Literal["jaxel-calibration"] = "jaxel-calibration"
    version: Literal[1] = 1
    model_version: Annotated[int, Field(ge=1)] = 2
    setup: SetupDocument
    runs: Annotated[list[RunPart], Field(min_length=1, max_length=100)]
    model: dict[Name, float]
    inputs: dict[Name, float]
    order: list[Name]
    sd: dict[Name, Annotated[float, Field(ge=0)]]
    covariance: list[list[float]]
    residuals: list[Residual]
    moved: list[Name]
    contradicts: list[Contradiction]
    anchor: list[Anchor]
    discrepancy: DiscrepancyPart | None = None
    scores: Annotated[list[ScorePart], Field(max_length=300)] = Field(default_factory=list)
    others: Annotated[list[ScorePart], Field(max_length=3000)] = Field(default_factory=list)

    @model_validator(mode="after")
    def _square(self) -> Self:
        size = len(self.order)
        if len(self.covariance) != size or any(len(row) != size for row in self.covariance):
            raise InvalidValue("covariance", f"must have a row and a column for each of the {size} names in order")
        return self


def read_calibration(data: bytes) -> CalibrationDocument:
    """Read a calibration document; raises InvalidValue naming the field and the reason."""
    value: dict[str, Any] = read_json(data)
    check_version(value, "jaxel-calibration")
    if "model_version" not in value and isinstance(value, dict):
        value.pop("discrepancy", None)  # as it was told before changes had factors
    return validate(CalibrationDocument, value)


def write_calibration(document: CalibrationDocument) -> str:
    """The document as JSON text; reading it back gives an equal document."""
    return document.model_dump_json(indent=2, exclude_none=True)
