"""Logs as loggers and phones write them: told by the trade's words or a map, whatever their layout; and what is refused
names field, line and reason."""

import unittest

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.header import FIELDS, LoggerDocument, MappedColumn, guessed, read_logger
from jaxel.core.formats.run.layout import lay_out
from jaxel.core.formats.run.log_file import read_log

HEAD = "time_s,engine_rpm,speed_kph\n"


def rows(form, count=60):
    return "\n".join(form(k) for k in range(count))


def good(k):
    return f"{k * 0.1:.1f},{1300 + k * 100},{k * 1.5:.1f}"


class Headings(unittest.TestCase):
    def test_the_trades_words(self):
        for heading, field in (
            ("Engine Speed [1/min]", "engine_rpm"), ("RPM", "engine_rpm"), ("Motor rpm", "engine_rpm"),
            ("tacho", "engine_rpm"), ("Secondary rpm", "secondary_rpm"), ("Driven clutch (rpm)", "secondary_rpm"),
            ("Jackshaft speed (Hz)",
             "secondary_hz"), ("Vehicle speed (km/h)", "speed_kph"), ("GPS Speed MPH", "speed_mph"),
            ("velocity [m/s]", "speed_mps"), ("Speed (knots)", "speed_kn"), ("TPS %", "throttle_pct"),
            ("Throttle position",
             "throttle_pct"), ("Belt temp (F)", "belt_temp_f"), ("CVT temperature °C", "belt_temp_c"),
            ("Elapsed time (ms)", "time_ms"), ("Time", "time_s"), ("t_s", "time_s"), ("speed_mph", "speed_mph"),
            ("Coolant temp (C)", None), ("Lap time", None), ("Wheel rpm", None), ("Engine load %", None),
            ("Battery", None), ("Gear", None), ("Oil temperature", None), ("Wind speed (km/h)", None),
        ):  # fmt: skip
            with self.subTest(heading):
                self.assertEqual(guessed(heading).field, field)

    def test_units_not_said_or_contradicting(self):
        self.assertEqual(guessed("Speed").asks, "does not say its unit: km/h, mph, m/s or knots")
        self.assertEqual(guessed("Belt temperature").asks, "does not say its unit: °C or °F")
        self.assertEqual(guessed("Speed", "mph").field, "speed_mph")
        self.assertEqual(guessed("speed mph (km/h)").asks, "says two units: kph and mph")
        self.assertEqual(guessed("engine rpm (km/h)").asks, "is in “km/h”, which is no unit of engine")

    def test_factors_by_value(self):
        # NIST SP 811: 1 mi/h = 0.44704 m/s, 1 km/h = 1/3.6 m/s, 1 knot = 1852/3600 m/s, t/°C = (t/°F − 32)/1.8.
        for name, value, si in (("speed_mph", 60, 26.8224), ("speed_kph", 36, 10), ("speed_kn", 10, 5.144444),
                                ("engine_rpm", 60, 2 * np.pi), ("engine_hz", 1, 2 * np.pi), ("time_ms", 250, 0.25),
                                ("time_min", 2, 120), ("throttle_pct", 50, 0.5),
                                ("belt_temp_f", 212, 100)):  # fmt: skip
            field = FIELDS[name]
            self.assertAlmostEqual(value * field.factor + field.offset, si, places=5)

    def test_a_map_renames(self):
        data = ("A;B;C\n" + rows(lambda k: good(k).replace(",", ";"))).encode()
        with self.assertRaisesRegex(InvalidValue, "time_s: is missing: no column reads as time"):
            read_log(data)
        for text in (b'{"A": "time_s", "B": "engine_rpm", "C": "speed_mph"}',
                     b'{"time_s": "a", "engine_rpm": "b", "speed_mph": "c"}'):  # fmt: skip
            log = read_log(data, read_logger(text))
            self.assertAlmostEqual(log["speed"][10], 15 * 0.44704)
            self.assertAlmostEqual(log["engine"][10], 2300 * np.pi / 30)

    def test_a_map_goes_before_the_heading_and_may_ignore(self):
        data = ("time,rpm,rpm,speed_kph\n" + rows(lambda k: f"{k * 0.1},{k},{1300 + k},{k}")).encode()
        with self.assertRaisesRegex(InvalidValue, "engine_rpm: stands twice in line 1: columns 2 “rpm” and 3 “rpm”"):
            read_log(data)
        named = ("time,rpm,rpm2,speed_kph\n" + rows(lambda k: f"{k * 0.1},{k},{1300 + k},{k}")).encode()
        said = read_logger(b'{"rpm": "ignore", "rpm2": "engine_rpm"}')
        self.assertAlmostEqual(read_log(named, said)["engine"][0], 1300 * np.pi / 30)

    def test_maps_are_refused_by_field(self):
        for text, reason in ((b'{"A": "torque"}', "columns.0..field: must be one of time_s"),
                             (b'{"A": 3}', "map: must be"),
                             (b'{"A": "time_s", "B": "time_ms"}', "columns: reads two columns as the same quantity"),
                             (b'{"format": "jaxel-logger", "version": 2, "columns": []}', "version")):  # fmt: skip
            with self.subTest(text), self.assertRaisesRegex(InvalidValue, reason):
                read_logger(text)
        document = LoggerDocument(columns=[MappedColumn(header="A", field="time_s")])
        self.assertEqual(read_logger(document.model_dump_json().encode()), document)


