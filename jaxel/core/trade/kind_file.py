"""The one schema of core/data/kinds: what is known of a kind of clutch, each statement with its origin."""

import copy
from collections.abc import Iterator, Mapping
from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from ..errors import InvalidValue
from ..formats.reading import Part, validate

Finding = Literal["keep", "watch", "replace"]
Depth = Literal["on machine", "cover off", "full strip"]
"""How far a clutch is opened: each reaches what the one before it reaches."""

SlotName = Literal[
    "arms", "loads", "primary_spring", "shim", "washer", "limiter", "clicker", "helix", "secondary_spring", "holes"
]
Shape = Literal[
    "arms", "bearing", "bolt", "buttons", "clickers", "cover", "fixed-sheave", "followers", "helix", "moving-sheave",
    "plate", "ring", "rollers", "shaft", "spider", "spring", "washers",
]  # fmt: skip
"""What the tear-down picture can draw."""

Hazard = Literal["spring", "heat", "taper", "dust", "pinch"]
Key = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z_]{1,39}$")]
Words = Annotated[str, StringConstraints(min_length=1, max_length=400)]
Positive = Annotated[float, Field(gt=0)]


class Stated(Part):
    """A statement: `origin` is filled from the file's where it names none."""

    origin: Words


class BeltOff(Stated):
    """How the belt comes off; `clutch_stays`, whether both clutches stay whole on their shafts for it."""

    clutch_stays: bool
    steps: Annotated[list[Words], Field(min_length=1)]
    without_tools: Words


class Statement(Stated):
    text: Words


class ClutchPart(Stated):
    """A piece in tear-down order, its `shape` to draw; `off`, how it comes off, `mark`, what is marked before.

    `trap`, a step that says stop; `facing`, which way round it goes back; `back`, how it goes back, `stop`, where that
    says stop; `stays`, whether looking at it takes nothing off, so that it is put back only where it was changed.
    """

    key: Key
    name: Words
    shape: Shape
    count: Annotated[int, Field(ge=1, le=24)] = 1
    depth: Depth
    off: Words
    mark: str = ""
    facing: str = ""
    trap: str = ""
    back: str = ""
    stop: str = ""
    stays: bool = False
    hazard: Hazard | None = None


class Measure(Stated):
    """What is measured of an item, in `unit`; it `wears` up or down to `limit`.

    A limit is a number, or `limit_share` of what a field of the set-up (`rated`) says; without either nothing is
    judged by it, and the workshop's own manual may state one.
    """

    name: Words
    unit: Literal["mm", "N", "g", ""]
    wears: Literal["up", "down"]
    new: float | None = None
    limit: float | None = None
    rated: str = ""
    limit_share: Annotated[float, Field(gt=0, lt=2)] | None = None

    @model_validator(mode="after")
    def _sides(self) -> Self:
        if self.new is not None and self.limit is not None and (self.limit > self.new) != (self.wears == "up"):
            raise InvalidValue("limit", "must lie on the side of new to which it wears")
        if (self.limit_share is None) != (not self.rated):
            raise InvalidValue("limit_share", "and rated stand together")
        return self


class PartsNeeded(Part):
    kind: Words
    pieces: Annotated[int, Field(ge=1, le=24)]


class Remedy(Stated):
    """One way to put an item right: parts, a tool bought once, minutes, and what the manual says of it."""

    key: Key
    name: Words
    parts: list[PartsNeeded] = Field(default_factory=list)
    tool: str = ""
    minutes: Annotated[int, Field(ge=1, le=600)]
    manual: Words


class WearItem(Stated):
    """Something that wears: how it is looked at, at which depth, and what is found of it.

    `grades`, the words a hand gives with what each means; `rings`, whether a face is scored ring by ring; `set`, in
    words, where one bad means all; `causes`, items to be looked at before this one is closed; `eats_belts`, whether one
    that is worn wears the belt.
    """

    key: Key
    part: Key
    name: Words
    count: Annotated[int, Field(ge=1, le=24)] = 1
    how: Words
    depth: Depth
    measure: Measure | None = None
    grades: Annotated[dict[Words, Finding], Field(min_length=2)]
    rings: bool = False
    normal: str = ""
    set: str = ""
    causes: list[Key] = Field(default_factory=list)
    consequence: str = ""
    eats_belts: bool = False
    check_km: Positive | None = None
    check_h: Positive | None = None
    season: bool = False
    remedy: list[Remedy]

    @model_validator(mode="after")
    def _grades(self) -> Self:
        if "keep" not in self.grades.values():
            raise InvalidValue("grades", "must hold one that means keep")
        return self


