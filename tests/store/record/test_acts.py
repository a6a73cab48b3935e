"""The store: whole transactions, revisions that stay, edits that are never overwritten."""

from jaxel.core.errors import InvalidValue
from jaxel.store import acts, db
from jaxel.store.run import road_tests
from tests.store.cases.store_case import StoreCase


class Acts(StoreCase):
    def test_one_asked_for_twice_is_done_once(self):
        revision = self.held().set_up.left_revision_id
        made = [acts.once(self.db, "token-1234", lambda: road_tests.begin(self.db, self.visit, revision))
                for _ in range(3)]  # fmt: skip
        self.assertEqual(len(set(made)), 1)
        self.assertEqual([run.id for run in self.held().runs], made[:1])
        acts.once(self.db, "token-5678", lambda: road_tests.begin(self.db, self.visit, revision))
        acts.once(self.db, None, lambda: road_tests.begin(self.db, self.visit, revision))
        self.assertEqual(len(self.held().runs), 3)

    def test_one_that_was_refused_may_be_asked_for_again(self):
        with self.assertRaises(db.Conflict):
            acts.once(self.db, "token-1234", lambda: road_tests.begin(self.db, self.visit, 999))
        revision = self.held().set_up.left_revision_id
        acts.once(self.db, "token-1234", lambda: road_tests.begin(self.db, self.visit, revision))
        self.assertEqual(len(self.held().runs), 1)

    def test_a_token_belongs_to_its_act(self):
        acts.once(self.db, "token-1234", lambda: None, "POST /a")
        with self.assertRaisesRegex(InvalidValue, "another act"):
            acts.once(self.db, "token-1234", lambda: self.fail("done under another's token"), "POST /b")
        acts.once(self.db, "token-1234", lambda: self.fail("done twice"), "POST /a")

    def test_a_token_is_forgotten_after_a_month(self):
        acts.once(self.db, "token-1234", lambda: None)
        self.db.execute("UPDATE act SET at = '2020-01-01T00:00:00Z'")
        acts.once(self.db, "token-5678", lambda: None)
        self.assertEqual([row["token"] for row in self.db.execute("SELECT token FROM act")], ["token-5678"])

    def test_a_token_has_a_length(self):
        for token in ("short", "x" * 65):
            with self.assertRaisesRegex(InvalidValue, "8 to 64"):
                acts.once(self.db, token, lambda: None)
