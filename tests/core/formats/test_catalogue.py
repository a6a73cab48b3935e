"""Parts as a catalogue, a stamp or a tester gives them, and the twist of a spring by its holes."""

import csv
import json
import re
import unittest
from typing import Any

import icalendar
import jsonschema

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.prediction import prediction_document, write_prediction
from jaxel.core.formats.schemas import NAMES, json_schema
from jaxel.core.formats.setup.primary import RampRollerPart
from jaxel.core.formats.setup.secondary import StampedHelix
from jaxel.core.formats.setup.setup import read_setup, write_setup
from jaxel.core.formats.tables import TABLES
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.trade.setup.slots import numbers, with_numbers
from tests.examples import DEMO, FORMATS, PAGES, changed, example, read

HOLES: dict[str, Any] = {"fitted": {"sheave": "2", "helix": "A"}, "table": [
    {"sheave": "1", "helix": "A", "pretwist_deg": 50}, {"sheave": "2", "helix": "A", "pretwist_deg": 70},
    {"sheave": "2", "helix": "B", "pretwist_deg": 90},
]}  # fmt: skip


def with_holes(holes=HOLES):
    document = changed(example("side-by-side"), "secondary.holes", holes)
    return changed(document, "secondary.spring.pretwist_deg", ...)


class Forms(unittest.TestCase):
    """Each form written in place of the fitted one gives the fitted one."""

    def check(self, path, form, expected):
        document = read(changed(example("side-by-side"), path, form))
        part = document
        for step in path.split("."):
            part = getattr(part, step)
        for name, value in expected.items():
            self.assertAlmostEqual(getattr(part, name), value, places=6, msg=name)
        self.assertEqual(read_setup(write_setup(document).encode()), document)

    def test_springs(self):
        held = {"installed_length_mm": 65, "travel_mm": 28}
        # Hooke's law by hand: 20 N/mm, 80 mm free, held at 65 and closed to 37.
        expected = {"force_start_n": 300, "force_finish_n": 860, "travel_mm": 28}
        rated = held | {"rate_n_per_mm": 20, "free_length_mm": 80}
        two = held | {"points": [{"length_mm": 70, "force_n": 200}, {"length_mm": 40, "force_n": 800}]}
        tested = held | {"points": [{"length_mm": 70, "force_n": 210}, {"length_mm": 60, "force_n": 390},
                                    {"length_mm": 50, "force_n": 590}, {"length_mm": 40, "force_n": 810}]}  # fmt: skip
        for form in (rated, two, tested):
            self.check("primary.spring", form, expected)
        wound = rated | {"torsion_rate_nm_per_deg": 0.1, "pretwist_deg": 60}
        self.check("secondary.spring", wound, expected | {"torsion_rate_nm_per_deg": 0.1, "pretwist_deg": 60})

    def test_weights_by_what_they_weigh_loaded(self):
        loads = [{"station": "pocket 1", "mass_g": 2}, {"station": "pocket 3", "mass_g": 3.5}]
        self.check("primary.weights", {"count": 3, "total_mass_g": 55, "loads": loads}, {"base_mass_g": 49.5})

    def test_helix_by_its_stamp(self):
        document = example("side-by-side")
        stamped = changed(document, "secondary.helix", {"radius_mm": 46, "stamped": "42/37", "over_mm": 20})
        self.assertEqual(read(stamped).secondary.helix, read(document).secondary.helix)
        one = read(changed(document, "secondary.helix", {"radius_mm": 46, "stamped": "40"}))
        self.assertEqual([(p.travel_mm, p.deg) for p in one.secondary.helix.angles], [(0, 40)])

    def test_rollers_by_the_angles_of_their_ramp(self):
        # By hand: a 45° ramp on a 30° plate throws the roller out by 1/(1 + tan 30°) of the travel.
        ramp: dict[str, Any] = {"kind": "ramp-angles", "start_radius_mm": 36, "plate_deg": 30,
                "ramp": [{"travel_mm": 0, "deg": 45}, {"travel_mm": 28, "deg": 45}]}  # fmt: skip
        document = read(changed(example("quad"), "primary.profile", ramp))
        profile = document.primary.profile
        assert isinstance(profile, RampRollerPart)
        self.assertAlmostEqual(profile.path[-1].radius_mm, 36 + 28 / (1 + 3**-0.5), places=6)
        self.assertEqual(read_setup(write_setup(document).encode()), document)
        with self.assertRaises(InvalidValue) as caught:
            read(changed(example("quad"), "primary.profile", ramp | {"ramp": ramp["ramp"][:1]}))
        self.assertEqual(caught.exception.field, "primary.profile.ramp")

    def test_two_angles_as_hands_write_them(self):
        for stamped in ("46/42", "46-42", "46°/42°", "46,0 – 42", " 46° - 42° "):
            found = StampedHelix(radius_mm=40, stamped=stamped, over_mm=20).fitted()
            self.assertEqual([(each.travel_mm, each.deg) for each in found.angles], [(0, 46), (20, 42)], stamped)

    def test_bad_forms_name_their_field(self):
        held = {"installed_length_mm": 65, "travel_mm": 28}
        flat = [{"length_mm": 60, "force_n": 300}, {"length_mm": 40, "force_n": 300}]
        one = [{"length_mm": 60, "force_n": 300}]
        for path, form, field, reason in (
            ("primary.spring", held | {"rate_n_per_mm": -1, "free_length_mm": 80}, "primary.spring.rate_n_per_mm", "0"),
            ("primary.spring", held | {"rate_n_per_mm": 9, "free_length_mm": 60}, "primary.spring.installed_length_mm",
             "loose"),
            ("primary.spring", held | {"points": flat}, "primary.spring.points", "force must grow"),
            ("primary.spring", held | {"points": one}, "primary.spring.points", "at least 2"),
            ("primary.weights", {"count": 3, "total_mass_g": 2, "loads": [{"station": "pocket 1", "mass_g": 2}]},
             "primary.weights.total_mass_g", "more than the loads"),
            ("secondary.helix", {"radius_mm": 46, "stamped": "steep"}, "secondary.helix.stamped", "like 40 or 44/36"),
            ("secondary.helix", {"radius_mm": 46, "stamped": "44/36"}, "secondary.helix.over_mm", "is missing"),
            ("secondary.helix", {"radius_mm": 46, "stamped": "95"}, "secondary.helix.stamped", "below 90"),
        ):  # fmt: skip
            with self.subTest(field, reason=reason), self.assertRaises(InvalidValue) as caught:
                read(changed(example("side-by-side"), path, form))
            self.assertEqual(caught.exception.field, field)
            self.assertRegex(caught.exception.reason, reason)


