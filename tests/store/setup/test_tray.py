"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

from jaxel.core.errors import InvalidValue
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit
from jaxel.store.machine import upkeep
from jaxel.store.setup import fitting
from jaxel.store.setup.fitting import Fill
from jaxel.store.shelf import parts
from tests.store.cases.set_up_bench_case import Bench


class OnTheTray(Bench):
    def test_a_part_fills_its_slot_and_what_is_typed_over_it_is_a_reading_of_it(self):
        self.fill("primary_spring", "PS-1")
        spring = self.held().as_left().primary.spring
        self.assertEqual((spring.force_start_n, spring.force_finish_n), (640, 1390))
        self.try_out(primary_start_n=633)
        typed = {"primary_start_n": 633, "primary_finish_n": 1390}
        self.assertEqual(self.held().set_up.left_draft, {"part.primary_spring": self.parts["PS-1"]} | typed)
        self.fill("primary_spring")
        self.assertEqual(self.held().set_up.left_draft, {})
        self.assertEqual(self.held().as_left().primary.spring.force_start_n, 755)

    def test_a_kit_fills_every_slot_it_has_a_part_for(self):
        self.fill("kit", "KT-1")
        left = self.held().as_left()
        self.assertEqual((round(left.primary.weights.base_mass_g, 3), left.primary.spring.force_start_n), (57, 640))
        self.assertEqual(set(self.held().tray), {"arms", "primary_spring"})

    def test_an_answer_replaces_what_lies_there(self):
        self.try_out(shim_mm=0.5)
        self.fill("load:tip", "L-15", whole=True, numbers={"helix_deg.0": 43.0})
        left = self.held().as_left()
        self.assertEqual(left.primary.shim_mm, 0)
        self.assertEqual((left.secondary.helix.angles[0].deg, left.primary.weights.loads[0].mass_g), (43, 1.5))

    def test_what_cannot_go_there_is_refused_and_nothing_changes(self):
        upkeep.change(self.db, self.machine, {"primary_kind": Edit(None, "shimmed-spider-primary")})
        for slot, number, reason in (
            ("arms", "VR-1", "VR-1 is for another clutch: roller variator"),
            ("arms", "PS-1", "does not go there"),
            ("load:knee", "L-15", "does not go there"),
        ):
            with self.assertRaisesRegex(InvalidValue, reason) as caught:
                self.fill(slot, number)
            self.assertEqual(caught.exception.field, "part")
        with self.assertRaisesRegex(InvalidValue, "no longer on the shelf"):
            fitting.fill(self.db, self.visit, [Fill("arms", 99)], {})
        with self.assertRaises(Conflict):
            fitting.fill(self.db, self.visit, [Fill("arms", self.parts["A-57"])], {"shim_mm": 1.0})
        self.assertEqual(self.held().set_up.left_draft, {})

    def test_a_part_on_a_tray_stays_what_it_is(self):
        self.fill("kit", "KT-1")
        for number in ("KT-1", "PS-1"):
            with self.assertRaisesRegex(Conflict, f"tray of visit {self.visit}"):
                parts.remove(self.db, self.parts[number])
        held = parts.one(self.db, self.parts["PS-1"]).spec
        with self.assertRaisesRegex(Conflict, "PS-1 lies on the tray"):
            parts.change(self.db, self.parts["PS-1"], {"spec": Edit(held, held | {"force_start_n": 700.0})})
        parts.change(self.db, self.parts["PS-1"], {"place": Edit("", "rack")})
        parts.remove(self.db, self.parts["A-58"])
