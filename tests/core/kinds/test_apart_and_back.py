"""Each kind apart and back: the order typed here by hand from how hands take it apart, its counts and its stops.

Common practice, no source; the orders marked so are from memory.
"""

import unittest

from jaxel.core.trade.kinds.kinds import Kinds, Side, kinds
from jaxel.core.trade.rebuild.rebuild import Bench
from jaxel.core.trade.strip.inspection import ItemLook
from jaxel.core.trade.strip.strip import Inspection, Strip

APART: dict[str, tuple[dict[str, str], list[str]]] = {
    "tower-and-button-primary": (
        {"limiter": "fitted"},
        ["Retaining bolt", "Cover", "Primary spring", "Limiter spacers", "Arms and pins", "Spider", "Buttons",
         "Rollers and their pins", "Spacer under the spider", "Moving sheave with its towers",
         "Fixed sheave and shaft"],
    ),
    "shimmed-spider-primary": (
        {"limiter": "none"},
        ["Retaining bolt", "Cover", "Primary spring", "Arms and pins", "Spider", "Buttons", "Rollers and their pins",
         "Shim stack under the spider", "Moving sheave with its towers", "Fixed sheave and shaft"],
    ),
    "loaded-arm-primary": (
        {"limiter": "none", "spider_seat": "taper"},
        ["Retaining bolt", "Cover", "Primary spring", "Arms and pins", "Spider", "Buttons", "Rollers and their pins",
         "Spacer under the spider", "Moving sheave with its towers", "Fixed sheave and shaft"],
    ),
    # Where the retaining bolt stands among them is from memory.
    "adjustable-cam-primary": (
        {},
        ["Retaining bolt", "Damper", "C-clip on its post", "Spring cup and rubber", "Primary spring", "Sliding half",
         "Guide rollers", "Needle rollers and axles", "Weight screws of the arms", "Clickers", "Arms with ramps",
         "Fixed half and shaft"],
    ),
    # Where the spring's cup and the carriers stand is from memory.
    "roller-variator-primary": (
        {"spring": "cup"},
        ["Housing cover and its seal", "Nut and washer", "Outer half", "Primary spring in its cup", "Inner pack",
         "Cover of the pack, with its O-ring", "Ramp plate and guides", "Weights in their pockets",
         "Weight carriers"],
    ),
    "one-way-bearing-primary": (
        {},
        ["Retaining bolt", "Outer half with its arms", "Arms, pins and washers", "Primary spring",
         "Outer nylon washer", "One-way bearing with its seals", "Inner nylon washer", "Spider",
         "Buttons, fixed and ringed", "Arm rollers on dowel pins", "Fixed half and shaft"],
    ),
    "bolt-in-helix-secondary": (
        {"spring_seat": "spider"},
        ["Secondary bolt", "Helix", "Snap ring", "Plate and damper", "Spider", "Secondary spring and its seat",
         "Rollers on their pins", "Moving half", "Fixed half and shaft"],
    ),
    "jackshaft-roller-secondary": (
        {},
        ["Belt adjuster", "Helix", "Secondary spring", "Spring guides", "Rollers on their bolts", "Moving half",
         "Fixed half and shaft"],
    ),
    "nut-retained-torque-spring-secondary": (
        {}, ["Large nut", "Guide", "Torque spring", "Moving half on its ramp", "Fixed half and shaft"],
    ),
    "floating-secondary": (
        {"spring_seat": "helix"},
        ["Retaining bolt and washer", "Float spring", "Float shims", "Helix", "Secondary spring and its seat",
         "Rollers on their pins", "Moving half", "Fixed half and shaft"],
    ),
    "light-torque-converter": (
        {},
        ["Driver nut", "Driver's outer face", "Sliding weights and their springs", "Driver bushing",
         "Driven's moving half", "E-clip", "Driven spring", "Sliders", "Driven's fixed half"],
    ),
}  # fmt: skip


def inspected(key: str, answers: dict[str, str], depth="full strip") -> Inspection:
    side: Side = "secondary" if kinds()[key].side == "secondary" else "primary"
    said = tuple(sorted((f"{side}.{variant}", answer) for variant, answer in answers.items()))
    machine = Kinds(key, None, said) if side == "primary" else Kinds(None, key, said)
    guide = kinds()[key].as_fitted(answers).guide
    # What is changed from outside comes off where a hand took it off to look.
    looks = {
        (side, item.key): ItemLook("removed")
        for item in guide.item
        for part in guide.part
        if part.key == item.part and part.stays
    }
    return Inspection(Strip(depth), machine, looks)


