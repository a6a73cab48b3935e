"""What a hand finds of a wear item, and the decision that follows, each with its sentence."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.words import q

from ..kinds.kind_file import FINDINGS, Depth, Finding, KindFile, WearItem
from ..record.quantities import Key, Short, Words
from ..record.said import Said

Looked = Literal["", "assembled", "removed", "looked over", "not reached", "left alone"]
Compared = Literal["", "as new", "worn beside new"]

RINGS = ("hub", "inner", "middle", "outer", "rim")
"""A sheave face from hub to rim, in rings of one width."""

RING_FINDINGS: tuple[Finding, ...] = ("keep", "keep", "watch", "replace")
"""What a ring's score means: even, a mark to be seen, a groove to be felt, a groove or step that catches a nail."""

WATCH_SHARE = 0.7
"""Share of the wear from new to limit from which an item is watched; from memory."""

OILY = "oily"
"""A face graded so asks where the oil comes from: it is found there, and never begins there."""

WATCHED_PART = 0.5
"""Part of the usual distance between checks after which a watched item is looked at again; from memory."""


@dataclass(frozen=True)
class ItemLook:
    """How one item was looked at and what was found of it.

    `readings` by place, None where not taken; `rings`, scores 0 to 3 from hub to rim, None where not scored; `grade`,
    one of the item's words; `compared` with a new part side by side; `overruled`, another decision than Jaxel's, with
    its reason; `remedy`, the way chosen to put it right.
    """

    looked: Annotated[Looked, Said("how it was looked at")] = ""
    because: Annotated[Words, Said("why it was left alone")] = ""
    readings: Annotated[tuple[float | None, ...], Said("readings", hand=False)] = ()
    rings: Annotated[tuple[int | None, ...], Said("rings", hand=False)] = ()
    grade: Annotated[Short, Said("grade")] = ""
    compared: Annotated[Compared, Said("beside a new one")] = ""
    note: Annotated[Words, Said("note")] = ""
    overruled: Annotated[Finding | None, Said("decision")] = None
    reason: Annotated[Words, Said("why it was overruled")] = ""
    remedy: Annotated[Key, Said("put right by")] = ""

    @property
    def begun(self) -> bool:
        """Whether a hand has said anything of it."""
        return self != NOT_LOOKED_AT

    @property
    def seen(self) -> bool:
        """Whether the eye has been on it."""
        return self.looked in ("assembled", "removed", "looked over")


NOT_LOOKED_AT = ItemLook()


@dataclass(frozen=True)
class StatedLimit:
    """A limit of an item in force: `value` in the item's unit, where it comes from, and whether the workshop's own."""

    value: float
    origin: str
    own: bool = False


@dataclass(frozen=True)
class Odometer:
    """How far a machine has gone: distance [km], hours, None where not read."""

    km: float | None = None
    h: float | None = None


NOT_READ = Odometer()


@dataclass(frozen=True)
class Check:
    """When to look again, whichever comes first: distance [km], hours, before the next season."""

    km: float | None = None
    h: float | None = None
    season: bool = False


@dataclass(frozen=True)
class Verdict:
    """What follows of a look: Jaxel's `finding`, the `decision` that stands, why, and what is still open.

    `sentences`, the reasons, the telling one first; `waits_for`, names of items that may be the cause and have not been
    looked at; `open`, what the item still lacks, empty where nothing; `check`, when to look again; `wear`, share used
    from new to limit.
    """

    finding: Finding | None
    decision: Finding | None
    sentences: tuple[str, ...]
    waits_for: tuple[str, ...]
    open: str
    check: Check | None
    wear: float | None


def reached(kind: KindFile, depth: Depth) -> list[WearItem]:
    """The items of a clutch opened so far, in the order it comes apart."""
    order = {part.key: place for place, part in enumerate(kind.part)}
    depths = get_args(Depth)
    found = [item for item in kind.item if depths.index(item.depth) <= depths.index(depth)]
    return sorted(found, key=lambda item: order[item.part])


def limit_of(item: WearItem, stated: StatedLimit | None, rated: float | None) -> StatedLimit | None:
    """The limit an item is judged by: the workshop's own, else the kind's, else a share of what the set-up says.

    Parameters: `stated` by the workshop, if any; `rated`, the set-up's figure in the item's unit. None where there is
    none.
    """
    measure = item.measure
    if stated is not None or measure is None:
        return stated
    if measure.limit is not None:
        return StatedLimit(measure.limit, measure.origin)
    if measure.limit_share is not None and rated is not None:
        return StatedLimit(measure.limit_share * rated, f"{measure.limit_share:.0%} of its rating, {measure.origin}")
    return None


