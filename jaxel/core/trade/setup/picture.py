"""What the pictures of the two clutches are drawn from: every part's place from the open stop to full shift.

The way runs from idle, where the sheave stands on its stop, over contact with the belt and the belt taut, where it
bites, to the end of the shift. Each place is a node; drawing between nodes is all that is left to a picture.
"""

from typing import Literal

import numpy as np
from pydantic import BaseModel

from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.prediction import CurvePoint, PredictionDocument
from jaxel.core.formats.setup.primary import RampRollerPart
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.clutch.geometry import open_belt_length
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.units import DEG, MM, RPM

from .lie import lie_of_belt

Stage = Literal["idle", "contact", "taut", "bite", "full shift"]

FREE_NODES, SLACK_NODES = 9, 7
"""Places shown while the sheave comes to the belt, and while it takes up the belt's slack."""


class PictureNode(BaseModel, defer_build=True):
    """Where everything stands at one travel of the sheave.

    Radii of the belt's cord line; `opening_mm` of the secondary; `gap_mm` to the belt's flank on the open side;
    `slack_mm` of the loop; `arm_deg`, an arm's swing, or `roller_mm`, a roller's radius; `mass_mm`, the radius of the
    weights' centre of mass; `turn_deg`, how far the helix has turned. Forces and grips are None before the belt pulls;
    `rpm`, there, at which the sheave has come so far.
    """

    stage: Stage | None
    travel_mm: float
    ratio: float
    primary_radius_mm: float
    secondary_radius_mm: float
    opening_mm: float
    gap_mm: float
    slack_mm: float
    arm_deg: float | None
    roller_mm: float | None
    mass_mm: float
    turn_deg: float
    rpm: float
    speed_kph: float | None = None
    clamp_primary_n: float | None = None
    clamp_secondary_n: float | None = None
    tight_n: float | None = None
    slack_n: float | None = None
    grip_primary: float | None = None
    grip_secondary: float | None = None
    flags: list[str] = []


class LoadPlace(BaseModel, defer_build=True):
    """A station of an arm: how far from its pivot, at which angle to its line, what is in it and what it takes."""

    name: str
    distance_mm: float
    deg: float
    mass_g: float
    pieces: int
    room: int | None


class AnglePoint(BaseModel, defer_build=True):
    travel_mm: float
    deg: float


class ClutchPicture(BaseModel, defer_build=True):
    """The two clutches of a set-up: what does not move, and every place of what does.

    `weights`, arms on pivots or rollers in pockets; `pivot_mm`, `arm_mm` and `arm_line_deg`, an arm's pivot radius and
    where its centre of mass lies; `helix`, angle against opening; `deflection_mm` and `ride_mm` of the belt at rest.
    """

    centre_distance_mm: float
    half_angle_deg: float
    hub_radius_mm: float
    closed_radius_mm: float
    travel_mm: float
    secondary_travel_mm: float
    limiter_mm: float
    belt_width_mm: float
    belt_new_mm: float
    cord_depth_mm: float
    deflection_mm: float
    ride_mm: float
    weights: Literal["swing-arm", "ramp-roller"]
    count: int
    mass_g: float
    size: str | None
    pivot_mm: float | None
    arm_mm: float | None
    arm_line_deg: float | None
    stations: list[LoadPlace]
    shim_mm: float
    clicker: int | None
    clickers: int | None
    washer_primary_mm: float
    washer_secondary_mm: float
    helix_radius_mm: float
    helix: list[AnglePoint]
    holes: str | None
    wind_deg: float
    nodes: list[PictureNode]


