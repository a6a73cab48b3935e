"""What eats what, drawn from the kinds, and what waiting may cost, by value."""

import unittest

from jaxel.core.trade.kinds.kinds import kinds
from jaxel.core.trade.strip.chain import chain_of, price_of_waiting
from jaxel.core.trade.strip.remedies import PartOffer
from jaxel.core.words import told

TOWER = kinds()["tower-and-button-primary"].as_fitted({}).guide


def chain(key: str, guide=TOWER):
    return chain_of(guide, next(each for each in guide.item if each.key == key))


def keys(items) -> list[str]:
    return [each.key for each in items]


class Chains(unittest.TestCase):
    """A frozen roller gouges its arm; a cocked arm digs into the sheave; a grooved sheave eats the next belt
    (common practice)."""

    def test_what_wears_an_item_and_what_it_wears(self):
        self.assertEqual(keys(chain("arm_face").before), ["arm_roller"])
        self.assertEqual(keys(chain("arm_face").after), [])
        roller = chain("arm_roller")
        self.assertIn("arm_face", keys(roller.after))
        self.assertEqual(roller.before, ())
        # Through the arm's bushing to the sheave behind it, and so to the belt.
        self.assertEqual(keys(chain("moving_face").before), ["arm_roller", "arm_bushing"])
        self.assertTrue(roller.belt)
        self.assertTrue(chain("moving_face").belt)
        self.assertFalse(chain("arm_face").belt)
        self.assertTrue(chain("cover_bushing").after)
        self.assertTrue(chain("primary_spring").alone)

    def test_no_chain_goes_round(self):
        for kind in kinds().values():
            guide = kind.as_fitted({}).guide
            for item in guide.item:
                found = chain_of(guide, item)
                self.assertFalse(set(keys(found.before)) & set(keys(found.after)), (kind.key, item.key))
                self.assertNotIn(item.key, keys((*found.before, *found.after)))

    def test_the_price_of_waiting(self):
        item = next(each for each in TOWER.item if each.key == "moving_face")
        offers = {"belt": PartOffer("B-1", "belt", "", 180.0, 1)}
        # Half a belt's life over the distance to the next check: 0.5 · 1600 / 3200 of 180.
        self.assertEqual(
            [told(words) for words in price_of_waiting(item, chain("moving_face"), offers, 3200.0)],
            ["1,600 km more cost about 0.25 of a belt, 45.00 (from memory)"],
        )
        self.assertEqual(list(price_of_waiting(item, chain("moving_face"), offers, None)), [])
        roller = next(each for each in TOWER.item if each.key == "arm_roller")
        words = [
            told(each)
            for each in price_of_waiting(
                roller, chain("arm_roller"), {"arm": PartOffer("A", "arm", "", 186.0, 3)}, 3200.0
            )
        ]
        self.assertIn("What it may wear next, arm faces: three new arms, 186.00 in parts, 25 min", words)
        self.assertIn("What it may wear next, arm bushings: press in bushings, not priced here, 40 min", words)
