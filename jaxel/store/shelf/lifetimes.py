"""What each make of part lasted in this workshop's machines, beside what its maker says."""

import sqlite3
from dataclasses import dataclass

from jaxel.core.trade.shelf.lifetimes import Fitting, PartLife, Survival, Unit, lives_of, survival


@dataclass(frozen=True)
class MakeLasted:
    """How long one make of a kind of part lasted; `said`, its maker's word, and the share that came to it."""

    kind: str
    make: str
    unit: Unit
    survival: Survival
    said: float | None
    share_at_said: float | None


def lasted(connection: sqlite3.Connection) -> list[MakeLasted]:
    """Every kind and make that was put in and followed, by distance, or by hours where no distance was read."""
    now = {
        row["machine_id"]: (row["km"], row["h"])
        for row in connection.execute(
            "SELECT machine_id, max(odometer_km) AS km, max(odometer_h) AS h FROM visit"
            " JOIN intake ON intake.visit_id = visit.id GROUP BY machine_id"
        )
    }
    makes = {row["number"].casefold(): row["make"] for row in connection.execute("SELECT number, make FROM part")}
    fittings: dict[str, list[Fitting]] = {}
    for row in connection.execute("SELECT * FROM part_event WHERE kind <> 'belt' AND told = 'done' ORDER BY id"):
        make = makes.get(row["number"].casefold(), "")
        place = (row["machine_id"], row["side"], row["kind"])
        each = Fitting(place, make, row["way"], row["odometer_km"], row["odometer_h"])
        fittings.setdefault(row["kind"], []).append(each)
    promised = _promised(connection)
    found = []
    for unit in ("km", "h"):
        by_kind = {kind: lives_of(rows, now, unit) for kind, rows in fittings.items()}
        by_kind["belt"] = _belts(connection, makes, now, unit)
        for kind, by_make in by_kind.items():
            for make, lives in by_make.items():
                known = survival(lives)
                said = promised.get((kind, make, unit))
                share = known.share_at(said) if said else None
                found.append(MakeLasted(kind, make, unit, known, said, share))
    by_km = {(each.kind, each.make) for each in found if each.unit == "km"}
    kept = [each for each in found if each.unit == "km" or (each.kind, each.make) not in by_km]
    return sorted(kept, key=lambda each: (each.kind, each.make))


def _promised(connection: sqlite3.Connection) -> dict[tuple[str, str, Unit], float]:
    """The makers' words, the longest where a make has several numbers of a kind."""
    rows = connection.execute(
        "SELECT kind, make, max(life_km) AS km, max(life_h) AS h FROM part WHERE make <> '' GROUP BY kind, make"
    ).fetchall()
    units: tuple[Unit, Unit] = ("km", "h")
    return {(row["kind"], row["make"], unit): row[unit] for row in rows for unit in units if row[unit] is not None}


def _belts(
    connection: sqlite3.Connection, makes: dict[str, str], now: dict[int, tuple[float | None, float | None]], unit: Unit
) -> dict[str, list[PartLife]]:
    """The lives of belts whose beginning is known: a spare still runs, as far as it came."""
    found: dict[str, list[PartLife]] = {}
    at = 0 if unit == "km" else 1
    for row in connection.execute(
        f"SELECT machine_id, make_number, state, used_{unit} AS used, fitted_at_{unit} AS fitted,"
        f" removed_at_{unit} AS removed, fitted_width_mm FROM belt WHERE state <> 'doubled' AND unknown_before = 0"
    ):
        use = row["used"]
        if row["state"] == "fitted":
            reached = now.get(row["machine_id"], (None, None))[at]
            if row["fitted"] is None or reached is None or reached < row["fitted"]:
                continue
            use += reached - row["fitted"]
        elif row["removed"] is None:
            continue
        if use <= 0:  # fitted at this very reading: nothing is known of its life yet
            continue
        number = row["make_number"]
        make = makes.get(number.casefold(), number) if number else ""
        found.setdefault(make, []).append(PartLife(use, row["state"] == "discarded"))
    return found
