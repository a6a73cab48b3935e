"""The slots of a set-up: the places where a hand changes something.

A slot is filled by a part (a set of arms, a spring with both its forces, a helix with its table) or by a number (a
shim, a position). A part is one value: its numbers are typed one by one and taken together, and its two ends never
move apart unasked. Each number knows how to read itself from a set-up, write itself, parse what a person types, and
its step; the slot knows how deep the teardown goes.
"""

from collections.abc import Callable, Collection, Mapping
from typing import Any, Protocol

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import validate
from jaxel.core.formats.setup.primary import ClickerPart, PrimaryPart
from jaxel.core.formats.setup.secondary import SecondaryPart
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.words import q

from ..kinds.kind_file import SlotName
from ..kinds.kinds import NOT_STATED, Kinds, side_of
from .slot import Change, Depth, Number, Slot

TOLERANCE = 1e-9
"""Numbers closer than this are one number."""


def slots(document: SetupDocument, kinds: Kinds = NOT_STATED) -> list[Slot]:
    """The slots of a set-up in the order the hands meet them: weights, springs, helix.

    Those of the clutches' kinds, and any the set-up itself fills; of kinds not stated, those the document shows; of a
    bare clutch, those of its own half.
    """

    def has(name: SlotName, *, filled: bool) -> bool:
        return filled or kinds.show(name)

    return [each for each in _slots(document, has) if side_of(each.key) in kinds.sides]


def every_slot(document: SetupDocument, filled: Collection[str]) -> list[Slot]:
    """The slots of a set-up whose kind of clutch is not stated, with those named (`washer`, `shim`, …) among them."""

    def has(name: SlotName, *, filled: bool) -> bool:
        return filled or name in named or NOT_STATED.show(name)

    named = {each.split(":")[0] for each in filled} | ({"loads"} if "load" in filled else set())
    return _slots(document, has)


def numbers(document: SetupDocument, kinds: Kinds = NOT_STATED) -> dict[str, Number]:
    """Every number of a set-up that is changed alone, by its key."""
    return {number.key: number for slot in slots(document, kinds) for number in slot.numbers if number.typed}


def with_numbers(document: SetupDocument, values: Mapping[str, float]) -> SetupDocument:
    """The set-up with some numbers changed, checked whole.

    Parameters: `values` by key, of any slot the document can describe. Raises InvalidValue whose field is the
    number's key.
    """
    if not values:
        return document
    known, data = _written(document, values)
    try:
        changed = validate(SetupDocument, data)
        changed.core()
    except InvalidValue as error:
        at = {number.at: key for key, number in known.items() if key in values}
        raise InvalidValue(at.get(error.field, next(iter(values))), error.reason) from None
    return changed


def with_kept_numbers(document: SetupDocument, values: Mapping[str, float]) -> SetupDocument:
    """The set-up with numbers that were checked as they were typed.

    What came to be known since of its belt or its machine may leave it unable to work: that is told where it is
    predicted, and nothing that is kept becomes unreadable by it.
    """
    if not values:
        return document
    _, data = _written(document, values)
    known = document.evidence and {at: each for at, each in document.evidence.items() if at in data["evidence"]}
    primary, secondary = validate(PrimaryPart, data["primary"]), validate(SecondaryPart, data["secondary"])
    return document.model_copy(update={"primary": primary, "secondary": secondary, "evidence": known})


def _written(document: SetupDocument, values: Mapping[str, float]) -> tuple[dict[str, Number], dict[str, Any]]:
    """A set-up's numbers by key, and its data with some of them changed."""
    known = {number.key: number for slot in _slots(document, _any_slot) for number in slot.numbers if number.typed}
    data = document.model_dump(exclude_none=True)
    for key, value in values.items():
        if key not in known:
            raise InvalidValue(key, "is not a slot of this clutch")
        known[key].write(data, value)
        # Where the old number came from says nothing of the new one.
        for path in [path for path in data.get("evidence", {}) if _of(path, known[key].at)]:
            del data["evidence"][path]
    return known, data


