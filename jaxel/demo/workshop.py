"""A small workshop in early winter: three sleds, a side-by-side and a quad, visits behind them and visits open."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from importlib import resources
from typing import Any

from jaxel.core.formats.setup.setup import SetupDocument, read_setup
from jaxel.core.trade.rebuild.torque import Wrench
from jaxel.store.belt import belts
from jaxel.store.db import at_moment
from jaxel.store.edits import Edit
from jaxel.store.line_up import line_up
from jaxel.store.machine import machines
from jaxel.store.machine.machines import Kind
from jaxel.store.run import calibrations
from jaxel.store.shelf import parts, sheets
from jaxel.store.stranger import bringing_in, faults
from jaxel.store.strip import strip
from jaxel.store.visit import visits
from jaxel.store.workshop import workshop, wrenches

from .bench import HAND, Bench


def build(connection: sqlite3.Connection, today: datetime | None = None) -> None:
    """Fill an empty database with the demo workshop, dated back from `today`."""
    today = today or datetime.now(UTC)

    @contextmanager
    def days_ago(days: int) -> Iterator[None]:
        with at_moment(today - timedelta(days=days)):
            yield

    workshop.rename(connection, Edit("", "Fellside Clutch Bench"))
    for name in (HAND, "Ebba"):
        workshop.add_person(connection, name)
    with days_ago(300):
        _tight(connection)
    with days_ago(30):
        _shelf(connection)
    _mountain_sled(connection, days_ago)
    _trail_sled(connection, days_ago, today)
    _side_by_side(connection, days_ago)
    _utility_quad(connection, days_ago)
    _part_numbers(connection)
    _touring_sled(connection, days_ago)
    _spare_clutch(connection, days_ago)
    machines.call_made_up(connection)


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
        visit.intake(
            odometer_km=820,
            complaint="First service. Runs well, wants it checked before the spring tour.",
            riding="mountain",
            elevation_m=900,
            temperature_c=-10,
        )
        visit.state_kinds("shimmed-spider-primary", "bolt-in-helix-secondary")
        visit.confirm_fitted()
        visit.calipered()
        visit.belt(decision="run on")
        visit.belt_on()
        visit.log(visit.ride("Packed snow, two pulls each way."), "packed snow.csv")
        calibrations.calibrate(connection, visit.id, HAND)
        for start_n, reason in ((715, "tried: a softer start, for the youngest rider"),
                                (755, "as it was: it crept at idle")):  # fmt: skip
            visit.fit({"primary_start_n": start_n}, reason)
            visit.put_back("primary")
            visit.log(visit.ride("The same lake, an hour later."), f"start {start_n} N.csv")
            calibrations.calibrate(connection, visit.id, HAND)
        visit.close()
        visit.hand_over(watch="Belt width again at 1,600 km.", next_service_km=1600)
        visit.sign_off("Jonas, bench 1")
    with days_ago(1):
        visit = Bench(connection, machine)
        visit.intake(
            odometer_km=2310,
            complaint="Bogs when she opens it on a climb, and feels lazy at the top.",
            riding="mountain",
            elevation_m=1500,
            temperature_c=-12,
        )
        visit.baseline()
        visit.confirm_fitted()
        visit.calipered()
        visit.belt(decision="run on", reason="one more weekend, then the spare")
        visit.belt_on()
        calibrations.calibrate(connection, visit.id, HAND)
        visit.fit(
            {"arm_mass_g": 59.0, "load_g.tip": 0.5, "primary_start_n": 765},
            "thinner air at 1,500 m: weight off the arms, a stiffer start for the climb",
        )
        visit.scaled("primary", "arms", 3)
        visit.put_back("primary")


def _trail_sled(connection: sqlite3.Connection, days_ago: Any, today: datetime) -> None:
    """In and out within a day: a new belt, the old one kept as a spare."""
    with days_ago(21):
        machine = _bring_in(connection, "trail-sled", "sled", "Edvin L.")
        visit = Bench(connection, machine)
        visit.intake(
            odometer_km=3140,
            complaint="Top speed is down since last winter.",
            riding="trail",
            elevation_m=250,
            temperature_c=-4,
        )
        visit.baseline()
        visit.state_kinds("tower-and-button-primary", "jackshaft-roller-secondary")
        visit.confirm_fitted()
        visit.calipered()
        visit.belt(decision="spare", reason="narrow: it starts and ends in the wrong gear", next_width_mm=35.0)
        visit.belt_on("by its arrow", next_is="new", next_number="FB-BELT", next_price=148.0)
        belts.change(connection, visit.visit.belt.belt_id, {"make_number": Edit("", "FB-BELT")}, HAND)
        for minutes in (0, 90):
            _heated(connection, visit.id, today - timedelta(days=21, hours=-3, minutes=-minutes))
        line_up.release(connection, visit.id, {"released": Edit("", "released")}, HAND)
        visit.log(visit.ride("Lake strip, new belt broken in first."), "lake strip.csv")
        visit.close()
        visit.hand_over(watch="New belt: look at it after 300 km.", next_service_km=4500)
        visit.sign_off("Jonas, bench 1")


def _side_by_side(connection: sqlite3.Connection, days_ago: Any) -> None:
    """Half-way through: the belt is measured, the change is only tried."""
    with days_ago(2):
        machine = _bring_in(connection, "farm-side-by-side", "side-by-side", "Farm at Nedre Lia")
    with days_ago(0):
        visit = Bench(connection, machine)
        visit.intake(
            odometer_km=4870,
            complaint="Revs past itself when the trailer is on, smells of belt.",
            riding="towing",
            elevation_m=300,
            temperature_c=4,
        )
        visit.baseline()
        visit.confirm_fitted()
        visit.calipered(1, 2)
        visit.try_out({"load_g.pocket 3": 3.5})


def _utility_quad(connection: sqlite3.Connection, days_ago: Any) -> None:
    """A stranger: its kind, its belt and two readings are known, and a fault that was looked for."""
    with days_ago(0):
        stranger = bringing_in.Stranger(
            machine="quad",
            primary="roller-variator-primary",
            secondary="nut-retained-torque-spring-secondary",
            engine="four-stroke, 600 cc and over",
            name="Ormsgill 740 utility quad",
            rider="Peat cutters' lodge",
            complaint="Since the wet spring it will not pull its trailer up the bank, and smells of belt.",
            readings={"belt_width": {"width_mm": "32.4"}, "weights": {"mass_g": "19.4"}},
        )
        visit = bringing_in.bring_in(connection, stranger, visits.open_visit, HAND)
        faults.record(connection, visit, "other", "", "duct split at the clutch cover, dried mud inside", HAND)


def _shelf(connection: sqlite3.Connection) -> None:
    """The parts room: weighed arms, tested springs, a set that is none and a spring that has sagged."""
    sheet = resources.files("jaxel.demo").joinpath("shelf.csv").read_bytes()
    refused = sheets.take_in(connection, sheet, HAND).refused
    if refused:
        raise ValueError(f"the demo's own shelf is refused: {refused}")


def _part_numbers(connection: sqlite3.Connection) -> None:
    """What the workshop orders most: numbers of its own invention."""
    for number, kind, make, price, pack, life_km in (
        ("FB-AB3", "arm bushing", "Brackholm", 38.0, 3, 3000),
        ("FB-ARM", "arm", "Brackholm", 62.0, 1, None),
        ("FB-RO3", "spider roller", "Brackholm", 57.0, 3, None),
        ("FB-BT2", "button", "Ravnsete", 14.0, 2, 6000),
        ("FB-PS64", "primary spring", "Brackholm", 54.0, 1, None),
        ("FB-SS80", "secondary spring", "Ravnsete", 49.0, 1, None),
        ("FB-BELT", "belt", "Ravnsete", 148.0, 1, 3200),
        ("FB-GD3", "slide guide", "Tarnrigg", 19.5, 3, None),
    ):
        part = parts.add(connection, number, kind, HAND)
        values = {"make": ("", make), "price": (None, price), "pack": (1, pack), "life_km": (None, life_km)}
        parts.change(
            connection, part, {name: Edit(was, now) for name, (was, now) in values.items() if was != now}, HAND
        )
    parts.say_tool(connection, "arm bushing driver", {"price": Edit(None, 45.0)}, HAND)
    parts.say_tool(connection, "bushing driver", {"owned": Edit(False, True)}, HAND)


def _tight(connection: sqlite3.Connection) -> None:
    """The workshop's wrenches."""
    for wrench in (
        Wrench("Screwdriver click", low_nm=1, high_nm=6, step_nm=0.1, length_mm=120, due_on="2027-03-01"),
        Wrench("Bench click", low_nm=10, high_nm=80, step_nm=0.5, length_mm=340, due_on="2027-02-04"),
        Wrench("Long click", low_nm=60, high_nm=200, step_nm=1, length_mm=510, due_on="2026-09-30"),
        Wrench("Four-to-one", "multiplier", ratio=4, high_nm=800),
    ):
        wrenches.add(connection, wrench, HAND)


