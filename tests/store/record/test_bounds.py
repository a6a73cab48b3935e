"""Every CHECK of a station's table is what its record says of the field: the same bounds, the same choices."""

import sqlite3
from typing import Any

from annotated_types import Ge, Gt, Le, Lt, MaxLen

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.record.said import Field, check_value, fields_of
from jaxel.core.trade.visit.records import TABLES
from tests.store.cases.store_case import StoreCase

NUDGE = 1e-6
"""Just beyond a bound."""


def edges(field: Field) -> tuple[list[Any], list[Any]]:
    """Values a field just takes, and those it just does not."""
    whole = field.kind is int
    step = 1 if whole else NUDGE
    inside: list[Any] = []
    outside: list[Any] = []
    for kind, sign, open_ in ((Ge, -1, False), (Gt, -1, True), (Le, 1, False), (Lt, 1, True)):
        bound = field.bound(kind)
        if bound is not None:
            inside.append(bound - sign * step if open_ else bound)
            outside.append(bound if open_ else bound + sign * step)
    longest = field.bound(MaxLen)
    if longest is not None and field.kind is str:
        inside.append("w" * longest)
        outside.append("w" * (longest + 1))
    if field.choices:
        inside.extend(field.choices)
        outside.append("nonsense")
    if field.optional:
        inside.append(None)
    return inside, outside


class Bounds(StoreCase):
    def setUp(self):
        super().setUp()
        self.sql = dict(self.db.execute("SELECT name, sql FROM sqlite_schema WHERE type = 'table'").fetchall())

    def takes(self, table: str, name: str, value: Any) -> bool:
        """Whether the table takes a value in every row it has, or would in one."""
        self.db.execute("SAVEPOINT tried")
        try:
            self.db.execute(f'UPDATE {table} SET "{name}" = ?', (value,))
            return True
        except sqlite3.IntegrityError:
            return False
        finally:
            self.db.execute("ROLLBACK TO tried")
            self.db.execute("RELEASE tried")

    def stations(self):
        for table, known in TABLES.items():
            if known.key == "visit_id" and known.record is not None:
                for field in fields_of(known.record).values():
                    if not field.is_json and not field.name.endswith("_id"):
                        yield table, known.record, field

    def test_the_tables_take_what_the_records_take_and_nothing_else(self):
        tried = 0
        for table, record, field in self.stations():
            inside, outside = edges(field)
            for value in inside:
                with self.subTest(table=table, field=field.name, value=value):
                    check_value(record, field.name, value)
                    self.assertTrue(self.takes(table, field.name, value))
            for value in outside:
                with self.subTest(table=table, field=field.name, value=value):
                    self.assertRaises(InvalidValue, check_value, record, field.name, value)
                    self.assertFalse(self.takes(table, field.name, value))
            tried += len(inside) + len(outside)
        self.assertGreater(tried, 200)

    def test_a_truth_is_nothing_but_one(self):
        for table, _, field in self.stations():
            if field.kind is bool:
                self.assertFalse(self.takes(table, field.name, 2), (table, field.name))

    def test_every_column_of_a_station_is_a_field_of_its_record(self):
        for table, known in TABLES.items():
            if known.key != "visit_id":
                continue
            columns = {row[0] for row in self.db.execute("SELECT name FROM pragma_table_info(?)", (table,))}
            kept_at_sign_off = {"use_km", "use_h"} if table == "belt_check" else set()
            self.assertEqual(columns - {"visit_id"} - kept_at_sign_off, set(fields_of(known.record)))
