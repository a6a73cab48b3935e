"""The kinds of clutch: own names, no makers; which side each is, how it is modelled, and which slots it has."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from importlib import resources
from typing import Any, Literal, get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import validate
from jaxel.core.formats.setup.setup import SetupDocument

from .kind_file import BeltWay, KindFile, SlotName
from .kind_reading import read_kind

Side = Literal["primary", "secondary"]
SIDES: tuple[Side, ...] = get_args(Side)

ONLY_IF_FITTED: frozenset[SlotName] = frozenset({"clicker", "washer", "limiter"})
"""Slots that a clutch of a kind not stated shows only where the set-up has something in them."""

SECONDARY_SLOTS: frozenset[SlotName] = frozenset({"helix", "secondary_spring", "holes"})


@dataclass(frozen=True, eq=False)
class Kind:
    """A kind of clutch.

    `key` names it in requests and in the store; `side`, the clutch it is, or both where driver and driven are one
    kit; `form` of its primary's profile in a setup document, or `helix`; `slots` it has; `guide`, all else that is
    known of it: of every variant, until it is taken `as_fitted`.
    """

    key: str
    name: str
    side: Side | Literal["both"]
    form: str
    slots: tuple[SlotName, ...]
    guide: KindFile

    def as_fitted(self, answers: Mapping[str, str], *, bare: bool = False) -> "Kind":
        """The kind as one clutch of it is: of the variants answered, by key; those without an answer as assumed.

        `bare`, as it lies on a bench without its machine: the bolt that held it on its shaft stayed there.
        """
        return _as_fitted(self, tuple(sorted(answers.items())), bare)


@lru_cache(maxsize=256)
def _as_fitted(kind: Kind, answers: tuple[tuple[str, str], ...], bare: bool) -> Kind:
    guide = kind.guide.of_variants(dict(answers))
    return replace(kind, guide=guide.without_bolt() if bare else guide, slots=guide.slots)


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
    common = {"item": _common("common-items"), "way": _common("belt-ways")}
    found = []
    for key in files:
        guide = read_kind(files, common, key)
        found.append(Kind(key, guide.name, guide.side, guide.form, guide.slots, guide))
    order = ("primary", "both", "secondary")
    return {kind.key: kind for kind in sorted(found, key=lambda kind: (order.index(kind.side), kind.name))}


@cache
def usual_ways() -> tuple[BeltWay, ...]:
    """The ways a belt comes off where nobody said of which kinds the clutches are: those most kinds allow."""
    common = _common("belt-ways")
    return tuple(validate(BeltWay, common[key] | {"origin": "common practice"}) for key in ("A", "B"))


def _common(name: str) -> Mapping[str, Any]:
    return tomllib.loads(resources.files("jaxel.core.data").joinpath(f"{name}.toml").read_text(encoding="utf-8"))


@dataclass(frozen=True)
class Kinds:
    """The kinds of a machine's two clutches, by key; None, or a key of no kind known here, where not stated.

    `variants`, what was answered of how they differ, as (`side.variant`, answer); `bare`, whether it is a clutch
    without its machine.
    """

    primary: str | None = None
    secondary: str | None = None
    variants: tuple[tuple[str, str], ...] = ()
    bare: bool = False

    @property
    def sides(self) -> tuple[Side, ...]:
        """The clutches there are: of a bare clutch its own half, both while nobody said which half it is.

        >>> Kinds("tower-and-button-primary", bare=True).sides, Kinds("tower-and-button-primary").sides
        (('primary',), ('primary', 'secondary'))
        """
        if self.bare and (self.primary is None) != (self.secondary is None):
            return ("primary",) if self.primary else ("secondary",)
        return SIDES

    def of(self, side: Side) -> Kind | None:
        """The clutch on a side as it is fitted; None where its kind is not stated, or there is none."""
        kind = kinds().get((self.primary if side == "primary" else self.secondary) or "")
        return None if kind is None else kind.as_fitted(self.answers(side), bare=self.bare)

    def answers(self, side: Side) -> dict[str, str]:
        """What was answered of a clutch's variants, by variant; driver and driven of one kit are told apart nowhere."""
        places = ("primary", "secondary") if self.primary == self.secondary else (side,)
        said = [(key.partition("."), answer) for key, answer in self.variants]
        return {variant: answer for (of, _, variant), answer in said if of in places}

    def show(self, slot: SlotName) -> bool:
        """Whether a machine of these kinds has a slot; of a kind not stated, all that every clutch has."""
        kind = self.of(side_of(slot))
        return slot not in ONLY_IF_FITTED if kind is None else slot in kind.slots


NOT_STATED = Kinds()


def of_side(name: str, side: str) -> str:
    """What something is called with the clutch it is of behind it, where its name does not say so already.

    >>> of_side("Cover bolts", "primary"), of_side("Secondary bolt", "secondary")
    ('Cover bolts, primary', 'Secondary bolt')
    """
    return name if side in name.casefold() else f"{name}, {side}"


def side_of(slot: str) -> Side:
    """The clutch a slot is of, by its key.

    >>> side_of("holes"), side_of("washer:secondary"), side_of("load:tip")
    ('secondary', 'secondary', 'primary')
    """
    return "secondary" if slot.partition(":")[0] in SECONDARY_SLOTS or slot == "washer:secondary" else "primary"


def clutches(machine: Kinds) -> list[tuple[Side, Kind]]:
    """The clutches of a machine whose kinds are known, the primary first; driver and driven of one kit are one."""
    return list(_clutches(machine))


@lru_cache(maxsize=1024)  # asked some hundred times of each visit; machines of one make are alike
def _clutches(machine: Kinds) -> list[tuple[Side, Kind]]:
    primary, secondary = machine.of("primary"), machine.of("secondary")
    found: list[tuple[Side, Kind]] = [("primary", primary)] if primary else []
    if secondary and not (secondary.side == "both" and found):
        found.append(("secondary", secondary))
    return found


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
