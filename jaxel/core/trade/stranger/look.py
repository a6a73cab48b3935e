"""A strange machine as its readings so far make it: how sure its figures are, what is worth measuring next, and which
readings contradict each other."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from math import sqrt

import numpy as np

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.formats.paths import value_at, with_value
from jaxel.core.formats.reading import validate
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.formats.setup.setup import SetupDocument

from ..kinds.kinds import SIDES, Side
from ..setup.discrepancy import floor_rpm
from ..setup.evidence import input_name
from ..setup.figures import ENGAGEMENT, MEAN, figures_of
from ..setup.worth import Variances, promised, variances
from .combination import MINUTES, Combination, combination
from .far import ask_if_far
from .measure import in_words, scale, stands
from .reading import Reading, Settled, Typed, readings
from .readings import missing, settle, with_values

CONTRADICTS = 2.5
"""Two readings of one number further apart than so many of their deviations contradict each other."""

RUN_DEVIATIONS_RPM = (75.0, 50.0)
"""Standard deviation of an engagement and a shift read off a tachometer [rpm]; as calibration takes them."""


@dataclass(frozen=True)
class Question:
    """Two readings of one number that contradict each other: which of them holds? Until answered neither does."""

    path: str
    name: str
    readings: tuple[str, str]
    words: tuple[str, str]


@dataclass(frozen=True)
class Line:
    """A reading in the list of what is worth measuring.

    `state`: `open`; `taken`; `asked`, which of two; `far`, whether it is so, with what was likely `meant`, in words
    and as one would type it; `half` read; `refused`: these with `field` and `reason`. `stands` in words, what is known
    of it now; `engagement_rpm` and `shift_rpm`, what it would take off their deviations, should it read what is
    expected, or took: below 0 where it adds to them. `moved_rpm`, how far a reading taken has moved engagement and
    shift themselves.
    """

    reading: Reading
    state: str
    stands: str
    origin: str
    engagement_rpm: float
    shift_rpm: float
    moved_rpm: tuple[float, float] = (0.0, 0.0)
    notes: tuple[str, ...] = ()
    field: str = ""
    reason: str = ""
    meant: tuple[str, str] = ("", "")

    @property
    def key(self) -> str:
        """Which reading it is."""
        return self.reading.key

    @property
    def paths(self) -> tuple[str, ...]:
        """What it settles."""
        return (*self.reading.paths, *_more(self.reading))

    @property
    def minutes(self) -> float:
        """How long it takes."""
        return self.reading.minutes

    @property
    def not_taken(self) -> bool:
        """Whether something was typed of it that settles nothing."""
        return self.state not in ("open", "taken")

    @property
    def worth(self) -> float:
        """What a minute of it takes off engagement and shift together [rpm/min]."""
        return (self.engagement_rpm + self.shift_rpm) / self.reading.minutes


@dataclass(frozen=True)
class Look:
    """A machine as its readings so far make it: the set-up, the readings in order of worth, and what is to be asked.

    Deviations of engagement and shift [rpm] now and after a run; `best`, what to look at in the time there is; `counts`
    of the numbers by origin; `unequal` weights found [g].
    """

    document: SetupDocument
    lines: tuple[Line, ...]
    questions: tuple[Question, ...]
    sd_rpm: tuple[float, float]
    after_run_rpm: tuple[float, float]
    best: Combination
    counts: Mapping[str, int] = field(default_factory=dict)
    unequal: tuple[float, ...] = ()


def look(
    document: SetupDocument,
    taken: Mapping[str, Typed],
    *,
    prefer: Mapping[str, str] = {},
    stamps: Mapping[str, float] = {},
    sides: Sequence[Side] = SIDES,
    sure: Collection[str] = (),
    minutes: float = MINUTES,
) -> Look:
    """What readings make of a machine.

    Parameters: `document`, the package or the set-up they are taken of; `taken`, what is typed by reading and field;
    `prefer`, of a path that two readings contradict each other on, the reading that holds; `sides`, the clutches there
    are: of a bare clutch only what is read of itself is asked. What is refused settles nothing. Raises InvalidValue
    where the set-up itself cannot work.

    Reference: JCGM 100:2008, 5.1.2, as `trade.evidence.worths`.
    """
    known = [
        each
        for each in readings(document)
        if (stamps or each.form != "stamp" or each.key in taken) and (_is_of(each, sides) or each.key in taken)
    ]
    typed = {key: fields for key, fields in taken.items() if any(text.strip() for text in fields.values())}
    typical, settled, wrong = _settle_all(document, known, typed, stamps, sure)
    holds, questions = _which_hold(typical, known, settled, prefer)
    now = _with_evidence(typical, known, settled, holds)
    spread = variances(now)
    engagement, shift = spread.deviation()
    before = variances(document) if settled else spread
    moved = _moved(document, now, settled)
    lines = [_line(before, now, spread, each, settled, wrong, questions, moved) for each in known]
    by = (
        1 / sqrt(1 / engagement**2 + 1 / (RUN_DEVIATIONS_RPM[0] ** 2 + floor_rpm() ** 2)),
        1 / sqrt(1 / shift**2 + 1 / (RUN_DEVIATIONS_RPM[1] ** 2 + floor_rpm() ** 2)),
    )
    counts: dict[str, int] = {}
    for one in spread.inputs:
        if one.path.startswith("model.") or one.along:
            continue
        counts[one.origin] = counts.get(one.origin, 0) + 1
    order = {"refused": 0, "asked": 0, "far": 0, "half": 0, "open": 1, "taken": 2}
    lines.sort(key=lambda line: (order[line.state], -line.worth))
    unequal = next((each.unequal for each in settled.values() if each.unequal), ())
    best = combination([line for line in lines if line.state == "open"], (engagement, shift), minutes)
    return Look(now, tuple(lines), tuple(questions), (engagement, shift), by, best, counts, unequal)


def _is_of(reading: Reading, sides: Sequence[Side]) -> bool:
    """Whether a reading can be taken of what is here: of a whole machine any, of a bare clutch its own."""
    return len(sides) == len(SIDES) or all(path.partition(".")[0] in sides for path in reading.paths)


def _settle_all(
    document: SetupDocument,
    known: Sequence[Reading],
    taken: Mapping[str, Typed],
    stamps: Mapping[str, float],
    sure: Collection[str],
) -> tuple[SetupDocument, dict[str, Settled], dict[str, InvalidValue]]:
    """What is then typical, what is settled, and what is refused or asked about, by reading.

    A new belt's width is typical of the fitted one too: as much above it as it always stood.

    One that another stands in the way of is tried again once that one is settled: a belt is no wider than the new one,
    whichever of the two was typed first.
    """
    settled: dict[str, Settled] = {}
    wrong: dict[str, InvalidValue] = {}
    now = typical = document
    # What others are computed with, or held to, comes first.
    waiting = sorted(
        (each for each in known if each.key in taken), key=lambda one: (one.key != NEW, one.form != "value")
    )
    while waiting:
        left = []
        for each in waiting:
            try:
                found = settle(now, each, taken[each.key], stamps)
                if found is None:
                    wrong[each.key] = _half(each, taken[each.key])
                    continue
                if each.key not in sure:
                    ask_if_far(typical, each, found, taken[each.key])
                if each.key == NEW:
                    typical = with_values(typical, _fitted_under(typical, found))
                    now = with_values(now, _fitted_under(now, found))
                now = _taken_up(now, each, found)
                settled[each.key] = found
                wrong.pop(each.key, None)
            except InvalidValue as error:
                wrong[each.key] = error
                left.append(each)
        if len(left) == len(waiting):
            break
        waiting = left
    return typical, settled, wrong


NEW, FITTED = "belt_new", "belt.top_width_mm"


def _fitted_under(document: SetupDocument, found: Settled) -> dict[str, float]:
    belt = document.belt
    return {FITTED: belt.top_width_mm + found.values["belt.top_width_new_mm"] - belt.top_width_new_mm}


class HalfRead(InvalidValue):
    """A reading of which some fields are still empty: it settles nothing."""


def _half(reading: Reading, typed: Typed) -> HalfRead:
    first = missing(reading, [name for name, text in typed.items() if text.strip()])[0]
    return HalfRead(f"{reading.key}.{first.name}", f"still needs: {first.label}")


def _taken_up(document: SetupDocument, reading: Reading, found: Settled) -> SetupDocument:
    """The set-up with what a reading settled; raises InvalidValue, field `KEY.FIELD`, for what cannot be."""
    try:
        return _checked(with_values(document, found.values))
    except InvalidValue as error:
        raise InvalidValue(f"{reading.key}.{reading.fields[0].name}", error.reason) from None


def _checked(document: SetupDocument) -> SetupDocument:
    """The set-up, its parts checked together again."""
    whole = validate(SetupDocument, document.model_dump(exclude_none=True, exclude={"evidence"}))
    whole.core()
    return whole.model_copy(update={"evidence": document.evidence})


def _which_hold(
    document: SetupDocument, known: Sequence[Reading], settled: Mapping[str, Settled], prefer: Mapping[str, str]
) -> tuple[dict[str, str | None], list[Question]]:
    """Of every path settled, the reading that holds; None for one that contradicts another, with its question."""
    names = {each.key: each.name for each in known}
    holds: dict[str, str | None] = {}
    questions = []
    for path in dict.fromkeys(path for each in settled.values() for path in each.values):
        keys = [key for key, each in settled.items() if path in each.values]
        best = min(keys, key=lambda key: settled[key].sd.get(path, 0.0))
        others = [key for key in keys if key != best]
        against = next((key for key in others if _apart(path, settled[best], settled[key]) > CONTRADICTS), None)
        if prefer.get(path) in keys:
            best, against = prefer[path], None
        holds[path] = None if against else best
        if against:
            first, second = sorted((best, against), key=list(settled).index)
            words = tuple(f"{names[key]}: {in_words(path, settled[key].values[path])}" for key in (first, second))
            questions.append(Question(path, input_name(path), (first, second), (words[0], words[1])))
    return holds, questions


def _apart(path: str, one: Settled, other: Settled) -> float:
    """How many of their deviations two readings of one number are apart; of a table, by its mean."""
    first, second = (scale(each.values[path]) for each in (one, other))
    if first is None or second is None:
        return 0.0
    sds = [
        each.sd.get(path, 0.0) * (abs(scale) if isinstance(each.values[path], list) else 1.0)
        for each, scale in ((one, first), (other, second))
    ]
    return abs(first - second) / max(sqrt(sds[0] ** 2 + sds[1] ** 2), 1e-9)


def _with_evidence(
    document: SetupDocument, known: Sequence[Reading], settled: Mapping[str, Settled], holds: Mapping[str, str | None]
) -> SetupDocument:
    origins = {each.key: each.origin for each in known}
    now, evidence = document, dict(document.evidence or {})
    for path, key in holds.items():
        if key is None:
            continue
        now = with_value(now, path, settled[key].values[path])
        for told, sd in settled[key].sd.items():
            if told == path or told.startswith(f"{path}."):
                evidence[told] = EvidencePart(origin=origins[key], sd=sd)
    return _checked(now.model_copy(update={"evidence": evidence}))


def _line(
    before: Variances,
    now: SetupDocument,
    spread: Variances,
    reading: Reading,
    settled: Mapping[str, Settled],
    wrong: Mapping[str, InvalidValue],
    questions: Sequence[Question],
    moved: Mapping[str, tuple[float, float]],
) -> Line:
    done, error = settled.get(reading.key), wrong.get(reading.key)
    asked = any(reading.key in each.readings for each in questions)
    paths = frozenset(done.sd if done and not asked else (*reading.paths, *_more(reading)))
    state = _state(error) if error else "asked" if asked else "taken" if done else "open"
    if state == "taken":
        engagement, shift = _took(before, spread, paths)
    else:
        engagement, shift = promised(now, spread, reading.origin, paths)
    stated = (now.evidence or {}).get(reading.paths[0])
    field_ = error.field.split(".", maxsplit=1)[-1] if error else ""
    return Line(
        reading,
        state,
        stands(now, reading),
        stated.origin if stated else "typical",
        engagement,
        shift,
        moved.get(reading.key, (0.0, 0.0)),
        done.notes if done else (),
        field_,
        error.reason if error else "",
        _meant(error),
    )


def _state(error: InvalidValue) -> str:
    return "half" if isinstance(error, HalfRead) else "far" if isinstance(error, Implausible) else "refused"


def _meant(error: InvalidValue | None) -> tuple[str, str]:
    """What was likely meant, in words and as it would be typed; empty where nothing stands out."""
    if not isinstance(error, Implausible) or not error.words:
        return "", ""
    return error.words, str(next(iter(error.meant.values())))


def _moved(
    document: SetupDocument, now: SetupDocument, settled: Mapping[str, Settled]
) -> dict[str, tuple[float, float]]:
    """How far each reading taken has moved engagement and shift [rpm]: against what stood there before it."""
    without = []
    for key, each in settled.items():
        paths = [*each.values, *([FITTED] if key == NEW and "belt_width" not in settled else [])]
        without.append(with_values(now, {path: value_at(document, path) for path in paths}))
    here, *others = figures_of([now, *without]).values[:, [ENGAGEMENT, MEAN]]
    steps = (np.nan_to_num(here - other) for other in others)
    return {key: (float(step[0]), float(step[1])) for key, step in zip(settled, steps, strict=True)}


def _more(reading: Reading) -> tuple[str, ...]:
    """What a reading settles besides its own numbers: two weighings give the mass too."""
    return ("primary.weights.base_mass_g",) if reading.form == "arm_centre" else ()


def _took(before: Variances, spread: Variances, paths: frozenset[str]) -> tuple[float, float]:
    """What readings of these paths took off the deviations: what those would be with the variances of before; below 0
    where they added to them."""
    took = []
    for had, has, here in zip(
        (before.engagement, before.shift), (spread.engagement, spread.shift), spread.deviation(), strict=True
    ):
        was = sum(float(each) for one, each in zip(before.inputs, had, strict=True) if one.table in paths)
        now = sum(float(each) for one, each in zip(spread.inputs, has, strict=True) if one.table in paths)
        took.append(sqrt(max(0.0, here**2 + was - now)) - here)
    return took[0], took[1]
