"""Kinds of number in a document, with their units and limits, and the order its tables must keep."""

from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated

from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.units import said

Text = Annotated[str, Field(min_length=1, max_length=120)]
Length = Annotated[float, Field(gt=0, le=2000, json_schema_extra={"unit": "mm"})]
Travel = Annotated[float, Field(ge=0, le=200, json_schema_extra={"unit": "mm"})]
Stroke = Annotated[float, Field(gt=0, le=200, json_schema_extra={"unit": "mm"})]
Force = Annotated[float, Field(ge=0, le=20000, json_schema_extra={"unit": "N"})]
Rate = Annotated[float, Field(gt=0, le=2000, json_schema_extra={"unit": "N/mm"})]
Mass = Annotated[float, Field(gt=0, le=1000, json_schema_extra={"unit": "g"})]
Speed = Annotated[float, Field(gt=0, le=30000, json_schema_extra={"unit": "rpm"})]
Angle = Annotated[float, Field(ge=-90, le=90, json_schema_extra={"unit": "°"})]


def increasing(field: str, name: str, values: Sequence[float]) -> None:
    """Refuse a table whose points are out of order or stand at the same place."""
    for index, (before, after) in enumerate(pairwise(values), start=1):
        if after == before:
            raise InvalidValue(f"{field}[{index}].{name}", f"repeats {said(after)}: each point needs its own place")
        if after < before:
            raise InvalidValue(
                f"{field}[{index}].{name}", f"is out of order: {said(after)} stands after {said(before)}"
            )