class Order(unittest.TestCase):
    def test_every_kind_comes_apart_in_the_order_of_hands(self):
        self.assertEqual(set(APART), set(kinds()))
        for key, (answers, names) in APART.items():
            self.assertEqual([part.name for part in kinds()[key].as_fitted(answers).guide.part], names, key)

    def test_and_goes_back_the_same_way_reversed(self):
        for key, (answers, names) in APART.items():
            back = [step.name for step in Bench().steps(inspected(key, answers)) if step.part]
            # Screws that are changed from outside have no item of their own to be looked at: they stayed.
            off = [name for name in names if name not in ("Weight screws of the arms",)]
            self.assertEqual(back, off[::-1], key)

    def test_the_helix_is_last_before_the_bolt(self):
        for seat in ("spider", "helix"):
            steps = [step.key for step in Bench().steps(inspected("bolt-in-helix-secondary", {"spring_seat": seat}))]
            self.assertEqual(steps[-3:], ["helix", "checks", "bolt"])
        self.assertNotIn("ring", steps)

    def test_every_part_says_how_it_is_held_how_it_comes_off_and_how_it_goes_back(self):
        for kind in kinds().values():
            for part in kind.guide.part:
                with self.subTest(kind.key, part=part.key):
                    self.assertTrue(part.held and part.off and part.back)
                    # A spring under load says stop, or is free once the part before it is let up.
                    if part.hazard in ("spring", "taper", "heat") and part.shape not in (
                        "spring", "torque-spring", "cup"):  # fmt: skip
                        self.assertTrue(part.trap or part.stop)


class Stops(unittest.TestCase):
    def part(self, kind, key, **answers):
        return next(part for part in kinds()[kind].as_fitted(answers).guide.part if part.key == key)

    def test_the_traps_of_order(self):
        stops: tuple[tuple[str, str, dict[str, str], str], ...] = (
            ("adjustable-cam-primary", "clip", {}, "the clip lies on the post before the compressor does"),
            ("roller-variator-primary", "pack", {}, "the plate is held pressed in while the pack goes on the shaft"),
            ("roller-variator-primary", "nut", {}, "belt deep in the secondary and clear of the shoulder"),
            ("bolt-in-helix-secondary", "ring", {}, "the ring seen in its groove all round"),
            ("bolt-in-helix-secondary", "helix", {}, "a quarter turn off means apart again"),
            ("nut-retained-torque-spring-secondary", "nut", {}, "flats in line before the nut"),
            ("one-way-bearing-primary", "bearing", {}, "free one way only, and the right way"),
            ("light-torque-converter", "e_clip", {}, "the clip seen in its groove"),
        )
        for kind, key, answers, words in stops:
            self.assertIn(words, self.part(kind, key, **answers).stop)
        for kind, key, answers, words in (
            ("jackshaft-roller-secondary", "followers", {"roller_held": "clip"}, "before its clip is out"),
            ("jackshaft-roller-secondary", "followers", {"roller_held": "roll_pin"}, "before its pin is out"),
            ("bolt-in-helix-secondary", "spring", {}, "note both holes and the turn before it springs free"),
            ("nut-retained-torque-spring-secondary", "nut", {}, "cracked while still mounted"),
            ("tower-and-button-primary", "spider", {"spider_seat": "threaded"}, "thread direction first"),
            ("tower-and-button-primary", "spider", {"spider_seat": "taper"}, "no torch"),
        ):
            self.assertIn(words, self.part(kind, key, **answers).trap)
        self.assertIn("tried through the empty hole", self.part("bolt-in-helix-secondary", "followers").dry_run)

    def test_a_torch_only_at_hub_and_nut_at_locked_screws_and_at_dowel_pins(self):
        heated = {(kind.key, part.key) for kind in kinds().values() for part in kind.guide.part if part.heat}
        primaries = {(each, "spider") for each in
                     ("tower-and-button-primary", "shimmed-spider-primary", "loaded-arm-primary")}  # fmt: skip
        helices = {(each, "helix") for each in
                   ("bolt-in-helix-secondary", "floating-secondary", "jackshaft-roller-secondary")}  # fmt: skip
        self.assertEqual(heated, primaries | helices | {("one-way-bearing-primary", "rollers")})
        self.assertIn("rollers and buttons out or shielded", self.part("tower-and-button-primary", "spider").heat)
        self.assertEqual(self.part("tower-and-button-primary", "spider", spider_seat="taper").heat, "")


class Counts(unittest.TestCase):
    def loose(self, kind, **answers):
        return {each.key: each.count for each in kinds()[kind].as_fitted(answers).guide.loose}

    def test_what_falls_out_is_counted(self):
        self.assertEqual(self.loose("adjustable-cam-primary"), {
            "roller_spacers": 6, "needle_cages": 3, "cam_spacers": 6, "weight_washers": 3})  # fmt: skip
        self.assertEqual(self.loose("adjustable-cam-primary", clicker_lock="lock_nut", cages="bare",
                                    weight_screws="one"), {"roller_spacers": 6})  # fmt: skip
        self.assertEqual(self.loose("tower-and-button-primary"),
                         {"roller_washers": 6, "spider_spacer": 1})  # fmt: skip
        self.assertEqual(self.loose("tower-and-button-primary", limiter="fitted")["limiter_spacers"], 3)
        self.assertEqual(self.loose("roller-variator-primary", spring="none", plate="splines"),
                         {"dowels": 2, "seal": 1, "pack_o_ring": 1})  # fmt: skip
        self.assertEqual(self.loose("jackshaft-roller-secondary", roller_washers="bevelled"),
                         {"roller_keepers": 3, "bevelled_washers": 3})  # fmt: skip

    def test_fasteners_of_each_variant(self):
        def fasteners(kind, **answers):
            return {each.key: each.count for each in kinds()[kind].as_fitted(answers).guide.fastener}

        self.assertEqual(fasteners("tower-and-button-primary", spider_seat="taper"),
                         {"retaining_bolt": 1, "cover_bolts": 6, "pivot_bolts": 3})  # fmt: skip
        self.assertEqual(fasteners("tower-and-button-primary")["spider_nut"], 1)
        self.assertNotIn("clicker_nuts", fasteners("adjustable-cam-primary"))
        self.assertEqual(fasteners("adjustable-cam-primary", clicker_lock="lock_nut")["clicker_nuts"], 3)
        self.assertEqual(fasteners("jackshaft-roller-secondary"), {"helix_screws": 4, "roller_bolts": 3})


