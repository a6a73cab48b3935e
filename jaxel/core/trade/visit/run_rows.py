"""What the page says of the runs: what was not measured, what the log says is at fault, what differs between set-ups,
the gearing reached, and what the rider said."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from jaxel.core.units import KPH, MPH, said
from jaxel.core.words import q

from ..run.compare.difference import Difference, SetFigure
from ..run.compare.sets import Compared
from ..run.fault.verdict import Verdict
from ..run.rider_word import RiderWord
from ..run.scores import PredictedFigures
from .sheet import Line, Row

HARDER = 0.05
"""Share from which a launch is said to be stronger or softer; hit by the model's own words, push alike."""

NAMES: dict[SetFigure, tuple[str, str, int]] = {
    "engagement_rpm": ("engagement", "rpm", 0),
    "shift_mean_rpm": ("shift", "rpm", 0),
    "spread_rpm": ("spread", "rpm", 0),
    "full_shift_rpm": ("full shift", "rpm", 0),
    "low_ratio": ("low ratio", "", 2),
    "high_ratio": ("top ratio", "", 3),
    "dip_rpm": ("drop after a chop", "rpm", 0),
    "recovery_s": ("back after a chop", "s", 2),
    "to_30_mph_s": (f"time to {q(30 * MPH / KPH, 'km/h', 0)}", "s", 2),
    "to_60_mph_s": (f"time to {q(60 * MPH / KPH, 'km/h', 0)}", "s", 2),
    "to_200_m_s": (f"time to {q(200, 'm', 0)}", "s", 2),
    "to_400_m_s": (f"time to {q(400, 'm', 0)}", "s", 2),
    "top_kph": ("top speed", "km/h", 1),
    "wheel_power_kw": ("power at the wheel", "kW", 1),
}


@dataclass(frozen=True)
class Told:
    """What runs told at a visit: the `verdict` of the last log that counts, and the final drive of its set-up; set-ups
    one after the other `compared`, each pair under its name; the rider's `words`, each with whether it is of the set-up
    as left; and `push`, the push at the start as left over as found."""

    verdict: Verdict | None = None
    drive_ratio: float = 0.0
    compared: Sequence[tuple[str, Compared]] = ()
    words: Sequence[tuple[bool, RiderWord]] = ()
    push: float = 1.0


def rows(told: Told) -> Iterator[Row]:
    """The rows of what runs told."""
    yield Row("verdict", "What the log tells", tuple(_verdict(told)))
    yield Row("compared", "Runs compared", tuple(_compared(told.compared)))
    yield Row("rider", "Rider's word", tuple(Line(_word(on_left, word)) for on_left, word in told.words))


def _verdict(told: Told) -> Iterator[Line]:
    found = told.verdict
    if found is None:
        return
    chance = f", {found.probability:.0%}" if found.kind != "cannot be told" else ""
    yield Line(f"{found.name}{chance}", "plain" if found.kind in ("nothing amiss", "cannot be told") else "strong")
    yield Line(" ".join(found.reasons), "quiet")
    if found.settle:
        yield Line(f"What would settle it: {'; '.join(found.settle)}", "quiet")
    high = found.high
    if high.reached is not None and high.reached_sd is not None:
        reached, doubt = high.reached * told.drive_ratio, high.reached_sd * told.drive_ratio
        yield Line(
            f"Overall gearing reached {reached:.2f} ± {max(doubt, 0.01):.2f}; final drive and this belt make "
            f"{high.belt * told.drive_ratio:.2f}",
            "quiet",
        )


def _compared(pairs: Sequence[tuple[str, Compared]]) -> Iterator[Line]:
    for name, found in pairs:
        real = [each for each in found.differences if each.real]
        rest = [each for each in found.differences if not each.real]
        if real:
            words = f"{', '.join(_difference(each) for each in real)}: real"
            words += "; the rest not shown to differ" if rest else ""
        else:
            shift = [each for each in rest if each.figure in ("shift_mean_rpm", "engagement_rpm")]
            words = f"not shown to differ{': ' if shift else ''}{', '.join(_difference(each) for each in shift)}"
        yield Line(f"{name}: {words}", "strong" if real else "plain")
        others = [each.words for each in found.same if each.state != "same" and each.what not in ("set-up", "day")]
        if others:
            yield Line("; ".join(others), "quiet")
    if len(pairs) > 1:
        yield Line("Gains of separate pairs are not added up", "quiet")


def _difference(each: Difference) -> str:
    name, unit, digits = NAMES[each.figure]
    if unit in ("", "rpm", "s"):
        plus = "+" if each.difference > 0 else ""
        value = f"{plus}{each.difference:,.{digits}f} ± {each.half:,.{digits}f}".replace("-", "−")
        return f"{name} {value}{f' {unit}' if unit else ''}"
    sign = "+" if each.difference > 0 else ""
    return f"{name} {sign}{q(each.difference, unit, digits)} ± {q(each.half, unit, digits)}"


def _word(on_left: bool, word: RiderWord) -> str:
    of = "set-up as left" if on_left else "an earlier set-up of this visit"
    return f"{word.sentence}, {of}{f': “{word.note}”' if word.note else ''}"


def not_measured(predicted: PredictedFigures | None, engaged: bool, shifted: bool, why: str) -> Iterator[Line]:
    """What a visit without a reading may claim of a figure: that it was not measured, and what was predicted."""
    if predicted is None:
        return
    said_so = why if why.startswith("not measured") else f"not measured: {why}"
    for name, measured, value, sd in (
        ("Engagement", engaged, predicted.engagement_rpm, predicted.engagement_sd_rpm),
        ("Shift", shifted, predicted.shift_rpm, predicted.shift_sd_rpm),
    ):
        if not measured:
            told = f"{said(round(value))} ± {said(round(sd))}" if sd else said(round(value))
            yield Line(f"{name} {said_so}; predicted {told} rpm")


def launch(told: Told, hit_found: float | None, hit_left: float | None) -> Row:
    """What the rider is told of the launch where it is another than the one the machine came in with."""
    lines = []
    if hit_found and hit_left and abs(hit_left / hit_found - 1) >= HARDER:
        way = "harder" if hit_left > hit_found else "softer"
        lines.append(
            Line(f"It takes up {way} than it came in: the clamp {q(100, 'rpm')} past the bite goes from "
                 f"{q(hit_found, 'N', 0)} to {q(hit_left, 'N', 0)}, as predicted", "strong")
        )  # fmt: skip
    if abs(told.push - 1) >= HARDER:
        more = told.push > 1
        gives = f"{abs(told.push - 1):.0%} {'more' if more else 'less'} push for the same torque, as computed"
        lines.append(
            Line(f"It pulls away {'stronger' if more else 'weaker'}: its starting gear gives {gives}", "strong")
        )
    return Row("launch", "Tell the rider", tuple(lines))
