"""Whole jobs: what each opens and asks of a clutch as it is made, what is laid out, and what goes back counted."""

import unittest
from itertools import product

from jaxel.core.trade.kinds.kinds import Kinds, Side, clutches, kinds
from jaxel.core.trade.rebuild.opened import opened
from jaxel.core.trade.rebuild.rebuild import Bench, Rebuild
from jaxel.core.trade.strip.inspection import ItemLook
from jaxel.core.trade.strip.procedure import Job, asked_by, chosen, jobs, laid_out, off_for
from jaxel.core.trade.strip.strip import Inspection, Place, Strip, lacks
from jaxel.core.trade.visit.close_out import Count, missing, to_count, totals

TOWER = Kinds("tower-and-button-primary", "bolt-in-helix-secondary")


def job(kinds_: Kinds, key: str) -> Job:
    return next(each for each in jobs(kinds_) if each.key == key)


class Jobs(unittest.TestCase):
    def test_each_kind_has_the_jobs_of_its_trade(self):
        """Common practice, no source."""
        named = {key: [each.name for each in kind.guide.procedure] for key, kind in kinds().items()}
        for key in ("tower-and-button-primary", "loaded-arm-primary", "shimmed-spider-primary"):
            self.assertEqual(named[key], ["Spider overhaul", "Bushing service"])
        self.assertEqual(
            named["adjustable-cam-primary"], ["Roller service, clutch off", "Roller service on the machine"]
        )
        self.assertEqual(named["roller-variator-primary"], ["Weights"])
        for key in ("bolt-in-helix-secondary", "floating-secondary", "nut-retained-torque-spring-secondary"):
            self.assertEqual(named[key], ["Secondary overhaul"])
        self.assertEqual(named["jackshaft-roller-secondary"], ["Secondary overhaul", "Roller service"])

    def test_a_job_opens_what_it_names_and_never_what_the_clutch_lacks(self):
        for key, kind in kinds().items():
            for answers in product(*(each.answers for each in kind.guide.variant)):
                said = dict(zip((each.key for each in kind.guide.variant), answers, strict=True))
                made = kind.as_fitted(said)
                side: Side = "secondary" if kind.side == "secondary" else "primary"
                held = {part.key for part in made.guide.part}
                for procedure in made.guide.procedure:
                    found = Job(side, made, procedure)
                    parts = {part.key for part in found.parts}
                    self.assertTrue(parts <= held and parts, (key, procedure.key))
                    # What is looked at lies open, or is looked at where it sits: the last half once its fellow is off.
                    for item in found.items:
                        open_ = item.part in {*parts, "fixed"} or item.depth in ("on machine", "off the machine")
                        self.assertTrue(open_, (key, procedure.key, item.key))

    def test_a_roller_service_on_the_machine_leaves_the_clutch_on_its_shaft(self):
        cam = Kinds("adjustable-cam-primary")
        off, on = (job(cam, f"primary.{key}") for key in ("roller_service", "roller_service_on"))
        self.assertEqual([part.key for part in off.parts if part.frees], ["bolt"])
        self.assertEqual([part.key for part in on.parts if part.frees], [])

    def test_tools_and_parts_are_laid_out_once(self):
        spider = job(TOWER, "primary.spider_overhaul")
        for tool in ("spider tool", "torch", "pin driver", "clutch puller"):
            self.assertEqual(spider.tools.count(tool), 1, tool)
        pieces = {each.kind: each.pieces for each in spider.may_need}
        self.assertEqual(pieces["roller thrust washer"], 6)
        self.assertEqual(pieces["button"], 6)
        self.assertEqual(pieces["arm"], 3)  # their faces alone want them: once
        cam = {
            each.kind: each.pieces for each in job(Kinds("adjustable-cam-primary"), "primary.roller_service").may_need
        }
        self.assertEqual(cam["roller seal"], 6)  # with the cages, and by themselves: one set

    def test_several_jobs_are_laid_out_together(self):
        one_way = Kinds("one-way-bearing-primary", "bolt-in-helix-secondary")
        some = [each for each in jobs(one_way) if each.procedure.key in ("bearing_service", "spider_overhaul")]
        tools, needs = laid_out(some)
        self.assertEqual(tools.count("clutch puller"), 1)
        self.assertIn("punch", tools)
        pieces = {each.kind: each.pieces for each in needs}
        self.assertEqual((pieces["nylon washer"], pieces["button"]), (1, 6))
        twice = {each.kind: each.pieces for each in laid_out([some[0], some[0]])[1]}
        self.assertEqual(twice["nylon washer"], 1)

    def test_what_is_chosen_is_asked_and_comes_off(self):
        strip = Strip(jobs=("secondary.secondary_overhaul",))
        held = Inspection(strip, TOWER)
        asked = {(side, item.key) for side, item in held.items()}
        self.assertIn(("secondary", "follower"), asked)
        self.assertFalse([each for each in asked if each[0] == "primary"])
        self.assertNotIn("depth", dict(lacks(held)))
        self.assertIn("depth", dict(lacks(Inspection(Strip(), TOWER))))
        told = dict(lacks(Inspection(Strip(secondary_depth="cover off"), TOWER)))["depth"]
        self.assertEqual(told, "how far the primary is opened, or which job it is")
        off = off_for(strip.jobs, (), TOWER)
        self.assertEqual(off["secondary"][:2], ["bolt", "helix"])
        came = opened(held, off)
        self.assertEqual([each.side for each in came], ["secondary"])

    def test_a_part_that_is_off_comes_off_whatever_the_job(self):
        self.assertEqual(off_for((), ("primary.cover", "primary.gone"), TOWER), {"primary": ["cover"]})
        self.assertEqual(asked_by(("primary.no_such_job",), TOWER), {})
        self.assertEqual(list(chosen(("primary.weights",), TOWER)), [])

    def test_the_driver_is_tried_before_the_pin_goes_in(self):
        for made, key in (
            (TOWER, "primary.rollers"),
            (TOWER, "secondary.followers"),
            (Kinds("one-way-bearing-primary"), "primary.rollers"),
            (Kinds("adjustable-cam-primary"), "primary.arms"),
            (
                Kinds(None, "jackshaft-roller-secondary", (("secondary.roller_held", "roll_pin"),)),
                "secondary.followers",
            ),
        ):
            parts = [f"{side}.{part.key}" for side, kind in clutches(made) for part in kind.guide.part]
            held = Inspection(Strip(off=tuple(parts)), made)
            bench = Bench(otherwise=off_for((), parts, made))
            step = next(each for each in bench.steps(held) if each.place == key)
            self.assertEqual([ask.key for ask in step.asks if ask.sort == "dry run"], ["dry_run"], key)
            self.assertTrue(any("not seen" in words for place, words in step.open if place == key))
        clipped = Kinds(None, "jackshaft-roller-secondary", (("secondary.roller_held", "clip"),))
        bench = Bench(Rebuild(), otherwise={"secondary": ["followers"]})
        (step,) = [each for each in bench.steps(Inspection(Strip(), clipped)) if each.key == "followers"]
        self.assertFalse([ask for ask in step.asks if ask.sort == "dry run"])

    def test_a_look_of_a_job_is_judged_like_any_other(self):
        looks: dict[Place, ItemLook] = {("secondary", "follower"): ItemLook("removed", grade="flat")}
        held = Inspection(Strip(jobs=("secondary.secondary_overhaul",)), TOWER, looks)
        item = next(item for side, item in held.items() if item.key == "follower")
        self.assertEqual(held.verdict("secondary", item).decision, "replace")


