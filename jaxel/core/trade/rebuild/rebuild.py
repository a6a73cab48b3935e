"""Rebuild: the tear-down that was done, in reverse: what is asked at each joint, and what is not as it should be."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, Literal

from jaxel.core.units import said

from ..kinds.kind_file import ClutchPart, Fastener, Matched
from ..kinds.kinds import Kinds, Side, clutches, of_side
from ..record.quantities import Hole, Name, Wind
from ..record.remembered import of_both
from ..record.said import Said
from ..strip.strip import Inspection, Place
from . import done as hands
from .balance import Alike, alike
from .done import FITTED, NOTHING_DONE, ItemDone, Righting
from .opened import OFF, Opened, Opens, down_to, opened, to_depth, together
from .tightening import UNTOUCHED, Tightened, lacking, settled

Turn = Literal["", "clockwise", "anticlockwise"]
"""Seen from the helix's end of the clutch."""

WIND_OFF_DEG = 10.0
"""How far a wind may be from the set-up's before it is asked why; from memory."""

MASS_OFF_G = 0.5
"""How far a set's mean may be from what the set-up says each weighs; from memory."""

CHECKS: Mapping[str, str] = {
    "on_ramp": "Every follower on its ramp, and fully down",
    "full_return": "Opened by hand and let go: it returns all the way",
    "no_twist": "It does not twist by hand",
}
"""The three checks once a helix is together (common practice)."""

WRONG_WAY = "spring wound the wrong way: it pulls the helix off its followers"
"""No machine leaves like that, whatever the reason."""

ORDINARY = frozenset({"back", "mark", "unmarked", "facing", "none", "film", "grease", "as the manual says"})
"""Sorts of asks that one look takes in: ticked together; a stop, a check and a second person are each their own."""

RETURNS = frozenset({"spring", "cup", "arms", "moving-sheave", "tower-sheave", "half-with-arms", "drum"})
"""Parts after which a primary is opened and closed by hand."""

RETURN = {"full_return": "Opened and closed by hand: free all the way, and back"}


@dataclass(frozen=True)
class Rebuild:
    """Putting back, as a hand said it.

    `seen`, what was asked and seen, as `side.step.ask`; `left_on`, parts as `side.part` that did not come off after
    all; `closes`, which way the moving sheave of the secondary turns as it closes on its helix, `wound`, which way its
    top was turned to load the spring, `wound_deg`, how far [°]; the holes the spring stands in; `weighed`, masses of a
    matched set by `side.set` [g]; `radius_mm` its pieces turn on, where a hand measured it [mm]; `accepted`, why
    something out is left so, by `side.step`; `helper`, who held where two are needed.
    """

    seen: Annotated[tuple[str, ...], Said("seen going back", hand=False)] = ()
    left_on: Annotated[tuple[str, ...], Said("not taken off", hand=False)] = ()
    off_shaft: Annotated[tuple[str, ...], Said("off its shaft", hand=False)] = ()
    closes: Annotated[Turn, Said("way the sheave turns as it closes")] = ""
    wound: Annotated[Turn, Said("way the top was turned")] = ""
    wound_deg: Annotated[Wind | None, Said("spring wound")] = None
    sheave_hole: Annotated[Hole, Said("spring's hole in the sheave")] = ""
    helix_hole: Annotated[Hole, Said("spring's hole in the helix")] = ""
    weighed: Annotated[Mapping[str, Sequence[float | None]], Said("weighed", hand=False)] = field(default_factory=dict)
    radius_mm: Annotated[Mapping[str, float], Said("radius they turn on", hand=False)] = field(default_factory=dict)
    accepted: Annotated[Mapping[str, str], Said("why it is left so", hand=False)] = field(default_factory=dict)
    helper: Annotated[Name, Said("second person")] = ""


@dataclass(frozen=True)
class Expected:
    """What the set-up as recorded says the hands put in.

    `weights`, how many flyweights, `weight_g`, each with its loads [g], `loads` of each in words; `holes` of the
    secondary spring and `pretwist_deg`, None where it has none; `kit`, what the kits in it ask, as (key, sort, words).
    """

    weights: int = 0
    weight_g: float | None = None
    holes: tuple[str, str] | None = None
    pretwist_deg: float | None = None
    loads: str = ""
    kit: tuple[tuple[str, str, str], ...] = ()


