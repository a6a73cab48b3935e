"""A logger's text file read into a log: one fast parse, and the line of whatever cannot be read."""

import io
import re
from itertools import islice
from typing import TYPE_CHECKING

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.run.log import Channel, Log

from .header import FIELDS, LoggerDocument
from .layout import NOTHING, Layout, lay_out

if TYPE_CHECKING:
    import pandas

FEWEST_ROWS = 10

FEW = 0.005
"""Share of the rows that may be unreadable, or beyond what can be, before a file is refused; three in any case."""

SLOWEST_STEP = 5.0
"""Usual step between rows [s] beyond which a time without a unit is in milliseconds."""

_CLOCK = re.compile(r":")


def read_csv(data: bytes, logger: LoggerDocument | None = None) -> Log:
    """Read a logger's text file.

    Any column order and delimiter, a preamble, a line of units, decimal commas, blanks; headings are told by the
    trade's words or by a map. Raises InvalidValue naming the field, the line and the reason.

    Reference: RFC 4180, and what loggers make of it.
    """
    data = data.removeprefix(b"\xef\xbb\xbf")  # the mark some put before UTF-8
    layout = lay_out(data)
    chosen = layout.chosen(logger)
    clock = next(place for place, field in chosen.items() if FIELDS[field].channel == "time")
    as_text = any(len(row) > clock and _CLOCK.search(row[clock]) for row in layout.sample)
    frame, unread = _frame(data, layout, chosen, clock if as_text else None)
    if len(frame) < FEWEST_ROWS:
        raise InvalidValue("log", f"holds {len(frame)} row{'' if len(frame) == 1 else 's'} of numbers: a run has at "
                           f"least {FEWEST_ROWS}")  # fmt: skip
    time: Array | None = None
    channels: dict[Channel, Array] = {}
    for place, name in chosen.items():
        field = FIELDS[name]
        values = _clock_times(frame[place], layout) if place == clock and as_text else frame[place].to_numpy()
        scale, offset = field.factor, field.offset
        if name == "throttle_pct" and layout.columns[place].guess.field == name and np.nanmax(values) <= 1.3:
            scale = 1.0  # a heading that says no unit, over shares
        if scale == field.factor:
            _check_bounds(values, name, data, layout)
        if field.channel == "time":
            time = _checked_time(values * (1.0 if as_text else scale), name, layout, given=as_text)
        else:
            channels[field.channel] = values * scale + offset
    assert time is not None
    channels = {channel: held for channel, held in channels.items() if np.any(np.isfinite(held))}
    engine = channels.get("engine")
    if engine is None and "speed" not in channels:
        blank = next(name for name in chosen.values() if FIELDS[name].channel in ("engine", "speed"))
        raise InvalidValue(blank, "holds no number in any row")
    if engine is not None and np.nanmin(engine) == np.nanmax(engine):
        raise InvalidValue("engine_rpm", "is the same in every row: the logger's pick-up read nothing")
    return Log(time, channels, unread)


def _frame(data: bytes, layout: Layout, chosen: dict[int, str], text: int | None) -> "tuple[pandas.DataFrame, int]":
    """The chosen columns as numbers, the one of clock text as text; and how many cells could not be read."""
    import pandas as pd  # slow to import: only reading a log needs it

    width = len(layout.columns)
    types = {place: (str if place == text else float) for place in chosen}
    options = {
        "sep": layout.delimiter, "header": None, "names": list(range(width)), "usecols": sorted(chosen),
        "skiprows": layout.first_line - 1, "na_values": list(NOTHING), "decimal": layout.decimal,
        "encoding": layout.encoding, "index_col": False, "engine": "c", "low_memory": False,
    }  # fmt: skip
    try:
        return pd.read_csv(io.BytesIO(data), dtype=types, **options), 0
    except (ValueError, pd.errors.ParserError):
        return _with_lines(data, layout, chosen, text)
    except MemoryError:
        raise InvalidValue("log", "is too wide to be read") from None


