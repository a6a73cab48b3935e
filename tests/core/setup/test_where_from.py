"""Where a figure comes from: each share of its ± against the deviations worked out one input at a time."""

import unittest

from jaxel.core.trade.setup.where_from import FORMULAS, MODEL_WORDS, where_from
from jaxel.core.trade.setup.worth import variances
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
            for share in found.shares[:6]:
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