def expected_of(weights: Mapping[str, Any] | None, secondary: Mapping[str, Any] | None) -> Expected:
    """What two blocks of a set-up document, `primary.weights` and `secondary`, say the hands put in."""
    each = weights or {}
    loads = sum(load["mass_g"] * load.get("pieces", 1) for load in each.get("loads", []))
    spring, holes = (secondary or {}).get("spring") or {}, (secondary or {}).get("holes")
    pair = (holes["fitted"]["sheave"], holes["fitted"]["helix"]) if holes else None
    twist = spring.get("pretwist_deg") or None
    if holes and pair:
        rows = {(row["sheave"], row["helix"]): row["pretwist_deg"] for row in holes["table"]}
        twist = rows.get(pair)
    mass = each["base_mass_g"] + loads if each else None
    told = ", ".join(_load(load) for load in each.get("loads", []))
    return Expected(each.get("count", 0), mass, pair, twist, told)


def _load(load: Mapping[str, Any]) -> str:
    pieces = load.get("pieces", 1)
    return f"{load['station']} {f'{pieces} × ' if pieces > 1 else ''}{said(load['mass_g'])} g"


NOTHING_EXPECTED = Expected()


@dataclass(frozen=True)
class Ask:
    """Something to be seen at a step, ticked as `key`: `sort` of it, a lubrication by what goes on."""

    key: str
    sort: Literal[
        "back",
        "mark",
        "unmarked",
        "facing",
        "none",
        "film",
        "grease",
        "as the manual says",
        "loads",
        "dry run",
        "stop",
        "second",
        "check",
    ]
    words: str
    seen: bool


@dataclass(frozen=True)
class Step:
    """A step of putting back: `part`, None for the checks at the end; its fasteners with what was done about them.

    `matched`, sets weighed here, with what the weighings come to; `wind`, whether the spring is wound here; `righted`,
    what was decided to be replaced and goes back here, with what was done; `amiss`, what is not as it should be, in
    words; `open`, what it still lacks.
    """

    side: Side
    key: str
    name: str
    part: ClutchPart | None
    asks: tuple[Ask, ...]
    fasteners: tuple[tuple[Fastener, Tightened], ...] = ()
    matched: tuple[tuple[Matched, int, Alike], ...] = ()
    wind: bool = False
    righted: tuple[tuple[Righting, ItemDone], ...] = ()
    amiss: tuple[str, ...] = ()
    open: tuple[tuple[str, str], ...] = ()

    @property
    def place(self) -> str:
        """Where it stands, `side.step`."""
        return f"{self.side}.{self.key}"


