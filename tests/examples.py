"""The documents tests start from: the demo workshop's machines, and a quad on a roller variator."""

import copy
import json
from importlib import resources
from typing import Any

from jaxel.core.documents import SetupDocument, read_setup
from jaxel.core.setup import Setup


def example(name: str) -> dict[str, Any]:
    """A setup document as plain data to change; `mountain-sled`, `trail-sled` or `side-by-side`."""
    text = resources.files("jaxel.demo").joinpath("machines", f"{name}.json").read_text(encoding="utf-8")
    return json.loads(text)


def changed(document: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """A copy with one field set (dots between names, numbers index lists); a value of `...` removes it."""
    copied = copy.deepcopy(document)
    *way, last = [int(step) if step.isdigit() else step for step in path.split(".")]
    holder = copied
    for step in way:
        holder = holder[step]
    if value is ...:
        del holder[last]
    else:
        holder[last] = value
    return copied


def read(document: dict[str, Any]) -> SetupDocument:
    """The document, read as from a file."""
    return read_setup(json.dumps(document).encode())


def setup(name: str = "mountain-sled", **fields: Any) -> Setup:
    """A core set-up with fields changed; a double underscore in a name stands for the dot of a path."""
    document = example(name)
    for path, value in fields.items():
        document = changed(document, path.replace("__", "."), value)
    return read(document).core()


def roller_variator() -> dict[str, Any]:
    """A utility quad on a roller variator, invented: heavy rollers on a ramp that steepens."""
    document = changed(example("side-by-side"), "name", "Test quad on a roller variator")
    document["geometry"] = {
        "centre_distance_mm": 238,
        "sheave_half_angle_deg": 14,
        "primary": {"hub_radius_mm": 28, "idle_clearance_mm": 0.8, "travel_mm": 26},
        "secondary": {"closed_radius_mm": 92, "travel_mm": 28},
    }
    document["belt"] = {
        "outer_circumference_mm": 895,
        "cord_depth_mm": 4.2,
        "top_width_new_mm": 31.5,
        "top_width_mm": 31.2,
        "top_width_min_mm": 30.0,
    }
    radii = [36.0, 38.0, 41.0, 46.0, 51.0, 56.0, 61.0]
    document["primary"] = {
        "profile": {
            "kind": "ramp-roller",
            "path": [
                {"travel_mm": travel, "radius_mm": radius}
                for travel, radius in zip([0, 3, 6.5, 11, 16, 21, 27], radii, strict=True)
            ],
        },
        "weights": {"count": 8, "base_mass_g": 20, "loads": []},
        "spring": {"force_start_n": 95, "force_finish_n": 215, "travel_mm": 26},
    }
    document["secondary"]["helix"] = {"radius_mm": 30, "angles": [{"travel_mm": 0, "deg": 38}]}
    document["secondary"]["spring"] = {"force_start_n": 420, "force_finish_n": 760, "travel_mm": 28}
    document["engine"]["curve"] = [
        {"rpm": rpm, "torque_nm": torque}
        for rpm, torque in ((1400, 30), (2500, 38), (3500, 43), (4500, 45), (5500, 44), (6500, 40))
    ]
    document["engine"]["rev_limit_rpm"] = 7400
    return document
