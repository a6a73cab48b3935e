"""The commands: `python -m jaxel COMMAND`."""

import argparse
import gc
import json
import sys
import unicodedata
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from datetime import time
from os import environ
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from jaxel.core.errors import InvalidValue, Refused
from jaxel.core.formats.device_reading import DEVICES, read_device_reading
from jaxel.core.formats.faults import in_document_terms
from jaxel.core.formats.prediction import write_prediction
from jaxel.core.formats.reading import FILE_LIMIT
from jaxel.core.formats.run.log import log_columns
from jaxel.core.formats.schemas import NAMES, json_schema
from jaxel.core.formats.setup.setup import read_setup
from jaxel.core.formats.setup.tested_spring import read_spring, spring_report
from jaxel.core.formats.tables import RUN
from jaxel.core.mechanism.vehicle.pull import simulate
from jaxel.core.mechanism.vehicle.trace import TRACES, Strip
from jaxel.core.words import told
from jaxel.instruments.logger import OWN, Logger

if TYPE_CHECKING:
    from jaxel.core.formats.bundle import Scope
    from jaxel.core.trade.setup.calibration import Calibration
    from jaxel.store.copies import Contents


TOKEN = "JAXEL_TOKEN"
"""Where a bench's token may stand in the environment: a command's own words are seen by others on the machine."""


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when done, 2 with one line on standard error for a bad input."""
    options = _parser().parse_args(arguments)
    try:
        with in_document_terms():
            text = options.run(options)
    except (InvalidValue, Refused) as error:
        print(_printable(told(str(error))).replace("\n", " "), file=sys.stderr)
        return 2
    try:
        print(_printable(told(text)), flush=True)
    except BrokenPipeError:
        sys.stderr.close()
    return 0


def _printable(text: str) -> str:
    """The text with its control characters spelled out, as JSON spells them: none may reach a terminal."""
    return "".join(
        f"\\u{ord(each):04x}" if unicodedata.category(each) == "Cc" and each != "\n" else each for each in text
    )


class _Parser(argparse.ArgumentParser):
    """A parser that says what is wrong in one line, as every refusal of these commands."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{_printable(message)}; {self.prog} --help says more\n")


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="python -m jaxel", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    command = commands.add_parser("predict", help="what a set-up will do, as a jaxel-prediction document")
    command.add_argument("setup", type=Path, metavar="SETUP.json")
    command.add_argument("--points", type=_points, default=41, metavar="N", help="nodes of the curve, 5 to 2001")
    command.add_argument("--backshift", action="store_true", help="add the curve on which it shifts back")
    command.add_argument("--calibration", type=Path, metavar="CALIBRATION.json", help="anchor it on measured runs")
    command.add_argument("--worth", action="store_true", help="add what it is worth to measure each number")
    command.set_defaults(run=_predict)

    command = commands.add_parser(
        "calibrate", help="fit a machine's model to its runs, as a jaxel-calibration document"
    )
    command.add_argument("setup", type=Path, metavar="SETUP.json")
    command.add_argument("--runs", type=Path, required=True, metavar="RUNS.json")
    command.set_defaults(run=_calibrate)

    command = commands.add_parser("plan", help="which parts at hand land in the window, as a jaxel-plan document")
    command.add_argument("setup", type=Path, metavar="SETUP.json")
    command.add_argument("--stock", type=Path, metavar="STOCK.json")
    command.add_argument("--calibration", type=Path, metavar="CALIBRATION.json")
    command.add_argument("--top", type=_top, default=5, metavar="N", help="answers, 1 to 50")
    command.add_argument(
        "--altitude", metavar="SLOT", help="hold the target to 3,500 m by arms, clicker or load:STATION"
    )
    command.set_defaults(run=_plan)

    command = commands.add_parser("simulate", help="a run on a simulated strip, as the CSV of a logger")
    command.add_argument("setup", type=Path, metavar="SETUP.json")
    command.add_argument("--seed", type=int, metavar="N", help="add the noise and dropouts of a logger")
    command.add_argument("--hz", type=float, default=50, metavar="HZ", help="samples a second, 1 to 1000")
    command.add_argument("--seconds", type=float, default=20, metavar="S", help="length of the run")
    command.add_argument("--throttle", choices=sorted(TRACES), default="full")
    command.add_argument("--grade", type=float, default=0, metavar="G", help="rise over run, -0.5 to 0.5")
    command.set_defaults(run=_simulate)

    command = commands.add_parser("read-run", help="what a log of a run gives, as a jaxel-run-summary document")
    command.add_argument("log", type=Path, metavar="RUN.csv", help="a logger's CSV, or a phone's GPX")
    command.add_argument("--setup", type=Path, metavar="SETUP.json", help="what the machine had on")
    command.add_argument(
        "--map", type=Path, metavar="MAP.json", help="which column holds what, a jaxel-logger document"
    )
    command.set_defaults(run=_read_run)

    command = commands.add_parser("spring", help="what a measured spring is, and what it has lost")
    command.add_argument("spring", type=Path, metavar="SPRING.json")
    command.set_defaults(
        run=lambda options: spring_report(read_spring(_read(options.spring))).model_dump_json(indent=2)
    )

    command = commands.add_parser("schema", help="the JSON Schema of a document or table")
    command.add_argument("name", choices=NAMES)
    command.set_defaults(run=lambda options: json.dumps(json_schema(options.name), indent=1, ensure_ascii=False))

    _reading_parser(commands.add_parser("reading", help="send a device's reading to a bench of a server that runs"))
    _database_parsers(commands)
    return parser


