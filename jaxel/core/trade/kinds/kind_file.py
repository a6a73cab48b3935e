"""The one schema of core/data/kinds: what is known of a kind of clutch, each statement with its origin."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Literal, Self, get_args

from pydantic import Field, StringConstraints, model_validator

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import Part

Finding = Literal["keep", "watch", "replace"]
FINDINGS: tuple[Finding, ...] = get_args(Finding)
"""From the mildest to the worst."""

Depth = Literal["on machine", "off the machine", "cover off", "full strip"]
"""How far a clutch is opened; each reaches what the one before it reaches. Off the machine it is still unopened."""

SlotName = Literal[
    "arms", "loads", "primary_spring", "shim", "washer", "limiter", "clicker", "helix", "secondary_spring", "holes"
]
Shape = Literal[
    "adjuster", "arms", "bolt", "bushing", "button-spider", "buttons", "carriers", "case", "clickers", "clip",
    "cover", "cup", "damper", "drum", "e-clip", "fixed-sheave", "float-spring", "followers", "guide",
    "guide-rollers", "half-with-arms", "helix", "limiter", "moving-sheave", "nut", "nylon-washer",
    "one-way-bearing", "pack-cover", "pins", "plate", "ramp-plate", "ring", "rollers", "shims", "sliders", "spider",
    "spring", "spring-guides", "torque-spring", "tower-sheave", "wear-plates", "weights",
]  # fmt: skip
"""What the tear-down picture can draw."""

Hazard = Literal["spring", "heat", "taper", "dust", "pinch"]
Key = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z_]{1,39}$")]
Words = Annotated[str, StringConstraints(min_length=1, max_length=400)]
Positive = Annotated[float, Field(gt=0)]


class Stated(Part):
    """A statement: `origin` is filled from the file's where it names none."""

    origin: Words


class Conditional(Stated):
    """A statement that holds only of some variants: `when`, by variant the answers it holds of; of all where empty."""

    when: dict[str, Annotated[list[Key], Field(min_length=1)]] = Field(default_factory=dict)


class Variant(Stated):
    """A way in which clutches of one kind differ: a question with its `answers`, asked at the `part` that shows it.

    `assume`, the answer that is gone by until somebody has looked: the one that misses nothing.
    """

    key: Key
    part: Key
    question: Words
    answers: Annotated[dict[str, Words], Field(min_length=2)]
    assume: Key

    @model_validator(mode="after")
    def _assumed(self) -> Self:
        if self.assume not in self.answers:
            raise InvalidValue("assume", "must be one of its answers")
        return self


WayKey = Literal["A", "B", "C", "D"]


class BeltWay(Conditional):
    """A way of taking the belt off: its `steps`, where it says `stop`, and what comes `back` on with the belt.

    `opens`, parts of this clutch that come off for it; `tools` beside those of their fasteners.
    """

    key: WayKey
    name: Words
    steps: Annotated[list[Words], Field(min_length=1)]
    stop: Words
    back: str = ""
    opens: list[Key] = Field(default_factory=list)
    tools: list[Words] = Field(default_factory=list)


class SlotOpens(Conditional):
    """A slot of a clutch, and the parts that come off to change it; none where it is changed from outside."""

    key: SlotName
    opens: list[Key]
    note: str = ""


class Statement(Stated):
    text: Words


class ClutchPart(Conditional):
    """A piece in tear-down order, its `shape` to draw.

    `held`, what holds it; `mark`, what is marked before it is separated; `off`, how it comes off, `heat`, what is
    heated for that; `trap`, where that says stop; `look`, what is looked at while it is off. `facing`, which way round
    it goes back; `back`, how it goes back, `stop`, where that says stop. `frees`, whether the clutch comes off its
    shaft by it, unopened; `wound`, whether it is a spring that is wound as it goes in; `stays`, whether looking at it
    takes nothing off, so that it is put back only where it was changed; `dry_run`, what is tried through the empty
    hole before a pin goes back.
    """

    key: Key
    name: Words
    shape: Shape
    count: Annotated[int, Field(ge=1, le=24)] = 1
    depth: Depth
    held: Words
    off: Words
    heat: str = ""
    mark: str = ""
    look: str = ""
    facing: str = ""
    trap: str = ""
    back: Words
    stop: str = ""
    frees: bool = False
    wound: bool = False
    stays: bool = False
    dry_run: str = ""
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


class Procedure(Conditional):
    """A whole job by its trade name: the parts it `opens`, the items it `looks` at; of both, those a clutch has.

    `text`, what it is for; `tools` beside those of its fasteners and remedies.
    """

    key: Key
    name: Words
    text: Words
    opens: Annotated[list[Key], Field(min_length=1)]
    looks: Annotated[list[Key], Field(min_length=1)]
    tools: list[Words] = Field(default_factory=list)


