"""What riders say of set-ups: kept with the set-up that was ridden, and scored against the direction predicted."""

import sqlite3
from dataclasses import asdict

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.record.said import check_value
from jaxel.core.trade.run.rider_word import (
    DirectionScore,
    Place,
    Predicted,
    RiderWord,
    Word,
    direction,
    direction_scores,
)

from ..db import NotFound, now
from ..edits import DEFAULT_HAND, changing
from ..record.whole import whole_visit
from ..setup import revisions


def say(connection: sqlite3.Connection, visit_id: int, said: RiderWord, by: str = DEFAULT_HAND) -> int:
    """Keep what a rider says of a set-up of this visit; returns its id.

    Raises NotFound, Conflict, and InvalidValue for a set-up that was not on the machine at this visit.
    """
    check_value(RiderWord, "note", said.note)
    with changing(connection, visit_id, by) as desk:
        visit = whole_visit(connection, visit_id)
        ridden = {visit.set_up.found_revision_id, visit.set_up.left_revision_id}
        ridden |= {each.id for each in revisions.of_visit(connection, visit_id)}
        if said.revision_id not in ridden:
            raise InvalidValue("revision_id", "is no set-up of this visit")
        return desk.insert("rider_word", {"visit_id": visit_id, **asdict(said), "said_at": now()})


def take_back(connection: sqlite3.Connection, visit_id: int, word_id: int, by: str = DEFAULT_HAND) -> None:
    """Take a rider's word back that was entered by mistake; raises NotFound, Conflict."""
    with changing(connection, visit_id, by) as desk:
        if word_id not in {each.id for each in whole_visit(connection, visit_id).words}:
            raise NotFound("rider's word")
        desk.delete("rider_word", word_id)


def scores(connection: sqlite3.Connection) -> list[DirectionScore]:
    """Riders' words of set-ups that changed something, against the way the prediction of that day pointed.

    What the set-ups before and after were predicted to do by one and the same model is kept with each; without, a word
    is not scored.
    """
    rows = connection.execute(
        "SELECT place, word, target_engagement_rpm, target_shift_rpm, before.engagement_rpm AS was_engagement,"
        " before.shift_rpm AS was_shift, after.engagement_rpm AS now_engagement, after.shift_rpm AS now_shift"
        " FROM rider_word JOIN intake ON intake.visit_id = rider_word.visit_id"
        " JOIN setup_revision ON setup_revision.id = rider_word.revision_id AND nature = 'change'"
        " JOIN revision_figures AS after ON after.revision_id = setup_revision.id"
        " JOIN revision_figures AS before ON before.revision_id = setup_revision.parent_id"
        " AND before.model_version = after.model_version"
        " WHERE setup_revision.id NOT IN (SELECT corrects FROM setup_revision WHERE corrects IS NOT NULL)"
        " GROUP BY rider_word.id HAVING max(after.model_version) ORDER BY rider_word.id"
    ).fetchall()
    found: list[tuple[Place, Word, Word | None]] = []
    for row in rows:
        before = Predicted(row["was_engagement"], row["was_shift"])
        after = Predicted(row["now_engagement"], row["now_shift"])
        told = direction(before, after, row["place"], row["target_engagement_rpm"], row["target_shift_rpm"])
        found.append((row["place"], row["word"], told))
    return direction_scores(found)
