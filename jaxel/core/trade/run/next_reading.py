"""What to measure next on a machine that has been run: what each reading would take off the band of its set-up."""

from dataclasses import dataclass
from math import sqrt

import numpy as np

from jaxel.core.formats.run.runs import NOISE
from jaxel.core.formats.setup.setup import SetupDocument

from ..setup.calibration import Calibration
from ..setup.discrepancy import floor_rpm
from ..setup.evidence import inputs

RUN_MINUTES = 20.0
"""What a run on the strip takes, there and back; from memory."""

LEAST_RPM = 0.5
"""A reading that takes less off both bands is not worth a line."""


@dataclass(frozen=True)
class NextReading:
    """A reading that has not been taken: what it would take off the deviation of engagement and shift [rpm], and the
    minutes it takes."""

    name: str
    minutes: float
    engagement_off_rpm: float
    shift_off_rpm: float

    @property
    def worth(self) -> float:
        """What a minute of it takes off both together [rpm/min]."""
        return (self.engagement_off_rpm + self.shift_off_rpm) / self.minutes


def next_readings(document: SetupDocument, calibration: Calibration, most: int = 5) -> list[NextReading]:
    """The readings most worth their minutes, a run on this very set-up among them.

    A run of noise σ leaves 1/√(1/sd² + 1/(σ² + floor²)) of a figure's deviation sd. A reading with a deviation of r
    prior deviations takes (e·C_k)²/(C_kk + r²) off the variance of a figure whose error in prior deviations is e, C_k
    being the fitted covariance's column of that input, or e_k²·(1 − r²) where it was not fitted.

    Raises InvalidValue where the set-up cannot work.

    Reference: conditioning of a normal distribution on one observation; JCGM 100:2008, 5.1.2.
    """
    (now,) = calibration.estimates([document])
    sds = (now.engagement_sd, now.mean_sd)
    noises = (NOISE["engagement_rpm"], NOISE["shift_mean_rpm"])
    after = [1 / sqrt(1 / sd**2 + 1 / (noise**2 + floor_rpm() ** 2)) for sd, noise in zip(sds, noises, strict=True)]
    found = [NextReading("a run on this set-up", RUN_MINUTES, sds[0] - after[0], sds[1] - after[1])]
    place = {key: index for index, key in enumerate(now.keys)}
    fitted = len(calibration.fitted)
    for each in inputs(document):
        if each.reading is None or each.minutes is None or each.reading >= each.sd or each.key not in place:
            continue
        index, left = place[each.key], each.reading / each.sd
        offs = []
        for error, sd in zip(now.errors, sds, strict=True):
            if index < fitted:
                column = calibration.covariance[:, index]
                taken = float(error[:fitted] @ column) ** 2 / (float(column[index]) + left**2)
            else:
                taken = float(error[index]) ** 2 * (1 - left**2)
            offs.append(sd - float(np.sqrt(max(sd**2 - taken, 0.0))))
        found.append(NextReading(each.name, each.minutes, offs[0], offs[1]))
    worthwhile = [each for each in found if max(each.engagement_off_rpm, each.shift_off_rpm) >= LEAST_RPM]
    return sorted(worthwhile, key=lambda each: -each.worth)[:most]
