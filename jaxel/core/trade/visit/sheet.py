"""What a page is made of: rows under their names, of lines and figures."""

from dataclasses import dataclass
from typing import Literal

Tone = Literal["plain", "strong", "quiet", "amiss"]


@dataclass(frozen=True)
class Line:
    """A line of a row: its words, how they are meant, and the item its photos are of, as `side.item`."""

    words: str
    tone: Tone = "plain"
    item: str = ""


@dataclass(frozen=True)
class Tight:
    """A fastener as the page tells it: which, how tight, by whom and when; `amiss` where it is owed or open, or its
    torque is another than it is to be."""

    name: str
    how: str
    by: str = ""
    amiss: bool = False

    @property
    def line(self) -> Line:
        words = f"{self.name}: {self.how}" + (f" · {self.by}" if self.by else "")
        return Line(words, "amiss" if self.amiss else "plain")


def as_line(each: Line | Tight) -> Line:
    """A line as the page shows it."""
    return each.line if isinstance(each, Tight) else each


@dataclass(frozen=True)
class Table:
    """Figures in rows: the heads of their columns, the first a name."""

    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True)
class Row:
    """A row of the page under its name: lines, then figures."""

    key: str
    name: str
    lines: tuple[Line, ...] = ()
    table: Table | None = None
