"""Numbers of a slot, and of a machine, that could be but hardly are; the windows are from memory."""

import re

from jaxel.core.errors import Implausible
from jaxel.core.units import said
from jaxel.core.words import q

from ..record.plausible import figure, within
from .slot import Number

PART = (0.6, 1.6)
FORCE = (0.4, 2.5)
"""A mass or a spring's force of one part against the one it takes the place of."""
LOAD_G = 20.0
HELIX_DEG = (20.0, 70.0)
WIND_DEG = (0.0, 200.0)
SHIM_MM = 5.0


def slot_number(number: Number, value: float) -> None:
    """Ask about a number of a slot: `number` as it stands on the bench, `value` what it would become.

    Raises Implausible.
    """
    unit = number.unit
    near = number.value or 0.0
    if number.key.startswith("load_g."):
        within(number.key, value, (0, LOAD_G), unit, near, "is heavy for a load on an arm")
    elif unit in ("g", "N") and near > 0:
        low, high = PART if unit == "g" else FORCE
        reason = f"is far from the {q(near, unit)} that stood here"
        within(number.key, value, (low * near, high * near), unit, near, reason)
    elif number.key.startswith("helix_deg"):
        within(number.key, value, HELIX_DEG, unit, near, "is no angle a helix is cut at")
    elif number.key == "pretwist_deg":
        within(number.key, value, WIND_DEG, unit, near, "is more wind than a spring takes")
    elif unit == "mm":
        thing = number.key.split("_")[0]
        within(number.key, value, (0, SHIM_MM), unit, near, f"is thick for a {thing}")


def machine_number(field: str, value: float, near: float, unit: str) -> None:
    """Ask about a number of a machine that is far from the one recorded, `near`; raises Implausible."""
    if near > 0:
        within(field, value, (0.5 * near, 2.0 * near), unit, near, f"is far from the {figure(near, unit)} recorded")


def helix_stamp(number: Number, text: float | str, last: Number | None) -> None:
    """Ask about two angles typed in one field, `41/37`: the stamp of a progressive helix, not a fraction.

    Parameters: `number`, the angle typed into; `last`, the angle at the far end. Raises Implausible.
    """
    stamp = re.fullmatch(r"\s*(\d\d(?:[.,]\d)?)\s*°?\s*[/–-]\s*(\d\d(?:[.,]\d)?)\s*(?:°|deg)?\s*", str(text))
    if not stamp or not number.key.startswith("helix_deg"):
        return
    first, second = (float(each.replace(",", ".")) for each in stamp.groups())
    raise Implausible(
        number.key,
        f"“{text}” reads as a progressive helix: {said(first)}° where it starts, {said(second)}° where it ends"
        + ("" if last else "; the one that stands here has one angle: put in another from the shelf"),
        f"{said(first)}° to {said(second)}°" if last else "",
        {"helix_deg.0": first, last.key: second} if last else {},
    )