def parts_of(base: SetupDocument, changed: SetupDocument, kinds: Kinds = NOT_STATED) -> dict[str, float]:
    """What differs from `base`, part by part: every number of a slot in which one differs, by key."""
    before = {slot.key: slot for slot in slots(base, kinds)}
    return {
        number.key: number.value
        for slot in slots(changed, kinds)
        if _between(before.get(slot.key), slot)
        for number in slot.numbers
        if number.typed and number.value is not None
    }


def changes(found: SetupDocument, left: SetupDocument, kinds: Kinds = NOT_STATED) -> list[Change]:
    """What differs between two set-ups of one machine, number by number, also where only one side has it."""
    before = {slot.key: slot for slot in slots(found, kinds)}
    after = {slot.key: slot for slot in slots(left, kinds)}
    return [
        change
        for key in (*after, *(key for key in before if key not in after))
        for change in _between(before.get(key), after.get(key))
    ]


def _of(path: str, at: str) -> bool:
    """Whether an evidence's path is of the field a number is written to."""
    return path == at or path.startswith((f"{at}.", f"{at}["))


def _any_slot(_: SlotName, *, filled: bool) -> bool:
    return True


class _Has(Protocol):
    """Says whether a set-up shows a slot of this name; `filled`, whether the set-up has something in it."""

    def __call__(self, name: SlotName, /, *, filled: bool) -> bool: ...


def _slots(document: SetupDocument, has: _Has) -> list[Slot]:
    primary = document.primary
    loaded = {load.station for load in primary.weights.loads if load.total_g}
    found: list[Slot] = []
    if has("arms", filled=False):
        found.append(_arms(document))
    found += [_load(document, each.name) for each in primary.stations if has("loads", filled=each.name in loaded)]
    if has("primary_spring", filled=False):
        found.append(_primary_spring(document))
    if has("shim", filled=primary.shim_mm != 0):
        found.append(_shim(document))
    if has("washer", filled=primary.washer_mm != 0):
        found.append(_washer(document, "primary", Depth.COVER_OFF))
    if has("limiter", filled=primary.limiter_mm != 0):
        found.append(_limiter(document))
    if has("clicker", filled=primary.clicker is not None):
        found.append(_clicker(document))
    if has("helix", filled=False):
        found.append(_helix(document))
    if has("secondary_spring", filled=False):
        found.append(_secondary_spring(document))
    if has("washer", filled=document.secondary.washer_mm != 0):
        found.append(_washer(document, "secondary", Depth.SECONDARY_SPRING))
    if document.secondary.holes:
        found.append(_holes(document))
    return found


def _between(found: Slot | None, left: Slot | None) -> list[Change]:
    """How two fillings of one slot differ; None where a set-up has no such slot."""
    slot = left or found
    if slot is None:
        return []
    before = {number.key: number for number in found.numbers} if found else {}
    after = {number.key: number for number in left.numbers} if left else {}
    said = []
    for key in (*after, *(key for key in before if key not in after)):
        number = max((side[key] for side in (after, before) if key in side), key=lambda each: each.value is not None)
        was, now = (side[key].value if key in side else None for side in (before, after))
        if was != now and (was is None or now is None or abs(was - now) > TOLERANCE):
            said.append(Change(slot, key, number.label, number.unit, was, now))
    if found and left and found.rest != left.rest and None not in (found.rest, left.rest):
        said.append(Change(slot, slot.key, "another part", "", None, None))
    return said


def _field(at: str) -> Callable[[dict[str, Any], float], None]:
    """Writes a field of a document's data by its path; list indices stand in brackets."""
    *way, last = [int(step) if step.isdigit() else step for step in at.replace("[", ".").replace("]", "").split(".")]

    def write(data: dict[str, Any], value: float) -> None:
        holder: Any = data
        for step in way:
            holder = holder[step]
        holder[last] = value

    return write


