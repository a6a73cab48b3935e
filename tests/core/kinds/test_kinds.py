"""The clutch kinds as data: all eleven, each statement with its origin, one schema that refuses with kind and field."""

import tomllib
import unittest
from importlib import resources
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds import guide, schools
from jaxel.core.trade.kinds.kind_file import statements
from jaxel.core.trade.kinds.kinds import kinds, read_kinds


def files() -> dict[str, dict[str, Any]]:
    folder = resources.files("jaxel.core.data.kinds")
    return {
        each.name.removesuffix(".toml"): tomllib.loads(each.read_text(encoding="utf-8"))
        for each in folder.iterdir()
        if each.name.endswith(".toml")
    }


class Everything(unittest.TestCase):
    def test_the_eleven_kinds_of_the_trade(self):
        self.assertEqual(len(kinds()), 11)
        for kind in kinds().values():
            with self.subTest(kind.key):
                self.assertTrue(kind.guide.way)
                self.assertTrue(kind.guide.lubrication)
                self.assertTrue(kind.guide.fastener)
                self.assertTrue(kind.guide.variant)
                self.assertTrue(any(part.trap for part in kind.guide.part))
                self.assertTrue(any(part.mark for part in kind.guide.part))
                self.assertTrue(any(item.rings for item in kind.guide.item))

    def test_every_statement_names_its_origin(self):
        for kind in kinds().values():
            for each in statements(kind.guide):
                self.assertRegex(each.origin, "common practice|from memory", (kind.key, each))

    def test_what_the_trade_says_of_them(self):
        # Common practice, no source: what a follower does to its helix, and what a clicker primary hides.
        bolt_in = {each.key: each for each in kinds()["bolt-in-helix-secondary"].guide.item}
        self.assertEqual(bolt_in["helix_face"].causes, ["follower"])
        needle = next(i for i in kinds()["adjustable-cam-primary"].guide.item if i.key == "needle_roller")
        self.assertEqual((needle.count, needle.grades["cage in pieces"]), (3, "replace"))
        self.assertTrue(needle.assembled)  # on the machine, between seasons
        dry = [each.what for each in kinds()["tower-and-button-primary"].guide.lubrication]
        self.assertEqual(dry, ["none", "film"])

    def test_worn_faces_eat_belts_and_nothing_else_does(self):
        for kind in kinds().values():
            for item in kind.guide.item:
                self.assertEqual(item.eats_belts, item.rings, (kind.key, item.key))

    def test_one_like_another_takes_its_items_and_places_its_own(self):
        keys = [each.key for each in kinds()["shimmed-spider-primary"].guide.part]
        self.assertEqual(keys[keys.index("rollers") + 1], "shims")
        self.assertNotIn("spacer", keys)
        roller = {each.key for each in kinds()["jackshaft-roller-secondary"].guide.item}
        self.assertNotIn("slider_width", roller)
        self.assertIn("roller_bolt", roller)


