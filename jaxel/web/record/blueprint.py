"""A group of addresses: what each answers, refusals with it, said in one place and described when asked.

flask-openapi3 builds the JSON Schema of every body and answer as a route is declared; here a route is only noted, and
`describe` has the library do its work when the description is wanted: the server starts without it.
"""

import inspect
from collections.abc import Callable
from typing import Any

from flask_openapi3 import APIBlueprint, OpenAPI
from flask_openapi3.types import ParametersTuple
from flask_openapi3.utils import parse_parameters
from pydantic import BaseModel

from ..errors import ErrorAnswer
from .answer import TheVisit

Responses = dict[Any, Any]

READ_REFUSALS: Responses = dict.fromkeys(("403", "404", "405", "422", "503"), ErrorAnswer)
"""What any address can answer: a foreign host, nothing there, another method, a bad input, a disk that is no help."""

WRITE_REFUSALS: Responses = READ_REFUSALS | dict.fromkeys(("409", "413", "415", "429"), ErrorAnswer)
"""What a write can answer besides: changed elsewhere, too large, not JSON, too much waiting."""


BY_DEFAULT: Responses = {"200": TheVisit}


class Blueprint(APIBlueprint):
    """Addresses under one prefix; a route says only what it answers when it goes well, by default the visit."""

    def __init__(self, name: str, url_prefix: str):
        super().__init__(name, __name__, url_prefix=url_prefix)
        self._undescribed: list[tuple[str, Callable[..., Any], dict[str, Any]]] = []

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **said: Any) -> ParametersTuple:
        self._undescribed.append((rule, func, said))
        return parse_parameters(func, doc_ui=False)

    def describe(self, visit: type[BaseModel]) -> None:
        """Make the schemas of what was noted; `visit`, the model of the visit's answer."""
        for rule, func, said in self._undescribed:
            refusals = READ_REFUSALS if said["method"] == "GET" else WRITE_REFUSALS
            answers = {
                status: visit if model is TheVisit else model
                for status, model in (said["responses"] or BY_DEFAULT).items()
            }
            super()._collect_openapi_info(rule, func, **said | {"responses": answers | refusals})
        self._undescribed = []


def describe(app: OpenAPI) -> dict[str, Any]:
    """The OpenAPI description of an application; its schemas are made now."""
    visit = inspect.signature(app.extensions["visit_view"], eval_str=True).return_annotation
    for blueprint in app.blueprints.values():
        if isinstance(blueprint, Blueprint):
            blueprint.describe(visit)
            app.paths.update(blueprint.paths)
            app.components_schemas.update(blueprint.components_schemas)
    description: dict[str, Any] = app.api_doc
    return description
