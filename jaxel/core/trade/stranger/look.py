"""A strange machine as its readings so far make it: how sure its figures are, what is worth measuring next, and which
readings contradict each other."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import pi, sqrt
from typing import Any

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import unit_of, value_at, with_value
from jaxel.core.formats.reading import Part, validate
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import said
from jaxel.core.words import q

from ..kinds.kinds import SIDES, Side
from ..setup.discrepancy import floor_rpm
from ..setup.evidence import input_name
from ..setup.figures import ENGAGEMENT, MEAN, figures_of
from ..setup.worth import Variances, promised, variances
from .reading import Reading, Settled, Typed, readings
from .readings import settle, with_values

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

    `state`: `open`; `taken`; `asked`, which of two; `refused`, with `field` and `reason`. `stands` in words, what is
    known of it now; `engagement_rpm` and `shift_rpm`, what it would take off their deviations, should it read what is
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

    @property
    def worth(self) -> float:
        """What a minute of it takes off engagement and shift together [rpm/min]."""
        return (self.engagement_rpm + self.shift_rpm) / self.reading.minutes


@dataclass(frozen=True)
class Look:
    """A machine as its readings so far make it: the set-up, the readings in order of worth, and what is to be asked.

    Deviations of engagement and shift [rpm] now and after a run; `counts` of the numbers by origin; `unequal` weights
    found [g].
    """

    document: SetupDocument
    lines: tuple[Line, ...]
    questions: tuple[Question, ...]
    sd_rpm: tuple[float, float]
    after_run_rpm: tuple[float, float]
    counts: Mapping[str, int] = field(default_factory=dict)
    unequal: tuple[float, ...] = ()


def look(
    document: SetupDocument,
    taken: Mapping[str, Typed],
    *,
    prefer: Mapping[str, str] = {},
    stamps: Mapping[str, float] = {},
    sides: Sequence[Side] = SIDES,
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
    settled: dict[str, Settled] = {}
    refused: dict[str, InvalidValue] = {}
    now = document
    for each in sorted(known, key=lambda one: one.form != "value"):  # what others compute with comes first
        if each.key not in taken:
            continue
        try:
            found = settle(now, each, taken[each.key], stamps)
            if found:
                now = _taken_up(now, each, found)
                settled[each.key] = found
        except InvalidValue as error:
            refused[each.key] = error
    holds, questions = _which_hold(document, known, settled, prefer)
    now = _with_evidence(document, known, settled, holds)
    spread = variances(now)
    engagement, shift = spread.deviation()
    before = variances(document) if settled else spread
    moved = _moved(document, now, settled)
    lines = [_line(before, now, spread, each, settled, refused, questions, moved) for each in known]
    by = (
        1 / sqrt(1 / engagement**2 + 1 / (RUN_DEVIATIONS_RPM[0] ** 2 + floor_rpm() ** 2)),
        1 / sqrt(1 / shift**2 + 1 / (RUN_DEVIATIONS_RPM[1] ** 2 + floor_rpm() ** 2)),
    )
    counts: dict[str, int] = {}
    for one in spread.inputs:
        if one.path.startswith("model.") or one.along:
            continue
        counts[one.origin] = counts.get(one.origin, 0) + 1
    order = {"refused": 0, "asked": 0, "open": 1, "taken": 2}
    lines.sort(key=lambda line: (order[line.state], -line.worth))
    unequal = next((each.unequal for each in settled.values() if each.unequal), ())
    return Look(now, tuple(lines), tuple(questions), (engagement, shift), by, counts, unequal)


def _is_of(reading: Reading, sides: Sequence[Side]) -> bool:
    """Whether a reading can be taken of what is here: of a whole machine any, of a bare clutch its own."""
    return len(sides) == len(SIDES) or all(path.partition(".")[0] in sides for path in reading.paths)


NEAR = 2.5
"""A reading this many times what is typical, or less than that part of it, was typed wrong; from memory."""

ANYTHING = frozenset({"side_gap", "altitude", "arm_angle", "loads", "torsion"})
"""Readings whose numbers may lie anywhere."""


def _taken_up(document: SetupDocument, reading: Reading, found: Settled) -> SetupDocument:
    """The set-up with what a reading settled; raises InvalidValue, field `KEY.FIELD`, for what cannot be."""
    field = f"{reading.key}.{reading.fields[0].name}"
    for path, value in found.values.items():
        near = value_at(document, path)
        plain = isinstance(value, int | float) and isinstance(near, int | float) and near > 0
        if plain and reading.key.split(":")[0] not in ANYTHING and not near / NEAR <= value <= near * NEAR:
            words = f"comes to {_in_words(path, value)}, far from the {_in_words(path, near)} that is typical"
            raise InvalidValue(field, f"{words}: look again")
    try:
        return _checked(with_values(document, found.values))
    except InvalidValue as error:
        raise InvalidValue(field, error.reason) from None


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
            words = tuple(f"{names[key]}: {_in_words(path, settled[key].values[path])}" for key in (first, second))
            questions.append(Question(path, input_name(path), (first, second), (words[0], words[1])))
    return holds, questions


def _apart(path: str, one: Settled, other: Settled) -> float:
    """How many of their deviations two readings of one number are apart; of a table, by its mean."""
    first, second = (_scale(each.values[path]) for each in (one, other))
    if first is None or second is None:
        return 0.0
    sds = [
        each.sd.get(path, 0.0) * (abs(scale) if isinstance(each.values[path], list) else 1.0)
        for each, scale in ((one, first), (other, second))
    ]
    return abs(first - second) / max(sqrt(sds[0] ** 2 + sds[1] ** 2), 1e-9)


def _scale(value: Any) -> float | None:
    if isinstance(value, list):
        rows = [_row_value(row) for row in value]
        return sum(rows) / len(rows)
    return float(value) if isinstance(value, int | float) else None


def _row_value(row: Part) -> float:
    name = next(each for each in ("deg", "radius_mm", "pretwist_deg", "torque_nm") if each in type(row).model_fields)
    return float(getattr(row, name))


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
    refused: Mapping[str, InvalidValue],
    questions: Sequence[Question],
    moved: Mapping[str, tuple[float, float]],
) -> Line:
    done, error = settled.get(reading.key), refused.get(reading.key)
    asked = any(reading.key in each.readings for each in questions)
    paths = frozenset(done.sd if done and not asked else (*reading.paths, *_more(reading)))
    state = "refused" if error else "asked" if asked else "taken" if done else "open"
    if state == "taken":
        engagement, shift = _took(before, spread, paths)
    else:
        engagement, shift = promised(now, spread, reading.origin, paths)
    stated = (now.evidence or {}).get(reading.paths[0])
    field_ = error.field.split(".", maxsplit=1)[-1] if error else ""
    return Line(
        reading,
        state,
        stands(now, reading.paths[0]),
        stated.origin if stated else "typical",
        engagement,
        shift,
        moved.get(reading.key, (0.0, 0.0)),
        done.notes if done else (),
        field_,
        error.reason if error else "",
    )


def _moved(
    document: SetupDocument, now: SetupDocument, settled: Mapping[str, Settled]
) -> dict[str, tuple[float, float]]:
    """How far each reading taken has moved engagement and shift [rpm]: against what stood there before it."""
    without = [with_values(now, {path: value_at(document, path) for path in each.values}) for each in settled.values()]
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


def stands(document: SetupDocument, path: str) -> str:
    """What is known of a number now: its value and deviation in words.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> from jaxel.core.words import told
    >>> told(stands(packages()["quad-variator-500"].document, "geometry.centre_distance_mm"))
    '238 ± 1.8 mm'
    """
    value = value_at(document, path)
    known = (document.evidence or {}).get(path)
    if not isinstance(value, int | float):
        words = _in_words(path, value)
        return f"{words} ± {said(round(known.sd * 100, 1))} %" if known and known.sd else words
    unit = unit_of(path)
    sd = float(f"{known.sd:.2g}") if known and known.sd else None
    return str(q(round(value, 2), unit or "", sd=sd))


def _in_words(path: str, value: Any) -> str:
    if isinstance(value, list):
        rows = [_row_value(row) for row in value]
        if path == "engine.curve":
            return f"{q(max(p.torque_nm * p.rpm for p in value) * pi / 30 / 1000, 'kW', 0)}"
        unit = "mm" if path.endswith("path") else "deg"
        ends = [str(q(row, unit, 1)) for row in (rows[0], rows[-1])]
        return ends[0] if len(rows) == 1 else "–".join(ends)
    unit = unit_of(path)
    return str(q(float(value), unit or "", 2))
