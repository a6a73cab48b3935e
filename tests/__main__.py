"""Run every test and close with the line that counts them; names given narrow the run."""

import doctest
import importlib
import pkgutil
import sys
import unittest
from pathlib import Path
from typing import Any

import jaxel.core


def doctests() -> unittest.TestSuite:
    """The worked examples in the core's docstrings."""
    suite = unittest.TestSuite()
    for module in pkgutil.walk_packages(jaxel.core.__path__, "jaxel.core."):
        suite.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return suite


def named(loader: unittest.TestLoader, name: str) -> unittest.TestSuite:
    """The tests of a package, a module, a class or one test."""
    folder = Path(name.replace(".", "/"))
    if folder.is_dir():
        return loader.discover(str(folder), top_level_dir=".")
    return loader.loadTestsFromName(name)


def main() -> int:
    loader = unittest.TestLoader()
    names = sys.argv[1:]
    suite = unittest.TestSuite(
        [named(loader, name) for name in names] if names else [loader.discover("tests", top_level_dir="."), doctests()]
    )
    slowest: dict[str, Any] = {"durations": 8} if sys.version_info >= (3, 12) else {}
    result = unittest.TextTestRunner(verbosity=1, **slowest).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    print(f"{passed} passed, {failed} failed", flush=True)
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