class Lubrication(Stated):
    """What is lubricated of `parts`, with what, and what never is."""

    where: Words
    what: Literal["none", "film", "grease", "as the manual says"]
    text: Words
    parts: Annotated[list[Key], Field(min_length=1)]


class Plausible(Part):
    """Between which values a torque is plausible: a question to ask, never a value to use."""

    low: Positive
    high: Positive
    unit: Literal["N·m"]


class Compound(Stated):
    """What goes round a thread: for how long it may be worked [min], and from when it may be loaded [min]."""

    kind: Words
    where: Words
    working_min: Positive
    cure_min: Positive


Tightness = Literal["torque", "to the shoulder", "until the washer meets the face", "snug", "by hand"]


class Fastener(Stated):
    """A fastener, or several alike, of a part: how tight it is said to be, and with what it is reached.

    `drive` with its size, `reach` where not every tool gets at it, `single_use` where a new one goes in, `passes`, in
    how many rounds it is brought to its torque.
    """

    key: Key
    part: Key
    place: Words
    count: Annotated[int, Field(ge=1, le=40)]
    tightness: Tightness
    plausible: Plausible | None = None
    drive: str = ""
    reach: str = ""
    single_use: bool = False
    note: str = ""
    compound: Compound | None = None
    passes: Annotated[int, Field(ge=1, le=2)] = 1
    tools: list[Words] = Field(default_factory=list)
    people: Annotated[int, Field(ge=1, le=2)] = 1


class Loose(Stated):
    """Small things of a part that are counted out and in: dowels, washers, O-rings."""

    key: Key
    part: Key
    name: Words
    count: Annotated[int, Field(ge=1, le=40)]


class Matched(Stated):
    """Pieces of a part that must weigh alike, within `spread_g` from lightest to heaviest.

    `of`, whether they are the flyweights of the set-up, as many as it says, or `count` rollers beside them.
    """

    key: Key
    part: Key
    name: Words
    of: Literal["weights", "rollers"]
    count: Annotated[int, Field(ge=2, le=12)] | None = None
    spread_g: Positive

    @model_validator(mode="after")
    def _counted(self) -> Self:
        if (self.of == "rollers") != (self.count is not None):
            raise InvalidValue("count", "is said of rollers, and of flyweights by the set-up")
        return self


class Differs(Stated):
    """A question on which practitioners differ, by its key in schools.toml."""

    school: Key