def _plain(key: str, label: str, unit: str, value: float, at: str, *, typed: bool = True, weighed: int = 1) -> Number:
    return Number(key, label, unit, value, at, _field(at), typed=typed, weighed=weighed)


def _arms(document: SetupDocument) -> Slot:
    weights, profile = document.primary.weights, document.primary.profile
    at = "primary.weights.base_mass_g"
    mass = _plain("arm_mass_g", f"each of {weights.count}", "g", weights.base_mass_g, at, weighed=weights.count)
    count = _plain("arm_count", "how many", "", weights.count, "primary.weights.count", typed=False)
    name = "Rollers" if profile.kind == "ramp-roller" else "Arms"
    return Slot("arms", name, Depth.COVER_OFF, (mass, count), profile)


def _load(document: SetupDocument, station: str) -> Slot:
    """A station's load: the mass of one piece, and how many of them where its pocket takes more than one."""
    loads = document.primary.weights.loads
    place = next((index for index, load in enumerate(loads) if load.station == station), None)
    mass, pieces = (0.0, 1) if place is None else (loads[place].mass_g, loads[place].pieces)
    room = next((each.pieces_max for each in document.primary.stations if each.name == station), None)
    at = "primary.weights.loads" + (f".{station}" if place is None else f"[{place}]")

    def held(data: dict[str, Any]) -> dict[str, Any] | None:
        return next((load for load in data["primary"]["weights"]["loads"] if load["station"] == station), None)

    def write(data: dict[str, Any], value: float) -> None:
        here = held(data)
        if here is None:
            data["primary"]["weights"]["loads"] += [{"station": station, "mass_g": value}] if value else []
        elif value or "evidence" in data:  # in its place: evidence knows the others by theirs
            here["mass_g"] = value
        else:
            data["primary"]["weights"]["loads"].remove(here)

    def count(data: dict[str, Any], value: float) -> None:
        if value != int(value) or value < 1:
            raise InvalidValue(f"load_pieces.{station}", "must be a whole number of pieces, 1 or more")
        if held(data) is None:
            data["primary"]["weights"]["loads"].append({"station": station, "mass_g": 0.0})
        (held(data) or {})["pieces"] = int(value)

    numbers = [Number(f"load_g.{station}", station, "g", mass, at, write)]
    if (room or 1) > 1 or pieces > 1:
        where = f"primary.weights.loads[{0 if place is None else place}].pieces"
        numbers.append(Number(f"load_pieces.{station}", "pieces", "", pieces, where, count))
    return Slot(f"load:{station}", "Loads", Depth.WEIGHT_SCREW, tuple(numbers))


def _primary_spring(document: SetupDocument) -> Slot:
    spring = document.primary.spring
    parts = (
        _plain("primary_start_n", "start", "N", spring.force_start_n, "primary.spring.force_start_n"),
        _plain("primary_finish_n", "finish", "N", spring.force_finish_n, "primary.spring.force_finish_n"),
        _plain("primary_travel_mm", "travel", "mm", spring.travel_mm, "primary.spring.travel_mm", typed=False),
    )
    return Slot("primary_spring", "Primary spring", Depth.COVER_OFF, parts)


def _shim(document: SetupDocument) -> Slot:
    value = document.primary.shim_mm
    return Slot("shim", "Shim", Depth.SPIDER_OFF, (_plain("shim_mm", "spider", "mm", value, "primary.shim_mm"),))


def _washer(document: SetupDocument, side: str, depth: Depth) -> Slot:
    value = getattr(document, side).washer_mm
    number = _plain(f"washer_{side}_mm", "thick", "mm", value, f"{side}.washer_mm")
    return Slot(f"washer:{side}", f"{side.capitalize()} washer", depth, (number,))


def _limiter(document: SetupDocument) -> Slot:
    number = _plain("limiter_mm", "spacer", "mm", document.primary.limiter_mm, "primary.limiter_mm")
    return Slot("limiter", "Shift limiter", Depth.COVER_OFF, (number,))


