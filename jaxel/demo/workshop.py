"""A small workshop in early winter: two sleds and a side-by-side, visits behind them and visits open."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from importlib import resources
from typing import Any

from jaxel.core.formats.setup import SetupDocument, read_setup
from jaxel.core.mechanism.shift import predict
from jaxel.core.units import RPM
from jaxel.store import fitting, machines, road_tests, sign_off, visits
from jaxel.store.db import at_moment
from jaxel.store.machines import Kind


class Bench:
    """One visit in the demo's hands: each call is what a station's field or button sends."""

    def __init__(self, connection: sqlite3.Connection, machine_id: int):
        self.connection = connection
        self.id = visits.open_visit(connection, machine_id)

    @property
    def edit(self) -> int:
        return visits.get(self.connection, self.id).edit

    def note(self, **values: Any) -> None:
        visits.change(self.connection, self.id, self.edit, values)

    def state_kinds(self, primary: str, secondary: str) -> None:
        stated: dict[str, str | None] = {"primary_kind": primary, "secondary_kind": secondary}
        visits.state_kinds(self.connection, self.id, self.edit, stated)

    def confirm_fitted(self) -> None:
        fitting.confirm_found(self.connection, self.id, self.edit)

    def measure(self, *widths_mm: float) -> None:
        for place, width in enumerate(widths_mm, start=1):
            visits.measure_belt(self.connection, self.id, self.edit, place, width)

    def fit(self, slots: dict[str, float], reason: str) -> None:
        self.try_out(slots)
        fitting.record(self.connection, self.id, self.edit, reason)

    def try_out(self, slots: dict[str, float]) -> None:
        fitting.try_slots(self.connection, self.id, self.edit, "left", dict(slots))

    def ride(self, engagement_off: float, shift_off: float, note: str) -> None:
        """A run that misses the prediction by so many rpm: the demo's rider and rev counter."""
        run = predict(visits.get(self.connection, self.id).as_left().core())
        road_tests.write(
            self.connection,
            self.id,
            self.edit,
            None,
            {
                "engagement_rpm": round(run.engagement.bite / RPM + engagement_off, -1),
                "shift_rpm": round(run.shift.mean / RPM + shift_off, -1),
                "note": note,
            },
        )

    def sign_off(self, by: str) -> None:
        sign_off.sign_off(self.connection, self.id, self.edit, by)


def build(connection: sqlite3.Connection, today: datetime | None = None) -> None:
    """Fill an empty database with the demo workshop, dated back from `today`."""
    today = today or datetime.now(UTC)

    @contextmanager
    def days_ago(days: int) -> Iterator[None]:
        with at_moment(today - timedelta(days=days)):
            yield

    _mountain_sled(connection, days_ago)
    _trail_sled(connection, days_ago)
    _side_by_side(connection, days_ago)


def _bring_in(connection: sqlite3.Connection, name: str, kind: Kind, rider: str) -> int:
    return machines.bring_in(connection, document(name), kind, rider)


def document(name: str) -> SetupDocument:
    """One of the demo's setup documents, by the name of its file."""
    return read_setup(resources.files("jaxel.demo").joinpath("machines", f"{name}.json").read_bytes())


def _mountain_sled(connection: sqlite3.Connection, days_ago: Any) -> None:
    """A season's belt, a change already fitted, and the road test still to ride."""
    with days_ago(290):
        machine = _bring_in(connection, "mountain-sled", "sled", "Maren T.")
    with days_ago(288):
        visit = Bench(connection, machine)
        visit.note(
            odometer_km=820,
            complaint="First service. Runs well, wants it checked before the spring tour.",
            riding="mountain",
            elevation_m=900,
            temperature_c=-10,
        )
        visit.state_kinds("shimmed-spider-primary", "bolt-in-helix-secondary")
        visit.confirm_fitted()
        visit.measure(36.2, 36.2, 36.1)
        visit.note(belt_decision="run on")
        visit.ride(-20, 35, "Packed snow, two pulls each way.")
        visit.note(watch="Belt width again at 1,600 km.", next_service_km=1600)
        visit.sign_off("Jonas, bench 1")
    with days_ago(1):
        visit = Bench(connection, machine)
        visit.note(
            odometer_km=2310,
            complaint="Bogs when she opens it on a climb, and feels lazy at the top.",
            riding="mountain",
            elevation_m=1500,
            temperature_c=-12,
            baseline_engagement_rpm=3930,
            baseline_shift_rpm=7530,
        )
        visit.confirm_fitted()
        visit.measure(35.4, 35.5, 35.4)
        visit.note(belt_decision="run on", belt_reason="one more weekend, then the spare")
        visit.fit(
            {"arm_mass_g": 59.0, "load_g.tip": 0.5, "primary_start_n": 640},
            "thinner air at 1,500 m: weight off the arms, a stiffer start for the climb",
        )


def _trail_sled(connection: sqlite3.Connection, days_ago: Any) -> None:
    """In and out within a day: a new belt, the old one kept as a spare."""
    with days_ago(21):
        machine = _bring_in(connection, "trail-sled", "sled", "Edvin L.")
        visit = Bench(connection, machine)
        visit.note(
            odometer_km=3140,
            complaint="Top speed is down since last winter.",
            riding="trail",
            elevation_m=250,
            temperature_c=-4,
            baseline_shift_rpm=8060,
        )
        visit.state_kinds("tower-and-button-primary", "jackshaft-roller-secondary")
        visit.confirm_fitted()
        visit.measure(34.1, 34.2, 34.1)
        visit.note(
            belt_decision="spare", belt_reason="narrow: it starts and ends in the wrong gear", next_belt_width_mm=35.0
        )
        visit.ride(40, -30, "Lake strip, new belt broken in first.")
        visit.note(watch="New belt: look at it after 300 km.", next_service_km=4500)
        visit.sign_off("Jonas, bench 1")


def _side_by_side(connection: sqlite3.Connection, days_ago: Any) -> None:
    """Half-way through: the belt is measured, the change is only tried."""
    with days_ago(2):
        machine = _bring_in(connection, "farm-side-by-side", "side-by-side", "Farm at Nedre Lia")
    with days_ago(0):
        visit = Bench(connection, machine)
        visit.note(
            odometer_km=4870,
            complaint="Revs past itself when the trailer is on, smells of belt.",
            riding="towing",
            elevation_m=300,
            temperature_c=4,
            baseline_engagement_rpm=2390,
            baseline_shift_rpm=7940,
        )
        visit.confirm_fitted()
        visit.measure(31.9, 32.3)
        visit.try_out({"load_g.pocket 3": 3.5})
