"""Tables as comma-separated values: each names its format and version in its first line, and no cell is a formula.

Reference: RFC 4180; CWE-1236 (formula elements in a CSV file).
"""

import csv
import io
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from jaxel.core.errors import InvalidValue

from .part_columns import COLUMNS, QUANTITIES

Cell = str | int | float | None


@dataclass(frozen=True)
class Table:
    """A table's format: its name, its version, what each column holds, by its heading, and which hold numbers.

    A heading may be a regular expression where it names the unit its numbers stand in.
    """

    name: str
    columns: Mapping[str, str]
    numbers: frozenset[str] = frozenset()
    version: int = 1

    @property
    def first_line(self) -> str:
        """The line a table begins with."""
        return f"# {self.name} {self.version}"

    def schema(self) -> dict[str, Any]:
        """The JSON Schema of its rows, each an object by heading; an empty cell is null, a number is one."""
        return {
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            "$id": f"{self.name}-{self.version}",
            "title": self.name,
            "description": f"Rows of the table behind the line “{self.first_line}” and its headings.",
            "type": "array",
            "items": {
                "type": "object",
                "patternProperties": {
                    f"^{heading}$": {
                        "type": ["number", "null"] if heading in self.numbers else ["string", "null"],
                        "description": what,
                    }
                    for heading, what in self.columns.items()
                },
                "additionalProperties": False,
            },
        }


def written(table: Table, headings: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """A table as a file; None is an empty cell.

    >>> print(written(Table("jaxel-example", {"mark": "", "width_mm": ""}), ["mark", "width_mm"], [["=1+1", -2.5]]))
    # jaxel-example 1
    mark,width_mm
    '=1+1,-2.5
    <BLANKLINE>
    """
    out = io.StringIO()
    out.write(f"{table.first_line}\n")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(headings)
    writer.writerows([_cell(each) for each in row] for row in rows)
    return out.getvalue()


def without_first_line(table: Table, text: str, field: str) -> str:
    """A table's text from its headings on; raises InvalidValue for one that says it is another format or version.

    One without the line, as another program or a hand writes it, is taken as it is.
    """
    first, _, rest = text.partition("\n")
    said = re.fullmatch(r"[\"']?# (jaxel-[a-z-]+) (\d+)[\"']?[,;\t]*\r?", first)
    if said is None:
        return text
    if said.groups() != (table.name, str(table.version)):
        raise InvalidValue(field, f"is {said[1]} {said[2]}: here is read {table.name} {table.version}")
    return rest


def _cell(value: Cell) -> str:
    """A cell that no spreadsheet takes for a formula: what begins like one stands behind a quote.

    >>> _cell("@now"), _cell("-3"), _cell("-3 mm"), _cell(0.1), _cell(None)
    ("'@now", '-3', "'-3 mm", '0.1', '')
    """
    if value is None:
        return ""
    if isinstance(value, int | float):
        return f"{value:.12g}" if isinstance(value, float) else str(value)
    value = value.replace("\r\n", "\n").replace("\r", "\n")  # one kind of line in a cell: readers stumble over two
    formula = value.startswith(("=", "+", "@", "\t", "\n")) or (value.startswith("-") and not _is_number(value))
    return f"'{value}" if formula else value


def _is_number(text: str) -> bool:
    return re.fullmatch(r"-?[\d.]+(e[-+]?\d+)?", text) is not None


RUN = Table(
    "jaxel-run",
    {
        "time_s": "from the run's start",
        "engine_rpm": "engine speed",
        "secondary_rpm": "speed of the secondary clutch",
        "speed_kph": "vehicle speed",
        "throttle_pct": "throttle, 100 is open",
        "belt_temp_c": "temperature of the belt",
    },
    frozenset({"time_s", "engine_rpm", "secondary_rpm", "speed_kph", "throttle_pct", "belt_temp_c"}),
)

ORDER = Table(
    "jaxel-order",
    {
        "part": "the kind of part", "number": "its number in this workshop", "make": "who makes it",
        "pieces": "pieces needed", "pieces a pack": "pieces in one pack", "packs": "packs to order",
        "price": "price of all of them", "superseded by": "the number that takes its place", "note": "of the supplier",
    },
    frozenset({"pieces", "pieces a pack", "packs", "price"}),
)  # fmt: skip

ALTITUDE = Table(
    "jaxel-altitude",
    {
        "altitude, (m|ft)": "height above the sea, in the hand's unit",
        "temperature, (°C|°F)": "air there by the standard atmosphere, in the hand's unit",
        "power": "share of the engine's power that is left",
        "[^,]+(, .+)?": "what the slot must hold, its unit behind the comma; empty where nothing would do",
        "engagement, rpm": "engagement then",
        "shift, rpm": "shift then",
    },
    frozenset({"altitude, (m|ft)", "temperature, (°C|°F)", "power", "[^,]+(, .+)?", "engagement, rpm", "shift, rpm"}),
)

LOG = Table(
    "jaxel-log",
    {
        "line": "number of the line; lines stand in the order they were written",
        "at": "when, UTC, ISO 8601",
        "by": "the hand",
        "of": "the sort of thing, as part or wrench",
        "name": "what it was called",
        "field": "what was changed; * for the whole of it",
        "was": "what stood there, as JSON; empty for nothing",
        "now": "what stands there since, as JSON; empty for nothing",
    },
    frozenset({"line"}),
)

PARTS = Table(
    "jaxel-parts",
    {name: f"{name.replace('_', ' ')}{f', in {QUANTITIES[name]}' if QUANTITIES.get(name) else ''}" for name in COLUMNS},
    frozenset(QUANTITIES) - {"base_mass_g"},  # arms weighed one by one stand as 48.1/48/46.9
)

VISITS = Table(
    "jaxel-visits",
    {
        "visit": "its identity, the name of its file in the bundle",
        "machine": "what it is called",
        "opened_at": "UTC, ISO 8601",
        "signed_off_at": "UTC, ISO 8601",
        "signed_off_by": "the hand; empty where names are left out",
        "scope": "what was done: belt, service, tune, rebuild, bench",
        "odometer_km": "as read",
        "odometer_h": "as read",
        "complaint": "in the rider's words",
    },
    frozenset({"odometer_km", "odometer_h"}),
)

TABLES = {each.name: each for each in (RUN, PARTS, ORDER, ALTITUDE, LOG, VISITS)}
"""Every table that is written here, by its format's name."""
