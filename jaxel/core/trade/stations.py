"""The stations of a visit: what each records, what it still lacks, and the one registry that names them.

A station's record is the one dataclass that the store keeps in a table of its own and the web shows.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from . import break_in, close_out, line_up, rebuild
from .as_found import Fault
from .belt_look import SEARCHES, Mark, NoWidth
from .belt_wear import assess
from .break_in import BreakIn, HeatCycle
from .close_out import Count
from .kind_file import Depth
from .kinds import Side
from .line_up import LineUp
from .rebuild import Bench
from .strip import Inspection, half_done, lacks

Station = Literal["intake", "belt", "strip", "set-up", "rebuild", "line-up", "road-test", "hand-over"]
State = Literal["done", "attention", "to do"]
Riding = Literal["", "trail", "mud", "dune", "mountain", "towing"]
Decision = Literal["run on", "spare", "discard"]
WalkingRange = Literal["", "low", "high", "one range"]
Search = Literal["", "clear", "found", "not reached"]
Scope = Literal["belt", "service", "tune", "rebuild", "bench"]
"""What a visit is for: bench is a clutch without its machine."""


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
    odometer_h: float | None = None
    complaint: str = ""
    riding: Riding = ""
    fitted_confirmed: bool = False
    no_tachometer: bool = False
    baseline_engagement_rpm: float | None = None
    baseline_shift_rpm: float | None = None
    walking_range: WalkingRange = ""
    symptoms: Sequence[str] = ()


@dataclass(frozen=True)
class BeltCheck:
    """The belt that came in, what was decided of it, and the one that goes on.

    `direction`, which way it ran, noted before it came off; `no_width`, why it has none, `failure`, how it failed, and
    what was found where its pieces go; `side_gap_mm`, both sides together before it was off, `deflection_mm` and
    `ride_mm`, how far it lies below the secondary's rim.
    """

    belt_id: int
    decision: Decision | None = None
    reason: str = ""
    next_belt_id: int | None = None
    next_width_mm: float | None = None
    direction: str = ""
    no_width: NoWidth | None = None
    failure: str = ""
    pieces: Search = ""
    ducts: Search = ""
    seals: Search = ""
    faces: Search = ""
    side_gap_mm: float | None = None
    deflection_mm: float | None = None
    ride_mm: float | None = None

    @property
    def replaced(self) -> bool:
        """Whether another belt goes on."""
        return self.decision in ("spare", "discard")

    def came_off(self, widths_mm: Mapping[int, float]) -> bool:
        """Whether it was taken off: it was measured, or decided upon."""
        return bool(widths_mm) or self.decision is not None

    @property
    def new_one(self) -> bool:
        """Whether a belt that has never run goes on: a spare of the workshop's was broken in long ago."""
        return self.replaced and self.next_belt_id is None


@dataclass(frozen=True)
class SetUp:
    """The set-ups as found and as left, and what was tried on each but not recorded: numbers of slots by key.

    `found_origins`, how what was found in a slot is known, where a hand said so; `opened`, how far each
    clutch was opened for the changes recorded.
    """

    found_revision_id: int
    left_revision_id: int
    found_draft: Mapping[str, float] = field(default_factory=dict)
    found_origins: Mapping[str, str] = field(default_factory=dict)
    left_draft: Mapping[str, float] = field(default_factory=dict)
    reason: str = ""
    opened: Mapping[Side, Depth] = field(default_factory=dict)


@dataclass(frozen=True)
class Ride:
    """One run of the road test on a set-up revision [rpm]; None where not read."""

    revision_id: int
    engagement_rpm: float | None
    shift_rpm: float | None


@dataclass(frozen=True)
class HandOver:
    """What the rider is told to watch, and when to come back; `guard_on`, whether guard and duct are back on."""

    watch: str = ""
    next_service_km: float | None = None
    next_service_h: float | None = None
    guard_on: bool = False


@dataclass(frozen=True)
class FoundFault:
    """A fault found at this visit, under its number."""

    id: int
    fault: Fault


@dataclass(frozen=True)
class VisitRecord:
    """A visit as its stations recorded it; `widths_mm` of the belt by place, `belt_limits_mm` (new, wear limit).

    `bench`, what putting back looks at; `centres_mm` between the shafts; `cycles` of heat, of `cycles_asked` by the
    workshop's school; `counts` by a hand.
    """

    scope: Scope
    faults: tuple[FoundFault, ...]
    intake: Intake
    belt: BeltCheck
    set_up: SetUp
    hand_over: HandOver
    widths_mm: Mapping[int, float]
    belt_limits_mm: tuple[float, float]
    rides: tuple[Ride, ...]
    marks: tuple[Mark, ...] = ()
    inspection: Inspection = field(default_factory=Inspection)
    bench: Bench = field(default_factory=Bench)
    line_up: LineUp = field(default_factory=LineUp)
    centres_mm: float = 0.0
    break_in: BreakIn = field(default_factory=BreakIn)
    cycles: tuple[HeatCycle, ...] = ()
    cycles_asked: int = 2
    counts: tuple[Count, ...] = ()

    @property
    def belt_off(self) -> bool:
        """Whether the belt was taken off the machine."""
        return self.scope != "bench" and self.belt.came_off(self.widths_mm)


