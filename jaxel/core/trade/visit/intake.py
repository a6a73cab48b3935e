"""Intake: what came in, what is said of it, and what that still lacks."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from ..record.quantities import AirTemperature, Distance, Elevation, Hours, Key, Percent, Rpm, Story
from ..record.said import Said
from ..record.scope import SET_UP_SCOPES, Scope

Riding = Literal["", "trail", "mud", "dune", "mountain", "towing"]
NO_COMPLAINT = "None, routine"
"""The complaint of a machine that has none: there is nothing to explain."""

WalkingRange = Literal["", "low", "high", "one range"]


@dataclass(frozen=True)
class Intake:
    """What came in, in which air it is used, where it should land, and the baseline; None where not read."""

    elevation_m: Annotated[Elevation, Said("altitude of use")]
    temperature_c: Annotated[AirTemperature, Said("temperature")]
    humidity_pct: Annotated[Percent, Said("humidity")]
    target_engagement_rpm: Annotated[Rpm, Said("target engagement")]
    target_engagement_tolerance_rpm: Annotated[Rpm, Said("target engagement, give or take")]
    target_shift_rpm: Annotated[Rpm, Said("target shift")]
    target_shift_tolerance_rpm: Annotated[Rpm, Said("target shift, give or take")]
    odometer_km: Annotated[Distance | None, Said("odometer")] = None
    odometer_h: Annotated[Hours | None, Said("hour meter")] = None
    complaint: Annotated[Story, Said("complaint")] = ""
    riding: Annotated[Riding, Said("riding")] = ""
    fitted_confirmed: Annotated[bool, Said("what is fitted, looked at", hand=False)] = False
    no_odometer: Annotated[Literal["", "cannot be read", "has none"], Said("odometer")] = ""
    no_tachometer: Annotated[bool, Said("no tachometer")] = False
    baseline_engagement_rpm: Annotated[Rpm | None, Said("baseline engagement")] = None
    baseline_shift_rpm: Annotated[Rpm | None, Said("baseline shift")] = None
    walking_range: Annotated[WalkingRange, Said("range used at walking pace")] = ""
    target_typical: Annotated[bool, Said("target, as is typical")] = False
    symptoms: Annotated[Sequence[Key], MaxLen(20), Said("symptoms")] = ()

    @property
    def begun(self) -> bool:
        """Whether a hand has been at it."""
        read = self.odometer_km is not None or self.odometer_h is not None
        return read or bool(self.no_odometer) or bool(self.complaint.strip()) or self.fitted_confirmed

    @property
    def windows(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where engagement and shift should land, each as (target, give or take) [rpm]."""
        return (
            (self.target_engagement_rpm, self.target_engagement_tolerance_rpm),
            (self.target_shift_rpm, self.target_shift_tolerance_rpm),
        )

    @property
    def stated_windows(self) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """The windows as somebody stated them; None of a target that is only typical of its kind."""
        return None if self.target_typical else self.windows


TARGETS = frozenset(
    {
        "target_engagement_rpm",
        "target_engagement_tolerance_rpm",
        "target_shift_rpm",
        "target_shift_tolerance_rpm",
    }
)
"""Fields that state the target: who writes one has stated it."""


def lacks(intake: Intake, scope: Scope, tried: bool) -> Iterator[tuple[str, str]]:
    """What an intake still lacks, as (field, words); `tried`, whether what is fitted was changed and not confirmed."""
    unread = intake.odometer_km is None and intake.odometer_h is None and not intake.no_odometer
    if scope != "bench" and unread:
        yield "odometer_km", "odometer reading, distance or hours"
    if not intake.complaint.strip():
        yield "complaint", "complaint in the rider's words"
    if scope in SET_UP_SCOPES and (not intake.fitted_confirmed or tried):
        yield "fitted", "what is fitted, looked at and confirmed"
