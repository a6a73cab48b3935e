"""One visit as its stations record it, and what it still lacks before it can be signed off."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Station = Literal["intake", "belt", "set-up", "road-test", "hand-over"]
STATIONS: tuple[Station, ...] = ("intake", "belt", "set-up", "road-test", "hand-over")

Decision = Literal["run on", "spare", "discard"]


@dataclass(frozen=True)
class RoadTest:
    """Measured engagement and shift [rpm] on one set-up revision; None where not read."""

    revision_id: int
    engagement_rpm: float | None
    shift_rpm: float | None


@dataclass(frozen=True)
class VisitRecord:
    """What the stations of a visit hold, in the units they were read in; None where nothing was.

    `widths_mm` by place; `found_revision_id` and `left_revision_id` the set-ups as found and as left;
    `draft` whether a set-up change has been tried on the bench but not recorded.
    """

    odometer_km: float | None
    complaint: str
    fitted_confirmed: bool
    widths_mm: Mapping[int, float]
    belt_finding: str | None
    belt_decision: Decision | None
    belt_reason: str
    next_belt_width_mm: float | None
    found_revision_id: int
    left_revision_id: int
    draft: bool
    road_tests: tuple[RoadTest, ...]


@dataclass(frozen=True)
class OpenItem:
    """One thing a visit still lacks: the station and field where it is given, and what it is."""

    station: Station
    field: str
    what: str


def open_items(visit: VisitRecord) -> list[OpenItem]:
    """What stands between a visit and its sign-off, by name, in the order of the work."""
    found: list[OpenItem] = []

    def lacks(missing: bool, station: Station, field: str, what: str) -> None:
        if missing:
            found.append(OpenItem(station, field, what))

    lacks(visit.odometer_km is None, "intake", "odometer_km", "odometer reading")
    lacks(not visit.complaint.strip(), "intake", "complaint", "complaint in the rider's words")
    lacks(not visit.fitted_confirmed, "intake", "fitted", "what is fitted, looked at and confirmed")
    for place in (1, 2, 3):
        lacks(place not in visit.widths_mm, "belt", f"place_{place}", f"belt width at place {place}")
    lacks(visit.belt_decision is None, "belt", "decision", "belt: run on, keep as spare or discard")
    overruled = visit.belt_decision == "run on" and visit.belt_finding == "replace"
    needs_reason = visit.belt_decision in ("spare", "discard") or overruled
    lacks(needs_reason and not visit.belt_reason.strip(), "belt", "reason", "reason for the belt decision")
    replaced = visit.belt_decision in ("spare", "discard")
    lacks(replaced and visit.next_belt_width_mm is None, "belt", "next_width_mm", "width of the belt going on")
    lacks(visit.draft, "set-up", "reason", "set-up change tried but not recorded as fitted")
    tests = [test for test in visit.road_tests if test.revision_id == visit.left_revision_id]
    lacks(
        not any(test.engagement_rpm for test in tests),
        "road-test",
        "engagement_rpm",
        "measured engagement on the set-up as left",
    )
    lacks(
        not any(test.shift_rpm for test in tests), "road-test", "shift_rpm", "measured shift rpm on the set-up as left"
    )
    return found


def station_states(visit: VisitRecord, signed_off: bool) -> dict[Station, str]:
    """For each station `done`, `attention` (begun, something lacks or is amiss) or `to do`."""
    if signed_off:
        return dict.fromkeys(STATIONS, "done")
    lacking = {item.station for item in open_items(visit)}
    begun: dict[Station, bool] = {
        "intake": visit.odometer_km is not None or bool(visit.complaint.strip()) or visit.fitted_confirmed,
        "belt": bool(visit.widths_mm) or visit.belt_decision is not None,
        "set-up": visit.draft or visit.left_revision_id != visit.found_revision_id or bool(visit.road_tests),
        "road-test": bool(visit.road_tests),
        "hand-over": False,
    }
    states: dict[Station, str] = {}
    for station in STATIONS:
        if station in lacking:
            states[station] = "attention" if begun[station] else "to do"
        else:
            states[station] = "done" if begun[station] else "to do"
    return states