def check_look(item: WearItem, look: ItemLook) -> None:
    """Refuse what cannot be of an item, naming the field: a grade or place it lacks, a reading below nothing.

    >>> from jaxel.core.trade.kinds.kinds import kinds
    >>> bolts = next(i for i in kinds()["tower-and-button-primary"].guide.item if i.key == "pivot_bolt")
    >>> check_look(bolts, ItemLook(grade="purple"))
    Traceback (most recent call last):
    ...
    jaxel.core.errors.InvalidValue: grade: must be one of: smooth, stepped
    """
    if look.grade and look.grade not in item.grades:
        raise InvalidValue("grade", f"must be one of: {', '.join(item.grades)}")
    if look.readings and item.measure is None:
        raise InvalidValue("readings", f"{item.name.lower()}: nothing is measured of them")
    if len(look.readings) > item.count:
        raise InvalidValue("readings", f"there {'is one place' if item.count == 1 else f'are {item.count} places'}")
    for place, value in enumerate(look.readings):
        if value is not None and not 0 <= value <= 10000:
            raise InvalidValue(f"reading_{place}", "must be from 0 to 10,000")
    if look.rings and not item.rings:
        raise InvalidValue("rings", "only a sheave's face has rings")
    if len(look.rings) > len(RINGS) or any(ring is not None and not 0 <= ring <= 3 for ring in look.rings):
        raise InvalidValue("rings", f"are {len(RINGS)}, each from 0 to 3")
    if look.remedy and look.remedy not in {each.key for each in item.remedy}:
        raise InvalidValue("remedy", "is no way of putting this right")


def judge(
    item: WearItem,
    look: ItemLook,
    *,
    limit: StatedLimit | None = None,
    rated: float | None = None,
    others: Mapping[str, tuple[WearItem, ItemLook]] | None = None,
    odometer: Odometer = NOT_READ,
    before: Sequence[tuple[float, float]] = (),
) -> Verdict:
    """Decide of an item by its limit, its trend, its grade, its rings, its set and what may have caused it.

    The worst of what was found decides. Parameters: `limit` in force (limit_of); `rated`, what a new part should read;
    `others`, every item of the same clutch with its look; `before`, earlier worst readings as (odometer [km], value).

    Source: common practice; shares from memory.
    """
    if not look.begun:
        return Verdict(None, None, (), (), "not looked at yet", None, None)
    if look.looked == "not reached":
        return Verdict(None, None, ("Not reached.",), (), "", None, None)
    if look.looked == "left alone":
        lacks = "" if look.because.strip() else "why it was left alone"
        return Verdict(None, None, (f"Left alone: {look.because.strip()}",) if not lacks else (), (), lacks, None, None)
    reasons, wear = _reasons(item, look, limit, rated)
    if look.looked == "looked over" and not reasons:
        reasons = [("keep", "Looked over, nothing seen.")]
    finding = max((each for each, _ in reasons), key=FINDINGS.index, default=None)
    sentences = [words for each, words in sorted(reasons, key=lambda pair: -FINDINGS.index(pair[0])) if words]
    if finding == "replace" and item.set:
        sentences.append(f"{item.set[:1].upper()}{item.set[1:]}.")
    if finding in ("watch", "replace") and item.consequence:
        sentences.append(item.consequence)
    decision = look.overruled or finding
    waits = _waits_for(item, others or {}) if finding in ("watch", "replace") else ()
    check = _next_check(item, decision, odometer, limit, before, look) if decision else None
    return Verdict(
        finding, decision, tuple(sentences), waits, _lacks(item, look, finding, decision, waits), check, wear
    )


def worst(item: WearItem, readings: Sequence[float | None]) -> float | None:
    """The reading that decides: the largest of what grows with wear, the smallest of what shrinks."""
    taken = [each for each in readings if each is not None]
    if not taken or item.measure is None:
        return None
    return max(taken) if item.measure.wears == "up" else min(taken)


def place_name(item: WearItem, place: int) -> str:
    """A place of an item: A, B, C of several, nothing of one."""
    return "ABCDEFGHIJKLMNOPQRSTUVWX"[place] if item.count > 1 else ""


def _reasons(
    item: WearItem, look: ItemLook, limit: StatedLimit | None, rated: float | None
) -> tuple[list[tuple[Finding, str]], float | None]:
    reasons: list[tuple[Finding, str]] = []
    value = worst(item, look.readings)
    wear = None
    if value is not None and item.measure is not None:
        if limit is None:
            reasons.append(("keep", f"{item.measure.name} {_amount(item, value)}: no limit is known here."))
        else:
            finding, words, wear = _by_limit(item, look, limit, rated, value)
            reasons.append((finding, words))
    if look.grade in item.grades:  # not a word from before the clutch was said to be of another kind
        reasons.append((item.grades[look.grade], f"{look.grade[:1].upper()}{look.grade[1:]}."))
    scored = [(score, name) for score, name in zip(look.rings, RINGS, strict=False) if score is not None]
    if scored:
        deepest, where = max(scored, key=lambda pair: pair[0])
        told = (
            "Even all over.",
            f"A mark at the {where}.",
            f"A groove at the {where}.",
            f"A groove at the {where} that catches a nail.",
        )
        reasons.append((RING_FINDINGS[deepest], told[deepest]))
    if look.compared == "worn beside new":
        reasons.append(("watch", "Worn beside a new one."))
    elif look.compared == "as new":
        reasons.append(("keep", "As a new one beside it."))
    return reasons, wear


