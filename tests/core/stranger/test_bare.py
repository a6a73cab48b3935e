"""A clutch that came alone: only its half is asked, told and mounted; what it is worth to put right."""

import unittest
from dataclasses import replace
from typing import ClassVar

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.setup.evidence import EvidencePart
from jaxel.core.trade.kinds.kinds import Kinds, kinds
from jaxel.core.trade.machine.mounting import half_of, mounted
from jaxel.core.trade.rebuild.repair import repair
from jaxel.core.trade.setup.slots import slots
from jaxel.core.trade.stranger.as_found import Fault, FoundFault, fault_kinds
from jaxel.core.trade.stranger.label import clutch_label
from jaxel.core.trade.stranger.look import look
from jaxel.core.trade.stranger.packages import packages
from jaxel.core.trade.strip.inspection import ItemLook, StatedLimit
from jaxel.core.trade.strip.remedies import PartOffer
from jaxel.core.trade.strip.strip import Inspection, Place, Strip
from jaxel.demo.workshop import document

TYPICAL = packages()["sled-tower-600"].document
PRIMARY = Kinds("tower-and-button-primary", bare=True)
SECONDARY = Kinds(None, "bolt-in-helix-secondary", bare=True)


class Half(unittest.TestCase):
    def test_only_its_half_has_slots_readings_and_faults(self):
        self.assertEqual({each.key.split(":")[0] for each in slots(TYPICAL, PRIMARY)},
                         {"arms", "load", "primary_spring"})  # fmt: skip
        self.assertIn("helix", {each.key for each in slots(TYPICAL, SECONDARY)})
        self.assertNotIn("arms", {each.key for each in slots(TYPICAL, SECONDARY)})
        asked = {each.reading.key for each in look(TYPICAL, {}, sides=SECONDARY.sides).lines}
        self.assertTrue(asked)
        self.assertFalse([key for key in asked if key.startswith(("arm", "belt", "primary"))], asked)
        whole = {each.reading.key for each in look(TYPICAL, {}).lines}
        self.assertIn("belt_width", whole)
        faults = {each.key for each in fault_kinds(TYPICAL, PRIMARY)}
        self.assertIn("primary-spring-broken", faults)
        self.assertIn("other", faults)
        self.assertNotIn("wound-backwards", faults)
        self.assertLessEqual({"wound-backwards", "other"}, {each.key for each in fault_kinds(TYPICAL, SECONDARY)})

    def test_what_was_typed_of_the_other_half_is_not_dropped(self):
        taken = {"belt_width": {"width_mm": "34.5"}}
        lines = {each.reading.key: each.state for each in look(TYPICAL, taken, sides=("primary",)).lines}
        self.assertEqual(lines["belt_width"], "taken")

    def test_its_bolt_stayed_on_the_machine(self):
        on, off = (Kinds("tower-and-button-primary", bare=bare).of("primary").guide for bare in (False, True))
        self.assertEqual({part.key for part in on.part} - {part.key for part in off.part}, {"bolt"})
        self.assertNotIn("retaining_bolt", {each.key for each in off.fastener})
        self.assertIn("retaining_bolt", {each.key for each in on.fastener})
        # A nut that holds the clutch itself together comes with it (common practice).
        nut = Kinds(None, "nut-retained-torque-spring-secondary", bare=True).of("secondary").guide
        self.assertIn("nut", {part.key for part in nut.part})

    def test_nobody_said_which_half_it_is(self):
        self.assertEqual(Kinds(bare=True).sides, ("primary", "secondary"))
        self.assertEqual(Kinds("light-torque-converter", "light-torque-converter", bare=True).sides,
                         ("primary", "secondary"))  # fmt: skip
        with self.assertRaises(InvalidValue) as caught:
            half_of(Kinds(bare=True))
        self.assertEqual(caught.exception.field, "clutch")
        self.assertEqual(half_of(SECONDARY), "secondary")


class Label(unittest.TestCase):
    def test_what_is_typical_is_not_known(self):
        lines = clutch_label("K7", TYPICAL, PRIMARY)
        self.assertIn("Arms: not known", lines)
        self.assertIn("Primary spring: not known", lines)
        self.assertFalse([line for line in lines if "elix" in line or "econdary" in line])

    def test_measured_stamped_and_put_in_here_are_told_as_that(self):
        evidence = {**TYPICAL.evidence, "primary.weights.base_mass_g": EvidencePart(origin="measured")}
        known = TYPICAL.model_copy(update={"evidence": evidence})
        lines = clutch_label("K7", known, PRIMARY, recorded={"primary_spring"})
        mass = known.primary.weights.base_mass_g
        self.assertIn(f"Arms 3 × {mass:g} g, measured", lines)
        spring = known.primary.spring
        self.assertIn(
            f"Primary spring {spring.force_start_n:,.0f} N / {spring.force_finish_n:,.0f} N, as put in here", lines
        )
        rider = {**TYPICAL.evidence, "primary.weights.base_mass_g": EvidencePart(origin="rider says")}
        self.assertIn("Arms: not known", clutch_label("K7", TYPICAL.model_copy(update={"evidence": rider}), PRIMARY))


