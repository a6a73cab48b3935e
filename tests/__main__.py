"""Run every test and close with the line that counts them; names given narrow the run.

The whole run is in two processes side by side: the interface's tests mostly wait for the browser.
"""

import doctest
import importlib
import os
import pkgutil
import subprocess
import sys
import unittest
from pathlib import Path

import jaxel.core

INTERFACE = "tests.ui"
REST = ("tests.core", "tests.store", "tests.web", "tests.test_commands", "tests.test_serve", "doctests")


def doctests() -> unittest.TestSuite:
    """The worked examples in the core's docstrings."""
    suite = unittest.TestSuite()
    for module in pkgutil.walk_packages(jaxel.core.__path__, "jaxel.core."):
        suite.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return suite


def named(loader: unittest.TestLoader, name: str) -> unittest.TestSuite:
    """The tests of a package, a module, a class or one test; `doctests` for the core's worked examples."""
    if name == "doctests":
        return doctests()
    folder = Path(name.replace(".", "/"))
    if folder.is_dir():
        return loader.discover(str(folder), top_level_dir=".")
    return loader.loadTestsFromName(name)


def run(names: list[str]) -> tuple[int, int]:
    """Run tests by name; returns how many passed and failed."""
    loader = unittest.TestLoader()
    result = unittest.TextTestRunner(verbosity=1).run(unittest.TestSuite(named(loader, name) for name in names))
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return result.testsRun - failed - len(result.skipped), failed


def whole() -> tuple[int, int]:
    """Run everything: the interface here, the rest in a process of its own, whose words follow when both are done."""
    forgotten = {f"tests.{each.stem}" for each in Path("tests").glob("test_*.py")} - set(REST)
    if forgotten:
        raise SystemExit(f"no run includes {', '.join(sorted(forgotten))}")
    # Two processes on two cores: a matrix product must not take both.
    os.environ |= dict.fromkeys(("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"), "1")
    rest = subprocess.Popen(
        [sys.executable, "-m", "tests", *REST], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )
    passed, failed = run([INTERFACE])
    told, _ = rest.communicate()
    print(told, flush=True)
    counts = told.rsplit("\n", 2)[-2].split() if rest.returncode in (0, 1) else []
    if len(counts) != 4:
        return passed, failed + 1
    return passed + int(counts[0]), failed + int(counts[2])


def main() -> int:
    passed, failed = run(sys.argv[1:]) if sys.argv[1:] else whole()
    print(f"{passed} passed, {failed} failed", flush=True)
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
