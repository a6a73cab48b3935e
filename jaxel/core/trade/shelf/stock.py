"""What each slot of a machine can hold: what is fitted, and the parts at hand that fit it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.paths import value_at, with_value
from jaxel.core.formats.plan.stock import (
    AnyLoad,
    AnySecondarySpringInStock,
    AnySpringInStock,
    Held,
    HelixInStock,
    KitChanges,
    KitInStock,
    LoadInStock,
    StockDocument,
    WeightsInStock,
)
from jaxel.core.formats.reading import Part
from jaxel.core.formats.setup.evidence import EvidencePart, Origin
from jaxel.core.formats.setup.primary import ClickerPart, Load, RampRollerPart, SwingArmPart
from jaxel.core.formats.setup.secondary import HelixPart, HolePair
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import said
from jaxel.core.words import q

from ..setup.parts import with_load
from ..setup.slot import Depth, equal_mass
from .part_specs import UnmeasuredSpec
from .unmeasured import of_unknown

Write = Callable[[SetupDocument], SetupDocument]

DEPTHS = {
    "arms": Depth.COVER_OFF,
    "load": Depth.WEIGHT_SCREW,
    "primary_spring": Depth.COVER_OFF,
    "washer:primary": Depth.COVER_OFF,
    "limiter": Depth.COVER_OFF,
    "clicker": Depth.ON_THE_MACHINE,
    "shim": Depth.SPIDER_OFF,
    "helix": Depth.HELIX,
    "secondary_spring": Depth.SECONDARY_SPRING,
    "washer:secondary": Depth.SECONDARY_SPRING,
    "holes": Depth.SPRING_MOVED,
}

MINUTES = {
    Depth.ON_THE_MACHINE: 3.0,
    Depth.WEIGHT_SCREW: 15.0,
    Depth.COVER_OFF: 30.0,
    Depth.SPRING_MOVED: 20.0,
    Depth.SECONDARY_SPRING: 25.0,
    Depth.SPIDER_OFF: 75.0,
    Depth.HELIX: 35.0,
}
"""What a teardown of each depth and its rebuild take [min]; from memory. A part may state its own."""


@dataclass(frozen=True)
class Option:
    """One filling of a slot.

    `slot` by its key; `words`, what it is; `part`, its name in the stock; `write` puts it into a set-up; `price` of all
    its pieces; `minutes` its fitting takes where the stock says so.
    """

    slot: str
    words: str
    write: Write = field(compare=False)
    part: str = ""
    price: float = 0.0
    minutes: float | None = None

    @property
    def depth(self) -> Depth:
        """How deep a hand must go for it."""
        return DEPTHS["load" if self.slot.startswith("load:") else self.slot]


@dataclass(frozen=True)
class Kit:
    """Several slots filled at once."""

    name: str
    options: tuple[Option, ...]
    price: float
    minutes: float | None


def fitted(document: SetupDocument, slot: str) -> Option:
    """What a slot holds now."""
    return Option(slot, words(document, slot), lambda each: each)


def words(document: SetupDocument, slot: str) -> str:
    """What a slot of a set-up holds, in words."""
    primary, secondary = document.primary, document.secondary
    if slot.startswith("load:"):
        held = {load.station: load for load in primary.weights.loads}.get(slot.removeprefix("load:"))
        return _load_words(held.mass_g, held.pieces) if held else _load_words(0.0, 1)
    spoken: dict[str, Callable[[], str]] = {
        "arms": lambda: f"{said(primary.weights.base_mass_g)} g",
        "primary_spring": lambda: _spring_words(primary.spring),
        "washer:primary": lambda: f"{q(primary.washer_mm, 'mm')}",
        "limiter": lambda: f"{q(primary.limiter_mm, 'mm')}",
        "shim": lambda: f"{q(primary.shim_mm, 'mm')}",
        "clicker": lambda: str(primary.clicker.position if primary.clicker else "–"),
        "helix": lambda: _helix_words(secondary.helix),
        "secondary_spring": lambda: _spring_words(secondary.spring),
        "washer:secondary": lambda: f"{q(secondary.washer_mm, 'mm')}",
        "holes": lambda: f"{secondary.holes.fitted.sheave}–{secondary.holes.fitted.helix}" if secondary.holes else "–",
    }
    return spoken[slot]()


def options(document: SetupDocument, stock: StockDocument) -> dict[str, list[Option]]:
    """Every slot a stock has parts for, each with what is fitted first.

    Raises InvalidValue for a part that does not fit this clutch, weights that are no set, or pieces that are too few
    for a set.
    """
    found: dict[str, list[Option]] = {}

    def add(options: Iterable[Option | None]) -> None:
        for each in options:
            if each is not None:
                here = found.setdefault(each.slot, [fitted(document, each.slot)])
                if each.words != here[0].words or each.part:
                    here.append(each)

    add(_weights(document, part, f"weights[{i}]") for i, part in enumerate(stock.weights))
    for station, parts in stock.loads.items():
        for i, part in enumerate(parts):
            add(_loads(document, station, part, f"loads.{station}[{i}]"))
    add(_primary_spring(part) for part in stock.primary_springs)
    add(_secondary_spring(document, part, f"secondary_springs[{i}]") for i, part in enumerate(stock.secondary_springs))
    add(_helix(document, part) for part in stock.helixes)
    add(_holes(document, part, f"hole_pairs[{i}]") for i, part in enumerate(stock.hole_pairs))
    add(_clicker(document, position, f"clicker[{i}]") for i, position in enumerate(stock.clicker))
    add(_length("shim", "primary.shim_mm", thickness) for thickness in stock.shims_mm)
    for side in ("primary", "secondary"):
        add(_length(f"washer:{side}", f"{side}.washer_mm", thickness) for thickness in stock.washers_mm)
    add(_length("limiter", "primary.limiter_mm", thickness) for thickness in stock.limiters_mm)
    return found


def option_of(document: SetupDocument, slot: str, part: Part) -> list[Option]:
    """What one part of a stock makes of a slot, of a load each number of pieces; raises InvalidValue where it does not
    fit."""
    found: list[Option | None] = []
    if isinstance(part, UnmeasuredSpec):
        _check_size(document, part, slot)
        found = [_option(slot, f"{part.mark}, not measured", lambda setup: of_unknown(setup, slot), part)]
    elif isinstance(part, WeightsInStock):
        found = [_weights(document, part, slot)]
    elif isinstance(part, LoadInStock):
        held = LoadInStock(**part.model_dump(include=set(LoadInStock.model_fields)))
        found = _loads(document, slot.removeprefix("load:"), held, slot)
    elif isinstance(part, HelixInStock):
        found = [_helix(document, part)]
    elif slot == "primary_spring":
        found = [_primary_spring(part)]  # type: ignore[arg-type]
    elif slot == "secondary_spring":
        found = [_secondary_spring(document, part, slot)]  # type: ignore[arg-type]
    else:
        found = [_length(slot, LENGTHS[slot], float(part.thickness_mm))]  # type: ignore[attr-defined]
    return [each for each in found if each is not None]


LENGTHS = {
    "shim": "primary.shim_mm",
    "washer:primary": "primary.washer_mm",
    "washer:secondary": "secondary.washer_mm",
    "limiter": "primary.limiter_mm",
}
"""Slots filled by a thickness, and the field each is."""


def kits(document: SetupDocument, stock: StockDocument) -> list[Kit]:
    """The kits of a stock that are whole at hand; raises InvalidValue for a member that does not fit this clutch."""
    found = [_kit(document, kit, f"kits[{index}].changes") for index, kit in enumerate(stock.kits)]
    return [kit for kit in found if kit is not None]


def _kit(document: SetupDocument, kit: KitInStock, at: str) -> Kit | None:
    """A kit with all its members; None where it, or one of them, is not at hand."""
    changes: KitChanges = kit.changes
    members: list[Option | None] = []
    if changes.weights:
        members.append(_weights(document, changes.weights, f"{at}.weights"))
        document = members[-1].write(document) if members[-1] else document
    for station, load in changes.loads.items():
        members += _loads(document, station, load, f"{at}.loads.{station}", most=1)
    if changes.primary_spring:
        members.append(_primary_spring(changes.primary_spring))
    if changes.secondary_spring:
        members.append(_secondary_spring(document, changes.secondary_spring, f"{at}.secondary_spring"))
    if changes.helix:
        members.append(_helix(document, changes.helix))
    if changes.holes:
        members.append(_holes(document, changes.holes, f"{at}.holes"))
    if changes.clicker:
        members.append(_clicker(document, changes.clicker, f"{at}.clicker"))
    for slot, path, value in (
        ("shim", "primary.shim_mm", changes.shim_mm),
        ("washer:primary", "primary.washer_mm", changes.washer_primary_mm),
        ("washer:secondary", "secondary.washer_mm", changes.washer_secondary_mm),
        ("limiter", "primary.limiter_mm", changes.limiter_mm),
    ):
        if value is not None:
            members.append(_length(slot, path, value))
    whole = tuple(each for each in members if each is not None)
    if len(whole) < len(members) or not _at_hand(kit, 1):
        return None
    return Kit(kit.name, whole, kit.price, kit.minutes)


def _at_hand(part: Held, needed: int) -> bool:
    return part.pieces is None or part.pieces >= needed


def _option(slot: str, spoken: str, write: Write, part: Held, needed: int = 1) -> Option | None:
    """The option of a part, None where too few are at hand."""
    if not _at_hand(part, needed):
        return None
    return Option(slot, spoken, write, getattr(part, "name", ""), part.price * needed, part.minutes)


def _told(document: SetupDocument, origin: Origin, *paths: str) -> SetupDocument:
    """A set-up whose evidence says where the new numbers at these paths come from, if it has evidence at all."""
    if document.evidence is None:
        return document
    kept = {path: each for path, each in document.evidence.items() if not any(path.startswith(p) for p in paths)}
    numbers = {path: EvidencePart(origin=origin) for path in paths if _is_number(document, path)}
    return document.model_copy(update={"evidence": kept | numbers})


def _is_number(document: SetupDocument, path: str) -> bool:
    return isinstance(value_at(document, path), float)


def _weights(document: SetupDocument, part: WeightsInStock, at: str) -> Option | None:
    count, profile = document.primary.weights.count, document.primary.profile
    _check_size(document, part, at)
    shape = part.model_dump(include={"cg_mm", "cg_deg", "stations", "swing"}, exclude_none=True)
    if shape and isinstance(profile, RampRollerPart):
        raise InvalidValue(f"{at}.{min(shape)}", "does not fit: this clutch has rollers, which have no arm")
    if not _at_hand(part, count):
        raise InvalidValue(f"{at}.pieces", f"{part.pieces} are no set: this clutch takes {count}")
    if isinstance(part.base_mass_g, list):
        try:
            mass = round(equal_mass(part.base_mass_g, count), 2)
        except InvalidValue as error:
            raise InvalidValue(f"{at}.base_mass_g", error.reason) from None
    else:
        mass = part.base_mass_g
    if part.stations is not None:
        kept = {station.name for station in part.stations}
        lost = [load.station for load in document.primary.weights.loads if load.station not in kept and load.total_g]
        if lost:
            raise InvalidValue(f"{at}.stations", f"does not fit: it has no “{lost[0]}” for the load that is in")

    def write(setup: SetupDocument) -> SetupDocument:
        if isinstance(setup.primary.profile, SwingArmPart) and shape:
            own = {name: getattr(part, name) for name in shape}
            if "swing" in own:  # the fitted arms' notch is theirs
                own["pieces"] = None
            changed = setup.primary.profile.model_copy(update=own)
            setup = _told(with_value(setup, "primary.profile", changed), "typical", "primary.profile")
        setup = with_value(setup, "primary.weights.base_mass_g", mass)
        origin: Origin = "measured" if isinstance(part.base_mass_g, list) else part.origin
        return _told(setup, origin, "primary.weights.base_mass_g")

    return _option("arms", f"{said(mass)} g", write, part, count)


def _check_size(document: SetupDocument, part: WeightsInStock | UnmeasuredSpec, at: str) -> None:
    """A roller's size code comes before its mass: one of another size does not run in this pocket."""
    profile = document.primary.profile
    pocket = profile.size if isinstance(profile, RampRollerPart) else None
    takes = pocket or document.primary.weights.size
    if part.size and isinstance(profile, SwingArmPart):
        raise InvalidValue(f"{at}.size", "does not fit: arms have no size code")
    if part.size and takes and part.size != takes:
        raise InvalidValue(f"{at}.size", f"does not fit: the pockets take {takes}, this is {part.size}")


