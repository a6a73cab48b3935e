"""Whether a machine's worn belt can be why it takes off late, by the model of that machine."""

import numpy as np

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.words import q

from ..setup.figures import ENGAGEMENT, LOW_RATIO, figures_of

LATE = 30.0
"""Later bite that a rider could feel as late [rpm]; from memory."""


def late_belt(document: SetupDocument) -> str:
    """What the model says of a belt's part in a late take-off, in words; empty where the set-up cannot work.

    Parameters: `document` on the belt as it was measured.
    """
    new = document.with_belt_width(document.belt.top_width_new_mm)
    here, fresh = figures_of([document, new]).values
    if not (np.isfinite(here).all() and np.isfinite(fresh).all()):
        return ""
    later = float(here[ENGAGEMENT] - fresh[ENGAGEMENT])
    taller = f"starts at {here[LOW_RATIO]:.2f}, a new one at {fresh[LOW_RATIO]:.2f}"
    if later >= LATE:
        return f"By the model this belt bites {q(round(later, -1), 'rpm')} later than a new one; it {taller}."
    bites = "no later than" if later < 5 else f"only {q(round(later), 'rpm')} later than"
    return f"By the model this belt bites {bites} a new one: what feels late is its taller gear, it {taller}."
