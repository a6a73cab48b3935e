"""The application factory."""

from pathlib import Path

from flask import Response, send_from_directory
from flask_openapi3 import Info, OpenAPI

from jaxel import __version__
from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.store.db import migrate

from . import belt, database, errors, fitting, floor, hand_over, intake, machine, road_tests
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
    )
    app.config["DATABASE"] = str(database_path)
    app.config["MAX_CONTENT_LENGTH"] = FILE_LIMIT
    database.register(app)
    errors.register(app)
    for module in (floor, machine, intake, belt, fitting, road_tests, hand_over):
        app.register_api(module.api)
    _serve_front_end(app, front_end)
    return app


def _serve_front_end(app: OpenAPI, folder: Path) -> None:
    """Files of the built front end; every other address outside /api is a page of it."""

    @app.route("/", defaults={"name": ""})
    @app.route("/<path:name>")
    def page(name: str) -> Response:
        if name.startswith("api/") or name == "api":
            return errors.refusal(404, "address", "there is no such address")
        if name and "\x00" not in name and (folder / name).is_file():
            return send_from_directory(folder, name)
        if not (folder / "index.html").is_file():
            return errors.refusal(404, "address", "the interface has not been built: run make demo")
        return send_from_directory(folder, "index.html", max_age=0)