class Layouts(unittest.TestCase):
    def test_one_table_in_every_dress(self):
        plain = HEAD + rows(good)
        semicolons = plain.replace(",", ";").replace(".", ",")
        for name, data in (
            ("plain", plain.encode()), ("mark of order", b"\xef\xbb\xbf" + plain.encode()),
            ("utf-16", plain.encode("utf-16")), ("line ends", plain.replace("\n", "\r\n").encode()),
            ("tabs", plain.replace(",", "\t").encode()), ("semicolons and decimal commas", semicolons.encode()),
            ("quoted", b'"' + plain.replace(",", '","').replace("\n", '"\n"').encode() + b'"'),
            ("trailing delimiter", plain.replace("\n", ",\n").encode()),
            ("preamble", f"Day of the strip\nrider, Maren\n\n{plain}".encode()),
            ("line of units", plain.replace(HEAD, "Time,RPM,Speed\ns,rpm,km/h\n").encode()),
            ("other order",
             ("speed_kph,time_s,engine_rpm\n" + rows(lambda k: f"{k * 1.5},{k * 0.1},{1300 + k * 100}")).encode()),
            ("milliseconds",
             ("time_ms,engine_rpm,speed_kph\n" + rows(lambda k: f"{k * 100},{1300 + k * 100},{k * 1.5}")).encode()),
            ("clock text",
             ("time,engine_rpm,speed_kph\n"
              + rows(lambda k: f"10:59:{k * 0.1 + 50:06.3f},{1300 + k * 100},{k * 1.5}")).encode()),
            ("blank lines", plain.replace("\n", "\n\n").encode()),
        ):  # fmt: skip
            with self.subTest(name):
                log = read_log(data)
                self.assertAlmostEqual(log.time[20] - log.time[0], 2.0, places=4)
                self.assertAlmostEqual(log["engine"][20], 3300 * np.pi / 30, places=4)
                self.assertAlmostEqual(log["speed"][20], 30 / 3.6, places=4)

    def test_what_reads_as_nothing(self):
        log = read_log((HEAD + rows(lambda k: f"{k * 0.1:.1f},{1300 + k if k % 3 else '---'},NaN")).encode())
        self.assertEqual(np.isnan(log["engine"]).sum(), 20)
        self.assertIsNone(log["speed"])  # not one reading in it

    def test_a_few_lines_of_rubbish_are_left_out(self):
        lines = [good(k % 60).replace(f"{k % 60 * 0.1:.1f},", f"{k * 0.1:.1f},", 1) for k in range(900)]
        lines[300] = "logger restarted"
        self.assertEqual(read_log((HEAD + "\n".join(lines)).encode()).unread, 1)

    def test_the_layout_is_told(self):
        layout = lay_out(("first\nsecond\nTime;RPM\n" + rows(lambda k: f"{k},5;{k}")).encode())
        self.assertEqual((layout.delimiter, layout.decimal, layout.header_line, layout.first_line), (";", ",", 3, 4))


