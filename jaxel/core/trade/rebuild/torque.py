"""Which wrench reaches a torque, what an adapter does to its reading, and what is left where none reaches."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Literal, get_args

from jaxel.core.errors import InvalidValue
from jaxel.core.words import q

COARSEST = 0.08
"""A scale whose step is more than this share of a torque cannot resolve it; from memory."""

WrenchKind = Literal["wrench", "multiplier"]
Means = Literal["wrench", "multiplier", "borrowed", "index mark", "by hand"]
MEANS: tuple[Means, ...] = get_args(Means)
"""With what a fastener was tightened: what was done is recorded as what it was."""


@dataclass(frozen=True)
class Wrench:
    """A torque wrench of the workshop, or a torque multiplier.

    `low_nm` to `high_nm` [N·m] and `step_nm` [N·m] of its scale, `length_mm` [mm] from its square to the middle of its
    grip; `ratio`, by how much a multiplier multiplies, at most to `high_nm`; `due_on`, when it is next to be checked
    (ISO date), empty where nobody has said.
    """

    name: str
    kind: WrenchKind = "wrench"
    low_nm: float = 0.0
    high_nm: float = 0.0
    step_nm: float = 0.0
    length_mm: float | None = None
    ratio: float | None = None
    due_on: str = ""


def check_wrench(wrench: Wrench) -> None:
    """Refuse a wrench that cannot be: no name, an empty range, a step beyond it, a multiplier without its ratio."""
    if not wrench.name.strip():
        raise InvalidValue("name", "needs a name")
    if wrench.kind == "multiplier":
        if wrench.ratio is None or wrench.ratio <= 1:
            raise InvalidValue("ratio", "of a multiplier is above 1")
        if wrench.high_nm <= 0:
            raise InvalidValue("high", "needs the most it may give")
        return
    if wrench.ratio is not None:
        raise InvalidValue("ratio", "is a multiplier's")
    if not 0 <= wrench.low_nm < wrench.high_nm:
        raise InvalidValue("high", "must be above the low end of its scale")
    if not 0 < wrench.step_nm <= wrench.high_nm - wrench.low_nm:
        raise InvalidValue("step", "must be above 0, and no more than its scale is long")


def set_torque(torque_nm: float, length_mm: float, extension_mm: float, angle_deg: float = 0.0) -> float:
    """What a wrench is set to behind an adapter that moves the fastener off its square.

    T_set = T·L/(L + E·cos φ)

    Parameters: `torque_nm` wanted at the fastener [N·m]; `length_mm`, L, grip to square [mm]; `extension_mm`, E, square
    to fastener [mm], positive away from the grip, negative back over it; `angle_deg`, φ, between the adapter and the
    wrench [°]: across it, at 90°, nothing is corrected. Returns the setting [N·m]. Raises InvalidValue for lengths that
    leave no lever.

    >>> set_torque(100.0, 400.0, 100.0), round(set_torque(100.0, 400.0, 100.0, 90.0), 9)
    (80.0, 100.0)

    Reference: moments about the fastener of one force across the grip.
    """
    if not length_mm > 0:
        raise InvalidValue("length_mm", "from grip to square must be above 0")
    lever = length_mm + extension_mm * math.cos(math.radians(angle_deg))
    if lever <= 0.1 * length_mm:
        raise InvalidValue("extension_mm", "reaches back to the grip: nothing is left to pull on")
    return torque_nm * length_mm / lever


@dataclass(frozen=True)
class Reach:
    """Whether a wrench reaches a torque: `setting_nm` of its scale [N·m], and in words why not, or what to mind."""

    wrench: Wrench
    setting_nm: float
    fits: bool
    words: str


def reach(wrench: Wrench, torque_nm: float, today: date, extension_mm: float = 0.0, angle_deg: float = 0.0) -> Reach:
    """How a wrench reaches a torque [N·m], through an adapter where there is one; raises InvalidValue as set_torque."""
    setting = torque_nm
    if extension_mm:
        if wrench.length_mm is None:
            return Reach(wrench, torque_nm, False, "its length is not known: measure grip to square for the adapter")
        setting = set_torque(torque_nm, wrench.length_mm, extension_mm, angle_deg)
    if setting < wrench.low_nm:
        return Reach(wrench, setting, False, "begins above it")
    if setting > wrench.high_nm:
        return Reach(wrench, setting, False, "does not reach it")
    if wrench.step_nm > COARSEST * setting:
        return Reach(wrench, setting, False, "cannot resolve it")
    overdue = bool(wrench.due_on) and date.fromisoformat(wrench.due_on) < today
    when = f"due for checking on {wrench.due_on}" if wrench.due_on else "no day of checking known"
    return Reach(wrench, setting, True, f"overdue for checking since {wrench.due_on}" if overdue else when)


@dataclass(frozen=True)
class WrenchChoice:
    """The wrenches for a torque: `best` first of those that fit, `others` with why not; `instead`, what is left.

    `multiplied`, whether a multiplier is among what is left.
    """

    best: Reach | None
    others: tuple[Reach, ...]
    instead: tuple[str, ...]
    multiplied: bool = False


def choose_wrench(
    torque_nm: float, wrenches: Iterable[Wrench], today: date, extension_mm: float = 0.0, angle_deg: float = 0.0
) -> WrenchChoice:
    """The wrench for a torque [N·m]: one not overdue before one that is, then the one with its middle nearest to it.

    Where none fits: through a multiplier a wrench that reaches the share, a borrowed one, or turned to an index mark,
    each recorded as what it was. Raises InvalidValue as set_torque.

    >>> ten = Wrench("small", low_nm=5, high_nm=25, step_nm=0.2)
    >>> from jaxel.core.words import told
    >>> found = choose_wrench(340, [ten, Wrench("x20", "multiplier", ratio=20, high_nm=1500)], date(2026, 1, 1))
    >>> told(found.instead[0])
    'through x20, 20 to 1: small set to 17 N·m'
    """
    known = list(wrenches)
    own = [each for each in known if each.kind == "wrench"]
    reached = [reach(each, torque_nm, today, extension_mm, angle_deg) for each in own]

    def rank(found: Reach) -> tuple[bool, bool, float]:
        middle = (found.wrench.low_nm + found.wrench.high_nm) / 2
        return not found.fits, found.words.startswith("overdue"), abs(math.log(found.setting_nm / middle))

    reached.sort(key=rank)
    best = reached[0] if reached and reached[0].fits else None
    others = tuple(reached[1:] if best else reached)
    multiplied = () if best else tuple(_multiplied(torque_nm, known, own, today))
    return WrenchChoice(best, others, () if best else (*multiplied, *_else(torque_nm)), bool(multiplied))


def _multiplied(torque_nm: float, known: list[Wrench], own: list[Wrench], today: date) -> Iterable[str]:
    for multiplier in known:
        if multiplier.kind != "multiplier" or not multiplier.ratio or torque_nm > multiplier.high_nm:
            continue
        share = torque_nm / multiplier.ratio
        for each in own:
            if reach(each, share, today).fits:
                setting = q(float(f"{share:.3g}"), "N·m")
                yield f"through {multiplier.name}, {multiplier.ratio:g} to 1: {each.name} set to {setting}"
                break


def _else(torque_nm: float) -> tuple[str, str]:
    return (
        f"borrow a wrench that reaches {q(float(f'{torque_nm:.3g}'), 'N·m')}",
        "turn it to an index mark, and record it as that",
    )


def means_for(tightness: str, choice: WrenchChoice | None) -> Means | Literal[""]:
    """What a fastener is likely tightened by: the wrench that reaches its torque, else a multiplier, else unsaid.

    Parameters: `choice` among the wrenches here, None where no torque is known. What is no torque goes by hand.
    """
    if tightness != "torque":
        return "by hand"
    if choice is None:
        return ""
    return "wrench" if choice.best else "multiplier" if choice.multiplied else ""
