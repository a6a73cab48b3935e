"""How what is in each slot is known: measured, stamped, by the manual, as the rider says, typical, or not at all."""

import re
from collections.abc import Mapping

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.evidence import EvidencePart, Origin
from jaxel.core.formats.setup.setup import SetupDocument

from ..kinds.kinds import NOT_STATED, Kinds
from ..setup.evidence import inputs
from ..setup.slot import Slot
from ..setup.slots import slots

SAID: tuple[Origin, ...] = ("measured", "stamped", "manual", "rider says", "typical", "unknown")
"""What a hand can say of a slot; what is fitted comes from runs alone."""

WEAKEST: tuple[Origin, ...] = ("unknown", "typical", "rider says", "stamped", "manual", "fitted", "measured")

_PATHS = {
    "arms": r"primary\.weights\.base_mass_g",
    "load": r"primary\.weights\.loads\[\d+\]\.mass_g",
    "primary_spring": r"primary\.spring\..*",
    "helix": r"secondary\.helix\.angles",
    "secondary_spring": r"secondary\.spring\..*",
    "holes": r"secondary\.holes\.table",
}
"""The inputs of core/data/evidence.toml that a slot's numbers are."""


def _paths(document: SetupDocument, slot: Slot) -> list[str]:
    pattern = _PATHS.get(slot.key.split(":")[0])
    block = document if document.evidence is not None else document.model_copy(update={"evidence": {}})
    found = [each.path for each in inputs(block) if pattern and re.fullmatch(pattern, each.path)]
    if slot.key.startswith("load:"):
        return [path for path in found if path.startswith(slot.numbers[0].at)]
    return found


def origins(document: SetupDocument, kinds: Kinds = NOT_STATED) -> dict[str, Origin]:
    """How each slot is known by its key, by the weakest of its numbers; nothing where the set-up is taken as exact.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> origins(packages()["quad-variator-500"].document)["arms"]
    'typical'
    """
    stated = document.evidence
    if stated is None:
        return {}
    found: dict[str, Origin] = {}
    for slot in slots(document, kinds):
        said = [stated[path].origin if path in stated else "typical" for path in _paths(document, slot)]
        if said:
            found[slot.key] = min(said, key=WEAKEST.index)
    return found


def with_origins(document: SetupDocument, said: Mapping[str, str], kinds: Kinds = NOT_STATED) -> SetupDocument:
    """The set-up with what a hand says of how its slots are known, by their keys; a slot it has not is left out.

    Raises InvalidValue (field: the slot's key) for an origin that is none.
    """
    if not said:
        return document
    evidence = dict(document.evidence or {})
    for slot in slots(document, kinds):
        origin = next((each for each in SAID if each == said.get(slot.key)), None)
        if slot.key in said and origin is None:
            raise InvalidValue(slot.key, f"is known in one of these ways: {', '.join(SAID)}")
        if origin is not None:
            evidence |= {path: EvidencePart(origin=origin) for path in _paths(document, slot)}
    return document.model_copy(update={"evidence": evidence})