class WearItem(Conditional):
    """Something that wears: how it is looked at, at which depth, and what is found of it.

    `assembled`, how it is looked at with the clutch together, empty where it has to be off; `before_washing`, whether
    it is judged before it is washed; `common`, a mark that is no reason by itself. `grades`, the words a hand gives
    with what each means; `rings`, whether a face is scored ring by ring; `set`, in words, where one bad means all;
    `causes`, items to be looked at before this one is closed; `eats`, items it wears that can be closed without it;
    `eats_belts`, whether one that is worn wears the belt.
    """

    key: Key
    part: Key
    name: Words
    count: Annotated[int, Field(ge=1, le=24)] = 1
    how: Words
    assembled: str = ""
    before_washing: bool = False
    common: str = ""
    depth: Depth
    measure: Measure | None = None
    grades: Annotated[dict[Words, Finding], Field(min_length=2)]
    rings: bool = False
    normal: str = ""
    set: str = ""
    causes: list[Key] = Field(default_factory=list)
    eats: list[Key] = Field(default_factory=list)
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


class Lubrication(Conditional):
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


class Fastener(Conditional):
    """A fastener, or several alike, of a part: how tight it is said to be, and with what it is reached.

    `count`, the usual one, which a hand corrects; `drive` without its size, which is the machine's; `reach` where not
    every tool gets at it; `thread_first`, whether the direction of its thread is looked at before it is turned;
    `single_use` where a new one goes in; `passes`, in how many rounds it is brought to its torque.
    """

    key: Key
    part: Key
    place: Words
    count: Annotated[int, Field(ge=1, le=40)]
    tightness: Tightness
    plausible: Plausible | None = None
    drive: str = ""
    reach: str = ""
    thread_first: bool = False
    single_use: bool = False
    note: str = ""
    compound: Compound | None = None
    passes: Annotated[int, Field(ge=1, le=2)] = 1
    tools: list[Words] = Field(default_factory=list)
    people: Annotated[int, Field(ge=1, le=2)] = 1


class Loose(Conditional):
    """Small things that fall out with a part and are counted out and in: dowels, washers, O-rings, cage pieces."""

    key: Key
    part: Key
    name: Words
    count: Annotated[int, Field(ge=1, le=40)]


class Matched(Conditional):
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
    looks: Words
    slot: Annotated[list[SlotOpens], Field(min_length=1)]
    variant: Annotated[list[Variant], Field(min_length=1)]
    way: Annotated[list[BeltWay], Field(min_length=1)]
    housing: list[Statement]
    part: Annotated[list[ClutchPart], Field(min_length=1)]
    item: Annotated[list[WearItem], Field(min_length=1)]
    lubrication: Annotated[list[Lubrication], Field(min_length=1)]
    fastener: list[Fastener]
    loose: list[Loose] = Field(default_factory=list)
    matched: list[Matched] = Field(default_factory=list)
    differs: list[Differs] = Field(default_factory=list)
    procedure: Annotated[list[Procedure], Field(min_length=1)]

    @property
    def slots(self) -> tuple[SlotName, ...]:
        """The slots it has, each once."""
        return tuple(dict.fromkeys(each.key for each in self.slot))

    def answered(self, answers: Mapping[str, str]) -> dict[str, str]:
        """The answer gone by of every variant: what was said, else what is assumed."""
        said = {each.key: answers.get(each.key, "") for each in self.variant}
        return {each.key: said[each.key] if said[each.key] in each.answers else each.assume for each in self.variant}

    def of_variants(self, answers: Mapping[str, str]) -> "KindFile":
        """What is known of a clutch of these variants, by key: what holds only of others is left out.

        A variant without an answer is what its file assumes.
        """
        gone_by = self.answered(answers)
        held = {
            name: [
                each
                for each in getattr(self, name)
                if all(gone_by[variant] in allowed for variant, allowed in each.when.items())
            ]
            for name in CONDITIONAL
        }
        return self.model_copy(update=held)

    def without_bolt(self) -> "KindFile":
        """What is known of a clutch that came without its machine: the bolt that draws it on its shaft, and what wears
        or is counted with it, left out."""
        gone = {part.key for part in self.part if part.frees and part.shape == "bolt"}
        held = {name: [each for each in getattr(self, name) if each.part not in gone] for name in _OF_A_PART}
        return self.model_copy(update={"part": [each for each in self.part if each.key not in gone], **held})


_OF_A_PART = ("item", "fastener", "loose", "matched")

CONDITIONAL = ("slot", "way", "part", "item", "lubrication", "fastener", "loose", "matched", "procedure")


def statements(kind: KindFile) -> Iterator[Stated]:
    """Everything a kind's file states, for checks over all of it."""
    for group in (kind.slot, kind.variant, kind.way, kind.housing, kind.part, kind.lubrication, kind.fastener,
                  kind.loose, kind.matched, kind.differs, kind.procedure):  # fmt: skip
        yield from group
    for item in kind.item:
        yield item
        yield from item.remedy
        if item.measure:
            yield item.measure
