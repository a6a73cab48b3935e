"""The page a rider takes along: may it leave, what was wrong, what was done, and what to look at, on one sheet.

Made from the same records as the whole page; it says only what stands there.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal, TypeVar

from jaxel.core.words import q

from ..kinds.kinds import of_side
from ..line_up import break_in
from ..rebuild.done import FITTED, rightings, told
from ..run.scores import PredictedFigures
from ..strip.procedure import chosen
from ..strip.strip import LookedInto, looked_into
from . import belt_rows
from .record import VisitRecord
from .sheet import Line, Tight, as_line

T = TypeVar("T")

Leaves = Literal["may", "as it is", "not yet", "no"]

MOST_WRONG, MOST_DONE, MOST_CHANGED, MOST_TORQUED = 5, 12, 9, 9
"""What one sheet has room for; what does not fit is counted, and stands whole in the record."""


@dataclass(frozen=True)
class Leave:
    """Whether it may leave, in a sentence, and why not or with what."""

    state: Leaves
    words: str
    why: tuple[str, ...] = ()


@dataclass(frozen=True)
class Did:
    """Something done: what, with which part, at what price."""

    what: str
    part: str = ""
    price: float | None = None


@dataclass(frozen=True)
class Speed:
    """An engine speed with its deviation [rpm], and how it is known."""

    rpm: float
    sd_rpm: float
    how: Literal["measured", "predicted"]


@dataclass(frozen=True)
class Wanted:
    """A window somebody stated [rpm]."""

    rpm: float
    tolerance_rpm: float


@dataclass(frozen=True)
class Compared:
    """A figure before and after, and its window, None where nobody stated one."""

    name: str
    before: Speed | None
    after: Speed | None
    wanted: Wanted | None


@dataclass(frozen=True)
class Pair:
    """Two cells beside a name: as found and as left, or a value alone."""

    name: str
    found: str
    left: str
    changed: bool = False


@dataclass(frozen=True)
class LookAt:
    """What to look at, why or after what, and when."""

    what: str
    when: str


@dataclass(frozen=True)
class Rider:
    """The rider's sheet. `belt`, its name first, then what is known and what to do; `torqued`, a fastener and how
    tight; `who`, who tightened and fitted; `noted`, whose hands wrote the record, none of a sheet kept without."""

    leave: Leave
    wrong: tuple[Line, ...]
    done: tuple[Did, ...]
    total: float | None
    belt: tuple[str, ...]
    steps: tuple[str, ...]
    compared: tuple[Compared, ...]
    pairs: tuple[Pair, ...]
    torqued: tuple[Pair, ...]
    look_at: tuple[LookAt, ...]
    who: tuple[str, ...]
    noted: tuple[str, ...] = ()


@dataclass(frozen=True)
class Ground:
    """What the sheet tells besides the visit's records: lines of the whole page, figures, and what stands open.

    `lined_up`, what a line-up that was measured came to; `found` and `left`, what was predicted; `before` and `after`,
    what was measured, by figure with its deviation; `round_mm`, the belt's length; `hands` that wrote the record;
    `unnamed`, what a hand is called that gave no name.
    """

    open_things: Sequence[str]
    signed: bool
    unrepaired: str
    faults: Sequence[Line]
    undone: Sequence[Line]
    put_back: Sequence[Line | Tight]
    counted: Sequence[Line]
    changed: Sequence[tuple[str, str, str]]
    fitted: Sequence[str]
    lined_up: Sequence[Line]
    found: PredictedFigures | None
    left: PredictedFigures | None
    before: dict[str, tuple[float, float]]
    after: dict[str, tuple[float, float]]
    belt_number: str
    limit_origin: str
    round_mm: float
    hands: Sequence[str]
    unnamed: str


def rider_page(visit: VisitRecord, ground: Ground) -> Rider:
    """The rider's sheet of a visit as it stands."""
    done = tuple(_done(visit, ground))
    prices = [each.price for each in done if each.price is not None]
    return Rider(
        leave=_leave(visit, ground),
        wrong=_some(tuple(_wrong(visit, ground)), MOST_WRONG, lambda more: Line(f"and {more} more in the record")),
        done=_some(done, MOST_DONE, lambda more: Did(f"and {more} more in the record")),
        total=sum(prices) if prices else None,
        belt=tuple(_belt(visit, ground)),
        steps=tuple(_steps(visit)),
        compared=tuple(_compared(visit, ground)),
        pairs=_some(tuple(_pairs(visit, ground)), MOST_CHANGED, lambda more: Pair(f"and {more} more", "", "")),
        torqued=_some(tuple(_torqued(ground)), MOST_TORQUED, lambda more: Pair(f"and {more} more", "", "")),
        look_at=tuple(_look_at(visit)),
        who=tuple(name for name in _who(visit) if name != ground.unnamed),
        noted=tuple(name for name in ground.hands if name != ground.unnamed),
    )


