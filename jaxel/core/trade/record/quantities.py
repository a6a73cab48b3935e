"""The quantities hands type, each with its unit and bounds: what a record's field is made of."""

from dataclasses import dataclass
from typing import Annotated

from annotated_types import Ge, Gt, Le, Lt, MaxLen


@dataclass(frozen=True)
class Unit:
    """The unit a number is kept in."""

    name: str


Distance = Annotated[float, Unit("km"), Ge(0), Le(1_000_000)]
Hours = Annotated[float, Unit("h"), Ge(0), Le(100_000)]
Elevation = Annotated[float, Unit("m"), Ge(-430), Le(6000)]
AirTemperature = Annotated[float, Unit("°C"), Ge(-50), Le(60)]
BeltTemperature = Annotated[float, Unit("°C"), Ge(-60), Le(300)]
Percent = Annotated[float, Unit("%"), Ge(0), Le(100)]
Rpm = Annotated[float, Unit("rpm"), Gt(0), Le(30_000)]
Width = Annotated[float, Unit("mm"), Gt(0), Le(200)]
"""Of a belt."""
Gap = Annotated[float, Unit("mm"), Ge(0), Le(500)]
"""Between two things, or how far a belt gives under a hand."""
SideGap = Annotated[float, Unit("mm"), Ge(0), Le(200)]
Ride = Annotated[float, Unit("mm"), Ge(-100), Le(100)]
"""Of a belt below the rim; above it, below 0."""
Offset = Annotated[float, Unit("mm"), Ge(-500), Le(500)]
"""Of a face from where it should be, either way."""
Length = Annotated[float, Unit("mm"), Gt(0), Le(2000)]
Reach = Annotated[float, Unit("mm"), Ge(0), Le(2000)]
"""Along a bar, from its end."""
OffsetTolerance = Annotated[float, Unit("mm"), Gt(0), Le(50)]
AngleTolerance = Annotated[float, Unit("deg"), Gt(0), Le(10)]
PerTurn = Annotated[float, Unit("mm"), Gt(0), Le(20)]
Shims = Annotated[tuple[Annotated[float, Unit("mm"), Gt(0), Le(20)], ...], MaxLen(12)]
Wind = Annotated[float, Unit("deg"), Ge(0), Le(720)]
Torque = Annotated[float, Unit("N·m"), Gt(0), Le(5000)]
Mass = Annotated[float, Unit("g"), Gt(0), Le(1000)]
"""Of a piece on the scale."""
Turns = Annotated[int, Unit("turns"), Ge(0), Le(200)]
Out = Annotated[int, Unit(""), Ge(0), Le(999)]
Back = Annotated[int, Unit(""), Ge(0), Le(999)]
Price = Annotated[float, Unit(""), Ge(0), Le(1_000_000)]
"""In the workshop's money."""
Way = Annotated[float, Ge(0), Lt(1)]
"""Share of the way round a belt from its lettering."""
Place = Annotated[int, Ge(1), Le(12)]
"""Round a belt, where its width is measured."""
RoundBelt = Annotated[float, Unit("mm"), Gt(0), Le(5000)]
"""Outside, once round, as a record may hold it."""
TypedRound = Annotated[float, Unit("mm"), Ge(350), Le(5000)]
"""The same as a hand may type it: of no clutch is a belt shorter (from memory), and its cord line has a length."""
Cycles = Annotated[int, Ge(1), Le(12)]
Id = Annotated[int, Ge(1), Le(2**31)]

Story = Annotated[str, MaxLen(2000)]
Words = Annotated[str, MaxLen(500)]
Note = Annotated[str, MaxLen(200)]
RunNote = Annotated[str, MaxLen(1000)]
Name = Annotated[str, MaxLen(120)]
Short = Annotated[str, MaxLen(60)]
Key = Annotated[str, MaxLen(40)]
Hole = Annotated[str, MaxLen(12)]
