"""What is due as an event of a calendar file: the properties each event has, and what they mean here."""

from datetime import date, datetime
from typing import Annotated

from pydantic import BaseModel, Field

CALENDAR_FORMAT = "jaxel-due 1"
"""What the file calls itself, in its property X-JAXEL-FORMAT (RFC 5545, 3.8.8.2)."""


class DueEvent(BaseModel):
    """An event, a whole day, of something due of a machine (RFC 5545, 3.6.1)."""

    uid: Annotated[str, Field(description="the same for the same thing due of the same machine: a calendar moves it")]
    summary: Annotated[str, Field(description="the machine and what is due")]
    description: Annotated[str, Field(description="why, and at which reading of its meters")]
    dtstart: Annotated[date, Field(description="the day")]
    dtend: Annotated[date, Field(description="the day after")]
    dtstamp: Annotated[datetime, Field(description="when the file was made")]
