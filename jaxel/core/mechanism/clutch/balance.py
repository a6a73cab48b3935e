"""Belt tension against clamp: how much each sheave pair must squeeze to carry the torque.

Tensions are net of the belt's centrifugal tension. T1 is the tight, T2 the slack side, ΔT = T1 − T2,
K = ln(T1/T2), μ_e = μ/sin β the friction a wedge makes of μ.

Two limits bracket how tension runs along a wrap of a rubber belt: an idle arc at full tension followed by a
fully sliding arc, and creep developed over the whole wrap. `adhesion_share` λ mixes them; ∫T dθ is then

    S(θ, T_idle) = λ·[T_idle·(θ − γ) + ΔT·γ/K] + (1 − λ)·θ·ΔT/K,   active arc γ = min(K/μ_e, θ)

Both terms meet at ΔT/μ_e as K → μ_e·θ, the whole wrap sliding: Eytelwein's limit.

A belt that does not slip spends its friction on being drawn into the groove. A wedge of half-angle β with a share
ψ of the friction angle atan μ against that motion turns axial force into radial with tan(β + ψ·atan μ) instead of
tan β: `seat` is the quotient of the two, and 2·tan β·F·seat = S.

Under a growing torque a belt seats until the secondary can hold no more; what the engine gives beyond that slips, and
the belt carries on what is held. Neither clutch can carry more than Eytelwein's limit of its clamp without seating.
"""

from dataclasses import dataclass
from math import exp, expm1, log

import numpy as np

from ..numerics.tables import Array, Mask, Values

_NEWTON_STEPS = 6
"""In the variable chosen the equation is nearly straight: three to five steps from its λ = 0 solution do."""

_NEARLY = 1e-6
"""Error from which one more step of Newton's reaches rounding: its square."""

LEAST_HELD = 1e-6
"""Torque a secondary without a spring at all still holds [N·m]: next to nothing, and yet a belt with a pull."""

_BRACKET = 60.0
"""ln((1 − z)/z) of any belt lies within this of zero."""


@dataclass(frozen=True)
class Balance:
    """The belt's tensions and what they ask of the primary; every field an array of one shape.

    `tight`, `slack` tension [N]; `primary_clamp` required and `secondary_clamp` given [N];
    `grip_primary`, `grip_secondary` traction available over needed [-], below 1 where the belt slips;
    `secondary_slips`, whether the secondary cannot hold what it is given [bool].
    """

    tight: Array
    slack: Array
    primary_clamp: Array
    secondary_clamp: Array
    grip_primary: Array
    grip_secondary: Array
    secondary_slips: Mask


def wrap_integral(
    wrap: Values, idle_tension: Values, pull: Values, tension_log: Values, friction: Values, adhesion_share: float
) -> Array:
    """Tension summed along a wrap, S(θ, T_idle) of the module's opening [N·rad].

    Parameters: `wrap` θ [rad]; `idle_tension`, the tension of the idle arc [N]; `pull` ΔT [N];
    `tension_log` K [-]; `friction` μ_e [-]; `adhesion_share` λ [0–1]. All but the last two broadcast.

    >>> from math import exp, pi
    >>> round(float(wrap_integral(pi, 100.0, 100.0 * (exp(0.5 * pi) - 1), 0.5 * pi, 0.5, 0.35)), 3)
    762.095

    Reference: integration of Eytelwein's equation dT/dθ = μ_e·T over the active arc.
    """
    active = np.minimum(np.divide(tension_log, friction), wrap)
    sliding = np.divide(pull, tension_log)
    split = np.multiply(idle_tension, np.subtract(wrap, active)) + sliding * active
    return adhesion_share * split + (1 - adhesion_share) * np.multiply(wrap, sliding)


def tension_log(squeeze: Values, wrap: Values, friction: Values, adhesion_share: float) -> Array:
    """K = ln(T1/T2) at which a driven wrap's tension sum balances its clamp.

    Solves S(θ2, T2)/ΔT = squeeze for K with T2 = ΔT/(e^K − 1), which is

        (θ − K/μ_e)·[λ/(e^K − 1) + (1 − λ)/K] = squeeze − 1/μ_e

    The left side falls steadily from ∞ to 0 at K = μ_e·θ; a smaller squeeze means slip and gives that
    limit. With z = K/(μ_e·θ) the logarithm of the left side is a straight line in ln((1 − z)/z) for λ = 0
    and nearly one for most λ, so Newton's iteration runs there; the few it does not close are kept between bounds.

    Parameters: `squeeze` 2·tan β·F2·seat/ΔT [-]; `wrap` θ [rad]; `friction` μ_e; `adhesion_share` λ.

    >>> round(float(tension_log(1 / 0.5, 3.0, 0.5, 0.35)), 9)
    1.5

    Reference: from `wrap_integral`.
    """
    limit = np.divide(1.0, friction)
    whole = np.multiply(friction, wrap)
    reserve = np.log(np.maximum(np.subtract(squeeze, limit), 1e-12))
    odds = reserve + np.log(friction)
    for _ in range(_NEWTON_STEPS):
        error, slope = _error(odds, reserve, wrap, whole, adhesion_share)
        odds = odds - error / slope
        if np.abs(error).max() < _NEARLY:
            break
    else:
        odds = _bracketed(odds, reserve, wrap, whole, adhesion_share)
    return whole / (1 + np.exp(odds))


