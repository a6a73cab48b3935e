"""The figures a run can measure, worked out for many set-ups in one call."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import get_args

import numpy as np

from jaxel.core.formats.run.runs import RunFigure
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.equilibrium.batch import shifts
from jaxel.core.mechanism.numerics.tables import Array, Mask
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.core.units import RPM

FIGURES: tuple[RunFigure, ...] = get_args(RunFigure)
"""In their order in every array here: engagement is where it bites, the slope per whole travel."""

ENGAGEMENT, MEAN, SLOPE, FULL_SHIFT, LOW_RATIO, HIGH_RATIO = range(len(FIGURES))

NODES = 21
"""Half the full curve's nodes, to be quick: differences need the shape, not the detail."""


@dataclass(frozen=True)
class Figures:
    """What k set-ups do, NaN where one cannot work: `values` [k, 6] in the order of FIGURES, `curve` [k, n, rpm].

    The shift's are of the speed that balances the belt, a smooth function of everything; where the secondary `slips` in
    the shift window [k] the engine runs past it.
    """

    values: Array
    curve: Array
    slips: Mask


def figures_of(documents: Iterable[SetupDocument], nodes: int = NODES) -> Figures:
    """The figures of set-ups, those that cannot work as NaN."""
    cores = cores_of(documents)
    works = [core for core in cores if core is not None]
    values, curve = np.full((len(cores), len(FIGURES)), np.nan), np.full((len(cores), nodes), np.nan)
    slips = np.zeros(len(cores), bool)
    if works:
        found = shifts(works, nodes)
        at = np.array([core is not None for core in cores])
        speeds = np.column_stack([found.bite, found.mean, found.slope, found.full_shift]) / RPM
        values[at] = np.column_stack([speeds, found.low_ratio, found.high_ratio])
        curve[at] = found.held / RPM
        slips[at] = found.slips
    return Figures(values, curve, slips)


def cores_of(documents: Iterable[SetupDocument]) -> list[Drivetrain | None]:
    """Machines ready to compute, each taking over from the one before what it has alike; None where parts do not fit.

    Those whose weights never close the sheave are found when they are solved.
    """
    found: list[Drivetrain | None] = []
    like: tuple[SetupDocument, Drivetrain] | None = None
    for each in documents:
        try:
            core = each.core(checked=False, like=like)
        except ValueError:
            found.append(None)
            continue
        found.append(core)
        like = like or (each, core)
    return found


def core_or_none(document: SetupDocument) -> Drivetrain | None:
    """The machine ready to compute, None where its parts do not fit together."""
    try:
        return document.core()
    except ValueError:
        return None
