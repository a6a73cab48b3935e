"""Decisions of wear items by value, what putting them right costs, and where a groove is felt."""

import unittest
from dataclasses import replace
from typing import ClassVar

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.kinds.kinds import kinds
from jaxel.core.trade.strip.inspection import (
    Check,
    ItemLook,
    Odometer,
    StatedLimit,
    check_look,
    judge,
    limit_of,
    reached,
)
from jaxel.core.trade.strip.remedies import PartOffer, alternatives, belts_of_waiting, parts_list
from jaxel.core.trade.strip.rings import felt
from jaxel.core.units import KPH
from jaxel.core.words import told as plain
from jaxel.demo.workshop import document

TOWER = kinds()["tower-and-button-primary"].as_fitted({}).guide
ITEMS = {item.key: item for item in TOWER.item}
BUSHING, ROLLER, SPRING, FACE = (ITEMS[key] for key in ("arm_bushing", "arm_roller", "primary_spring", "moving_face"))
STATED = {"arm_bushing": 0.4, "buttons": 0.8}
"""What a made-up manual lets them wear [mm]: no kind has a limit of its own."""


def verdict(item, look, **options):
    own = StatedLimit(STATED[item.key], "manual", own=True) if item.key in STATED else None
    options.setdefault("limit", limit_of(item, own, options.get("rated")))
    return judge(item, look, **options)


class Limits(unittest.TestCase):
    def test_the_worst_reading_decides(self):
        found = verdict(BUSHING, ItemLook("assembled", readings=(0.2, 0.6, None)))
        self.assertEqual(found.finding, "replace")
        self.assertEqual(plain(found.sentences[0]), "B: 0.6 mm is 0.2 mm past the limit 0.4 mm, manual.")
        self.assertIn("Arms are a set: all three.", found.sentences)
        self.assertAlmostEqual(found.wear, 0.6 / 0.4)

    def test_at_near_and_far_from_the_limit(self):
        for reading, finding in ((0.1, "keep"), (0.27, "keep"), (0.28, "watch"), (0.39, "watch"), (0.4, "replace")):
            self.assertEqual(verdict(BUSHING, ItemLook("assembled", readings=(reading,))).finding, finding, reading)

    def test_what_shrinks_is_judged_downward(self):
        washers = ITEMS["roller_washer"]
        look, limit = ItemLook("removed", readings=(1.02, 1.00, 0.98)), StatedLimit(0.8, "manual", own=True)
        self.assertEqual(verdict(washers, look, limit=limit).finding, "keep")
        worn = verdict(washers, ItemLook("removed", readings=(1.02, 0.79, 0.98)), limit=limit)
        self.assertEqual((worn.finding, plain(worn.sentences[0])[:10]), ("replace", "B: 0.79 mm"))

    def test_a_spring_against_its_rating(self):
        limit = limit_of(SPRING, None, 640.0)
        self.assertAlmostEqual(limit.value, 595.2)
        found = verdict(SPRING, ItemLook("removed", readings=(610.0,)), limit=limit, rated=640.0)
        # (610 − 640)/(595.2 − 640) = 67 % of the way: not yet watched.
        self.assertAlmostEqual(found.wear, 30 / 44.8)
        self.assertEqual(found.finding, "keep")
        self.assertEqual(
            verdict(SPRING, ItemLook("removed", readings=(605.0,)), limit=limit, rated=640.0).finding, "watch"
        )
        self.assertEqual(
            verdict(SPRING, ItemLook("removed", readings=(590.0,)), limit=limit, rated=640.0).finding, "replace"
        )
        self.assertIsNone(limit_of(SPRING, None, None))

    def test_the_workshops_own_limit_wins_and_is_named(self):
        own = StatedLimit(0.7, "manual", own=True)
        self.assertIs(limit_of(BUSHING, own, None), own)
        found = verdict(BUSHING, ItemLook("assembled", readings=(0.6,)), limit=own)
        self.assertEqual(found.finding, "watch")
        self.assertIn("manual", found.sentences[0])
        # What a new one measures is not known of a thickness: it is judged, without a share to speak of.
        found = verdict(ITEMS["roller_washer"], ItemLook("removed", readings=(0.7,)), limit=StatedLimit(0.8, "manual"))
        self.assertEqual((found.finding, found.wear), ("replace", None))

    def test_without_a_stated_limit_a_reading_is_kept_and_judges_nothing(self):
        found = verdict(BUSHING, ItemLook("assembled", readings=(3.0,)), limit=None)
        self.assertEqual(
            (found.finding, plain(found.sentences[0])), ("keep", "side play 3 mm: no limit is known here.")
        )
        for kind in kinds().values():
            self.assertEqual(
                [i.key for i in kind.guide.item if i.measure and i.measure.limit is not None], [], kind.key
            )


