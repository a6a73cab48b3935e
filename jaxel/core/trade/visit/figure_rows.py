"""The figures on the page: what was predicted beside its window, and what was measured beside its prediction."""

from collections.abc import Iterable

from jaxel.core.units import said
from jaxel.core.words import q

from ..run.scores import Comparison, predicted_figures
from . import belt_rows, run_rows
from .handed import Handed
from .record import VisitRecord
from .sheet import Line, Row, Table


def predicted(visit: VisitRecord, handed: Handed) -> Row:
    if handed.found is None or handed.left is None:
        return Row("predicted", "Predicted", (Line(handed.fault or "–"),))
    target = visit.intake
    sides = [(each, predicted_figures(each)) for each in (handed.found, handed.left)]
    rows = (
        (
            "Engagement, rpm",
            *(_rpm(each.engagement_rpm, each.engagement_sd_rpm) for _, each in sides),
            _rpm(target.target_engagement_rpm, target.target_engagement_tolerance_rpm),
        ),
        ("Hit", *(str(q(each.engagement.hit_n, "N", 0)) for each, _ in sides), "–"),
        (
            "Shift, rpm",
            *(_rpm(each.shift_rpm, each.shift_sd_rpm) for _, each in sides),
            _rpm(target.target_shift_rpm, target.target_shift_tolerance_rpm),
        ),
    )
    if visit.scope == "bench":  # nobody knows what it will be mounted beside
        told = Table(("", "as found", "as left"), tuple(row[:3] for row in rows))
        return Row("predicted", "Predicted", (Line(BESIDE_TYPICAL, "quiet"),), told)
    return Row(
        "predicted",
        "Predicted",
        table=Table(("", "as found", "as left", "typical" if target.target_typical else "target"), rows),
    )


BESIDE_TYPICAL = "with a typical other half, belt and machine: none of them was here"


def _rpm(value: float, spread: float | None) -> str:
    return f"{said(round(value))} ± {said(round(spread))}" if spread else said(round(value))


def measured_after(visit: VisitRecord, handed: Handed) -> Row:
    table = compared(handed.after)
    why = belt_rows.why_not_measured(visit)
    predicted = predicted_figures(handed.left) if handed.left else None
    named = {each.figure for each in handed.after}
    unread = tuple(run_rows.not_measured(predicted, "Engagement" in named, "Shift" in named, why))
    missing = unread or (() if table else (Line(why),))
    if table and belt_rows.still_to_break_in(visit):
        missing = (Line("on a belt that is still to be broken in: no figure of full throttle", "amiss"), *missing)
    note = (Line(handed.run_note),) if handed.run_note else ()
    origin = (
        (Line(f"{handed.logged}: from the run's log, beside a simulated run of the set-up"),) if handed.logged else ()
    )
    return Row("after", "Measured after", (*origin, *missing, *note), table)


def compared(rows: Iterable[Comparison]) -> Table | None:
    told = tuple(
        (
            each.figure,
            "no prediction kept" if each.predicted_rpm is None else _rpm(each.predicted_rpm, each.band_rpm),
            _rpm(each.measured_rpm, each.measured_sd_rpm),
            "–" if each.miss_rpm is None else f"{'+' if each.miss_rpm > 0 else ''}{said(round(each.miss_rpm))}",
            ", ".join(filter(None, (_inside(each.in_target), "miss beyond 2 σ" if each.sure is False else ""))) or "–",
        )
        for each in rows
    )
    return Table(("rpm", "predicted", "measured", "miss", "target window"), told) if told else None


def _inside(in_target: bool | None) -> str:
    return "" if in_target is None else "inside" if in_target else "outside"