def _heated(connection: sqlite3.Connection, visit_id: int, began: datetime) -> None:
    """One heat cycle of a new belt: warmed for a quarter of an hour, cooled for forty minutes."""
    with at_moment(began):
        line_up.begin_heat(connection, visit_id, HAND)
    cycle = visits.get(connection, visit_id).back_together.cycles[-1].id
    for minutes, celsius in ((17, 62.0), (57, 4.0)):
        with at_moment(began + timedelta(minutes=minutes)):
            line_up.end_heat(connection, visit_id, cycle, celsius, HAND)


def _spare_clutch(connection: sqlite3.Connection, days_ago: Any) -> None:
    """A spare primary on the bench, stripped and half-way back together: one arm of its set is not like the others."""
    with days_ago(0):
        stranger = bringing_in.Stranger(
            machine="sled", primary="tower-and-button-primary", engine="two-stroke, under 700 cc", bare=True,
            identity=machines.Identity("30 mm", None, "K7"), name="Spare primary K7", rider="Club sled",
            complaint="Stood for two winters; wanted sound before the races.",
        )  # fmt: skip
        visit = Bench.of(connection, bringing_in.bring_in(connection, stranger, visits.open_visit, HAND))
        visit.opened("full strip")
        for part in ("cover", "spider", "arms", "moving"):
            strip.mark(connection, visit.id, f"primary.{part}", Edit(False, True), HAND)
        visit.look("primary", "arm_bushing", 0.1, 0.1, 0.15, looked="removed", grade="a little play")
        visit.look("primary", "arm_roller", 0.0, 0.0, 0.0, looked="removed", grade="free")
        visit.weigh("primary", "arms", 48.1, 48.0, 46.9)
        visit.put_back("primary", but=("arms", "spring", "cover", "checks", "bolt"))