class Grades(unittest.TestCase):
    def test_the_worst_of_grade_limit_and_comparison(self):
        look = ItemLook("assembled", readings=(0.1,), grade="loose")
        self.assertEqual(verdict(BUSHING, look).finding, "watch")
        self.assertEqual(
            verdict(BUSHING, ItemLook("assembled", grade="a little play", compared="worn beside new")).finding, "watch"
        )
        self.assertEqual(verdict(ROLLER, ItemLook("assembled", grade="stiff because new")).finding, "keep")

    def test_rings_from_hub_to_rim(self):
        for rings, finding in (((0, 1, 0, 0, 0), "keep"), ((2, 0, 0, 0, 0), "watch"), ((0, 0, 0, 0, 3), "replace")):
            self.assertEqual(verdict(FACE, ItemLook("assembled", rings=rings)).finding, finding)
        found = verdict(FACE, ItemLook("assembled", rings=(2, None, None, None, None)))
        self.assertEqual(found.sentences, ("A groove at the hub.", "A grooved sheave eats the next belt."))

    def test_a_word_of_another_kind_decides_nothing(self):
        found = verdict(FACE, ItemLook("assembled", grade="greasy"))
        self.assertEqual((found.finding, found.open), (None, "a finding"))

    def test_an_oily_face_asks_where_the_oil_comes_from(self):
        oily = ItemLook("assembled", grade="oily")
        self.assertEqual((verdict(FACE, oily).finding, verdict(FACE, oily).open), ("watch", "where the oil comes from"))
        self.assertEqual(verdict(FACE, replace(oily, note="crankshaft seal")).open, "")

    def test_how_it_was_looked_at(self):
        self.assertEqual(verdict(BUSHING, ItemLook()).open, "not looked at yet")
        self.assertEqual(verdict(BUSHING, ItemLook("not reached")).open, "")
        self.assertEqual(verdict(BUSHING, ItemLook("left alone")).open, "why it was left alone")
        self.assertEqual(verdict(BUSHING, ItemLook("left alone", because="sealed")).open, "")
        self.assertEqual(verdict(BUSHING, ItemLook("assembled")).open, "a finding")
        self.assertEqual(verdict(BUSHING, ItemLook(grade="a little play")).open, "how it was looked at")


class Causes(unittest.TestCase):
    def test_open_while_its_cause_is_not_looked_at(self):
        arm = ITEMS["arm_face"]
        gouged = ItemLook("removed", grade="grooved")
        for roller, waits in (
            (ItemLook(), ("Spider rollers",)),
            (ItemLook("not reached"), ("Spider rollers",)),
            (ItemLook("assembled", grade="free"), ()),
            (ItemLook("left alone", because="sealed"), ()),
        ):
            found = verdict(arm, gouged, others={"arm_roller": (ROLLER, roller)})
            self.assertEqual(found.waits_for, waits)
            self.assertEqual(bool(found.open), bool(waits))
        self.assertIn("its cause may be spider rollers: not looked at yet", verdict(
            arm, gouged, others={"arm_roller": (ROLLER, ItemLook())}).open)  # fmt: skip
        self.assertEqual(
            verdict(arm, ItemLook("removed", grade="even"), others={"arm_roller": (ROLLER, ItemLook())}).open, ""
        )

    def test_overruled_with_a_reason_both_kept(self):
        look = ItemLook("assembled", readings=(0.6,), overruled="watch")
        found = verdict(BUSHING, look)
        self.assertEqual((found.finding, found.decision, found.open), ("replace", "watch", "why it was overruled"))
        said = verdict(BUSHING, ItemLook("assembled", readings=(0.6,), overruled="watch", reason="two rides left"))
        self.assertEqual((said.finding, said.decision, said.open), ("replace", "watch", ""))

    def test_open_until_one_of_several_ways_is_chosen(self):
        look = ItemLook("assembled", readings=(0.6,))
        self.assertEqual(verdict(BUSHING, look).open, "which way it is put right")
        self.assertEqual(verdict(BUSHING, replace(look, remedy="bushings")).open, "")
        self.assertEqual(verdict(SPRING, ItemLook("removed", grade="broken")).open, "")  # there is only one way


