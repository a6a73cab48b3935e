"""The road test of a visit: its runs, what each of them measured, and what it still lacks."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from math import sqrt
from typing import Annotated

from jaxel.core.formats.run.runs import NOISE, RunFigure

from ..record.quantities import Name, Rpm, RunNote
from ..record.said import Said
from .like import REPEAT, Like


@dataclass(frozen=True)
class Measured:
    """What a hand writes of a run; None where not read. Engagement may be read on up to three roll-ons; who rode, and
    on which strip, empty where nobody said."""

    engagement_rpm: Annotated[Rpm | None, Said("engagement")] = None
    second_roll_on_rpm: Annotated[Rpm | None, Said("engagement, second roll-on")] = None
    third_roll_on_rpm: Annotated[Rpm | None, Said("engagement, third roll-on")] = None
    shift_rpm: Annotated[Rpm | None, Said("shift")] = None
    note: Annotated[RunNote, Said("note")] = ""
    rider: Annotated[Name, Said("rider")] = ""
    strip: Annotated[Name, Said("strip")] = ""


@dataclass(frozen=True)
class LogOfRun:
    """What a hand decides of a run's log: the `marks` it moved, `pull.mark` to where it was found and where it was put
    [the log's s], and whether the log `counts`."""

    marks: Annotated[Mapping[str, Sequence[float]], Said("marks of the log", hand=False)] = field(default_factory=dict)
    counts: Annotated[bool, Said("the log counts", hand=False)] = True


Figures = Mapping[RunFigure, tuple[float, float]]
"""Figures of a run, each with its standard deviation."""


def typed_figures(measured: Measured) -> Figures:
    """What was read off a tachometer [rpm]: several roll-ons count as their mean, with sd/√n.

    >>> typed_figures(Measured(3900.0, 3960.0, 3930.0))
    {'engagement_rpm': (3930.0, 43.30127018922194)}
    """
    rolled = (measured.engagement_rpm, measured.second_roll_on_rpm, measured.third_roll_on_rpm)
    engaged = [each for each in rolled if each is not None]
    found: dict[RunFigure, tuple[float, float]] = {}
    if engaged:
        found["engagement_rpm"] = (sum(engaged) / len(engaged), NOISE["engagement_rpm"] / sqrt(len(engaged)))
    if measured.shift_rpm is not None:
        found["shift_mean_rpm"] = (measured.shift_rpm, NOISE["shift_mean_rpm"])
    return found


def run_figures(
    measured: Measured, counted: Sequence[Like] = (), repeat: Mapping[RunFigure, float] = REPEAT
) -> Figures:
    """What a run measured: of what its log says and a hand typed, the log's."""
    return dict(typed_figures(measured)) | {each.figure: (each.counted, each.sd(repeat)) for each in counted}


def logged(counted: Sequence[Like]) -> str:
    """Which of the figures a prediction is scored by come from a log, in words; empty where none does.

    >>> logged([Like("shift_mean_rpm", 7900.0, 5.0, 7890.0, 7850.0), Like("low_ratio", 3.4, 0.01, 3.4, 3.4)])
    'shift'
    """
    words = {"engagement_rpm": "engagement", "shift_mean_rpm": "shift"}
    return " and ".join(words[each.figure] for each in counted if each.figure in words)


def counted_text(counted: Sequence[Like]) -> str:
    """What a log says in the model's terms, as it is kept."""
    return json.dumps([asdict(each) for each in counted])


def read_counted(text: str | None) -> tuple[Like, ...]:
    """The same read back; nothing where there is none."""
    return tuple(Like(**each) for each in json.loads(text)) if text else ()


@dataclass(frozen=True)
class Ride:
    """One run of the road test on a set-up revision [rpm]; None where not read."""

    revision_id: int
    engagement_rpm: float | None
    shift_rpm: float | None


def ride(revision_id: int, figures: Figures) -> Ride:
    """A run by what it measured."""
    engaged, shifted = figures.get("engagement_rpm"), figures.get("shift_mean_rpm")
    return Ride(revision_id, engaged and engaged[0], shifted and shifted[0])


def lacks(rides: Sequence[Ride], left_revision_id: int) -> Iterator[tuple[str, str]]:
    """What a road test still lacks on the set-up as left, as (field, words)."""
    on_left = [ride for ride in rides if ride.revision_id == left_revision_id]
    if not any(ride.engagement_rpm for ride in on_left):
        yield "engagement_rpm", "measured engagement on the set-up as left"
    if not any(ride.shift_rpm for ride in on_left):
        yield "shift_rpm", "measured shift rpm on the set-up as left"
