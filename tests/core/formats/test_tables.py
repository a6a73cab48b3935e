"""Tables as files: their first line names them, and no cell of any is a formula to a spreadsheet (CWE-1236)."""

import csv
import io
import unittest

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.tables import ORDER, PARTS, TABLES, without_first_line, written
from jaxel.core.trade.shelf.part_sheet import read_sheet


class Tables(unittest.TestCase):
    def test_no_text_is_a_formula(self):
        for text in ("=1+1", "+1", "@SUM(A1)", "-cmd|' /C calc'!A0", "\t=1", "\r=1", "\n=1", "=HYPERLINK(1)"):
            for name, table in TABLES.items():
                headings = [each for each in table.columns if each.isidentifier() or " " in each][:2] or ["x"]
                rows = list(csv.reader(io.StringIO(written(table, headings, [[text] * len(headings)]))))
                with self.subTest(name=name, text=text):
                    self.assertEqual(rows[0], [table.first_line])
                    self.assertTrue(all(cell == f"'{text}".replace("\r", "\n") for cell in rows[2]), rows[2])

    def test_numbers_stay_numbers(self):
        (_, _, row) = csv.reader(io.StringIO(written(ORDER, ["pieces", "price", "note"], [[-3, -1234.5678, "-2.5e3"]])))
        self.assertEqual(row, ["-3", "-1234.5678", "-2.5e3"])

    def test_the_first_line_is_read_and_another_format_refused(self):
        body = "number,kind\nA-1,arm\n"
        for first in ("# jaxel-parts 1\n", '"# jaxel-parts 1"\r\n', "# jaxel-parts 1,\n", ""):
            with self.subTest(first):
                self.assertEqual(read_sheet((first + body).encode(), ["arm"]).rows[0].number, "A-1")
        for first, said in (("# jaxel-parts 2\n", "is jaxel-parts 2"), ("# jaxel-log 1\n", "is jaxel-log 1")):
            with self.assertRaisesRegex(InvalidValue, f"sheet: {said}: here is read jaxel-parts 1"):
                without_first_line(PARTS, first + body, "sheet")
