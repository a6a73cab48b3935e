"""Set-ups from before profiles were smooth keep their engagement: a table with a knee is given its pieces."""

import json
import sqlite3
from contextlib import closing
from importlib import import_module

from jaxel.core.formats.setup.setup import SetupDocument, read_setup
from jaxel.core.mechanism.equilibrium.shift import engagement
from jaxel.core.units import RPM
from jaxel.store import db
from tests.examples import changed, example, read
from tests.store.cases.store_case import StoreCase

pieces_of = import_module("jaxel.store.migrations.0019_pieces").pieces_of
step = import_module("jaxel.store.migrations.0019_pieces").step

KNEE = [
    (0, 6),
    (0.6, 6.422),
    (1.2, 6.882),
    (1.8, 7.42),
    (2.4, 8.22),
    (3.2, 9.694),
    (4.2, 11.623),
    (5.7, 14.373),
    (8, 18.332),
    (10, 21.588),
    (13, 26.255),
    (16, 30.772),
    (19, 35.238),
    (22, 39.748),
    (25, 44.399),
    (28.5, 50.171),
    (30, 52.822),
    (31.5, 55.473),
]
"""A swing that was drawn through every point: a knee where the belt is met."""


def knee():
    swing = [{"travel_mm": travel, "deg": deg} for travel, deg in KNEE]
    document = changed(example("mountain-sled"), "primary.profile.swing", swing)
    document = changed(document, "primary.spring.force_start_n", 610)
    return changed(document, "primary.spring.force_finish_n", 1380)


class Pieces(StoreCase):
    def test_a_table_with_a_knee_engages_where_it_did(self):
        # Drawn through every point it engaged at 3,990 rpm (what the last version showed); by the usual four pieces its
        # weights would not close the sheave at all.
        self.assertEqual(pieces_of(SetupDocument.model_validate(knee())), 8)
        document = changed(knee(), "primary.profile.pieces", 8)
        self.assertAlmostEqual(engagement(read(document).core()).bite / RPM, 3976, delta=5)
        self.assertIsNone(pieces_of(read(document)))  # stated: the hand knows
        self.assertIsNone(pieces_of(read(example("side-by-side"))))  # smooth as it is

    def test_every_set_up_and_calibration_of_a_database(self):
        with closing(db.connect(self.path)) as old:
            old.execute("DROP TRIGGER setup_revision_kept")
            old.execute("UPDATE setup_revision SET document = ?", (json.dumps(knee()),))
            old.execute(
                "CREATE TRIGGER setup_revision_kept BEFORE UPDATE OF document ON setup_revision"
                " BEGIN SELECT RAISE(ABORT, 'a set-up revision is never overwritten'); END"
            )
            step(old)
            (text,) = old.execute("SELECT document FROM setup_revision").fetchone()
            self.assertEqual(read_setup(text.encode()).primary.profile.pieces, 8)
            swing = json.loads(text)["primary"]["profile"]["swing"]
            self.assertEqual([(point["travel_mm"], point["deg"]) for point in swing], KNEE)
            # The guard stands again, and a second pass finds nothing to do.
            with self.assertRaises(sqlite3.IntegrityError):
                old.execute("UPDATE setup_revision SET document = ?", (text,))
            step(old)
            self.assertEqual(old.execute("SELECT document FROM setup_revision").fetchone()[0], text)
