"""The store of the set-up bench: parts on the tray and off the shelf, calibrations of their day, sheets, lives."""

from jaxel.store.shelf import parts, sheets
from tests.store.cases.set_up_bench_case import SHEET, Bench


class Sheets(Bench):
    def test_a_known_number_is_changed_where_the_sheet_says_otherwise(self):
        report = sheets.take_in(self.db, SHEET.replace(b"PS-1,primary spring,Brackholm,1,54",
                                                       b"ps-1,primary spring,Ravnsete,5,54"))  # fmt: skip
        self.assertEqual((report.added, report.changed, report.alike), ([], ["ps-1"], 5))
        held = parts.one(self.db, self.parts["PS-1"])
        self.assertEqual((held.number, held.make, held.pieces), ("PS-1", "Ravnsete", 5))

    def test_a_row_refused_half_way_leaves_nothing_behind(self):
        self.fill("primary_spring", "PS-1")
        report = sheets.take_in(
            self.db,
            b"number,kind,make,superseded_by,force_start_n,force_finish_n,travel_mm\n"
            b"PS-1,primary spring,Ravnsete,,700,1400,30\n"  # on a tray
            b"A-57,primary spring,,,,,\n"  # known as an arm
            b"N-1,button,Ravnsete,N-1,,,\n"  # superseded by itself
            b"N-2,button,Ravnsete,,,,\n",
        )
        self.assertEqual([(row.line, row.column) for row in report.refused],
                         [(2, "part"), (3, "kind"), (4, "superseded_by")])  # fmt: skip
        self.assertEqual(report.added, ["N-2"])
        held = {each.number: each for each in parts.all_parts(self.db)}
        self.assertEqual((held["PS-1"].make, held["PS-1"].spec["force_start_n"]), ("Brackholm", 640.0))
        self.assertNotIn("N-1", held)

    def test_out_and_in_again_changes_nothing(self):
        report = sheets.take_in(self.db, sheets.sheet(self.db).encode())
        self.assertEqual((report.added, report.changed, report.alike, report.refused), ([], [], 6, []))
