"""How a belt lies at rest in its clutches, by the set-up: how far it gives, and where it rides."""

from dataclasses import dataclass

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import MM


@dataclass(frozen=True)
class Lie:
    """How the model says a belt lies at rest [mm]: deflection at mid-span, and how far below a new belt's place in the
    closed secondary."""

    deflection_mm: float
    ride_mm: float


def lie_of_belt(document: SetupDocument) -> Lie | None:
    """How the document's belt should lie; None where it cannot be gripped.

    ride = closed radius − r2_stop: a new belt, without an adjuster, lies level with where it should (common practice:
    its rim at the belt's lower groove, or its ribs level with the rim).
    """
    try:
        drive = document.core().drive
    except InvalidValue:
        return None
    return Lie(drive.deflection / MM, (drive.closed_radius - drive.secondary_stop_radius) / MM)