class Adding(unittest.TestCase):
    """A kind more is a file more."""

    NEW = """
name = "Two-tower primary"
like = "tower-and-button-primary"
side = "primary"
form = "swing-arm"
looks = "Two towers."
origin = "from memory"
without = ["shaft"]

[[part]]
key = "brace"
after = "cover"
name = "Brace"
shape = "plate"
depth = "cover off"
held = "Two screws."
off = "Screws out."
back = "Screws in."

[[item]]
key = "brace"
part = "brace"
name = "Brace"
how = "Look for a crack."
depth = "cover off"
grades = { whole = "keep", cracked = "replace" }
remedy = [{ key = "brace", name = "New brace", minutes = 10, manual = "listed" }]
"""

    def read(self, text: str):
        return read_kinds(files() | {"two-tower-primary": tomllib.loads(text)})["two-tower-primary"]

    def test_adds_one(self):
        kind = self.read(self.NEW)
        self.assertEqual([each.key for each in kind.guide.part][1:3], ["cover", "brace"])
        self.assertEqual(
            [i.key for i in kind.guide.item if i.part in ("brace", "fixed")], ["idler_bearing", "fixed_face", "brace"]
        )
        brace = next(each for each in kind.guide.item if each.key == "brace")
        self.assertEqual(brace.origin, "from memory")
        bushing = next(each for each in kind.guide.item if each.key == "arm_bushing")
        self.assertEqual(bushing.origin, "common practice")

    VARIANT = """
[[variant]]
key = "brace_made"
part = "brace"
question = "What is the brace made of?"
answers = { steel = "Steel", none = "There is none" }
assume = "steel"
"""

    def test_adds_a_variant(self):
        text = (self.NEW + self.VARIANT).replace('name = "Brace"', 'name = "Brace"\nwhen = { brace_made = ["steel"] }')
        kind = self.read(text)
        for answer, there in (("", True), ("steel", True), ("none", False)):
            guide = kind.as_fitted({"brace_made": answer}).guide
            self.assertEqual("brace" in [each.key for each in guide.part], there)
            self.assertEqual("brace" in [each.key for each in guide.item], there)
        for wrong, field in (
            (text.replace('assume = "steel"', 'assume = "tin"'), "variant[5].assume"),
            (text.replace('["steel"]', '["tin"]'), "part.when.brace_made"),
            (text.replace('part = "brace"\nquestion', 'part = "roof"\nquestion'), "variant.brace_made.part"),
            # An item of a part that only one variant has, without saying so.
            (text.replace('name = "Brace"\nwhen = { brace_made = ["steel"] }\nhow', 'name = "Brace"\nhow'),
             "item.brace.part"),
        ):  # fmt: skip
            with self.subTest(field=field), self.assertRaises(InvalidValue) as raised:
                self.read(wrong)
            self.assertIn(field, raised.exception.field)

    def test_is_refused_with_kind_and_field(self):
        for change, field, reason in (
            (('part = "brace"', 'part = "roof"'), "item.brace.part", "roof is no part of it"),
            (('cracked = "replace"', 'cracked = "burn"'), "item[16].grades.cracked", "keep"),
            (('whole = "keep"', 'whole = "watch"'), "item[16].grades", "one that means keep"),
            (('shape = "plate"', 'shape = "blob"'), "part[2].shape", "arms"),
            (('after = "cover"', 'after = "roof"'), "after", "roof is not there"),
            (("tower-and-button-primary", "no-such"), "like", "no kind of clutch"),
            (('without = ["shaft"]', 'without = ["roof"]'), "without", "roof is no item"),
            (('looks = "Two towers."', ""), "", ""),
        ):
            with self.subTest(change=change):
                if not field:  # what it does not say it takes from the kind it is like
                    self.assertIn("six bolts", self.read(self.NEW.replace(*change)).guide.looks)
                    continue
                with self.assertRaises(InvalidValue) as raised:
                    self.read(self.NEW.replace(*change))
                self.assertTrue(raised.exception.field.startswith(f"two-tower-primary: {field}"), raised.exception)
                self.assertIn(reason, raised.exception.reason)

    def test_a_limit_on_the_wrong_side_of_new(self):
        measure = 'measure = { name = "play", unit = "mm", wears = "up", new = 1.0, limit = 0.4 }'
        wrong = self.NEW.replace("grades =", f"{measure}\ngrades =")
        with self.assertRaises(InvalidValue) as raised:
            self.read(wrong)
        self.assertIn("on the side of new to which it wears", raised.exception.reason)


class Guide(unittest.TestCase):
    def test_search_finds_every_word_and_says_where(self):
        found = guide.search("springs free holes")
        self.assertTrue(found)
        self.assertEqual({each.section for each in found}, {"Tear-down"})
        self.assertTrue(all("secondary" in each.kind or "converter" in each.kind for each in found))
        self.assertEqual(guide.search("   "), [])
        self.assertEqual([each.section for each in guide.search("cross-hatch")], ["Where practice differs"])

    def test_a_hazard_stands_at_the_part_where_it_is(self):
        for kind in kinds().values():
            springs = [part for part in kind.guide.part if part.shape == "spring" and part.hazard]
            for part in springs:
                found = [
                    each for each in guide.search(part.name) if each.kind == kind.key and each.heading == part.name
                ]
                self.assertIn("Springs fly off", found[0].text)

    def test_the_workshops_school_is_followed_where_it_chose_one(self):
        self.assertEqual(schools.followed("sheave_finish", {}).key, "cross")
        self.assertEqual(schools.followed("sheave_finish", {"sheave_finish": "radial"}).name, "radial strokes")
        self.assertEqual(schools.followed("sheave_finish", {"sheave_finish": "gone"}).key, "radial")
        for question, school, field in (("nothing", "pad", "question"), ("abrasive", "radial", "school")):
            with self.assertRaises(InvalidValue) as raised:
                schools.check_choice(question, school)
            self.assertEqual(raised.exception.field, field)


class BeforeHandsFollowThem(unittest.TestCase):
    def test_no_torch_at_a_clutch_that_is_split_with_a_puller(self):
        guide = kinds()["one-way-bearing-primary"].guide
        self.assertEqual([part.key for part in guide.part if part.heat], ["rollers"])
        self.assertNotIn("spider", {fastener.key for fastener in guide.fastener})
        parts = {part.key: part for part in guide.part}
        self.assertEqual(parts["outer"].hazard, "spring")
        self.assertIn("No torch", parts["outer"].off)
        self.assertIn("No torch", parts["spider"].off)
