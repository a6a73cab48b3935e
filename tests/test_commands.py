"""The commands as a shell runs them."""

import io
import json
import subprocess
import sys
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass
from pathlib import Path

import jsonschema

from jaxel.__main__ import main
from jaxel.core.formats.schemas import json_schema
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.units import RPM
from tests.examples import FORMATS, changed, drivetrain, example


@dataclass
class Done:
    returncode: int
    stdout: str
    stderr: str


def run(*arguments: str) -> Done:
    """A command in this process: what it returned and printed."""
    with redirect_stdout(io.StringIO()) as out, redirect_stderr(io.StringIO()) as complaint:
        try:
            code = main(list(arguments))
        except SystemExit as stop:
            code = int(stop.code or 0)
    return Done(code, out.getvalue(), complaint.getvalue())


class CommandCase(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "setup.json"
        self.path.write_text(json.dumps(example("mountain-sled")))


class Predict(CommandCase):
    def test_as_a_shell_runs_it(self):
        command = [sys.executable, "-m", "jaxel", "predict", str(self.path)]
        done = subprocess.run(command, capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stderr, done.stdout), (0, "", run("predict", str(self.path)).stdout))
        self.path.write_text("{")
        done = subprocess.run(command, capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))

    def test_prints_the_prediction(self):
        done = run("predict", str(self.path), "--points", "21", "--backshift")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        found = json.loads(done.stdout)
        self.assertEqual((found["format"], found["version"], len(found["curve"])), ("jaxel-prediction", 1, 21))
        expected = predict(drivetrain(), 21, backshift=True)
        self.assertAlmostEqual(found["shift"]["mean_rpm"], expected.shift.mean / RPM, delta=0.1)
        self.assertAlmostEqual(found["backshift"]["mean_rpm"], expected.backshift.mean / RPM, delta=0.1)
        for name in ("power_factor", "belt", "engagement", "shift", "curve", "warnings"):
            self.assertIn(name, found)

    def test_a_bad_input_is_one_line_and_exit_2(self):
        cases = {
            "belt.top_width_mm": json.dumps(changed(example("mountain-sled"), "belt.top_width_mm", 7)),
            "primary.weights.count": json.dumps(changed(example("mountain-sled"), "primary.weights.count", "three")),
            "document": "not json",
            "format": "{}",
        }
        for field, text in cases.items():
            with self.subTest(field):
                self.path.write_text(text)
                done = run("predict", str(self.path))
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertEqual(done.stderr.count("\n"), 1)
                self.assertTrue(done.stderr.startswith(f"{field}: "), done.stderr)

    def test_every_kind_of_bad_document(self):
        sled = example("sled")
        swing = sled["primary"]["profile"]["swing"]
        bad = {
            "primary.profile.swing[1].travel_mm": changed(sled, "primary.profile.swing", swing[1::-1]),
            "primary.profile.swing[2].travel_mm": changed(sled, "primary.profile.swing", [*swing[:2], swing[1]]),
            "engine.curve": changed(sled, "engine.curve", sled["engine"]["curve"][:1]),
            "primary.weights.loads[0].station": changed(
                sled, "primary.weights.loads", [{"station": "knee", "mass_g": 1}]
            ),
            "primary.weights.base_mass_g": changed(sled, "primary.weights.base_mass_g", -62),
            "secondary.helix.angles[0].deg": changed(sled, "secondary.helix.angles.0.deg", 0),
            "vehicle.mass_kg": changed(sled, "vehicle.mass_kg", float("inf")),
            "version": changed(sled, "version", 3),
        }
        texts = {field: json.dumps(document).encode() for field, document in bad.items()}
        for field, data in (*texts.items(), ("document", b""), ("document", b"\x00\xff\x7f" * 50), ("document", b"[]")):
            with self.subTest(field):
                self.path.write_bytes(data)
                done = run("predict", str(self.path))
                self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))
                self.assertTrue(done.stderr.startswith(f"{field}: "), done.stderr)

    def test_a_file_that_is_not_there(self):
        done = run("predict", str(self.path.parent / "none.json"))
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn("cannot be read: No such file", done.stderr)
        self.assertEqual(run("predict", str(self.path.parent)).returncode, 2)

    def test_points_out_of_range(self):
        self.assertEqual(run("predict", str(self.path), "--points", "3").returncode, 2)


