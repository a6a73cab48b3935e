"""Where practitioners differ: the schools side by side with their reasons, and the one a workshop follows."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import Part, validate

from .kinds import kinds


class _School(Part):
    name: str
    why: str


class _Question(Part):
    question: str
    default: str
    where: str
    school: dict[str, _School]


@dataclass(frozen=True)
class School:
    key: str
    name: str
    why: str


@dataclass(frozen=True)
class OpenQuestion:
    """A question with its schools; `default` holds until the workshop chooses; `where` it is met in the work."""

    key: str
    name: str
    where: str
    default: str
    schools: tuple[School, ...]


@cache
def questions() -> dict[str, OpenQuestion]:
    """Every question by its key, as the guide lists them.

    >>> questions()["abrasive"].default
    'pad'

    Raises InvalidValue for a file that contradicts itself or a kind that names no question. Source: common practice.
    """
    text = resources.files("jaxel.core.data").joinpath("schools.toml").read_text(encoding="utf-8")
    found = {key: validate(_Question, each) for key, each in tomllib.loads(text).items()}
    for key, each in found.items():
        if each.default not in each.school:
            raise InvalidValue(f"{key}.default", f"{each.default} is no school of it")
    for kind in kinds().values():
        for differs in kind.guide.differs:
            if differs.school not in found:
                raise InvalidValue(f"{kind.key}: differs", f"{differs.school} is no question")
    return {
        key: OpenQuestion(
            key, each.question, each.where, each.default,
            tuple(School(name, school.name, school.why) for name, school in each.school.items()),
        )
        for key, each in found.items()
    }  # fmt: skip


def check_choice(question: str, school: str) -> None:
    """Refuse a choice that is none, naming the field."""
    known = questions().get(question)
    if known is None:
        raise InvalidValue("question", "is no question on which practitioners differ here")
    if school not in {each.key for each in known.schools}:
        raise InvalidValue("school", f"is no school of {known.name.lower()}")


def followed(question: str, chosen: Mapping[str, str]) -> School:
    """The school that holds: the workshop's choice, else the default."""
    known = questions()[question]
    key = chosen.get(question, known.default)
    return next((each for each in known.schools if each.key == key), known.schools[0])
