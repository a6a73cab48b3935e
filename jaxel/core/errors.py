"""The one error a person's input can cause: a field and the reason it was refused."""


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
