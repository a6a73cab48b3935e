"""From a run to the next change: its answer put on the bench, on a calibration that knows the run."""

import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

from jaxel.core.trade.run.like import REPEAT
from jaxel.core.trade.run.odds import AnswerTaken

from ..edits import DEFAULT_HAND, changing
from ..record.whole import whole_visit
from ..setup import fitting
from ..setup.fitting import Fill
from . import calibrations


def open_answer(
    connection: sqlite3.Connection, visit_id: int, fills: Sequence[Fill], draft: Mapping[str, float],
    taken: AnswerTaken, by: str = DEFAULT_HAND, *, calibrated: bool = False,
) -> None:  # fmt: skip
    """Put an answer of the planner on the bench, the rest as recorded; its odds are kept with what is recorded of it.

    Parameters: `draft`, what was shown as tried; `calibrated`, whether the answer stands on every run of the machine:
    then the visit's predictions do too from now on. Raises as `fitting.fill`.
    """
    made = None
    if calibrated:
        visit = whole_visit(connection, visit_id)
        made = calibrations.make(connection, visit.machine_id, visit.as_recorded(), visit_id, by)
    offered: dict[str, Any] = taken.model_dump(mode="json")
    with changing(connection, visit_id, by) as desk:
        if made is not None:
            desk.set("visit", visit_id, "calibration_id", made)
        fitting.put_on(connection, desk, fills, draft, whole=True, offered=offered)


def outcomes(connection: sqlite3.Connection) -> list[tuple[float, bool]]:
    """Odds that answers were taken up at, and whether the first run that measured both figures landed in both windows.

    Not of a set-up that was put right since, nor of a run that is not scored.
    """
    rows = connection.execute(
        "SELECT accepted_answer.document AS answer, ridden.* FROM accepted_answer"
        " JOIN ridden ON ridden.revision_id = accepted_answer.revision_id WHERE set_aside = ''"
        " AND accepted_answer.revision_id NOT IN (SELECT corrects FROM setup_revision WHERE corrects IS NOT NULL)"
        " ORDER BY ridden.id"
    )
    found: dict[int, tuple[float, bool]] = {}
    for row in rows:
        figures = calibrations.figures_of(row, REPEAT)
        if row["revision_id"] in found or not {"engagement_rpm", "shift_mean_rpm"} <= set(figures):
            continue
        taken = AnswerTaken.model_validate_json(row["answer"])
        engaged, shifted = figures["engagement_rpm"][0], figures["shift_mean_rpm"][0]
        found[row["revision_id"]] = (taken.probability, taken.landed(engaged, shifted))
    return list(found.values())
