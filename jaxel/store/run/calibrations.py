"""Calibrations: what a machine's runs said of its model, each a dated fact that predictions stand on."""

import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Mapping
from hashlib import sha256

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.calibration import ScorePart, write_calibration
from jaxel.core.formats.run.runs import NOISE, ForetoldPart, RunFigure, RunPart, check_same_machine
from jaxel.core.formats.setup.setup import ConditionsPart, SetupDocument
from jaxel.core.trade.belt.wear import with_belt
from jaxel.core.trade.run.calibration_file import calibrated
from jaxel.core.trade.run.like import REPEAT, Like, repeats
from jaxel.core.trade.run.road_test import Figures, Measured, read_counted, ride, run_figures

from ..db import inserted, now, writing
from ..edits import DEFAULT_HAND, changing
from ..record.whole import whole_visit
from ..setup import revisions
from ..setup.calibrated import Calibrated

MOST_SCORES = 1000
"""Scores of other machines that a calibration takes up, the latest first."""

MOST_RUNS = 20
"""The latest runs a calibration is fitted to: enough to know a machine, few enough to be quick."""


def get(connection: sqlite3.Connection, calibration_id: int | None) -> Calibrated | None:
    """One calibration by its id, None for none."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM calibration WHERE id = ?", (calibration_id,)).fetchone()
    return Calibrated(**row) if row else None


def history(connection: sqlite3.Connection, machine_id: int) -> list[Calibrated]:
    """Every calibration of a machine, newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM calibration WHERE machine_id = ? ORDER BY id DESC", (machine_id,)
    )
    return [Calibrated(**row) for row in rows]


_COLUMNS = "id, key, document AS text, made_at, made_by"


def runs_of(connection: sqlite3.Connection, machine_id: int) -> list[RunPart]:
    """What a machine's runs and baselines gave, oldest first, each on the set-up, belt and air it was made with.

    A baseline of a machine that came in with a fault says nothing of the set-up without it, and is left out.
    """
    right = revisions.corrected(connection, machine_id)
    rows = connection.execute(_RUNS, {"machine": machine_id, "most": MOST_RUNS}).fetchall()
    repeat = repeat_of(rows)
    known = _foretold(connection, machine_id, right)
    documents: dict[int, SetupDocument] = {}
    runs: list[RunPart] = []
    for row in reversed(rows):
        revision = right.get(row["revision_id"], row["revision_id"])
        if revision not in documents:
            documents[revision] = revisions.get(connection, revision).document
        air = ConditionsPart(
            elevation_m=row["elevation_m"], temperature_c=row["temperature_c"],
            relative_humidity=row["humidity_pct"] / 100,
        )  # fmt: skip
        setup = with_belt(documents[revision].in_use(row["width_mm"], air, None), None, row["length_mm"])
        figures = figures_of(row, repeat)
        values = {figure: value for figure, (value, _) in figures.items()}
        doubts = {figure: sd for figure, (_, sd) in figures.items() if sd != NOISE[figure]}
        told = known.get(row["revision_id"]) if row["later"] else None  # of one put right since by today's model
        part = RunPart.model_validate({"setup": setup, "note": _note(row), "sd": doubts, "foretold": told, **values})
        runs.append(part)
    return runs


def _foretold(connection: sqlite3.Connection, machine_id: int, right: Mapping[int, int]) -> dict[int, ForetoldPart]:
    """What was predicted of the changes that were answers of the planner, by the set-up each came to; not of one put
    right since."""
    rows = connection.execute(
        "SELECT revision_id, foretold FROM accepted_answer JOIN setup_revision ON setup_revision.id = revision_id"
        " WHERE machine_id = ?",
        (machine_id,),
    )
    return {row[0]: ForetoldPart.model_validate_json(row[1]) for row in rows if row[0] not in right}


def figures_of(row: sqlite3.Row, repeat: Mapping[RunFigure, float]) -> Figures:
    """What a run measured, from its row."""
    typed = Measured(row["engagement_rpm"], row["second_roll_on_rpm"], row["third_roll_on_rpm"], row["shift_rpm"])
    return run_figures(typed, read_counted(row["counted"]), repeat)


def repeat_of(rows: Iterable[sqlite3.Row]) -> dict[RunFigure, float]:
    """How far each figure of a machine's logs moves from run to run on one set-up: its own, where that is known."""
    groups: dict[int, list[tuple[Like, ...]]] = defaultdict(list)
    for row in rows:
        if counted := read_counted(row["counted"]):
            groups[row["revision_id"]].append(counted)
    return {
        figure: repeats(
            [
                [(each.read, each.read_sd) for counted in group for each in counted if each.figure == figure]
                for group in groups.values()
            ],
            figure,
        )[0]
        for figure in REPEAT
    }


