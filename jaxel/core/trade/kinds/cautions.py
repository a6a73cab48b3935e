"""Where the work can hurt someone: the caution that stands at each station."""

import tomllib
from functools import cache
from importlib import resources

DEFERS = "The manufacturer's manual, local rules and a qualified technician come first."


@cache
def cautions() -> dict[str, str]:
    """Caution by station, each closing with what it defers to.

    >>> "Springs are under load" in cautions()["set-up"]
    True

    Source: common practice.
    """
    text = resources.files("jaxel.core.data").joinpath("cautions.toml").read_text(encoding="utf-8")
    return {station: f"{entry['text']} {DEFERS}" for station, entry in tomllib.loads(text).items()}
