"""A simulated logger: it takes the columns of a faultless run, and writes them as loggers do.

Its rate, noise, spikes, dropouts, clock and headings are its own; what it writes is the same for the same seed.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Columns = dict[str, Array]
"""Columns of a run file by field, `time_s` among them [rows]."""

Clock = Literal["steady", "jitter", "repeats", "disorder", "set back", "set ahead", "wild"]


@dataclass(frozen=True)
class Style:
    """How a logger writes: `headings` by field, in its own order, a field without one is not written; `delimiter`,
    `decimal` sign, `blank` for nothing read, lines of `preamble`, whether a line of `units` follows the headings, and a
    factor on the numbers of a field whose unit is another."""

    headings: Mapping[str, str]
    delimiter: str = ","
    decimal: str = "."
    blank: str = ""
    preamble: tuple[str, ...] = ()
    units: tuple[str, ...] = ()
    factors: Mapping[str, float] = field(default_factory=dict)
    bom: bool = False


OWN = Style({each: each for each in
             ("time_s", "engine_rpm", "secondary_rpm", "speed_kph", "throttle_pct", "belt_temp_c")})  # fmt: skip

STYLES: dict[str, Style] = {
    "own": OWN,
    "bracketed": Style(
        {"speed_kph": "Vehicle speed (mph)", "time_s": "Elapsed (ms)", "engine_rpm": "Engine speed [1/min]",
         "throttle_pct": "TPS (%)", "belt_temp_c": "Belt temperature (°C)"},
        preamble=("Log of the day", "channels 5", ""), blank="---",
        factors={"speed_kph": 1 / 1.609344, "time_s": 1000.0},
    ),
    "semicolons": Style(
        {"time_s": "Zeit (s)", "engine_rpm": "Drehzahl (U/min)", "speed_kph": "Geschwindigkeit (km/h)"},
        delimiter=";", decimal=",", blank="--", bom=True,
    ),
    "tabs": Style(
        {"time_s": "Time", "secondary_rpm": "Driven", "engine_rpm": "RPM", "speed_kph": "GPS speed"},
        delimiter="\t", units=("s", "rpm", "rpm", "m/s"), factors={"speed_kph": 1 / 3.6}, blank="NaN",
    ),
    "tachometer": Style({"time_s": "time", "engine_rpm": "rpm"}),
    "speed alone": Style({"time_s": "t_s", "speed_kph": "speed_kph"}),
}  # fmt: skip
"""Ways of writing that are found at loggers in general; every heading in plain words."""

DIGITS = {"time_s": 4, "engine_rpm": 0, "secondary_rpm": 0, "speed_kph": 2, "throttle_pct": 0, "belt_temp_c": 1}


@dataclass(frozen=True)
class Logger:
    """A logger as it is built.

    `hz`, rows a second, None as the run comes; `noise` by field, standard deviations in its unit; `spikes` and `lost`,
    shares of the readings that are wild or blank; `dropout`, share of the rows that are missing; `gaps`, how often a
    stretch of `gap_s` is missing altogether; `clock`, what is wrong with it; `slow_hz`, how often a field is read that
    others are written more often than. The sizes are from memory.
    """

    hz: float | None = None
    noise: Mapping[str, float] = field(
        default_factory=lambda: {"engine_rpm": 12.0, "secondary_rpm": 12.0, "speed_kph": 0.3, "belt_temp_c": 0.2}
    )
    spikes: float = 0.0
    lost: float = 0.0
    dropout: float = 0.0
    gaps: int = 0
    gap_s: float = 0.25
    clock: Clock = "steady"
    slow_hz: Mapping[str, float] = field(default_factory=dict)
    style: Style = OWN

    def rows(self, run: Columns, seed: int) -> Columns:
        """A run as this logger has it [rows]; NaN where it read nothing."""
        rng = np.random.default_rng(seed)
        columns = self._sampled(run)
        time = columns["time_s"]
        for name, values in columns.items():
            if name == "time_s":
                continue
            noisy = values + rng.normal(0.0, self.noise.get(name, 0.0), len(values))
            noisy = noisy if name == "belt_temp_c" else np.maximum(noisy, 0.0)
            noisy = self._held(name, time, noisy)
            wild = rng.random(len(values)) < self.spikes
            reach = float(np.nanmax(values)) if len(values) else 0.0
            columns[name] = np.where(wild, rng.uniform(0.0, 1.6, len(values)) * reach, noisy)
            columns[name][rng.random(len(values)) < self.lost] = np.nan
        kept = rng.random(len(time)) >= self.dropout
        for begin in rng.uniform(time[0], time[-1], self.gaps):
            kept &= (time < begin) | (time > begin + self.gap_s)
        columns = {name: values[kept] for name, values in columns.items()}
        return self._stamped(columns, rng)

    def _sampled(self, run: Columns) -> Columns:
        if self.hz is None:
            return {name: values.copy() for name, values in run.items()}
        time = np.arange(run["time_s"][0], run["time_s"][-1] + 1e-9, 1 / self.hz)
        return {name: np.interp(time, run["time_s"], values) for name, values in run.items()}

    def _held(self, name: str, time: Array, values: Array) -> Array:
        """A slower reading, written again until there is a new one."""
        if name not in self.slow_hz:
            return values
        ticks = np.floor((time - time[0]) * self.slow_hz[name] + 1e-9)
        first = np.concatenate([[True], np.diff(ticks) > 0])
        return np.asarray(values[np.maximum.accumulate(np.where(first, np.arange(len(values)), 0))])

    def _stamped(self, columns: Columns, rng: np.random.Generator) -> Columns:
        time = columns["time_s"]
        step = float(np.median(np.diff(time)))
        middle = len(time) // 2
        if self.clock == "jitter":
            columns["time_s"] = time + rng.uniform(-0.3, 0.3, len(time)) * step + step
        elif self.clock == "repeats":
            again = np.sort(np.concatenate([np.arange(len(time)), rng.integers(0, len(time), len(time) // 50)]))
            return {name: values[again] for name, values in columns.items()}
        elif self.clock == "disorder":
            order = np.arange(len(time))
            for place in rng.integers(0, len(time) - 3, len(time) // 50):
                order[[place, place + 2]] = order[[place + 2, place]]
            return {name: values[order] for name, values in columns.items()}
        elif self.clock in ("set back", "set ahead"):
            columns["time_s"] = time + np.where(
                np.arange(len(time)) < middle, 5000.0, 4000.0 if self.clock == "set back" else 8600.0
            )
        elif self.clock == "wild":
            at = rng.integers(0, len(time), 3)
            columns["time_s"] = time.copy()
            columns["time_s"][at] = rng.uniform(1e5, 1e6, 3)
        return columns

    def written(self, run: Columns, seed: int) -> bytes:
        """The file this logger writes of a run."""
        style, rows = self.style, self.rows(run, seed)
        fields = [name for name in style.headings if name in rows]
        lines = [*style.preamble, style.delimiter.join(style.headings[name] for name in fields)]
        if style.units:
            lines.append(style.delimiter.join(style.units))
        cells = []
        for name in fields:
            factor = style.factors.get(name, 1.0)
            digits = DIGITS[name] if factor == 1 else max(0, DIGITS[name] + round(-np.log10(factor)))
            cells.append([self._cell(value * factor, digits) for value in rows[name]])
        lines += [style.delimiter.join(row) for row in zip(*cells, strict=True)]
        return ("\n".join(lines) + "\n").encode("utf-8-sig" if style.bom else "utf-8")

    def _cell(self, value: float, digits: int) -> str:
        if not np.isfinite(value):
            return self.style.blank
        return f"{value:.{digits}f}".replace(".", self.style.decimal)

    def styled(self, name: str) -> "Logger":
        """The same logger, writing in another style."""
        return replace(self, style=STYLES[name])
