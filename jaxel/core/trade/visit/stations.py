"""The registry of stations: to which visits each belongs, what it lacks, and what state it is in."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from ..belt import check
from ..line_up import break_in, line_up
from ..rebuild import rebuild
from ..record.remembered import of_record
from ..record.said import Station
from ..record.scope import ALL_SCOPES, SET_UP_SCOPES, Scope
from ..run import road_test
from ..setup import tried
from ..stranger import as_found
from ..strip import strip
from . import close_out, intake
from .record import VisitRecord

State = Literal["done", "attention", "to do"]


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
    `called_for`, whether the work of another station calls for it in this scope too; `offered`, whether that only gives
    it a place: nothing is insisted on that no hand began.
    """

    station: Station
    scopes: frozenset[Scope]
    lacks: Callable[[VisitRecord], Iterator[tuple[str, str]]]
    begun: Callable[[VisitRecord], bool]
    half_done: Callable[[VisitRecord], Iterator[tuple[str, str]]] = lambda _: iter(())
    called_for: Callable[[VisitRecord], bool] = lambda _: False
    offered: Callable[[VisitRecord], bool] = lambda _: False

    def belongs(self, visit: VisitRecord) -> bool:
        """Whether the visit's scope, or what was done in it, asks for this station."""
        return visit.scope in self.scopes or self.called_for(visit)


def _belt_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    found = check.lacks(visit.belt, visit.widths_mm, visit.belt_limits_mm)
    # Said at line-up, it is said.
    yield from (each for each in found if each[0] != "risen" or not visit.line_up.seated)


def _belt_begun(visit: VisitRecord) -> bool:
    return bool(visit.widths_mm or visit.marks or visit.belt.no_width) or visit.belt.decision is not None


def _set_up_begun(visit: VisitRecord) -> bool:
    set_up = visit.set_up
    return bool(set_up.left_draft or visit.rides) or set_up.left_revision_id != set_up.found_revision_id


def _road_test_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    # A belt its rider breaks in sees no full throttle here.
    by_the_rider = visit.belt.new_one and visit.break_in.released == "by the rider"
    if not visit.intake.no_tachometer and not by_the_rider:
        yield from road_test.lacks(visit.rides, visit.set_up.left_revision_id)


def _faults(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    return as_found.lacks(visit.faults)


def _intake_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    yield from intake.lacks(visit.intake, visit.scope, bool(visit.set_up.found_draft))
    yield from _faults(visit)


def _rebuild_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    return rebuild.lacks(visit.bench, visit.inspection)


def _set_up_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    return tried.lacks(visit.set_up)


def _line_up_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    found = line_up.lacks(visit.line_up, visit.centres_mm)
    yield from (each for each in found if each[0] != "seated" or not visit.belt.risen)
    yield from _break_in_lacks(visit)


def _break_in_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if visit.belt.new_one:
        yield from break_in.lacks(visit.break_in, visit.cycles, visit.cycles_asked, visit.intake.temperature_c)


def _hand_over_lacks(visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if "line-up" not in stations_of(visit):
        yield from _break_in_lacks(visit)
    yield from close_out.lacks(visit.to_count)
    if close_out.brake_moved(visit.to_count) and not visit.hand_over.brake_held:
        yield "brake_held", "brake tried and found holding, before any engine run"
    if visit.scope != "bench" and not visit.hand_over.guard_on:
        yield "guard_on", "guard and duct back on"


REGISTRY: tuple[StationRule, ...] = (
    StationRule("intake", ALL_SCOPES, _intake_lacks, lambda visit: visit.intake.begun or bool(visit.faults), _faults),
    StationRule("belt", ALL_SCOPES - {"bench"}, _belt_lacks, _belt_begun),
    StationRule(
        "strip",
        frozenset({"service", "rebuild", "bench"}),
        lambda visit: strip.lacks(visit.inspection),
        lambda visit: visit.inspection.begun,
        lambda visit: strip.half_done(visit.inspection),
        offered=lambda visit: bool(visit.bench.opened(visit.inspection)),
    ),
    StationRule("set-up", SET_UP_SCOPES, _set_up_lacks, _set_up_begun, _set_up_lacks),
    StationRule(
        "rebuild",
        frozenset({"service", "rebuild", "bench"}),
        _rebuild_lacks,
        lambda visit: visit.bench.begun,
        _rebuild_lacks,
        lambda visit: bool(visit.bench.steps(visit.inspection) or visit.bench.kind_asked),
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


@of_record
def stations_of(visit: VisitRecord) -> list[Station]:
    """The stations of a visit: of its scope, what its work opens, any a hand has been at: nothing typed is lost."""
    return [rule.station for rule in REGISTRY if rule.belongs(visit) or rule.offered(visit) or rule.begun(visit)]


def _lacks(rule: StationRule, visit: VisitRecord) -> Iterator[tuple[str, str]]:
    if rule.belongs(visit):
        return rule.lacks(visit)
    return rule.half_done(visit) if rule.begun(visit) else iter(())


def open_items(visit: VisitRecord) -> list[OpenItem]:
    """What stands between a visit and its sign-off, by name, in the order of the work."""
    return [OpenItem(station, where, what) for station, lacks in _lacking(visit).items() for where, what in lacks]


@of_record
def _lacking(visit: VisitRecord) -> dict[Station, list[tuple[str, str]]]:
    return {rule.station: list(_lacks(rule, visit)) for rule in REGISTRY}


def station_states(visit: VisitRecord, signed_off: bool) -> dict[Station, State]:
    """For each station `done`, `attention` (begun, something lacks or is amiss) or `to do`."""

    def state(rule: StationRule) -> State:
        if signed_off:
            return "done"
        if not rule.begun(visit):
            return "to do"
        return "attention" if _lacking(visit)[rule.station] else "done"

    shown = stations_of(visit)
    return {rule.station: state(rule) for rule in REGISTRY if rule.station in shown}
