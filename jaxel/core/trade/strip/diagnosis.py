"""What explains a complaint: a noisy-OR network of causes, what riders tell of them, and what checks show of them.

Every cause is there or not, on its own. A symptom or a finding is absent only if the leak and every cause that is there
fail to bring it: P(absent) = (1 − leak)·Π(1 − strength).
"""

import tomllib
from collections.abc import Mapping, Sequence
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
}
"""What the road test tells: by its log, and by its rider. No check that a hand could still make."""


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

    @cached_property
    def _states(self) -> np.ndarray:
        """Every set of causes that can be there together [2^c, c]."""
        count = len(self.causes)
        return (np.arange(2**count)[:, None] >> np.arange(count)) & 1

    @cached_property
    def _likelihoods(self) -> np.ndarray:
        """P(observable is there | state) [2^c, n]."""
        misses = np.log1p(-self.leaks) + self._states @ np.log1p(-self.strength).T
        return -np.expm1(misses)

    def _weights(self, evidence: Mapping[str, bool], likelihoods: np.ndarray) -> np.ndarray:
        """P(state | evidence) [2^c]."""
        states = self._states
        weights = np.prod(np.where(states, self.priors, 1 - self.priors), axis=1)
        for name, there in evidence.items():
            chance = likelihoods[:, self.observables.index(name)]
            weights = weights * (chance if there else 1 - chance)
        return weights / weights.sum()

    def posterior(self, evidence: Mapping[str, bool]) -> np.ndarray:
        """P(cause | evidence) [c], exact: summed over every set of causes.

        Parameters: `evidence`, observable by key and whether it is there. Raises InvalidValue for one that is none.

        Reference: J. Pearl (1988), Probabilistic Reasoning in Intelligent Systems, 4.3.2 (noisy-OR); from memory.
        """
        self._check(evidence)
        weights = self._weights(evidence, self._likelihoods)
        return np.asarray(weights @ self._states, float)

    @staticmethod
    def _drop(weights: np.ndarray, chance: np.ndarray) -> float:
        return float(_entropy(weights @ chance) - weights @ _entropy(chance))

    def most_telling(self, evidence: Mapping[str, bool], of: Sequence[str]) -> list[Telling]:
        """Checks not made yet by what they are expected to tell, the most telling first."""
        self._check(evidence)
        likelihoods = self._likelihoods
        weights = self._weights(evidence, likelihoods)
        found = [
            Telling(name, self.labels[place], self._drop(weights, likelihoods[:, place]))
            for place, name in enumerate(self.observables)
            if name in of and name not in evidence
        ]
        return sorted(found, key=lambda each: (-each.bits, each.key))

    def ranked(self, evidence: Mapping[str, bool]) -> list[Likely]:
        """Causes by their chance, the likeliest first, with how each thing told or found moved it."""
        self._check(evidence)
        likelihoods, states = self._likelihoods, self._states
        known: dict[str, bool] = {}
        told: list[tuple[str, np.ndarray]] = []
        for name, there in evidence.items():
            known[name] = there
            label = self.labels[self.observables.index(name)]
            told.append((label if there else f"{label}: sound", self._weights(known, likelihoods) @ states))
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


def network_of(machine: Kinds) -> Network:
    """The network of a machine of these kinds: its items' checks, the belt's patterns, faults as found, symptoms."""
    return _network(machine.primary or "", machine.secondary or "")


@lru_cache(maxsize=4)  # a network of fifteen causes holds some ten megabytes of states
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
    leaks = np.array([data.leak_symptom if name in data.symptom else data.leak_finding for name in names])
    return Network(
        tuple(causes),
        tuple(each.name for each in causes.values()),
        np.array([each.prior for each in causes.values()]),
        names,
        tuple(labels.values()),
        strength,
        leaks,
    )


def _shows(name: str, here: Mapping[str, str]) -> bool:
    return name in here or name in PATTERNS or name in RUN_SIGNS or name.startswith("fault:")


def _fault_name(name: str) -> str:
    return FAULT_KINDS[name.removeprefix("fault:")].name