class NextCheck(unittest.TestCase):
    def test_half_the_distance_for_what_is_watched(self):
        at = Odometer(km=2310)
        kept = verdict(BUSHING, ItemLook("assembled", grade="a little play"), odometer=at)
        self.assertEqual(kept.check, Check(3210, None, True))
        watched = verdict(BUSHING, ItemLook("assembled", grade="loose"), odometer=at)
        self.assertEqual(watched.check, Check(2760, None, True))

    def test_sooner_where_wear_is_quicker(self):
        # 0.10 mm in 1,000 km, 0.05 mm left to the limit: 500 km, less than half of the usual 1,600.
        buttons = ITEMS["buttons"]
        look = ItemLook("assembled", readings=(0.75,))
        found = verdict(buttons, look, odometer=Odometer(km=3000), before=[(1000, 0.3), (2000, 0.65)])
        self.assertEqual(found.finding, "watch")
        self.assertAlmostEqual(found.check.km, 3500)
        replaced = verdict(
            buttons, ItemLook("assembled", readings=(0.9,)), odometer=Odometer(km=3000), before=[(2000, 0.65)]
        )
        self.assertAlmostEqual(replaced.check.km, 4600)

    def test_a_trend_that_tells_nothing_leaves_the_usual_distance(self):
        buttons, at = ITEMS["buttons"], Odometer(km=3000)
        for look, before, km in (
            (ItemLook("assembled", readings=(0.5,)), [(2000, 0.6)], 4600),  # better than before: it was renewed
            (ItemLook("assembled", readings=(0.5,)), [(4000, 0.3)], 4600),  # an odometer from before it was put back
            (ItemLook("assembled", readings=(0.75,), grade="worn"), [(2000, 0.65)], 4600),  # what was renewed is new
            (ItemLook("assembled", readings=(0.5,)), [(1000, 0.1), (2000, 0.2)], 4000),  # 0.3 mm left at 0.3 in 1,000
        ):
            self.assertAlmostEqual(verdict(buttons, look, odometer=at, before=before).check.km, km)

    def test_no_odometer_no_distance(self):
        self.assertEqual(verdict(BUSHING, ItemLook("assembled", grade="a little play")).check, Check(None, None, True))


class Refused(unittest.TestCase):
    def test_what_cannot_be_of_an_item(self):
        for item, look, field in (
            (BUSHING, ItemLook(grade="purple"), "grade"),
            (BUSHING, ItemLook(readings=(0.1, 0.1, 0.1, 0.1)), "readings"),
            (BUSHING, ItemLook(readings=(None, -0.1)), "reading_1"),
            (BUSHING, ItemLook(rings=(1,)), "rings"),
            (FACE, ItemLook(rings=(1, 2, 3, 4, 0)), "rings"),
            (FACE, ItemLook(readings=(1.0,)), "readings"),
            (BUSHING, ItemLook(remedy="glue"), "remedy"),
        ):
            with self.subTest(look=look), self.assertRaises(InvalidValue) as raised:
                check_look(item, look)
            self.assertEqual(raised.exception.field, field)

    def test_depth_chooses_what_is_reached(self):
        counts = [len(reached(TOWER, depth)) for depth in ("on machine", "cover off", "full strip")]
        self.assertEqual(counts, [6, 10, len(TOWER.item)])
        order = [item.part for item in reached(TOWER, "full strip")]
        self.assertEqual(order, sorted(order, key=[part.key for part in TOWER.part].index))


