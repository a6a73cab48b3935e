"""Writes what the documentation takes from the code: JSON Schemas, and the figures of docs/model.md.

make docs
"""

import json
from pathlib import Path

import matplotlib as mpl
import numpy as np
from matplotlib import pyplot as plt
from scipy.interpolate import PchipInterpolator

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.plan.plan import write_plan
from jaxel.core.formats.plan.stock import read_stock
from jaxel.core.formats.run.calibration import write_calibration
from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.run.log_file import read_log
from jaxel.core.formats.run.runs import read_runs
from jaxel.core.formats.run.summary import write_summary
from jaxel.core.formats.schemas import NAMES, json_schema
from jaxel.core.formats.setup.setup import read_setup
from jaxel.core.mechanism.equilibrium.shift import predict
from jaxel.core.mechanism.numerics.tables import SmoothCurve
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import TRACES, Strip
from jaxel.core.trade.belt.trend import trend_of
from jaxel.core.trade.run.calibration_file import calibrated, from_document
from jaxel.core.trade.run.reader import RunReader
from jaxel.core.trade.run.summary import summary
from jaxel.core.trade.setup.discrepancy import kind_name, study
from jaxel.core.trade.shelf.planner import plan
from jaxel.core.units import RPM
from jaxel.instruments.logger import Logger

from . import examples

DOCS = Path(__file__).parent
BELTS = 120
"""Simulated belts for each point of the coverage."""

INK, GREY, SIGNAL, GREEN = "#22262a", "#868c91", "#c8410b", "#2f6f5e"

mpl.rcParams.update({
    "svg.hashsalt": "jaxel", "font.family": "sans-serif", "font.size": 10, "axes.spines.top": False,
    "axes.spines.right": False, "axes.edgecolor": GREY, "text.color": INK, "axes.labelcolor": INK,
    "xtick.color": INK, "ytick.color": INK, "figure.figsize": (6.4, 3.6), "axes.grid": True, "grid.color": "#e2dfd8",
})  # fmt: skip


def example(name: str):
    """A core set-up of one of the formats' examples."""
    return read_setup((DOCS / "formats" / "setups" / f"{name}.json").read_bytes())


def keep(name: str) -> None:
    """Write the current figure, the same bytes for the same picture."""
    plt.tight_layout()
    plt.savefig(DOCS / "figures" / f"{name}.svg", metadata={"Date": None})
    plt.close()


def shift_and_backshift() -> None:
    """The shift of the example sled with its backshift, and what a worn belt does to it."""
    new = predict(example("sled").core(), backshift=True)
    worn = predict(example("sled").with_belt_width(35.2).core())
    for curve, colour, label in ((new.shift, SIGNAL, "upshift"), (new.backshift, GREEN, "backshift"),
                                 (worn.shift, GREY, "upshift, belt 1.3 mm narrower")):  # fmt: skip
        held = ~curve.launch
        plt.plot(curve.path.ratio[held], curve.speed[held] / RPM, color=colour, label=label)
    plt.gca().invert_xaxis()
    plt.xlabel("ratio, secondary radius over primary radius")
    plt.ylabel("engine rpm, full throttle")
    plt.legend(frameon=False)
    keep("shift")


def profiles() -> None:
    """The slope of the example sled's arm by a curve through every point, as it was, and among them, as it is."""
    swing = example("sled").primary.profile.swing
    at, deg = ([getattr(point, name) for point in swing] for name in ("travel_mm", "deg"))
    travel = np.linspace(at[0], at[-1], 400)
    through = PchipInterpolator(at, deg).derivative()(travel)
    plt.plot(travel, through, color=GREY, label="through every point")
    plt.plot(travel, SmoothCurve(at, deg).slope(travel), color=SIGNAL, label="smooth among them")
    plt.xlabel("travel of the sheave, mm")
    plt.ylabel("swing of the arm, ° per mm")
    plt.legend(frameon=False)
    keep("profile")


def factors() -> None:
    """By how much the study's factors multiply a predicted change of the shift, with the share it misses by."""
    told = {kind: study()[kind, "shift"] for kind, figure in study() if figure == "shift"}
    places = np.arange(len(told))
    plt.barh(places, [each.factor for each in told.values()], color=SIGNAL, height=0.55,
             xerr=[each.rel for each in told.values()], ecolor=INK)  # fmt: skip
    plt.yticks(places, [kind_name(kind) for kind in told])
    plt.axvline(1.0, color=GREY)
    plt.gca().set_axisbelow(True)
    plt.gca().invert_yaxis()
    plt.xlabel("factor on a predicted change of the shift, and its miss")
    keep("factors")


