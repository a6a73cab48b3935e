"""What a reading of a log is: a value with what the trace leaves in doubt, or why there is none."""

from dataclasses import dataclass
from typing import Literal

Reason = Literal[
    "no engine", "no motion", "no throttle", "no set-up", "no start", "moving", "fast", "slipped", "no pull", "part",
    "short", "still shifting", "no chop", "not reached", "no temperature", "blank", "not recovered", "crossed",
]  # fmt: skip


@dataclass(frozen=True)
class Reading:
    """A figure of one trace: `value`, its standard deviation `sd` from this trace alone, the `samples` it stands on,
    and `at`, the point of the grid where it is marked (None where it is of a stretch)."""

    value: float
    sd: float
    samples: int
    at: int | None = None


@dataclass(frozen=True)
class Unread:
    """Why a figure cannot be read; `bound`, what it is at most, where that much is known."""

    reason: Reason
    bound: float | None = None
    at: int | None = None


Found = Reading | Unread
