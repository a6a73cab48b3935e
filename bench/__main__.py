"""Print how long the core's work takes: `python -m bench`."""

import timeit
from collections.abc import Callable

from jaxel.core.calibration import prior_band
from jaxel.core.shift import predict
from tests.core.scalar import ScalarClutch
from tests.examples import example, read


def best(work: Callable[[], object], repeat: int = 7, number: int = 5) -> float:
    """Milliseconds of one call, the best of several rounds: the machine's noise only ever adds."""
    return min(timeit.repeat(work, repeat=repeat, number=number)) / number * 1e3


def main() -> None:
    """Time each piece on the mountain sled and print it with its ratio to the scalar route."""
    document = read(example("mountain-sled"))
    setup, scalar = document.core(), ScalarClutch(example("mountain-sled"))
    travels = setup.drive.nodes(41)

    def scalar_prediction(*, backshift: bool = False) -> list[float]:
        return [scalar.held_rpm(x, backshift=backshift) for x in travels]

    one = best(scalar_prediction, repeat=1, number=1)
    rows = [
        ("document to core", best(document.core), None),
        ("prediction, 41 nodes", best(lambda: predict(setup)), one),
        ("prediction with backshift", best(lambda: predict(setup, backshift=True)), 2 * one),
        ("prior band, eight predictions", best(lambda: prior_band(setup)), 8 * one),
    ]
    print(f"{'':32}{'ms':>10}{'scalar ms':>12}{'ratio':>9}")
    for name, took, loop in rows:
        compared = f"{loop:12.0f}{loop / took:9.0f}" if loop else ""
        print(f"{name:32}{took:10.2f}{compared}")


if __name__ == "__main__":
    main()
