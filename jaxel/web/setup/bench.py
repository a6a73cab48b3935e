"""The set-up bench beyond its slots: the pictures, the shelf for a visit, what-if, the altitude card."""

from functools import lru_cache
from typing import Annotated

from flask import Response
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.plan.plan import AltitudeTable
from jaxel.core.formats.prediction import PredictionDocument
from jaxel.core.formats.setup.setup import SetupDocument, write_setup, written_setup
from jaxel.core.formats.tables import ALTITUDE, written
from jaxel.core.trade.kinds.kinds import Kinds, side_of
from jaxel.core.trade.run.scores import predicted_figures
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.elsewhere.gearing import CONVERTER, rule_of_thumb, tried_teeth, with_teeth
from jaxel.core.trade.setup.elsewhere.what_if import Elsewhere, WhatIf, what_if
from jaxel.core.trade.setup.parts import differing
from jaxel.core.trade.setup.picture import ClutchPicture, clutch_picture
from jaxel.core.trade.setup.slots import every_slot
from jaxel.core.trade.setup.where_from import Share
from jaxel.core.trade.setup.where_from import where_from as of_set_up
from jaxel.core.trade.shelf.altitude import altitude_table
from jaxel.core.trade.shelf.part_specs import spec_words
from jaxel.core.trade.shelf.shelf import StockPart, check_whole, options_of, slots_of
from jaxel.core.words import q
from jaxel.store.run import verdicts
from jaxel.store.setup.calibrated import Ground, applied
from jaxel.store.shelf import shelf
from jaxel.store.visit import visits
from jaxel.store.visit.visits import Visit
from jaxel.store.workshop import workshop

from ..database import connection
from ..record.answer import answer, download
from ..record.blueprint import Blueprint
from ..record.fields import AirShare, Elevation, Gearing, PowerShare, Temperature, VisitPath, Width
from ..record.model import Model, Request
from ..units import units
from .predictions import predicted, prediction_of

api = Blueprint("bench", "/api/visits/<int:visit_id>/setup")


class PicturesView(Model):
    """Both clutches as found and as left; None where a fault leaves nothing to draw."""

    found: ClutchPicture | None
    left: ClutchPicture | None


class ShelfOption(Model):
    """A part that could go in a slot; `refused`, why it cannot."""

    part: int
    number: str
    make: str
    words: str
    kind: str
    pieces: int | None
    price: float | None
    refused: str
    besides: list[str]


class ShelfSlot(Model):
    slot: str
    name: str
    parts: list[ShelfOption]


class ShelfView(Model):
    """Parts of the shelf by the slot they go in, kits apart; `slots`, every slot of the machine by key and name."""

    slots: list[ShelfSlot]
    kits: list[ShelfOption]


class ShareView(Model):
    """What one of several changes on the tray does of the whole change [rpm]."""

    slot: str
    name: str
    engagement_rpm: float
    shift_rpm: float


class SharesView(Model):
    shares: list[ShareView]


class WhatIfBody(Request):
    """Conditions tried, as numbers or as typed; what is left out stays as it is. Power and airflow in per cent of what
    they are; teeth as driving/driven, those fitted and those tried, in place of a gearing."""

    elevation_m: Elevation | None = None
    temperature_c: Temperature | None = None
    rolling_radius_mm: Width | None = None
    drive_ratio: Gearing = None
    teeth_now: Annotated[str, Field(max_length=20)] = ""
    teeth: Annotated[str, Field(max_length=20)] = ""
    power_pct: PowerShare = None
    airflow_pct: AirShare = None


class ConditionsView(Model):
    """The conditions the set-up stands in now."""

    elevation_m: float
    temperature_c: float
    rolling_radius_mm: float
    drive_ratio: float


class WhatIfView(Model):
    """The set-up on the bench where it is, and under what is tried; the overall gearing that its last log reached, with
    its deviation; and the rear sprocket that the torque converter's rule of thumb wants, None without teeth or where
    there is none."""

    here: ConditionsView
    now: WhatIf
    tried: WhatIf
    reached: float | None
    reached_sd: float | None
    rule_teeth: float | None


class WhereFromView(Model):
    """Where the figures of a set-up as left come from; `calibrated`, whether runs have narrowed them since."""

    formulas: dict[str, str]
    shares: list[Share]
    evidenced: bool
    calibrated: bool


class AltitudeQuery(Model):
    """`at`, a height besides those of the card, as a hand types it."""

    slot: Annotated[str, Field(max_length=60)] = "arms"
    at: Elevation | None = None


