"""What explains a complaint: a noisy-OR network of causes, what riders tell of them, and what checks show of them.

Every cause is there or not, on its own. A symptom or a finding is absent only if the leak and every cause that is there
fail to bring it: P(absent) = (1 − leak)·Π(1 − strength).
"""

import tomllib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from importlib import resources
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import Part, validate

from ..kinds.kinds import Kinds, kinds
from ..stranger.as_found import FAULT_KINDS

Chance = Annotated[float, Field(gt=0, lt=1)]
PATTERNS = {
    "belt:worn": "belt width",
    "belt:glaze": "glaze on the belt",
    "belt:cups": "cups on both flanks",
    "belt:edge": "cord or wear at one edge of the belt",
}
"""What the belt station finds, by the name of its check."""

RUN_SIGNS = {
    "run:belt": "the log: the belt",
    "run:clutch": "the log: the clutch, not the engine",
    "run:slip": "the log: slip",
    "run:engine": "the log: the engine, or too much weight",
    "word:take-up": "the rider: worse at take-up",
    "word:mid": "the rider: worse in the middle",
    "word:top": "the rider: worse at the top",
    "word:back-shift": "the rider: worse coming back on the throttle",
    "range:high": "high range at walking pace",
}
"""What the road test tells, by its log and its rider, and what Intake does: no check that a hand could still make."""


class _Symptom(Part):
    name: str
    words: list[str]


class _Cause(Part):
    name: str
    prior: Chance
    items: list[str] = Field(default_factory=list)
    symptoms: dict[str, Chance]
    shown: dict[str, Chance]


class _File(Part):
    origin: str
    leak_symptom: Chance
    leak_finding: Chance
    leak_fault: Chance
    leak_use: Chance
    symptom: dict[str, _Symptom]
    cause: dict[str, _Cause]


@dataclass(frozen=True)
class Symptom:
    key: str
    name: str


@dataclass(frozen=True)
class Likely:
    """A cause with its chance before and after all that is known, and after each thing in turn.

    `steps`: (what was told or found, the chance from then on).
    """

    key: str
    name: str
    prior: float
    chance: float
    steps: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Telling:
    """A check not made yet: its name, and the drop in entropy [bit] to expect of it."""

    key: str
    name: str
    bits: float


@dataclass(frozen=True)
class Network:
    """The causes a machine can have, as arrays: `priors` [c]; `strength` [n, c] of each observable n; `leaks` [n]."""

    causes: tuple[str, ...]
    names: tuple[str, ...]
    priors: np.ndarray
    observables: tuple[str, ...]
    labels: tuple[str, ...]
    strength: np.ndarray
    leaks: np.ndarray

    def _over_states(self, without: np.ndarray, with_it: np.ndarray) -> np.ndarray:
        """Products over the causes for every set of them [2^c]: bit k of its place says whether cause k is there."""
        found = np.ones(1)
        for off, on in zip(without, with_it, strict=True):
            found = np.concatenate([found * off, found * on])
        return found

    @cached_property
    def _prior(self) -> np.ndarray:
        """P(state) [2^c]."""
        return self._over_states(1 - self.priors, self.priors)

    def _chance(self, name: str) -> np.ndarray:
        """P(observable is there | state) [2^c]."""
        place = self.observables.index(name)
        absent = self._over_states(np.ones(len(self.causes)), 1 - self.strength[place])
        return 1 - (1 - self.leaks[place]) * absent

    def _weights(self, evidence: Mapping[str, bool]) -> np.ndarray:
        """P(state | evidence) [2^c]."""
        weights = self._prior
        for name, there in evidence.items():
            chance = self._chance(name)
            weights = weights * (chance if there else 1 - chance)
        return weights / weights.sum()

    def _marginals(self, weights: np.ndarray) -> np.ndarray:
        """P(cause) [c] of weights of the states."""
        return np.array([weights.reshape(-1, 2, 2**place)[:, 1].sum() for place in range(len(self.causes))])

    def posterior(self, evidence: Mapping[str, bool]) -> np.ndarray:
        """P(cause | evidence) [c], exact: summed over every set of causes.

        Parameters: `evidence`, observable by key and whether it is there. Raises InvalidValue for one that is none.

        Reference: J. Pearl (1988), Probabilistic Reasoning in Intelligent Systems, 4.3.2 (noisy-OR); from memory.
        """
        self._check(evidence)
        return self._marginals(self._weights(evidence))

    def shown_by(self, told: Iterable[str]) -> set[str]:
        """What can show a cause that could have brought any of what was told."""
        places = [self.observables.index(name) for name in told]
        causes = self.strength[places].any(axis=0)
        return {name for name, row in zip(self.observables, self.strength, strict=True) if row[causes].any()}

    @staticmethod
    def _drop(weights: np.ndarray, chance: np.ndarray) -> float:
        return float(_entropy(weights @ chance) - weights @ _entropy(chance))

    def most_telling(self, evidence: Mapping[str, bool], of: Sequence[str]) -> list[Telling]:
        """Checks not made yet by what they are expected to tell, the most telling first."""
        self._check(evidence)
        weights = self._weights(evidence)
        found = [
            Telling(name, label, self._drop(weights, self._chance(name)))
            for name, label in zip(self.observables, self.labels, strict=True)
            if name in of and name not in evidence
        ]
        return sorted(found, key=lambda each: (-each.bits, each.key))

    def ranked(self, evidence: Mapping[str, bool]) -> list[Likely]:
        """Causes by their chance, the likeliest first, with how each thing told or found moved it."""
        self._check(evidence)
        weights = self._prior
        told: list[tuple[str, np.ndarray]] = []
        for name, there in evidence.items():
            chance = self._chance(name)
            weights = weights * (chance if there else 1 - chance)
            weights = weights / weights.sum()
            label = self.labels[self.observables.index(name)]
            told.append((label if there else f"{label}: sound", self._marginals(weights)))
        now = told[-1][1] if told else self.priors
        found = [
            Likely(
                key, self.names[place], float(self.priors[place]), float(now[place]),
                tuple((label, float(chances[place])) for label, chances in told),
            )
            for place, key in enumerate(self.causes)
        ]  # fmt: skip
        return sorted(found, key=lambda each: (-each.chance, each.key))

    def _check(self, evidence: Mapping[str, bool]) -> None:
        if strange := [name for name in evidence if name not in self.observables]:
            raise InvalidValue("evidence", f"{strange[0]} is nothing this machine can show")


