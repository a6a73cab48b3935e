"""What the doubt in a set-up's numbers does to its figures, and what is worth measuring next.

Deviations are propagated to first order and taken as independent.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.paths import value_at
from jaxel.core.formats.setup.evidence import EvidencePart, Origin
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array

from .discrepancy import floor_rpm
from .evidence import Input, deviation_of_origin, inputs
from .figures import ENGAGEMENT, MEAN, NODES, Figures, figures_of


@dataclass(frozen=True)
class Worth:
    """What an input is worth: its share of the variance of engagement and of shift [0–1], and what a reading of it
    would take off the standard deviation of each [rpm], also per minute."""

    input: Input
    engagement_share: float
    shift_share: float
    engagement_off_rpm: float
    shift_off_rpm: float

    @property
    def off_per_minute(self) -> float:
        """What a minute of measuring takes off engagement and shift together [rpm/min]."""
        return (self.engagement_off_rpm + self.shift_off_rpm) / self.input.minutes if self.input.minutes else 0.0


def effects_on(
    documents: Sequence[SetupDocument], uncertain: Sequence[Sequence[Input]], nodes: int = NODES
) -> tuple[Figures, list[Figures]]:
    """The figures of set-ups, and what one standard deviation of each of their inputs does to them.

    Central differences; an input that could only move one way without the clutch becoming impossible is moved that
    way. Returns the figures of the k set-ups, and for each its effects [inputs]. Raises InvalidValue where a set-up
    cannot work itself.

    Reference: central difference quotient, error O(h²).
    """
    with in_document_terms():
        for each in documents:
            each.core()
    sides = [
        one.moved(document, by)
        for document, inputs in zip(documents, uncertain, strict=True)
        for one in inputs
        for by in (-one.sd, one.sd)
    ]
    found = figures_of([*documents, *sides], nodes)
    count, effects, at = len(documents), [], len(documents)
    for index, own in enumerate(uncertain):
        rows = slice(at, at + 2 * len(own))
        effects.append(
            Figures(
                _half(found.values[rows], found.values[index]),
                _half(found.curve[rows], found.curve[index]),
                found.slips[rows],
            )
        )
        at = rows.stop
    return Figures(found.values[:count], found.curve[:count], found.slips[:count]), effects


def _half(sides: Array, here: Array) -> Array:
    """Half of what lies between the sides below and above in turn [2p, m]: of one side alone what lies between it and
    `here` [m], of none 0."""
    below, above = sides[0::2], sides[1::2]
    low, high = np.isnan(below), np.isnan(above)
    step = np.where(high, here, above) - np.where(low, here, below)
    return np.where(low ^ high, step, step / 2)


NOTHING: Mapping[str, float] = {}


@dataclass(frozen=True)
class Variances:
    """What makes the figures of a set-up uncertain: of each input its share of the variance of engagement and of the
    shift mean [rpm², inputs], and the share of its deviation that stays once it is measured [inputs]."""

    inputs: tuple[Input, ...]
    engagement: Array
    shift: Array
    left: Array

    def deviation(self, after: Mapping[str, float] = NOTHING) -> tuple[float, float]:
        """Standard deviations of engagement and shift [rpm], also with inputs, by path, known to other deviations."""
        stays = np.array([(after.get(each.path, each.sd) / each.sd) ** 2 for each in self.inputs])
        floor = floor_rpm() ** 2
        return sqrt(float(self.engagement @ stays) + floor), sqrt(float(self.shift @ stays) + floor)


def variances(document: SetupDocument) -> Variances:
    """What makes a set-up's engagement and shift uncertain; raises InvalidValue where it cannot work."""
    uncertain = inputs(document)
    _, (effects,) = effects_on([document], [uncertain])
    left = np.array([_after(each) for each in uncertain])
    return Variances(tuple(uncertain), effects.values[:, ENGAGEMENT] ** 2, effects.values[:, MEAN] ** 2, left)


def worths(document: SetupDocument) -> list[Worth]:
    """Every uncertain input with what it is worth, the one to measure next first.

    Raises InvalidValue where the set-up cannot work.

    Reference: Guide to the expression of uncertainty in measurement (JCGM 100:2008), 5.1.2; a reading takes off the
    deviation now less the deviation after it.
    """
    known = variances(document)
    together: dict[str, list[int]] = {}  # a table's points are read all together
    for place, each in enumerate(known.inputs):
        together.setdefault(each.table + each.name, []).append(place)
    columns: list[list[float]] = []
    for parts in (known.engagement, known.shift):
        total = float(parts.sum())
        now = total + floor_rpm() ** 2
        shares = [float(parts[places].sum()) / total if total > 0 else 0.0 for places in together.values()]
        taken = [float((parts * (1 - known.left**2))[places].sum()) for places in together.values()]
        columns += [shares, [sqrt(now) - sqrt(now - each) for each in taken]]
    rows = []
    for places, bite, bite_off, shift, shift_off in zip(together.values(), *columns, strict=True):
        each, off = known.inputs[places[0]], (bite_off, shift_off)
        if each.value is None and each.reading is not None and each.origin != "measured":
            off = promised(document, known, "measured", [each.path])
        rows.append(Worth(each, bite, shift, *off))
    return sorted(rows, key=lambda each: (-each.off_per_minute, -each.shift_share))


def promised(document: SetupDocument, known: Variances, origin: Origin, paths: Collection[str]) -> tuple[float, float]:
    """What readings of these paths would take off the deviations of engagement and shift, should they read what stands
    there [rpm]; below 0 where they would add to them.

    A table's own points are in doubt once they are read: what that adds is worked out anew. Parameters: `known`, the
    set-up's variances as it is; `origin` of the readings.
    """
    here = known.deviation()
    read = {path: deviation_of_origin(document, path, origin) for path in paths}
    if any(isinstance(value_at(document, path), list) for path in paths):
        evidence = {path: EvidencePart(origin=origin, sd=sd) for path, sd in read.items()}
        then = variances(
            document.model_copy(update={"evidence": {**(document.evidence or {}), **evidence}})
        ).deviation()
    else:
        then = known.deviation({path: sd or 0.0 for path, sd in read.items()})
    return here[0] - then[0], here[1] - then[1]


def _after(each: Input) -> float:
    """The deviation after a reading, as a share of the one now."""
    return 1.0 if each.reading is None else min(1.0, each.reading / each.sd)
