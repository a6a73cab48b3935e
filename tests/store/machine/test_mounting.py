"""A clutch that came alone is mounted: a dated link, the machine's set-up from then on, what came off for it."""

from jaxel.core.errors import InvalidValue
from jaxel.store.db import Conflict
from jaxel.store.edits import Edit
from jaxel.store.machine import machines, mountings, upkeep, variants
from jaxel.store.setup import fitting, revisions
from jaxel.store.strip import strip
from jaxel.store.visit import hand_over, visits
from tests.store.cases.any_machine_case import Case


class Mounting(Case):
    def bare(self, **said):
        visit = self.stranger(machine="sled", primary="tower-and-button-primary", bare=True, name="Spare K7", **said)
        return visits.get(self.db, visit).machine_id, visit

    def close(self, visit):
        hand_over.close_unrepaired(self.db, visit, visits.get(self.db, visit).edit, "on the shelf", "Ebba")

    def setUp(self):
        super().setUp()
        self.clutch, self.own_visit = self.bare()
        self.close(self.own_visit)
        self.close(self.visit)

    def mount(self, off="bare clutch", **more):
        return mountings.mount(self.db, self.clutch, self.machine, off, by="Ebba", **more)

    def test_the_machine_has_the_clutch_from_then_on(self):
        before = revisions.newest(self.db, self.machine)
        self.mount(on="2026-11-01")
        after, own = (revisions.newest(self.db, each) for each in (self.machine, self.clutch))
        self.assertEqual(after.document.primary, own.document.primary)
        self.assertEqual(after.document.secondary, before.document.secondary)
        self.assertEqual(after.reason, "Spare K7 mounted, primary")
        self.assertEqual(machines.get(self.db, self.machine).primary_kind, "tower-and-button-primary")
        (link,) = mountings.of_machine(self.db, self.machine)
        self.assertEqual((link.clutch, link.side, link.mounted_on, link.ended_on, link.mounted_by),
                         ("Spare K7", "primary", "2026-11-01", None, "Ebba"))  # fmt: skip
        self.assertEqual(mountings.of_machine(self.db, self.clutch), [link])
        off = machines.get(self.db, link.took_off_id)
        self.assertTrue(off.bare)
        self.assertEqual(revisions.newest(self.db, off.id).document.primary, before.document.primary)
        # Its own history stays its own.
        self.assertEqual(len(revisions.history(self.db, self.clutch)), 1)

    def test_what_is_mounted_has_its_visits_on_the_machine(self):
        self.mount("gone")
        self.assertIsNone(mountings.where(self.db, self.clutch).took_off_id)
        with self.assertRaises(Conflict):
            visits.open_visit(self.db, self.clutch)
        with self.assertRaises(Conflict):
            self.mount()
        self.assertEqual(len(mountings.of_machine(self.db, self.clutch)), 1)

    def test_another_one_sends_it_back_to_its_shelf_as_it_came_off(self):
        self.mount("gone", on="2026-10-01")
        visit = visits.open_visit(self.db, self.machine)
        fitting.try_numbers(self.db, visit, "left", {"primary_start_n": Edit(self.start(visit), "700")})
        fitting.record(self.db, visit, "stiffer", visits.get(self.db, visit).set_up.left_draft)
        self.close(visit)
        first, (second, own) = self.clutch, self.bare()
        self.close(own)
        mountings.mount(self.db, second, self.machine, "bare clutch", "2026-11-02", "Ebba")
        home = mountings.of_machine(self.db, first)[0]
        self.assertEqual(home.ended_on, "2026-11-02")
        self.assertEqual(mountings.where(self.db, second).took_off_id, first)
        newest = revisions.newest(self.db, first)
        self.assertEqual(newest.document.primary.spring.force_start_n, 700)
        self.assertEqual(len(revisions.history(self.db, first)), 2)
        visits.open_visit(self.db, first)

    def start(self, visit):
        return visits.get(self.db, visit).left.primary.spring.force_start_n

    def test_what_was_seen_of_the_clutch_before_is_not_said_of_this_one(self):
        seat = "primary.spider_seat"
        visit = visits.open_visit(self.db, self.machine)
        upkeep.change(self.db, self.machine, {"primary_kind": Edit(None, "tower-and-button-primary")})
        strip.answer(self.db, visit, "primary", "spider_seat", Edit("", "taper"))
        self.close(visit)
        own = visits.open_visit(self.db, self.clutch)
        strip.answer(self.db, own, "primary", "buttons", Edit("", "ringed"))
        self.close(own)
        self.assertEqual(dict(variants.seen(self.db, self.machine))[seat], "taper")
        self.mount("gone")
        self.assertEqual(variants.seen(self.db, self.machine), (("primary.buttons", "ringed"),))
        self.assertEqual(dict(variants.of_machines(self.db))[self.machine], (("primary.buttons", "ringed"),))
        # A page of before the mounting reads as it was.
        self.assertEqual(dict(variants.seen(self.db, self.machine, visit))[seat], "taper")

    def test_refused(self):
        cases = (
            ({"on": "2999-01-01"}, "lies in the future"),
            ({"on": "tomorrow"}, "must be a date"),
            ({"on": "20261101"}, "must be a date"),
        )
        for more, reason in cases:
            with self.subTest(**more), self.assertRaisesRegex(InvalidValue, reason) as caught:
                self.mount(**more)
            self.assertEqual(caught.exception.field, "on")
        with self.assertRaises(InvalidValue):
            mountings.mount(self.db, self.machine, self.clutch, "gone")
        with self.assertRaises(InvalidValue):
            mountings.mount(self.db, self.clutch, self.clutch, "gone")
        visits.open_visit(self.db, self.machine)
        with self.assertRaises(Conflict):
            self.mount()
        self.assertEqual(mountings.of_machine(self.db, self.machine), [])
