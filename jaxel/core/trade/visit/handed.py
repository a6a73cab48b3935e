"""What a hand-over page tells besides the visit's own records."""

from collections.abc import Sequence
from dataclasses import dataclass

from jaxel.core.formats.prediction import PredictionFigures

from ..rebuild.tightening import Stated as StatedTorque
from ..run.scores import Comparison
from ..setup.slot import Change
from . import run_rows


@dataclass(frozen=True)
class Handed:
    """What a page tells besides the visit's own records.

    `found` and `left`, what was predicted of the set-up as it worked and as it is left, None with `fault` where that
    cannot be; `limit_origin` of the belt's limit; `fitted`, parts put in that no figure tells; `reasons` of the changes
    recorded; `before` and `after`, the baseline and the last run beside what was predicted, `logged` which of its
    figures are its log's, `told` what runs tell; `torques`, what is said of each fastener, and which is gone by.
    """

    machine: str
    owner: str
    workshop: str
    opened_at: str
    signed_off_at: str | None
    signed_off_by: str
    unrepaired: str
    belt_number: str
    limit_origin: str
    round_mm: float
    hands: Sequence[str]
    unnamed: str
    found: PredictionFigures | None
    left: PredictionFigures | None
    fault: str
    changes: Sequence[Change]
    fitted: Sequence[str]
    reasons: Sequence[str]
    before: Sequence[Comparison]
    after: Sequence[Comparison]
    logged: str
    run_note: str
    told: run_rows.Told
    torques: dict[tuple[str, str], tuple[Sequence[StatedTorque], int | None]]