def _database_parsers(commands: "argparse._SubParsersAction[_Parser]") -> None:
    """The commands that serve a workshop's database, and keep it."""
    command = commands.add_parser("serve", help="the application in a browser")
    command.add_argument("--database", type=Path, default=Path("var/jaxel.db"), metavar="FILE")
    command.add_argument("--port", type=_port, default=8710, metavar="N", help="1 to 65535, or 0 for any free one")
    command.add_argument("--demo", action="store_true", help="fill an empty database with the demo workshop")
    command.add_argument("--backups", type=Path, metavar="FOLDER", help="back up into it every night")
    command.add_argument("--keep", type=_kept, default=14, metavar="N", help="nightly backups kept, 1 to 1000")
    command.add_argument("--at", type=_hour, default=time(3), metavar="HH:MM", help="when one is due; else 03:00")
    command.set_defaults(run=_serve)

    command = commands.add_parser("backup", help="a whole copy of the database, also while it is in use")
    command.add_argument("file", type=Path, metavar="FILE", help="the copy; with --keep, the folder of dated ones")
    command.add_argument("--keep", type=_kept, metavar="N", help="date it, prove it, and keep the N newest, 1 to 1000")
    _on_database(command, _backup)
    command = commands.add_parser("restore", help="put a copy in the database's place; stop the server first")
    command.add_argument("file", type=Path, metavar="FILE")
    _on_database(command, _restore)
    command = commands.add_parser("bundle", help="the workshop, a machine or a signed visit as an open bundle")
    command.add_argument("file", type=Path, metavar="FILE.zip")
    one = command.add_mutually_exclusive_group()
    one.add_argument("--machine", type=_key, metavar="N", help="just this one, by the number in its address")
    one.add_argument("--visit", type=_key, metavar="N", help="just this one, by the number in its address")
    command.add_argument(
        "--without", choices=LEFT_OUT, action="append", default=[], help="leave out, as often as wanted"
    )
    _on_database(command, _bundle)
    command = commands.add_parser("take-in", help="take an open bundle in; what is here stays")
    command.add_argument("file", type=Path, metavar="FILE.zip")
    command.add_argument("--look", action="store_true", help="say what it would bring, and keep nothing")
    _on_database(command, _take_in)
    command = commands.add_parser("check", help="prove a backup: put it back beside, and read every signed page")
    command.add_argument("file", type=Path, metavar="FILE")
    command.set_defaults(run=_check)


def _on_database(command: argparse.ArgumentParser, run: Callable[[argparse.Namespace], str]) -> None:
    command.add_argument("--database", type=Path, default=Path("var/jaxel.db"), metavar="DATABASE")
    command.set_defaults(run=run)


def _reading_parser(command: argparse.ArgumentParser) -> None:
    command.add_argument("instrument", choices=sorted(DEVICES), metavar="INSTRUMENT", help=", ".join(DEVICES))
    command.add_argument("value", metavar="VALUE", help="as the device shows it, as 35.42")
    command.add_argument("unit", metavar="UNIT", help="as mm, in, g, N, lbf, N·m, rpm, °C, deg")
    command.add_argument("--bench", type=int, required=True, metavar="N", help="the bench's number")
    command.add_argument("--token", metavar="TOKEN", help=f"the bench's own; else from {TOKEN} in the environment")
    command.add_argument("--url", default="http://127.0.0.1:8710", metavar="URL", help="where the server answers")
    command.set_defaults(run=_reading)