def _loads(
    document: SetupDocument, station: str, part: AnyLoad, at: str, most: int | None = None
) -> list[Option | None]:
    """A load's piece in every number that the station takes and that are at hand for all the arms."""
    held = part if isinstance(part, LoadInStock) else LoadInStock(mass_g=part)
    rooms = {each.name: each.pieces_max for each in document.primary.stations}
    if station not in rooms:
        raise InvalidValue(at, f"does not fit: “{station}” is no station here ({', '.join(rooms) or 'there is none'})")
    count = document.primary.weights.count
    most = most or (rooms[station] if held.mass_g else None) or 1

    def option(pieces: int) -> Option | None:
        def write(setup: SetupDocument) -> SetupDocument:
            load = Load(station=station, mass_g=held.mass_g, pieces=pieces) if held.mass_g else None
            setup = with_load(setup, station, load)
            for index, each in enumerate(setup.primary.weights.loads):
                if each.station == station:
                    setup = _told(setup, held.origin, f"primary.weights.loads[{index}].mass_g")
            return setup

        spoken = _load_words(held.mass_g, pieces)
        return _option(f"load:{station}", spoken, write, held, count * pieces if held.mass_g else 0)

    return [option(pieces) for pieces in range(1, most + 1)]


def _spring_write(at: str, part: AnySpringInStock | AnySecondarySpringInStock) -> Write:
    origin: Origin = "measured" if hasattr(part, "points") else part.origin
    numbers = ("force_start_n", "force_finish_n", "torsion_rate_nm_per_deg", "pretwist_deg")

    def write(setup: SetupDocument) -> SetupDocument:
        spring = part.spring()
        setup = with_value(setup, at, spring)
        held = [f"{at}.{name}" for name in numbers if getattr(spring, name, 0)]
        return _told(_told(setup, origin, at), origin, *held)

    return write


