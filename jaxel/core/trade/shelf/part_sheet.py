"""A stock as a sheet: parts in and out as comma-separated values, each refused row with its reason.

A header names a field and, behind an underscore, the unit its cells are read in; a cell may name another unit itself.
"""

import csv
import io
import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.part_columns import COLUMNS, LISTS, OF_THE_PART, QUANTITIES, SPEC_COLUMNS, TEXTS
from jaxel.core.formats.reading import Part
from jaxel.core.formats.tables import PARTS, without_first_line, written
from jaxel.core.units import other_units, parse_quantity, said

from ..kinds.kinds import kinds
from .part_specs import GROUPS, read_spec
from .sheet_rows import RefusedRow, Sheet, SheetRow

MOST_ROWS = 5_000
"""Rows of one sheet; a larger one is no workshop's shelf."""

MOST_BYTES = 1_000_000


def read_sheet(data: bytes, part_kinds: Iterable[str]) -> Sheet:
    """Read a sheet of parts.

    Parameters: `data`, UTF-8 text with a header, apart by commas, semicolons or tabs; `part_kinds` known. Raises
    InvalidValue, field `sheet`, for one that cannot be read at all: too large, no text, a header it does not know, a
    unit that is none of its column's, more rows than MOST_ROWS.

    >>> sheet = read_sheet(b"number,kind,thickness_in\\nW-1,washer,1/16\\n", ["washer"])
    >>> sheet.rows[0].spec
    {'thickness_mm': 1.5875}

    Reference: RFC 4180; factors from NIST SP 811.
    """
    text = without_first_line(PARTS, _text(data), "sheet")
    first = text.split("\n", 1)[0]
    apart = max(",;\t", key=first.count)
    reader = csv.reader(io.StringIO(text), delimiter=apart, strict=True)
    known = frozenset(part_kinds)
    try:
        header = [_column(each) for each in next(reader, [])]
        _check_header(header)
        sheet, seen = Sheet(), set[str]()
        for count, cells in enumerate((row for row in reader if any(cell.strip() for cell in row)), start=1):
            if count > MOST_ROWS:
                raise InvalidValue("sheet", f"has more than {MOST_ROWS:,} rows: split it")
            _take(sheet, reader.line_num, header, cells, known, seen)
    except csv.Error as error:
        raise InvalidValue("sheet", f"is no table at line {reader.line_num}: {error}") from None
    if not sheet.rows and not sheet.refused:
        raise InvalidValue("sheet", "has a header and no row")
    return sheet


def write_sheet(rows: Iterable[SheetRow]) -> str:
    """Parts as a sheet that `read_sheet` reads back alike, numbers in the units they are stored in."""
    said = ({"number": row.number, "kind": row.kind, **row.of, **_flat(row.spec or {})} for row in rows)
    return written(PARTS, COLUMNS, ([_cell(each.get(name)) for name in COLUMNS] for each in said))


def _cell(value: Any) -> str | None:
    return None if value is None else _plain(value)


