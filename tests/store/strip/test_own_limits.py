"""The store of belts and strips: a life through visits, a belt that broke, looks, limits, parts, what is due."""

from jaxel.core.errors import InvalidValue
from jaxel.store.db import NotFound
from jaxel.store.machine import machines
from jaxel.store.record import facts
from jaxel.store.strip import item_limits
from tests.examples import example, read
from tests.store.cases.belt_and_strip_case import Stripped


class OwnLimits(Stripped):
    def test_a_machines_before_its_kinds_and_the_manual_before_memory(self):
        kind, names = "tower-and-button-primary", {each.name: each.id for each in facts.standing(self.db, "item")}
        item_limits.withdraw(self.db, names["arm_bushing"])
        self.reads("primary", "arm_bushing", 0.6)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")  # nobody stated a limit
        item_limits.state(self.db, kind, "arm_bushing", 0.8, "from memory")
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "watch")  # 75 % of the way
        item_limits.state(self.db, kind, "arm_bushing", 0.9, "manual")
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")
        mine = item_limits.state(self.db, kind, "arm_bushing", 0.5, "from memory", machine_id=self.machine)
        found = self.verdict("primary", "arm_bushing")
        self.assertEqual(found.finding, "replace")
        self.assertIn("this machine's from memory", found.sentences[0])
        item_limits.withdraw(self.db, mine)
        self.assertEqual(self.verdict("primary", "arm_bushing").finding, "keep")
        with self.assertRaises(NotFound):
            item_limits.withdraw(self.db, mine)

    def test_a_limit_that_cannot_be(self):
        other = machines.bring_in(self.db, read(example("quad")), "quad")
        kind = "tower-and-button-primary"
        for item, value, machine, field in (
            ("arm_bushing", -0.05, None, "value"),
            ("arm_face", 1.0, None, "item"),  # nothing is measured of it
            ("slide_guide", 1.0, None, "item"),
            ("arm_bushing", 0.5, other, "machine_id"),
        ):
            with self.subTest(item), self.assertRaises(InvalidValue) as raised:
                item_limits.state(self.db, kind, item, value, "manual", machine_id=machine)
            self.assertEqual(raised.exception.field, field)