class KindFile(Stated):
    """One file of core/data/kinds, whole."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    side: Literal["primary", "secondary", "both"]
    form: Literal["swing-arm", "ramp-roller", "helix"]
    slots: list[SlotName]
    looks: Words
    belt_off: BeltOff
    housing: list[Statement]
    part: Annotated[list[ClutchPart], Field(min_length=1)]
    item: Annotated[list[WearItem], Field(min_length=1)]
    lubrication: Annotated[list[Lubrication], Field(min_length=1)]
    fastener: list[Fastener]
    loose: list[Loose] = Field(default_factory=list)
    matched: list[Matched] = Field(default_factory=list)
    version: list[Statement] = Field(default_factory=list)
    differs: list[Differs] = Field(default_factory=list)


_KEYED = ("part", "item", "fastener", "loose", "matched")
_STATED = (
    "housing", "part", "item", "remedy", "lubrication", "fastener", "loose", "matched", "version", "differs",
)  # fmt: skip
_BY_KEY = "key"


def read_kind(files: Mapping[str, Mapping[str, Any]], common: Mapping[str, Any], key: str) -> KindFile:
    """One kind from the parsed files of all: with what it takes from the kind it is `like` and from common items.

    A list is added to; an entry with a key that is there already takes its place, a new one goes `after` or `before`
    the one it names, and `without` leaves items out. Raises InvalidValue, the field with its kind before it, for what
    the schema refuses, an unknown kind or item, and a key that stands twice.
    """
    try:
        value = _whole(files, key, seen=())
        value["item"] = [_with_common(each, common) for each in value.get("item", [])]
        kind = validate(KindFile, value)
        _check_whole(kind)
    except InvalidValue as error:
        raise InvalidValue(f"{key}: {error.field}", error.reason) from None
    return kind


def _whole(files: Mapping[str, Mapping[str, Any]], key: str, seen: tuple[str, ...]) -> dict[str, Any]:
    if key not in files:
        raise InvalidValue("like", f"{key} is no kind of clutch known here")
    if key in seen:
        raise InvalidValue("like", "goes round in a circle")
    own = copy.deepcopy(dict(files[key]))
    _fill_origins(own, str(own.get("origin", "")))
    like, without = own.pop("like", None), own.pop("without", [])
    if like is None:
        if without:
            raise InvalidValue("without", "needs a kind that this one is like")
        return own
    value = _whole(files, like, (*seen, key))
    for left_out in without:
        if left_out not in {each[_BY_KEY] for each in value["item"]}:
            raise InvalidValue("without", f"{left_out} is no item of {like}")
    value["item"] = [each for each in value["item"] if each[_BY_KEY] not in without]
    for name, mine in own.items():
        if name in _KEYED:
            value[name] = _placed(value.get(name, []), mine)
        elif isinstance(mine, list) and name != "slots":
            value[name] = [*value.get(name, []), *mine]
        else:
            value[name] = mine
    return value


def _placed(there: list[dict[str, Any]], mine: list[dict[str, Any]]) -> list[dict[str, Any]]:
    result = list(there)
    for entry in mine:
        own = dict(entry)
        after, before = own.pop("after", None), own.pop("before", None)
        keys = [each[_BY_KEY] for each in result]
        if own.get(_BY_KEY) in keys:
            result[keys.index(own[_BY_KEY])] = own
        elif (neighbour := after or before) is None:
            result.append(own)
        elif neighbour not in keys:
            raise InvalidValue("after" if after else "before", f"{neighbour} is not there")
        else:
            result.insert(keys.index(neighbour) + (1 if after else 0), own)
    return result


def _with_common(item: Mapping[str, Any], common: Mapping[str, Any]) -> dict[str, Any]:
    own = dict(item)
    use = own.pop("use", None)
    if use is None:
        return own
    if use not in common:
        raise InvalidValue("item.use", f"{use} is no common item")
    shared = copy.deepcopy(common[use])
    _fill_origins(shared, own["origin"])
    return {**shared, **own, "remedy": [*shared.get("remedy", []), *own.get("remedy", [])]}


def _fill_origins(value: Any, origin: str) -> None:
    """Give every statement under a value the origin it does not name."""
    for name, inner in value.items():
        # What is no table where one belongs is left for the schema to refuse.
        if name in ("belt_off", "measure", "compound") and isinstance(inner, dict):
            inner.setdefault("origin", origin)
        elif name in _STATED and isinstance(inner, list):
            for each in filter(lambda each: isinstance(each, dict), inner):
                each.setdefault("origin", origin)
                _fill_origins(each, each["origin"])


def _check_whole(kind: KindFile) -> None:
    for name in _KEYED:
        keys = [each.key for each in getattr(kind, name)]
        if twin := next((key for key in keys if keys.count(key) > 1), None):
            raise InvalidValue(f"{name}.{twin}", "stands twice")
    parts, items = {each.key for each in kind.part}, {each.key for each in kind.item}
    for name in ("item", "fastener", "loose", "matched"):
        for each in getattr(kind, name):
            if each.part not in parts:
                raise InvalidValue(f"{name}.{each.key}.part", f"{each.part} is no part of it")
    for lubricated in kind.lubrication:
        if strange := next((part for part in lubricated.parts if part not in parts), None):
            raise InvalidValue("lubrication.parts", f"{strange} is no part of it")
    for item in kind.item:
        for cause in item.causes:
            if cause not in items or cause == item.key:
                raise InvalidValue(f"item.{item.key}.causes", f"{cause} is no other item of it")
        remedies = [each.key for each in item.remedy]
        if len(set(remedies)) < len(remedies):
            raise InvalidValue(f"item.{item.key}.remedy", "holds one key twice")


def statements(kind: KindFile) -> Iterator[Stated]:
    """Everything a kind's file states, for checks over all of it."""
    yield kind.belt_off
    for group in (kind.housing, kind.part, kind.lubrication, kind.fastener, kind.loose, kind.matched, kind.version,
                  kind.differs):  # fmt: skip
        yield from group
    for item in kind.item:
        yield item
        yield from item.remedy
        if item.measure:
            yield item.measure
