"""What hands did beside what was decided: asked once, kept for the machine at the sign-off, never made up."""

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.rebuild.done import rightings
from jaxel.core.trade.strip.inspection import Check
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit, undo
from jaxel.store.rebuild import done
from jaxel.store.shelf import lifetimes, parts, shelf
from jaxel.store.strip import strip
from jaxel.store.visit import dues, hand_over, pages, visits
from tests.store.cases.belt_and_strip_case import Stripped


class Done(Stripped):
    def setUp(self):
        super().setUp()
        self.complete()
        self.part = parts.add(self.db, "FB-3", "arm bushing")
        shelf.count(self.db, self.part, Edit(None, 4))
        self.reads("primary", "arm_bushing", 0.6)
        self.look("primary", "arm_bushing", looked="assembled", remedy="bushings")
        self.look("primary", "arm_roller", looked="assembled", grade="free")

    def events(self):
        rows = self.db.execute("SELECT kind, number, pieces, way FROM part_event WHERE side <> 'belt' ORDER BY id")
        return [tuple(row) for row in rows]

    def due(self):
        return next(each.due for each in dues.of_workshop(self.db) if each.due.key == "primary.arm_bushing")

    def page(self, row):
        found = next((each for each in pages.page(self.db, self.held()).rows if each.key == row), None)
        return [line.words for line in found.lines] if found else []

    def steps(self):
        held = self.held()
        return {step.place: step for step in held.bench.steps(held.inspection)}

    def test_asked_where_the_part_goes_back_though_nobody_took_it_off(self):
        (step,) = self.steps().values()
        self.assertEqual((step.place, step.asks, step.fasteners), ("primary.arms", (), ()))
        ((righting, said),) = step.righted
        self.assertEqual((righting.place, said.how), (("primary", "arm_bushing"), ""))
        # Nothing was fitted, nothing was opened; what is fitted opens what lies before it.
        self.did("primary", "arm_bushing", how="not done", why="next time")
        self.assertEqual([step.asks for step in self.steps().values()], [()])
        self.did("primary", "arm_bushing", how="new")
        opened = self.held().bench.opened(self.held().inspection)
        keys = [part.key for part in opened[0].parts]
        self.assertEqual(keys[-1], "arms")
        self.assertIn("cover", keys)
        self.assertNotIn("moving", keys)

    def test_new_fitted_begins_a_life_and_takes_pieces_from_the_shelf(self):
        self.did("primary", "arm_bushing", how="new", number="FB-3", price=38.0)
        self.sign()
        self.assertEqual(self.events(), [("arm bushing", "", 3, "out"), ("arm bushing", "FB-3", 3, "in")])
        self.assertEqual(shelf.at_hand(self.db)[self.part], 1)
        self.assertEqual((self.due().check, self.due().why.split(":")[0]),
                         (Check(1800, None, True), "new fitted, usual check"))  # fmt: skip
        (words,) = self.page("done")
        self.assertTrue(words.startswith("Arm bushings, primary: new fitted FB-3, 38.00 · bench, "), words)

    def test_a_used_one_ends_a_life_and_begins_none(self):
        self.did("primary", "arm_bushing", how="used")
        self.sign()
        self.assertEqual(self.events(), [("arm bushing", "", 3, "out")])
        self.assertEqual(shelf.at_hand(self.db)[self.part], 4)
        self.assertEqual(self.due().check, Check(1350, None, True))  # half of the usual 900

    def test_dressed_or_told_and_gone_on_begin_and_end_nothing(self):
        for how, why, said in (
            ("dressed", "", "Arm bushings, primary: cleaned or dressed, not replaced"),
            ("not done", "told, rider goes on", "Arm bushings, primary: not replaced: told, rider goes on"),
        ):
            with self.subTest(how):
                self.did("primary", "arm_bushing", how=how, why=why)
                self.sign()
                self.assertEqual(self.events(), [])
                self.assertEqual(self.due().check, Check(self.held().intake.odometer_km + 450, None, True))
                self.assertTrue(self.page("done")[0].startswith(said), self.page("done"))
                self.again("tune")
                self.complete_next(1900)
                self.reads("primary", "arm_bushing", 0.7)
                self.look("primary", "arm_bushing", looked="assembled", remedy="bushings")
                self.look("primary", "arm_roller", looked="assembled", grade="free")
                # The same part runs on: its readings are one trend.
                self.assertEqual(self.held().inspection.before["primary", "arm_bushing"][0], (900.0, 0.6))

    def complete_next(self, km):
        self.note(odometer_km=km, complaint="again")
        self.confirm()
        for place in (1, 2, 3):
            self.measure(place, 36.0)
        self.decide(decision="run on")
        self.ride(engagement_rpm=4000.0, shift_rpm=7800.0)

    def test_not_in_stock_keeps_the_visit_waiting(self):
        self.did("primary", "arm_bushing", how="not done", why="not in stock")
        self.assertEqual(self.waits("rebuild"), [("primary.arms", "primary: waits for arm bushing ×3: not in stock")])
        with self.assertRaises(hand_over.NotReady):
            self.sign()
        # A machine may be fetched all the same: then the page says so, and nothing was fitted.
        hand_over.close_unrepaired(self.db, self.visit, self.held().edit, "fetched before they came", "Jo")
        self.assertEqual(self.events(), [])
        self.assertTrue(self.page("done")[0].startswith("Arm bushings, primary: not replaced: not in stock"))

    def test_what_the_same_parts_put_right_is_asked_once(self):
        self.look("primary", "arm_face", looked="assembled", grade="grooved", remedy="arms")
        self.look("primary", "arm_bushing", remedy="arms")
        found = [(each.place, each.name) for each in rightings(self.held().inspection)]
        self.assertEqual(len(found), 1, found)
        self.assertIn(" and ", found[0][1])

    def test_what_broke_is_counted_and_found_or_not(self):
        self.look("primary", "primary_spring", looked="removed", grade="broken")
        self.did("primary", "arm_bushing", how="used")
        self.did("primary", "primary_spring", how="new")
        self.assertIn("primary: primary spring: pieces counted, and found or not",
                      [words for _, words in self.waits("rebuild")])  # fmt: skip
        self.did("primary", "primary_spring", pieces=3)
        self.assertIn("pieces counted", " ".join(words for _, words in self.waits("rebuild")))  # found, or not?
        self.did("primary", "primary_spring", found="not all")
        self.assertNotIn("pieces", " ".join(words for _, words in self.waits("rebuild")))
        self.sign()
        self.assertIn("3 pieces, not all found", " ".join(self.page("done")))

    def test_a_new_sheave_wants_its_face_prepared_and_a_new_belt(self):
        self.did("primary", "arm_bushing", how="used")
        self.look("primary", "moving_face", looked="removed", grade="cracked", remedy="sheave")
        name = next(each.name for each in rightings(self.held().inspection) if each.new_sheave)
        self.did("primary", "moving_face", how="new")
        told = [words for _, words in self.waits("rebuild")]
        self.assertIn(f"primary: {name}: its face prepared", told)
        self.assertIn(f"primary: {name}: a new belt, or why the old one goes back on", told)
        self.did("primary", "moving_face", prepared=True, old_belt="rider wants to keep it")
        self.assertNotIn("sheave", " ".join(words for _, words in self.waits("rebuild") if "belt" in words))

    def test_what_was_fitted_stays_told_whatever_is_decided_afterwards(self):
        self.did("primary", "arm_bushing", how="new", number="FB-3")
        self.look("primary", "arm_bushing", overruled="watch", reason="one more ride")
        self.sign()
        self.assertEqual(self.events(), [("arm bushing", "", 3, "out"), ("arm bushing", "FB-3", 3, "in")])
        self.assertTrue(self.page("done")[0].startswith("Arm bushings, primary: new fitted FB-3"))
        self.assertEqual(self.due().why.split(":")[0], "new fitted, usual check")

    def test_refused_and_undone(self):
        for item, values, field in (
            ("buttons", {"how": Edit("", "new")}, "item"),
            ("elbow", {"how": Edit("", "new")}, "item"),
            ("arm_bushing", {"how": Edit("", "prayed")}, "how"),
            ("arm_bushing", {"price": Edit(None, -1.0)}, "price"),
            ("arm_bushing", {"by": Edit("", "Jo")}, "by"),
        ):
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                done.say(self.db, self.visit, "primary", item, values)
            self.assertEqual(caught.exception.field, field)
        self.did("primary", "arm_bushing", how="new")
        with self.assertRaises(Conflict):
            done.say(self.db, self.visit, "primary", "arm_bushing", {"how": Edit("used", "dressed")})
        undo(self.db, self.visit, "Jo")
        self.assertEqual(self.held().back_together.done, {})

    def test_what_was_only_decided_before_this_was_asked_is_no_life(self):
        self.did("primary", "arm_bushing", how="new", number="FB-3")
        self.sign()
        self.again()
        self.note(odometer_km=1500)
        self.assertEqual([each.survival.lives for each in lifetimes.lasted(self.db)], [1])
        self.db.execute("UPDATE part_event SET told = 'decided; fitting not recorded'")
        self.assertEqual(lifetimes.lasted(self.db), [])
        strip.change(self.db, self.visit, {"depth": Edit(None, "cover off")})
        self.reads("primary", "arm_bushing", 0.2)
        self.assertEqual(visits.get(self.db, self.visit).inspection.before["primary", "arm_bushing"], [(900.0, 0.6)])
