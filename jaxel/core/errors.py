"""The errors a person can act on: a value refused with its field, and a command that cannot go on."""


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
