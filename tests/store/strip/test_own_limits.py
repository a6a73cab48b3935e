"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.store.db import NotFound
from jaxel.store.machine import machines, upkeep
from jaxel.store.record import facts
from jaxel.store.strip import item_limits
from tests.examples import example, read
from tests.store.cases.belt_and_strip_case import KINDS, Stripped


class OwnLimits(Stripped):
    def test_a_machines_before_its_kinds_and_the_manual_before_memory(self):
        kind, names = "tower-and-button-primary", {each.name: each.id for each in facts.standing(self.db, "item")}
        item_limits.withdraw(self.db, names["arm_bushing"])
        self.reads("primary", "arm_bushing", 0.6)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")  # nobody stated a limit
        here: dict[str, Any] = {"machine_id": self.machine}
        item_limits.state(self.db, kind, "arm_bushing", 0.8, "from memory", **here)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "watch")  # 75 % of the way
        late = item_limits.state(self.db, kind, "arm_bushing", 0.9, "manual", **here)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")
        item_limits.withdraw(self.db, late)
        mine = item_limits.state(self.db, kind, "arm_bushing", 0.5, "from memory", **here)
        found = self.verdict("primary", "arm_bushing")
        self.assertEqual(found.finding, "replace")
        self.assertIn("this machine's from memory", found.sentences[0])
        item_limits.withdraw(self.db, mine)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "watch")
        with self.assertRaises(NotFound):
            item_limits.withdraw(self.db, mine)

    def test_anothers_is_offered_and_holds_nowhere_else(self):
        kind = "tower-and-button-primary"
        other = machines.bring_in(self.db, read(example("mountain-sled")), "sled", "Maren")
        upkeep.change(self.db, other, KINDS)
        item_limits.state(self.db, kind, "cover_bushing", 0.3, "manual", machine_id=other)
        self.db.execute(
            "INSERT INTO stated (what, kind, name, value, origin, stated_at, stated_by)"
            " VALUES ('item', ?, 'cover_bushing', 0.2, 'manual', '2026-01-01T00:00:00Z', 'Jo')",
            (kind,),
        )
        self.reads("primary", "cover_bushing", 0.5)
        self.assertEqual(self.verdict("primary", "cover_bushing").finding, "keep")
        on = facts.on_machine(self.db, self.machine)
        offered = item_limits.Stated(self.db).offered(kind, "cover_bushing", on)
        name = machines.get(self.db, other).name
        self.assertEqual(
            [(each.value, each.whose(on)) for each in offered],
            [(0.3, f"another machine's: {name}, its manual"), (0.2, "machine and manual not recorded")],
        )
        item_limits.state(self.db, kind, "cover_bushing", 0.4, "manual", machine_id=self.machine,
                          model="Fell 600", manual="Fell manual")  # fmt: skip
        found = self.verdict("primary", "cover_bushing")
        self.assertEqual(found.finding, "replace")
        self.assertIn("every Fell 600: Fell manual", found.sentences[0])

    def test_a_limit_that_cannot_be(self):
        other = machines.bring_in(self.db, read(example("quad")), "quad")
        kind = "tower-and-button-primary"
        for item, value, machine, field in (
            ("arm_bushing", -0.05, None, "value"),
            ("arm_face", 1.0, None, "item"),  # nothing is measured of it
            ("slide_guide", 1.0, None, "item"),
            ("arm_bushing", 0.5, other, "machine_id"),
            ("arm_bushing", 0.5, None, "model"),
        ):
            with self.subTest(item), self.assertRaises(InvalidValue) as raised:
                item_limits.state(self.db, kind, item, value, "manual", machine_id=machine)
            self.assertEqual(raised.exception.field, field)
