"""The set-up bench and the parts room over HTTP: what is shown is the core's, and nonsense is refused by its field."""

import time
from threading import Event
from unittest import mock

from jaxel.core.trade.shelf.planner import plan
from jaxel.core.trade.shelf.shelf import stock_of
from jaxel.store.shelf import shelf
from jaxel.web.shelf import planning
from tests.web.cases.set_up_bench_case import Case


class Answers(Case):
    def search(self, **body):
        found = self.sent("POST", f"{self.at}/setup/plan", body)
        for _ in range(200):
            if found["state"] != "searching":
                return found
            time.sleep(0.05)
            found = self.sent("GET", f"{self.at}/setup/plan/{found['search']}")
        raise AssertionError("still searching")

    def test_they_are_the_planners_and_an_answer_fills_the_tray(self):
        found = self.search()
        db, visit = self.stored()
        document = visit.left.in_use(visit.left_width_mm, visit.conditions, visit.target)
        wanted = plan(document, stock_of(document, list(shelf.stocked(db).values()), visit.kinds), top=12)
        self.assertEqual(found["combinations"], wanted.combinations)
        self.assertEqual([(a["probability"], a["shift_rpm"], a["for_rider"]) for a in found["answers"]],
                         [(a.probability, a.shift_mean_rpm, a.for_rider) for a in wanted.answers])  # fmt: skip
        for answer in found["answers"][:4]:
            draft = self.client.get(self.at).json["setup"]["draft"]
            body = {"fills": answer["fills"], "draft": draft, "whole": True}
            view = self.sent("POST", f"{self.at}/setup/fill", body)
            self.assertAlmostEqual(view["left"]["shift"]["mean_rpm"], answer["shift_rpm"], delta=0.2)
            self.assertAlmostEqual(view["left"]["engagement"]["bite_rpm"], answer["engagement_rpm"], delta=0.2)

    def test_the_same_question_is_one_search_whatever_lies_on_the_tray(self):
        first = self.search()
        self.fill(("arms", self.parts["A-57"]))
        self.assertEqual(self.search()["search"], first["search"])
        self.sent("PATCH", f"/api/parts/{self.parts['PS-1']}/pieces", {"was": 1, "now": 0})
        self.assertNotEqual(self.search()["search"], first["search"])

    def test_only_what_may_be_changed_is(self):
        found = self.search(may=["primary_spring"])
        self.assertEqual({c["slot"] for a in found["answers"] for c in a["changes"]}, {"primary_spring"})

    def test_the_workshops_order_of_tuning_is_followed(self):
        self.assertEqual(self.search()["order"], "spring")
        self.sent("PATCH", "/api/guide/school", {"question": "tuning_order", "was": "spring", "now": "weights"})
        self.assertEqual(self.search()["order"], "weights")

    def test_an_impossible_window_says_so(self):
        held = self.visit["intake"]["target_engagement_rpm"]
        sure = {"target_engagement_rpm": {"was": held, "now": 8000, "sure": True}}
        self.sent("PATCH", f"{self.at}/intake", sure)
        found = self.search()
        self.assertEqual((found["state"], found["refused"]["field"]), ("refused", "target.engagement_rpm"))

    def test_nothing_on_the_shelf_says_what_would_do_it(self):
        for number in ("KT-1", "A-57", "A-61", "PS-1", "L-15"):
            self.sent("POST", f"/api/parts/{self.parts[number]}/remove", {})
        self.send("PATCH", "/intake", target_shift_rpm=8200)
        found = self.search()
        self.assertEqual((found["state"], found["answers"]), ("done", []))
        self.assertRegex(found["reach"][0]["words"], r"Primary spring start 755 N → \d")

    def test_a_search_given_up_is_told_and_can_be_asked_again(self):
        gate = Event()

        def slow(*of, watch, **more):
            while not gate.wait(0.01):
                watch(0.5)
            return plan(*of, watch=watch, **more)

        question = {"may": ["arms", "primary_spring", "load:tip"]}
        with mock.patch.object(planning, "plan", slow):
            begun = self.sent("POST", f"{self.at}/setup/plan", question)
            self.assertEqual(begun["state"], "searching")
            given_up = self.sent("POST", f"{self.at}/setup/plan/{begun['search']}/cancel", {})
            self.assertEqual(given_up["state"], "given up")
            gate.set()
            again = self.sent("POST", f"{self.at}/setup/plan", question)
        while again["state"] == "searching":
            again = self.client.get(f"{self.at}/setup/plan/{begun['search']}").json
        self.assertEqual((again["search"], again["state"]), (begun["search"], "done"))
        self.refused(self.client.get(f"{self.at}/setup/plan/{'0' * 64}"), 404, "address", "no such search")

    def test_too_many_combinations_are_refused_in_words(self):
        many = "number,kind,base_mass_g,force_start_n,force_finish_n,travel_mm,angles\n"
        many += "".join(f"M{i},arm,{50 + i / 7:.3f},,,,\n" for i in range(99))
        many += "".join(f"S{i},primary spring,,{580 + i},{1350 + i},30,\n" for i in range(99))
        many += "".join(f"H{i},helix,,,,,0:{38 + i / 9:.3f}\n" for i in range(60))
        self.taken_in(many)
        found = self.search()
        self.assertEqual(found["state"], "refused")
        self.assertIn("leave a group out", found["refused"]["reason"])