@dataclass(frozen=True)
class OpenItem:
    """One thing a visit still lacks: the station and field where it is given, and what it is."""

    station: Station
    field: str
    what: str


@dataclass(frozen=True)
class StationRule:
    """A line of the registry.

    `scopes` it belongs to; `lacks` names what stands between the station and a sign-off, as (field, words); `begun`
    says whether a hand has been at it: then it is shown in every scope, and what it has half done still lacks;
    `called_for`, whether the work of another station calls for it in this scope too.
    """

    station: Station
    scopes: frozenset[Scope]
    lacks: Callable[[VisitRecord], Iterator[tuple[str, str]]]
    begun: Callable[[VisitRecord], bool]
    half_done: Callable[[VisitRecord], Iterator[tuple[str, str]]] = lambda _: iter(())
    called_for: Callable[[VisitRecord], bool] = lambda _: False

    def belongs(self, visit: VisitRecord) -> bool:
        """Whether the visit's scope, or what was done in it, asks for this station."""
        return visit.scope in self.scopes or self.called_for(visit)


def _intake_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    intake = visit.intake
    if visit.scope != "bench" and intake.odometer_km is None and intake.odometer_h is None:
        yield "odometer_km", "odometer reading, distance or hours"
    if not intake.complaint.strip():
        yield "complaint", "complaint in the rider's words"
    if visit.scope in SET_UP_SCOPES and (not intake.fitted_confirmed or visit.set_up.found_draft):
        yield "fitted", "what is fitted, looked at and confirmed"
    yield from _faults(visit)