def _by_limit(
    item: WearItem, look: ItemLook, limit: StatedLimit, rated: float | None, value: float
) -> tuple[Finding, str, float | None]:
    measure = item.measure
    assert measure is not None
    up = measure.wears == "up"
    past = value - limit.value if up else limit.value - value
    place = place_name(item, look.readings.index(value))
    who = f"{place}: " if place else ""
    stood = f"limit {_amount(item, limit.value)}, {limit.origin}"
    new = measure.new if measure.new is not None else rated
    # A manual's limit may lie beyond what the kind takes for new: then there is no share to speak of.
    known = new is not None and (limit.value > new) == up and limit.value != new
    wear = (value - new) / (limit.value - new) if known and new is not None else None
    if past > 1e-9:
        return "replace", f"{who}{_amount(item, value)} is {_amount(item, past)} past the {stood}.", wear
    if past > -1e-9:
        return "replace", f"{who}{_amount(item, value)} has reached the {stood}.", wear
    if wear is not None and wear >= WATCH_SHARE - 1e-9:
        return "watch", f"{who}{_amount(item, value)}, {wear:.0%} of the way to the {stood}.", wear
    return "keep", f"{who}{_amount(item, value)}, {stood}.", wear


def _amount(item: WearItem, value: float) -> str:
    unit = item.measure.unit if item.measure else ""
    digits = {"N": 0, "g": 1, "": 0}.get(unit, 2)
    return str(q(value, unit, digits))


def _waits_for(item: WearItem, others: Mapping[str, tuple[WearItem, ItemLook]]) -> tuple[str, ...]:
    return tuple(
        others[cause][0].name
        for cause in item.causes
        if cause in others and not (others[cause][1].seen or others[cause][1].looked == "left alone")
    )


def _lacks(
    item: WearItem, look: ItemLook, finding: Finding | None, decision: Finding | None, waits: tuple[str, ...]
) -> str:
    """The first thing a look still lacks; empty where nothing."""
    unexplained = look.overruled and look.overruled != finding and not look.reason.strip()
    asked = (
        (finding is None and look.overruled is None, "a finding"),
        (not look.looked, "how it was looked at"),
        (look.grade == OILY and not look.note.strip(), "where the oil comes from"),
        (unexplained, "why it was overruled"),
        (waits, f"its cause may be {' or '.join(name.lower() for name in waits)}: not looked at yet"),
        (decision == "replace" and len(item.remedy) > 1 and not look.remedy, "which way it is put right"),
    )
    return next((words for lacking, words in asked if lacking), "")


def _next_check(
    item: WearItem,
    decision: Finding,
    odometer: Odometer,
    limit: StatedLimit | None,
    before: Sequence[tuple[float, float]],
    look: ItemLook,
) -> Check | None:
    """When to look again: the usual distance, half of it for what is watched, sooner where wear is quicker.

    Nothing is due of what was replaced before the usual distance has gone by.
    """
    part = WATCHED_PART if decision == "watch" else 1.0
    km = item.check_km and item.check_km * part
    left = _distance_left(item, odometer, limit, before, look) if decision != "replace" else None
    if left is not None:
        km = left if km is None else min(km, left)
    if km is None and item.check_h is None and not item.season:
        return None
    return Check(
        None if km is None or odometer.km is None else round(odometer.km + max(0.0, km), 1),
        None if item.check_h is None or odometer.h is None else odometer.h + item.check_h * part,
        item.season,
    )


def _distance_left(
    item: WearItem,
    odometer: Odometer,
    limit: StatedLimit | None,
    before: Sequence[tuple[float, float]],
    look: ItemLook,
) -> float | None:
    """Distance to the limit at the rate since the last look [km]; None where nothing tells."""
    value = worst(item, look.readings)
    earlier = [pair for pair in before if odometer.km is not None and pair[0] < odometer.km]
    if value is None or limit is None or odometer.km is None or not earlier:
        return None
    km, read = max(earlier)
    rate = (value - read) / (odometer.km - km)
    return (limit.value - value) / rate if rate * (limit.value - value) > 0 else None