def _touring_sled(connection: sqlite3.Connection, days_ago: Any) -> None:
    """One belt through four visits, watched buttons, and a jerk that has begun since: on the bench for its service."""
    with days_ago(700):
        touring = document("trail-sled").model_copy(update={"name": "Skelgarth 600 touring sled"})
        machine = machines.bring_in(connection, touring, "sled", "Ragna B.")
    for days, odometer_km, buttons in ((690, 610, 0.35), (420, 1320, 0.5), (310, 1990, 0.6)):
        with days_ago(days):
            visit = Bench(connection, machine, "service")
            visit.intake(
                odometer_km=odometer_km, complaint="Service.", riding="trail", walking_range="low", no_tachometer=True,
                elevation_m=250, temperature_c=-6,
            )  # fmt: skip
            if days == 690:
                visit.state_kinds("tower-and-button-primary", "bolt-in-helix-secondary")
            visit.calipered()
            visit.belt(decision="run on", direction="arrow to the front, lettering outward", way="A")
            visit.belt_on()
            visit.opened("on machine")
            visit.look("primary", "buttons", buttons, looked="assembled")
            for face in ("moving_face", "fixed_face"):
                visit.look("primary", face, rings=(0, 0, 0, 0, 0), looked="assembled")
                visit.look("secondary", f"secondary_{face}", rings=(0, 0, 0, 0, 0), looked="assembled")
            visit.look_over()
            visit.line_up(
                way="gaps", base_mm=210.0, nominal_mm=35.0, front_mm=35.6, rear_mm=35.2, deflection_mm=30.0,
                turned=6, seated=True,
            )  # fmt: skip
            visit.close()
            visit.hand_over(watch="Buttons: a little more rock each time.", next_service_km=odometer_km + 700)
            visit.sign_off("Jonas, bench 1")
    with days_ago(0):
        visit = Bench(connection, machine, "service")
        visit.intake(
            odometer_km=2690, complaint="Takes off with a jerk since the autumn, and bogs when it is opened quickly.",
            riding="trail", walking_range="high", no_tachometer=True, elevation_m=250, temperature_c=-5,
            symptoms=["jerky", "bog"],
        )  # fmt: skip
        visit.opened("cover off")
