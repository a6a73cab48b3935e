"""The application factory."""

from pathlib import Path

from flask_openapi3 import Info, OpenAPI

from jaxel import __version__
from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.store.db import migrate
from jaxel.store.run.reading import ReadingRoom

from . import database, errors, guard, pages
from .belt import belts
from .belt import routes as belt
from .errors import ErrorAnswer, invalid_request
from .instruments import drawer, read_with, readings
from .kinds import guide
from .line_up import routes as line_up
from .machine import photos, upkeep
from .machine import routes as machine
from .rebuild import routes as rebuild
from .record import answer
from .run import calibrations, compare, logs, rider_words, road_tests
from .setup import bench, curves, fitting, predictions
from .shelf import parts, planning
from .stranger import bring_in, faults
from .strip import routes as strip
from .visit import due, floor, hand_over, intake
from .visit import log as visit_log
from .visit.view import visit_view
from .workshop import workshop, wrenches

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
    app.config["DATABASE"] = str(database_path)
    app.config["MAX_CONTENT_LENGTH"] = FILE_LIMIT
    guard.register(app)
    database.register(app)
    errors.register(app)
    predictions.register(app)
    answer.register(app, visit_view)
    read_with.register(app)
    app.extensions["reading_room"] = ReadingRoom(database_path)
    places = (floor, bring_in, machine, upkeep, photos, belts, due, parts, guide, curves, calibrations, workshop)
    stations = (intake, faults, belt, strip, fitting, bench, planning, rebuild, line_up, hand_over)
    runs = (road_tests, logs, compare, rider_words)
    for each in (*places, wrenches, *stations, *runs, visit_log, drawer, readings):
        app.register_api(each.api)
    pages.register(app, front_end)
    return app
