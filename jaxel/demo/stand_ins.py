"""The demo's instruments in a hand: a stand-in held to a field of a visit, and a run logger taken along."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.device_reading import DEVICES
from jaxel.core.units import units_of
from jaxel.instruments.logger import Logger
from jaxel.instruments.machine.ride import ridden
from jaxel.instruments.stand_in import StandIn
from jaxel.store.visit.visits import Visit

from . import on_bench


@dataclass(frozen=True)
class Shown:
    """A reading as the display shows it, its deviation, and what it shows of nothing; all in its unit."""

    value: float
    unit: str
    sd: float
    at_rest: float


def read(
    connection: sqlite3.Connection, visit: Visit, device: str, station: str, place: str, *, on_for: float = 1e9,
    zeroed: bool = False, unit: str = "", reads: int = 0,
) -> Shown:  # fmt: skip
    """A device's reading at a field; raises InvalidValue where nothing of this machine lies under it."""
    with _possible():
        true = on_bench.true_value(connection, visit, device, station, place)
    name = DEVICES[device].name.lower()
    if true is None:
        raise InvalidValue("place", f"has nothing a {name} could be held to")
    if unit and unit not in units_of(DEVICES[device].unit):
        raise InvalidValue("unit", f"“{unit}” is not on a {name}'s switch")
    stand_in = StandIn.picked_up(device, true, (visit.machine_id, *device.encode()), on_for)
    stand_in.rng = np.random.default_rng([visit.id, reads, *f"{device} {place}".encode()])
    if zeroed:
        stand_in = stand_in.zeroed()
    if unit:
        stand_in = stand_in.switched(unit)
    found = stand_in.read()
    return Shown(found.value, found.unit, round(found.sd, 4), stand_in.at_rest())


@contextmanager
def _possible() -> Iterator[None]:
    """A set-up that no machine can have has no truth to read: told as such, whatever fails first in it."""
    try:
        yield
    except InvalidValue:
        raise
    except (ValueError, KeyError, IndexError, ArithmeticError):
        raise InvalidValue("device", "reads nothing here: what is set up is no machine that runs") from None


def ride(connection: sqlite3.Connection, visit: Visit) -> tuple[str, bytes]:
    """A ride of the machine as it leaves: the file's name and what the run logger wrote."""
    if not visit.runs:
        raise InvalidValue("run", "is missing: begin a run first")
    run = visit.runs[-1].id
    with _possible():
        columns = ridden(on_bench.of_visit(connection, visit, left=True))
    data = Logger(spikes=0.001, lost=0.005).styled("bracketed").written(columns, seed=run)
    return f"ride {len(visit.runs)}.csv", data