def _with_lines(
    data: bytes, layout: Layout, chosen: dict[int, str], text: int | None
) -> "tuple[pandas.DataFrame, int]":
    """The same, line by line: a few cells that cannot be read are left out, more refused by the first one's line."""
    import pandas as pd

    width = len(layout.columns)
    columns: dict[int, list[object]] = {place: [] for place in chosen}
    bad: list[tuple[int, str, str]] = []
    lines = data.decode(layout.encoding, errors="replace").splitlines()
    for number, line in enumerate(lines[layout.first_line - 1 :], start=layout.first_line):
        if not line.strip():
            continue
        cells = [cell.strip().strip('"') for cell in line.split(layout.delimiter)]
        if len(cells) > width and any(cells[width:]):
            bad.append((number, "log", f"holds {len(cells)} cells where the headings have {width}"))
        for place, field in chosen.items():
            cell = cells[place] if place < len(cells) else ""
            if place == text:
                columns[place].append(cell or None)
                continue
            try:
                columns[place].append(np.nan if cell in NOTHING else float(cell.replace(layout.decimal, ".")))
            except ValueError:
                columns[place].append(np.nan)
                bad.append((number, field, f"holds “{cell[:60]}”, which is no number"))
    rows = len(lines) - layout.first_line + 1
    if len(bad) > max(3, FEW * rows):
        number, field, reason = bad[0]
        raise InvalidValue(field, f"line {number} {reason}")
    return pd.DataFrame(columns), len(bad)


def _clock_times(column: "pandas.Series", layout: Layout) -> Array:
    """Seconds from clock text: hours, minutes and seconds, with or without a date."""
    import pandas as pd

    texts = column.astype(str).str.strip().str.replace(",", ".", regex=False)
    dated = texts.str.contains("-", regex=False).mean() > 0.5
    if dated:
        stamps = pd.to_datetime(texts, format="ISO8601", utc=True, errors="coerce")
        seconds = (stamps - stamps.min()).dt.total_seconds().to_numpy()
    else:
        whole = texts.where(texts.str.count(":") == 2, "0:" + texts)
        seconds = pd.to_timedelta(whole, errors="coerce").dt.total_seconds().to_numpy()
    if np.mean(np.isfinite(seconds)) < 1 - FEW:
        row = int(np.argmax(~np.isfinite(seconds)))
        raise InvalidValue("time", f"row {row + 1} of numbers holds “{texts.iloc[row][:40]}”, which is no clock time")
    return np.asarray(seconds, float)


def _line(data: bytes, layout: Layout, row: int) -> int:
    """The line of the file in which a row of numbers stands: blank lines hold none."""
    lines = data.decode(layout.encoding, errors="replace").splitlines()[layout.first_line - 1 :]
    filled = (number for number, line in enumerate(lines, start=layout.first_line) if line.strip())
    return next(islice(filled, row, None), layout.first_line + row)


def _check_bounds(values: Array, name: str, data: bytes, layout: Layout) -> None:
    """Refuse a column whose numbers cannot be what it says; single ones are a logger's spikes."""
    field = FIELDS[name]
    with np.errstate(invalid="ignore"):
        out = values > field.highest
        if field.channel == "time":
            out |= values < 0
        elif field.channel in ("throttle", "belt_temperature"):
            out |= values < field.lowest
        else:
            out |= values < -0.05 * field.highest
    count = int(np.sum(out))
    if count and (field.channel == "time" or count > max(0 if len(values) < 200 else 3, FEW * len(values))):
        row = int(np.argmax(out))
        why = (
            "a clock does not run before 0" if field.channel == "time" and values[row] < 0 else "beyond what it can be"
        )
        raise InvalidValue(name, f"line {_line(data, layout, row)} holds {values[row]:g}: {why}")


def _checked_time(time: Array, name: str, layout: Layout, *, given: bool) -> Array:
    finite = time[np.isfinite(time)]
    if len(finite) < FEWEST_ROWS:
        raise InvalidValue(name, "holds no number in most rows")
    steps = np.diff(finite)
    ahead = steps[steps > 0]
    if len(ahead) < 0.02 * len(finite) or len(ahead) < 2:
        raise InvalidValue(name, f"line {layout.first_line}: the clock stands still")
    usual = float(np.median(ahead))
    if usual > SLOWEST_STEP and not given:
        raise InvalidValue(name, f"line {layout.first_line}: rows are {usual:g} s apart, as if its time were in "
                           "milliseconds; name the column time_ms in a header map")  # fmt: skip
    return time