class AltitudeView(Model):
    """The target shift held over altitude by one slot; `slots` that could hold it, by key and name."""

    machine: str
    workshop: str
    slots: dict[str, str]
    table: AltitudeTable
    air: str
    also_m: float | None
    engagement_sd_rpm: float | None
    shift_sd_rpm: float | None


@api.get("/picture", responses={"200": PicturesView})
def picture(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    try:
        found = picture_of(visit.as_it_works(), visit.ground)
    except InvalidValue:
        found = None
    try:
        left = picture_of(visit.as_left(), visit.ground)
    except InvalidValue:
        left = None
    return answer(PicturesView(found=found, left=left))


def picture_of(document: SetupDocument, on: Ground | None) -> ClutchPicture:
    """The picture of a set-up with what is predicted of it; raises InvalidValue."""
    return drawn(write_setup(document), prediction_of(document, on))


@lru_cache(maxsize=64)
def drawn(text: str, prediction: str) -> ClutchPicture:
    """The picture of a set-up and its prediction, both as JSON."""
    return clutch_picture(written_setup(text), PredictionDocument.model_validate_json(prediction))


def slot_names(document: SetupDocument, slots: list[str]) -> dict[str, str]:
    """What a hand calls slots, by key: a load by its station."""
    known = {slot.key: slot.name for slot in every_slot(document, slots)}
    return {
        key: f"{key.removeprefix('load:')} load" if key.startswith("load:") else known.get(key, key.replace("_", " "))
        for key in slots
    }


@api.get("/shelf", responses={"200": ShelfView})
def on_the_shelf(path: VisitPath) -> Response:
    visit = visits.get(connection(), path.visit_id)
    left = visit.as_left()
    slots: dict[str, list[ShelfOption]] = {}
    kits: list[ShelfOption] = []
    for part in shelf.stocked(connection()).values():
        keys = [key for key in dict.fromkeys(slots_of(left, part)) if side_of(key) in visit.kinds.sides]
        if part.group == "kits":
            refused = _no_kit_here(left, part, visit.kinds)
            for key in keys:
                refused = refused or _refused(visit, left, key, part)
            kits.append(_option(part, refused))
            continue
        for key in keys:
            slots.setdefault(key, []).append(_option(part, _refused(visit, left, key, part)))
    names = slot_names(left, list(slots))
    return answer(ShelfView(slots=[ShelfSlot(slot=k, name=names[k], parts=v) for k, v in slots.items()], kits=kits))


def _no_kit_here(document: SetupDocument, kit: StockPart, on: Kinds) -> str:
    try:
        check_whole(document, kit, on)
    except InvalidValue as error:
        return error.reason
    return ""


def _refused(visit: Visit, document: SetupDocument, slot: str, part: StockPart) -> str:
    try:
        options_of(document, slot, part, visit.kinds)
    except InvalidValue as error:
        return error.reason
    return ""


def _option(part: StockPart, refused: str) -> ShelfOption:
    return ShelfOption(
        part=part.id, number=part.number, make=part.make, words=spec_words(part.kind, part.spec),
        kind=part.kind, pieces=part.pieces, price=part.price, refused=refused, besides=list(part.besides),
    )  # fmt: skip


@api.get("/shares", responses={"200": SharesView})
def shares(path: VisitPath) -> Response:
    """What each change on the tray does of the whole, every order of them averaged; none for fewer than two."""
    visit = visits.get(connection(), path.visit_id)
    before = visit.left.in_use(visit.left_width_mm, visit.conditions, visit.target)
    return answer(SharesView(shares=_shares(before, visit.as_left(), visit.ground)))


def _shares(before: SetupDocument, after: SetupDocument, on: Ground | None) -> list[ShareView]:
    if len(differing(before, after)) < 2:
        return []
    known = on.core if on else Calibration.none(before)
    (split,) = known.shares([(before, after)])
    slots = [part for group in split for part in group]
    names = slot_names(after, slots)
    return [
        ShareView(
            slot=group[0], name=", ".join(names[each] for each in group),
            engagement_rpm=round(float(change[0]), 1), shift_rpm=round(float(change[1]), 1),
        )
        for group, change in known.told_shares(split).items()
    ]  # fmt: skip


@api.post("/what-if", responses={"200": WhatIfView})
def elsewhere(path: VisitPath, body: WhatIfBody) -> Response:
    """What the set-up on the bench would do under other conditions; nothing of the visit is touched."""
    visit = visits.get(connection(), path.visit_id)
    left = visit.as_left()
    pair = tried_teeth(body.teeth_now, body.teeth)
    drive_ratio = with_teeth(left.vehicle.drive_ratio, *pair) if pair else body.drive_ratio
    tried = Elsewhere(
        body.elevation_m, body.temperature_c, body.rolling_radius_mm, drive_ratio,
        _share(body.power_pct), _share(body.airflow_pct),
    )  # fmt: skip
    here = ConditionsView(
        elevation_m=left.conditions.elevation_m,
        temperature_c=left.conditions.temperature_c,
        rolling_radius_mm=left.vehicle.rolling_radius_mm,
        drive_ratio=left.vehicle.drive_ratio,
    )
    text = write_setup(left)
    on = visit.ground.text if visit.ground else None
    reached = verdicts.gearing_reached(connection(), visit)
    converter = visit.kinds.primary == CONVERTER and pair is not None
    tyre = body.rolling_radius_mm or left.vehicle.rolling_radius_mm
    return answer(
        WhatIfView(
            here=here, now=_what_if(text, on, Elsewhere()), tried=_what_if(text, on, tried),
            reached=reached and reached[0], reached_sd=reached and reached[1],
            rule_teeth=rule_of_thumb(pair[1].driving, 2 * tyre) if converter and pair else None,
        )
    )  # fmt: skip


def _share(percent: float | None) -> float | None:
    return None if percent is None else percent / 100


@lru_cache(maxsize=64)
def _what_if(text: str, ground: str | None, tried: Elsewhere) -> WhatIf:
    return what_if(written_setup(text), tried, applied(ground) if ground else None)


@api.get("/where-from", responses={"200": WhereFromView})
def where_from(path: VisitPath) -> Response:
    """Each figure's formula by name, and what makes up the ± of engagement and shift."""
    visit = visits.get(connection(), path.visit_id)
    found = of_set_up(visit.as_left())
    return answer(
        WhereFromView(
            formulas=dict(found.formulas),
            shares=list(found.shares),
            evidenced=found.evidenced,
            calibrated=visit.calibration is not None,
        )
    )


@api.get("/altitude", responses={"200": AltitudeView})
def altitude(path: VisitPath, query: AltitudeQuery) -> Response:
    """What a slot must hold at each altitude for the target shift: the glovebox card."""
    visit, left, table = _altitude(path.visit_id, query)
    slots = [*(["clicker"] if left.primary.clicker else []), "arms", *(f"load:{s.name}" for s in left.primary.stations)]
    air = f"{q(left.conditions.temperature_c, '°C')} at {q(left.conditions.elevation_m, 'm')}"
    name = visit.found.name
    band = predicted_figures(predicted(left, visit.ground))
    return answer(
        AltitudeView(
            machine=name,
            workshop=workshop.get(connection()).name,
            slots=slot_names(left, slots),
            table=table,
            air=air,
            also_m=query.at,
            engagement_sd_rpm=band.engagement_sd_rpm or None,
            shift_sd_rpm=band.shift_sd_rpm or None,
        )
    )


@api.get("/altitude.csv", responses={"200": {"content": {"text/csv": {}}}})
def altitude_csv(path: VisitPath, query: AltitudeQuery) -> Response:
    """The altitude card as a table, in the hand's units, named in its header."""
    _, _, table = _altitude(path.visit_id, query)
    height, heat = units().shown("m"), units().shown("°C")
    unit = f", {table.unit}" if table.unit else ""
    headings = [f"altitude, {height.name}", f"temperature, {heat.name}", "power", f"{table.slot}{unit}",
                "engagement, rpm", "shift, rpm"]  # fmt: skip
    rows = (
        (f"{height.of(row.elevation_m):.0f}", f"{heat.of(row.temperature_c):.0f}", f"{row.power_factor:.3f}",
         row.value, _whole(row.engagement_rpm), _whole(row.shift_mean_rpm))
        for row in table.rows
    )  # fmt: skip
    return download(written(ALTITUDE, headings, rows), "text/csv", "altitude-card.csv")


def _whole(rpm: float | None) -> str | None:
    return None if rpm is None else f"{rpm:.0f}"


def _altitude(visit_id: int, query: AltitudeQuery) -> tuple[Visit, SetupDocument, AltitudeTable]:
    visit = visits.get(connection(), visit_id)
    left = visit.as_left()
    return visit, left, _table(write_setup(left), visit.ground.text if visit.ground else None, query.slot, query.at)


@lru_cache(maxsize=32)
def _table(text: str, ground: str | None, slot: str, also_m: float | None) -> AltitudeTable:
    calibration = applied(ground) if ground else None
    return altitude_table(written_setup(text), slot, calibration, also_m=also_m)
