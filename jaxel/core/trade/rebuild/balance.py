"""Balance: whether pieces that turn together weigh alike, what is left out of balance pulls, and who goes where."""

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.units import GRAM, MM, RPM
from jaxel.core.words import q

MOST_PLACES = 8
"""More pieces than this are not tried in every order."""


def unbalance(masses_g: Sequence[float], radius_mm: float) -> complex:
    """The unbalance of masses spread evenly round a circle, as a vector.

    U = r·Σ m_k·e^{i·2πk/n}

    Parameters: `masses_g` by place [g]; `radius_mm` their centres turn on [mm]. Returns U [g·mm], the first place along
    the real axis.

    >>> abs(unbalance([50.0, 50.0, 50.0], 40.0)) < 1e-9, round(abs(unbalance([51.0, 50.0, 50.0], 40.0)), 9)
    (True, 40.0)

    Reference: vector sum; ISO 21940-1 for the terms.
    """
    step = 2j * math.pi / len(masses_g)
    return radius_mm * sum(mass * cmath.exp(step * place) for place, mass in enumerate(masses_g))


def rotating_force(unbalance_gmm: float, rpm: float) -> float:
    """Force of an unbalance turning with the shaft, F = U·ω².

    Parameters: `unbalance_gmm` [g·mm]; `rpm` [rpm]. Returns [N].

    >>> round(rotating_force(40.0, 8000.0), 1)
    28.1
    """
    return unbalance_gmm * GRAM * MM * (rpm * RPM) ** 2


@dataclass(frozen=True)
class Pairing:
    """Which piece goes to which place, by index of the weighings, and what it leaves.

    `rollers`, the roller at each place, empty where none was weighed; `unbalance_gmm` [g·mm] as it stands and at its
    best.
    """

    arms: tuple[int, ...]
    rollers: tuple[int, ...]
    unbalance_gmm: float


def best_pairing(
    arms_g: Sequence[float], arms_mm: float, rollers_g: Sequence[float] = (), rollers_mm: float = 0.0
) -> Pairing:
    """The order with the least unbalance: every one is tried, but for turning the whole clutch round.

    Parameters: masses by place [g] and the radius of each circle [mm]; rollers as many as arms, or none. Raises
    InvalidValue for counts that do not match or are too many. Ties go to the order as weighed.
    """
    count = len(arms_g)
    if rollers_g and len(rollers_g) != count:
        raise InvalidValue("rollers", f"are {len(rollers_g)}, the arms {count}")
    if not 2 <= count <= MOST_PLACES or (rollers_g and count > MOST_PLACES // 2):
        raise InvalidValue("arms", "are too many to be tried in every order")
    best: Pairing | None = None
    rolling = list(permutations(range(count))) if rollers_g else [()]
    for arms in ((0, *rest) for rest in permutations(range(1, count))):
        own = unbalance([arms_g[each] for each in arms], arms_mm)
        for rollers in rolling:
            other = unbalance([rollers_g[each] for each in rollers], rollers_mm) if rollers else 0
            out = abs(own + other)
            if best is None or out < best.unbalance_gmm - 1e-9:
                best = Pairing(arms, rollers, out)
    assert best is not None
    return best


@dataclass(frozen=True)
class Alike:
    """What weighings of a set come to: `spread_g` from lightest to heaviest, None while one is missing; `alike`."""

    missing: int
    spread_g: float | None
    mean_g: float | None
    alike: bool


def alike(masses_g: Sequence[float | None], count: int, allowed_g: float) -> Alike:
    """Whether a set weighs alike, within `allowed_g` from lightest to heaviest.

    >>> alike([48.1, 48.0, 46.9], 3, 0.2).spread_g
    1.2
    """
    known = [each for each in masses_g if each is not None]
    missing = max(0, count - len(known))
    if missing or not known:
        return Alike(missing, None, None, False)
    spread = round(max(known) - min(known), 6)
    return Alike(0, spread, sum(known) / len(known), spread <= allowed_g + 1e-9)


def pictured(force_n: float) -> str:
    """A force as a weight hanging there, that one can picture.

    >>> from jaxel.core.words import told
    >>> told(pictured(28.1))
    'like 2.9 kg hung on one side'
    """
    return f"like {q(float(f'{force_n / 9.80665:.2g}'), 'kg')} hung on one side"


def mid_shift_radius(document: SetupDocument) -> float:
    """Where the weights' centres turn half-way through the shift, by the set-up [mm]."""
    travel = document.geometry.primary.travel_mm * MM / 2
    return round(float(document.primary.profile_core().radius(travel)) / MM, 1)


@dataclass(frozen=True)
class Turning:
    """Pieces of a set on one circle: masses by place [g], None where not weighed, and their radius [mm]."""

    masses_g: Sequence[float | None]
    radius_mm: float

    @property
    def counted(self) -> list[float]:
        """The masses that count: a piece that was not weighed counts nothing."""
        return [each or 0.0 for each in self.masses_g]


@dataclass(frozen=True)
class Balance:
    """What is out of balance at a speed, and the order with the least of it: the piece at each place, from 0."""

    rpm: float
    unbalance_gmm: float
    force_n: float
    pictured: str
    best_gmm: float
    best_n: float
    arms: tuple[int, ...]
    rollers: tuple[int, ...]


def balanced(arms: Turning, rollers: Turning | None, rpm: float) -> Balance | None:
    """What arms, and rollers where there are as many, leave out of balance at a speed; None where none can be tried.

    >>> balanced(Turning((48.1, 48.0, 46.9), 55.0), None, 7800.0).arms
    (0, 1, 2)
    """
    own = rollers if rollers and len(rollers.masses_g) == len(arms.masses_g) else None
    rolling, far = (own.counted, own.radius_mm) if own else ([], 0.0)
    out = unbalance(arms.counted, arms.radius_mm) + (unbalance(rolling, far) if rolling else 0)
    try:
        best = best_pairing(arms.counted, arms.radius_mm, rolling, far)
    except InvalidValue:
        return None
    force, least = rotating_force(abs(out), rpm), rotating_force(best.unbalance_gmm, rpm)
    return Balance(
        rpm, abs(out), force, pictured(force), best.unbalance_gmm, least, tuple(best.arms), tuple(best.rollers)
    )
