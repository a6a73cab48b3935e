"""Rebuild, wrenches, line-up, break-in and close over HTTP: values by unit, refusals by field, nonsense never fatal."""

from jaxel.core.trade.rebuild.balance import rotating_force, unbalance
from tests.web.cases.back_together_case import Opened


class Balance(Opened):
    def test_what_is_out_pulls_by_the_vector_sum(self):
        masses = (48.1, 48.0, 46.9)
        for place, mass in enumerate(masses):
            body = {"place": place, "was": None, "now": f"{mass} g"}
            view = self.sent("PUT", f"{self.at}/rebuild/matched/primary/arms/mass", body)
        (found,) = view["rebuild"]["balance"]
        step = next(each for each in view["rebuild"]["steps"] if each["place"] == "primary.arms")
        radius = step["matched"][0]["radius_mm"]
        self.assertTrue(40 < radius < 90)
        self.assertAlmostEqual(found["unbalance_gmm"], abs(unbalance(masses, radius)))
        self.assertAlmostEqual(found["force_n"], rotating_force(abs(unbalance(masses, radius)), found["rpm"]))
        self.assertEqual(found["rpm"], view["left"]["shift"]["mean_rpm"])
        for place, mass in enumerate((13.1, 12.0, 12.0)):
            body = {"place": place, "was": None, "now": mass}
            view = self.sent("PUT", f"{self.at}/rebuild/matched/primary/rollers/mass", body)
        (paired,) = view["rebuild"]["balance"]
        # The heaviest roller goes to the lightest arm.
        heavy = paired["rollers"].index(0)
        self.assertEqual(paired["arms"][heavy], 2)
        self.assertLess(paired["best_gmm"], paired["unbalance_gmm"])
