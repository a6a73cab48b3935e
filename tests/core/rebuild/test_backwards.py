"""Putting back, torque, balance, line-up, break-in and close, against published factors and plane geometry."""

import unittest
from dataclasses import replace

from jaxel.core.trade.kinds.kinds import Kinds, kinds
from jaxel.core.trade.rebuild.opened import Opens, for_the_belt, opened, opened_by, together, way_taken, ways_of
from jaxel.core.trade.rebuild.rebuild import WRONG_WAY, Bench, Expected, Rebuild, expected_of
from jaxel.core.trade.rebuild.rebuild import lacks as not_back_together
from jaxel.core.trade.rebuild.tightening import (
    Tightened,
)
from jaxel.core.trade.strip.inspection import ItemLook
from jaxel.core.trade.strip.strip import Inspection, Place, Strip
from jaxel.demo.workshop import document as demo


def stripped(depth="full strip", marked=(), **looks):
    known = Kinds("tower-and-button-primary", "bolt-in-helix-secondary")
    return Inspection(
        Strip(depth, marked=tuple(marked)), known, {("primary", key): look for key, look in looks.items()}
    )


LOADS = {"loads": [{"station": "tip", "mass_g": 3.0, "pieces": 2}]}
HOLES = Expected(3, 48.0, ("B", "2"), 110.0)


