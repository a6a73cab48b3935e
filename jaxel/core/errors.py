"""The errors a person can act on: a value refused with its field, and a command that cannot go on."""

from collections.abc import Mapping


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

    `words` say what was likely meant, empty where nothing stands out; `meant`, that as values by field.
    """

    def __init__(self, field: str, reason: str, words: str = "", meant: Mapping[str, float | str] | None = None):
        super().__init__(field, reason)
        self.words, self.meant = words, dict(meant or {})