class Holes(unittest.TestCase):
    def test_the_pair_gives_the_twist(self):
        by_pair, by_degrees = predict(read(with_holes()).core()), predict(read(example("side-by-side")).core())
        self.assertEqual(by_pair.shift.mean, by_degrees.shift.mean)

    def test_a_pair_is_a_slot(self):
        document = read(with_holes())
        number = numbers(document)["hole_pair"]
        self.assertEqual((number.value, number.options[1]), (2, "2–A, 70°"))
        wound = with_numbers(document, {"hole_pair": 3})
        self.assertEqual(wound.secondary.pretwist_deg, 90)
        self.assertGreater(predict(wound.core()).shift.mean, predict(document.core()).shift.mean)
        for value in (0, 4, 1.5):
            with self.assertRaises(InvalidValue):
                with_numbers(document, {"hole_pair": value})

    def test_refused(self):
        unknown = HOLES | {"fitted": {"sheave": "9", "helix": "A"}}
        twice = HOLES | {"table": [*HOLES["table"], HOLES["table"][0]]}
        for document, field in (
            (with_holes(unknown), "secondary.holes.fitted"), (with_holes(twice), "secondary.holes.table[3]"),
            (changed(example("side-by-side"), "secondary.holes", HOLES), "secondary.spring.pretwist_deg"),
            (changed(with_holes(), "secondary.spring.torsion_rate_nm_per_deg", 0),
             "secondary.spring.torsion_rate_nm_per_deg"),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(InvalidValue) as caught:
                read(document)
            self.assertEqual(caught.exception.field, field)


class Schemas(unittest.TestCase):
    def test_examples_and_predictions_fit_their_schema(self):
        # jsonschema (PyPI), draft 2020-12.
        for name in (*PAGES, *DEMO):
            jsonschema.validate(example(name), json_schema("jaxel-setup"))
            core = read(example(name)).core()
            document = json.loads(write_prediction(prediction_document(predict(core, backshift=True))))
            jsonschema.validate(document, json_schema("jaxel-prediction"))

    def test_schema_and_reader_refuse_alike(self):
        schema = json_schema("jaxel-setup")
        for path, value in (("belt.colour", "red"), ("version", 2), ("primary.weights.count", 1), ("engine", ...),
                            ("secondary.helix.angles.0.deg", 90), ("geometry.sheave_half_angle_deg", 30)):  # fmt: skip
            document = changed(example("sled"), path, value)
            with self.subTest(path):
                self.assertRaises(jsonschema.ValidationError, jsonschema.validate, document, schema)
                self.assertRaises(InvalidValue, read, document)

    def test_published_schemas_are_current(self):
        for name in NAMES:
            published = json.loads((FORMATS / f"{name}.schema.json").read_text(encoding="utf-8"))
            self.assertEqual(published, json_schema(name), "run make docs")

    def test_each_format_has_its_page_and_an_example_of_it(self):
        listed = (FORMATS / "README.md").read_text(encoding="utf-8")
        for name in NAMES:
            short = name.removeprefix("jaxel-")
            with self.subTest(name):
                page = (FORMATS / f"{name}.md").read_text(encoding="utf-8")
                self.assertTrue(page.startswith(f"# {name}, version 1\n"), page[:60])
                self.assertIn(f"]({name}.md)", listed)
                self.assertIn(f"]({name}.schema.json)", listed)
                self.check_example(name, short)

    def check_example(self, name, short):
        if name in TABLES:
            text = (FORMATS / "examples" / f"{short}.csv").read_text(encoding="utf-8")
            first, _, rest = text.partition("\n")
            self.assertEqual(first, TABLES[name].first_line)
            rows = list(csv.DictReader(rest.splitlines()))
            self.assertTrue(rows)
            numbers = TABLES[name].numbers
            told = [{key: cell_of(key, value, numbers) for key, value in row.items()} for row in rows]
            jsonschema.validate(told, json_schema(name))
        elif name == "jaxel-due":
            calendar = icalendar.Calendar.from_ical((FORMATS / "examples" / "due.ics").read_bytes())
            self.assertEqual(calendar["X-JAXEL-FORMAT"], "jaxel-due 1")
            for event in calendar.walk("VEVENT"):
                said = {key.lower(): str(getattr(value, "dt", value)).replace(" ", "T") if key.startswith("DT")
                        else str(value) for key, value in event.items()}  # fmt: skip
                jsonschema.validate(said, json_schema(name))
        else:
            file = FORMATS / "setups" / "sled.json" if short == "setup" else FORMATS / "examples" / f"{short}.json"
            jsonschema.validate(json.loads(file.read_text(encoding="utf-8")), json_schema(name))


def cell_of(heading, value, numbers):
    """A cell as the schema sees it: nothing, a number, or text."""
    if value == "":
        return None
    number = any(re.fullmatch(each, heading) for each in numbers)
    return float(value) if number else value
