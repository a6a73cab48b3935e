"""A clutch that came alone, mounted on a machine: which half of the set-up it brings, and what stays the machine's."""

from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import validate
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.formats.setup.setup import SetupDocument

from ..kinds.kinds import Kinds, Side
from ..setup.evidence import known_by

TookOff = Literal["bare clutch", "gone"]
"""What becomes of the half that comes off: it lies here as a clutch of its own, or it has left."""


def half_of(kinds: Kinds) -> Side:
    """Which half a bare clutch is; raises InvalidValue where that is not said, or it is driver and driven in one."""
    if len(kinds.sides) > 1:
        raise InvalidValue("clutch", "is a primary or a secondary: say first of which kind it is")
    return kinds.sides[0]


def mounted(machine: SetupDocument, clutch: SetupDocument, side: Side) -> SetupDocument:
    """The machine's set-up with a clutch in place of its own on one side, each number known as well as it was.

    Raises InvalidValue (field `clutch`) where the two cannot work together.
    """
    data = machine.model_dump(exclude_none=True, exclude={"evidence"})
    data[side] = clutch.model_dump(exclude_none=True)[side]
    known = _known(machine, other_than=side) | _known(clutch, only=side)
    exact = machine.evidence is None and clutch.evidence is None
    try:
        found = validate(SetupDocument, data)
        found.core()
    except InvalidValue as error:
        raise InvalidValue("clutch", f"cannot be mounted there: {error.field} {error.reason}") from None
    return found if exact else found.model_copy(update={"evidence": known})


def _known(document: SetupDocument, *, only: str = "", other_than: str = "") -> dict[str, EvidencePart]:
    """How the numbers of one half, or of all else, are known."""
    return {
        path: each
        for path, each in known_by(document).items()
        if (path.partition(".")[0] == only if only else path.partition(".")[0] != other_than)
    }
