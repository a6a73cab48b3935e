"""The `jaxel-run-summary` document: what a log of a run gives, each figure with its doubt or why there is none."""

from typing import Annotated, Literal

from pydantic import Field

from ..reading import Part

Words = Annotated[str, Field(max_length=400)]
Count = Annotated[int, Field(ge=0)]


class FigurePart(Part):
    """A figure of a log: `value` with `read_sd`, its standard deviation from this trace alone, the `samples` it stands
    on, `how` it was read, and `mark_s`, the log's stamp at which it stands; or no value, and `why`. `bound`, what a
    figure that cannot be read is at most."""

    value: float | None = None
    read_sd: Annotated[float, Field(ge=0)] | None = None
    samples: Count | None = None
    how: Words | None = None
    mark_s: float | None = None
    why: Words | None = None
    bound: float | None = None


class ShiftPart(Part):
    """The shift of a full-throttle pull [rpm]: mean, spread and slope `over` sheave travel, ratio or time, `from` and
    `to` which share of it; its start, its end, and how far the engine runs past that."""

    mean_rpm: FigurePart
    spread_rpm: FigurePart
    slope_rpm: FigurePart
    start_rpm: FigurePart
    full_shift_rpm: FigurePart
    over_run_rpm: FigurePart
    over: Literal["travel", "ratio", "time"] | None = None
    from_share: float | None = None
    to_share: float | None = None


class BackshiftPart(Part):
    """After a chop: how far the engine drops, and how long it takes to be back."""

    dip_rpm: FigurePart
    recovery_s: FigurePart


class TimesPart(Part):
    """From first motion: to 30 and 60 mph (48.28 and 96.56 km/h), 200 and 400 m."""

    to_30_mph_s: FigurePart
    to_60_mph_s: FigurePart
    to_200_m_s: FigurePart
    to_400_m_s: FigurePart


class PullPart(Part):
    """One opening of the throttle: how it was opened, and when [the log's s]."""

    kind: Literal["stab", "roll-on", "chop"]
    from_s: float
    to_s: float


class SlipPart(Part):
    """A stretch in which belt or ground slipped, and the share lost [%]."""

    what: Literal["take-off", "flare", "ground"]
    from_s: float
    to_s: float
    slip_pct: float


class RunSummaryDocument(Part):
    """A `jaxel-run-summary` document, version 1.

    `samples` rows of the log, `dropped` of them in all and by reason; `columns`, the fields that were read; `limits`,
    what could not be said for want of a column or a set-up.
    """

    format: Literal["jaxel-run-summary"] = "jaxel-run-summary"
    version: Literal[1] = 1
    engagement_rpm: FigurePart
    shift: ShiftPart
    low_ratio: FigurePart
    high_ratio: FigurePart
    backshift: BackshiftPart
    overall_gearing: FigurePart
    wheel_power_kw: FigurePart
    wheel_torque_nm: FigurePart
    times: TimesPart
    full_throttle_s: FigurePart
    slip_flags: list[SlipPart]
    belt_temp_max_c: FigurePart
    pulls: list[PullPart]
    samples: Count
    dropped: Count
    dropped_by: dict[str, Count]
    columns: list[str]
    limits: list[Words]


def write_summary(document: RunSummaryDocument) -> str:
    """The document as JSON text: a figure holds what there is to say of it, and nothing else."""
    return document.model_dump_json(indent=2, exclude_none=True)
