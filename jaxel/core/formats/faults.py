"""The mechanism's faults in a setup document's terms: its paths, and lengths in millimetres."""

from collections.abc import Iterator
from contextlib import contextmanager

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.errors import Impossible
from jaxel.core.units import MM
from jaxel.core.words import q

PATHS = {
    "wear": "belt.top_width_mm",
    "pitch_length": "belt.outer_circumference_mm",
    "centre_distance": "geometry.centre_distance_mm",
    "closed_radius": "geometry.secondary.closed_radius_mm",
    "secondary_travel": "geometry.secondary.travel_mm",
    "profile": "primary.profile",
    "profile_path": "primary.profile.path",
    "limiter": "primary.limiter_mm",
    "seating_primary": "model.seating_primary",
    "seating_secondary": "model.seating_secondary",
    "pretwist": "secondary.spring.pretwist_deg",
    "follower_friction": "model.helix_friction",
    "installed_length": "installed_length_mm",
    "spring_travel": "travel_mm",
    "length": "length_mm",
}
"""A document's field for what the mechanism found at fault; a name not here is the document's own."""


@contextmanager
def in_document_terms() -> Iterator[None]:
    """Say what the mechanism refuses inside as InvalidValue with the document's path and millimetres."""
    try:
        yield
    except Impossible as fault:
        in_mm = {name: f"{q(length / MM, 'mm', 1)}" for name, length in fault.lengths.items()}
        raise InvalidValue(PATHS.get(fault.field, fault.field), fault.words.format(**in_mm)) from None
