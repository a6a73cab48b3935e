"""The one error of the mechanism: a clutch that cannot be, in the mechanism's own names and in SI units."""

from collections.abc import Mapping

from jaxel.core.errors import InvalidValue


class Impossible(InvalidValue):
    """A mechanism that cannot work.

    Parameters: `part`, the mechanism's own name of what is at fault (`wear`, `profile`); `reason`, in words, its
    lengths named in braces; `lengths`, those by name [m]. Who knows a document says it again in its terms.

    >>> str(Impossible("wear", "the sheave meets the belt at {met}", met=0.0012))
    'wear: the sheave meets the belt at 0.0012 m'
    """

    def __init__(self, part: str, reason: str, **lengths: float):
        super().__init__(part, reason.format(**{name: f"{value:g} m" for name, value in lengths.items()}))
        self.words = reason
        self.lengths: Mapping[str, float] = lengths
