"""Where a figure comes from: each share of its ± against the deviations worked out one input at a time."""

import unittest
from collections.abc import Callable

from jaxel.core.formats.paths import with_value
from jaxel.core.mechanism.equilibrium.shift import Prediction, predict
from jaxel.core.trade.setup.where_from import FORMULAS, MODEL_WORDS, FigureName, where_from
from jaxel.core.trade.setup.worth import variances, worths
from jaxel.core.trade.stranger.packages import packages


class WhereFrom(unittest.TestCase):
    def test_shares_are_of_the_variance_and_add_up(self):
        document = packages()["sled-tower-600"].document
        found, known = where_from(document), variances(document)
        self.assertEqual(set(found.formulas), set(FORMULAS))
        for figure, parts in (("engagement", known.engagement), ("shift", known.shift)):
            by_name: dict[str, float] = {}
            for each, part in zip(known.inputs, parts, strict=True):
                name = MODEL_WORDS.get(each.path, each.name)
                by_name[name] = by_name.get(name, 0.0) + float(part)
            total = sum(by_name.values())
            for share in found.shares:
                self.assertAlmostEqual(getattr(share, figure), by_name[share.name] / total, places=6, msg=share.name)
        sums = [each.engagement + each.shift for each in found.shares]
        self.assertEqual(sums, sorted(sums, reverse=True))
        self.assertTrue(found.evidenced)

    def test_each_says_how_it_is_known(self):
        found = where_from(packages()["sled-tower-600"].document)
        origins = {each.name: each.origin for each in found.shares}
        self.assertEqual(origins["arms, centre of mass"], "typical")
        self.assertIn("model", origins.values())
        bare = packages()["sled-tower-600"].document.model_copy(update={"evidence": None})
        plain = where_from(bare)
        self.assertFalse(plain.evidenced)
        self.assertEqual({each.origin for each in plain.shares}, {"model"})

    def test_a_figure_stands_on_what_moves_it_and_says_so(self):
        """Each number turned a little: a figure that moves names it, and a figure of geometry moves by nothing else."""
        read: dict[FigureName, Callable[[Prediction], float]] = {
            "engagement": lambda p: p.engagement.bite,
            "hit": lambda p: p.engagement.hit,
            "snap": lambda p: p.engagement.snap,
            "bite_rate": lambda p: p.engagement.bite_rate,
            "shift": lambda p: p.shift.mean,
            "low_ratio": lambda p: p.low_ratio,
            "top_ratio": lambda p: p.high_ratio,
            "side_gap": lambda p: p.drivetrain.drive.side_gap,
            "deflection": lambda p: p.drivetrain.drive.deflection,
            "top_of_shift": lambda p: float(p.shift.vehicle_speed[-1]),
        }
        moved: dict[FigureName, set[str]] = {name: set() for name in read}
        for key in ("sled-tower-600", "quad-variator-500"):
            document = packages()[key].document
            before = predict(document.core())
            for each in worths(document):
                value = None if each.input.path.startswith("model.") else each.input.value
                if value is None:
                    continue
                turned = predict(with_value(document, each.input.path, value * 1.01 + 0.001).core())
                for name, of in read.items():
                    if abs(of(turned) / of(before) - 1) > 1e-9:
                        moved[name].add(each.input.path)
                        self.assertTrue(each.input.path.startswith(FORMULAS[name].stands_on), (name, each.input.path))
        self.assertEqual(moved["side_gap"], {
            "belt.top_width_mm", "belt.top_width_new_mm", "geometry.primary.idle_clearance_mm",
        })  # fmt: skip
        self.assertIn("primary.spring.force_start_n", moved["hit"])
        self.assertIn("vehicle.drive_ratio", moved["top_of_shift"])
        self.assertIn("belt.outer_circumference_mm", moved["low_ratio"] & moved["deflection"])

    def test_each_number_names_the_figures_it_stands_under(self):
        of = {each.name: each.of for each in where_from(packages()["sled-tower-600"].document).shares}
        self.assertEqual(of["side gap of a new belt"][:2], ("engagement", "shift"))
        self.assertIn("side_gap", of["side gap of a new belt"])
        self.assertNotIn("low_ratio", of["primary spring, start"])
        self.assertNotIn("shift", of["mass with rider"])
