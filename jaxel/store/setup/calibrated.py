"""A calibration as it is kept, and ready to predict with."""

from dataclasses import dataclass
from functools import lru_cache

from jaxel.core.formats.run.calibration import CalibrationDocument, read_calibration
from jaxel.core.trade.run.calibration_file import from_document
from jaxel.core.trade.setup.calibration import Calibration


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
        return _document(self.text)

    @property
    def core(self) -> Calibration:
        return applied(self.text)


@lru_cache(maxsize=64)
def _document(text: str) -> CalibrationDocument:
    return read_calibration(text.encode())


@lru_cache(maxsize=64)
def applied(text: str) -> Calibration:
    """A calibration ready to predict with, from its document's text."""
    return from_document(_document(text))