class Backwards(unittest.TestCase):
    def keys(self, inspection, side="primary", bench=None):
        return [step.key for step in (bench or Bench(expected=HOLES)).steps(inspection) if step.side == side]

    def test_the_way_it_came_apart_backwards(self):
        full = stripped()
        parts = [part.key for part in kinds()["tower-and-button-primary"].as_fitted({}).guide.part]
        self.assertEqual(self.keys(full), [*reversed(parts[1:]), "checks", "bolt"])
        self.assertEqual(self.keys(full, "secondary")[-5:], ["plate", "ring", "helix", "checks", "bolt"])
        self.assertEqual(self.keys(stripped("cover off")), ["arms", "spring", "cover", "checks"])
        self.assertEqual(self.keys(stripped("on machine")), [])
        self.assertEqual(self.keys(stripped(None)), [])

    def test_what_was_not_opened_is_not_asked_for(self):
        left = Bench(Rebuild(left_on=("primary.spider", "primary.fixed")), expected=HOLES)
        self.assertNotIn("spider", self.keys(stripped(), bench=left))
        past = {item.key: ItemLook(looked="not reached") for item in kinds()["tower-and-button-primary"].guide.item}
        self.assertEqual(self.keys(stripped(**past)), [])
        self.assertNotEqual(self.keys(stripped(**past), "secondary"), [])

    def test_a_change_of_set_up_opens_what_it_needs(self):
        here = stripped().kinds
        arms: Opens = {"primary": ["cover", "spring", "arms"]}
        self.assertEqual(opened_by(["arms"], here), arms)
        # A helix alone: its screws and nothing else of the secondary.
        self.assertEqual(opened_by(["helix"], here), {"secondary": ["helix"]})
        self.assertEqual(together(arms, {"primary": ["cover", "limiter"], "secondary": ["helix"]}),
                         {"primary": ["cover", "spring", "arms", "limiter"], "secondary": ["helix"]})  # fmt: skip
        found = opened(stripped(None), arms)
        self.assertEqual([part.key for each in found for part in each.parts], ["cover", "spring", "arms"])
        self.assertEqual(opened_by(["arms"], Kinds()), {})
        # A load is its own slot by its station's name; what a kind does not name is behind the cover.
        self.assertEqual(opened_by(["load:tip", "washer:primary"], here),
                         {"primary": ["cover", "spring", "arms"]})  # fmt: skip
        self.assertEqual(opened_by(["washer:secondary"], here), opened_by(["secondary_spring"], here))
        cam = Kinds("adjustable-cam-primary", "bolt-in-helix-secondary")
        self.assertEqual(opened_by(["load:tip"], cam), {"primary": ["weight_screws"]})
        self.assertEqual(opened_by(["clicker"], here), {"primary": ["cover", "spring", "arms"]})

    def test_a_variant_opens_otherwise(self):
        bears = Kinds("tower-and-button-primary", "bolt-in-helix-secondary", (("secondary.spring_seat", "helix"),))
        self.assertEqual(opened_by(["secondary_spring"], bears), {"secondary": ["bolt", "helix", "spring"]})
        self.assertEqual(opened_by(["secondary_spring"], stripped().kinds),
                         {"secondary": ["bolt", "helix", "ring", "plate", "spider", "spring"]})  # fmt: skip

    def test_what_was_looked_at_removed_came_off(self):
        """A roller taken out on the machine has its spacers to be counted back, whatever else stayed on."""
        known = Kinds("adjustable-cam-primary")
        out: dict[Place, ItemLook] = {
            ("primary", "needle_roller"): ItemLook("removed"),
            ("primary", "ramp"): ItemLook("assembled"),
        }
        (found,) = opened(Inspection(Strip("on machine"), known, out), {})
        self.assertEqual([part.key for part in found.parts], ["rollers"])

    def test_a_pack_is_opened_and_closed_by_hand_before_its_bolt(self):
        quad = Inspection(Strip(), Kinds("roller-variator-primary"))
        steps = Bench(otherwise={"primary": ["pack"]}).steps(quad)
        self.assertEqual([step.key for step in steps], ["pack", "checks"])

    def test_each_clutch_as_far_as_it_was_opened(self):
        known = Kinds("tower-and-button-primary", "bolt-in-helix-secondary")

        def far(*depths):
            return {each.side: len(each.parts) for each in opened(Inspection(Strip(*depths), known), {})}

        both, other = far("full strip"), far("full strip", "on machine")
        self.assertEqual(set(both), {"primary", "secondary"})
        self.assertEqual(other["primary"], both["primary"])
        self.assertLess(other.get("secondary", 0), both["secondary"])
        self.assertEqual(far(None, "full strip"), {"secondary": both["secondary"]})

    def test_off_the_machine_is_still_unopened(self):
        found = opened(stripped("off the machine"), {})
        self.assertEqual([(each.side, [part.key for part in each.parts]) for each in found],
                         [("primary", ["bolt"]), ("secondary", ["bolt"])])  # fmt: skip

    def test_a_belt_that_takes_the_clutch_apart(self):
        quad = Inspection(Strip(), Kinds("roller-variator-primary", "nut-retained-torque-spring-secondary"))
        outer: Opens = {"primary": ["case", "nut", "fixed"]}
        self.assertEqual(for_the_belt(quad.kinds, "C"), outer)
        self.assertEqual(for_the_belt(quad.kinds, ""), outer)  # of one way nobody needs to say which
        found = opened(quad, outer)
        self.assertEqual([fastener.key for each in found for fastener in each.fasteners], ["case_screws", "nut"])
        self.assertEqual([way.key for way in ways_of(quad.kinds)], ["A", "C"])

    def test_only_the_way_taken_is_counted(self):
        sled = stripped().kinds
        self.assertEqual([way.key for way in ways_of(sled)], ["A", "B", "D"])
        self.assertEqual([for_the_belt(sled, way) for way in ("", "A", "B")], [{}, {}, {}])
        self.assertEqual(for_the_belt(sled, "D"), {"secondary": ["bolt"]})
        self.assertEqual([way_taken(sled, way).tools for way in ("A", "B", "")],
                         [["belt spreader or jack bolts"], [], ["belt spreader or jack bolts"]])  # fmt: skip
        self.assertEqual([way.key for way in ways_of(Kinds())], ["A", "B"])
        # Of a way both clutches have, the secondary's word goes: it is the one that is opened.
        both = Kinds("tower-and-button-primary", "nut-retained-torque-spring-secondary")
        own = both.of("secondary").guide.way
        self.assertEqual([way for way in ways_of(both) if way.key == "A"], [way for way in own if way.key == "A"])

    def test_marks_and_stops_are_asked(self):
        step = next(each for each in Bench(expected=HOLES).steps(stripped(marked=["primary.cover"]))
                    if each.place == "primary.cover")  # fmt: skip
        asks = {ask.sort: ask for ask in step.asks}
        self.assertEqual(
            asks["mark"].words,
            "Cover, spider, moving sheave and fixed sheave, each to its neighbour: the assembly was balanced as one.",
        )
        self.assertTrue(asks["stop"].words.startswith("Stop: the compressor stays on"))
        bare = next(each for each in Bench(expected=HOLES).steps(stripped()) if each.place == "primary.cover")
        self.assertTrue(
            {ask.sort: ask for ask in bare.asks}["unmarked"].words.endswith("No mark is noted at Strip & inspect.")
        )
        spider = next(each for each in Bench(expected=HOLES).steps(stripped()) if each.place == "primary.spider")
        self.assertIn("second", {ask.sort for ask in spider.asks})
        rollers = next(each for each in Bench(expected=HOLES).steps(stripped()) if each.place == "primary.rollers")
        self.assertIn("none", {ask.sort for ask in rollers.asks})

    def spring(self, **said):
        bench = Bench(Rebuild(**said), expected=HOLES)
        return next(each for each in bench.steps(stripped()) if each.place == "secondary.spring")

    def test_a_spring_wound_the_wrong_way(self):
        wrong = self.spring(closes="anticlockwise", wound="clockwise")
        self.assertEqual(wrong.amiss, (WRONG_WAY,))
        self.assertEqual(self.spring(closes="clockwise", wound="clockwise").amiss, ())
        # No reason lets it out of the door.
        forced = self.spring(closes="anticlockwise", wound="clockwise", accepted={"secondary.spring": "in a hurry"})
        self.assertIn(("secondary.spring", WRONG_WAY), forced.open)
        holes = self.spring(closes="clockwise", wound="clockwise", sheave_hole="B", helix_hole="3", wound_deg=125.0)
        self.assertEqual(holes.amiss, ("spring in B–3, the set-up says B–2", "spring wound 125°, the set-up says 110°"))
        kept = self.spring(closes="clockwise", wound="clockwise", sheave_hole="B", helix_hole="3",
                           accepted={"secondary.spring": "one hole softer, tried"})  # fmt: skip
        self.assertFalse(any(words.startswith("spring in") for _, words in kept.open))

    def test_a_spring_without_torsion_is_not_wound(self):
        """Whether a spring is wound is seen at the clutch: a set-up that knows no torsion says nothing of it."""
        unsaid, looked = stripped(), stripped()
        looked = replace(looked, kinds=replace(looked.kinds, variants=(("secondary.spring_form", "plain"),)))
        for inspection, wound, checks in (
            (unsaid, True, ["on_ramp", "full_return", "no_twist"]),
            (looked, False, ["on_ramp", "full_return"]),
        ):
            steps = {each.place: each for each in Bench(expected=Expected(3, 48.0)).steps(inspection)}
            self.assertEqual(steps["secondary.spring"].wind, wound)
            self.assertEqual([ask.key for ask in steps["secondary.checks"].asks], checks)
        self.assertIn("it is not wound", steps["secondary.spring"].asks[0].words)

    def test_only_the_spring_that_turns_a_helix_is_wound(self):
        for primary, secondary, winds in (
            ("tower-and-button-primary", "floating-secondary", ["secondary.spring"]),
            ("light-torque-converter", "light-torque-converter", ["primary.driven_spring"]),
        ):
            both = Inspection(Strip("full strip"), Kinds(primary, secondary))
            self.assertEqual([each.place for each in Bench(expected=HOLES).steps(both) if each.wind], winds)

    def test_arms_that_are_no_set(self):
        bench = Bench(Rebuild(weighed={"primary.arms": (48.1, 48.0, 46.9)}), expected=HOLES)
        step = next(each for each in bench.steps(stripped()) if each.place == "primary.arms")
        self.assertEqual(step.amiss, ("arms with their loads: 1.2 g apart, 0.2 g is allowed",))
        light = Bench(Rebuild(weighed={"primary.arms": (46.9, 46.9, 47.0)}), expected=HOLES)
        step = next(each for each in light.steps(stripped()) if each.place == "primary.arms")
        self.assertEqual(step.amiss, ("arms with their loads: 46.93 g each, the set-up says 48 g",))

    def test_what_the_set_up_says(self):
        document = demo("farm-side-by-side")
        found = expected_of(document.primary.weights.model_dump(), document.secondary.model_dump())
        loads = sum(each.mass_g * each.pieces for each in document.primary.weights.loads)
        self.assertAlmostEqual(found.weight_g, document.primary.weights.base_mass_g + loads)
        self.assertEqual(found.holes, ("B", "2"))
        self.assertEqual(found.pretwist_deg, document.secondary.pretwist_deg)
        loaded = {"base_mass_g": 40.0, "count": 3}
        self.assertEqual((expected_of(loaded | LOADS, None).weight_g, expected_of(loaded | LOADS, None).loads),
                         (46.0, "tip 2 × 3 g"))  # fmt: skip
        step = next(each for each in Bench(expected=expected_of(loaded | LOADS, None)).steps(stripped())
                    if each.place == "primary.arms")  # fmt: skip
        self.assertIn("In every one alike, as the set-up says: tip 2 × 3 g.", [ask.words for ask in step.asks])

    def test_gaps_by_name(self):
        fresh = {each.place: [words for _, words in each.open] for each in Bench(expected=HOLES).steps(stripped())}
        self.assertIn("arms with their loads: weighed one by one", fresh["primary.arms"])
        self.assertIn("arm pivot bolts: not tightened", fresh["primary.arms"])
        self.assertEqual(fresh["secondary.spring"][-2:],
                         ["which way the sheave turns as it closes", "which way the top was turned"])  # fmt: skip
        owed = Bench(tightened={("primary", "cover_bolts"): Tightened("owed")}, expected=HOLES)
        words = [words for _, words in not_back_together(owed, stripped("cover off"))]
        self.assertEqual(words, ["torque owed: cover bolts, primary", "putting back the primary: 4 steps"])

    def test_the_last_gap_says_what_it_is(self):
        steps = Bench(expected=HOLES).steps(stripped("cover off"))
        seen = tuple(f"{step.place}.{ask.key}" for step in steps for ask in step.asks)
        tight = {
            (step.side, each.key): Tightened("done", means="by hand") for step in steps for each, _ in step.fasteners
        }
        for last, words in (
            (Tightened("done"), ["putting back the primary: cover bolts: the torque it was given"]),
            (Tightened("owed"), ["torque owed: cover bolts, primary"]),
            (Tightened("done", torque_nm=13.5), []),
        ):
            bench = Bench(
                Rebuild(seen=seen, weighed={"primary.arms": (48.0, 48.0, 48.0)}),
                tightened=tight | {("primary", "cover_bolts"): last},
                expected=HOLES,
            )
            self.assertEqual([said for _, said in not_back_together(bench, stripped("cover off"))], words)