def clutch_picture(document: SetupDocument, prediction: PredictionDocument) -> ClutchPicture:
    """The picture of a set-up with what was predicted of it.

    Parameters: `prediction` of this very set-up. Raises InvalidValue where its parts do not fit together.

    >>> from jaxel.core.trade.setup.prediction import predicted
    >>> from jaxel.demo.workshop import document
    >>> sled = document("mountain-sled")
    >>> [each.stage for each in clutch_picture(sled, predicted(sled, banded=False)).nodes if each.stage]
    ['idle', 'contact', 'taut', 'bite', 'full shift']
    """
    core = document.core()
    drive = core.drive
    lie = lie_of_belt(document)
    profile, weights, holes = document.primary.profile, document.primary.weights, document.secondary.holes
    arm = None if isinstance(profile, RampRollerPart) else profile
    held = {load.station: load for load in weights.loads}
    return ClutchPicture(
        centre_distance_mm=document.geometry.centre_distance_mm,
        half_angle_deg=document.geometry.sheave_half_angle_deg,
        hub_radius_mm=document.geometry.primary.hub_radius_mm,
        closed_radius_mm=document.geometry.secondary.closed_radius_mm,
        travel_mm=round(drive.end_travel / MM, 3),
        secondary_travel_mm=document.geometry.secondary.travel_mm,
        limiter_mm=document.primary.limiter_mm,
        belt_width_mm=document.belt.top_width_mm,
        belt_new_mm=document.belt.top_width_new_mm,
        cord_depth_mm=document.belt.cord_depth_mm,
        deflection_mm=round(lie.deflection_mm if lie else 0.0, 2),
        ride_mm=round(lie.ride_mm if lie else 0.0, 2),
        weights=profile.kind,
        count=weights.count,
        mass_g=weights.base_mass_g,
        size=weights.size or (profile.size if isinstance(profile, RampRollerPart) else None),
        pivot_mm=arm.pivot_radius_mm if arm else None,
        arm_mm=arm.cg_mm if arm else None,
        arm_line_deg=arm.cg_deg if arm else None,
        stations=[
            LoadPlace(
                name=each.name, distance_mm=each.distance_mm, deg=each.deg, room=each.pieces_max,
                mass_g=held[each.name].mass_g if each.name in held else 0.0,
                pieces=held[each.name].pieces if each.name in held else 0,
            )
            for each in document.primary.stations
        ],
        shim_mm=document.primary.shim_mm,
        clicker=document.primary.clicker.position if document.primary.clicker else None,
        clickers=document.primary.clicker.positions if document.primary.clicker else None,
        washer_primary_mm=document.primary.washer_mm,
        washer_secondary_mm=document.secondary.washer_mm,
        helix_radius_mm=document.secondary.helix.radius_mm,
        helix=[AnglePoint(travel_mm=each.travel_mm, deg=each.deg) for each in document.secondary.helix.angles],
        holes=f"{holes.fitted.sheave}–{holes.fitted.helix}" if holes else None,
        wind_deg=document.secondary.pretwist_deg,
        nodes=_nodes(document, prediction),
    )  # fmt: skip


def _nodes(document: SetupDocument, prediction: PredictionDocument) -> list[PictureNode]:
    core = document.core()
    drive, primary = core.drive, core.primary
    met, gripped = drive.contact_travel, drive.engagement_travel
    free = np.linspace(0.0, met, FREE_NODES) if met > 0 else np.zeros(1)
    slack = np.linspace(met, gripped, SLACK_NODES)[1:] if gripped > met else np.zeros(0)
    idle = np.concatenate([free, slack])
    shift = np.array([point.travel_mm for point in prediction.curve]) * MM
    travel = np.concatenate([idle, [gripped], shift])
    with in_document_terms():
        release = np.maximum.accumulate(
            np.sqrt(np.maximum(0.0, primary.spring.force(idle)) / primary.weight_factor(idle))
        )
    # The prediction may stand on what was measured: the way to the belt ends where it says.
    release = release / max(float(release[-1]), 1e-9) * prediction.engagement.touch_rpm * RPM
    path = drive.at(travel)
    length = open_belt_length(path.primary_radius, path.secondary_radius, drive.centre_distance)
    moving = travel + primary.shim
    profile = primary.profile
    arm = getattr(profile, "swing", None)
    columns: dict[str, Array] = {
        "travel_mm": travel / MM,
        "ratio": path.ratio,
        "primary_radius_mm": path.primary_radius / MM,
        "secondary_radius_mm": path.secondary_radius / MM,
        "opening_mm": path.secondary_opening / MM,
        "gap_mm": np.maximum(0.0, met - travel) / MM,
        "slack_mm": np.maximum(0.0, drive.pitch_length - length) / MM,
        "mass_mm": profile.radius(moving) / MM,
        "turn_deg": core.secondary.helix.rotation(path.secondary_opening) / DEG,
    }
    swing = None if arm is None else np.round(arm(moving) / DEG, 3).tolist()
    roller = np.round(profile.radius(moving) / MM, 3).tolist() if arm is None else None
    rows = [dict(zip(columns, row, strict=True)) for row in np.column_stack(list(columns.values())).round(4).tolist()]
    nodes = []
    for index, row in enumerate(rows):
        told: dict[str, object] = {"arm_deg": swing[index] if swing else None,
                                   "roller_mm": roller[index] if roller else None, "stage": None}  # fmt: skip
        if index < len(idle):
            told |= {"rpm": round(float(release[index]) / RPM, 1)}
        elif index == len(idle):
            told |= {"stage": "bite", "rpm": prediction.engagement.bite_rpm}
        else:
            told |= _forces(prediction.curve[index - len(idle) - 1])
        nodes.append(PictureNode.model_validate(row | told))
    for index, stage in ((0, "idle"), (len(free) - 1, "contact"), (len(idle) - 1, "taut"), (-1, "full shift")):
        if nodes[index].stage is None:  # a pinched belt is in contact at idle, a tight one taut on contact
            nodes[index] = nodes[index].model_copy(update={"stage": stage})
    return nodes


def _forces(point: CurvePoint) -> dict[str, object]:
    names = ("rpm", "speed_kph", "clamp_primary_n", "clamp_secondary_n", "tight_n", "slack_n", "grip_primary",
             "grip_secondary", "flags")  # fmt: skip
    return {name: getattr(point, name) for name in names}