def _clicker(document: SetupDocument) -> Slot:
    clicker = document.primary.clicker

    def write(data: dict[str, Any], value: float) -> None:
        held = data["primary"].setdefault("clicker", ClickerPart().model_dump())
        held["position"] = int(value) if value == int(value) else value

    positions = (clicker or ClickerPart()).positions
    place = clicker.position if clicker else None
    rest = clicker and (clicker.reference, clicker.positions, clicker.gain_step)
    number = Number("clicker", f"of {positions}", "", place, "primary.clicker.position", write)
    return Slot("clicker", "Clicker", Depth.ON_THE_MACHINE, (number,), rest)


def _helix(document: SetupDocument) -> Slot:
    helix, at = document.secondary.helix, "secondary.helix"
    end = document.geometry.secondary.travel_mm
    points: list[Number] = []

    def progressive(data: dict[str, Any], value: float) -> None:
        data["secondary"]["helix"]["angles"].append({"travel_mm": end, "deg": value})

    for index, point in enumerate(helix.angles):
        label = "angle" if len(helix.angles) == 1 else f"at {q(point.travel_mm, 'mm')}"
        points.append(_plain(f"helix_deg.{index}", label, "deg", point.deg, f"{at}.angles[{index}].deg"))
    if len(helix.angles) == 1 and helix.angles[0].travel_mm < end:
        # A second angle makes it progressive; without one it is straight.
        points.append(Number("helix_deg.1", f"at {q(end, 'mm')}", "deg", None, f"{at}.angles[1].deg", progressive))
    for index, point in enumerate(helix.angles):
        where = f"{at}.angles[{index}].travel_mm"
        points.append(_plain(f"helix_mm.{index}", f"angle {index + 1} at", "mm", point.travel_mm, where, typed=False))
    points.append(_plain("helix_radius_mm", "radius", "mm", helix.radius_mm, f"{at}.radius_mm", typed=False))
    return Slot("helix", "Helix", Depth.HELIX, tuple(points))


def _secondary_spring(document: SetupDocument) -> Slot:
    spring, at = document.secondary.spring, "secondary.spring"
    rate = spring.torsion_rate_nm_per_deg
    parts = [
        _plain("secondary_start_n", "start", "N", spring.force_start_n, f"{at}.force_start_n"),
        _plain("secondary_finish_n", "finish", "N", spring.force_finish_n, f"{at}.force_finish_n"),
        _plain("secondary_travel_mm", "travel", "mm", spring.travel_mm, f"{at}.travel_mm", typed=False),
        _plain("torsion_rate", "torsion rate", "N·m/deg", rate, f"{at}.torsion_rate_nm_per_deg", typed=False),
    ]
    if rate > 0 and not document.secondary.holes:
        parts.append(_plain("pretwist_deg", "wind", "deg", spring.pretwist_deg, f"{at}.pretwist_deg"))
    return Slot("secondary_spring", "Secondary spring", Depth.SECONDARY_SPRING, tuple(parts))


def _holes(document: SetupDocument) -> Slot:
    holes = document.secondary.holes
    if holes is None:
        raise ValueError("this clutch has no table of holes")
    table = holes.table

    def write(data: dict[str, Any], value: float) -> None:
        if value != int(value) or not 1 <= value <= len(table):
            raise InvalidValue("hole_pair", f"must be one of the {len(table)} pairs in the clutch's table")
        row = table[int(value) - 1]
        data["secondary"]["holes"]["fitted"] = {"sheave": row.sheave, "helix": row.helix}

    names = tuple(f"{row.sheave}–{row.helix}, {row.pretwist_deg:g}°" for row in table)
    number = Number("hole_pair", "holes", "", holes.position, "secondary.holes.fitted", write, names)
    return Slot("holes", "Secondary spring", Depth.SPRING_MOVED, (number,), table)
