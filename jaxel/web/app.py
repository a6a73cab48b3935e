"""The application factory."""

from pathlib import Path

from flask_openapi3 import Info, OpenAPI
from werkzeug.routing import IntegerConverter

from jaxel import __version__
from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.store.db import migrate

from . import database, errors, guard, health, pages
from .belt import belts
from .belt import routes as belt
from .bounded import Bounded
from .errors import ErrorAnswer, invalid_request
from .health import gauge
from .instruments import drawer, read_with, readings
from .jobs import JobRoom
from .kinds import guide
from .line_up import routes as line_up
from .machine import photos, upkeep
from .machine import routes as machine
from .rebuild import routes as rebuild
from .record import answer
from .run import calibrations, compare, logs, rider_words, road_tests
from .run.reading import ReadingRoom
from .setup import bench, curves, fitting, predictions
from .shelf import parts, planning
from .shelf.searches import SearchRoom
from .stranger import bring_in, faults
from .strip import routes as strip
from .visit import due, floor, hand_over, intake
from .visit import log as visit_log
from .visit.view import visit_view
from .workshop import bundles, workshop, wrenches
from .workshop import log as workshop_log

MOST_PHOTOS = 4
"""Photos that wait to be made small, or are: each holds one of the server's threads meanwhile, and most stay free."""


class _Number(IntegerConverter):
    """A number in an address: the digits 0 to 9 alone, not every script's."""

    regex = "[0-9]+"


FRONT_END = Path(__file__).parents[2] / "frontend" / "dist"


def create_app(database_path: Path, front_end: Path = FRONT_END) -> OpenAPI:
    """An application on one database file, its schema brought up to date; serves the built front end."""
    migrate(database_path)
    app = OpenAPI(
        "jaxel",
        info=Info(title="Jaxel", version=__version__),
        validation_error_callback=invalid_request,
        validation_error_model=ErrorAnswer,
        static_folder=None,
        doc_ui=False,
        security_schemes={},
    )
    app.url_map.converters["int"] = _Number
    app.config["DATABASE"] = str(database_path)
    app.config["MAX_CONTENT_LENGTH"] = FILE_LIMIT
    guard.register(app)
    database.register(app)
    errors.register(app)
    predictions.register(app)
    answer.register(app, visit_view)
    read_with.register(app)
    room, searches, darkroom = ReadingRoom(database_path), SearchRoom(), Bounded("photos", MOST_PHOTOS)
    work = JobRoom(database_path)
    app.extensions |= {"reading_room": room, "searches": searches, "darkroom": darkroom, "jobs": work}
    app.extensions["bundles"] = bundles.Shelf()
    gauge(app, "jobs", lambda: work.waiting)
    gauge(app, "logs", lambda: room.waiting)
    gauge(app, "photos", lambda: darkroom.waiting)
    gauge(app, "searches", lambda: searches.waiting)
    places = (floor, bring_in, machine, upkeep, photos, belts, due, parts, guide, curves, calibrations, workshop)
    stations = (intake, faults, belt, strip, fitting, bench, planning, rebuild, line_up, hand_over)
    runs = (road_tests, logs, compare, rider_words)
    for each in (*places, wrenches, *stations, *runs, visit_log, workshop_log, bundles, drawer, readings, health):
        app.register_api(each.api)
    pages.register(app, front_end)
    return app
