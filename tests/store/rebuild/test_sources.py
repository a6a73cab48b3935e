"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from typing import Any

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.rebuild.tightening import wanted
from jaxel.core.units import FOOT_POUND
from jaxel.store.db import NotFound
from jaxel.store.edits import Edit
from jaxel.store.machine import machines, upkeep
from jaxel.store.rebuild import torques
from tests.examples import example, read
from tests.store.cases.back_together_case import Opened
from tests.store.cases.belt_and_strip_case import KINDS


class Sources(Opened):
    PLACE = ("bolt-in-helix-secondary", "helix_screws")

    def said(self):
        found = torques.of_machine(self.db, self.machine, self.held().kinds)
        return found.statements.get(self.PLACE, []), found.chosen.get(self.PLACE)

    def nobodys(self, torque):
        """Stated by a version that did not ask of which machine."""
        self.db.execute("INSERT INTO stated (what, kind, name, value, tightness, origin, stated_at, stated_by)"
                        " VALUES ('torque', ?, ?, ?, 'torque', 'manual', '2026-01-01T00:00:00Z', 'Jo')",
                        (*self.PLACE, torque))  # fmt: skip
        return self.db.execute("SELECT max(id) FROM stated").fetchone()[0]

    def another(self, name="Maren", **said):
        machine = machines.bring_in(self.db, read(example("mountain-sled")), "sled", name)
        upkeep.change(self.db, machine, KINDS | {key: Edit("", value) for key, value in said.items()})
        return machine

    def test_two_sources_and_the_one_that_holds_here(self):
        elsewhere = self.nobodys(14.0)
        (shown,) = self.said()[0]
        self.assertEqual((shown.whose, shown.words), ("machine and manual not recorded", shown.words))
        # Nobody knows whose it is: it holds nowhere, and is gone by on no machine.
        self.assertIsNone(wanted(torques.fastener_of(*self.PLACE), self.said()[0], elsewhere).by)
        self.assertRaises(NotFound, torques.choose, self.db, self.machine, elsewhere)
        manual = torques.state(self.db, *self.PLACE, "torque", 13.5, "manual", machine_id=self.machine)
        sheet = torques.state(self.db, *self.PLACE, "torque", 11.5, "part maker's sheet", machine_id=self.machine)
        self.assertEqual([(each.own, each.whose) for each in self.said()[0]],
                         [(True, "manual"), (True, "part maker's sheet"), (False, shown.whose)])  # fmt: skip
        torques.choose(self.db, self.machine, sheet)
        self.assertEqual(self.said()[1], sheet)
        torques.withdraw(self.db, self.machine, manual)
        self.assertEqual([each.id for each in self.said()[0]], [sheet, elsewhere])
        self.assertRaises(NotFound, torques.withdraw, self.db, self.machine, manual)
        self.assertRaises(NotFound, torques.choose, self.db, self.machine, manual)

    def test_a_machine_withdraws_its_own_and_what_is_nobodys(self):
        neighbour = self.another()
        theirs = torques.state(self.db, *self.PLACE, "torque", 12.0, "manual", machine_id=neighbour)
        nobodys = self.nobodys(14.0)
        self.assertEqual({each.id: each.ours for each in self.said()[0]}, {theirs: False, nobodys: True})
        self.assertEqual({each.id: each.whose for each in self.said()[0]}[theirs],
                         f"another machine's: {machines.get(self.db, neighbour).name}, its manual")  # fmt: skip
        self.assertRaises(NotFound, torques.withdraw, self.db, self.machine, theirs)
        torques.withdraw(self.db, self.machine, nobodys)
        self.assertEqual([each.id for each in self.said()[0]], [theirs])

    def test_every_one_of_a_make_and_model_names_its_manual(self):
        with self.assertRaises(InvalidValue) as caught:
            torques.state(self.db, *self.PLACE, "torque", 13.0, "manual", machine_id=self.machine, model="Tarn 850")
        self.assertEqual(caught.exception.field, "manual")
        of: dict[str, Any] = {"machine_id": self.machine, "model": "Tarn 850", "manual": "Tarn workshop manual, 2024"}
        every = torques.state(self.db, *self.PLACE, "torque", 13.0, "manual", **of)
        self.assertEqual(machines.get(self.db, self.machine).model, "Tarn 850")  # it is one, as was said
        (shown,) = self.said()[0]
        self.assertEqual((shown.own, shown.whose, shown.touches),
                         (True, "every Tarn 850: Tarn workshop manual, 2024", 1))  # fmt: skip
        alike, other = self.another(model="tarn850"), self.another("Liv", model="Fell 600")
        self.assertEqual(self.said()[0][0].touches, 2)
        for machine, own in ((alike, True), (other, False)):
            (seen,) = torques.of_machine(self.db, machine, self.held().kinds).statements[self.PLACE]
            self.assertEqual(seen.own, own)
        self.assertEqual(seen.whose, "another make and model's: Tarn 850, Tarn workshop manual, 2024")
        with self.assertRaises(InvalidValue) as caught:
            torques.state(self.db, *self.PLACE, "torque", 13.0, "manual", **of | {"machine_id": other})
        self.assertEqual(caught.exception.field, "model")
        torques.withdraw(self.db, alike, every)
        self.assertEqual(self.said()[0], [])

    def test_of_what_others_say_a_few_are_offered(self):
        for torque in (11.0, 12.0, 13.0, 14.0, 15.0):
            torques.state(self.db, *self.PLACE, "torque", torque, "manual", machine_id=self.another(f"Rider {torque}"))
        own = torques.state(self.db, *self.PLACE, "torque", 13.5, "from memory", machine_id=self.machine)
        shown = self.said()[0]
        self.assertEqual((shown[0].id, [each.torque_nm for each in shown[1:]]), (own, [15.0, 14.0, 13.0]))

    def test_a_double_brings_its_statements_along(self):
        double = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Maren")
        upkeep.change(self.db, double, KINDS)
        stated = torques.state(self.db, *self.PLACE, "torque", 12.0, "manual", machine_id=double)
        torques.choose(self.db, double, stated)
        upkeep.merge(self.db, self.machine, double)
        self.assertEqual((self.said()[0][0].torque_nm, self.said()[1]), (12.0, stated))

    def test_what_cannot_be_stated(self):
        cases: tuple[tuple[Any, str], ...] = (
            (("steam", "helix_screws", "torque", 14.0, "manual"), "fastener"),
            ((*self.PLACE, "torque", None, "manual"), "torque"), ((*self.PLACE, "snug", 14.0, "manual"), "torque"),
            ((*self.PLACE, "torque", 14.0, "a friend"), "origin"), ((*self.PLACE, "hard", None, "manual"), "tightness"),
            ((*self.PLACE, "torque", -1.0, "manual"), "torque"), ((*self.PLACE, "torque", 9e9, "manual"), "torque"),
        )  # fmt: skip
        for values, field in cases:
            with self.subTest(values), self.assertRaises(InvalidValue) as caught:
                torques.state(self.db, *values, machine_id=self.machine)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaises(Implausible) as asked:
            torques.state(self.db, *self.PLACE, "torque", 60 * FOOT_POUND, "manual", machine_id=self.machine)
        self.assertEqual(asked.exception.meant, {})
        self.assertEqual(self.said()[0], [])
