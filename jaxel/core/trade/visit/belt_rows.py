"""The belt on the page: what was found of it, what was decided, what went on, and who breaks it in."""

from collections.abc import Iterator

from jaxel.core.words import q

from ..belt.look import SEARCHES, answers_to, failure_in_short, patterns
from ..belt.wear import assess
from ..line_up import break_in
from .record import VisitRecord
from .sheet import Line


def wrong(visit: VisitRecord, round_mm: float) -> Iterator[Line]:
    """What was wrong with the belt, as far as it was looked at: how it is worn or failed, and what the eye found."""
    belt, widths = visit.belt, visit.widths_mm
    if widths:
        new, limit = visit.belt_limits_mm
        yield Line(f"Belt: {assess([widths[each] for each in sorted(widths)], new, limit).reason}")
    elif belt.no_width:
        yield Line("Belt: " + ", ".join(filter(None, (belt.no_width, failure_in_short(belt.failure)))))
    for each in patterns(list(visit.marks), round_mm):
        yield Line(f"{each.name}: {each.means}")


DECIDED = {"run on": "runs on", "spare": "kept as a marked spare", "discard": "discarded"}


def found(visit: VisitRecord, limit_origin: str, round_mm: float) -> Iterator[Line]:
    belt, widths = visit.belt, visit.widths_mm
    new, limit = visit.belt_limits_mm
    if widths:
        places = sorted(widths)
        told = " / ".join(str(q(widths[each], "mm", 2, bare=each != places[-1])) for each in places)
        where = "" if places == [1, 2, 3] else f" at places {', '.join(map(str, places))}"
        yield Line(f"{told}{where} (new {q(new, 'mm')}, limit {q(limit, 'mm')}: {limit_origin})")
        yield Line(assess([widths[each] for each in places], new, limit).reason)
    elif belt.no_width:
        said = {key: getattr(belt, key) for key in SEARCHES if getattr(belt, key)}
        searched = (f"{SEARCHES[key]}: {answers_to(key)[each]}" for key, each in said.items())
        failed = failure_in_short(belt.failure)
        yield Line(" · ".join((", ".join(filter(None, (belt.no_width, failed))), *searched)))
        if belt.cause:
            yield Line(f"cause {belt.cause}" + (f": {belt.cause_words}" if belt.cause_words else ""))
    else:
        yield Line(f"not measured: {belt.unmeasured}" if belt.unmeasured.strip() else "not measured")
    for each in patterns(list(visit.marks), round_mm):
        yield Line(f"{each.name}: {each.means}")


def decision(visit: VisitRecord) -> str:
    """What was decided of the belt that came in, with its reason."""
    belt = visit.belt
    words = DECIDED[belt.decision] if belt.decision else "not decided"
    return words + (f": {belt.reason}" if belt.reason else "")


def decided(visit: VisitRecord) -> Iterator[Line]:
    belt = visit.belt
    yield Line(decision(visit))
    if belt.replaced:
        yield Line(_fitted(visit), "amiss" if belt.waits else "plain")
    if belt.went_on or belt.risen:
        told = [
            f"went on {belt.went_on}" if belt.went_on else "",
            "tool out, turned by hand until it rode where it should" if belt.risen else "",
        ]
        yield Line("; ".join(each for each in told if each))


def fitted(visit: VisitRecord) -> bool:
    """Whether a hand said that another belt went on: decided is not done."""
    belt = visit.belt
    return belt.replaced and not belt.waits and bool(belt.next_is or belt.next_belt_id is not None)


WENT_ON = {"new": "new one fitted", "used": "used one fitted", "": "fitting not recorded"}


def _fitted(visit: VisitRecord) -> str:
    belt = visit.belt
    if belt.waits:
        return f"none fitted: {belt.waits}"
    price = [f"{belt.next_price:,.2f}"] if belt.next_price is not None else []
    return ", ".join((went_on(visit), *price))


def went_on(visit: VisitRecord) -> str:
    """What went on in place of the belt that came in, as far as a hand said."""
    belt = visit.belt
    words = ["a spare of this machine fitted" if belt.next_belt_id is not None else WENT_ON[belt.next_is]]
    words += [belt.next_number] if belt.next_number else []
    if belt.next_width_mm is not None:
        words.append(str(q(belt.next_width_mm, "mm")))
    elif belt.next_as_numbered:
        words.append("width as its number says, not measured")
    words += [f"{q(belt.next_length_mm, 'mm')} round"] if belt.next_length_mm else []
    return ", ".join(words)


def broken_in(visit: VisitRecord) -> str:
    counted = break_in.counted(visit.cycles, visit.intake.temperature_c)
    words = f"{counted} of {visit.cycles_asked} heat cycles"
    if visit.break_in.released == "released":
        return f"{words}, released to the road"
    if visit.break_in.released == "by the rider":
        return f"to be done by the rider: {break_in.instruction(visit.cycles_asked)}"
    return f"{words}, overruled: {visit.break_in.reason}" if visit.break_in.released == "overruled" else words


def why_not_measured(visit: VisitRecord) -> str:
    if visit.intake.no_tachometer:
        return "no tachometer"
    return "not measured: the belt is to be broken in first" if still_to_break_in(visit) else "not measured"


def still_to_break_in(visit: VisitRecord) -> bool:
    """Whether the machine leaves on a belt that has not been broken in."""
    return visit.belt.new_one and visit.break_in.released == "by the rider"
