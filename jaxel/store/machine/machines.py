"""Machines, and clutches without one: entering them with their first set-up, and finding them again."""

import sqlite3
from dataclasses import dataclass, fields
from typing import Literal

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.belt.wear import with_belt
from jaxel.core.trade.kinds.kinds import NOT_STATED, Kinds, check_kind
from jaxel.core.trade.record.facts import Origin
from jaxel.core.trade.record.scope import BARE_CLUTCH

from ..db import NotFound, inserted, now, read_once, writing
from ..edits import DEFAULT_HAND, check_hand
from ..setup import revisions
from ..workshop_log import added
from . import limits
from . import variants as made

Kind = Literal["sled", "side-by-side", "quad", "light vehicle", "bare clutch"]


@dataclass(frozen=True)
class Machine:
    """A machine the workshop knows, or a bare clutch.

    `model`, its make and model as its plate says, empty where nobody typed it; `primary_kind` and `secondary_kind` are
    keys of core.trade.kinds, None where not stated; `tyre`, its tyre or track as it is sold; `variants`, how its
    clutches are made, as far as anybody looked; `taper`, `offset_mm` and `stamp` tell a bare clutch from another;
    `merged_into`, the record of the same machine that goes on.
    """

    id: int
    name: str
    kind: Kind
    rider: str
    created_at: str
    primary_kind: str | None
    secondary_kind: str | None
    brought_in_by: str
    tyre: str
    taper: str
    offset_mm: float | None
    stamp: str
    archived: bool
    merged_into: int | None
    model: str = ""
    variants: made.Answers = ()

    @property
    def bare(self) -> bool:
        """Whether it is a clutch without its machine."""
        return self.kind == BARE_CLUTCH

    @property
    def kinds(self) -> Kinds:
        """The kinds of its two clutches, as they are made."""
        return Kinds(self.primary_kind, self.secondary_kind, self.variants, self.bare)


@dataclass(frozen=True)
class Belt:
    """A belt of one machine, by its number there; `width_mm` as last measured.

    `make_number` and `batch` as read off it, `bought_on` a date, `direction` it ran in, `place` on the shelf;
    `new_width_mm` and `length_mm` of its kind where they differ from the set-up's; `fitted_width_mm` when it went on;
    `used_km` and `used_h`, on it from before it was fitted last; `unknown_before`, whether it ran before this workshop
    knew it: then its use is counted from there, and its life is not known.
    """

    id: int
    number: int
    state: Literal["fitted", "spare", "discarded", "doubled"]
    width_mm: float
    fitted_at_km: float | None
    fitted_at_h: float | None
    make_number: str = ""
    batch: str = ""
    bought_on: str = ""
    direction: str = ""
    place: str = ""
    new_width_mm: float | None = None
    length_mm: float | None = None
    fitted_width_mm: float | None = None
    used_km: float = 0.0
    used_h: float = 0.0
    removed_at_km: float | None = None
    removed_at_h: float | None = None
    removed_on: str = ""
    unknown_before: bool = False

    def on(self, document: SetupDocument) -> SetupDocument:
        """A machine's set-up on this belt: of its own length and new width, where those are known."""
        return with_belt(document, None, self.length_mm, self.new_width_mm)

    def use_km(self, odometer_km: float | None) -> float | None:
        """Distance on it while it is on the machine at an odometer reading [km]; None where the odometer was not read
        or nobody knows when it was fitted."""
        return self._use(odometer_km, self.fitted_at_km, self.used_km)

    def use_h(self, odometer_h: float | None) -> float | None:
        """The same in hours."""
        return self._use(odometer_h, self.fitted_at_h, self.used_h)

    def _use(self, now: float | None, fitted_at: float | None, before: float) -> float | None:
        return None if now is None or fitted_at is None else before + max(0.0, now - fitted_at)


@dataclass(frozen=True)
class Identity:
    """What tells a bare clutch from another: its taper, how far it sits out [mm], and what is stamped on it."""

    taper: str = ""
    offset_mm: float | None = None
    stamp: str = ""


NO_IDENTITY = Identity()


