"""What is known of a strange machine by its readings, as bring-in and its own page show it."""

from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import Field

from jaxel.core.trade.setup.prediction import predicted
from jaxel.core.trade.stranger.look import Line, Look

from ..record.model import Model

Name = Annotated[str, Field(max_length=120)]
Key = Annotated[str, Field(max_length=60)]
Readings = Annotated[
    dict[Key, Annotated[dict[Key, Annotated[str, Field(max_length=60)]], Field(max_length=12)]], Field(max_length=60)
]
"""What is typed, by reading and field, in any unit."""


Sure = Annotated[list[Key], Field(max_length=60)]
"""Readings that lie far from what is typical and are so all the same, as a hand said when asked."""

Minutes = Annotated[float, Field(ge=1, le=120)]
"""How long a hand has for looking [min]."""


class FieldView(Model):
    """A field of a reading; `way`, of the ways of taking it the one it belongs to, empty where there is one only."""

    name: str
    label: str
    unit: str
    optional: bool
    way: str


class LineView(Model):
    """A reading in the list of what is worth measuring: how it is taken, what is known, and what it takes off the
    deviations of engagement and shift [rpm], or took, below 0 where it adds to them; and how far one taken has moved
    the figures themselves. `meant`, of one far from what is typical, what was likely meant, in words and as typed."""

    key: str
    name: str
    how: str
    hold: str
    drawing: str
    caution: str
    minutes: float
    fields: list[FieldView]
    state: Literal["open", "taken", "asked", "far", "half", "refused"]
    stands: str
    origin: str
    engagement_rpm: float
    shift_rpm: float
    engagement_moved_rpm: float
    shift_moved_rpm: float
    notes: list[str]
    field: str
    reason: str
    meant: str
    meant_typed: str


class CombinationView(Model):
    """What to look at in the time there is: readings by key, the minutes they take, the deviations they leave [rpm]."""

    readings: list[str]
    minutes: float
    engagement_sd_rpm: float
    shift_sd_rpm: float


class QuestionView(Model):
    """Two readings of one number that contradict each other: which holds?"""

    path: str
    name: str
    readings: list[str]
    words: list[str]


class LookView(Model):
    """A machine as its readings make it; figures and their deviations [rpm], also after one run."""

    lines: list[LineView]
    questions: list[QuestionView]
    engagement_rpm: float
    engagement_sd_rpm: float
    engagement_after_run_rpm: float
    shift_rpm: float
    shift_sd_rpm: float
    shift_after_run_rpm: float
    best: CombinationView
    counts: dict[str, int]
    unequal: list[float]


def look_view(found: Look) -> LookView:
    """A look as an answer gives it, in this hand's units."""
    figures = predicted(found.document, banded=False)
    return LookView(
        lines=[_line(each) for each in found.lines],
        questions=[
            QuestionView(path=each.path, name=each.name, readings=list(each.readings), words=list(each.words))
            for each in found.questions
        ],
        engagement_rpm=figures.engagement.bite_rpm,
        engagement_sd_rpm=found.sd_rpm[0],
        engagement_after_run_rpm=found.after_run_rpm[0],
        shift_rpm=figures.shift.mean_rpm,
        shift_sd_rpm=found.sd_rpm[1],
        shift_after_run_rpm=found.after_run_rpm[1],
        best=CombinationView(**{**asdict(found.best), "readings": list(found.best.readings)}),
        counts=dict(found.counts),
        unequal=list(found.unequal),
    )


def _line(line: Line) -> LineView:
    reading = line.reading
    return LineView(
        key=reading.key,
        name=reading.name,
        how=reading.how,
        hold=reading.hold,
        drawing=reading.drawing,
        caution=reading.caution,
        minutes=reading.minutes,
        fields=[
            FieldView(name=each.name, label=each.label, unit=each.unit, optional=each.optional, way=each.way)
            for each in reading.fields
        ],
        state=line.state,
        stands=line.stands,
        origin=line.origin,
        engagement_rpm=line.engagement_rpm,
        shift_rpm=line.shift_rpm,
        engagement_moved_rpm=line.moved_rpm[0],
        shift_moved_rpm=line.moved_rpm[1],
        notes=list(line.notes),
        field=line.field,
        reason=line.reason,
        meant=line.meant[0],
        meant_typed=line.meant[1],
    )
