"""Run every test and close with the line that counts them; names given narrow the run.

Classes of tests are handed out to processes side by side, the longest first: the interface's, which mostly wait for
the browser, beside the rest. Each process has a browser and servers of its own, on copies of one demo database.
"""

import doctest
import importlib
import io
import os
import pkgutil
import sys
import tempfile
import time
import unittest
from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from multiprocessing import get_context
from pathlib import Path

import jaxel.core

WORKERS = max(2, os.cpu_count() or 1)
MEMORY = "/dev/shm"
DOCTESTS = "doctests"
INTERFACE = "tests.ui."
SLOWEST = 12
"""Classes named at the end with the time they took."""


@dataclass(frozen=True)
class Outcome:
    """What came of some tests: how many passed and failed, and what is to be said of those that failed."""

    passed: int
    failed: int
    told: str = ""
    seconds: float = 0.0


def doctests() -> unittest.TestSuite:
    """The worked examples in the core's docstrings."""
    suite = unittest.TestSuite()
    for module in pkgutil.walk_packages(jaxel.core.__path__, "jaxel.core."):
        suite.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return suite


def named(name: str) -> unittest.TestSuite:
    """The tests of a package, a module, a class or one test; `doctests` for the core's worked examples."""
    loader = unittest.TestLoader()
    if name == DOCTESTS:
        return doctests()
    folder = Path(name.replace(".", "/"))
    return loader.discover(str(folder), top_level_dir=".") if folder.is_dir() else loader.loadTestsFromName(name)


def each_test(suite: Iterable[unittest.TestCase | unittest.TestSuite]) -> Iterator[unittest.TestCase]:
    """Every test of a suite."""
    for each in suite:
        if isinstance(each, unittest.TestSuite):
            yield from each_test(each)
        else:
            yield each


def shares(names: Iterable[str]) -> list[list[str]]:
    """What is handed out at once, the longest first: the tests of one class, the doctests."""
    classes: dict[str, list[str]] = {}
    for name in names:
        if name == DOCTESTS:
            classes[DOCTESTS] = [DOCTESTS]
            continue
        for test in each_test(named(name)):
            found = classes.setdefault(f"{type(test).__module__}.{type(test).__qualname__}", [])
            found.append(test.id())
    return sorted(classes.values(), key=lambda ids: (not ids[0].startswith(INTERFACE), -len(ids)))


def run(names: list[str]) -> Outcome:
    """Run tests by name, in this process."""
    said, begun = io.StringIO(), time.monotonic()
    suite = unittest.TestSuite(named(name) for name in names)
    result = unittest.TextTestRunner(said, verbosity=0).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = max(0, result.testsRun - failed - len(result.skipped))
    return Outcome(passed, failed, said.getvalue() if failed else "", time.monotonic() - begun)


def whole(names: list[str]) -> Outcome:
    """Run tests by name, in as many processes as this machine bears; what failed is said as it happens.

    A browser on a loaded machine may be later than a test waits: a class of the interface that failed is run once
    more by itself, and both outcomes are printed; only the second counts.
    """
    # Processes share the cores: a matrix product must not take them all.
    os.environ |= dict.fromkeys(("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"), "1")
    # Databases and browser profiles in memory, where there is room for them: half of a run is waiting for a disk.
    if Path(MEMORY).is_dir():
        os.environ["TMPDIR"] = tempfile.tempdir = MEMORY
    passed = failed = 0
    again: list[list[str]] = []
    took: list[tuple[float, str]] = []
    todo = shares(names)
    with (
        tempfile.TemporaryDirectory() as folder,
        ProcessPoolExecutor(min(WORKERS, len(todo) or 1), mp_context=get_context("fork")) as pool,
    ):
        if any(ids[0].startswith(INTERFACE) for ids in todo):
            from tests.ui.browser import build_demo

            os.environ["JAXEL_TEST_DEMO"] = str(build_demo(Path(folder)))
        going = {pool.submit(run, ids): ids for ids in todo}
        for done in as_completed(going):
            outcome = done.result()
            took.append((outcome.seconds, going[done][0]))
            if outcome.told:
                print(outcome.told, flush=True)
            if outcome.failed and going[done][0].startswith(INTERFACE):
                again.append(going[done])
            else:
                passed, failed = passed + outcome.passed, failed + outcome.failed
        for ids in again:
            print(f"once more, with the machine to itself: {', '.join(ids)}", flush=True)
            outcome = pool.submit(run, ids).result()
            print(outcome.told or "passed this time: a race, to be mended", flush=True)
            passed, failed = passed + outcome.passed, failed + outcome.failed
    for seconds, first in sorted(took, reverse=True)[:SLOWEST]:
        print(f"{seconds:5.0f} s  {first.rpartition('.')[0] or first}", flush=True)
    return Outcome(passed, failed)


def main() -> int:
    outcome = whole(sys.argv[1:] or ["tests", DOCTESTS])
    print(f"{outcome.passed} passed, {outcome.failed} failed", flush=True)
    return 1 if outcome.failed or not outcome.passed else 0


if __name__ == "__main__":
    sys.exit(main())