class ReadRun(CommandCase):
    """A simulated log read back; the example of its page; refusals in one line."""

    def test_the_example_of_the_page(self):
        sled = str(FORMATS / "setups" / "sled.json")
        log = self.path.parent / "run.csv"
        log.write_text(run("simulate", sled, "--seed", "1", "--throttle", "chop").stdout, encoding="utf-8")
        read = run("read-run", str(log), "--setup", sled)
        self.assertEqual(read.stderr, "")
        page = json.loads((FORMATS / "examples" / "run-summary.json").read_text(encoding="utf-8"))
        self.same(json.loads(read.stdout), page, "")
        jsonschema.validate(page, json_schema("jaxel-run-summary"))
        self.assertEqual([each["kind"] for each in page["pulls"]], ["chop"])
        self.assertAlmostEqual(page["shift"]["mean_rpm"]["value"], 7945, delta=5)

    def same(self, one, other, path):
        """The same document, numbers to a thousandth: another machine's arithmetic may differ in a last digit."""
        if isinstance(other, dict):
            self.assertEqual(set(one), set(other), path)
            for name in other:
                self.same(one[name], other[name], f"{path}.{name}")
        elif isinstance(other, float):
            self.assertAlmostEqual(one, other, delta=1e-3 * max(abs(other), 0.01), msg=path)
        else:
            self.assertEqual(one, other, path)

    def test_a_map_and_a_log_nobody_knows(self):
        log, said = self.path.parent / "run.csv", self.path.parent / "map.json"
        rows = [f"{k * 0.1:.1f};{1300 + 40 * k};{k}" for k in range(200)]
        log.write_text("\n".join(["Kanal 1;Kanal 2;Kanal 3", *rows]))
        bare = run("read-run", str(log))
        self.assertEqual((bare.returncode, bare.stdout, bare.stderr.count("\n")), (2, "", 1))
        self.assertTrue(bare.stderr.startswith("time_s: is missing"))
        mapped = run("read-run", str(log), "--map", str(FORMATS / "examples" / "logger.json"))
        self.assertEqual(json.loads(mapped.stdout)["columns"], ["engine", "speed"])
        said.write_text('{"Kanal 1": "time_s", "Kanal 2": "tachometer"}')
        refused = run("read-run", str(log), "--map", str(said))
        self.assertEqual(refused.returncode, 2)
        self.assertIn("must be one of time_s", refused.stderr)

    def test_a_log_that_is_none(self):
        for data, field in ((b"", "log"), (b"\x00\x01" * 99, "log"), (b"time_s,engine_rpm\n1,2\n", "log")):
            self.path.write_bytes(data)
            done = run("read-run", str(self.path))
            self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))
            self.assertTrue(done.stderr.startswith(f"{field}: "), done.stderr)


class Worked(CommandCase):
    """The examples of the format pages, from set-up and runs to plan."""

    def setUp(self):
        super().setUp()
        self.sled = str(FORMATS / "setups" / "sled.json")
        self.calibration = self.path.parent / "calibration.json"

    def printed(self, *arguments):
        done = run(*arguments)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        return json.loads(done.stdout)

    def refused(self, field, *arguments):
        done = run(*arguments)
        self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))
        self.assertTrue(done.stderr.startswith(f"{field}: "), done.stderr)

    def kept(self, name, **changes):
        """An example of the formats' pages, changed and written anew; returns its path."""
        document = json.loads((FORMATS / "examples" / f"{name}.json").read_text(encoding="utf-8")) | changes
        path = self.path.parent / f"{name}.json"
        path.write_text(json.dumps(document))
        return str(path)

    def test_calibrate_then_predict(self):
        found = self.printed("calibrate", self.sled, "--runs", self.kept("runs"))
        page = json.loads((FORMATS / "examples" / "calibration.json").read_text(encoding="utf-8"))
        self.assertEqual((found["order"], found["anchor"]), (page["order"], page["anchor"]))
        for name, value in page["model"].items():
            self.assertAlmostEqual(found["model"][name], value, places=4)
        self.calibration.write_text(json.dumps(found))
        anchored = self.printed("predict", self.sled, "--calibration", str(self.calibration))
        bare = self.printed("predict", self.sled, "--worth")
        # Two runs of the set-up itself, 50 and 20 rpm sure of 7,760 and 7,772: weighted by 1/sd².
        expected = (7760 / 50**2 + 7772 / 20**2) / (1 / 50**2 + 1 / 20**2)
        self.assertAlmostEqual(anchored["shift"]["mean_rpm"], expected, delta=0.3)
        self.assertAlmostEqual(anchored["shift"]["full_shift_rpm"], 7831, delta=0.3)
        self.assertAlmostEqual(anchored["band"]["mean_rpm"], (1 / (1 / 50**2 + 1 / 20**2) + 8**2) ** 0.5, delta=0.2)
        self.assertGreater(bare["band"]["mean_rpm"], 200)
        self.assertEqual([each["run"] for each in anchored["anchor"]], [1, 1, 2, 2])
        self.assertEqual((len(bare["worth"]), bare["band"]["counts"], "anchor" in bare), (5, "model", False))

    def test_plan(self):
        page = FORMATS / "examples"
        found = self.printed("plan", self.sled, "--stock", str(page / "stock.json"), "--calibration",
                             str(page / "calibration.json"), "--top", "3", "--altitude", "arms")  # fmt: skip
        kept = json.loads((page / "plan.json").read_text(encoding="utf-8"))
        self.assertEqual(found["combinations"], kept["combinations"])
        self.assertEqual([each["changes"][0]["slot"] for each in found["answers"]],
                         [each["changes"][0]["slot"] for each in kept["answers"]])  # fmt: skip
        for one, other in zip(found["answers"], kept["answers"], strict=True):
            self.assertAlmostEqual(one["shift_mean_rpm"], other["shift_mean_rpm"], delta=1)
        self.assertEqual(len(found["altitude"]["rows"]), 8)
        only = self.printed("plan", self.sled, "--altitude", "arms")
        self.assertEqual((only["answers"], only["altitude"]["slot"]), ([], "arms"))

    def test_bad_input_is_one_line(self):
        runs, stock = self.kept("runs"), self.kept("stock")
        self.refused("runs", "calibrate", self.sled, "--runs", self.kept("runs", runs=[]))
        self.refused("runs[0]", "calibrate", self.sled, "--runs", self.kept("runs", runs=[{"note": "fast"}]))
        self.refused("format", "calibrate", self.sled, "--runs", stock)
        groups = ("weights", "primary_springs", "helixes", "secondary_springs", "washers_mm", "kits")
        empty: dict[str, object] = {group: [] for group in groups} | {"loads": {}}
        self.refused("document", "plan", self.sled, "--stock", self.kept("stock", **empty))
        self.refused("weights[0].base_mass_g", "plan", self.sled, "--stock", self.kept(
            "stock", weights=[{"name": "mixed", "base_mass_g": [60, 61, 60]}]))  # fmt: skip
        self.refused("stock", "plan", self.sled)
        self.refused("altitude", "plan", self.sled, "--altitude", "clicker")
        self.refused("worth", "predict", self.sled, "--worth", "--calibration",
                     str(FORMATS / "examples" / "calibration.json"))  # fmt: skip
        self.refused("setup", "predict", str(FORMATS / "setups" / "quad.json"), "--calibration",
                     str(FORMATS / "examples" / "calibration.json"))  # fmt: skip
        self.assertEqual(run("plan", self.sled, "--stock", runs, "--top", "0").returncode, 2)


