"""The errors a person can act on, each with what it means and the status it is answered with.

Refused                 a command cannot be carried out here            exit 2
└── Unusable            the file cannot be the database                 exit 2    store/db.py
InvalidValue            a value the model or a document cannot take     422
├── Implausible         it could be, but hardly is: asked about         422, with what was likely meant
└── Impossible          a clutch that cannot be, in SI and own names    422       core/mechanism/errors.py
NotFound                there is no such row                            404       store/db.py
Conflict                another hand changed it, or it is closed        409       store/db.py
NotReady                a sign-off that something stands in the way of  409       store/visit/hand_over.py
sqlite3.Error           the disk is full, locked or read-only           503       web/errors.py
"""

from collections.abc import Mapping
from dataclasses import dataclass


class Refused(Exception):
    """A command that cannot be carried out here; the message is one line."""


class InvalidValue(ValueError):
    """A value the model or a document cannot take.

    Parameters: `field`, the path of the field as a document writes it (`primary.spring.travel_mm`);
    `reason`, in words a technician can act on.

    >>> str(InvalidValue("belt.top_width_mm", "must be above 0 mm"))
    'belt.top_width_mm: must be above 0 mm'
    """

    def __init__(self, field: str, reason: str):
        super().__init__(f"{field}: {reason}")
        self.field = field
        self.reason = reason


class Implausible(InvalidValue):
    """A value that could be but hardly is: asked about before it is taken.

    `words` say what was likely meant, empty where nothing stands out; `meant`, that as values by field. `expected`, the
    window a number was looked for in, where what was typed may be another reading of it.
    """

    def __init__(
        self,
        field: str,
        reason: str,
        words: str = "",
        meant: Mapping[str, float | str] | None = None,
        expected: "Expected | None" = None,
    ):
        super().__init__(field, reason)
        self.words, self.meant, self.expected = words, dict(meant or {}), expected


@dataclass(frozen=True)
class Expected:
    """Where a number was looked for: from `low` to `high` in a `unit`, `near` what it should be, 0 where unknown."""

    unit: str
    low: float
    high: float
    near: float
