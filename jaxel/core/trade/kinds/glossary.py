"""The glossary: what the words on screen and paper mean, in our own words."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import Field

from jaxel.core.formats.reading import Part, validate

from ..record.said import Station

Screen = Station | Literal["bring-in", "machines", "everywhere"]


@dataclass(frozen=True)
class Term:
    """A word: its `name` as it stands on screen, `at` which, `also` what else it is called, `text`, what it means."""

    key: str
    name: str
    at: tuple[Screen, ...]
    also: tuple[str, ...]
    text: str


class _Entry(Part):
    name: Annotated[str, Field(min_length=1, max_length=60)]
    at: Annotated[list[Screen], Field(min_length=1)]
    also: list[str] = Field(default_factory=list)
    text: Annotated[str, Field(min_length=20, max_length=240)]


class _File(Part):
    term: dict[str, _Entry]


@cache
def glossary() -> Mapping[str, Term]:
    """Every term by its key, in the order of their names.

    >>> glossary()["snap"].name
    'Hit, of it at once'
    """
    text = resources.files("jaxel.core.data").joinpath("glossary.toml").read_text(encoding="utf-8")
    known = validate(_File, {"term": tomllib.loads(text)}).term
    ordered = sorted(known.items(), key=lambda pair: pair[1].name.casefold())
    return {key: Term(key, each.name, tuple(each.at), tuple(each.also), each.text) for key, each in ordered}
