"""Runs for the reader's tests: pulls of the example machines simulated once, logged as a logger has them."""

from functools import cache

from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.run.log_file import read_log
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import FULL, TRACES, PullTrace, Strip
from jaxel.core.trade.run.reader import RunReader
from jaxel.instruments.logger import Logger
from tests.examples import example, read

SLOW = ((0.0, 0.0), (0.5, 0.0), (3.0, 0.13), (40.0, 0.34), (41.0, 0.0), (44.0, 0.0))
"""A roll-on slow enough to show the engagement."""

RIDES = {"full": (FULL, 25.0), "chop": (TRACES["chop"], 22.0), "roll-on": (SLOW, 44.0)}


@cache
def setup(name: str, **model: float) -> SetupDocument:
    """A machine of the formats' examples, or one whose model differs by factors nobody at the bench knows."""
    document = read(example(name))
    return document.model_copy(update={"model": document.model.model_copy(update=model)}) if model else document


@cache
def ridden(name: str, ride: str, **model: float) -> PullTrace:
    """A ride of it, simulated at 100 Hz."""
    throttle, seconds = RIDES[ride]
    return simulate(setup(name, **model).core(), Strip(duration=seconds, throttle=throttle), 100)


def logged(name: str, ride: str, logger: Logger, seed: int = 0, **model: float) -> bytes:
    """The file a logger writes of it."""
    return logger.written(log_columns(ridden(name, ride, **model)), seed)


def reader(data: bytes, name: str | None = None) -> RunReader:
    """A reader of a file, on a machine of the examples or on none."""
    return RunReader.of(read_log(data), setup(name).core() if name else None)
