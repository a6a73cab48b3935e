"""How a logger's text file is laid out: its encoding, delimiter, decimal sign, headings and where the rows begin."""

import csv
import re
from collections import Counter
from dataclasses import dataclass

from jaxel.core.errors import InvalidValue

from .header import CHANNELS, FIELDS, IGNORED, Guess, LoggerDocument, guessed, is_unit

HEAD = 65_536
"""Bytes from which a layout is told."""

LONGEST_PREAMBLE = 200
"""Lines before the headings, at most."""

NOTHING = ("", "-", "--", "---", "----", "n/a", "N/A", "NA", "na", "nan", "NaN", "NAN", "null", "NULL", "None", "*",
           "inf", "-inf", "Inf", "-Inf", "#N/A", "?")  # fmt: skip
"""What loggers write where they read nothing."""

_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
_CLOCK = re.compile(r"^(\d{4}-\d\d?-\d\d?[T ])?\d{1,2}:\d\d(:\d\d([.,]\d+)?)?(Z|[+-]\d\d:?\d\d)?$")


@dataclass(frozen=True)
class Column:
    """A column as it stands in the file: its `heading`, and what it seems to hold."""

    heading: str
    guess: Guess


@dataclass(frozen=True)
class Layout:
    """How a file is laid out; `header_line` and `first_line` counted from 1, `sample` the first rows' cells as text;
    `clock`, whether its time is clock text."""

    encoding: str
    delimiter: str
    decimal: str
    header_line: int
    first_line: int
    columns: tuple[Column, ...]
    sample: tuple[tuple[str, ...], ...]

    def chosen(self, logger: LoggerDocument | None) -> dict[int, str]:
        """The field of each column that is read: what the map says, else what the heading does.

        Raises InvalidValue for two columns of one quantity, for one whose unit is not said, where time is missing, or
        both engine and speed are.
        """
        found: dict[int, str] = {}
        asked: list[tuple[int, Guess]] = []
        for place, column in enumerate(self.columns):
            field = logger.field(column.heading) if logger is not None else None
            if field is None:
                field = column.guess.field
                if column.guess.asks:
                    asked.append((place, column.guess))
            if field is not None and field != IGNORED:
                found[place] = field
        self._check_twice(found, logger)
        channels = {FIELDS[field].channel for field in found.values()}
        for place, guess in asked:
            if guess.quantity and CHANNELS[guess.quantity] not in channels:
                raise InvalidValue(guess.quantity, f"line {self.header_line}, column {place + 1} "
                                   f"“{self.columns[place].heading}” {guess.asks}")  # fmt: skip
        where = f"line {self.header_line}: {', '.join(each.heading for each in self.columns)[:160]}"
        if "time" not in channels:
            raise InvalidValue("time_s", f"is missing: no column reads as time ({where})")
        if not channels & {"engine", "speed", "secondary"}:
            raise InvalidValue("engine_rpm", f"is missing, and so is a speed: one of them is needed ({where})")
        if not channels & {"engine", "speed"}:
            raise InvalidValue("engine_rpm", f"is missing, and so is a vehicle speed ({where})")
        return found

    def _check_twice(self, found: dict[int, str], logger: LoggerDocument | None) -> None:
        places: dict[str, int] = {}
        for place, field in list(found.items()):
            channel = FIELDS[field].channel
            if channel not in places:
                places[channel] = place
                continue
            other = places[channel]
            # A column a map names goes before one that only reads so.
            mine, first = (logger is not None and logger.field(self.columns[each].heading) is not None
                           for each in (place, other))  # fmt: skip
            if mine == first:
                raise InvalidValue(field, f"stands twice in line {self.header_line}: columns {other + 1} "
                                   f"“{self.columns[other].heading}” and {place + 1} “{self.columns[place].heading}”; "
                                   "a header map says which counts")  # fmt: skip
            found.pop(other if mine else place)
            places[channel] = place if mine else other


