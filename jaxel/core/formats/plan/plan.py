"""The `jaxel-plan` document: which parts of a stock land in the window, how surely, and what each does of it."""

from typing import Annotated, Literal

from pydantic import Field

from ..reading import Part
from ..setup.setup import TargetPart

Probability = Annotated[float, Field(ge=0, le=1)]


class PlannedChange(Part):
    """One slot changed: from what to what, by which part; what it does of the whole change (its Shapley value).

    `numbers` of the slot as they then stand, by key.
    """

    slot: str
    from_: Annotated[str, Field(alias="from", serialization_alias="from")]
    to: str
    part: str = ""
    engagement_rpm: float
    shift_mean_rpm: float
    numbers: dict[str, float] = Field(default_factory=dict)


class Answer(Part):
    """One set-up of the stock's parts.

    `why`, what each change does and what speaks against it; `for_rider`, one sentence to repeat to whoever rides it;
    `behind`, why it stands behind the answer before it.
    """

    kit: str = ""
    changes: list[PlannedChange]
    engagement_rpm: float
    engagement_sd_rpm: Annotated[float, Field(ge=0)]
    shift_mean_rpm: float
    shift_sd_rpm: Annotated[float, Field(ge=0)]
    spread_rpm: float
    full_shift_rpm: float
    least_grip: float
    probability: Probability
    merit: float
    inside: bool
    depth: int
    teardown: str
    price: float
    minutes: float
    why: str
    for_rider: str = ""
    behind: str = ""


class ReachValue(Part):
    """A value a part would need."""

    slot: str
    field: str
    unit: str
    now: float
    needed: float


class Reach(Part):
    """Values, fitted together, that would land in the middle of the window; no part at hand has them."""

    values: list[ReachValue]
    engagement_rpm: float
    shift_mean_rpm: float


class HeldAt(Part):
    """What holds the target at an altitude: the slot's value and the figures it gives; None where none does."""

    elevation_m: float
    temperature_c: float
    power_factor: float
    value: float | None
    engagement_rpm: float | None
    shift_mean_rpm: float | None


class AltitudeTable(Part):
    """The target shift held over altitude by one slot."""

    slot: str
    unit: str
    rows: list[HeldAt]


class PlanDocument(Part):
    """A `jaxel-plan` document, version 1; `probability`, of the set-up as it is to lie in both windows."""

    format: Literal["jaxel-plan"] = "jaxel-plan"
    version: Literal[1] = 1
    combinations: Annotated[int, Field(ge=0)]
    target: TargetPart
    probability: Annotated[float, Field(ge=0, le=1)] | None = None
    answers: list[Answer]
    reach: list[Reach]
    altitude: AltitudeTable | None = None


def write_plan(document: PlanDocument) -> str:
    """The document as JSON text."""
    return document.model_dump_json(indent=2, exclude_none=True, by_alias=True)