def _primary_spring(part: AnySpringInStock) -> Option | None:
    spoken = _spring_words(part.spring())
    return _option("primary_spring", spoken, _spring_write("primary.spring", part), part)


def _secondary_spring(document: SetupDocument, part: AnySecondarySpringInStock, at: str) -> Option | None:
    spring = part.spring()
    if document.secondary.holes and not spring.torsion_rate_nm_per_deg:
        raise InvalidValue(f"{at}.torsion_rate_nm_per_deg", "does not fit: this clutch winds its spring in its holes")
    if document.secondary.holes and spring.pretwist_deg:
        raise InvalidValue(f"{at}.pretwist_deg", "must be left out where the hole pair gives the twist")
    if spring.torsion_rate_nm_per_deg and not document.secondary.holes and spring.pretwist_deg <= 0:
        raise InvalidValue(f"{at}.pretwist_deg", "must be above 0: a torsion spring works only wound")
    return _option("secondary_spring", _spring_words(spring), _spring_write("secondary.spring", part), part)


def _helix(document: SetupDocument, part: HelixInStock) -> Option | None:
    helix = part.helix(document.secondary.helix.radius_mm)

    def write(setup: SetupDocument) -> SetupDocument:
        setup = _told(with_value(setup, "secondary.helix", helix), part.origin, "secondary.helix")
        return _told(setup, part.origin, "secondary.helix.radius_mm")

    return _option("helix", _helix_words(helix), write, part)


