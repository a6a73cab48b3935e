"""What a record says of its fields: words, whether a hand writes them, unit, bounds, choices."""

import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.belt.check import BeltCheck
from jaxel.core.trade.line_up.line_up import LineUp
from jaxel.core.trade.rebuild.tightening import Tightened
from jaxel.core.trade.record.said import check_value, fields_of, written
from jaxel.core.trade.setup.tried import SetUp


class Fields(unittest.TestCase):
    def test_what_is_read_from_a_declaration(self):
        belt = fields_of(BeltCheck)
        gap, decision, reason = belt["side_gap_mm"], belt["decision"], belt["reason"]
        self.assertEqual((gap.said.words, gap.unit, gap.optional, gap.kind), ("side gap", "mm", True, float))
        self.assertEqual((decision.choices, decision.optional, decision.unit),
                         (("run on", "spare", "discard"), True, None))  # fmt: skip
        self.assertEqual((reason.optional, reason.required, belt["belt_id"].required), (False, False, True))
        behind = fields_of(LineUp)["behind"]
        self.assertEqual((behind.is_json, behind.unit), (True, "mm"))
        self.assertEqual(fields_of(SetUp)["found_draft"].said.station, "intake")

    def test_a_hand_writes_what_is_its_own(self):
        self.assertEqual(
            written(Tightened),
            {"state", "torque_nm", "means", "wrench", "note", "size", "thread", "used_instead", "did"},
        )
        self.assertNotIn("belt_id", written(BeltCheck))

    def test_bounds_refuse_in_the_words_of_a_document(self):
        for record, name, value in ((Tightened, "torque_nm", 0), (Tightened, "torque_nm", 5000.1),
                                    (LineUp, "front_mm", -0.1), (LineUp, "far_mm", -500.1)):  # fmt: skip
            with self.assertRaises(InvalidValue) as caught:
                check_value(record, name, value)
            self.assertEqual(caught.exception.field, name)
        check_value(LineUp, "far_mm", -500)
        check_value(Tightened, "torque_nm", 5000)
