"""Putting back, torque, balance, line-up, break-in and close, against published factors and plane geometry."""

import unittest

from jaxel.core.trade.visit.close_out import Count, on_list
from jaxel.core.trade.visit.close_out import lacks as not_back


class Counted(unittest.TestCase):
    def test_out_and_in(self):
        screws = Count("a", "Case screws, primary", "fastener", 13)
        waits = dict(not_back([screws, Count("b", "Torque wrench", "tool", 1)]))
        self.assertEqual(waits, {"count_a": "not counted in: 13 × case screws, primary, torque wrench"})
        for back, words in ((12, "case screws, primary: 12 of 13 back"), (13, None),
                            (14, "case screws, primary: 14 in, 13 went out")):  # fmt: skip
            held = on_list([screws], [Count("a", screws.name, "fastener", 13, back)])
            self.assertEqual(dict(not_back(held)).get("count_a"), words)
        shock = Count("c", "Front shock", "access", 1)
        self.assertEqual([each.key for each in on_list([screws], [shock])], ["a", "c"])
        self.assertIn("not refitted", dict(not_back([shock]))["count_c"])
        self.assertIn("own torque", dict(not_back([Count("c", "Front shock", "access", 1, 1)]))["count_c"])
        self.assertEqual(dict(not_back([Count("c", "Front shock", "access", 1, 1, "47 N·m")])), {})