def _error(odds: Array, reserve: Array, wrap: Values, whole: Array, share: float) -> tuple[Array, Array]:
    """Left less right side of the equation in logarithms at ln((1 − z)/z), and its slope, which is positive."""
    power = np.exp(odds)
    z = 1 / (1 + power)
    k = whole * z
    growth = np.expm1(k)
    idle, creep = share / growth, (1 - share) / k
    weight = idle + creep
    rest = power * z  # 1 − z
    falling = idle * (1 + 1 / growth) + creep / k
    return np.log(wrap * rest * weight) - reserve, z + z * rest * whole * falling / weight


def _bracketed(odds: Array, reserve: Array, wrap: Values, whole: Array, share: float) -> Array:
    """The same root kept between bounds: where λ is nearly 1 and μ_e high, Newton's steps overshoot."""
    shape = np.broadcast_shapes(odds.shape, np.shape(wrap))
    low, high = np.full(shape, -_BRACKET), np.full(shape, _BRACKET)
    odds = np.clip(np.broadcast_to(odds, shape), low, high)
    for _ in range(200):
        error, slope = _error(odds, reserve, wrap, whole, share)
        low, high = np.where(error < 0, odds, low), np.where(error < 0, high, odds)
        step = odds - error / slope
        inside = (step > low) & (step < high)
        last, odds = odds, np.where(inside, step, (low + high) / 2)
        if np.abs(odds - last).max() < 1e-12:
            break
    return odds


def holding_torque(
    primary_radius: Values, clamp: Values, clamp_per_torque: Values, *, closing: Values, friction: Values
) -> Array:
    """Torque on the primary that the secondary holds [N·m]; infinite where its helix holds whatever it gets.

    M_hold = Λ·F2₀·r1/(1 − Λ·c·r1),  Λ = 2·tan β·μ_e

    Parameters: `primary_radius` r1 [m]; `clamp` F2₀ of the secondary without torque [N] and `clamp_per_torque` c, what
    its helix adds per torque on the primary [1/m]; `closing` 2·tan β and `friction` μ_e [-]; all broadcast together.
    At least LEAST_HELD.

    >>> round(float(holding_torque(0.05, 5000.0, 0.0, closing=0.4, friction=1.5)), 9)
    150.0
    >>> round(float(holding_torque(0.05, 5000.0, 20.0, closing=0.4, friction=1.5)), 9)
    375.0

    Reference: Eytelwein's limit, pull at most μ_e times the sum of tension; the clamp linear in the torque carried.
    """
    limit = np.multiply(np.multiply(closing, friction), primary_radius)
    left = 1 - limit * clamp_per_torque
    held = np.where(left > 0, np.multiply(limit, clamp) / np.where(left > 0, left, 1.0), np.inf)
    return np.maximum(held, LEAST_HELD)


def balance(
    primary_radius: Values,
    primary_wrap: Values,
    secondary_wrap: Values,
    torque: Values,
    clamp: Values,
    clamp_per_torque: Values = 0.0,
    *,
    closing: Values,
    friction: Values,
    adhesion_share: float,
    primary_seat: Values,
    secondary_seat: Values,
) -> Balance:
    """Tensions under a torque on the primary, and the primary clamp they need.

    M_b = min(M1, M_hold);  ΔT = M_b/r1;  2·tan β·F2·seat2 = S(θ2, T2) gives T2 (the driven idles at the slack tension);
    F1 = max(S(θ1, T1)/(2·tan β·seat1), ΔT/Λ) (the driver idles at the tight tension).
    Where the secondary cannot hold the torque it slips: T2 = ΔT/(e^{μ_e·θ2} − 1).

        grip1 = min(Λ·F1_seated/ΔT, θ1·μ_e/K) of the torque carried
        grip2 = min(Λ·F2(M1)·r1/M1, θ2·μ_e/K) of the whole torque

    Parameters: `primary_radius` r1 [m], wraps [rad], `torque` M1 > 0 [N·m], `clamp` of the secondary without torque [N]
    and `clamp_per_torque` [1/m], all broadcast together; `closing` 2·tan β, `friction` μ_e, `adhesion_share` λ, seats
    [-].

    >>> found = balance(0.05, 2.7, 3.6, 120.0, 5000.0, closing=0.46, friction=1.55, adhesion_share=0.35,
    ...                 primary_seat=1.8, secondary_seat=2.6)
    >>> round(float(found.tight - found.slack)), round(float(found.primary_clamp))
    (2400, 7420)

    Reference: Eytelwein's equation with an idle arc, e.g. B. G. Gerbert, Traction Belt Mechanics (1999); a wedge with
    friction, any text on machine design; from memory. λ and ψ have no outside source: calibrate them.
    """
    held = holding_torque(primary_radius, clamp, clamp_per_torque, closing=closing, friction=friction)
    slips: Mask = np.asarray(torque > held)
    carried = np.minimum(torque, held)
    given = clamp + clamp_per_torque * carried
    pull = carried / primary_radius
    seated, k = seated_clamp(
        pull, closing * given / pull, primary_wrap, secondary_wrap, closing=closing, friction=friction,
        adhesion_share=adhesion_share, primary_seat=primary_seat, secondary_seat=secondary_seat,
    )  # fmt: skip
    limit = np.multiply(closing, friction)
    slack = pull / np.expm1(np.where(slips, friction * np.asarray(secondary_wrap), k))
    reach = friction / k
    whole = limit * (clamp + clamp_per_torque * np.asarray(torque)) * primary_radius / torque
    return Balance(
        tight=slack + pull,
        slack=slack,
        primary_clamp=np.maximum(seated, pull / limit),
        secondary_clamp=np.broadcast_to(np.asarray(given, float), seated.shape),
        grip_primary=np.minimum(limit * seated / pull, primary_wrap * reach),
        grip_secondary=np.minimum(whole, secondary_wrap * reach),
        secondary_slips=np.broadcast_to(slips, seated.shape),
    )


