"""What is drawn on a photo: an arrow or a ring where to look."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Le

Share = Annotated[float, Ge(0), Le(1)]
"""A place on a photo as a share of its width or height, from its upper left corner."""

MOST_MARKS = 12


@dataclass(frozen=True)
class PhotoMark:
    """An arrow from one place to its tip, or a ring in the rectangle between two places."""

    kind: Literal["arrow", "ring"]
    x1: Share
    y1: Share
    x2: Share
    y2: Share


PhotoMarks = Sequence[PhotoMark]