def lay_out(data: bytes) -> Layout:
    """Tell the layout of a logger's text file from its head.

    Raises InvalidValue (field `log`) for a file that is empty, not text, or holds no table.
    """
    if not data.strip():
        raise InvalidValue("log", "is empty")
    encoding = encoding_of(data)
    text = data[:HEAD].decode(encoding, errors="replace").lstrip("\ufeff")
    lines = text.splitlines()
    if len(data) > HEAD:
        lines = lines[:-1]
    delimiter = _delimiter(lines)
    rows = [_cells(line, delimiter) for line in lines]
    first = _first_row(rows)
    if first is None:
        headed = next((k for k, row in enumerate(rows) if sum(bool(guessed(each).quantity) for each in row) >= 2), None)
        if headed is not None:
            raise InvalidValue("log", f"holds headings in line {headed + 1} and no row of numbers beneath them")
        raise InvalidValue("log", "holds no table: no row of two or more numbers beside each other, parted by comma, "
                           "semicolon or tab")  # fmt: skip
    width = len(rows[first])
    above = [k for k in range(first - 1, max(-1, first - 4), -1) if len(rows[k]) >= min(width, 2) and any(rows[k])]
    headings, units, header = _headings(rows, above, width)
    sample = tuple(tuple(row) for row in rows[first : first + 5] if any(row))
    columns = tuple(Column(heading, guessed(heading, unit)) for heading, unit in zip(headings, units, strict=True))
    return Layout(
        encoding, delimiter, _decimal(rows[first : first + 200], delimiter), header + 1, first + 1, columns, sample
    )


def encoding_of(data: bytes) -> str:
    """How a file's text is encoded; raises InvalidValue for one that is not text."""
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16"
    head = data[:HEAD]
    if b"\0" in head or sum(byte < 9 or 13 < byte < 32 for byte in head[:4096]) > len(head[:4096]) / 50:
        raise InvalidValue("log", "is not a text file: a log is CSV, or GPX")
    try:
        head[: len(head) - 4 if len(data) > HEAD else None].decode("utf-8")
    except UnicodeDecodeError:
        return "cp1252"
    return "utf-8"


def _cells(line: str, delimiter: str) -> list[str]:
    try:
        return [each.strip() for each in next(csv.reader([line], delimiter=delimiter), [])]
    except csv.Error:
        return [each.strip() for each in line.split(delimiter)]


def _delimiter(lines: list[str]) -> str:
    """The sign that parts most lines into the same number of cells: a decimal comma parts fewer than those it is in."""
    tail = [line for line in lines if line.strip()][-300:]
    best, most = ",", (0.0, 0)
    for sign in ("\t", ";", "|", ",") if tail else ():
        counts = Counter(line.count(sign) for line in tail)
        count, often = max(counts.items(), key=lambda pair: (pair[1], pair[0]))
        if count and (often / len(tail), 0) > most:
            best, most = sign, (often / len(tail), 0)
    return best


def _numeric(cell: str) -> bool:
    return bool(_NUMBER.match(cell) or _CLOCK.match(cell))


def _first_row(rows: list[list[str]]) -> int | None:
    """The first row of two cells or more that is numbers and blanks throughout."""
    for k, row in enumerate(rows[: LONGEST_PREAMBLE + 1]):
        numbers = sum(_numeric(cell) for cell in row)
        words = sum(1 for cell in row if cell not in NOTHING and not _numeric(cell))
        if numbers and len(row) >= 2 and words <= len(row) // 4:
            following = rows[k + 1] if k + 1 < len(rows) else row
            if len(following) == len(row) or k + 1 == len(rows) - 1 or not any(following):
                return k
    return None


def _headings(rows: list[list[str]], above: list[int], width: int) -> tuple[list[str], list[str], int]:
    """Headings, units and the headings' line, from the lines above the first row; numbered where there are none."""
    header: int | None = above[0] if above else None
    units: list[str] = []
    if header is not None and len(above) > 1 and above[1] == header - 1:
        said = [cell.strip("()[] ") for cell in rows[header]]
        if all(is_unit(cell) for cell in said if cell):
            header, units = above[1], said
    headings = list(rows[header]) if header is not None else []
    headings = [heading or str(place + 1) for place, heading in enumerate(headings[:width])]
    headings += [str(place + 1) for place in range(len(headings), width)]
    units = (units + [""] * width)[:width]
    return headings, units, header if header is not None else 0


def _decimal(rows: list[list[str]], delimiter: str) -> str:
    if delimiter == ",":
        return "."
    commas = sum(bool(re.match(r"^[+-]?\d*,\d+$", cell)) for row in rows for cell in row)
    points = sum(bool(re.match(r"^[+-]?\d*\.\d+$", cell)) for row in rows for cell in row)
    return "," if commas > points else "."