def _text(data: bytes) -> str:
    if len(data) > MOST_BYTES:
        raise InvalidValue("sheet", f"is larger than {MOST_BYTES // 1000:,} kB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InvalidValue("sheet", "is no text: save it as comma-separated values in UTF-8") from None
    if "\0" in text or not text.strip():
        raise InvalidValue("sheet", "is empty" if not text.strip() else "is no text: it holds a zero byte")
    return text.replace("\r\n", "\n").replace("\r", "\n")


@dataclass(frozen=True)
class _Column:
    """A column: the field it fills, the unit its cells are read in and the unit the field is stored in."""

    name: str
    read_in: str = ""
    stored: str = ""


def _column(header: str) -> _Column:
    name = header.strip().lower()
    if name in TEXTS:
        return _Column(name)
    if name in QUANTITIES:
        return _Column(name, QUANTITIES[name], QUANTITIES[name])
    for field_, stored in QUANTITIES.items():
        stem = field_.rpartition("_")[0]
        if stored and name.startswith(f"{stem}_"):
            unit = name.removeprefix(f"{stem}_")
            others = {each.lower(): each for each in other_units(stored)}
            if unit not in others:
                told = ", ".join(dict.fromkeys([field_, *(f"{stem}_{each}" for each in others)]))
                raise InvalidValue("sheet", f"“{header.strip()[:40]}”: “{unit}” is no unit of it: {told}")
            return _Column(field_, others[unit], stored)
    raise InvalidValue("sheet", f"has a column “{header.strip()[:40]}” that is not known here: {', '.join(COLUMNS)}")


def _check_header(header: list[_Column]) -> None:
    names = [each.name for each in header]
    for needed in ("number", "kind"):
        if needed not in names:
            raise InvalidValue("sheet", f"has no column “{needed}”")
    twice = next((each for each in names if names.count(each) > 1), None)
    if twice:
        raise InvalidValue("sheet", f"has the column “{twice}” twice")


def _take(
    sheet: Sheet, line: int, header: list[_Column], cells: list[str], part_kinds: frozenset[str], seen: set[str]
) -> None:
    told = {each.name: cell.strip() for each, cell in zip(header, cells, strict=False)}
    number = told.get("number", "")
    try:
        if len(cells) != len(header):
            raise InvalidValue("", f"has {len(cells)} cells, the header {len(header)}")
        row = _row(line, {each.name: each for each in header}, told, part_kinds)
        if row.number.casefold() in seen:
            raise InvalidValue("number", "stands twice in this sheet")
        seen.add(row.number.casefold())
        sheet.rows.append(row)
    except InvalidValue as error:
        sheet.refused.append(RefusedRow(line, number[:60], error.field, error.reason))


def _row(line: int, columns: Mapping[str, _Column], told: Mapping[str, str], part_kinds: frozenset[str]) -> SheetRow:
    number, kind = _unquoted(told["number"]), told["kind"].lower()
    if not 1 <= len(number) <= 60:
        raise InvalidValue("number", "needs a part number of at most 60 characters")
    if kind not in part_kinds:
        raise InvalidValue("kind", f"“{kind[:40]}” is no kind of part known here")
    of: dict[str, Any] = {}
    spec: dict[str, Any] = {}
    for name, cell in told.items():
        if name in ("number", "kind") or not cell:
            continue
        value = _read(columns[name], cell)
        (of if name in OF_THE_PART else spec)[name] = value
    _check_of(of)
    if spec and kind not in GROUPS:
        raise InvalidValue(next(iter(spec)), f"is not said of a {kind}: it changes no set-up")
    if spec:
        read_spec(kind, number, spec)
    return SheetRow(line, number, kind, of, spec or None)


def read_cells(kind: str, number: str, cells: Mapping[str, str]) -> dict[str, Any]:
    """A part's spec as typed, column by column; raises InvalidValue naming the column.

    >>> read_cells("arm", "A", {"base_mass_g": "57/57.1/56.9", "size": ""})
    {'base_mass_g': [57.0, 57.1, 56.9]}
    """
    known = SPEC_COLUMNS.get(GROUPS.get(kind, ""), ())
    told: dict[str, Any] = {}
    for name, cell in cells.items():
        if name not in known:
            raise InvalidValue(name, f"is not said of {kind}")
        if cell.strip():
            told[name] = _read(_Column(name, QUANTITIES.get(name, ""), QUANTITIES.get(name, "")), cell.strip())
    read_spec(kind, number, told)
    return told


def cells_of(kind: str, spec: Mapping[str, Any] | None) -> dict[str, str]:
    """What a part's spec says, column by column, as a hand would type it."""
    flat = _flat(spec or {})
    return {name: "" if flat.get(name) is None else _plain(flat[name]) for name in SPEC_COLUMNS[GROUPS[kind]]}


def _plain(value: Any) -> str:
    """A number to its last digit, a whole one without a point."""
    return repr(value).removesuffix(".0") if isinstance(value, float) else str(value)


def _unquoted(text: str) -> str:
    """A text without the mark that keeps a spreadsheet from taking it for a formula."""
    return text[1:] if re.match(r"'[=+@-]", text) else text


_MOST = {"make": 60, "place": 60, "fits": 60, "supplier_note": 500, "superseded_by": 60}
_RANGES = {"pieces": (0, 10_000), "pack": (1, 1000), "price": (0, 1_000_000), "life_km": (0.001, 1_000_000),
           "life_h": (0.001, 100_000)}  # fmt: skip


def _check_of(of: dict[str, Any]) -> None:
    for name, most in _MOST.items():
        if len(of.get(name, "")) > most:
            raise InvalidValue(name, f"is longer than {most} characters")
    for name, (low, high) in _RANGES.items():
        if name in of and not low <= of[name] <= high:
            raise InvalidValue(name, f"must be {said(low)} to {said(high)}")
    for name in ("pieces", "pack"):
        if name in of:
            if of[name] != int(of[name]):
                raise InvalidValue(name, "must be a whole number")
            of[name] = int(of[name])
    if of.get("fits") and of["fits"] not in kinds():
        raise InvalidValue("fits", f"“{of['fits']}” is no kind of clutch: {', '.join(kinds())}")


def _read(column: _Column, cell: str) -> Any:
    try:
        if column.name in _READ:
            return _READ[column.name](cell)
        if column.name in LISTS:
            return [_unquoted(each.strip()) for each in cell.split(";") if each.strip()]
        if column.name in TEXTS:
            return _unquoted(cell)
        if column.name == "base_mass_g" and "/" in cell:
            return [_quantity(each, column) for each in cell.split("/")]
        return _quantity(cell, column)
    except InvalidValue as error:
        raise InvalidValue(column.name, error.reason) from None


def _numbers(cell: str) -> list[dict[str, Any]]:
    """`clicker:3; load_g.tip:4.5` as numbers by key."""
    found = []
    for each in filter(str.strip, cell.split(";")):
        key, colon, value = each.partition(":")
        if not colon:
            raise InvalidValue("", f"“{each.strip()[:20]}” is no number of a slot: write clicker:3")
        found.append({"key": key.strip(), "value": parse_quantity(value, "")})
    return found


def _table(first: str, second: str, units: tuple[str, str]) -> Callable[[str], list[dict[str, float]]]:
    """What reads pairs of numbers as rows of two fields."""
    return lambda cell: [dict(zip((first, second), pair, strict=True)) for pair in _pairs(cell, units)]


def _quantity(cell: str, column: _Column) -> float:
    """A number, in its column's unit unless it names another."""
    named = re.search(r"[^\d\s.,/+\-−½¼¾]", cell) is not None
    return parse_quantity(
        cell if named or column.read_in == column.stored else f"{cell} {column.read_in}", column.stored
    )


def _pairs(cell: str, units: tuple[str, str]) -> Iterator[tuple[float, float]]:
    """`60:620; 28:1400` as pairs of numbers."""
    for each in cell.split(";"):
        first, colon, second = each.partition(":")
        if not colon:
            raise InvalidValue("", f"“{each.strip()[:20]}” is no pair: write 60:620; 28:1400")
        yield parse_quantity(first, units[0]), parse_quantity(second, units[1])


_READ: Mapping[str, Callable[[str], Any]] = {
    "starts": _numbers,
    "points": _table("length_mm", "force_n", ("mm", "N")),
    "angles": _table("travel_mm", "deg", ("mm", "deg")),
}
"""Columns whose cells hold rows."""


def _flat(spec: Mapping[str, Any]) -> dict[str, Any]:
    """A spec's fields as cells."""
    flat = dict(spec)
    if isinstance(flat.get("base_mass_g"), list):
        flat["base_mass_g"] = "/".join(f"{_plain(each)}" for each in flat["base_mass_g"])
    if "points" in flat:
        flat["points"] = "; ".join(f"{_plain(each['length_mm'])}:{_plain(each['force_n'])}" for each in flat["points"])
    if flat.get("angles"):
        flat["angles"] = "; ".join(f"{_plain(each['travel_mm'])}:{_plain(each['deg'])}" for each in flat["angles"])
    for name in LISTS:
        if name in flat:
            flat[name] = "; ".join(flat[name])
    if "starts" in flat:
        flat["starts"] = "; ".join(f"{each['key']}:{_plain(each['value'])}" for each in flat["starts"])
    return flat


def spec_fields(spec: Part) -> dict[str, Any]:
    """What a spec says beyond its defaults and the part's own row, as it is stored."""
    held = spec.model_dump(exclude_defaults=True, exclude={"name", "pieces", "price"}, exclude_none=True)
    return {name: value for name, value in held.items() if value != []}
