"""What the planner screens by is the model's own: each click's figures as if it alone had been predicted."""

import json
import unittest

import numpy as np

from jaxel.core.formats.plan.stock import read_stock
from jaxel.core.trade.setup.calibration import Calibration
from jaxel.core.trade.setup.figures import MEAN, figures_of
from jaxel.core.trade.shelf.planner import _Grid
from jaxel.core.trade.shelf.stock import options
from tests.examples import changed, example, read


class Clicks(unittest.TestCase):
    def test_each_position_has_its_own_figures(self):
        cam = read(changed(example("adjustable-cam"), "primary.clicker.position", 5))
        stock = read_stock(json.dumps({"format": "jaxel-stock", "version": 1, "clicker": [1, 3, 6]}).encode())
        slots, known = options(cam, stock), Calibration.none(cam)
        (now,) = known.estimates([cam])
        screened = _Grid(cam, known, slots, now, None).mean.ravel()
        exact = figures_of([option.write(cam) for option in slots["clicker"]]).values[:, MEAN]
        self.assertEqual(screened.shape, exact.shape)
        np.testing.assert_allclose(screened, exact, atol=25)
        self.assertGreater(np.ptp(exact), 400)  # they differ by far more than the screen's own coarseness
