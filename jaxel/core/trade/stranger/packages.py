"""Typical packages: what a machine of a kind usually has, before anything of it has been measured.

A package is a whole set-up whose every number is typical, with the spread of all machines of its kind.
"""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Annotated, Any, Literal

from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import Part, validate
from jaxel.core.formats.setup.setup import SetupDocument

from ..kinds.kinds import Side, check_kind, kinds
from ..setup.evidence import of_a_stranger

MachineKind = Literal["sled", "side-by-side", "quad", "light vehicle"]


class _PackageFile(Part):
    """One file of core/data/packages."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    machine: MachineKind
    primary: str
    secondary: str
    engine: Annotated[str, Field(min_length=1, max_length=60)]
    setup: dict[str, Any]


@dataclass(frozen=True)
class Package:
    """A typical package: the machine, clutches and engine it is of, and its set-up with the evidence of a stranger."""

    key: str
    name: str
    machine: MachineKind
    primary: str
    secondary: str
    engine: str
    document: SetupDocument


@cache
def packages() -> Mapping[str, Package]:
    """Every package by its key.

    Raises InvalidValue for a file that is no package, or one that names a kind nobody knows.

    >>> packages()["quad-variator-500"].document.primary.weights.count
    8

    Source: core/data/packages; from memory.
    """
    found = {}
    for file in sorted(resources.files("jaxel.core.data.packages").iterdir(), key=lambda each: each.name):
        if file.name.endswith(".toml"):
            key = file.name.removesuffix(".toml")
            found[key] = read_package(key, file.read_text(encoding="utf-8"))
    return found


def read_package(key: str, text: str) -> Package:
    """A package from its TOML text; raises InvalidValue naming the field and the reason."""
    try:
        data = validate(_PackageFile, tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise InvalidValue(key, f"is not TOML: {error}") from None
    bare = validate(SetupDocument, {"format": "jaxel-setup", "version": 1, **data.setup})
    check_kind("primary", data.primary, "primary", bare)
    check_kind("secondary", data.secondary, "secondary", bare)
    bare.core()
    document = bare.model_copy(update={"evidence": of_a_stranger(bare)})
    return Package(key, data.name, data.machine, data.primary, data.secondary, data.engine, document)


def engines(machine: MachineKind) -> list[str]:
    """The engine classes of a kind of machine, the small ones first; between them they leave no gap."""
    found = dict.fromkeys(each.engine for each in packages().values() if each.machine == machine)
    return sorted(found, key=lambda each: (each.startswith("four"), "under" not in each))


@dataclass(frozen=True)
class Fit:
    """The package nearest to what one sees, and what of it is not so there; nothing where it is of that very kind."""

    package: Package
    differs: tuple[str, ...]


def nearest(machine: MachineKind | None, primary: str | None, secondary: str | None, engine: str | None) -> Fit:
    """The package nearest to a machine by what one sees of it; None for what nobody has looked at.

    The form of the primary's weights must be the same, then count in this order: machine, primary, engine, secondary.
    Raises InvalidValue for a kind that is none, or none of that side.
    """
    asked: dict[Side, str | None] = {"primary": primary, "secondary": secondary}
    for side, key in asked.items():
        if key is not None:
            kind = kinds().get(key)
            if kind is None:
                raise InvalidValue(f"{side}_kind", "is no kind of clutch known here")
            if kind.side not in (side, "both"):
                raise InvalidValue(f"{side}_kind", f"{kind.name.lower()} is no {side} clutch")
    form = kinds()[primary].form if primary else None
    fitting = [each for each in packages().values() if form in (None, kinds()[each.primary].form)]

    def misses(each: Package) -> tuple[bool, ...]:
        wanted = ((each.machine, machine), (each.primary, primary), (each.engine, engine), (each.secondary, secondary))
        return tuple(want is not None and have != want for have, want in wanted)

    best = min(fitting, key=misses)
    words = (best.machine, kinds()[best.primary].name.lower(), best.engine, kinds()[best.secondary].name.lower())
    return Fit(best, tuple(word for word, missed in zip(words, misses(best), strict=True) if missed))