def _holes(document: SetupDocument, pair: HolePair, at: str) -> Option:
    holes = document.secondary.holes
    if holes is None:
        raise InvalidValue(at, "does not fit: this clutch has no table of holes")
    if not any((row.sheave, row.helix) == (pair.sheave, pair.helix) for row in holes.table):
        raise InvalidValue(at, f"does not fit: {pair.sheave}–{pair.helix} is no pair of this clutch's table")
    return Option(
        "holes",
        f"{pair.sheave}–{pair.helix}",
        lambda setup: with_value(setup, "secondary.holes.fitted", HolePair(sheave=pair.sheave, helix=pair.helix)),
    )


def _clicker(document: SetupDocument, position: int, at: str) -> Option:
    clicker = document.primary.clicker
    if clicker is None:
        raise InvalidValue(at, "does not fit: this clutch has no clicker")
    if position > clicker.positions:
        raise InvalidValue(at, f"does not fit: the last position is {clicker.positions}")

    def write(setup: SetupDocument) -> SetupDocument:
        held = setup.primary.clicker or ClickerPart()
        return with_value(setup, "primary.clicker", held.model_copy(update={"position": position}))

    return Option("clicker", str(position), write)


def _length(slot: str, path: str, value: float) -> Option:
    return Option(slot, f"{q(value, 'mm')}", lambda setup: _told(with_value(setup, path, value), "measured", path))


def _load_words(mass_g: float, pieces: int) -> str:
    return f"{pieces} × {said(mass_g)} g" if pieces > 1 else f"{said(mass_g)} g"


def _spring_words(spring: Part) -> str:
    start, finish = getattr(spring, "force_start_n", 0.0), getattr(spring, "force_finish_n", 0.0)
    wind = getattr(spring, "torsion_rate_nm_per_deg", 0.0)
    return f"{q(start, 'N', 1, bare=True)} / {q(finish, 'N', 1)}" + (f", {q(wind, 'N·m/deg')}" if wind else "")


def _helix_words(helix: HelixPart) -> str:
    return " / ".join(f"{said(point.deg)}°" for point in helix.angles)