def _entropy(chance: Any) -> Any:
    """Entropy of something that is there with a chance [bit]."""
    p = np.clip(chance, 1e-15, 1 - 1e-15)
    return -(p * np.log2(p) + (1 - p) * np.log2(1 - p))


@cache
def _file() -> _File:
    text = resources.files("jaxel.core.data").joinpath("symptoms.toml").read_text(encoding="utf-8")
    found = validate(_File, tomllib.loads(text))
    items = {item.key for kind in kinds().values() for item in kind.guide.item}
    for key, cause in found.cause.items():
        if strange := set(cause.symptoms) - set(found.symptom):
            raise InvalidValue(f"cause.{key}.symptoms", f"{min(strange)} is no symptom")
        for name in (*cause.shown, *cause.items):
            found_there = name in items or name in PATTERNS or name in RUN_SIGNS
            if not found_there and name.removeprefix("fault:") not in FAULT_KINDS:
                raise InvalidValue(f"cause.{key}", f"{name} is no item, pattern, fault or sign of a run")
    return found


def cause_name(key: str) -> str:
    """What a cause is called; its key where it is none any more."""
    known = _file().cause.get(key)
    return known.name if known else key


def symptoms() -> list[Symptom]:
    """Every symptom a complaint can be picked from."""
    return [Symptom(key, each.name) for key, each in _file().symptom.items()]


def symptoms_in(complaint: str) -> list[str]:
    """Symptoms whose words stand in a complaint: suggestions, never evidence by themselves.

    >>> symptoms_in("Bogs when she opens it on a climb, and feels lazy at the top.")
    ['bog', 'no_top']
    """
    text = complaint.casefold()
    return [key for key, each in _file().symptom.items() if any(word in text for word in each.words)]


def complaint_lines() -> list[tuple[str, str]]:
    """What each symptom may come of, as (its name, words): for a hand that looks for what it hears or feels."""
    found = []
    for key, symptom in _file().symptom.items():
        causes = sorted(
            ((each.symptoms[key], each.name) for each in _file().cause.values() if key in each.symptoms), reverse=True
        )
        also = f" Also said: {', '.join(symptom.words)}."
        found.append((symptom.name, f"May come of: {'; '.join(name.lower() for _, name in causes)}.{also}"))
    return found


def network_of(machine: Kinds) -> Network:
    """The network of a machine of these kinds: its items' checks, the belt's patterns, faults as found, symptoms."""
    return _network(machine.primary or "", machine.secondary or "")


@lru_cache(maxsize=16)
def _network(primary: str, secondary: str) -> Network:
    data = _file()
    here = {item.key: item.name for key in (primary, secondary) if key in kinds() for item in kinds()[key].guide.item}
    causes = {
        key: each for key, each in data.cause.items() if not each.items or any(item in here for item in each.items)
    }
    labels = {key: each.name for key, each in data.symptom.items()}
    for each in causes.values():
        for name in each.shown:
            if _shows(name, here):
                labels.setdefault(name, here.get(name) or (PATTERNS | RUN_SIGNS).get(name) or _fault_name(name))
    names = tuple(labels)
    strength = np.array(
        [[(each.symptoms | each.shown).get(name, 0.0) for each in causes.values()] for name in names], float
    )
    leaks = np.array([_leak(data, name) for name in names])
    return Network(
        tuple(causes),
        tuple(each.name for each in causes.values()),
        np.array([each.prior for each in causes.values()]),
        names,
        tuple(labels.values()),
        strength,
        leaks,
    )


def _leak(data: _File, name: str) -> float:
    """How often something is there with none of the causes."""
    if name in data.symptom:
        return data.leak_symptom
    if name == "range:high":
        return data.leak_use
    return data.leak_fault if name.startswith("fault:") else data.leak_finding


def _shows(name: str, here: Mapping[str, str]) -> bool:
    return name in here or name in PATTERNS or name in RUN_SIGNS or name.startswith("fault:")


def _fault_name(name: str) -> str:
    return FAULT_KINDS[name.removeprefix("fault:")].name
