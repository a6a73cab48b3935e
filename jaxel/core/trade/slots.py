"""The slots of a set-up: the places where a hand changes something, each read, set and compared by one name."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..errors import InvalidValue
from ..formats.reading import validate
from ..formats.setup import SetupDocument

EQUAL_WITHIN_G = 0.2
"""Arms of one clutch that differ by more than this [g] are not a set; from memory, the manual wins."""


def equal_mass(masses: Sequence[float], count: int) -> float:
    """Mean of weights weighed one by one, which must be alike: a clutch with unequal arms is out of balance.

    Parameters: `masses` [g, `count` of them]. Returns the mean [g]. Raises InvalidValue when one is missing
    or they differ by more than EQUAL_WITHIN_G.

    >>> round(equal_mass([62.0, 62.1, 61.9], 3), 3)
    62.0
    """
    if len(masses) != count:
        raise InvalidValue("masses", f"takes one mass, or all {count} weighed: {len(masses)} were given")
    spread = max(masses) - min(masses)
    if spread > EQUAL_WITHIN_G + 1e-9:
        raise InvalidValue(
            "masses",
            f"the arms are unequal, {min(masses):g} to {max(masses):g} g: all {count} must be alike "
            f"within {EQUAL_WITHIN_G:g} g",
        )
    return sum(masses) / count


@dataclass(frozen=True)
class Slot:
    """One number a hand can change.

    `key` names it in requests; `group` is the part it belongs to; `label` what it is called there; `unit` and
    `value` as a person reads them; `at` the way to it in a document; `options`, the names of its positions
    where it has some, `value` then being a position from 1.
    """

    key: str
    group: str
    label: str
    unit: str
    value: float
    at: tuple[str | int, ...]
    options: tuple[str, ...] = ()


@dataclass(frozen=True)
class Change:
    """A slot that differs between two set-ups."""

    slot: Slot
    found: float


def slots(document: SetupDocument) -> list[Slot]:
    """Every slot of a set-up in the order the hands meet them: weights, springs, helix."""
    primary, secondary = document.primary, document.secondary
    weights = primary.weights
    rollers = primary.profile.kind == "ramp-roller"
    found = [
        Slot(
            "arm_mass_g",
            "Rollers" if rollers else "Arms",
            f"each of {weights.count}",
            "g",
            weights.base_mass_g,
            ("primary", "weights", "base_mass_g"),
        ),
    ]
    masses = {load.station: load.mass_g for load in weights.loads}
    for station in primary.stations:
        found.append(
            Slot(
                f"load_g.{station.name}",
                "Loads",
                station.name,
                "g",
                masses.get(station.name, 0.0),
                ("primary", "weights", "loads", station.name),
            )
        )
    found += [
        Slot(
            "primary_start_n",
            "Primary spring",
            "start",
            "N",
            primary.spring.force_start_n,
            ("primary", "spring", "force_start_n"),
        ),
        Slot(
            "primary_finish_n",
            "Primary spring",
            "finish",
            "N",
            primary.spring.force_finish_n,
            ("primary", "spring", "force_finish_n"),
        ),
        Slot("shim_mm", "Shim", "spider", "mm", primary.shim_mm, ("primary", "shim_mm")),
    ]
    if primary.clicker:
        found.append(
            Slot(
                "clicker",
                "Clicker",
                f"of {primary.clicker.positions}",
                "",
                primary.clicker.position,
                ("primary", "clicker", "position"),
            )
        )
    angles = secondary.helix.angles
    for index, point in enumerate(angles):
        label = "angle" if len(angles) == 1 else f"at {point.travel_mm:g} mm"
        found.append(
            Slot(f"helix_deg.{index}", "Helix", label, "deg", point.deg, ("secondary", "helix", "angles", index, "deg"))
        )
    spring = secondary.spring
    found += [
        Slot(
            "secondary_start_n",
            "Secondary spring",
            "start",
            "N",
            spring.force_start_n,
            ("secondary", "spring", "force_start_n"),
        ),
        Slot(
            "secondary_finish_n",
            "Secondary spring",
            "finish",
            "N",
            spring.force_finish_n,
            ("secondary", "spring", "force_finish_n"),
        ),
    ]
    if secondary.holes:
        names = tuple(f"{row.sheave}–{row.helix}, {row.pretwist_deg:g}°" for row in secondary.holes.table)
        place = ("secondary", "holes", "fitted")
        found.append(Slot("hole_pair", "Secondary spring", "holes", "", secondary.holes.position, place, names))
    elif spring.torsion_rate_nm_per_deg > 0:
        wind = ("secondary", "spring", "pretwist_deg")
        found.append(Slot("pretwist_deg", "Secondary spring", "wind", "deg", spring.pretwist_deg, wind))
    return found


def with_slots(document: SetupDocument, values: Mapping[str, float | Sequence[float]]) -> SetupDocument:
    """The set-up with some slots changed, checked whole.

    Parameters: `values` by slot key; the arms may be given as the masses weighed one by one [g], which must
    be alike. Raises InvalidValue whose field is the slot's key.
    """
    known = {slot.key: slot for slot in slots(document)}
    data = document.model_dump(exclude_none=True)
    for key, value in values.items():
        if key not in known:
            raise InvalidValue(key, "is not a slot of this clutch")
        if not isinstance(value, (int, float)):
            if key != "arm_mass_g":
                raise InvalidValue(key, "takes one number")
            _set(data, known[key].at, _weighed(value, document.primary.weights.count))
        else:
            _set(data, known[key].at, value)
    try:
        changed = validate(SetupDocument, data)
        changed.core()
    except InvalidValue as error:
        raise InvalidValue(_key_of(error.field, known.values(), values), error.reason) from None
    return changed


def changes(found: SetupDocument, left: SetupDocument) -> list[Change]:
    """What differs between two set-ups of one machine, slot by slot."""
    before = {slot.key: slot.value for slot in slots(found)}
    return [
        Change(slot, before[slot.key])
        for slot in slots(left)
        if slot.key in before and abs(before[slot.key] - slot.value) > 1e-9
    ]


def _weighed(masses: Sequence[float], count: int) -> float:
    try:
        return equal_mass(masses, count)
    except InvalidValue as error:
        raise InvalidValue("arm_mass_g", error.reason) from None


def _set(data: dict[str, Any], at: tuple[str | int, ...], value: float) -> None:
    *way, last = at
    holder: Any = data
    for step in way:
        holder = holder[step]
    if isinstance(holder, list) and isinstance(last, str):
        kept = [load for load in holder if load["station"] != last]
        holder[:] = [*kept, {"station": last, "mass_g": value}] if value else kept
    elif last == "fitted":
        if value != int(value) or not 1 <= value <= len(holder["table"]):
            raise InvalidValue("hole_pair", f"must be one of the {len(holder['table'])} pairs in the clutch's table")
        row = holder["table"][int(value) - 1]
        holder[last] = {"sheave": row["sheave"], "helix": row["helix"]}
    elif last == "position":
        holder[last] = int(value) if value == int(value) else value
    else:
        holder[last] = value


def _key_of(field: str, known: Iterable[Slot], values: Mapping[str, Any]) -> str:
    """The slot a document's field belongs to: its own, else the one just changed."""
    for slot in known:
        if ".".join(str(step) for step in slot.at) == field.replace("[", ".").replace("]", "") and slot.key in values:
            return slot.key
    return next(iter(values), field)