@dataclass(frozen=True)
class Bench:
    """All that putting back looks at: what was said, what was opened otherwise than to look, what the set-up says.

    `done` about items decided to be replaced; `new_belt`, whether a new belt goes on, None where the visit has none;
    `worked`, parts that stayed where they sit while their loads were changed; `kind_asked`, clutches something was
    changed on though nobody said of which kind they are.
    """

    rebuild: Rebuild = field(default_factory=Rebuild)
    tightened: Mapping[tuple[Side, str], Tightened] = field(default_factory=dict)
    otherwise: Opens = field(default_factory=dict)
    expected: Expected = NOTHING_EXPECTED
    done: Mapping[Place, ItemDone] = field(default_factory=dict)
    new_belt: bool | None = None
    worked: Opens = field(default_factory=dict)
    kind_asked: Sequence[Side] = ()

    @property
    def begun(self) -> bool:
        """Whether a hand has been at it."""
        tightened = any(each.state for each in self.tightened.values())
        return self.rebuild != Rebuild() or tightened or any(each != NOTHING_DONE for each in self.done.values())

    def opened(self, inspection: Inspection, *, all_of_it: bool = False) -> list[Opened]:
        """The clutches that have to go back together; `all_of_it`, with what a hand said did not come off."""
        off = together(self.came_off(inspection.kinds), self._for_new_parts(inspection))
        return opened(inspection, off, () if all_of_it else self.rebuild.left_on)

    def came_off(self, kinds: Kinds) -> Opens:
        """The parts that came off for something other than looking: a change, the belt, or the clutch off its shaft."""
        shafts = {side: to_depth(kind, OFF) for side, kind in clutches(kinds) if side in self.rebuild.off_shaft}
        return together(self.otherwise, shafts)

    @of_both
    def _for_new_parts(self, inspection: Inspection) -> Opens:
        """The parts that came off to fit others in place of what was to be replaced."""
        found: dict[Side, list[str]] = {}
        kinds = dict(clutches(inspection.kinds))
        out = {
            (each.side, part.key) for each in opened(inspection, self.came_off(inspection.kinds)) for part in each.parts
        }
        for each in hands.rightings(inspection, self.done):
            if self.done_of(each).how in FITTED and (each.side, each.part) not in out:
                found = together(found, {each.side: down_to(kinds[each.side], each.part)})
        return found

    def done_of(self, righting: Righting) -> ItemDone:
        """What was done about something decided to be replaced."""
        return self.done.get(righting.place, NOTHING_DONE)

    @of_both
    def steps(self, inspection: Inspection) -> list[Step]:
        """The steps of putting back, clutch by clutch: the way it came apart, backwards.

        What was decided to be replaced of a part nobody took off has a step of its own: what was done is asked there.
        """
        todo = hands.rightings(inspection, self.done)
        opened = {each.side: each for each in self.opened(inspection)}
        found = []
        for side, kind in clutches(inspection.kinds):
            clutch = opened.get(side)
            steps = list(self._steps(clutch, inspection, todo)) if clutch else []
            placed = {step.key for step in steps}
            for part in reversed(kind.guide.part):
                if part.key in placed:
                    continue
                righted = self._righted(side, part.key, todo)
                asks = self._where_it_sits(side, part)
                if righted or asks:
                    found.append(self._judged(Step(side, part.key, part.name, part, asks, righted=righted)))
            found += steps
        return found

    def _where_it_sits(self, side: Side, part: ClutchPart) -> tuple[Ask, ...]:
        """What is asked of a part that stayed on while its loads were changed."""
        if part.key not in self.worked.get(side, ()) or not self.expected.loads:
            return ()
        return (self._ask(f"{side}.{part.key}", "loads", "loads", self._alike()),)

    def _alike(self) -> str:
        return f"In every one alike, as the set-up says: {self.expected.loads}."

    @property
    def kit_side(self) -> Side:
        """The clutch at whose last part a kit's own asks stand."""
        return "primary" if "primary" in self.otherwise or "secondary" not in self.otherwise else "secondary"

    def _righted(self, side: Side, part: str, todo: Sequence[Righting]) -> tuple[tuple[Righting, ItemDone], ...]:
        here = (each for each in todo if (each.side, each.part) == (side, part))
        return tuple((each, self.done_of(each)) for each in here)

    def _steps(self, clutch: Opened, inspection: Inspection, todo: Sequence[Righting]) -> Iterator[Step]:
        marked = inspection.strip.marked
        back = [self._step(clutch, part, marked, todo) for part in reversed(clutch.parts)]
        checks = self._checks(clutch)
        # A clutch is checked before its bolt draws it up.
        if checks and back and back[-1].part and back[-1].part.shape == "bolt":
            yield from (*back[:-1], checks, back[-1])
        else:
            yield from (*back, *([checks] if checks else []))

    def back_in_sight(self, clutches_: Sequence[Opened]) -> set[str]:
        """What went back under a hand's eyes, as `side.key`: fasteners tightened, small parts of a part seen back."""
        found = set()
        for clutch in clutches_:
            found |= {
                f"{clutch.side}.{each.key}"
                for each in clutch.fasteners
                if self.tightened.get((clutch.side, each.key), UNTOUCHED).state
            }
            seen = {part.key for part in clutch.parts if f"{clutch.side}.{part.key}.back" in self.rebuild.seen}
            found |= {f"{clutch.side}.{each.key}" for each in clutch.kind.guide.loose if each.part in seen}
        return found

    def _ask(self, place: str, key: str, sort: Any, words: str) -> Ask:
        return Ask(key, sort, words, f"{place}.{key}" in self.rebuild.seen)

    def _step(self, clutch: Opened, part: ClutchPart, marked: Sequence[str], todo: Sequence[Righting]) -> Step:
        side, guide = clutch.side, clutch.kind.guide
        place = f"{side}.{part.key}"
        asks: list[tuple[str, str, str]] = [("back", "back", part.back)]
        if part.mark:
            made = place in marked
            words = part.mark if made else f"{part.mark} No mark is noted at Strip & inspect."
            asks.append(("mark", "mark" if made else "unmarked", words))
        if part.facing:
            asks.append(("facing", "facing", part.facing))
        for each in guide.lubrication:
            if part.key in each.parts:
                asks.append((f"lubrication_{guide.lubrication.index(each)}", each.what, each.text))
        fasteners = [each for each in guide.fastener if each.part == part.key]
        if self.expected.loads and any(each.of == "weights" and each.part == part.key for each in guide.matched):
            asks.append(("loads", "loads", self._alike()))
        if any(each.people > 1 for each in fasteners):
            asks.append(("second", "second", "A second person holds."))
        if part.dry_run:
            asks.append(("dry_run", "dry run", part.dry_run))
        if part.stop:
            asks.append(("stop", "stop", part.stop))
        if part is clutch.parts[0] and side == self.kit_side:
            asks += self.expected.kit
        done = tuple((each, self.tightened.get((side, each.key), UNTOUCHED)) for each in fasteners)
        sets = tuple(self._weighed(side, each) for each in guide.matched if each.part == part.key)
        step = Step(
            side, part.key, part.name, part, tuple(self._ask(place, *each) for each in asks), done, sets, part.wound,
            self._righted(side, part.key, todo),
        )  # fmt: skip
        return self._judged(step)

    def _checks(self, clutch: Opened) -> Step | None:
        shapes = {part.shape for part in clutch.parts}
        if "helix" in shapes:
            asked, name = dict(CHECKS), "Three checks by hand"
            if not any(part.wound for part in clutch.kind.guide.part):
                asked, name = {key: words for key, words in CHECKS.items() if key != "no_twist"}, "Two checks by hand"
        elif shapes & RETURNS:
            asked, name = RETURN, "Full return by hand"
        else:
            return None
        place = f"{clutch.side}.checks"
        asks = tuple(self._ask(place, key, "check", words) for key, words in asked.items())
        return self._judged(Step(clutch.side, "checks", name, None, asks))

    def _weighed(self, side: Side, matched: Matched) -> tuple[Matched, int, Alike]:
        count = matched.count or self.expected.weights
        return matched, count, alike(self.rebuild.weighed.get(f"{side}.{matched.key}", ()), count, matched.spread_g)

    def _judged(self, step: Step) -> Step:
        amiss = [*self._unlike(step), *(self._wound() if step.wind else [])]
        lacks = [
            (step.place, words) for each, done in step.righted for words in hands.settled(each, done, self.new_belt)
        ]
        lacks += [(step.place, f"{ask.words.rstrip('.')}: not seen") for ask in step.asks if not ask.seen]
        for fastener, done in step.fasteners:
            if words := settled(done, fastener.tightness):
                lacks.append((step.place, lacking(fastener, words)))
        for matched, _, found in step.matched:
            if matched.of == "weights" and found.missing:
                lacks.append((step.place, f"{matched.name.lower()}: weighed one by one"))
        if step.wind and not self.rebuild.closes:
            lacks.append((step.place, "which way the sheave turns as it closes"))
        if step.wind and not self.rebuild.wound:
            lacks.append((step.place, "which way the top was turned"))
        accepted = bool(self.rebuild.accepted.get(step.place, "").strip())
        lacks += [(step.place, each) for each in amiss if each == WRONG_WAY or not accepted]
        return replace(step, amiss=tuple(amiss), open=tuple(lacks))

    def _unlike(self, step: Step) -> Iterator[str]:
        for matched, _, found in step.matched:
            if found.spread_g is None or found.mean_g is None:
                continue
            name = matched.name.lower()
            if not found.alike:
                yield f"{name}: {said(found.spread_g)} g apart, {said(matched.spread_g)} g is allowed"
            each = self.expected.weight_g
            if matched.of == "weights" and each is not None and abs(found.mean_g - each) > MASS_OFF_G:
                yield f"{name}: {said(round(found.mean_g, 2))} g each, the set-up says {said(round(each, 2))} g"

    def _wound(self) -> Iterator[str]:
        held, said_of = self.rebuild, self.expected
        if held.closes and held.wound and held.closes != held.wound:
            yield WRONG_WAY
        stands = (held.sheave_hole, held.helix_hole)
        if said_of.holes and all(stands) and stands != said_of.holes:
            yield f"spring in {'–'.join(stands)}, the set-up says {'–'.join(said_of.holes)}"
        if (
            held.wound_deg is not None
            and said_of.pretwist_deg
            and abs(held.wound_deg - said_of.pretwist_deg) > WIND_OFF_DEG
        ):
            yield f"spring wound {said(held.wound_deg)}°, the set-up says {said(said_of.pretwist_deg)}°"