class Opens(unittest.TestCase):
    def opens(self, kind, slot, **answers):
        return next(each.opens for each in kinds()[kind].as_fitted(answers).guide.slot if each.key == slot)

    def test_what_a_change_opens(self):
        for kind, slot, answers, opens in (
            ("loaded-arm-primary", "loads", {}, ["cover", "spring"]),
            ("loaded-arm-primary", "loads", {"pockets": "outside"}, []),
            ("adjustable-cam-primary", "loads", {}, ["weight_screws"]),
            ("adjustable-cam-primary", "clicker", {}, ["weight_screws", "clickers"]),
            ("adjustable-cam-primary", "clicker", {"clicker_lock": "lock_nut"}, ["clickers"]),
            ("roller-variator-primary", "arms", {"spring": "none"},
             ["case", "nut", "fixed", "pack", "pack_cover", "plate", "weights"]),
            ("one-way-bearing-primary", "arms", {}, ["arms"]),
            ("bolt-in-helix-secondary", "helix", {}, ["helix"]),
            ("shimmed-spider-primary", "shim", {}, ["bolt", "cover", "spring", "arms", "spider", "shims"]),
        ):  # fmt: skip
            self.assertEqual(self.opens(kind, slot, **answers), opens, (kind, slot, answers))

    def test_a_variator_without_a_spring_has_no_slot_for_one(self):
        for spring, shown in (("none", False), ("cup", True), ("", True)):
            said = Kinds(primary="roller-variator-primary", variants=(("primary.spring", spring),))
            self.assertEqual(said.show("primary_spring"), shown)

    def test_ways_of_taking_the_belt_off(self):
        ways = {key: [way.key for way in kind.guide.way] for key, kind in kinds().items()}
        self.assertEqual(ways["roller-variator-primary"], ["C"])
        self.assertEqual(ways["light-torque-converter"], ["B"])
        self.assertEqual(ways["nut-retained-torque-spring-secondary"], ["A"])
        self.assertEqual(ways["floating-secondary"], ["A", "B", "D"])
        for kind in kinds().values():
            for way in kind.guide.way:
                self.assertTrue(way.stop.startswith("Stop: "), (kind.key, way.key))


class Variants(unittest.TestCase):
    def test_those_of_the_trade(self):
        asked = {key: [each.key for each in kind.guide.variant] for key, kind in kinds().items()}
        self.assertEqual(asked["tower-and-button-primary"],
                         ["spider_seat", "arm_bushing", "idler", "buttons", "limiter"])  # fmt: skip
        self.assertEqual(asked["adjustable-cam-primary"], ["positions", "clicker_lock", "weight_screws", "cages"])
        self.assertEqual(asked["roller-variator-primary"], ["spring", "weights", "carriers", "plate"])
        self.assertEqual(asked["one-way-bearing-primary"], ["wear_plates"])
        self.assertEqual(asked["bolt-in-helix-secondary"], ["spring_seat", "spring_form", "followers"])
        self.assertEqual(asked["jackshaft-roller-secondary"], ["spring_form", "roller_held", "roller_washers"])

    def test_every_answer_changes_something(self):
        for key, kind in kinds().items():
            for variant in kind.guide.variant:
                seen = [kind.as_fitted({variant.key: answer}).guide.model_dump_json() for answer in variant.answers]
                self.assertEqual(len(set(seen)), len(seen), (key, variant.key))

    def test_not_looked_at_is_what_is_assumed(self):
        kind = kinds()["bolt-in-helix-secondary"]
        self.assertEqual(kind.as_fitted({"spring_seat": ""}).guide.part, kind.as_fitted({}).guide.part)
        self.assertEqual(kind.guide.answered({"followers": "sliders", "spring_seat": "glue"}),
                         {"spring_seat": "spider", "spring_form": "holes", "followers": "sliders"})  # fmt: skip

    def test_an_answer_stays_with_its_clutch(self):
        said = Kinds("tower-and-button-primary", "bolt-in-helix-secondary", (("secondary.followers", "sliders"),))
        self.assertEqual((said.answers("primary"), said.answers("secondary")), ({}, {"followers": "sliders"}))
        kit = Kinds("light-torque-converter", "light-torque-converter", (("primary.weights", "steel"),))
        self.assertEqual(kit.answers("secondary"), {"weights": "steel"})
