"""The workshop's choices where practice differs."""

import sqlite3

from jaxel.core.trade.kinds.schools import check_choice, followed, questions
from jaxel.core.trade.line_up.break_in import CYCLES

from ..db import Conflict, now, read_once
from ..edits import DEFAULT_HAND, Edit, check_hand
from ..workshop_log import noting


@read_once
def made(connection: sqlite3.Connection) -> dict[str, str]:
    """The school chosen by question, where one was."""
    return dict(connection.execute("SELECT question, school FROM school_choice").fetchall())


def choose(connection: sqlite3.Connection, question: str, edit: Edit, by: str = DEFAULT_HAND) -> None:
    """Follow a school from now on; raises Conflict, and InvalidValue for a question or a school that is none."""
    check_hand(by)
    check_choice(question, edit.now)
    with noting(connection, by, "school", question):
        held = made(connection).get(question, questions()[question].default)
        if held not in (edit.was, edit.now):
            raise Conflict("this was changed elsewhere meanwhile", field=question, theirs=held)
        connection.execute(
            "INSERT INTO school_choice (question, school, chosen_at, chosen_by) VALUES (?, ?, ?, ?)"
            " ON CONFLICT (question) DO UPDATE SET school = excluded.school, chosen_at = excluded.chosen_at,"
            " chosen_by = excluded.chosen_by",
            (question, edit.now, now(), by),
        )


def cycles_asked(connection: sqlite3.Connection) -> int:
    """Heat cycles of a new belt by the workshop's school."""
    return CYCLES[followed("break_in", made(connection)).key]
