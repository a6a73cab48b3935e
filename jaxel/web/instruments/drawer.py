"""The drawer of instruments: which devices there are, and a stand-in's reading where a machine is made up."""

from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.device_reading import DEVICES, Device
from jaxel.store.machine import machines
from jaxel.store.visit import visits
from jaxel.store.visit.visits import Visit

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import VisitPath
from ..record.model import Model, Request

api = Blueprint("instruments", "/api")


class DeviceView(Model):
    """A device: what it is called, the unit its quantity is kept in, and what one reading repeats to."""

    key: str
    name: str
    unit: str
    repeats: float | None


class DevicesView(Model):
    """`stand_ins`, whether stand-ins answer here: only of machines that are made up."""

    stand_ins: bool
    devices: list[DeviceView]


class HeldTo(Request):
    """Where a device is held: the station and the place of the field that waits, how long it has been on, whether its
    zero was set, its unit switch, and how often it was read there before."""

    station: Annotated[str, Field(max_length=20)]
    place: Annotated[str, Field(max_length=120)]
    device: Device
    on_for_s: Annotated[float, Field(ge=0, le=1e9)] = 1e9
    zeroed: bool = False
    unit: Annotated[str, Field(max_length=12)] = ""
    reads: Annotated[int, Field(ge=0, le=100_000)] = 0


class StandInReading(Model):
    """`at_rest`, what it shows of nothing, in its unit."""

    value: float
    unit: str
    sd: float
    at_rest: float


class RideFile(Model):
    """A ride of the machine as it leaves, as a run logger's file."""

    name: str
    text: str


@api.get("/visits/<int:visit_id>/instruments", responses={"200": DevicesView})
def devices(path: VisitPath) -> Response:
    from jaxel.instruments.stand_in import BUILDS

    made_up = machines.is_made_up(connection(), visits.get(connection(), path.visit_id).machine_id)
    return answer(
        DevicesView(
            stand_ins=made_up,
            devices=[
                DeviceView(key=key, name=each.name, unit=each.unit, repeats=BUILDS[key].sd(0.0) if made_up else None)
                for key, each in DEVICES.items()
            ],
        )
    )


@api.post("/visits/<int:visit_id>/instruments/read", responses={"200": StandInReading})
def read(path: VisitPath, body: HeldTo) -> Response:
    """What a stand-in reads where it is held; refused where nothing is made up."""
    from jaxel.demo.stand_ins import read as stand_in_reads  # only a demo has them

    visit = _of_a_made_up(path.visit_id)
    shown = stand_in_reads(
        connection(), visit, body.device, body.station, body.place, on_for=body.on_for_s, zeroed=body.zeroed,
        unit=body.unit, reads=body.reads,
    )  # fmt: skip
    return answer(StandInReading(**vars(shown)))


@api.post("/visits/<int:visit_id>/instruments/ride", responses={"200": RideFile})
def ride(path: VisitPath, body: Request) -> Response:
    """A ride of the machine as it leaves, on the stand-in of a run logger."""
    from jaxel.demo.stand_ins import ride as stand_in_rides

    visit = _of_a_made_up(path.visit_id)
    name, data = stand_in_rides(connection(), visit)
    return answer(RideFile(name=name, text=data.decode()))


def _of_a_made_up(visit_id: int) -> Visit:
    visit = visits.get(connection(), visit_id)
    if not machines.is_made_up(connection(), visit.machine_id):
        raise InvalidValue("device", "is a stand-in: of a machine of one's own only real devices and hands read")
    return visit