class CountedBySheet(unittest.TestCase):
    """Rollers of another make may want one washer more than came out (common practice)."""

    def counted(self, **said) -> list[str]:
        count = Count("secondary.flat_washers", "Flat washers, secondary", "small part", 3, **said)
        return [words for _, words in missing([count])]

    def test_as_many_as_came_out_unless_a_sheet_says_otherwise(self):
        self.assertEqual(self.counted(back=3), [])
        self.assertEqual(self.counted(back=2), ["flat washers, secondary: 2 of 3 back"])
        self.assertEqual(self.counted(back=4), ["flat washers, secondary: 4 in, 3 went out"])
        sheet = {"goes_in": 4, "by_sheet": "sheet of roller RB-4"}
        self.assertEqual(self.counted(back=4, **sheet), [])
        self.assertEqual(self.counted(back=3, **sheet), ["flat washers, secondary: 3 of 4 in, by sheet of roller RB-4"])
        self.assertEqual(
            self.counted(back=5, **sheet), ["flat washers, secondary: 5 in, 4 go in by sheet of roller RB-4"]
        )
        self.assertEqual(self.counted(back=4, goes_in=4), ["flat washers, secondary: 3 out, 4 go in: by whose sheet"])

    def test_none_out_and_some_in_by_a_sheet(self):
        count = Count("k", "Washers", "small part", 0, back=3, goes_in=3, by_sheet="its sheet")
        self.assertEqual(list(missing([count])), [])
        self.assertEqual(totals([count]), (3, 3))

    def test_what_is_seen_back_is_as_many_as_the_sheet_says(self):
        kind = Kinds(None, "jackshaft-roller-secondary", (("secondary.roller_washers", "both"),))
        bench = Bench(otherwise={"secondary": ["followers"]})
        opened_ = bench.opened(Inspection(Strip(), kind))
        said = Count("secondary.flat_washers", "Flat washers, secondary", "small part", 3, None, "", 4, "its sheet")
        (found,) = [
            each for each in to_count(opened_, None, [said], seen=("secondary.flat_washers",)) if each.key == said.key
        ]
        self.assertEqual((found.out, found.back), (3, 4))
