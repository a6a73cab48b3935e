"""Workshop: its name, its people, the units they read in, and what its stamps weigh."""

from typing import Annotated, Any

from flask import Response
from pydantic import Field, TypeAdapter, ValidationError

from jaxel.core.formats.reading import refuse
from jaxel.core.units import PRESETS, Shown, Units, unit_choices
from jaxel.store.edits import Edit
from jaxel.store.workshop import stamps
from jaxel.store.workshop import workshop as store

from ..database import connection
from ..record.answer import answer
from ..record.blueprint import Blueprint
from ..record.fields import Changed, Id, Mass, Price, hand, once
from ..record.model import Model, Request
from ..units import units

api = Blueprint("workshop", "/api/workshop")

Name = Annotated[str, Field(max_length=120)]


class PersonView(Model):
    id: int
    name: str
    archived: bool
    units: Units | None


class StampView(Model):
    id: int
    stamp: str
    mass_g: float


class UnitChoice(Model):
    """A quantity and the units it may be read in."""

    quantity: str
    units: list[str]


class UnitPreset(Model):
    name: str
    units: Units


class WorkshopView(Model):
    """`hour_price`, what an hour of work costs; `shown`, how the hand at this browser reads each unit that answers are
    in: (value − offset)/factor."""

    name: str
    hour_price: float | None
    people: list[PersonView]
    units: Units
    shown: dict[str, Shown]
    choices: list[UnitChoice]
    presets: list[UnitPreset]
    stamps: list[StampView]


class NewStamp(Request):
    """A stamp and what one of its like weighs."""

    stamp: Annotated[str, Field(max_length=20)]
    mass_g: Mass


class StampPath(Model):
    stamp_id: Id


class NewPerson(Request):
    name: Name


class PersonPath(Model):
    person_id: Id


def _view() -> Response:
    held = store.get(connection())
    return answer(
        WorkshopView(
            name=held.name,
            hour_price=held.hour_price,
            people=[
                PersonView(id=each.id, name=each.name, archived=each.archived, units=each.units) for each in held.people
            ],
            units=held.units,
            shown=units().table(),
            choices=[UnitChoice(quantity=name, units=list(names)) for name, names in unit_choices().items()],
            presets=[UnitPreset(name=name, units=each) for name, each in PRESETS.items()],
            stamps=[
                StampView(id=each.id, stamp=each.stamp, mass_g=each.mass_g) for each in stamps.all_stamps(connection())
            ],
        )
    )


@api.get("", responses={"200": WorkshopView})
def workshop() -> Response:
    return _view()


@api.patch("/name", responses={"200": WorkshopView})
def rename(body: Changed[Name]) -> Response:
    store.rename(connection(), body.edit(), hand())
    return _view()


@api.patch("/hour", responses={"200": WorkshopView})
def hour(body: Changed[Price]) -> Response:
    """What an hour of work costs here; null for not said."""
    store.price_hour(connection(), body.edit(), hand())
    return _view()


@api.post("/people", responses={"201": WorkshopView})
def add_person(body: NewPerson) -> tuple[Response, int]:
    once(lambda: store.add_person(connection(), body.name, hand()))
    return _view(), 201


@api.patch("/people/<int:person_id>/archived", responses={"200": WorkshopView})
def archive(path: PersonPath, body: Changed[bool]) -> Response:
    store.archive(connection(), path.person_id, body.edit(), hand())
    return _view()


@api.patch("/units", responses={"200": WorkshopView})
def read_in(body: Changed[Units]) -> Response:
    """The units the workshop reads in."""
    store.read_in(connection(), None, _of_units(body), hand())
    return _view()


@api.patch("/people/<int:person_id>/units", responses={"200": WorkshopView})
def person_reads_in(path: PersonPath, body: Changed[Units | None]) -> Response:
    """The units one of its people reads in; null for the workshop's."""
    store.read_in(connection(), path.person_id, _of_units(body), hand())
    return _view()


def _of_units(body: Changed[Any]) -> Edit:
    try:
        was = None if body.was is None else TypeAdapter(Units).validate_python(body.was)
    except ValidationError as error:
        raise refuse(error) from None
    return Edit(was, body.now, body.sure)


@api.post("/stamps", responses={"201": WorkshopView})
def note_stamp(body: NewStamp) -> tuple[Response, int]:
    once(lambda: stamps.note(connection(), body.stamp, body.mass_g, hand()))
    return _view(), 201


@api.post("/stamps/<int:stamp_id>/forget", responses={"200": WorkshopView})
def forget_stamp(path: StampPath, body: Request) -> Response:
    once(lambda: stamps.forget(connection(), path.stamp_id, hand()))
    return _view()