def seated_clamp(
    pull: Array,
    squeeze: Array,
    primary_wrap: Values,
    secondary_wrap: Values,
    *,
    closing: Values,
    friction: Values,
    adhesion_share: float,
    primary_seat: Values,
    secondary_seat: Values,
) -> tuple[Array, Array]:
    """The primary clamp of a belt that holds [N], S(θ1, T1)/(2·tan β·seat1), and its K = ln(T1/T2) [-].

    Parameters as in `balance`, with `pull` ΔT carried [N] and `squeeze` 2·tan β·F2/ΔT [-].

    >>> groove = dict(closing=0.46, friction=1.55, adhesion_share=0.35, primary_seat=1.8, secondary_seat=2.6)
    >>> pull, squeeze = np.array([2400.0]), np.array([0.46 * 5000 / 2400])
    >>> clamp, k = seated_clamp(pull, squeeze, 2.7, 3.6, **groove)
    >>> one = primary_clamp_of_one(2400.0, 2.7, 3.6, 5000.0, **groove)
    >>> bool(abs(clamp[0] / one - 1) < 1e-6)
    True

    Reference: as `balance`.
    """
    k = tension_log(squeeze * secondary_seat, secondary_wrap, friction, adhesion_share)
    summed = wrap_integral(primary_wrap, pull / -np.expm1(-k), pull, k, friction, adhesion_share)
    return summed / (closing * primary_seat), k


def primary_clamp_of_one(
    pull: float,
    primary_wrap: float,
    secondary_wrap: float,
    secondary_clamp: float,
    *,
    closing: float,
    friction: float,
    adhesion_share: float,
    primary_seat: float,
    secondary_seat: float,
) -> float:
    """Primary clamp [N] of a single belt, as `balance` works it out, in plain floats.

    For steps that follow on each other, where an array of one costs twenty times its arithmetic.
    Parameters as in `balance`, with `pull` ΔT [N] and the `secondary_clamp` under it; of a pull that it cannot hold,
    what it holds is carried.

    >>> groove = dict(closing=0.46, friction=1.55, adhesion_share=0.35, primary_seat=1.8, secondary_seat=2.6)
    >>> b = balance(0.05, 2.7, 3.6, 120.0, 5000.0, **groove)
    >>> one = primary_clamp_of_one(2400.0, 2.7, 3.6, 5000.0, **groove)
    >>> abs(one / float(b.primary_clamp) - 1) < 1e-6
    True

    Reference: as `balance`.
    """
    limit = closing * friction
    pull = min(pull, limit * secondary_clamp)
    k = _tension_log_of_one(closing * secondary_clamp / pull * secondary_seat, secondary_wrap, friction, adhesion_share)
    tight = pull / -expm1(-k)
    active = min(k / friction, primary_wrap)
    split = tight * (primary_wrap - active) + pull * active / k
    summed = adhesion_share * split + (1 - adhesion_share) * primary_wrap * pull / k
    return max(summed / (closing * primary_seat), pull / limit)


def _tension_log_of_one(squeeze: float, wrap: float, friction: float, share: float) -> float:
    reserve, whole = squeeze - 1 / friction, friction * wrap
    if reserve <= 1e-12:
        return whole
    target = log(reserve)
    odds = target + log(friction)
    for _ in range(_NEWTON_STEPS):
        power = exp(min(odds, 300.0))
        z = 1 / (1 + power)
        k = whole * z
        growth = expm1(k)
        idle, creep = share / growth, (1 - share) / k
        weight = idle + creep
        rest = power * z
        error = log(wrap * rest * weight) - target
        odds -= error / (z + z * rest * whole * (idle * (1 + 1 / growth) + creep / k) / weight)
        if abs(error) < _NEARLY:
            return whole / (1 + exp(min(odds, 300.0)))
    return float(tension_log(squeeze, wrap, friction, share))
