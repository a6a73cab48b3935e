"""Print how long the core's work takes: `python -m bench`."""

import timeit
from collections.abc import Callable

from jaxel.core.formats.plan.stock import StockDocument
from jaxel.core.formats.run.runs import RunPart
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.vehicle.pull import STEP, simulate
from jaxel.core.trade.run.fit import calibrate
from jaxel.core.trade.setup.figures import NODES
from jaxel.core.trade.setup.prediction import predicted
from jaxel.core.trade.setup.sensitivity import sensitivities
from jaxel.core.trade.setup.worth import worths
from jaxel.core.trade.shelf.planner import plan
from tests.core.scalar import ScalarClutch
from tests.examples import changed, example, read

STRIDE = 50
"""Of the run's steps the scalar route solves one in so many; its time is scaled up."""


def best(work: Callable[[], object], repeat: int = 7, number: int = 5) -> float:
    """Milliseconds of one call, the best of several rounds: the machine's noise only ever adds."""
    return min(timeit.repeat(work, repeat=repeat, number=number)) / number * 1e3


def once(work: Callable[[], object]) -> float:
    """Milliseconds of a single call, for work too slow to repeat."""
    return best(work, repeat=1, number=1)


def shelf() -> StockDocument:
    """A stock whose parts make 100,000 set-ups of the example sled: 10 arms, 10 springs, 25 helixes, 40 springs."""
    sled = example("sled")
    primary, secondary = sled["primary"]["spring"], sled["secondary"]["spring"]
    return StockDocument.model_validate({
        "weights": [{"name": f"arms {i}", "base_mass_g": 56.5 + i} for i in range(9)],
        "primary_springs": [primary | {"name": f"{i}", "force_start_n": 560.5 + 15 * i} for i in range(9)],
        "helixes": [{"name": f"{i}", "angles": [{"travel_mm": 0.0, "deg": 38.25 + i / 2}]} for i in range(24)],
        "secondary_springs": [secondary | {"name": f"{i}", "force_start_n": 700.5 + 6 * i} for i in range(39)],
    })  # fmt: skip


def main() -> None:
    """Time each piece on the example sled and print it with its ratio to the scalar route."""
    document = read(example("sled"))
    setup, scalar = document.core(), ScalarClutch(example("sled"))
    travels = setup.drive.nodes(41)

    prediction = once(lambda: [scalar.held_rpm(x) for x in travels])
    back = once(lambda: [scalar.held_rpm(x, backshift=True) for x in travels])
    steps = sensitivities(document)
    trace = simulate(setup)

    def scalar_run() -> None:
        """The clamp a run needs at each of its steps, by brentq and quad; the rest of a step costs little."""
        for travel in trace.travel[:: max(1, round(STRIDE * STEP * 50))]:
            scalar.required_clamp(max(travel, scalar.x_e), 100.0, 1)

    solved = len(trace.travel[:: max(1, round(STRIDE * STEP * 50))])
    run = once(scalar_run) / solved * (20 / STEP)
    known = read(changed(example("sled"), "evidence", {}))
    runs = [RunPart(setup=read(changed(example("sled"), "primary.weights.base_mass_g", 60.0 + i)),
                    engagement_rpm=3950.0 + 5 * i, shift_mean_rpm=8010.0 - 55 * i) for i in range(5)]  # fmt: skip
    evidenced = [each.model_copy(update={"setup": each.setup and known.model_copy(
        update={"primary": each.setup.primary})}) for each in runs]  # fmt: skip
    stock = shelf()
    planned = plan(document, stock).combinations
    rows = [
        ("document to core", best(document.core), None),
        ("prediction, 41 nodes", best(lambda: predict(setup)), prediction),
        ("prediction with backshift", best(lambda: predict(setup, backshift=True)), prediction + back),
        ("prediction with its band", best(lambda: predicted(document)), 12 * prediction),
        (f"{planned:,} set-ups planned", best(lambda: plan(document, stock), 3, 1), planned * prediction * 21 / 41),
        ("calibration of five runs", best(lambda: calibrate(document, runs), 3, 1), None),
        ("the same with evidence", best(lambda: calibrate(known, evidenced), 3, 1), None),
        ("evidence shares", best(lambda: worths(known), 5, 1), None),
        (f"sensitivities, {len(steps)} of {NODES} nodes", best(lambda: sensitivities(document), 3, 1),
         2 * len(steps) * prediction * NODES / 41),
        ("run, 20 s at 50 Hz", best(lambda: simulate(setup), 3, 1), run),
    ]  # fmt: skip
    print(f"{'':34}{'ms':>9}{'scalar ms':>12}{'ratio':>8}")
    for name, took, loop in rows:
        compared = f"{loop:12,.0f}{loop / took:8.0f}" if loop else ""
        print(f"{name:34}{took:9.2f}{compared}")


if __name__ == "__main__":
    main()
