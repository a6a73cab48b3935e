"""Readings: how a number of a strange machine is measured on the bench, and what the reading makes of its set-up.

What a reading is, how it is taken and what it settles stands in core/data/readings.toml; the computations it names
stand here. A reading is typed field by field, in any unit; until all its fields are given it settles nothing.
"""

from collections.abc import Callable, Container, Mapping, Sequence
from math import pi
from typing import Any

from pydantic import ValidationError

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.paths import with_value
from jaxel.core.formats.reading import Part, refuse
from jaxel.core.formats.setup.primary import PathPoint, SwingPoint
from jaxel.core.formats.setup.secondary import HelixPart, HolePair, HolesPart, StampedHelix, WoundHoles
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.clutch import bench
from jaxel.core.mechanism.clutch.spring import SpringRating, rating_from_points
from jaxel.core.units import DEG, GRAM, MM, parse_quantity, said
from jaxel.core.words import q

from ..setup.evidence import deviation_of_origin
from ..setup.slot import EQUAL_WITHIN_G, weighings
from .measure import chord, peak_kw
from .reading import Reading, ReadingField, Settled, Typed


def settle(document: SetupDocument, reading: Reading, typed: Typed, stamps: Mapping[str, float] = {}) -> Settled | None:
    """What a reading makes of a set-up; None while a field it needs is still empty.

    Parameters: `typed` by field, in any unit; `stamps`, the workshop's own masses by stamp [g]. Raises InvalidValue,
    field `KEY.FIELD`, for what cannot be.
    """
    given: dict[str, Any] = {}
    for each in reading.fields:
        text = typed.get(each.name, "").strip()
        if text:
            given[each.name] = _read(f"{reading.key}.{each.name}", each, text)
    way = _way(reading, given)
    try:
        if reading.form == "spring" and "force_1_n" in given and "force_2_n" not in given and "installed_mm" in given:
            raise InvalidValue("force_2_n", "is missing: one tester point is no line, a second length is needed")
        if missing(reading, given, way):
            return None
        with in_document_terms():
            found = _made(document, reading, _Given(given), stamps)
    except InvalidValue as error:
        known = {each.name for each in reading.fields}
        at = _FIELD_OF.get(error.field.split(".")[-1], error.field)
        raise InvalidValue(f"{reading.key}.{at if at in known else reading.fields[0].name}", error.reason) from None
    return found


def _way(reading: Reading, given: Container[str]) -> str:
    """Of the ways of taking a reading the one that was begun; raises InvalidValue where two were."""
    begun = [each for each in reading.fields if each.way and each.name in given]
    other = next((each for each in begun if each.way != begun[0].way), None)
    if other:
        raise InvalidValue(f"{reading.key}.{other.name}", f"stands beside {begun[0].way}: leave one of the two empty")
    return begun[0].way if begun else next((each.way for each in reading.fields if each.way), "")


def missing(reading: Reading, given: Container[str], way: str | None = None) -> list[ReadingField]:
    """The fields a reading still needs, of the way of taking it that was begun."""
    chosen = _way(reading, given) if way is None else way
    return [e for e in reading.fields if e.name not in given and not e.optional and e.way in ("", chosen)]


def _made(document: SetupDocument, reading: Reading, given: "_Given", stamps: Mapping[str, float]) -> Settled:
    """What a reading's own computation makes of it; raises InvalidValue also for what no part may hold."""
    try:
        return _FORMS[reading.form](document, reading, given, stamps)
    except ValidationError as error:
        raise refuse(error) from None


def _read(field_: str, each: ReadingField, text: str) -> Any:
    if each.unit == "text":
        return text
    try:
        if each.several:
            return [parse_quantity(one, each.unit) for one in weighings(text)]
        return parse_quantity(text, each.unit)
    except InvalidValue as error:
        raise InvalidValue(field_, error.reason) from None


class _Given(dict[str, Any]):
    """Numbers of a reading by field, all there that the reading needs."""

    def points(self, first: str, second: str) -> tuple[list[float], list[float]]:
        """Numbered pairs of fields, those given whole."""
        pairs = [(self.get(first.format(n)), self.get(second.format(n))) for n in range(1, 6)]
        for n, (one, other) in enumerate(pairs, start=1):
            if (one is None) != (other is None):
                raise InvalidValue((first if one is None else second).format(n), "is missing: it comes in pairs")
        return [one for one, _ in pairs if one is not None], [other for _, other in pairs if other is not None]