def _whole(low: int, high: int) -> Callable[[str], int]:
    """Reads a whole number within bounds."""

    def read(text: str) -> int:
        if not text.isascii() or not text.isdigit() or not low <= int(text[:6]) <= high:
            raise argparse.ArgumentTypeError(f"must be a whole number from {low} to {high}")
        return int(text)

    return read


def _hour(text: str) -> time:
    try:
        hour, minute = (int(each) for each in text.split(":"))
        return time(hour, minute)
    except ValueError:
        raise argparse.ArgumentTypeError("must be an hour of the day, 00:00 to 23:59") from None


_points, _port, _top, _kept = _whole(5, 2001), _whole(0, 65535), _whole(1, 50), _whole(1, 1000)
_key = _whole(1, 999_999)
LEFT_OUT = ("rider", "prices", "technicians")


def _predict(options: argparse.Namespace) -> str:
    from jaxel.core.trade.setup.prediction import predicted  # slow to import, and the other commands need none of it

    return write_prediction(
        predicted(
            read_setup(_read(options.setup)),
            _calibration(options.calibration),
            points=options.points,
            backshift=options.backshift,
            worth=options.worth,
        )
    )


def _calibrate(options: argparse.Namespace) -> str:
    from jaxel.core.formats.run.calibration import write_calibration
    from jaxel.core.formats.run.runs import read_runs
    from jaxel.core.trade.run.calibration_file import calibrated

    setup = read_setup(_read(options.setup))
    return write_calibration(calibrated(setup, read_runs(_read(options.runs)).runs))


def _plan(options: argparse.Namespace) -> str:
    from jaxel.core.formats.plan.plan import PlanDocument, write_plan
    from jaxel.core.formats.plan.stock import read_stock
    from jaxel.core.trade.shelf.altitude import altitude_table
    from jaxel.core.trade.shelf.planner import plan
    from jaxel.core.trade.shelf.window import checked_target

    setup, calibration = read_setup(_read(options.setup)), _calibration(options.calibration)
    if options.stock is None and options.altitude is None:
        raise InvalidValue("stock", "is missing: a plan needs parts to choose from, or --altitude")
    if options.stock is None:
        found = PlanDocument(combinations=0, target=checked_target(setup), answers=[], reach=[])
    else:
        found = plan(setup, read_stock(_read(options.stock)), calibration, options.top)
    if options.altitude is not None:
        found = found.model_copy(update={"altitude": altitude_table(setup, options.altitude, calibration)})
    return write_plan(found)


def _calibration(path: Path | None) -> "Calibration | None":
    from jaxel.core.formats.run.calibration import read_calibration
    from jaxel.core.trade.run.calibration_file import from_document

    return None if path is None else from_document(read_calibration(_read(path)))


def _simulate(options: argparse.Namespace) -> str:
    if options.seed is not None and options.seed < 0:
        raise InvalidValue("seed", "must be at least 0")
    setup = read_setup(_read(options.setup)).core()
    strip = Strip(duration=options.seconds, throttle=TRACES[options.throttle], grade=options.grade)
    trace = simulate(setup, strip, options.hz)
    style = replace(OWN, preamble=(RUN.first_line,))
    logger = Logger(noise={}, style=style) if options.seed is None else Logger(dropout=0.01, style=style)
    return logger.written(log_columns(trace), options.seed or 0).decode().rstrip("\n")


def _read_run(options: argparse.Namespace) -> str:
    from jaxel.core.formats.run.header import read_logger
    from jaxel.core.formats.run.log_file import LOG_LIMIT, read_log
    from jaxel.core.formats.run.summary import write_summary
    from jaxel.core.trade.run.reader import RunReader
    from jaxel.core.trade.run.summary import summary

    setup = None if options.setup is None else read_setup(_read(options.setup)).core()
    logger = None if options.map is None else read_logger(_read(options.map))
    return write_summary(summary(RunReader.of(read_log(_read(options.log, LOG_LIMIT), logger), setup)))