class Refused(unittest.TestCase):
    def test_each_by_field_line_and_reason(self):
        for name, data, reason in (
            ("empty", b"", "^log: is empty"),
            ("blank", b" \n ", "^log: is empty"),
            ("header only", HEAD.encode(), "^log: holds headings in line 1 and no row of numbers"),
            ("wrong delimiter", ("time_s engine_rpm\n" + rows(lambda k: f"{k} {k}")).encode(), "^log: holds no table"),
            ("no time", ("rpm,speed_kph\n" + rows(lambda k: f"{1300 + k},{k}")).encode(), "^time_s: is missing"),
            ("neither",
             ("time_s,throttle_pct\n" + rows(lambda k: f"{k},{k}")).encode(), "^engine_rpm: is missing, and so"),
            ("constant", (HEAD + rows(lambda k: f"{k},3000,{k}")).encode(), "^engine_rpm: is the same in every row"),
            ("one row", (HEAD + good(1)).encode(), "^log: holds 1 row of numbers"),
            ("binary", bytes(range(256)) * 50, "^log: is not a text file"),
            ("negative time",
             (HEAD + rows(lambda k: f"{k - 7},{1300 + k},{k}")).encode(), "^time_s: line 2 holds -7: a clock"),
            ("unsaid milliseconds",
             ("time,rpm\n" + rows(lambda k: f"{k * 20},{1300 + k}")).encode(), "^time_s: line 2: rows are 20 s"),
            ("clock stands",
             (HEAD + rows(lambda k: f"5,{1300 + k},{k}")).encode(), "^time_s: line 2: the clock stands"),
            ("a million rpm",
             (HEAD + rows(lambda k: f"{k},1000000,{k}")).encode(), r"^engine_rpm: line 2 holds 1e\+06"),
            ("delimiter changes",
             (HEAD + rows(good, 30) + "\n" + rows(good, 30).replace(",", ";")).encode(), "^time_s: line 32 holds"),
            ("units contradict",
             ("time_s,speed_kph (mph)\n" + rows(lambda k: f"{k},{k}")).encode(), "^speed: line 1, column 2"),
            ("no unit",
             ("time_s,engine_rpm,speed\n" + rows(good)).encode(), "^speed: line 1, column 3 “speed” does not say"),
            ("nothing read",
             ("time_s,engine_rpm\n" + rows(lambda k: f"{k},---")).encode(), "^engine_rpm: holds no number"),
            ("too large", b"1" * 50_000_001, "^log: is larger than 50 MB"),
        ):  # fmt: skip
            with self.subTest(name), self.assertRaisesRegex(InvalidValue, reason):
                read_log(data)


class Tracks(unittest.TestCase):
    def track(self, points):
        stamps = "".join(
            f'<trkpt lat="{lat:.7f}" lon="25.0"><time>2026-01-10T10:00:{second:02d}Z</time></trkpt>'
            for second, lat in points
        )
        head = '<?xml version="1.0"?><gpx version="1.1" creator="phone">'
        return f"{head}<trk><trkseg>{stamps}</trkseg></trk></gpx>".encode()

    def test_speed_from_the_way_between_points(self):
        # A minute of arc of a meridian is about 1,852 m (the nautical mile): ten metres a second northward.
        log = read_log(self.track([(k, 62 + k * 10 / 1852 / 60) for k in range(40)]))
        np.testing.assert_allclose(log["speed"][2:-2], 10, rtol=0.01)
        self.assertEqual(log.time[-1], 39)

    def test_entities_and_what_is_no_track(self):
        bomb = b'<?xml version="1.0"?>\n<!DOCTYPE a [<!ENTITY b "bb"><!ENTITY c "&b;&b;&b;">]><gpx>&c;</gpx>'
        for data, reason in ((bomb, "log: line 2 declares a document type or an entity"),
                             (b"<gpx><trk>", "log: is not a GPX track"), (self.track([]), "log: holds 0 points"),
                             (b"<html><p>hello</p></html>", "log: holds 0 points")):  # fmt: skip
            with self.assertRaisesRegex(InvalidValue, reason):
                read_log(data)
