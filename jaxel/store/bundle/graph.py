"""Which tables a bundle holds, what each row belongs to, and which columns refer to which rows."""

import re
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

OF_MACHINE = (
    "machine", "belt", "calibration", "setup_revision", "accepted_answer", "revision_part", "revision_figures",
    "stated", "stated_choice", "mounting", "photo", "due",
)  # fmt: skip
"""Tables of what outlives a visit, with the machine."""

OF_VISIT = (
    "visit", "intake", "fault", "belt_check", "belt_reading", "belt_mark", "strip", "item_look", "cause_outcome",
    "set_up", "rebuild", "item_done", "tightened", "line_up", "break_in", "heat_cycle", "road_test", "rider_word",
    "run_log", "run_trace", "run_counted", "run_twins", "hand_over", "counted", "hand_over_page", "part_event",
    "addendum", "visit_log",
)  # fmt: skip
"""Tables of a visit."""

AFTERWARDS = frozenset({"addendum", "run_counted", "run_twins", "run_trace"})
"""Tables of a visit to which something may be added, or worked out anew, once it is signed."""

OF_WORKSHOP = (
    "workshop", "person", "part", "stock_move", "tool", "wrench", "stamp", "school_choice", "logger", "workshop_log",
)  # fmt: skip
"""Tables of what is of no machine."""

LEFT_AT_HOME = frozenset({
    "act", "backup", "bench", "device_reading", "log_upload", "log_upload_part", "model_version", "prediction",
    "log_file", "log_file_part",
})  # fmt: skip
"""What is of this server alone, is worked out anew, or goes as files."""

RUN = {"road_test_id": "road_test"}
UNDECLARED: Mapping[str, Mapping[str, str]] = {
    "run_log": RUN, "run_trace": RUN,
    "run_counted": RUN | {"revision_id": "setup_revision"}, "run_twins": RUN | {"revision_id": "setup_revision"},
}  # fmt: skip
"""References that the schema does not declare."""

ALIKE_EVERYWHERE = frozenset({"log_file", "model_version"})
"""Tables whose key is a value of its own, the same everywhere."""


@dataclass(frozen=True)
class Table:
    """A table: its columns, its own key where it has one, whether rows have an identity, which columns refer to which
    table, which hold JSON, and which bytes."""

    name: str
    columns: tuple[str, ...]
    has_id: bool
    has_identity: bool
    refers: Mapping[str, str]
    documents: frozenset[str]
    blobs: frozenset[str]


def tables(connection: sqlite3.Connection) -> Mapping[str, Table]:
    """Every table a bundle holds, as the schema of an open database has it."""
    return {name: _read(connection, name) for name in (*OF_MACHINE, *OF_VISIT, *OF_WORKSHOP)}


def _read(connection: sqlite3.Connection, name: str) -> Table:
    info = connection.execute("SELECT name, type, pk FROM pragma_table_info(?)", (name,)).fetchall()
    columns = tuple(row["name"] for row in info)
    text = connection.execute("SELECT sql FROM sqlite_schema WHERE type = 'table' AND name = ?", (name,)).fetchone()[0]
    keys = connection.execute('SELECT "from" AS held, "table" AS target FROM pragma_foreign_key_list(?)', (name,))
    refers = {row["held"]: row["target"] for row in keys if row["target"] not in ALIKE_EVERYWHERE}
    return Table(
        name,
        columns,
        "id" in columns and name != "workshop",
        "identity" in columns,
        refers | dict(UNDECLARED.get(name, {})),
        frozenset(each for each in columns if re.search(rf"json_valid\({each}\)", text)),
        frozenset(row["name"] for row in info if row["type"] == "BLOB"),
    )
