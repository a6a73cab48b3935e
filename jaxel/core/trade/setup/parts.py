"""What a hand swaps whole: the parts in which two set-ups of a machine differ, and what each does of the difference."""

from collections.abc import Callable, Sequence
from hashlib import sha256
from itertools import combinations
from math import factorial

import numpy as np

from jaxel.core.formats.paths import value_at, with_value
from jaxel.core.formats.setup.primary import Load
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array

PATHS: dict[str, tuple[str, ...]] = {
    "arms": (
        "primary.profile",
        "primary.weights.base_mass_g",
        "primary.weights.count",
        "primary.weights.size",
    ),
    "primary_spring": ("primary.spring",),
    "washer:primary": ("primary.washer_mm",),
    "shim": ("primary.shim_mm",),
    "clicker": ("primary.clicker",),
    "limiter": ("primary.limiter_mm",),
    "helix": ("secondary.helix", "secondary.torque_share"),
    "secondary_spring": ("secondary.spring",),
    "holes": ("secondary.holes",),
    "washer:secondary": ("secondary.washer_mm",),
    "belt": (
        "belt.outer_circumference_mm",
        "belt.cord_depth_mm",
        "belt.top_width_new_mm",
        "belt.top_width_min_mm",
    ),
    "belt_width": ("belt.top_width_mm",),
    "air": ("conditions",),
    "power": ("engine",),
    "gearing": ("vehicle.drive_ratio",),
    "tyre": ("vehicle.rolling_radius_mm",),
    "vehicle": (
        "vehicle.mass_kg",
        "vehicle.cd_a_m2",
        "vehicle.rolling_coefficient",
        "vehicle.ground_grip",
    ),
    "geometry": ("geometry",),
    "model": ("model",),
}
"""Parts and the fields each one fills; a load is a part of its own at each station, `load:heel`."""

MOST_MEMBERS = 8
"""Parts among which a difference is split: every order of them is looked at, 2⁸ set-ups."""

Group = tuple[str, ...]


def part_of(path: str) -> str:
    """The part a field of a set-up is of, a number of a load `load`.

    >>> part_of("secondary.helix.angles"), part_of("primary.weights.loads[0].mass_g")
    ('helix', 'load')
    """
    if path.startswith("primary.weights.loads"):
        return "load"
    return next(part for part, fields in PATHS.items() if any(path.startswith(each) for each in fields))


def differing(one: SetupDocument, other: SetupDocument) -> list[str]:
    """The parts in which two set-ups differ."""
    loads = [_loads(each) for each in (one, other)]
    stations = dict.fromkeys([*loads[0], *loads[1]])
    found = [f"load:{name}" for name in stations if loads[0].get(name) != loads[1].get(name)]
    return found + [
        name for name, paths in PATHS.items() if any(value_at(one, path) != value_at(other, path) for path in paths)
    ]


def swap_of(one: SetupDocument, other: SetupDocument) -> str:
    """A digest of what two set-ups have otherwise, the same whichever of them comes first."""
    held = sorted(
        "\n".join(repr(_loads(each).get(name.removeprefix("load:")) if name.startswith("load:")
                       else [value_at(each, path) for path in PATHS[name]]) for name in differing(one, other))
        for each in (one, other)
    )  # fmt: skip
    return sha256("\n\n".join(held).encode()).hexdigest()[:16]


def with_parts(document: SetupDocument, other: SetupDocument, parts: Sequence[str]) -> SetupDocument:
    """The set-up with some parts of another, not checked."""
    for name in parts:
        if name.startswith("load:"):
            station = name.removeprefix("load:")
            document = with_load(document, station, _loads(other).get(station))
        else:
            for path in PATHS[name]:
                document = with_value(document, path, value_at(other, path))
    return document


def coalitions(one: SetupDocument, other: SetupDocument, groups: Sequence[Group]) -> list[SetupDocument]:
    """`one` with every selection of groups of parts from `other` [2^m]: bit g of the place tells if g is in."""
    return [
        with_parts(one, other, [part for index, group in enumerate(groups) if place >> index & 1 for part in group])
        for place in range(2 ** len(groups))
    ]


def shapley(worth: Array) -> Array:
    """Each member's share of what all of them do together, averaged over every order in which they could come.

    φ_p = Σ_{S ∌ p} |S|!·(m − |S| − 1)!/m!·(v(S ∪ p) − v(S))

    Parameters: `worth` v of every selection [2^m, …], bit p of the place saying whether member p is in it. Returns φ
    [m, …], which sums to v(all) − v(none).

    >>> shapley(np.array([0.0, 1.0, 2.0, 5.0])).tolist()
    [2.0, 3.0]

    Reference: L. S. Shapley, "A value for n-person games", Contributions to the Theory of Games II (1953).
    """
    count = int(worth.shape[0]).bit_length() - 1
    shares = np.zeros((count, *worth.shape[1:]))
    for member in range(count):
        rest = [other for other in range(count) if other != member]
        for size in range(count):
            weight = factorial(size) * factorial(count - size - 1) / factorial(count)
            for chosen in combinations(rest, size):
                without = sum(1 << each for each in chosen)
                shares[member] += weight * (worth[without | 1 << member] - worth[without])
    return shares


def grouped(parts: Sequence[str], alike: Callable[[str], object]) -> list[Group]:
    """Parts each on its own; more than MOST_MEMBERS of them those together that are `alike`."""
    if len(parts) <= MOST_MEMBERS:
        return [(part,) for part in parts]
    together: dict[object, list[str]] = {}
    for part in parts:
        together.setdefault(alike(part), []).append(part)
    return [tuple(group) for group in together.values()]


def with_load(document: SetupDocument, station: str, load: Load | None) -> SetupDocument:
    """The set-up with another load at a station, not checked; the others keep their places, by which evidence knows
    them."""
    put = load or Load(station=station, mass_g=0)
    held = document.primary.weights.loads
    if any(each.station == station for each in held):
        loads = [put if each.station == station else each for each in held]
    else:
        loads = [*held, put] if load else held
    return with_value(document, "primary.weights.loads", loads)


def _loads(document: SetupDocument) -> dict[str, Load]:
    return {load.station: load for load in document.primary.weights.loads if load.total_g}