_RUNS = """
SELECT * FROM (
    SELECT ridden.revision_id, belt_width_mm AS width_mm, belt_length_mm AS length_mm, engagement_rpm, shift_rpm,
        second_roll_on_rpm, third_roll_on_rpm, counted,
        taken_at AS at, 'road test' AS what, coalesce(ridden.elevation_m, intake.elevation_m) AS elevation_m,
        coalesce(ridden.temperature_c, intake.temperature_c) AS temperature_c,
        coalesce(ridden.humidity_pct, intake.humidity_pct) AS humidity_pct, 1 AS later,
        ridden.id, visit.id AS visit_id
    FROM ridden JOIN visit ON visit.id = ridden.visit_id JOIN intake ON intake.visit_id = visit.id
    WHERE visit.machine_id = :machine AND (coalesce(engagement_rpm, second_roll_on_rpm, third_roll_on_rpm, shift_rpm)
        IS NOT NULL OR counted <> '[]')
    UNION ALL
    SELECT found_revision_id,
        coalesce((SELECT avg(width_mm) FROM belt_reading WHERE visit_id = visit.id), belt.width_mm), belt.length_mm,
        baseline_engagement_rpm, baseline_shift_rpm, NULL, NULL, NULL,
        opened_at, 'as found', elevation_m, temperature_c, humidity_pct, 0,
        visit.id, visit.id
    FROM visit JOIN intake ON intake.visit_id = visit.id JOIN set_up ON set_up.visit_id = visit.id
        JOIN belt_check ON belt_check.visit_id = visit.id JOIN belt ON belt.id = belt_check.belt_id
    WHERE visit.machine_id = :machine AND coalesce(baseline_engagement_rpm, baseline_shift_rpm) IS NOT NULL
        AND intake.fitted_confirmed = 1 AND NOT EXISTS (SELECT 1 FROM fault WHERE fault.visit_id = visit.id)
) ORDER BY visit_id DESC, later DESC, id DESC LIMIT :most
"""


def fresh(connection: sqlite3.Connection, machine_id: int, known: Calibrated | None) -> int:
    """How many runs and baselines of a machine a calibration does not know."""
    rows = connection.execute(_RUNS, {"machine": machine_id, "most": MOST_RUNS}).fetchall()
    had = {(run.note, run.engagement_rpm, run.shift_mean_rpm) for run in known.document.runs} if known else set()
    rides = [ride(0, figures_of(row, REPEAT)) for row in rows]
    return sum(
        (_note(row), each.engagement_rpm, each.shift_rpm) not in had for row, each in zip(rows, rides, strict=True)
    )


def _note(row: sqlite3.Row) -> str:
    return f"{row['at'][:10]}, {row['what']}"


def make(
    connection: sqlite3.Connection, machine_id: int, base: SetupDocument, visit_id: int | None, by: str = DEFAULT_HAND
) -> int | None:
    """Fit a machine's model to its runs and keep what came of it, dated today; returns its id.

    Parameters: `base`, the set-up changes are told from. Returns None where it was never run, or where its runs cannot
    be fitted; one that says what the newest says is that one.
    """
    text = fitted(*ingredients(connection, machine_id, base))
    if text is None:
        return None
    key = sha256(text.encode()).hexdigest()
    with writing(connection):
        newest = next(iter(history(connection, machine_id)), None)
        if newest and newest.key == key:
            return newest.id
        return inserted(
            connection.execute(
                "INSERT INTO calibration (machine_id, visit_id, key, document, made_at, made_by)"
                " VALUES (?, ?, ?, ?, ?, ?)",
                (machine_id, visit_id, key, text, now(), by),
            )
        )


Ingredients = tuple[SetupDocument, list[RunPart], list[ScorePart]]
"""What a calibration is made of: the set-up changes are told from, the runs it is fitted to, scores of others."""


def ingredients(connection: sqlite3.Connection, machine_id: int, base: SetupDocument) -> Ingredients:
    """What a calibration of a machine would be made of today."""
    return base, usable(base, runs_of(connection, machine_id)), scores_of_others(connection, machine_id)


def fitted(base: SetupDocument, runs: list[RunPart], others: list[ScorePart]) -> str | None:
    """A calibration as it is kept; None where there is no run, or none that can be fitted."""
    if not runs:
        return None
    try:
        return write_calibration(calibrated(base, runs, others))
    except ValueError:  # no clutch, or runs that leave nothing to fit: the sign-off they came with holds all the same
        return None


def scores_of_others(connection: sqlite3.Connection, machine_id: int) -> list[ScorePart]:
    """Scores of the workshop's other machines, each by its newest calibration, the latest machines first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM calibration WHERE id IN (SELECT max(id) FROM calibration WHERE machine_id <> ?"
        " GROUP BY machine_id) ORDER BY id DESC",
        (machine_id,),
    )
    found = [score for row in rows for score in Calibrated(**row).document.scores]
    return found[:MOST_SCORES]


def usable(base: SetupDocument, runs: list[RunPart]) -> list[RunPart]:
    """The runs that can be fitted: of this clutch as it is known today, on set-ups that can work."""
    found = []
    for run in runs:
        try:
            if run.setup:
                check_same_machine("setup", base, run.setup)
                run.setup.core()
        except InvalidValue:
            continue
        found.append(run)
    return found


def calibrate(connection: sqlite3.Connection, visit_id: int, by: str = DEFAULT_HAND) -> None:
    """Let the visit's predictions stand on every run of its machine, this visit's among them.

    Raises NotFound, Conflict, and InvalidValue (field `runs`) where there is none that can be fitted.
    """
    visit = whole_visit(connection, visit_id)
    made = make(connection, visit.machine_id, visit.as_left(), visit_id, by)
    if made is None:
        raise InvalidValue("runs", "are none that the model can be fitted to: measure engagement or shift first")
    with changing(connection, visit_id, by) as desk:
        desk.set("visit", visit_id, "calibration_id", made)