def _some(rows: tuple[T, ...], most: int, rest: Callable[[int], T]) -> tuple[T, ...]:
    return rows if len(rows) <= most else (*rows[: most - 1], rest(len(rows) - most + 1))


def _leave(visit: VisitRecord, ground: Ground) -> Leave:
    lines = (*ground.faults, *ground.undone, *map(as_line, ground.put_back), *ground.counted)
    amiss = [line.words for line in lines if line.tone == "amiss"]
    if visit.belt.waits:
        amiss.append(f"no belt fitted: {visit.belt.waits}")
    if ground.unrepaired:
        return Leave("no", "It goes back unrepaired." if visit.scope == "bench" else "It leaves unrepaired.",
                     (ground.unrepaired, *amiss))  # fmt: skip
    if not ground.signed and ground.open_things:
        count = len(ground.open_things)
        words = f"Not yet: {count} {'thing is' if count == 1 else 'things are'} open."
        return Leave("not yet", words, tuple(ground.open_things))
    if amiss:
        return Leave("as it is", "It leaves as it is, with what stands here.", tuple(amiss))
    if not ground.signed:
        return Leave("not yet", "Not yet: nothing stands open, and nobody has signed.")
    words = "It may leave." if visit.scope != "bench" else "It may go back."
    return Leave("may", words, tuple(_closed(visit, ground)))


def _closed(visit: VisitRecord, ground: Ground) -> Iterator[str]:
    """What stands behind “may leave”: each only where a hand said it."""
    if any(isinstance(each, Tight) for each in ground.put_back):
        yield "what was opened is tightened as it says below"
    if ground.counted and not any(line.tone == "amiss" for line in ground.counted):
        yield "what came out is counted in"
    if visit.hand_over.guard_on:
        yield "guard and duct are back on"


def _wrong(visit: VisitRecord, ground: Ground) -> Iterator[Line]:
    if visit.intake.complaint.strip():
        yield Line(f"“{visit.intake.complaint.strip()}”")
    yield from ground.faults
    if visit.scope != "bench":
        yield from belt_rows.wrong(visit, ground.round_mm)
    for side, item in visit.inspection.items():
        verdict = visit.inspection.verdict(side, item)
        if verdict.decision == "replace" and verdict.sentences:
            yield Line(f"{of_side(item.name, side)}: {verdict.sentences[0]}")


def _done(visit: VisitRecord, ground: Ground) -> Iterator[Did]:
    if belt_rows.fitted(visit):
        yield Did("Belt changed", belt_rows.went_on(visit), visit.belt.next_price)
    elif visit.belt.went_on and not visit.belt.replaced:
        yield Did("Belt off and on again", visit.belt.went_on)
    for job in chosen(visit.inspection.strip.jobs, visit.inspection.kinds):
        yield Did(of_side(job.procedure.name, job.side))
    for each in rightings(visit.inspection, visit.bench.done):
        done = visit.bench.done_of(each)
        if done.how and done.how != "not done":
            name = of_side(f"{each.name[:1].upper()}{each.name[1:]}", each.side)
            yield Did(name, told(each, done), done.price if done.how in FITTED else None)
    yield from (Did("Set-up", words) for words in ground.fitted)
    if ground.changed:
        yield Did("Set-up changed", "as below")
    if ground.lined_up:
        yield Did("Line-up measured", "; ".join(line.words for line in ground.lined_up))
    yield from map(_looked, looked_into(visit.inspection))


def _looked(clutch: LookedInto) -> Did:
    """A clutch looked at: how far, how many items, and what came of it."""
    count = clutch.sound + clutch.watched + clutch.worn
    worn = [f"{many} {what}" for many, what in ((clutch.worn, "to be replaced"), (clutch.watched, "watched")) if many]
    how_far = f", {clutch.how_far}" if clutch.how_far else ""
    items = f"{count} {'item' if count == 1 else 'items'}: {', '.join(worn) or 'nothing worn seen'}"
    return Did(f"Looked at: {clutch.side}{how_far}", items)