def _faults(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    for each in visit.faults:
        if not each.fault.put_right:
            yield f"fault_{each.id}", f"found, and not put right: {each.fault.name[:1].lower()}{each.fault.name[1:]}"


def _belt_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    belt, widths = visit.belt, visit.widths_mm
    if belt.no_width:
        yield from _failed_belt(belt)
    else:
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


def _failed_belt(belt: BeltCheck) -> Iterator[tuple[str, str]]:
    """What a belt without a width still leaves to be asked."""
    if not belt.failure:
        yield "failure", "how the belt failed"
    for place, words in SEARCHES.items():
        if not getattr(belt, place):
            yield place, words
    if belt.decision != "discard":
        yield "decision", "belt: discarded, it has no width"


def _strip_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    yield from lacks(visit.inspection)


def _strip_half_done(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    yield from half_done(visit.inspection)


def _belt_begun(visit: VisitRecord) -> bool:
    return bool(visit.widths_mm or visit.marks or visit.belt.no_width) or visit.belt.decision is not None


def _set_up_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if visit.set_up.left_draft:
        yield "reason", "set-up change tried but not recorded as fitted"


def _road_test_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if visit.intake.no_tachometer and visit.scope in ("service", "rebuild"):
        return
    rides = [ride for ride in visit.rides if ride.revision_id == visit.set_up.left_revision_id]
    if not any(ride.engagement_rpm for ride in rides):
        yield "engagement_rpm", "measured engagement on the set-up as left"
    if not any(ride.shift_rpm for ride in rides):
        yield "shift_rpm", "measured shift rpm on the set-up as left"


def _set_up_begun(visit: VisitRecord) -> bool:
    set_up = visit.set_up
    return bool(set_up.left_draft or visit.rides) or set_up.left_revision_id != set_up.found_revision_id


def _intake_begun(visit: VisitRecord) -> bool:
    intake = visit.intake
    read = intake.odometer_km is not None or intake.odometer_h is not None
    return read or bool(intake.complaint.strip()) or intake.fitted_confirmed or bool(visit.faults)


def _rebuild_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    yield from rebuild.lacks(visit.bench, visit.inspection)


def _line_up_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    yield from line_up.lacks(visit.line_up, visit.centres_mm)
    yield from _break_in_lacks(visit)


def _break_in_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if visit.belt.new_one:
        yield from break_in.lacks(visit.break_in, visit.cycles, visit.cycles_asked, visit.intake.temperature_c)


def _hand_over_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if "line-up" not in stations_of(visit):
        yield from _break_in_lacks(visit)
    yield from close_out.lacks(counts_of(visit))
    if visit.scope != "bench" and not visit.hand_over.guard_on:
        yield "guard_on", "guard and duct back on"


def counts_of(visit: VisitRecord) -> list[Count]:
    """What is counted out and in: what came off each clutch, the tools for it, and what a hand added."""
    expected: list[Count] = []
    tools: dict[str, None] = {}
    for clutch in visit.bench.opened(visit.inspection):
        parts = {part.key for part in clutch.parts}
        for fastener in clutch.fasteners:
            name = f"{fastener.place}, {clutch.side}"
            expected.append(Count(f"{clutch.side}.{fastener.key}", name, "fastener", fastener.count))
            tools |= dict.fromkeys(fastener.tools)
        for each in clutch.kind.guide.loose:
            if each.part in parts:
                name = f"{each.name}, {clutch.side}"
                expected.append(Count(f"{clutch.side}.{each.key}", name, "small part", each.count))
    if visit.belt_off:
        expected.append(Count("spreader", "Belt spreader or jack bolts", "tool", 1))
    expected += [Count(f"tool.{name.replace(' ', '_')}", name[:1].upper() + name[1:], "tool", 1) for name in tools]
    return close_out.on_list(expected, visit.counts)


ALL_SCOPES: frozenset[Scope] = frozenset({"belt", "service", "tune", "rebuild", "bench"})
SET_UP_SCOPES: frozenset[Scope] = frozenset({"tune", "rebuild", "bench"})

REGISTRY: tuple[StationRule, ...] = (
    StationRule("intake", ALL_SCOPES, _intake_lacks, _intake_begun, _faults),
    StationRule("belt", ALL_SCOPES - {"bench"}, _belt_lacks, _belt_begun),
    StationRule(
        "strip",
        frozenset({"service", "rebuild", "bench"}),
        _strip_lacks,
        lambda visit: visit.inspection.begun,
        _strip_half_done,
    ),
    StationRule("set-up", SET_UP_SCOPES, _set_up_lacks, _set_up_begun, _set_up_lacks),
    StationRule(
        "rebuild",
        frozenset({"service", "rebuild", "bench"}),
        _rebuild_lacks,
        lambda visit: visit.bench.begun,
        _rebuild_lacks,
        lambda visit: bool(visit.bench.opened(visit.inspection)),
    ),
    StationRule(
        "line-up",
        frozenset({"service", "rebuild"}),
        _line_up_lacks,
        lambda visit: visit.line_up.begun,
        _line_up_lacks,
    ),
    StationRule("road-test", frozenset({"service", "tune", "rebuild"}), _road_test_lacks, lambda v: bool(v.rides)),
    StationRule(
        "hand-over", ALL_SCOPES, _hand_over_lacks, lambda visit: visit.hand_over.guard_on or bool(visit.counts)
    ),
)
"""Every station in the order of the work; a station that is not built yet is absent from every scope."""

STATIONS: tuple[Station, ...] = tuple(rule.station for rule in REGISTRY)

SCOPE_NAMES: Mapping[Scope, str] = {
    "belt": "Belt only",
    "service": "Service",
    "tune": "Tune",
    "rebuild": "Rebuild",
    "bench": "Clutch on the bench",
}


def scopes_for(machine_kind: str) -> list[Scope]:
    """The scopes a machine can be here for: a bare clutch only the bench, what brought its machine all but that."""
    return ["bench"] if machine_kind == BARE_CLUTCH else ["belt", "service", "tune", "rebuild"]


BARE_CLUTCH = "bare clutch"
"""The kind of what stands here without a machine."""


def stations_of(visit: VisitRecord) -> list[Station]:
    """The stations of a visit: those of its scope, and any a hand has been at: nothing typed is out of sight."""
    return [rule.station for rule in REGISTRY if rule.belongs(visit) or rule.begun(visit)]


def _lacks(rule: StationRule, visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if rule.belongs(visit):
        return rule.lacks(visit)
    return rule.half_done(visit) if rule.begun(visit) else iter(())


def open_items(visit: VisitRecord) -> list[OpenItem]:
    """What stands between a visit and its sign-off, by name, in the order of the work."""
    return [OpenItem(rule.station, where, what) for rule in REGISTRY for where, what in _lacks(rule, visit)]


def station_states(visit: VisitRecord, signed_off: bool) -> dict[Station, State]:
    """For each station `done`, `attention` (begun, something lacks or is amiss) or `to do`."""

    def state(rule: StationRule) -> State:
        if signed_off:
            return "done"
        if not rule.begun(visit):
            return "to do"
        return "attention" if any(True for _ in _lacks(rule, visit)) else "done"

    shown = stations_of(visit)
    return {rule.station: state(rule) for rule in REGISTRY if rule.station in shown}
