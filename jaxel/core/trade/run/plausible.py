"""Readings of a run that could be but hardly are; the windows are from memory."""

from typing import Any

from jaxel.core.errors import Implausible

from ..record.plausible import engagement, figure, in_order, shift


def broken_in(field: str, rpm: float, cycles: int) -> None:
    """Ask about a shift held at full throttle [rpm] on a new belt before its first heat cycle; raises Implausible."""
    if cycles < 1:
        raise Implausible(
            field,
            f"{figure(rpm, 'rpm')} is full throttle on a belt that has had no heat cycle yet",
        )


def run_value(
    field: str, value: Any, engagement_rpm: float | None, shift_rpm: float | None, target: tuple[float, float]
) -> None:
    """Ask about an rpm of a run whose other readings are given; raises Implausible."""
    if not isinstance(value, float | int):
        return
    low = engagement_rpm if field == "shift_rpm" else value
    high = value if field == "shift_rpm" else shift_rpm
    speeds = {"engagement_rpm" if field == "shift_rpm" else field: low, "shift_rpm": high}
    if field != "shift_rpm":
        engagement(field, value, target[0])
    else:
        shift(field, value, target[1])
    in_order(field, speeds)
