"""Real devices: what they send by their bench's token, held there until a page takes it; and the benches."""

from typing import Annotated

from flask import Response, request
from pydantic import Field

from jaxel.core.formats.device_reading import DEVICES, DeviceReading
from jaxel.store.instruments import benches, readings

from ..database import connection
from ..errors import refusal
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Id, hand, once
from ..record.model import Model, Request

api = Blueprint("device_readings", "/api")


class BenchView(Model):
    """`made_at`, when the token was made that opens it; the token itself is told once."""

    id: int
    name: str
    made_at: str
    made_by: str


class BenchesView(Model):
    benches: list[BenchView]


class NewBench(Request):
    name: Annotated[str, Field(max_length=120)]


class BenchToken(Model):
    """A bench's new token, told here and never again."""

    bench: int
    token: str


class BenchPath(Model):
    bench_id: Id


class HeldPath(Model):
    bench_id: Id
    reading_id: Id


class HeldReading(Model):
    """A reading that waits: of which device, when it was sent, and for how many seconds more it waits."""

    id: int
    instrument: str
    value: float
    unit: str
    sent_at: str
    seconds_left: int


class HeldReadings(Model):
    """What waits at a bench, oldest first; `for_seconds`, how long a reading waits."""

    readings: list[HeldReading]
    for_seconds: int


class TakenIn(Model):
    """A reading taken in: its number, and what it was taken as."""

    id: int
    said: str


def _view() -> Response:
    return answer(BenchesView(benches=[BenchView(**vars(each)) for each in benches.all_benches(connection())]))


@api.get("/benches", responses={"200": BenchesView})
def all_benches() -> Response:
    return _view()


@api.post("/benches", responses={"201": BenchesView})
def add(body: NewBench) -> tuple[Response, int]:
    once(lambda: benches.add(connection(), body.name, hand()))
    return _view(), 201


@api.post("/benches/<int:bench_id>/token", responses={"200": BenchToken})
def renew(path: BenchPath, body: Request) -> Response:
    """A new token; the one before opens nothing from now on."""
    return answer(BenchToken(bench=path.bench_id, token=benches.renew(connection(), path.bench_id, hand())))


@api.post("/benches/<int:bench_id>/remove", responses={"200": BenchesView})
def remove(path: BenchPath, body: Request) -> Response:
    """Take a bench away with what waits there."""
    once(lambda: benches.remove(connection(), path.bench_id, hand()))
    return _view()


@api.get("/benches/<int:bench_id>/readings", responses={"200": HeldReadings})
def held(path: BenchPath) -> Response:
    waiting = readings.held(connection(), path.bench_id)
    return answer(
        HeldReadings(readings=[HeldReading(**vars(each)) for each in waiting], for_seconds=readings.HELD_SECONDS)
    )


@api.post("/benches/<int:bench_id>/readings/<int:reading_id>/take", responses={"200": HeldReading})
def take(path: HeldPath, body: Request) -> Response:
    """Take a reading to one page: it is gone from the bench."""
    return answer(HeldReading(**vars(readings.take(connection(), path.bench_id, path.reading_id))))


@api.post("/readings", responses={"201": TakenIn})
def send(body: DeviceReading) -> tuple[Response, int] | Response:
    """A device's reading, a `jaxel-reading` document, with its bench's token as `Authorization: Bearer`."""
    reading = body.checked()
    token = request.headers.get("Authorization", "").removeprefix("Bearer ").strip()
    if not benches.opens(connection(), reading.bench, token):
        return refusal(403, "token", f"is not that of bench {reading.bench}")
    made = readings.take_in(connection(), reading)
    words = f"{DEVICES[reading.instrument].name} {reading.value:g} {reading.unit}"
    return answer(TakenIn(id=made, said=f"{words}, at bench {reading.bench}")), 201