def _belt(visit: VisitRecord, ground: Ground) -> Iterator[str]:
    """The belt it leaves on: its name, how wide, and the limit with its origin."""
    if visit.scope == "bench" or visit.belt.waits:
        return
    new, limit = visit.belt_limits_mm
    belt = visit.belt
    if belt.replaced:
        name, width = belt.next_number, belt.next_width_mm
    else:
        widths = list(visit.widths_mm.values())
        name, width = ground.belt_number, sum(widths) / len(widths) if widths else None
    yield f"Your belt: {name}" if name else "Your belt"
    known = f"{q(width, 'mm', 1)} wide" if width is not None else f"{q(new, 'mm')} wide when new, not measured now"
    yield f"{known}, worn out at {q(limit, 'mm')} ({ground.limit_origin})"


def _steps(visit: VisitRecord) -> Iterator[str]:
    if visit.scope == "bench" or visit.belt.waits:
        return
    if visit.belt.decision == "run on" and visit.belt.reason:
        yield f"It {belt_rows.decision(visit)}."
    if not visit.belt.new_one:
        return
    if visit.break_in.released == "by the rider":
        yield f"To break it in: {break_in.instruction(visit.cycles_asked)}."
    elif visit.break_in.released:
        yield f"Break-in: {belt_rows.broken_in(visit)}."


def _compared(visit: VisitRecord, ground: Ground) -> Iterator[Compared]:
    windows = visit.intake.stated_windows if visit.scope != "bench" else None
    for place, (name, figure) in enumerate((("Engages at", "Engagement"), ("Pulls at", "Shift"))):
        before = _known(figure, ground.before, ground.found)
        after = _known(figure, ground.after, ground.left)
        if before or after:
            yield Compared(name, before, after, Wanted(*windows[place]) if windows else None)


def _known(figure: str, measured: dict[str, tuple[float, float]], predicted: PredictedFigures | None) -> Speed | None:
    """What was measured goes before what was predicted."""
    if figure in measured:
        return Speed(*measured[figure], "measured")
    if predicted is None:
        return None
    if figure == "Engagement":
        return Speed(predicted.engagement_rpm, predicted.engagement_sd_rpm, "predicted")
    return Speed(predicted.shift_rpm, predicted.shift_sd_rpm, "predicted")


def _pairs(visit: VisitRecord, ground: Ground) -> Iterator[Pair]:
    for name, found, left in ground.changed:
        yield Pair(name, found, left, changed=True)
    widths = list(visit.widths_mm.values())
    if widths and visit.scope != "bench":
        found = str(q(sum(widths) / len(widths), "mm", 1))
        belt = visit.belt
        left = str(q(belt.next_width_mm, "mm", 1)) if belt.replaced and belt.next_width_mm else ""
        yield Pair("Belt width", found, left or ("not measured" if belt.replaced else found), changed=belt.replaced)


def _torqued(ground: Ground) -> Iterator[Pair]:
    for each in ground.put_back:
        if isinstance(each, Tight):
            yield Pair(each.name, "", each.how, changed=each.amiss)


def _look_at(visit: VisitRecord) -> Iterator[LookAt]:
    if visit.hand_over.watch.strip():
        yield LookAt(visit.hand_over.watch.strip(), "")
    for side, item in visit.inspection.items():
        verdict = visit.inspection.verdict(side, item)
        if verdict.decision == "watch":
            again = f"at {q(verdict.check.km, 'km', 0)}" if verdict.check and verdict.check.km else ""
            yield LookAt(of_side(item.name, side), again)
    if visit.scope != "bench":
        read = ((visit.hand_over.next_service_km, "km"), (visit.hand_over.next_service_h, "h"))
        at = [str(q(value, unit)) for value, unit in read if value is not None]
        if at:
            yield LookAt("Clutch service", f"at {' or '.join(at)}")


def _who(visit: VisitRecord) -> Iterator[str]:
    """Who tightened and fitted, by what each noted; who signed stands beside."""
    bench = visit.bench
    names = [bench.done_of(each).by for each in rightings(visit.inspection, bench.done)]
    names += [done.who for step in bench.steps(visit.inspection) for _, done in step.fasteners]
    yield from dict.fromkeys(name for name in names if name)
