"""The documents tests start from: the examples of the formats' pages and the demo workshop's machines."""

import copy
import json
from pathlib import Path
from typing import Any

from jaxel.core.formats.setup.setup import SetupDocument, read_setup
from jaxel.core.mechanism.vehicle.drivetrain import Drivetrain
from jaxel.demo import machines

FORMATS = Path(__file__).parents[1] / "docs" / "formats"
PAGES = ("sled", "side-by-side", "quad", "adjustable-cam", "torque-converter")
"""Examples of the formats' pages, a kind of clutch each: see docs/model.md, *Every kind of clutch*."""
DEMO = ("mountain-sled", "trail-sled", "farm-side-by-side")


def example(name: str) -> dict[str, Any]:
    """A setup document as plain data to change, by its name in PAGES or DEMO."""
    folder = FORMATS / "setups" if name in PAGES else Path(machines.__path__[0])
    return json.loads((folder / f"{name}.json").read_text(encoding="utf-8"))


def changed(document: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """A copy with one field set (dots between names, numbers index lists); a value of `...` removes it."""
    copied = copy.deepcopy(document)
    *way, last = [int(step) if step.isdigit() else step for step in path.split(".")]
    holder: Any = copied
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


def drivetrain(name: str = "mountain-sled", **fields: Any) -> Drivetrain:
    """A core set-up with fields changed; a double underscore in a name stands for the dot of a path."""
    document = example(name)
    for path, value in fields.items():
        document = changed(document, path.replace("__", "."), value)
    return read(document).core()