class Simulate(CommandCase):
    def test_prints_a_run_file(self):
        done = run("simulate", str(self.path), "--hz", "20", "--seconds", "3")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        first, header, *rows = done.stdout.splitlines()
        self.assertEqual(first, "# jaxel-run 1")
        self.assertEqual(header, "time_s,engine_rpm,secondary_rpm,speed_kph,throttle_pct,belt_temp_c")
        self.assertEqual(len(rows), 61)

    def test_what_it_prints_is_read(self):
        log = self.path.with_name("run.csv")
        log.write_text(run("simulate", str(self.path), "--seconds", "12").stdout)
        done = run("read-run", str(log), "--setup", str(self.path))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(json.loads(done.stdout)["format"], "jaxel-run-summary")

    def test_the_seed_repeats(self):
        one, same, other = (
            run("simulate", str(self.path), "--seconds", "2", "--seed", n).stdout for n in ("1", "1", "2")
        )
        self.assertEqual(one, same)
        self.assertNotEqual(one, other)

    def test_bad_options(self):
        for options in (("--hz", "0"), ("--hz", "nan"), ("--seconds", "-1"), ("--grade", "3"), ("--seed", "-2")):
            done = run("simulate", str(self.path), *options)
            self.assertEqual((done.returncode, done.stdout), (2, ""), options)


class Spring(CommandCase):
    # By hand: the rated spring holds 26·(89 − 65) = 624 N at 65 mm; this one 26·(88 − 65) = 598, 1/24 less.
    SAGGED = {  # noqa: RUF012
        "format": "jaxel-spring",
        "version": 1,
        "points": [{"length_mm": 65, "force_n": 598}, {"length_mm": 50, "force_n": 988}],
        "rated": {"rate_n_per_mm": 26, "free_length_mm": 89},
    }

    def test_says_what_it_has_lost(self):
        self.path.write_text(json.dumps(self.SAGGED))
        found = json.loads(run("spring", str(self.path)).stdout)
        self.assertEqual((found["rate_n_per_mm"], found["free_length_mm"], found["residual_n"]), (26, 88, 0))
        self.assertAlmostEqual(found["sag_share"], 1 / 24, places=4)

    def test_bad_springs(self):
        flat = [{"length_mm": 65, "force_n": 598}, {"length_mm": 50, "force_n": 598}]
        for change, field in (({"points": flat}, "points"), ({"points": flat[:1]}, "points"), ({"wire": 4}, "wire")):
            self.path.write_text(json.dumps(self.SAGGED | change))
            done = run("spring", str(self.path))
            self.assertEqual((done.returncode, done.stdout), (2, ""))
            self.assertTrue(done.stderr.startswith(f"{field}: "), done.stderr)


class Schema(unittest.TestCase):
    def test_prints_a_documents_schema(self):
        self.assertEqual(json.loads(run("schema", "jaxel-setup").stdout)["$id"], "jaxel-setup-1")
        self.assertEqual(run("schema", "jaxel-nothing").returncode, 2)