class Costs(unittest.TestCase):
    """Common practice, no source: three bushings and their driver cost about one arm."""

    OFFERS: ClassVar[dict[str, PartOffer]] = {
        "arm bushing": PartOffer("B-3", "arm bushing", "", 38.0, 3, life_km=3000),
        "arm": PartOffer("A-1", "arm", "", 62.0, 1),
    }

    def test_now_and_next_time(self):
        press, arms = alternatives(BUSHING.remedy, self.OFFERS, {"arm bushing driver": 45.0})
        self.assertEqual((press.now, press.next_time, press.life_km), (83.0, 38.0, 3000))
        self.assertEqual((arms.now, arms.next_time, arms.minutes), (186.0, 186.0, 25))
        owned = alternatives(BUSHING.remedy, self.OFFERS, {})[0]
        self.assertEqual((owned.now, owned.tool_price), (38.0, None))

    def test_packs_are_counted_in_pieces_and_what_is_left_serves_next_time(self):
        offers = {"arm bushing": PartOffer("B-2", "arm bushing", "", 20.0, 2)}
        press = alternatives(BUSHING.remedy, offers, {})[0]
        # Three of packs of two: two packs, one left, so that one pack does the next time.
        self.assertEqual((press.lines[0].packs, press.lines[0].left_over), (2, 1))
        self.assertEqual((press.now, press.next_time), (40.0, 20.0))

    def test_a_price_not_known_leaves_the_whole_unknown(self):
        press, arms = alternatives(BUSHING.remedy, {}, {"arm bushing driver": None})
        self.assertEqual((press.now, press.lacks), (None, ("arm bushing", "arm bushing driver")))
        self.assertEqual(arms.lacks, ("arm",))

    def test_the_part_that_lasts_least_says_how_long(self):
        cage = next(i for i in kinds()["adjustable-cam-primary"].guide.item if i.key == "needle_roller")
        lives = {"needle cage": 1600, "roller seal": 3200}
        offers = {kind: PartOffer(kind, kind, "", 10.0, 1, life_km=km) for kind, km in lives.items()}
        self.assertEqual(alternatives(cage.remedy, offers, {})[0].life_km, 1600)

    def test_a_set_is_ordered_once(self):
        arms = BUSHING.remedy[1]
        found = parts_list([("primary", arms), ("primary", ITEMS["arm_face"].remedy[0])], self.OFFERS)
        self.assertEqual([(line.kind, line.pieces, line.packs, line.price) for line in found], [("arm", 3, 3, 186.0)])
        both = parts_list([("primary", arms), ("primary", BUSHING.remedy[0])], self.OFFERS)
        self.assertEqual([(line.kind, line.pieces) for line in both], [("arm", 3), ("arm bushing", 3)])

    def test_waiting_costs_belts(self):
        self.assertEqual(belts_of_waiting(1600, 3200), 0.25)
        self.assertEqual(belts_of_waiting(1600, 3200, 1.0), 0.5)
        self.assertIsNone(belts_of_waiting(1600, None))


class Felt(unittest.TestCase):
    """A ring's groove at its ratio and speed, held against the model's own curve."""

    def test_rings_cover_the_shift_and_agree_with_it(self):
        run = predict(document("mountain-sled").core())
        path, speeds = run.shift.path, run.shift.vehicle_speed / KPH
        for rings, radius in (
            (felt(run, "primary"), path.primary_radius),
            (felt(run, "secondary"), path.secondary_radius),
        ):
            told = [ring for ring in rings if ring.kph_from is not None]
            self.assertAlmostEqual(min(ring.kph_from for ring in told), float(speeds.min()), places=3)
            self.assertAlmostEqual(max(ring.kph_to for ring in told), float(speeds.max()), places=3)
            low, high = float(radius.min()), float(radius.max())
            for ring in told:
                inside = (path.ratio <= ring.ratio_from) & (path.ratio >= ring.ratio_to)
                share = (radius[inside] - low) / (high - low)
                place = ("hub", "inner", "middle", "outer", "rim").index(ring.ring)
                # Rings run from rest, which may lie below the shift's first radius: a ring's share is at least near.
                self.assertLess(np.abs(share - (place + 0.5) / 5).max(), 0.2)

    def test_the_hub_of_the_primary_is_the_take_off_and_of_the_secondary_the_top(self):
        run = predict(document("mountain-sled").core())
        primary, secondary = felt(run, "primary"), felt(run, "secondary")
        self.assertGreater(primary[0].ratio_from, 3.0)
        self.assertLess(primary[-1].ratio_to, 0.8)
        self.assertLess(secondary[0].ratio_to, 0.8)
        self.assertGreater(secondary[0].kph_from, secondary[-1].kph_to)
