"""Where on the road a sheave's groove is felt: the ratio and the speed at which the belt runs over each ring."""

from dataclasses import dataclass

import numpy as np

from jaxel.core.mechanism.equilibrium.shift import Prediction
from jaxel.core.units import KPH

from ..kinds.kinds import Side
from .inspection import RINGS


@dataclass(frozen=True)
class Felt:
    """A ring of a face, and where its groove is felt: ratios and road speeds [km/h] while the belt lies on it.

    None of both where the belt never lies there.
    """

    ring: str
    ratio_from: float | None
    ratio_to: float | None
    kph_from: float | None
    kph_to: float | None


def felt(prediction: Prediction, side: Side) -> list[Felt]:
    """For each ring from hub to rim, at which ratio and road speed its groove is felt at full throttle.

    The belt's pitch radius runs over the primary's face from the hub to the rim as it shifts, over the secondary's
    from the rim to the hub; the face is divided into rings of one width between the ends of that way at low ratio's
    rest and full shift. Speeds are those of the predicted shift curve.

    >>> from jaxel.demo.workshop import document
    >>> from jaxel.core.mechanism.equilibrium.shift import predict
    >>> rings = felt(predict(document("mountain-sled").core()), "primary")
    >>> rings[0].kph_to < rings[-1].kph_from
    True

    Source: geometry (docs/model.md, the belt in its sheaves).
    """
    path = prediction.shift.path
    radius = path.primary_radius if side == "primary" else path.secondary_radius
    drive = prediction.drivetrain.drive
    rest = drive.hub_radius if side == "primary" else drive.secondary_stop_radius
    low, high = min(rest, float(radius.min())), max(rest, float(radius.max()))
    edges = np.linspace(low, high, len(RINGS) + 1)
    order = np.argsort(radius)
    return [
        _ring(
            name, (edges[place], edges[place + 1]), radius[order], path.ratio[order],
            prediction.shift.vehicle_speed[order],
        )
        for place, name in enumerate(RINGS)
    ]  # fmt: skip


def _ring(name: str, edges: tuple[float, float], radius: np.ndarray, ratio: np.ndarray, speed: np.ndarray) -> Felt:
    inside = np.clip(np.asarray(edges), radius[0], radius[-1])
    if inside[1] - inside[0] < 1e-9:
        return Felt(name, None, None, None, None)
    # The speed of a launch need not rise with the radius: every node on the ring counts, not its two edges alone.
    on = np.union1d(inside, radius[(radius >= inside[0]) & (radius <= inside[1])])
    ratios, speeds = (np.interp(on, radius, each) for each in (ratio, speed))
    return Felt(name, float(ratios.max()), float(ratios.min()), float(speeds.min()) / KPH, float(speeds.max()) / KPH)