def lacks(bench: Bench, inspection: Inspection) -> Iterator[tuple[str, str]]:
    """What stands between putting back and a sign-off, as (field, words).

    What is amiss and what is owed by name; steps not begun are counted by clutch.
    """
    for side in bench.kind_asked:
        yield f"{side}_kind", f"{side}: of which kind it is: what its change opened has to go back"
    waiting: dict[Side, list[tuple[Step, list[str]]]] = {}
    for step in bench.steps(inspection):
        amiss = [words for words in step.amiss if (step.place, words) in step.open]
        yield from ((step.place, words) for words in amiss)
        owed = [fastener for fastener, done in step.fasteners if done.state == "owed"]
        yield from ((step.place, f"torque owed: {of_side(each.place.lower(), step.side)}") for each in owed)
        undone = [words for each, done in step.righted for words in hands.settled(each, done, bench.new_belt)]
        yield from ((step.place, f"{step.side}: {words}") for words in undone)
        said_so = {*amiss, *undone, *(lacking(each, "torque owed") for each in owed)}
        rest = [words for _, words in step.open if words not in said_so]
        if rest:
            waiting.setdefault(step.side, []).append((step, rest))
    for side, steps in waiting.items():
        (first, rest), *others = steps
        words = rest[0] if len(rest) == 1 else f"{first.name[:1].lower()}{first.name[1:]}"
        yield first.place, f"putting back the {side}: {f'{len(steps)} steps' if others else words}"
