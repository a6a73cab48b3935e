"""A stock sheet as it was read: its rows, and those refused."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class SheetRow:
    """One part as a sheet gives it: its `line` there, `number`, `kind`, what is said `of` it, and its `spec`."""

    line: int
    number: str
    kind: str
    of: Mapping[str, Any]
    spec: Mapping[str, Any] | None


@dataclass(frozen=True)
class RefusedRow:
    """A row that was not taken: its line in the sheet, the part's number as it stood, the column and the reason."""

    line: int
    number: str
    column: str
    reason: str


@dataclass(frozen=True)
class Sheet:
    """What was read of a sheet."""

    rows: list[SheetRow] = field(default_factory=list)
    refused: list[RefusedRow] = field(default_factory=list)
