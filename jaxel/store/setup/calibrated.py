"""What a machine's predictions stand on: its calibration as it is kept, or the set-up it came in with."""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from hashlib import sha256
from typing import Protocol

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.calibration import CalibrationDocument, read_calibration
from jaxel.core.formats.setup.setup import written_setup
from jaxel.core.trade.run.calibration_file import current, from_document
from jaxel.core.trade.setup.calibration import Calibration


class Ground(Protocol):
    """What predictions of a machine's set-ups stand on; `key`, a digest of its `text`."""

    @property
    def key(self) -> str: ...

    @property
    def text(self) -> str: ...

    @property
    def core(self) -> Calibration: ...


@dataclass(frozen=True)
class AsFound:
    """The set-up of a machine that was never measured, as it came in: another is told as the change from it."""

    text: str

    @cached_property
    def key(self) -> str:
        return sha256(self.text.encode()).hexdigest()

    @property
    def core(self) -> Calibration:
        return applied(self.text)


@dataclass(frozen=True)
class Calibrated:
    """A calibration of a machine as it is kept; `key`, a digest of its `text`."""

    id: int
    key: str
    text: str
    made_at: str
    made_by: str

    @property
    def document(self) -> CalibrationDocument:
        """By today's model: one that an older model made is fitted anew from its runs."""
        return _document(self.text)

    @property
    def core(self) -> Calibration:
        return applied(self.text)


@lru_cache(maxsize=64)
def _document(text: str) -> CalibrationDocument:
    read = read_calibration(text.encode())
    try:
        return current(read)
    except InvalidValue:  # today's model makes nothing of its runs: told as it was, and nothing stands on it
        return read


SETUP = '{\n  "format": "jaxel-setup"'
"""How the text of a set-up begins."""


@lru_cache(maxsize=64)
def applied(text: str) -> Calibration:
    """What a machine's predictions stand on, ready to predict with, from the text of its calibration or set-up."""
    if text.startswith(SETUP):
        return Calibration.none(written_setup(text))
    document = _document(text)
    try:
        return from_document(document)
    except InvalidValue:
        return Calibration.none(document.setup)
