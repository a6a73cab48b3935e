"""What a recorded change opens, in any scope: its steps, counts and torques, its marks and its quick look."""

from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.rebuild.opened import worked_on
from jaxel.core.trade.setup.slots import numbers
from jaxel.core.trade.visit.stations import open_items, stations_of
from jaxel.store.edits import Edit
from jaxel.store.machine import upkeep
from jaxel.store.rebuild import rebuild
from jaxel.store.setup import fitting
from jaxel.store.stranger import bringing_in
from jaxel.store.strip import strip
from jaxel.store.visit import intake, visits
from tests.store.cases.belt_and_strip_case import KINDS
from tests.store.cases.store_case import StoreCase


class ByAChange(StoreCase):
    def steps(self, side="primary"):
        held = self.held()
        return {step.key: step for step in held.bench.steps(held.inspection) if step.side == side}

    def waits(self, station):
        return [(each.field, each.what) for each in open_items(self.held().record()) if each.station == station]

    def kinds(self, primary, secondary="bolt-in-helix-secondary"):
        upkeep.change(self.db, self.machine, {"primary_kind": Edit(None, primary),
                                              "secondary_kind": Edit(None, secondary)})  # fmt: skip

    def heavier(self):
        key = next(each for each in ("load_g.tip", "load_g.pocket 3", "load_g.pin") if each in self.numbers())
        self.try_out(**{key: self.numbers()[key].value + 1})
        self.record("one more piece in each tip pocket")

    def numbers(self):
        return numbers(self.held().as_left())

    def test_a_load_of_a_loaded_arm_takes_the_cover_off_and_nothing_else(self):
        self.kinds("loaded-arm-primary")
        self.heavier()
        steps = self.steps()
        self.assertEqual(list(steps), ["arms", "spring", "cover", "checks"])
        # The arms stayed on their pins: only their loads are looked at, alike in every one.
        self.assertEqual([(ask.sort, ask.key) for ask in steps["arms"].asks], [("loads", "loads")])
        self.assertEqual(steps["arms"].matched, ())
        self.assertTrue(steps["cover"].fasteners)
        self.assertIn("cover_bolts", " ".join(each.key for each in self.held().record().to_count))
        self.assertNotIn("pivot", " ".join(each.key for each in self.held().record().to_count))

    def test_a_part_that_is_changed_whole_is_not_worked_on_where_it_sits(self):
        known = Kinds("loaded-arm-primary", "bolt-in-helix-secondary")
        self.assertEqual(worked_on(["load:tip", "shim"], known), {"primary": ["arms"]})
        self.assertEqual(worked_on(["primary_spring", "helix"], known), {})

    def test_a_kind_nobody_stated_is_asked_at_that_moment(self):
        self.heavier()
        self.assertIn("rebuild", stations_of(self.held().record()))
        asked = ("primary_kind", "primary: of which kind it is: what its change opened has to go back")
        self.assertIn(asked, self.waits("rebuild"))
        intake.state_kinds(self.db, self.visit, {"primary_kind": Edit(None, "loaded-arm-primary")})
        self.assertNotIn(asked, self.waits("rebuild"))
        self.assertIn("cover", self.steps())

    def test_a_clutch_off_its_taper_brings_its_bolt_its_puller_and_its_torque(self):
        self.kinds("tower-and-button-primary")
        self.heavier()
        self.assertNotIn("bolt", self.steps())
        rebuild.off_shaft(self.db, self.visit, "primary", Edit(False, True))
        bolt = self.steps()["bolt"]
        self.assertIn("retaining_bolt", [each.key for each, _ in bolt.fasteners])
        (tools,) = (each.name for each in self.held().record().to_count if each.sort == "tool")
        self.assertIn("clutch puller", tools)
        rebuild.off_shaft(self.db, self.visit, "primary", Edit(True, False))
        self.assertNotIn("bolt", self.steps())

    def test_what_it_opened_is_marked_and_looked_at_there_and_then_and_nothing_insists_on_it(self):
        self.kinds("tower-and-button-primary")
        self.assertNotIn("strip", stations_of(self.held().record()))
        self.heavier()
        held = self.held()
        self.assertIn("strip", stations_of(held.record()))
        offered = {item.key for side, item in held.inspection.items() if side == "primary"}
        self.assertIn("primary_spring", offered)
        self.assertIn("arm_bushing", offered)
        self.assertNotIn("sheave_bushing", offered)  # that lies deeper
        self.assertEqual(self.waits("strip"), [])
        strip.mark(self.db, self.visit, "primary.cover", Edit(False, True))
        strip.look(self.db, self.visit, "primary", "buttons", {"looked": Edit("", "assembled")})
        self.assertEqual([words for _, words in self.waits("strip")], ["buttons in their towers: a finding"])
        marks = [ask for ask in self.steps()["cover"].asks if ask.sort in ("mark", "unmarked")]
        self.assertEqual([(ask.sort, "No mark" in ask.words) for ask in marks], [("mark", False)])

    def test_the_weights_of_a_variator_open_its_pack(self):
        quad = bringing_in.Stranger(
            machine="quad", primary="roller-variator-primary", secondary="nut-retained-torque-spring-secondary",
            engine="four-stroke, under 600 cc", name="Quad", rider="Rider", complaint="bogs", readings={},
        )  # fmt: skip
        self.visit = bringing_in.bring_in(self.db, quad, visits.open_visit, "Jo")
        key = next(each for each in self.numbers() if "mass" in each)
        fitting.try_numbers(
            self.db, self.visit, "left", {key: Edit(self.numbers()[key].value, self.numbers()[key].value - 0.5)}
        )
        self.record("lighter rollers")
        steps = self.steps()
        self.assertLess({"pack", "weights"}, set(steps))
        pack = steps["pack"]
        self.assertIn("stop", [ask.sort for ask in pack.asks])
        self.assertTrue(any(ask.sort == "facing" for ask in steps["weights"].asks))

    def test_a_helix_alone_is_its_helix_and_its_screws(self):
        upkeep.change(self.db, self.machine, KINDS)
        key = next(each for each in self.numbers() if each.startswith("helix_deg"))
        self.try_out(**{key: self.numbers()[key].value + 2})
        self.record("steeper helix")
        self.assertEqual(list(self.steps("secondary")), ["helix", "checks"])
        self.assertEqual(self.steps("primary"), {})
