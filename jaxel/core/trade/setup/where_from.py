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

FigureName = Literal[
    "engagement", "shift", "hit", "snap", "bite_rate", "spread", "slope", "backshift", "over_rev", "grip", "low_ratio",
    "top_ratio", "top_of_shift", "side_gap", "deflection", "pull",
]  # fmt: skip


@dataclass(frozen=True)
class Formula:
    """A figure's formula by name; the numbers it stands on, by the beginnings of their paths."""

    words: str
    stands_on: tuple[str, ...]


GEOMETRY = ("belt.", "geometry.")
CLOSING = ("primary.", *GEOMETRY, "model.gain")
BITE = (*CLOSING, "vehicle.")
PULL = ("primary.", "secondary.", *GEOMETRY, "engine.", "conditions.", "model.")
ROAD = (*PULL, "vehicle.")

FORMULAS: Mapping[FigureName, Formula] = {
    "engagement": Formula(
        "balance of the primary where it first grips: the weights' push on the sheave, by their centres and ramp or "
        "arm, against the spring at rest, until the belt's pull rolls the machine", BITE,
    ),
    "shift": Formula(
        "balance of both clutches at full throttle, ratio by ratio: the weights' push less the primary spring against "
        "the secondary's spring and helix under the engine's torque in this air; its mean over the shift", PULL,
    ),
    "hit": Formula("the clamp on the belt 100 rpm past the bite, by the same balance as engagement", BITE),
    "snap": Formula(
        "the clamp that comes at once: what the weights push, at the speed that let the sheave go, past the spring's "
        "force where the belt is gripped", CLOSING,
    ),
    "bite_rate": Formula("how the weights' push grows over 100 rpm where the belt is gripped", CLOSING),
    "spread": Formula("the largest less the smallest speed along the shift, by the same balance as shift rpm", PULL),
    "slope": Formula("the speed at the end of the shift less that at its start, by the same balance", PULL),
    "backshift": Formula("the same balance with friction the other way: the speed it holds coming back", PULL),
    "over_rev": Formula("the fastest of the shift less the engine's limit", PULL),
    "grip": Formula(
        "the belt's grip round the wrap (Eytelwein, in a wedge) over the torque it carries, the least along the shift",
        PULL,
    ),
    "low_ratio": Formula(
        "the length of an open belt round two circles, at the radii where it is first gripped", GEOMETRY,
    ),
    "top_ratio": Formula(
        "the length of an open belt round two circles, at the radii where the primary is closed as far as it goes",
        GEOMETRY,
    ),
    "top_of_shift": Formula(
        "the engine's speed at the end of the shift, through the ratio there, the gearing and the rolling radius",
        ROAD,
    ),
    "side_gap": Formula(
        "the gap of a new belt and the width it has lost",
        ("belt.top_width", "geometry.primary.idle_clearance"),
    ),
    "deflection": Formula(
        "the slack of the belt at rest, pressed to a triangle in the middle of its free span", GEOMETRY,
    ),
    "pull": Formula(
        "a pull on the simulated strip, step by step in time: engine, both clutches, belt, mass and rolling resistance",
        ROAD,
    ),
}  # fmt: skip
"""Each figure's formula by name; the whole of it in docs/model.md."""


@dataclass(frozen=True)
class Share:
    """A number that figures stand on, `of` which: in words with its deviation, how it is known, and its share of the
    variance of engagement and of shift [0–1]."""

    name: str
    of: tuple[FigureName, ...]
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
            tuple(name for name, formula in FORMULAS.items() if each.input.path.startswith(formula.stands_on)),
            _told(each.input),
            _origin(each.input),
            each.engagement_share,
            each.shift_share,
        )
        for each in worths(document)
    ]
    found.sort(key=lambda share: -(share.engagement + share.shift))
    words = {name: formula.words for name, formula in FORMULAS.items()}
    return WhereFrom(words, tuple(found), document.evidence is not None)


def _origin(each: Input) -> str:
    return "model" if each.path.startswith("model.") else each.origin


def _told(each: Input) -> str:
    """Its value with its deviation; of a table and of the model's own parameters the deviation as a share."""
    if each.value is None or each.path.startswith("model."):
        return f"± {each.sd:.0%}"
    return str(q(round(each.value, 2), unit_of(each.path) or "", sd=float(f"{each.sd:.2g}")))
