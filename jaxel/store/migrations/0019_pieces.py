"""Set-ups from before profiles were read as smooth curves keep their engagement.

Their tables were drawn through every point, and many have a knee where the belt is met, which four pieces smooth away:
some would engage thousands of rpm off, some would not close at all. Each such table is given the number of pieces that
comes nearest to the engagement it was known by; one that the usual number keeps is read as any other.
"""

import json
import sqlite3
from dataclasses import replace
from hashlib import sha256
from typing import Any

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.clutch.primary import SwingArm
from jaxel.core.mechanism.equilibrium.shift import engagement
from jaxel.core.mechanism.numerics.tables import HeldCurve, most_pieces, usual_pieces
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.units import RPM

KEPT_RPM = 50.0
"""An engagement that moves by less is kept as it is; from memory."""


def step(connection: sqlite3.Connection) -> None:
    """Write the pieces beside the tables: how a document is read, not what it says, so its guard is lifted for it."""
    guards = connection.execute(
        "SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name IN ('setup_revision', 'calibration')"
    ).fetchall()
    for guard in guards:
        connection.execute(f"DROP TRIGGER {guard['name']}")
    _write_pieces(connection)
    for guard in guards:
        connection.execute(guard["sql"])


def _write_pieces(connection: sqlite3.Connection) -> None:
    for row in connection.execute("SELECT id, document FROM setup_revision").fetchall():
        pieces = _pieces_in(row["document"])
        if pieces:
            connection.execute(
                f"UPDATE setup_revision SET document = json_set(document, '$.{AT}', ?) WHERE id = ?",
                (pieces, row["id"]),
            )
    for row in connection.execute("SELECT id, document FROM calibration").fetchall():
        held = json.loads(row["document"])
        setups = {"setup": held["setup"]}
        setups |= {f"runs[{n}].setup": run["setup"] for n, run in enumerate(held["runs"]) if run.get("setup")}
        found = {path: _pieces_in(json.dumps(each)) for path, each in setups.items()}
        text = row["document"]
        for path, pieces in found.items():
            if pieces:
                (text,) = connection.execute(f"SELECT json_set(?, '$.{path}.{AT}', ?)", (text, pieces)).fetchone()
        if text != row["document"]:
            key = sha256(text.encode()).hexdigest()
            connection.execute("UPDATE calibration SET document = ?, key = ? WHERE id = ?", (text, key, row["id"]))


AT = "primary.profile.pieces"


def _pieces_in(text: str) -> int | None:
    document = _read(text)
    return pieces_of(document) if document else None


def _read(text: str) -> SetupDocument | None:
    try:
        return SetupDocument.model_validate_json(text)
    except ValueError:
        return None


def pieces_of(document: SetupDocument) -> int | None:
    """Pieces with which a table engages nearest to where it did when drawn through every point.

    None where it has some stated, where the usual number does, or where nothing is known of how it engaged.
    """
    profile = document.primary.profile
    if profile.pieces is not None:
        return None
    points = len(profile.swing if hasattr(profile, "swing") else profile.path)
    try:
        before = engagement(_through_every_point(document.core(checked=False))).bite
    except ValueError:
        return None
    off: dict[int, float] = {}
    for pieces in range(usual_pieces(points), most_pieces(points) + 1):
        try:
            off[pieces] = abs(engagement(_with_pieces(document, pieces).core()).bite - before) / RPM
        except ValueError:
            continue
    if not off or off.get(usual_pieces(points), KEPT_RPM) < KEPT_RPM:
        return None
    return min(off, key=lambda pieces: off[pieces])


def _with_pieces(document: SetupDocument, pieces: int) -> SetupDocument:
    profile = document.primary.profile.model_copy(update={"pieces": pieces})
    return document.model_copy(update={"primary": document.primary.model_copy(update={"profile": profile})})


def _through_every_point(core: Drivetrain) -> Drivetrain:
    """The machine with its profile as it was read: a curve through every point."""
    profile: Any = core.primary.profile
    name = "swing" if isinstance(profile, SwingArm) else "path"
    points = getattr(profile, name).points
    half = len(points) // 2
    drawn = replace(profile, **{name: HeldCurve(points[:half], points[half:])})
    return replace(core, primary=replace(core.primary, profile=drawn))
