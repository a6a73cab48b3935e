"""Every table a visit writes: the record it keeps, the station it stands at, and the column that names a row."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..belt.check import BeltCheck, BeltReading, KnownBelt
from ..belt.look import Mark
from ..line_up.break_in import BreakIn, HeatCycle
from ..line_up.line_up import LineUp
from ..rebuild.done import ItemDone
from ..rebuild.rebuild import Rebuild
from ..rebuild.tightening import Tightened
from ..record.said import Field, Station, fields_of
from ..run.rider_word import RiderWord
from ..run.road_test import LogOfRun, Measured
from ..setup.tried import SetUp
from ..stranger.as_found import Fault
from ..strip.inspection import ItemLook
from ..strip.outcome import CauseOutcome
from ..strip.strip import Strip
from .close_out import Count
from .intake import Intake
from .told import HandOver, Head, StatedKinds


@dataclass(frozen=True)
class Table:
    """A table: the record whose fields it keeps, the station they stand at, and the column that names a row."""

    record: type | None
    station: Station
    key: str = "id"


TABLES: Mapping[str, Table] = {
    "intake": Table(Intake, "intake", "visit_id"),
    "machine": Table(StatedKinds, "intake"),
    "fault": Table(Fault, "intake"),
    "visit": Table(Head, "hand-over"),
    "belt_check": Table(BeltCheck, "belt", "visit_id"),
    "belt_reading": Table(BeltReading, "belt"),
    "belt_mark": Table(Mark, "belt"),
    "belt": Table(KnownBelt, "belt"),
    "strip": Table(Strip, "strip", "visit_id"),
    "cause_outcome": Table(CauseOutcome, "strip"),
    "item_look": Table(ItemLook, "strip"),
    "set_up": Table(SetUp, "set-up", "visit_id"),
    "stock_move": Table(None, "set-up"),
    "rebuild": Table(Rebuild, "rebuild", "visit_id"),
    "tightened": Table(Tightened, "rebuild"),
    "item_done": Table(ItemDone, "rebuild"),
    "line_up": Table(LineUp, "line-up", "visit_id"),
    "break_in": Table(BreakIn, "line-up", "visit_id"),
    "heat_cycle": Table(HeatCycle, "line-up"),
    "road_test": Table(Measured, "road-test"),
    "run_log": Table(LogOfRun, "road-test", "road_test_id"),
    "rider_word": Table(RiderWord, "road-test"),
    "hand_over": Table(HandOver, "hand-over", "visit_id"),
    "counted": Table(Count, "hand-over"),
}
"""What a visit writes; nothing else is logged or undone."""


def field_of(table: str, name: str) -> Field | None:
    """A field of a table as its record declares it; None for one that no record holds any more."""
    record = TABLES[table].record if table in TABLES else None
    return fields_of(record).get(name) if record else None
