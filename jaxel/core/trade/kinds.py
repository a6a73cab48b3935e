"""The kinds of clutch: own names, no makers; which side each is, how it is modelled, and which slots it has."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any, Literal

from ..errors import InvalidValue
from ..formats.setup import SetupDocument
from .kind_file import KindFile, SlotName, read_kind

Side = Literal["primary", "secondary"]

ONLY_IF_FITTED: frozenset[SlotName] = frozenset({"clicker", "washer", "limiter"})
"""Slots that a clutch of a kind not stated shows only where the set-up has something in them."""

SECONDARY_SLOTS: frozenset[SlotName] = frozenset({"helix", "secondary_spring", "holes"})


@dataclass(frozen=True)
class Kind:
    """A kind of clutch.

    `key` names it in requests and in the store; `side`, the clutch it is, or both where driver and driven are one
    kit; `form` of its primary's profile in a setup document, or `helix`; `slots` it has; `guide`, all else that is
    known of it.
    """

    key: str
    name: str
    side: Side | Literal["both"]
    form: str
    slots: tuple[SlotName, ...]
    guide: KindFile


@cache
def kinds() -> dict[str, Kind]:
    """Every kind by its key, primaries first, then by name.

    >>> kinds()["roller-variator-primary"].form
    'ramp-roller'

    Raises InvalidValue for a file that the schema refuses, so that no server starts on it. Source: common practice;
    see docs/decisions/slots.md and docs/kinds.md.
    """
    folder = resources.files("jaxel.core.data.kinds")
    return read_kinds(
        {
            file.name.removesuffix(".toml"): tomllib.loads(file.read_text(encoding="utf-8"))
            for file in folder.iterdir()
            if file.name.endswith(".toml")
        }
    )


def read_kinds(files: Mapping[str, Mapping[str, Any]]) -> dict[str, Kind]:
    """Kinds from their parsed files, primaries first, then by name; raises InvalidValue naming kind and field."""
    text = resources.files("jaxel.core.data").joinpath("common-items.toml").read_text(encoding="utf-8")
    common = tomllib.loads(text)
    found = []
    for key in files:
        guide = read_kind(files, common, key)
        found.append(Kind(key, guide.name, guide.side, guide.form, tuple(guide.slots), guide))
    order = ("primary", "both", "secondary")
    return {kind.key: kind for kind in sorted(found, key=lambda kind: (order.index(kind.side), kind.name))}


@dataclass(frozen=True)
class Kinds:
    """The kinds of a machine's two clutches, by key; None, or a key of no kind known here, where not stated."""

    primary: str | None = None
    secondary: str | None = None

    def show(self, slot: SlotName) -> bool:
        """Whether a machine of these kinds has a slot; of a kind not stated, all that every clutch has."""
        kind = kinds().get((self.secondary if slot in SECONDARY_SLOTS else self.primary) or "")
        return slot not in ONLY_IF_FITTED if kind is None else slot in kind.slots


NOT_STATED = Kinds()


def kinds_for(document: SetupDocument, side: Side) -> list[Kind]:
    """The kinds that a set-up's clutch on this side can be."""
    forms = (document.primary.profile.kind,) if side == "primary" else ("helix", document.primary.profile.kind)
    return [kind for kind in kinds().values() if kind.side in (side, "both") and kind.form in forms]


def check_kind(field: str, key: str, side: Side, document: SetupDocument) -> None:
    """Refuse a kind that is none, is no clutch of this side, or is modelled otherwise than the machine's document."""
    kind = kinds().get(key)
    if kind is None:
        raise InvalidValue(field, "is no kind of clutch known here")
    if kind.side not in (side, "both"):
        raise InvalidValue(field, f"{kind.name.lower()} is no {side} clutch")
    if kind not in kinds_for(document, side):
        words = {"swing-arm": "arms", "ramp-roller": "rollers"}
        here = words[document.primary.profile.kind]
        raise InvalidValue(field, f"{kind.name.lower()} has {words[kind.form]}; this machine's set-up has {here}")
