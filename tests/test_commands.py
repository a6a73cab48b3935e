"""The commands as a shell runs them."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from jaxel.core.shift import predict
from jaxel.core.units import RPM
from tests.examples import changed, example, setup


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "jaxel", *arguments], capture_output=True, text=True, check=False)


class Predict(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "setup.json"
        self.path.write_text(json.dumps(example("mountain-sled")))

    def test_prints_the_prediction(self):
        done = run("predict", str(self.path), "--points", "21", "--backshift")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        found = json.loads(done.stdout)
        self.assertEqual((found["format"], found["version"], len(found["curve"])), ("jaxel-prediction", 1, 21))
        expected = predict(setup(), 21, backshift=True)
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

    def test_a_file_that_is_not_there(self):
        done = run("predict", str(self.path.parent / "none.json"))
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn("cannot be read: No such file", done.stderr)
        self.assertEqual(run("predict", str(self.path.parent)).returncode, 2)

    def test_points_out_of_range(self):
        self.assertEqual(run("predict", str(self.path), "--points", "3").returncode, 2)