def coverage() -> None:
    """How often a trend's range holds the use left of simulated belts, by the number of their readings."""
    counts, far = (3, 4, 6), np.linspace(0.0, 9000.0, 9001)
    for bend, colour, label in ((0.0, GREEN, "steady wear"), (1.0, SIGNAL, "rate doubles over its life")):
        for sd, style in ((0.05, "-"), (0.10, "--")):
            rng, held = np.random.default_rng(7), []
            for count in counts:
                inside = told = 0
                for _ in range(BELTS):
                    rate = 0.0004 * np.exp(rng.normal(0, 0.3))
                    bent = bend * rate / 1.5
                    lost = rate * far if bend == 0 else rate * np.expm1(bent * far) / bent
                    end = far[np.argmax(lost >= 1.5)]
                    use = np.linspace(0.0, end * rng.uniform(0.3, 0.8), count)
                    widths = 36.5 - np.interp(use, far, lost) + rng.normal(0, sd, count)
                    try:
                        trend = trend_of(use.tolist(), widths.tolist(), 36.5, 35.0)
                    except InvalidValue:  # so far off that it is to be measured again
                        continue
                    left, told = end - use[-1], told + 1
                    inside += trend.left_from <= left and (trend.left_to is None or left <= trend.left_to)
                held.append(inside / told)
            plt.plot(counts, held, style, color=colour, marker="o", label=f"{label}, caliper ± {sd:.2f} mm")
    plt.axhline(0.9, color=GREY)
    plt.ylim(0.5, 1.02)
    plt.xticks(counts)
    plt.xlabel("widths measured")
    plt.ylabel("share of belts in their 90 % range")
    plt.legend(frameon=False, loc="lower right")
    keep("coverage")


def wrap_limits() -> None:
    """Tension along the driven wrap in the two limits that bracket a rubber belt."""
    friction, wrap, ratio = 1.55, 3.6, 5.0
    angle = np.linspace(0, wrap, 300)
    active = np.log(ratio) / friction
    plt.plot(np.degrees(angle), np.exp(np.clip(angle - (wrap - active), 0, None) * friction), color=SIGNAL,
             label="idle arc, then sliding (λ = 1)")  # fmt: skip
    plt.plot(np.degrees(angle), np.exp(angle / wrap * np.log(ratio)), color=GREY, label="creep over the wrap (λ = 0)")
    plt.xlabel("angle along the driven wrap, °")
    plt.ylabel("tension over slack tension")
    plt.legend(frameon=False)
    keep("wrap")


def chopped_run() -> None:
    """A pull chopped shut for two seconds: engine speed and ratio."""
    trace = simulate(example("side-by-side").core(), Strip(throttle=TRACES["chop"], duration=16))
    speed = plt.gca()
    speed.plot(trace.time, trace.engine_speed / RPM, color=SIGNAL)
    speed.set_xlabel("time, s")
    speed.set_ylabel("engine rpm", color=SIGNAL)
    ratio = speed.twinx()
    ratio.plot(trace.time, trace.ratio, color=GREY)
    ratio.set_ylabel("ratio", color=GREY)
    ratio.grid(visible=False)
    keep("run")


def worked_examples() -> None:
    """The calibration and the plan of the example sled, from the runs and the stock beside them."""
    folder = DOCS / "formats" / "examples"
    sled = example("sled")
    calibration = calibrated(sled, read_runs((folder / "runs.json").read_bytes()).runs)
    (folder / "calibration.json").write_text(write_calibration(calibration) + "\n", encoding="utf-8")
    stock = read_stock((folder / "stock.json").read_bytes())
    found = plan(sled, stock, from_document(calibration), top=3)
    (folder / "plan.json").write_text(write_plan(found) + "\n", encoding="utf-8")
    sled = example("sled").core()
    run = log_columns(simulate(sled, Strip(duration=20, throttle=TRACES["chop"]), 50))
    log = read_log(Logger(dropout=0.01).written(run, 1))
    (folder / "run-summary.json").write_text(write_summary(summary(RunReader.of(log, sled))) + "\n", encoding="utf-8")


def main() -> None:
    """Write everything."""
    for name in NAMES:
        text = json.dumps(json_schema(name), indent=1, ensure_ascii=False)
        (DOCS / "formats" / f"{name}.schema.json").write_text(text + "\n", encoding="utf-8")
    (DOCS / "figures").mkdir(exist_ok=True)
    shift_and_backshift()
    wrap_limits()
    profiles()
    factors()
    coverage()
    chopped_run()
    worked_examples()
    examples.main()


if __name__ == "__main__":
    main()