def _reading(options: argparse.Namespace) -> str:
    from jaxel.instruments.sender import send  # the other commands open no connection

    try:
        value = float(options.value.replace(",", "."))
    except ValueError:
        raise InvalidValue("value", f"“{options.value[:40]}” is not a number") from None
    reading = read_device_reading({
        "format": "jaxel-reading", "version": 1, "bench": options.bench, "instrument": options.instrument,
        "value": value, "unit": options.unit,
    })  # fmt: skip
    return send(reading, options.token or environ.get(TOKEN, ""), options.url)


def _serve(options: argparse.Namespace) -> str:
    # What is imported stays: looking through it for garbage meanwhile is a tenth of a start.
    gc.disable()
    # Imported here: the other commands need neither the web nor the store.
    from jaxel.web.nightly import Nightly
    from jaxel.web.server import serve

    gc.freeze()
    gc.enable()
    nightly = Nightly(options.backups, options.keep, options.at) if options.backups else None
    serve(options.database, options.port, demo=options.demo, nightly=nightly)
    return "stopped"


def _backup(options: argparse.Namespace) -> str:
    from jaxel.store.backups import keep
    from jaxel.store.copies import backup

    if options.keep is not None:
        copy, contents = keep(options.database, options.file, options.keep)
        return f"{copy} is sound: {_held(contents)}"
    backup(options.database, options.file)
    return f"{options.database} is kept in {options.file}"


def _restore(options: argparse.Namespace) -> str:
    from jaxel.store.copies import restore

    restore(options.file, options.database)
    return f"{options.database} is now as {options.file} was"


def _bundle(options: argparse.Namespace) -> str:
    from jaxel.store.bundle.pack import pack
    from jaxel.store.db import NotFound, connect, migrate

    of: Scope = "machine" if options.machine else "visit" if options.visit else "workshop"
    key = options.machine or options.visit or 0
    half = options.file.with_name(options.file.name + ".part")
    migrate(options.database)
    try:
        with closing(connect(options.database)) as connection, half.open("wb") as file:
            manifest = pack(connection, file, of, key, options.without)
        half.replace(options.file)
    except NotFound as error:
        raise InvalidValue(of, f"{key}: there is no such {error}") from None
    except OSError as error:
        raise InvalidValue(str(options.file), f"cannot be written: {error.strerror or error}") from None
    finally:
        half.unlink(missing_ok=True)
    return f"{manifest.name} is in {options.file}: {len(manifest.entries):,} files"


def _take_in(options: argparse.Namespace) -> str:
    from jaxel.store.bundle.merge import merge, preview
    from jaxel.store.bundle.opened import BY_COMMAND, opened
    from jaxel.store.db import connect, migrate

    migrate(options.database)
    try:
        with options.file.open("rb") as file, closing(connect(options.database)) as connection:
            found = (preview if options.look else merge)(connection, opened(file, BY_COMMAND), "bench")
    except OSError as error:
        raise InvalidValue(str(options.file), f"cannot be read: {error.strerror or error}") from None
    lines = [
        f"{len(found.new_machines)} machines new, {len(found.known_machines)} known;"
        f" {len(found.new_visits)} visits new, {len(found.known_visits)} the same here; {found.photos} photos,"
        f" {found.logs} logs",
        *(f"{each.of} {each.name}, {each.field}: “{each.here}” stays, “{each.there}” in the bundle"
          for each in found.differences),
        *(f"{each} was worked on here since: its set-up here stays in force" for each in found.beside),
    ]  # fmt: skip
    return "\n".join([*lines, "nothing was kept: it was only looked at"] if options.look else lines)


def _check(options: argparse.Namespace) -> str:
    from jaxel.store.copies import check

    return f"{options.file} is sound: {_held(check(options.file))}"


def _held(contents: "Contents") -> str:
    newest = f", last written to {contents.newest}" if contents.newest else ""
    return (f"{contents.machines:,} machines, {contents.visits:,} visits, {contents.signed:,} signed pages read"
            f"{newest}")  # fmt: skip


def _read(path: Path, limit: int = FILE_LIMIT) -> bytes:
    """The bytes of a file, one more than the limit at most."""
    try:
        with path.open("rb") as file:
            return file.read(limit + 1)
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise InvalidValue(str(path), f"cannot be read: {reason}") from None


if __name__ == "__main__":
    sys.exit(main())
