"""The sheet a rider takes along: may it leave and why not, what was wrong, before and after, and what to look at."""

import json

from jaxel.core.trade.belt.look import Mark
from jaxel.core.words import told
from jaxel.store.belt import belt_checks
from jaxel.store.edits import Edit
from jaxel.store.line_up import line_up
from jaxel.store.strip import strip
from jaxel.store.visit import close_out, hand_over, intake, pages
from tests.store.cases.belt_and_strip_case import Stripped
from tests.store.cases.store_case import StoreCase


class Sheet(StoreCase):
    def sheet(self):
        return pages.page(self.db, self.held()).rider

    def test_what_is_open_stands_in_the_way_by_name(self):
        leave = self.sheet().leave
        self.assertEqual(leave.state, "not yet")
        self.assertRegex(leave.words, r"^Not yet: \d+ things are open\.$")
        self.assertIn("complaint in the rider's words", leave.why)

    def test_unrepaired_it_says_so_with_the_reason_and_what_is_amiss(self):
        close_out.add(self.db, self.visit, "Brake-line bracket", "brake line", 1, "", "Jo")
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "rider in a hurry", "Jo")
        leave = self.sheet().leave
        self.assertEqual((leave.state, leave.words, leave.why[0]), ("no", "It leaves unrepaired.", "rider in a hurry"))
        self.assertIn("a brake line was moved; the brake was not tried", leave.why)

    def test_what_was_wrong_is_the_rider_s_words_and_what_the_belt_says(self):
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs on the climb")}, "Jo")
        for place, width in ((1, 35.2), (2, 35.2), (3, 35.1)):
            self.measure(place, width)
        words = [told(line.words) for line in self.sheet().wrong]
        # New 36.5 mm, limit 35.0: (36.5 − 35.17)/1.5 is 89 %.
        self.assertEqual(words[0], "“bogs on the climb”")
        self.assertRegex(words[1], r"^Belt: 89% of the wear is used")

    def test_what_the_eye_found_and_why_it_runs_on_all_the_same(self):
        for flank in ("inner", "outer"):
            belt_checks.found_mark(self.db, self.visit, Mark("cup", 0.3, flank))
        words = [told(line.words) for line in self.sheet().wrong]
        self.assertTrue(any("oth flanks" in each for each in words), words)
        belt_checks.change(self.db, self.visit, {"decision": Edit(self.held().belt.decision, "run on"),
                                                 "reason": Edit("", "rider was told")})  # fmt: skip
        self.assertEqual(self.sheet().steps, ("It runs on: rider was told.",))

    def test_the_belt_it_leaves_on_with_its_limit_and_whose_it_is(self):
        for place, width in ((1, 36.2), (2, 36.1), (3, 36.0)):
            self.measure(place, width)
        name, known = (told(each) for each in self.sheet().belt)
        self.assertEqual(name, "Your belt")
        self.assertRegex(known, r"^36\.1 mm wide, worn out at 35 mm \(")

    def test_a_line_up_that_was_measured_was_done(self):
        intake.set_scope(self.db, self.visit, Edit("tune", "service"))
        self.assertNotIn("Line-up measured", [each.what for each in self.sheet().done])
        values = {"base_mm": 260.0, "nominal_mm": 35.0, "front_mm": 36.4, "rear_mm": 36.2, "behind": [1.0, 0.5]}
        edits = {name: Edit([] if name == "behind" else None, now) for name, now in values.items()}
        line_up.change(self.db, self.visit, {"way": Edit("", "gaps")} | edits)
        (done,) = [each.part for each in self.sheet().done if each.what == "Line-up measured"]
        # Offset (36.4 + 36.2)/2 − 35; toe atan(0.2/260).
        self.assertTrue(told(done).startswith(
            "offset +1.3 mm, toe +0.04°; shims behind the secondary: 1.5 mm; offset out by 1.3 mm"
        ), told(done))  # fmt: skip

    def test_a_belt_decided_and_not_fitted_is_not_told_as_done(self):
        belt_checks.change(self.db, self.visit, {"decision": Edit(self.held().belt.decision, "discard")})
        self.assertNotIn("Belt changed", [each.what for each in self.sheet().done])
        belt_checks.change(self.db, self.visit, {"next_is": Edit(self.held().belt.next_is, "used")})
        self.assertIn(("Belt changed", "used one fitted"), [(each.what, each.part) for each in self.sheet().done])

    def test_a_belt_that_went_on_again(self):
        belt_checks.change(self.db, self.visit, {"decision": Edit(self.held().belt.decision, "run on")})
        self.assertEqual(self.sheet().done, ())
        belt_checks.change(self.db, self.visit, {"went_on": Edit("", "as it came off")})
        self.assertEqual([(each.what, each.part) for each in self.sheet().done],
                         [("Belt off and on again", "as it came off")])  # fmt: skip
        belt_checks.change(self.db, self.visit, {"decision": Edit("run on", "discard")})  # and what goes on is not said
        self.assertEqual(self.sheet().done, ())

    def test_measured_goes_before_predicted_and_each_says_which_it_is(self):
        intake.change(self.db, self.visit, {"baseline_engagement_rpm": Edit(None, 3700)}, "Jo")
        engages, pulls = self.sheet().compared
        self.assertEqual((engages.name, engages.before.rpm, engages.before.how), ("Engages at", 3700, "measured"))
        self.assertEqual((engages.after.how, pulls.before.how), ("predicted", "predicted"))
        self.assertGreater(pulls.before.sd_rpm, 0)
        held = self.held().intake
        self.assertEqual(
            (pulls.wanted.rpm, pulls.wanted.tolerance_rpm), (held.target_shift_rpm, held.target_shift_tolerance_rpm)
        )

    def test_a_belt_change_is_closed_without_an_rpm(self):
        intake.set_scope(self.db, self.visit, Edit(self.held().scope, "belt"))
        self.assertEqual(self.sheet().compared, ())

    def test_a_window_nobody_stated_is_none(self):
        intake.change(self.db, self.visit, {"target_typical": Edit(False, True)}, "Jo")
        self.assertEqual([each.wanted for each in self.sheet().compared], [None, None])

    def test_whose_hands_wrote_the_record(self):
        intake.change(self.db, self.visit, {"odometer_km": Edit(None, 810.0)}, "Maren")
        intake.change(self.db, self.visit, {"complaint": Edit("", "bogs")}, "Jo")
        intake.change(self.db, self.visit, {"complaint": Edit("bogs", "bogs at once")}, "Maren")
        intake.change(self.db, self.visit, {"complaint": Edit("bogs at once", "bogs")}, "bench")  # nobody by name
        self.assertEqual(self.sheet().noted, ("Maren", "Jo"))

    def test_when_to_come_back(self):
        hand_over.change(self.db, self.visit, {"watch": Edit("", "a new belt"), "next_service_km": Edit(None, 4500.0)},
                         "Jo")  # fmt: skip
        self.assertEqual([(each.what, told(each.when)) for each in self.sheet().look_at],
                         [("a new belt", ""), ("Clutch service", "at 4,500 km")])  # fmt: skip

    def test_kept_as_it_was_signed_and_none_of_a_page_from_before(self):
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "rider in a hurry", "Jo")
        before = self.sheet()
        self.assertEqual(self.sheet(), before)
        held = self.db.execute("SELECT document FROM hand_over_page WHERE visit_id = ?", (self.visit,)).fetchone()[0]
        old = {key: value for key, value in json.loads(held).items() if key != "rider"} | {"version": 1}
        self.db.execute("DROP TRIGGER IF EXISTS hand_over_page_kept")
        self.db.execute("UPDATE hand_over_page SET document = ? WHERE visit_id = ?", (json.dumps(old), self.visit))
        self.assertIsNone(self.sheet())


class LookedAt(Stripped):
    def test_what_was_looked_at_stands_as_far_as_it_was_opened(self):
        strip.change(self.db, self.visit, {"depth": Edit(None, "full strip")})
        strip.change(self.db, self.visit, {"secondary_depth": Edit(None, "on machine")})
        self.assertEqual(pages.page(self.db, self.held()).rider.done, ())
        self.reads("primary", "arm_bushing", 1.0)
        strip.rest(self.db, self.visit, "primary", "looked over")
        strip.rest(self.db, self.visit, "secondary", "looked over")
        self.assertEqual([(each.what, each.part) for each in pages.page(self.db, self.held()).rider.done],
                         [("Looked at: primary, stripped", "15 items: 1 to be replaced"),
                          ("Looked at: secondary, on the machine", "4 items: nothing worn seen")])  # fmt: skip
        rows = {row.key: row for row in pages.page(self.db, self.held()).rows}
        self.assertEqual(told(rows["strip"].lines[0].words), "Primary stripped; secondary on the machine")
