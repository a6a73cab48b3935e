"""The application factory."""

from pathlib import Path

from flask_openapi3 import Info, OpenAPI

from jaxel import __version__
from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.store.db import migrate

from . import (
    belt,
    belts,
    bench,
    bring_in,
    calibrations,
    curves,
    database,
    due,
    errors,
    faults,
    fitting,
    floor,
    guard,
    guide,
    hand_over,
    intake,
    line_up,
    machine,
    pages,
    parts,
    photos,
    planning,
    predictions,
    rebuild,
    road_tests,
    strip,
    upkeep,
    visit_log,
    workshop,
    wrenches,
)
from .errors import ErrorAnswer, invalid_request

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
    places = (floor, bring_in, machine, upkeep, photos, belts, due, parts, guide, curves, calibrations, workshop)
    stations = (intake, faults, belt, strip, fitting, bench, planning, rebuild, line_up, road_tests, hand_over)
    for each in (*places, wrenches, *stations, visit_log):
        app.register_api(each.api)
    pages.register(app, front_end)
    return app