class MountedOnAMachine(unittest.TestCase):
    def test_the_half_is_the_clutch_s_and_the_rest_the_machine_s(self):
        machine = packages()["sled-tower-850"].document
        evidence = {**TYPICAL.evidence, "primary.weights.base_mass_g": EvidencePart(origin="measured", sd=0.05)}
        clutch = TYPICAL.model_copy(update={"evidence": evidence})
        found = mounted(machine, clutch, "primary")
        self.assertEqual(found.primary, clutch.primary)
        self.assertEqual((found.secondary, found.belt, found.engine), (machine.secondary, machine.belt, machine.engine))
        self.assertEqual(found.evidence["primary.weights.base_mass_g"].origin, "measured")
        other = mounted(machine, clutch, "secondary")
        self.assertEqual((other.primary, other.secondary), (machine.primary, clutch.secondary))
        self.assertNotEqual(other.evidence.get("primary.weights.base_mass_g"),
                            EvidencePart(origin="measured", sd=0.05))  # fmt: skip

    def test_a_machine_taken_as_exact_stays_known_beside_a_strange_clutch(self):
        machine = document("mountain-sled")
        self.assertIsNone(machine.evidence)
        found = mounted(machine, packages()["sled-shimmed-600"].document, "primary")
        self.assertEqual(found.evidence["secondary.spring.force_start_n"].origin, "measured")
        self.assertEqual(found.evidence["primary.weights.base_mass_g"].origin, "typical")
        both = mounted(machine, document("mountain-sled"), "primary")
        self.assertIsNone(both.evidence)


class WorthIt(unittest.TestCase):
    looks: ClassVar[dict[Place, ItemLook]] = {
        ("primary", "primary_spring"): ItemLook("removed", grade="broken"),
        ("primary", "arm_bushing"): ItemLook("removed", readings=(0.2, 0.3, 0.25)),
    }
    offers: ClassVar[dict[str, PartOffer]] = {"primary spring": PartOffer("S-1", "primary spring", "", 48.0, 1)}

    def held(self, **strip) -> Inspection:
        limit: dict[Place, StatedLimit] = {("primary", "arm_bushing"): StatedLimit(0.5, "manual")}
        return Inspection(Strip("full strip", **strip), PRIMARY, self.looks, limit)

    def test_parts_and_minutes_beside_a_used_and_a_new_one(self):
        found = repair(self.held(used_price=40.0, new_price=520.0), self.offers)
        self.assertEqual((found.parts, found.minutes, found.lacks), (48.0, 15, ()))
        self.assertEqual(found.least_left[0], "arm bushings")
        self.assertAlmostEqual(found.least_left[1], 0.4)
        self.assertEqual(
            list(found.words()),
            [
                "Repair: parts 48.00, 15 min",
                "A used one: 40.00, 8.00 less than the parts alone",
                "A new one: 520.00, 472.00 more than the parts alone",
                "Of what stays in, nearest to its limit: arm bushings, 40% of the way left",
            ],
        )

    def test_with_an_hour_s_price_it_is_one_sum(self):
        found = repair(self.held(used_price=40.0, new_price=68.0), self.offers, hour=80.0)
        self.assertAlmostEqual(found.whole, 48.0 + 80.0 * 15 / 60)
        self.assertEqual(
            list(found.words())[:3],
            [
                "Repair: parts 48.00, 15 min at 80.00 an hour: 68.00",
                "A used one: 40.00, 28.00 less than the repair",
                "A new one: 68.00, as much as the repair",
            ],
        )
        unpriced = repair(self.held(used_price=40.0), hour=80.0)
        self.assertIsNone(unpriced.whole)
        self.assertEqual(list(unpriced.words())[1], "A used one: 40.00")

    def test_a_price_not_known_decides_nothing(self):
        found = repair(self.held(used_price=40.0))
        self.assertEqual((found.parts, found.lacks), (None, ("primary spring",)))
        self.assertEqual(
            list(found.words())[:2], ["Repair: parts not all priced here: primary spring, 15 min", "A used one: 40.00"]
        )
        # An item to be replaced in one of two ways: until one is chosen the sum is not whole.
        looks: dict[Place, ItemLook] = {
            **self.looks,
            ("primary", "arm_bushing"): ItemLook("removed", readings=(0.6, 0.3, 0.25)),
        }
        undecided = repair(replace(self.held(used_price=40.0), looks=looks), self.offers)
        self.assertEqual(undecided.undecided, ("arm bushings",))
        self.assertIn("A used one: 40.00", list(undecided.words()))

    def test_a_fault_that_no_item_stands_for_is_named(self):
        unequal = FoundFault(1, Fault("arms-unequal", (48.2, 48.2, 47.1)))
        broken = FoundFault(2, Fault("primary-spring-broken"))
        righted = FoundFault(3, Fault("arms-unequal", (48.2, 48.2, 47.1), "", "a set fitted"))
        found = repair(self.held(used_price=40.0), self.offers, (unequal, broken))
        self.assertEqual(found.undecided, ("weights unequal, 48.2 / 48.2 / 47.1 g",))
        self.assertEqual(repair(self.held(), self.offers, (righted,)).undecided, ())

    def test_every_kind_can_come_alone(self):
        for key, kind in kinds().items():
            if kind.side == "both":
                continue
            made = Kinds(key, bare=True) if kind.side == "primary" else Kinds(None, key, bare=True)
            self.assertEqual(made.sides, (kind.side,))
            self.assertTrue(made.of(kind.side).guide.item)
