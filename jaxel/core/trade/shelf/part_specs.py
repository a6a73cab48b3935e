"""What a part on the shelf is: the form each kind of part is described in, and what it comes to in words and figures.

A part that changes a set-up has a spec, one of the forms of a `jaxel-stock` document; any other part is a number, a
price and a pack.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from statistics import fmean
from typing import Annotated, Any, Literal

from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.plan.stock import (
    Held,
    HelixInStock,
    LoadInStock,
    MeasuredSecondarySpringInStock,
    MeasuredSpringInStock,
    RatedSecondarySpringInStock,
    RatedSpringInStock,
    SecondarySpringInStock,
    SpringInStock,
    WeightsInStock,
)
from jaxel.core.formats.quantities import Force, Text
from jaxel.core.formats.reading import Part, validate
from jaxel.core.units import said
from jaxel.core.words import q

from ..setup.slot import EQUAL_WITHIN_G

Group = Literal["weights", "loads", "primary_springs", "secondary_springs", "helixes", "shims", "washers", "limiters",
                "line_up_shims", "kits"]  # fmt: skip

GROUPS: dict[str, Group] = {
    "arm": "weights",
    "variator roller": "weights",
    "driver weight": "weights",
    "load": "loads",
    "primary spring": "primary_springs",
    "secondary spring": "secondary_springs",
    "helix": "helixes",
    "shim": "shims",
    "washer": "washers",
    "limiter spacer": "limiters",
    "line-up shim": "line_up_shims",
    "kit": "kits",
}
"""Kinds of part that change a set-up, and the group of a stock each belongs to; line-up shims fill no slot of it."""

MOST_SAG = 0.05
"""Share of the rated force from which a spring counts as sagged; from memory, the manual wins."""


class LoadSpec(LoadInStock):
    """A load by the mass of one piece; for one station only where it says so."""

    station: Annotated[str, Field(min_length=1, max_length=40)] | None = None


class ThicknessSpec(Held):
    """A shim, a washer or a limiter spacer; a washer for one of the clutches where it says so."""

    thickness_mm: Annotated[float, Field(gt=0, le=20, json_schema_extra={"unit": "mm"})]
    side: Literal["primary", "secondary"] | None = None


class StartNumber(Part):
    """A number a kit's sheet begins with, by the key of the slot's number it is."""

    key: Annotated[str, Field(min_length=1, max_length=60)]
    value: float


class KitSpec(Held):
    """Several parts fitted together, by their numbers.

    `sheet`, what its maker's sheet says of where to begin, `starts`, the numbers it begins with; `omits`, what it does
    not bring though it is needed; `not_used`, hardware it brings that may not go in; `decal` for the clutch.
    """

    members: Annotated[list[Text], Field(min_length=1, max_length=12)]
    sheet: Annotated[str, Field(max_length=500)] = ""
    starts: Annotated[list[StartNumber], Field(max_length=12)] = Field(default_factory=list)
    omits: Annotated[list[Text], Field(max_length=12)] = Field(default_factory=list)
    not_used: Annotated[list[Text], Field(max_length=12)] = Field(default_factory=list)
    decal: Annotated[str, Field(max_length=120)] = ""

    def notes(self, number: str) -> list[str]:
        """What a hand that fits it has to know besides its parts."""
        told = (
            self.sheet and f"{number} begins with: {self.sheet}",
            self.omits and f"{number} does not bring: {'; '.join(self.omits)}",
            self.not_used and f"Not to be used of {number}: {'; '.join(self.not_used)}",
            self.decal and f"Decal of {number}: {self.decal}",
        )
        return [each for each in told if each]

    def asks(self, number: str) -> list[tuple[str, str, str]]:
        """What is asked as the clutch goes back together with it, as (key, sort, words)."""
        found = []
        if self.not_used:
            found.append(
                ("kit_not_used", "stop", f"Stop: left out, as the sheet of {number} says: {'; '.join(self.not_used)}.")
            )
        if self.decal:
            found.append(("kit_decal", "back", f"Decal of {number} on the clutch: {self.decal}."))
        return found


class UnmeasuredSpec(Held):
    """A part that has no numbers: a spring by its colour, an arm by its letter. What it does stays typical, and wide.

    `mark`, what is seen of it; `size`, of a roller its size code, where that is known.
    """

    mark: Text
    size: Annotated[str, Field(min_length=1, max_length=40)] | None = None


class SpringSag(Part):
    """What a spring was rated at, beside what a tester gives."""

    rated_start_n: Force | None = None


class MeasuredPrimarySpec(MeasuredSpringInStock, SpringSag):
    """A primary spring by a tester's points, beside its rating."""


class MeasuredSecondarySpec(MeasuredSecondarySpringInStock, SpringSag):
    """A secondary spring by a tester's points, beside its rating."""


_SPRINGS: dict[str, dict[str, type[Part]]] = {
    "primary_springs": {"rate_n_per_mm": RatedSpringInStock, "points": MeasuredPrimarySpec, "": SpringInStock},
    "secondary_springs": {
        "rate_n_per_mm": RatedSecondarySpringInStock, "points": MeasuredSecondarySpec, "": SecondarySpringInStock,
    },
}  # fmt: skip

_FORMS: dict[str, type[Part]] = {
    "weights": WeightsInStock,
    "loads": LoadSpec,
    "helixes": HelixInStock,
    "shims": ThicknessSpec,
    "washers": ThicknessSpec,
    "limiters": ThicknessSpec,
    "line_up_shims": ThicknessSpec,
    "kits": KitSpec,
}

MAY_HAVE_NO_NUMBERS: frozenset[Group] = frozenset({"weights", "primary_springs", "secondary_springs", "helixes"})
"""Parts that are sold by a colour or a letter alone."""

