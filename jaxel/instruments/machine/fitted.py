"""Parts put into a machine: what a sheet calls them, and what they truly are."""

import copy
from collections.abc import Collection
from dataclasses import replace
from typing import Any

import numpy as np

from .hidden import worn
from .machine import Machine

ARMS_NEW, HELIX_NEW = 0.01, 0.01
"""What a new set of arms misses its stamped mass by, and a new helix its stamped angle; one standard deviation, as a
share, from memory."""


def put_in(machine: Machine, nominal: dict[str, Any], slots: Collection[str], rng: np.random.Generator) -> Machine:
    """The machine with parts of a set-up document put in at some slots, each off its stamp as new parts are.

    What no new part is of (a load, a shim, a clicker, a washer, holes, the air) is as the document says.
    """
    document = copy.deepcopy(dict(machine.document))
    for slot in slots:
        if slot == "arms":
            weights = document["primary"]["weights"]
            weights["base_mass_g"] = nominal["primary"]["weights"]["base_mass_g"] * (1 + rng.normal(0, ARMS_NEW))
        elif slot in ("primary_spring", "secondary_spring"):
            side = slot.removesuffix("_spring")
            spring = copy.deepcopy(nominal[side]["spring"])
            worn(spring, rng, used=False)
            document[side]["spring"] = spring
        elif slot == "helix":
            helix = copy.deepcopy(nominal["secondary"]["helix"])
            helix["radius_mm"] = document["secondary"]["helix"]["radius_mm"]
            off = 1 + rng.normal(0, HELIX_NEW)
            for point in helix["angles"]:
                point["deg"] *= off
            document["secondary"]["helix"] = helix
        elif slot.startswith("load:"):
            document["primary"]["weights"]["loads"] = copy.deepcopy(nominal["primary"]["weights"].get("loads", []))
        elif slot == "air":
            document["conditions"] = copy.deepcopy(nominal["conditions"])
        elif slot == "holes":
            document["secondary"]["holes"]["fitted"] = dict(nominal["secondary"]["holes"]["fitted"])
        elif slot.startswith("washer:"):
            side = slot.removeprefix("washer:")
            document[side]["washer_mm"] = nominal[side].get("washer_mm", 0.0)
        else:  # shim, clicker, limiter
            name = slot if slot == "clicker" else f"{slot}_mm"
            document["primary"][name] = copy.deepcopy(nominal["primary"].get(name, 0.0))
    return replace(machine, document=document)
