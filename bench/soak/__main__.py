"""A soak: fuzzed, killed and worked on by six hands at once, for as long as it is let; prints what came of it.

python -m bench.soak [--cases 100000] [--kills 200] [--minutes 60] [--seed 1]
"""

import argparse
import shutil
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path

from jaxel.demo.workshop import build
from jaxel.store.db import connect, migrate, writing

from ..workshop import fill
from .fuzz import fuzz_in_rounds
from .hands import work
from .kills import kills

LEAST_TAKEN = 0.15
"""Share of fuzzed writes that must be carried out: below it they no longer reach what they are meant to try."""


def demo(path: Path) -> Path:
    """The demo workshop's database."""
    migrate(path)
    with closing(connect(path)) as connection, writing(connection):
        build(connection)
    return path


def main() -> int:
    """Soak it; 1 where anything was lost, slow or broken."""
    parser = argparse.ArgumentParser(prog="python -m bench.soak")
    for name, given in (("cases", 100_000), ("kills", 200), ("minutes", 60), ("seed", 1)):
        parser.add_argument(f"--{name}", type=float if name == "minutes" else int, default=given)
    options = parser.parse_args()
    faults: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        whole = demo(Path(folder) / "demo.db")
        if options.cases:
            begun = time.monotonic()
            found = fuzz_in_rounds(whole, options.cases, options.seed)
            print(f"fuzz: {found.cases:,} cases in {time.monotonic() - begun:.0f} s, {found.share:.0%} of"
                  f" {found.writes:,} writes carried out, slowest {found.slowest_s:.2f} s of CPU ({found.slowest}),"
                  f" {dict(sorted(found.statuses.items()))}", flush=True)  # fmt: skip
            faults += found.faults
            if found.share < LEAST_TAKEN:
                faults.append(f"only {found.share:.0%} of the fuzzed writes were carried out")
        if options.kills:
            killed = kills(Path(shutil.copy(whole, Path(folder) / "kills.db")), options.kills, options.seed)
            print(f"kills: {killed.kills}, after {killed.acknowledged:,} acknowledged acts", flush=True)
            faults += killed.faults
        if options.minutes:
            large = Path(folder) / "large.db"
            fill(large)
            with closing(connect(large)) as connection:
                opened = [row[0] for row in connection.execute("SELECT id FROM visit WHERE signed_off_at IS NULL")]
            worked = work(large, options.minutes * 60, opened)
            print(f"six hands at {100_000:,} visits: {worked.told}", flush=True)
            faults += worked.faults
    for fault in faults[:50]:
        print(f"FAULT {fault}", flush=True)
    print(f"{len(faults)} faults", flush=True)
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