Form = Callable[[SetupDocument, Reading, _Given, Mapping[str, float]], Settled]


def _settled(document: SetupDocument, reading: Reading, values: Mapping[str, Any], *notes: str) -> Settled:
    """Values with the deviations of their instruments, or of where they come from."""
    changed = with_values(document, values)
    sd = {}
    for path in values:
        known = deviation_of_origin(changed, path, reading.origin)
        if known:
            sd[path] = known
    return Settled(values, sd, notes)


def with_values(document: SetupDocument, values: Mapping[str, Any]) -> SetupDocument:
    """The set-up with values at paths, not checked."""
    for path, value in values.items():
        document = with_value(document, path, value)
    return document


def _value(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    (value,) = given.values()
    return _settled(document, reading, {reading.paths[0]: value})


def _difference(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    return _settled(document, reading, {reading.paths[0]: abs(given["open_mm"] - given["closed_mm"])})


def _centres(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    halves = (given["shaft_1_mm"] + given["shaft_2_mm"]) / 2
    centres = given["outside_mm"] - halves if "outside_mm" in given else given["inside_mm"] + halves
    return _settled(document, reading, {reading.paths[0]: centres})


def _over_belt(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    cord = document.belt.cord_depth_mm
    if "hub_mm" in given:
        radius = given["hub_mm"] / 2 + given["thick_mm"] - cord
    elif "rim_mm" in given:
        radius = given["rim_mm"] / 2 - given["under_mm"] - cord
    else:
        radius = given["across_mm"] / 2 - cord
    return _settled(document, reading, {reading.paths[0]: radius})


def _half_angle(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    half = given["deg"] if "deg" in given else given["groove_deg"] / 2
    return _settled(document, reading, {reading.paths[0]: half})


def _pivot(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    """A circle of n pins from two neighbours, c = 2 r sin(π/n) apart between centres, or from the shaft."""
    if "outer_mm" in given:
        apart = _middle(given)
        return _settled(document, reading, {reading.paths[0]: apart / chord(document)})
    return _from_shaft(document, reading, given, "pin_mm")


def _ramps(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    if "outer_mm" in given:
        return _settled(document, reading, {reading.paths[0]: _middle(given) / 2})
    return _from_shaft(document, reading, given, "follower_mm")


def _middle(given: _Given) -> float:
    """From the middle of one to the middle of the other: what is over both and what is between them, halved."""
    if given["inner_mm"] >= given["outer_mm"]:
        raise InvalidValue("inner_mm", f"is between them: less than the {q(given['outer_mm'], 'mm')} over both")
    return float(given["outer_mm"] + given["inner_mm"]) / 2


def _from_shaft(document: SetupDocument, reading: Reading, given: _Given, other: str) -> Settled:
    radius = given["over_mm"] - (given["shaft_mm"] + given[other]) / 2
    return _settled(document, reading, {reading.paths[0]: radius})


def _masses(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    masses, count = given["mass_g"], document.primary.weights.count
    if len(masses) not in (1, count):
        raise InvalidValue("mass_g", f"takes one mass, or all {count} weighed: {len(masses)} were given")
    mean, spread = sum(masses) / len(masses), max(masses) - min(masses)
    found = _settled(document, reading, {reading.paths[0]: mean})
    if spread <= EQUAL_WITHIN_G + 1e-9:
        return found
    note = f"unequal by {said(round(spread, 2))} g: a fault found; computed with their mean"
    return Settled(found.values, found.sd, (note,), tuple(masses))


def _stamp(document: SetupDocument, reading: Reading, given: _Given, stamps: Mapping[str, float]) -> Settled:
    stamp = given["stamp"].strip().upper()
    if stamp not in stamps:
        raise InvalidValue("stamp", f"“{stamp[:20]}” has no mass here yet: weigh one, and note it under Workshop")
    return _settled(document, reading, {reading.paths[0]: stamps[stamp]}, f"stamp {stamp}: {said(stamps[stamp])} g")


def _arm_centre(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    centre = bench.centre_from_tip(given["mass_g"] * GRAM, given["tip_g"] * GRAM, given["span_mm"] * MM) / MM
    return _settled(
        document,
        reading,
        {"primary.profile.cg_mm": centre, "primary.weights.base_mass_g": given["mass_g"]},
        f"{q(centre, 'mm', 2)} from the pin",
    )


def _swing(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    rows = bench.path_from_blocks(*given.points("block_{}_mm", "deg_{}"))
    return _read_table(document, reading, [SwingPoint(travel_mm=x, deg=y) for x, y in rows.tolist()])


def _read_table(document: SetupDocument, reading: Reading, rows: Sequence[Part]) -> Settled:
    """A profile read at the bench: as smooth as its own points, whatever stood there before."""
    values: dict[str, Any] = {reading.paths[0]: rows}
    if document.primary.profile.pieces is not None:
        values["primary.profile.pieces"] = None
    return _settled(document, reading, values)


def _path(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    rows = bench.path_from_blocks(*given.points("block_{}_mm", "radius_{}_mm"))
    return _read_table(document, reading, [PathPoint(travel_mm=x, radius_mm=y) for x, y in rows.tolist()])


def _spring(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    lengths, forces = given.points("length_{}_mm", "force_{}_n")
    side = reading.key.split("_", maxsplit=1)[0]
    travel = getattr(document, side).spring.travel_mm
    line = rating_from_points([length * MM for length in lengths], forces)
    spring = line.fitted(given["installed_mm"] * MM, travel * MM)
    notes = [f"{q(line.rate * MM, 'N/mm', 2)}, free at {q(line.free_length / MM, 'mm', 1)}"]
    if line.residual:
        notes.append(f"points lie within {q(line.residual, 'N', 1)} of a line")
    if ("rate_n_per_mm" in given) != ("free_mm" in given):
        raise InvalidValue("free_mm" if "rate_n_per_mm" in given else "rate_n_per_mm", "is missing: sag needs both")
    if "free_mm" in given:
        rated = SpringRating(given["rate_n_per_mm"] / MM, given["free_mm"] * MM)
        sag = line.sag(rated, given["installed_mm"] * MM)
        notes.append(f"sag {said(round(sag * 100, 1))} % of its rating in the clutch")
    at = f"{side}.spring"
    return _settled(
        document,
        reading,
        {f"{at}.force_start_n": spring.force_start, f"{at}.force_finish_n": spring.force_finish},
        *notes,
    )


def _torsion(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    degrees, torques = given.points("deg_{}", "torque_{}_nm")
    line = bench.torsion_line([each * DEG for each in degrees], torques)
    wind, rate = line.wind(0.0) / DEG, line.rate * DEG
    if wind <= 0:
        raise InvalidValue("torque_1_nm", "leaves the spring slack at rest: record it as a fault found, not as a wind")
    values: dict[str, Any] = {"secondary.spring.torsion_rate_nm_per_deg": rate}
    holes = document.secondary.holes
    if holes is None:
        values["secondary.spring.pretwist_deg"] = wind
    else:  # one spring stands in all pairs alike: what one pair is off, every pair is
        off = wind - holes.table[holes.position - 1].pretwist_deg
        rows = [row.model_copy(update={"pretwist_deg": row.pretwist_deg + off}) for row in holes.table]
        if min(row.pretwist_deg for row in rows) <= 0:
            raise InvalidValue("torque_1_nm", "would leave another pair of holes slack: look which pair it stands in")
        values["secondary.holes.table"] = rows
    note = f"{q(rate, 'N·m/deg', 4)}, wound {said(round(wind, 1))}°"
    return _settled(document, reading, values, note)


def _hole_pair(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    holes = document.secondary.holes
    if holes is None:
        raise InvalidValue("sheave", "this clutch has no table of holes")
    pair = (given["sheave"].upper()[:12], given["helix"].upper()[:12])
    rows = {(row.sheave.upper(), row.helix.upper()): row for row in holes.table}
    wind = given.get("wind_deg")
    if wind is not None and not 0 < wind <= 360:
        raise InvalidValue("wind_deg", "must be above 0 and at most 360")
    known = rows.get(pair)
    here = holes.table[holes.position - 1].pretwist_deg
    row = WoundHoles(
        sheave=known.sheave if known else pair[0],
        helix=known.helix if known else pair[1],
        pretwist_deg=wind if wind is not None else known.pretwist_deg if known else here,
    )
    table = [row if each is known else each for each in holes.table] if known else [*holes.table, row]
    new = HolesPart(fitted=HolePair(sheave=row.sheave, helix=row.helix), table=table)
    values = {"secondary.holes": new}
    if wind is not None:
        note, sd = (
            f"holes {row.sheave}–{row.helix}, wound {said(wind)}°",
            deviation_of_origin(document, reading.paths[0], reading.origin),
        )
        return Settled(values, {reading.paths[0]: sd} if sd else {}, (note,))
    note = f"holes {row.sheave}–{row.helix}; {said(row.pretwist_deg)}° is typical until it is measured"
    return Settled(values, {}, (note,))


def _helix_stamp(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    stamped = StampedHelix(
        radius_mm=document.secondary.helix.radius_mm, stamped=given["stamp"].rstrip("° "), over_mm=given.get("over_mm")
    ).fitted()
    return _settled(document, reading, {reading.paths[0]: stamped.angles})


def _helix_lift(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    helix = document.secondary.helix
    angle = bench.helix_angle(given["lift_mm"] * MM, given["turn_deg"] * DEG, helix.radius_mm * MM) / DEG
    straight = HelixPart(radius_mm=helix.radius_mm, angles=[type(helix.angles[0])(travel_mm=0, deg=angle)])
    return _settled(document, reading, {reading.paths[0]: straight.angles}, f"{said(round(angle, 1))}°")


def _turns(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    ratio = bench.turns_ratio(given["secondary_turns"], given["wheel_turns"])
    return _settled(document, reading, {reading.paths[0]: ratio}, f"{said(round(ratio, 3))} to 1")


def _ratio(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    high = reading.form == "ratio_high"
    wanted = bench.turns_ratio(given["primary_turns"], given["secondary_turns"])
    drive = document.core().drive
    length = bench.drive_with(drive, "primary_travel" if high else "closed_radius", wanted, high=high)
    return _settled(document, reading, {reading.paths[0]: length / MM}, f"{said(round(wanted, 3))} to 1")


def _roll_out(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    radius = given["axle_mm"] if "axle_mm" in given else given["roll_m"] * 1000 / (2 * pi)
    return _settled(document, reading, {reading.paths[0]: radius})


def _peak_power(document: SetupDocument, reading: Reading, given: _Given, _: Mapping[str, float]) -> Settled:
    now = peak_kw(document.engine.curve)
    share = given["power_kw"] / now
    if not 0.2 < share < 5:
        raise InvalidValue("power_kw", f"is far from the {q(now, 'kW', 0)} such an engine has")
    rows = [p.model_copy(update={"torque_nm": p.torque_nm * share}) for p in document.engine.curve]
    return _settled(document, reading, {reading.paths[0]: rows})


_FORMS: dict[str, Form] = {
    "value": _value,
    "difference": _difference,
    "centres": _centres,
    "over_belt": _over_belt,
    "half_angle": _half_angle,
    "pivot": _pivot,
    "ramps": _ramps,
    "masses": _masses,
    "stamp": _stamp,
    "arm_centre": _arm_centre,
    "swing": _swing,
    "path": _path,
    "spring": _spring,
    "torsion": _torsion,
    "hole_pair": _hole_pair,
    "helix_stamp": _helix_stamp,
    "helix_lift": _helix_lift,
    "turns": _turns,
    "ratio_low": _ratio,
    "ratio_high": _ratio,
    "roll_out": _roll_out,
    "peak_power": _peak_power,
}

_FIELD_OF = {
    "span": "span_mm",
    "mass": "mass_g",
    "tip_reading": "tip_g",
    "torques": "torque_1_nm",
    "angles": "deg_1",
    "lift": "lift_mm",
    "turn": "turn_deg",
    "radius": "lift_mm",
    "points": "force_1_n",
    "installed_length_mm": "installed_mm",
    "stamped": "stamp",
    "over_mm": "over_mm",
}
"""Fields of a reading by what the mechanism calls what is at fault in them."""
