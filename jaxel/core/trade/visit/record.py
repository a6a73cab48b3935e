"""A visit as the rules look at it: the records of all its stations, each the one dataclass store and web share."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..belt.check import BeltCheck
from ..belt.look import Mark
from ..line_up.break_in import BreakIn, HeatCycle
from ..line_up.line_up import LineUp
from ..rebuild.opened import way_taken
from ..rebuild.rebuild import Bench
from ..record.scope import Scope
from ..run.road_test import Ride
from ..setup.tried import SetUp
from ..stranger.as_found import FoundFault
from ..strip.strip import Inspection
from .close_out import Count, to_count
from .intake import Intake
from .told import HandOver


@dataclass(frozen=True)
class VisitRecord:
    """A visit as its stations recorded it; `widths_mm` of the belt by place, `belt_limits_mm` (new, wear limit).

    `bench`, what putting back looks at; `centres_mm` between the shafts; `cycles` of heat, of `cycles_asked` by the
    workshop's school; `counts` by a hand; `usual`, how many of each this machine was last found to have.
    """

    scope: Scope
    faults: tuple[FoundFault, ...]
    intake: Intake
    belt: BeltCheck
    set_up: SetUp
    hand_over: HandOver
    widths_mm: Mapping[int, float]
    belt_limits_mm: tuple[float, float]
    rides: tuple[Ride, ...]
    marks: tuple[Mark, ...] = ()
    inspection: Inspection = field(default_factory=Inspection)
    bench: Bench = field(default_factory=Bench)
    line_up: LineUp = field(default_factory=LineUp)
    centres_mm: float = 0.0
    break_in: BreakIn = field(default_factory=BreakIn)
    cycles: tuple[HeatCycle, ...] = ()
    cycles_asked: int = 2
    counts: tuple[Count, ...] = ()
    usual: Mapping[str, int] = field(default_factory=dict)

    @property
    def belt_off(self) -> bool:
        """Whether the belt was taken off the machine."""
        return self.scope != "bench" and self.belt.came_off(self.widths_mm)

    @property
    def to_count(self) -> list[Count]:
        """What is counted out and in."""
        out = self.belt_off and not self.belt.risen  # said with the belt: its tool is out
        way = way_taken(self.inspection.kinds, self.belt.way) if out else None
        opened = self.bench.opened(self.inspection)
        return to_count(opened, way, self.counts, self.usual, self.bench.back_in_sight(opened))
