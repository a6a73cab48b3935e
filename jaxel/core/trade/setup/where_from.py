"""Where a predicted figure comes from: its formula by name, the numbers it stands on and how each is known, and what
makes up its ±."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from jaxel.core.formats.paths import unit_of
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.words import q

from .evidence import Input
from .worth import worths

FigureName = Literal["engagement", "shift", "hit", "spread", "low_ratio", "grip"]

FORMULAS: Mapping[FigureName, str] = {
    "engagement": "balance of the primary where it first grips: the weights' push on the sheave, by their centres and "
    "ramp or arm, against the spring at rest and the belt's pull",
    "shift": "balance of both clutches at full throttle, ratio by ratio: the weights' push less the primary spring "
    "against the secondary's spring and helix under the engine's torque in this air; its mean over the shift",
    "hit": "the clamp on the belt 100 rpm past the bite, by the same balance",
    "spread": "the largest less the smallest speed along the shift, by the same balance",
    "low_ratio": "the length of an open belt round two circles, at the radii where it rides at rest",
    "grip": "the belt's grip round the wrap (Eytelwein, in a wedge) over the torque it carries, the least along the "
    "shift",
}
"""Each figure's formula by name; the whole of it in docs/model.md."""


@dataclass(frozen=True)
class Share:
    """A number a figure stands on: in words with its deviation, how it is known, and its share of the variance of
    engagement and of shift [0–1]."""

    name: str
    value: str
    origin: str
    engagement: float
    shift: float


@dataclass(frozen=True)
class WhereFrom:
    """`formulas` by figure; `shares`, the largest first; `evidenced`, whether it is said how the numbers are known."""

    formulas: Mapping[FigureName, str]
    shares: tuple[Share, ...]
    evidenced: bool


MOST = 24

MODEL_WORDS: Mapping[str, str] = {
    "model.gain_scale": "how strongly the weights act",
    "model.gain_tilt": "how that grows along the shift",
    "model.torque_scale": "the engine's torque",
    "model.seating_primary": "how the belt seats in the primary",
    "model.seating_secondary": "how the belt seats in the secondary",
}
"""The model's own parameters as they are said; docs/model.md has them by name."""


def where_from(document: SetupDocument) -> WhereFrom:
    """Where a set-up's predicted figures come from, before any run of it; raises InvalidValue where it cannot work.

    >>> from jaxel.core.trade.stranger.packages import packages
    >>> found = where_from(packages()["quad-variator-500"].document)
    >>> round(sum(each.shift for each in found.shares), 1), found.shares[0].origin
    (1.0, 'typical')

    Reference: shares of the variance, JCGM 100:2008, 5.1.2, as `worth.worths`.
    """
    found = [
        Share(
            MODEL_WORDS.get(each.input.path, each.input.name),
            _told(each.input),
            _origin(each.input),
            each.engagement_share,
            each.shift_share,
        )
        for each in worths(document)
    ]
    found.sort(key=lambda share: -(share.engagement + share.shift))
    return WhereFrom(FORMULAS, tuple(found[:MOST]), document.evidence is not None)


def _origin(each: Input) -> str:
    return "model" if each.path.startswith("model.") else each.origin


def _told(each: Input) -> str:
    """Its value with its deviation; of a table and of the model's own parameters the deviation as a share."""
    if each.value is None or each.path.startswith("model."):
        return f"± {each.sd:.0%}"
    return str(q(round(each.value, 2), unit_of(each.path) or "", sd=float(f"{each.sd:.2g}")))