_NOT_SAID = {"name", "pieces", "price", "minutes", "origin"}
"""What a spec leaves to the part's own row, or to its defaults."""


def form_of(kind: str, data: Mapping[str, Any]) -> type[Part]:
    """The form a kind's spec is read in, by the fields it has."""
    group = GROUPS[kind]
    if group in MAY_HAVE_NO_NUMBERS and "mark" in data:
        return UnmeasuredSpec
    forms = _SPRINGS.get(group)
    if forms is None:
        return _FORMS[group]
    return next((form for field, form in forms.items() if field and field in data), forms[""])


def read_spec(kind: str, number: str, data: Mapping[str, Any]) -> Part:
    """What a part of a kind is, from the fields of its form; raises InvalidValue naming the field.

    >>> read_spec("limiter spacer", "LS-2", {"thickness_mm": 2.0}).thickness_mm
    2.0
    """
    if kind not in GROUPS:
        raise InvalidValue("kind", "does not change a set-up: it is a number and a price")
    if extra := sorted(set(data) & (_NOT_SAID - {"minutes", "origin"})):
        raise InvalidValue(extra[0], "is said of the part, not of what it is")
    form = form_of(kind, data)
    try:
        spec = validate(form, {**data, **({"name": number} if "name" in form.model_fields else {})})
    except InvalidValue as error:  # a mass may be one or several: which form was tried is no part of its name
        raise InvalidValue(re.sub(r"\.(constrained-\w+|list\[.*\])", "", error.field), error.reason) from None
    if hasattr(spec, "spring"):
        spec.spring()
    return spec


@dataclass(frozen=True)
class ForceAtLength:
    """A tester's point."""

    length_mm: float
    force_n: float


@dataclass(frozen=True)
class PartFigures:
    """What a part comes to.

    `words`; `line`, force at each length of a measured spring; `sag`, the share of its rated force that is
    gone; `mean_g` and `spread_g` of masses weighed one by one; `flag`, what is wrong with it.
    """

    words: str
    line: tuple[ForceAtLength, ...] = ()
    sag: float | None = None
    mean_g: float | None = None
    spread_g: float | None = None
    flag: str = ""


def figures_of_part(kind: str, spec: Part) -> PartFigures:
    """What a part's spec comes to.

    Sag is what a measured spring lacks of its rated force as installed, (rated − measured)/rated. A set is weighed one
    by one; one whose masses differ by more than 0.2 g is out of balance.

    >>> figures_of_part("arm", read_spec("arm", "A", {"base_mass_g": [48.1, 48.0, 46.9]})).flag
    'out of balance by 1.2 g: within 0.2 g is a set'
    """
    if isinstance(spec, WeightsInStock):
        return _weighed(spec)
    if isinstance(spec, MeasuredPrimarySpec | MeasuredSecondarySpec):
        return _tested(spec)
    return PartFigures(spec_words(kind, spec))


def _weighed(spec: WeightsInStock) -> PartFigures:
    size = f", size {spec.size}" if spec.size else ""
    if not isinstance(spec.base_mass_g, list):
        return PartFigures(f"{said(spec.base_mass_g)} g each{size}")
    mean, spread = fmean(spec.base_mass_g), max(spec.base_mass_g) - min(spec.base_mass_g)
    apart = spread > EQUAL_WITHIN_G + 1e-9
    flag = f"out of balance by {said(round(spread, 2))} g: within {EQUAL_WITHIN_G:g} g is a set" if apart else ""
    weighed = " / ".join(said(each) for each in spec.base_mass_g)
    return PartFigures(f"{weighed} g{size}", mean_g=round(mean, 3), spread_g=round(spread, 3), flag=flag)


def _tested(spec: MeasuredPrimarySpec | MeasuredSecondarySpec) -> PartFigures:
    line = tuple(ForceAtLength(each.length_mm, each.force_n) for each in spec.points)
    fitted = spec.spring()
    sag = None
    if spec.rated_start_n:
        sag = round((spec.rated_start_n - fitted.force_start_n) / spec.rated_start_n, 4)
    flag = f"has lost {said(round(sag * 100, 1))} % of its rated force" if sag is not None and sag > MOST_SAG else ""
    return PartFigures(spec_words("primary spring", spec), line, sag, flag=flag)


def spec_words(kind: str, spec: Part) -> str:
    """What a part is, in words."""
    if isinstance(spec, WeightsInStock):
        return _weighed(spec).words
    if isinstance(spec, HelixInStock):
        return " / ".join(f"{said(point.deg)}°" for point in spec.helix(1.0).angles)
    plain = _plain_words(spec)
    if plain:
        return plain
    fitted = spec.spring() if hasattr(spec, "spring") else None
    if fitted is None:
        raise InvalidValue("kind", f"{kind} is described in no form known here")
    wind = getattr(fitted, "torsion_rate_nm_per_deg", 0.0)
    told = f"{q(fitted.force_start_n, 'N', 1, bare=True)} / {q(fitted.force_finish_n, 'N', 1)}"
    return told + (f", {q(wind, 'N·m/deg')}" if wind else "")


def _plain_words(spec: Part) -> str:
    """What a part of one number, or of none, is; empty for any other."""
    if isinstance(spec, LoadSpec):
        return f"{said(spec.mass_g)} g" + (f", for {spec.station}" if spec.station else "")
    if isinstance(spec, ThicknessSpec):
        return f"{q(spec.thickness_mm, 'mm')}" + (f", {spec.side}" if spec.side else "")
    if isinstance(spec, UnmeasuredSpec):
        return f"{spec.mark}, not measured" + (f", size {spec.size}" if spec.size else "")
    return " + ".join(spec.members) if isinstance(spec, KitSpec) else ""
