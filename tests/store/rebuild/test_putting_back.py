"""The store of putting back, line-up, break-in and close: kept, undone, refused, and named at sign-off."""

from datetime import UTC, datetime, timedelta

from jaxel.core.errors import Implausible, InvalidValue
from jaxel.core.trade.visit.stations import stations_of
from jaxel.core.units import FOOT_POUND
from jaxel.core.words import told as plain
from jaxel.store.db import Conflict, at_moment
from jaxel.store.edits import Edit, undo
from jaxel.store.line_up import line_up
from jaxel.store.rebuild import rebuild, torques
from jaxel.store.strip import strip
from jaxel.store.visit import hand_over, intake, pages, visit_log
from jaxel.store.visit.hand_over import NotReady
from tests.store.back_together import back_together
from tests.store.cases.back_together_case import Opened


class PuttingBack(Opened):
    def test_what_was_seen_is_kept_logged_and_undone(self):
        rebuild.see(self.db, self.visit, "primary.cover.back", Edit(False, True), "Jörn")
        self.assertTrue(self.step("primary.cover").asks[0].seen)
        with self.assertRaises(Conflict) as caught:
            rebuild.see(self.db, self.visit, "primary.cover.back", Edit(True, False))
            rebuild.see(self.db, self.visit, "primary.cover.back", Edit(True, None))
        self.assertEqual(caught.exception.field, "seen")
        undo(self.db, self.visit, "Jo")
        undo(self.db, self.visit, "Jo")
        self.assertFalse(self.step("primary.cover").asks[0].seen)

    def test_what_is_not_asked_is_refused(self):
        for attempt, field in (
            (lambda: rebuild.see(self.db, self.visit, "primary.cover.song", Edit(False, True)), "seen"),
            (lambda: rebuild.left_on(self.db, self.visit, "primary.elbow", Edit(False, True)), "left_on"),
            (lambda: rebuild.accept(self.db, self.visit, "primary.elbow", Edit("", "so")), "accepted"),
            (lambda: rebuild.change(self.db, self.visit, {"closes": Edit("", "up")}), "closes"),
            (lambda: rebuild.change(self.db, self.visit, {"seen": Edit([], ["x"])}), "seen"),
            (lambda: rebuild.weigh(self.db, self.visit, "primary", "arms", 3, Edit(None, 48.0)), "place"),
            (lambda: rebuild.weigh(self.db, self.visit, "primary", "arms", 0, Edit(None, -1.0)), "primary_arms_0"),
            (lambda: rebuild.weigh(self.db, self.visit, "primary", "elbows", 0, Edit(None, 48.0)), "matched"),
            (lambda: rebuild.tighten(self.db, self.visit, "primary", "elbow", {"state": Edit("", "done")}), "fastener"),
            (lambda: rebuild.clock(self.db, self.visit, "primary", "pivot_bolts", "compound_at"), "what"),
        ):
            before = self.held().edit
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                attempt()
            self.assertEqual((caught.exception.field, self.held().edit), (field, before))

    def test_weighings_say_what_is_no_set(self):
        for place, mass in enumerate((48.1, 48.0, 46.9)):
            rebuild.weigh(self.db, self.visit, "primary", "arms", place, Edit(None, mass))
        words = self.waits("rebuild")
        self.assertIn("arms with their loads: 1.2 g apart, 0.2 g is allowed", words)
        rebuild.accept(self.db, self.visit, "primary.arms", Edit("", "a new set is on its way"))
        self.assertFalse(any("apart" in each for each in self.waits("rebuild")))

    def test_done_with_whom_when_and_what(self):
        torques.state(
            self.db, "bolt-in-helix-secondary", "helix_screws", "torque", 14.0, "manual", machine_id=self.machine
        )
        edits = {"state": Edit("", "done"), "torque_nm": Edit(None, 14.0), "means": Edit("", "wrench")}
        with at_moment(datetime(2026, 11, 25, 14, 8, tzinfo=UTC)):
            rebuild.tighten(self.db, self.visit, "secondary", "helix_screws", edits, "Ebba")
        found = self.done("secondary", "helix_screws")
        self.assertEqual((found.by, found.at, found.torque_nm), ("Ebba", "2026-11-25T14:08:00Z", 14.0))
        with self.assertRaises(Implausible) as caught:  # not what the manual says
            rebuild.tighten(
                self.db, self.visit, "secondary", "helix_screws", {"torque_nm": Edit(14.0, 60 * FOOT_POUND)}
            )
        self.assertEqual(caught.exception.field, "torque_nm")
        sure = {"torque_nm": Edit(14.0, 30.0, sure=True)}
        rebuild.tighten(self.db, self.visit, "secondary", "helix_screws", sure)
        self.assertEqual(self.done("secondary", "helix_screws").torque_nm, 30.0)
        self.assertEqual(self.put_back(), ("30 N·m; to be 14 N·m (manual)", True))  # kept, and told as what it is
        with self.assertRaises(InvalidValue):
            rebuild.tighten(self.db, self.visit, "secondary", "helix_screws", {"torque_nm": Edit(30.0, 0.0, sure=True)})
        for _ in range(2):
            undo(self.db, self.visit, "Jo")
        self.assertNotIn(("secondary", "helix_screws"), self.held().back_together.tightened)

    def put_back(self):
        """What the page says of the helix screws, and whether that is amiss."""
        (row,) = [each for each in pages.page(self.db, self.held()).rows if each.key == "rebuild"]
        (line,) = [each for each in row.lines if each.words.startswith("Helix screws")]
        return plain(line.words).partition(": ")[2].partition(" · ")[0], line.tone == "amiss"

    def test_owed_is_named_at_the_sign_off(self):
        rebuild.tighten(self.db, self.visit, "primary", "cover_bolts", {"state": Edit("", "owed")})
        self.assertIn("torque owed: cover bolts, primary", self.waits("rebuild"))
        with self.assertRaises(NotReady) as caught:
            hand_over.sign_off(self.db, self.visit, self.held().edit, "Jo")
        self.assertIn("torque owed: cover bolts, primary", str(caught.exception))

    def test_a_timer_is_started_once(self):
        start = datetime(2026, 11, 25, 14, 0, tzinfo=UTC)
        with at_moment(start):
            rebuild.clock(self.db, self.visit, "secondary", "helix_screws", "compound_at")
        with (
            at_moment(start + timedelta(minutes=3)),
            self.assertRaisesRegex(Conflict, "runs since .*T14:00:00Z.* already"),
        ):
            rebuild.clock(self.db, self.visit, "secondary", "helix_screws", "compound_at")
        since = self.done("secondary", "helix_screws").compound_at
        rebuild.stop_clock(self.db, self.visit, "secondary", "helix_screws", "compound_at", since)
        self.assertEqual(self.done("secondary", "helix_screws").compound_at, "")

    def test_a_recorded_change_opens_its_clutch_in_a_tune(self):
        intake.set_scope(self.db, self.visit, Edit("service", "tune"))
        strip.change(self.db, self.visit, {"depth": Edit("full strip", None)})
        self.assertNotIn("rebuild", stations_of(self.held().record()))
        self.try_out(arm_mass_g=58.0)
        self.record("thin air")
        self.assertEqual(self.held().set_up.changed, ("arms",))
        self.assertIn("rebuild", stations_of(self.held().record()))
        self.assertEqual(self.waits("rebuild"), ["putting back the primary: 4 steps"])
        back_together(self.db, self.visit)
        self.assertEqual(self.waits("rebuild"), [])
        self.assertEqual(self.done("primary", "cover_bolts").means, "by hand")

    def test_the_log_tells_it_in_words(self):
        edit = self.held().edit
        rebuild.change(self.db, self.visit, {"wound": Edit("", "clockwise")})
        rebuild.tighten(self.db, self.visit, "primary", "spider", {"state": Edit("", "owed")})
        line_up.change(self.db, self.visit, {"front_mm": Edit(None, 36.2)})
        line_up.begin_heat(self.db, self.visit)
        rebuild.see(self.db, self.visit, "primary.cover.back", Edit(False, True))
        rebuild.see(self.db, self.visit, "primary.cover.stop", Edit(False, True))
        told = [(line.station, line.what, plain(line.now)) for change in visit_log.after(self.db, self.held(), edit)
                for line in change.lines]  # fmt: skip
        self.assertIn(("rebuild", "way the top was turned", "“clockwise”"), told)
        self.assertIn(("rebuild", "Spider on its shaft, primary, tightened", "“owed”"), told)
        self.assertIn(("line-up", "front gap", "36.2 mm"), told)
        self.assertIn(("line-up", "heat cycle begun", ""), told)
        self.assertEqual(told[-1], ("rebuild", "seen going back", "cover, primary"))

    def test_a_service_is_signed_once_it_is_together(self):
        self.complete()
        for side in ("primary", "secondary"):
            strip.rest(self.db, self.visit, side)
        strip.look(self.db, self.visit, "primary", "buttons", {"looked": Edit("not reached", "removed"),
                                                               "grade": Edit("", "free")})  # fmt: skip
        self.assertEqual(self.waits("rebuild"), ["putting back the primary: 11 steps"])
        self.sign()
        self.assertIsNotNone(self.held().signed_off_at)
