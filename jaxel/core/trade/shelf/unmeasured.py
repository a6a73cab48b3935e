"""A part without numbers in a slot, a spring by its colour, an arm by its letter: what stands there is typical."""

from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.formats.setup.setup import SetupDocument

from ..setup.evidence import evidence_paths, known_by

HELD_BY = {
    "arms": ("primary.weights.base_mass_g", "primary.profile"),
    "primary_spring": ("primary.spring",),
    "secondary_spring": ("secondary.spring",),
    "helix": ("secondary.helix",),
}
"""The fields of a set-up that the part in a slot decides."""


def of_unknown(document: SetupDocument, slot: str) -> SetupDocument:
    """The set-up with a part in a slot of which no number is known: its figures stay, none of them known any more.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> found = of_unknown(packages()["quad-variator-500"].document, "helix")
    >>> found.evidence["secondary.helix.angles"].origin
    'unknown'
    """
    evidence = known_by(document)
    for path in evidence_paths(document):
        if path.startswith(HELD_BY[slot]):
            evidence[path] = EvidencePart(origin="unknown")
    return document.model_copy(update={"evidence": evidence})
