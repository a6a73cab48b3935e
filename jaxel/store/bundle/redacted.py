"""What a machine that is passed on leaves at home: its rider, prices, and the names of technicians.

Where a column holds it, it is taken out; where words of the same visit or machine repeat a name, it is struck from
them. What somebody typed of others stays as it was typed.
"""

import re
from collections.abc import Callable, Collection, Iterator
from typing import Any

from jaxel.core.formats.bundle import Document, LeftOut, Row

from ..edits import DEFAULT_HAND, WHOLE_ROW

NAMES = frozenset({
    "opened_by", "signed_off_by", "by", "made_by", "stated_by", "added_by", "brought_in_by", "taken_by", "kept_by",
    "mounted_by", "moved_by", "noted_by", "chosen_by", "helper", "did",
})  # fmt: skip
"""Columns that hold a technician's name."""

PRICES = frozenset({"price", "next_price", "used_price", "new_price"})
A_TECHNICIAN, THE_RIDER = "a technician", "the rider"


def redacted(document: Document, left_out: Collection[LeftOut], rider: str = "") -> Document:
    """A document without what is left out of it; `rider`, the machine's, whose name its visits may repeat."""
    if not left_out:
        return document
    rows = {name: [dict(row) for row in some] for name, some in document.rows.items()}
    strike: list[tuple[re.Pattern[str], str]] = []
    if "technicians" in left_out:
        found = {row[each] for some in rows.values() for row in some for each in NAMES & set(row) if row[each]}
        strike += [(_word(each), A_TECHNICIAN) for each in sorted(found - {DEFAULT_HAND}, key=len, reverse=True)]
    if "rider" in left_out:
        riders = {rider, *(row["rider"] for row in (*rows.get("machine", ()), *rows.get("road_test", ())))} - {""}
        strike += [(_word(each), THE_RIDER) for each in sorted(riders, key=len, reverse=True)]
    if "prices" in left_out:
        strike += [(re.compile(re.escape(f", {each:,.2f}")), "") for each in set(_prices(rows))]
        strike.append((re.compile(r"Parts fitted, as priced above: [\d,.]+"), "Parts fitted"))
        for name, some in rows.items():
            rows[name] = [_unpriced(row) for row in some if not (name == "visit_log" and row["field"] in PRICES)]
    struck = {name: [{key: _struck(each, strike) for key, each in row.items()} for row in some]
              for name, some in rows.items()}  # fmt: skip
    if "rider" in left_out:
        for row in (*struck.get("machine", ()), *struck.get("road_test", ())):
            row["rider"] = ""
    return document.model_copy(update={"rows": struck})


def _word(name: str) -> re.Pattern[str]:
    return re.compile(rf"(?<!\w){re.escape(name)}(?!\w)")


def _prices(rows: dict[str, list[Row]]) -> Iterator[float]:
    for some in rows.values():
        for row in some:
            yield from (row[each] for each in PRICES & set(row) if isinstance(row[each], int | float))


def _unpriced(row: Row) -> Row:
    """A row without its prices, those of a row in its log, and those of its page among them."""
    fresh = {key: None if key in PRICES else each for key, each in row.items()}
    for side in ("was", "now"):
        if row.get("field") == WHOLE_ROW and isinstance(row.get(side), dict):
            fresh[side] = {key: None if key in PRICES else each for key, each in row[side].items()}
    if "document" in fresh:
        fresh["document"] = _without_prices(fresh["document"])
    return fresh


def _without_prices(held: Any) -> Any:
    if isinstance(held, dict):
        return {key: None if key == "price" else _without_prices(each) for key, each in held.items()}
    return [_without_prices(each) for each in held] if isinstance(held, list) else held


def _struck(value: Any, strike: list[tuple[re.Pattern[str], str]]) -> Any:
    """A value with every name struck from its words."""
    walk: Callable[[Any], Any] = lambda each: _struck(each, strike)  # noqa: E731
    if isinstance(value, str):
        for pattern, instead in strike:
            value = pattern.sub(instead, value)
        return value
    if isinstance(value, dict):
        return {key: walk(each) for key, each in value.items()}
    return [walk(each) for each in value] if isinstance(value, list) else value