def bring_in(
    connection: sqlite3.Connection,
    document: SetupDocument,
    kind: Kind,
    rider: str = "",
    limit_origin: Origin = "manual",
    by: str = DEFAULT_HAND,
    *,
    kinds: Kinds = NOT_STATED,
    identity: Identity = NO_IDENTITY,
) -> int:
    """Enter a machine, or a bare clutch, with its first set-up revision and the belt that is on it; returns its id.

    Parameters: `limit_origin` of the belt's wear limit; `kinds` of its clutches. Raises InvalidValue for a kind that
    is none or does not fit the set-up.
    """
    check_hand(by)
    for side in ("primary", "secondary"):
        key = getattr(kinds, side)
        if key is not None:
            check_kind(f"{side}_kind", key, side, document)
    with writing(connection):
        machine = inserted(
            connection.execute(
                "INSERT INTO machine (name, kind, rider, created_at, brought_in_by, primary_kind, secondary_kind,"
                " taper, offset_mm, stamp) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                (
                    document.name.strip() or "Unnamed machine",
                    kind,
                    rider.strip(),
                    now(),
                    by,
                    kinds.primary,
                    kinds.secondary,
                    identity.taper.strip(),
                    identity.offset_mm,
                    identity.stamp.strip(),
                ),
            )
        )
        revisions.add(connection, machine, document, reason="as brought in", nature="brought in", by=by)
        limits.state(connection, machine, "belt_width_min_mm", document.belt.top_width_min_mm, limit_origin, by)
        connection.execute(
            "INSERT INTO belt (machine_id, number, state, width_mm, unknown_before) VALUES (?, 1, 'fitted', ?, 1)",
            (machine, document.belt.top_width_mm),
        )
        added(connection, by, "machine", machine)
    return machine


@read_once
def get(connection: sqlite3.Connection, machine_id: int) -> Machine:
    """One machine; raises NotFound."""
    row = connection.execute("SELECT * FROM machine WHERE id = ?", (machine_id,)).fetchone()
    if row is None:
        raise NotFound("machine")
    return machine_of(row, made.seen(connection, machine_id))


def machine_of(row: sqlite3.Row, answers: made.Answers = ()) -> Machine:
    """A machine from its row, and from what was seen of how its clutches are made."""
    values = {each.name: row[each.name] for each in fields(Machine) if each.name != "variants"}
    return Machine(**values | {"archived": bool(values["archived"]), "variants": answers})


def all_machines(connection: sqlite3.Connection) -> list[Machine]:
    """Every machine, by name."""
    known = made.of_machines(connection)
    rows = connection.execute("SELECT * FROM machine ORDER BY name, id")
    return [machine_of(row, known.get(row["id"], ())) for row in rows]


def belt(connection: sqlite3.Connection, belt_id: int) -> Belt:
    """One belt; raises NotFound."""
    row = connection.execute(f"SELECT {_BELT} FROM belt WHERE id = ?", (belt_id,)).fetchone()
    if row is None:
        raise NotFound("belt")
    return belt_of(row)


def belt_of(row: sqlite3.Row) -> Belt:
    """A belt from its row."""
    return Belt(**dict(row) | {"unknown_before": bool(row["unknown_before"])})


def fitted_belt(connection: sqlite3.Connection, machine_id: int) -> Belt:
    """The belt on a machine; raises NotFound."""
    row = connection.execute(
        f"SELECT {_BELT} FROM belt WHERE machine_id = ? AND state = 'fitted'", (machine_id,)
    ).fetchone()
    if row is None:
        raise NotFound("belt")
    return belt_of(row)


BELT_FIELDS = tuple(each.name for each in fields(Belt))
_BELT = ", ".join(BELT_FIELDS)


@read_once
def belts(connection: sqlite3.Connection, machine_id: int) -> list[Belt]:
    """The belts of a machine, oldest first."""
    rows = connection.execute(f"SELECT {_BELT} FROM belt WHERE machine_id = ? ORDER BY number", (machine_id,))
    return [belt_of(row) for row in rows]


def is_made_up(connection: sqlite3.Connection, machine_id: int) -> bool:
    """Whether a machine is made up: of the demo, with a truth that stand-ins can read."""
    row = connection.execute("SELECT made_up FROM machine WHERE id = ?", (machine_id,)).fetchone()
    return row is not None and bool(row["made_up"])


def call_made_up(connection: sqlite3.Connection) -> None:
    """Say of every machine there is now that it is made up; nothing says otherwise again."""
    with writing(connection):
        connection.execute("UPDATE machine SET made_up = 1")
