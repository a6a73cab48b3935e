"""A belt followed round its sheaves element by element: tension, sink and friction integrated along the wrap.

An element enters the groove free, is pressed in by its tension and carried round. Its flanks are springs across the
groove (k) and shear springs along it (k_t) that let go at Coulomb's limit, and then rub against the direction in which
they slide: inward while the belt seats, outward while it climbs, along the groove as it creeps. With p the normal load
of a flank per length, q_r its friction out of the groove and q_t forward, z how far the belt has sunk,

    T/R = 2·(p·sin β + q_r·cos β)            radial balance
    dT/ds = −2·q_t                           pull
    p = k·z,  |q| ≤ μ·p                      groove and Coulomb
    dq/ds = k_t·(sliding of the sheave past the belt)
    dS/dθ = (p·cos β − q_r·sin β)·R          thrust on one sheave face

The sheave runs past the belt by −z/R − e − (T − T_in)/c: it is slower where the belt has sunk, and the belt faster
where its cord (c) is stretched; e, the creep at entry, decides what the wrap pulls. All of it scales with the tension:
what is tabled is a shape.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

STEPS = 80
"""Elements of a wrap: its thrust is then within some 2 % of that of twenty times as many."""

ROOT_STEPS = 12
"""At most, of Newton between bounds."""

NEARLY = 1e-5
"""Share of an element's load left unbalanced."""


@dataclass(frozen=True)
class Flanks:
    """A belt in its groove.

    `friction` μ [-]; `half_angle` β [rad]; `stiffness` k, load per length and sink [N/m²]; `shear` k_t/k [-];
    `cord` c, tension per strain [N]. Sizes of rubber belts with an aramid cord, from memory.
    """

    friction: float
    half_angle: float
    stiffness: float = 4e7
    shear: float = 0.4
    cord: float = 2e5


@dataclass(frozen=True)
class Wrapped:
    """What a wrap did: `leaving` tension [N], `thrust` on one face [N] and `sink` at its end [m]; one shape."""

    leaving: Array
    thrust: Array
    sink: Array


def wrapped(
    flanks: Flanks, entering: Array | float, creep: Array, wrap: Array | float, radius: Array | float,
    steps: int = STEPS,
) -> Wrapped:  # fmt: skip
    """A belt carried once round a sheave.

    Parameters: `entering` tension T_in [N]; `creep` e [-], positive where the belt enters faster than the sheave;
    `wrap` θ [rad]; `radius` R [m]; all broadcast together.

    >>> from math import exp, pi
    >>> slips = wrapped(Flanks(0.35, 0.2269), 100.0, np.array([20.0]), pi, 0.1)
    >>> abs(float(slips.leaving[0]) / (100 * exp(0.35 * pi / np.sin(0.2269))) - 1) < 0.03  # Eytelwein
    True

    Reference: radial and tangential balance of a belt element with Coulomb friction against its sliding, as
    B. G. Gerbert, Traction Belt Mechanics (1999); the flanks' shear as a return mapping, as in any text on plasticity;
    from memory.
    """
    sine, cosine = np.sin(flanks.half_angle), np.cos(flanks.half_angle)
    k, shear, limit = flanks.stiffness, flanks.stiffness * flanks.shear, flanks.friction * flanks.stiffness
    tension, creep, wrap, radius = (
        np.array(each, float) for each in np.broadcast_arrays(entering, creep, wrap, radius)
    )  # fmt: skip
    first = tension.copy()
    sink, out, forward, thrust = (np.zeros_like(tension) for _ in range(4))
    length = wrap * radius / steps
    for _ in range(steps):
        load = tension / radius
        passed = -sink / radius - creep - (tension - first) / flanks.cord
        along = forward + shear * passed * length
        low, high = np.zeros_like(load), load / (k * sine)
        deep = np.where(sink > 0, sink, load / (2 * (k * sine + limit * cosine)))
        for _ in range(ROOT_STEPS):
            drawn = out + shear * (deep - sink) / cosine
            whole = np.hypot(drawn, along)
            holds = whole <= limit * deep
            share = np.where(holds, 1.0, limit * deep / np.where(holds, 1.0, whole))
            turned = np.where(
                holds,
                shear / cosine,
                (limit * drawn + limit * deep * shear / cosine * (along / np.where(holds, 1.0, whole)) ** 2)
                / np.where(holds, 1.0, whole),
            )
            left = 2 * (k * sine * deep + cosine * drawn * share) - load
            if np.abs(left).max() < NEARLY * load.min():
                break
            low, high = np.where(left < 0, deep, low), np.where(left < 0, high, deep)
            step = deep - left / np.maximum(2 * (k * sine + cosine * turned), k * sine * 0.1)
            deep = np.where((step >= low) & (step <= high), step, (low + high) / 2)
        drawn = out + shear * (deep - sink) / cosine
        whole = np.hypot(drawn, along)
        share = np.minimum(1.0, limit * deep / np.maximum(whole, 1e-300))
        out, forward, sink = drawn * share, along * share, deep
        thrust += (k * sink * cosine - out * sine) * length
        # Friction is a share of the tension: its exponential keeps the belt from pushing.
        tension = tension * np.exp(-2 * forward * length / tension)
    return Wrapped(tension, thrust, sink)
