"""The stations of a visit: what each records, what it still lacks, and the one registry that names them.

A station's record is the one dataclass that the store keeps in a table of its own and the web shows.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from .belt_wear import assess

Station = Literal["intake", "belt", "set-up", "road-test", "hand-over"]
State = Literal["done", "attention", "to do"]
Riding = Literal["", "trail", "mud", "dune", "mountain", "towing"]
Decision = Literal["run on", "spare", "discard"]


@dataclass(frozen=True)
class Intake:
    """What came in, in which air it is used, where it should land, and the baseline; None where not read."""

    elevation_m: float
    temperature_c: float
    humidity_pct: float
    target_engagement_rpm: float
    target_engagement_tolerance_rpm: float
    target_shift_rpm: float
    target_shift_tolerance_rpm: float
    odometer_km: float | None = None
    complaint: str = ""
    riding: Riding = ""
    fitted_confirmed: bool = False
    baseline_engagement_rpm: float | None = None
    baseline_shift_rpm: float | None = None


@dataclass(frozen=True)
class BeltCheck:
    """The belt that came in, what was decided of it, and the one that goes on."""

    belt_id: int
    decision: Decision | None = None
    reason: str = ""
    next_belt_id: int | None = None
    next_width_mm: float | None = None

    @property
    def replaced(self) -> bool:
        """Whether another belt goes on."""
        return self.decision in ("spare", "discard")


@dataclass(frozen=True)
class SetUp:
    """The set-ups as found and as left, and what was tried on each but not recorded: numbers of slots by key."""

    found_revision_id: int
    left_revision_id: int
    found_draft: Mapping[str, float] = field(default_factory=dict)
    left_draft: Mapping[str, float] = field(default_factory=dict)
    reason: str = ""


@dataclass(frozen=True)
class Ride:
    """One run of the road test on a set-up revision [rpm]; None where not read."""

    revision_id: int
    engagement_rpm: float | None
    shift_rpm: float | None


@dataclass(frozen=True)
class HandOver:
    """What the rider is told to watch, and when to come back."""

    watch: str = ""
    next_service_km: float | None = None


@dataclass(frozen=True)
class VisitRecord:
    """A visit as its stations recorded it; `widths_mm` of the belt by place, `belt_limits_mm` (new, wear limit)."""

    intake: Intake
    belt: BeltCheck
    set_up: SetUp
    hand_over: HandOver
    widths_mm: Mapping[int, float]
    belt_limits_mm: tuple[float, float]
    rides: tuple[Ride, ...]


@dataclass(frozen=True)
class OpenItem:
    """One thing a visit still lacks: the station and field where it is given, and what it is."""

    station: Station
    field: str
    what: str


@dataclass(frozen=True)
class StationRule:
    """A line of the registry.

    `lacks` names what stands between the station and a sign-off, as (field, words); `begun` says whether a hand has
    been at it.
    """

    station: Station
    lacks: Callable[[VisitRecord], Iterator[tuple[str, str]]]
    begun: Callable[[VisitRecord], bool]


def _intake_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    intake = visit.intake
    if intake.odometer_km is None:
        yield "odometer_km", "odometer reading"
    if not intake.complaint.strip():
        yield "complaint", "complaint in the rider's words"
    if not intake.fitted_confirmed or visit.set_up.found_draft:
        yield "fitted", "what is fitted, looked at and confirmed"


def _belt_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    belt, widths = visit.belt, visit.widths_mm
    for place in (1, 2, 3):
        if place not in widths:
            yield f"place_{place}", f"belt width at place {place}"
    if belt.decision is None:
        yield "decision", "belt: run on, keep as spare or discard"
    worn = bool(widths) and assess([widths[place] for place in sorted(widths)], *visit.belt_limits_mm)
    overruled = belt.decision == "run on" and worn and worn.finding == "replace"
    if (belt.replaced or overruled) and not belt.reason.strip():
        yield "reason", "reason for the belt decision"
    if belt.replaced and belt.next_width_mm is None:
        yield "next_width_mm", "width of the belt going on"


def _set_up_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if visit.set_up.left_draft:
        yield "reason", "set-up change tried but not recorded as fitted"


def _road_test_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    rides = [ride for ride in visit.rides if ride.revision_id == visit.set_up.left_revision_id]
    if not any(ride.engagement_rpm for ride in rides):
        yield "engagement_rpm", "measured engagement on the set-up as left"
    if not any(ride.shift_rpm for ride in rides):
        yield "shift_rpm", "measured shift rpm on the set-up as left"


def _set_up_begun(visit: VisitRecord) -> bool:
    set_up = visit.set_up
    return bool(set_up.left_draft or visit.rides) or set_up.left_revision_id != set_up.found_revision_id


REGISTRY: tuple[StationRule, ...] = (
    StationRule(
        "intake",
        _intake_lacks,
        lambda v: v.intake.odometer_km is not None or bool(v.intake.complaint.strip()) or v.intake.fitted_confirmed,
    ),
    StationRule("belt", _belt_lacks, lambda v: bool(v.widths_mm) or v.belt.decision is not None),
    StationRule("set-up", _set_up_lacks, _set_up_begun),
    StationRule("road-test", _road_test_lacks, lambda v: bool(v.rides)),
    StationRule("hand-over", lambda _: iter(()), lambda _: False),
)
"""Every station in the order of the work."""

STATIONS: tuple[Station, ...] = tuple(rule.station for rule in REGISTRY)


def open_items(visit: VisitRecord) -> list[OpenItem]:
    """What stands between a visit and its sign-off, by name, in the order of the work."""
    return [OpenItem(rule.station, where, what) for rule in REGISTRY for where, what in rule.lacks(visit)]


def station_states(visit: VisitRecord, signed_off: bool) -> dict[Station, State]:
    """For each station `done`, `attention` (begun, something lacks or is amiss) or `to do`."""

    def state(rule: StationRule) -> State:
        if signed_off:
            return "done"
        if not rule.begun(visit):
            return "to do"
        return "attention" if any(True for _ in rule.lacks(visit)) else "done"

    return {rule.station: state(rule) for rule in REGISTRY}
