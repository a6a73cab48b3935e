"""A machine's model as its runs left it, and what the next set-up will do, anchored on what was measured.

The next set-up is what was measured plus the predicted change, each part's share of it told by its factor: the model's
own offset cancels, and what is left to doubt is the noise of the run, the parameters' part in the change, and a share
of each part changed by which the model is known to be wrong. Without a run it is the fitted set-up plus that change.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from jaxel.core.formats.run.calibration import Anchor
from jaxel.core.formats.run.runs import RunPart, check_same_machine
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.equilibrium.shift import SHIFT_WINDOW
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.numerics.uncertainty import combined

from .discrepancy import Discrepancy, Figure, floor_rpm, kind_of
from .evidence import Input, inputs, model_inputs
from .figures import ENGAGEMENT, FIGURES, FULL_SHIFT, MEAN, NODES, SLOPE, Figures, figures_of
from .parts import Group, coalitions, differing, grouped, part_of, shapley
from .worth import effects_on

ANCHORED = (ENGAGEMENT, MEAN, FULL_SHIFT)
"""The figures that predictions anchor on runs."""

TOLD: dict[int, Figure] = {ENGAGEMENT: "engagement", MEAN: "shift", SLOPE: "shift", FULL_SHIFT: "full_shift"}
"""How changes of each figure are told; those of a ratio take no factor and are not in doubt by what was changed."""

MOST_APPLIED = 256
"""Set-ups remembered with the fitted parameters in them."""

MIDDLE = sum(SHIFT_WINDOW) / 2
"""Where on the curve the mean's deviation stands."""

Shares = dict[Group, Array]
"""Signed share of each group of parts in the change from one set-up to another, of every figure [6], as the model has
it: without its factor."""


@dataclass(frozen=True)
class Fitted:
    """A parameter of the fit: the `input` it moves, the `name` it goes by, and `at`, its place in prior deviations."""

    input: Input
    name: str
    at: float = 0.0

    @property
    def value(self) -> float:
        """Its value; of a table the factor on it."""
        return (1.0 if self.input.value is None else self.input.value) + self.at * self.input.sd


@dataclass(frozen=True)
class Estimate:
    """What a set-up will do [rpm], one standard deviation of each figure and the correlation of the first two.

    `curve_sd` [n, rpm] of the speed at each node; `bare`, the model's figures without an anchor [6]; `errors`, what one
    prior deviation of everything uncertain does to engagement and mean [2, everything], by the inputs' `keys`.
    """

    engagement: float
    mean: float
    full_shift: float
    engagement_sd: float
    mean_sd: float
    full_shift_sd: float
    correlation: float
    curve_sd: Array
    bare: Array
    errors: Array
    keys: tuple[str, ...]


@dataclass(frozen=True)
class Calibration:
    """What is known of a machine's model after some runs, or none.

    `base` set-up; `runs` as measured; `fitted` parameters with their `covariance` [p, p] in prior deviations;
    `discrepancy`, how wrong the model is beyond them.
    """

    base: SetupDocument
    runs: tuple[RunPart, ...]
    fitted: tuple[Fitted, ...]
    covariance: Array
    discrepancy: Discrepancy

    @classmethod
    def none(cls, base: SetupDocument, discrepancy: Discrepancy | None = None) -> "Calibration":
        """A machine without a run, `base` fitted: the priors alone, and how the workshop's changes are told."""
        fitted = tuple(Fitted(each, each.path.removeprefix("model.")) for each in model_inputs(base))
        return cls(base, (), fitted, np.eye(len(fitted)), discrepancy or Discrepancy.of_the_study())

    @cached_property
    def anchors(self) -> list[Anchor]:
        """The measured figures that predictions stand on."""
        return [
            Anchor(run=number, figure=FIGURES[figure], measured=run.measured[FIGURES[figure]])
            for number, run in enumerate(self.runs, start=1)
            for figure in ANCHORED
            if FIGURES[figure] in run.measured
        ]

    def applied(self, document: SetupDocument) -> SetupDocument:
        """A set-up with the fitted parameters in it, as far as it holds the parts they are of."""
        kept = self._applied.get(id(document))
        if kept is None:
            if len(self._applied) >= MOST_APPLIED:
                self._applied.clear()
            # Beside what came of it the set-up itself: as long as it is held nothing else has its identity.
            kept = self._applied[id(document)] = (document, self._with_fitted(document))
        return kept[1]

    @cached_property
    def _applied(self) -> dict[int, tuple[SetupDocument, SetupDocument]]:
        return {}

    def _with_fitted(self, document: SetupDocument) -> SetupDocument:
        held = {each.key: each for each in inputs(document)}
        for each in self.fitted:
            if each.at and each.input.key in held:
                document = held[each.input.key].moved(document, each.at * each.input.sd)
        return document

    def estimates(self, documents: Sequence[SetupDocument], nodes: int = NODES) -> list[Estimate]:
        """What set-ups of the machine will do: what was measured plus the change told, or the fitted set-up's bare
        figures plus that where nothing was.

            D_i = Σ_part b_part·Δ_part,i
            V_ij = δ_ij·noise_i² + 8² + J_i C J_jᵀ + Σ_part (rel_part² + s_part²)·Δ_part,i·Δ_part,j

        Parameters: `documents` [k]; `nodes` of the curve. Raises InvalidValue where one cannot work or is of another
        machine.

        Reference: see docs/model.md, *How sure*.
        """
        for document in documents:
            check_same_machine("setup", self.base, document)
        ridden, of_run = self._ridden
        known = least([*self._inputs_at_runs, *(inputs(each) for each in documents)])
        before, after = known[: len(ridden)], known[len(ridden) :]
        applied = [self.applied(each) for each in documents]
        # Of a curve that was measured the band is its figures', whose effects want no more nodes.
        solved = NODES if self._curve_measured else nodes
        found, effects = effects_on(applied, after, solved)
        bare = found.values if solved == nodes else figures_of(applied, nodes).values
        spread = _Spread(self, known)
        at_runs, (_, run_steps) = self._values_at_runs(nodes), self._at_runs(solved)
        told_runs = [
            spread.rows(own, step.values * _wider(own, then)[:, None])
            for own, then, step in zip(before, self._run_inputs, run_steps, strict=True)
        ]
        told = [spread.rows(each, of.values) for each, of in zip(after, effects, strict=True)]
        values, run_effects = at_runs[of_run], [told_runs[place] for place in of_run]
        origins, places = distinct([*ridden, self.base] if self._stands_on_base else ridden)
        changes = self.shares([(each, document) for document in documents for each in origins])
        estimates = []
        for index in range(len(documents)):
            to = changes[index * len(origins) : (index + 1) * len(origins)]
            shares = [to[run] for run in of_run]
            of_nodes = np.zeros((len(after[index]), nodes)) if solved != nodes else effects[index].curve
            curve = spread.deviation(spread.rows(after[index], of_nodes))
            estimates.append(
                self._estimate(
                    values, run_effects, shares, to[places[-1]] if self._stands_on_base else {},
                    bare[index], told[index], curve, spread,
                )
            )  # fmt: skip
        return estimates

    @cached_property
    def _ridden(self) -> tuple[list[SetupDocument], list[int]]:
        """The set-ups the runs were made on, each once, and which of them each run's is."""
        return distinct([run.setup or self.base for run in self.runs])

    @cached_property
    def _inputs_at_runs(self) -> list[list[Input]]:
        return [inputs(each) for each in self._ridden[0]]

    @cached_property
    def _run_inputs(self) -> list[list[Input]]:
        return least(self._inputs_at_runs)

    def _at_runs(self, nodes: int) -> tuple[Figures, list[Figures]]:
        """The figures of the runs' set-ups and the effects of their inputs: worked out once for all that is asked."""
        if nodes not in self._known_at_runs:
            ridden = [self.applied(each) for each in self._ridden[0]]
            self._known_at_runs[nodes] = effects_on(ridden, self._run_inputs, nodes)
        return self._known_at_runs[nodes]

    def _values_at_runs(self, nodes: int) -> Array:
        """The figures of the runs' set-ups at another number of nodes."""
        if nodes not in self._known_at_runs and nodes not in self._known_values:
            ridden = [self.applied(each) for each in self._ridden[0]]
            self._known_values[nodes] = figures_of(ridden, nodes).values
        known = self._known_at_runs.get(nodes)
        return known[0].values if known else self._known_values[nodes]

    @cached_property
    def _known_values(self) -> dict[int, Array]:
        return {}

    @cached_property
    def _known_at_runs(self) -> dict[int, tuple[Figures, list[Figures]]]:
        return {}

    @property
    def _curve_measured(self) -> bool:
        return any(FIGURES[figure] in run.measured for run in self.runs for figure in (MEAN, FULL_SHIFT))

    @property
    def _stands_on_base(self) -> bool:
        """Whether some figure was never measured: it stands on the fitted set-up's bare one."""
        return any(all(FIGURES[figure] not in run.measured for run in self.runs) for figure in ANCHORED)

    def _estimate(
        self, values: Array, run_effects: list[Array], shares: list[Shares], from_base: Shares, bare: Array,
        effects: Array, curve_sd: Array, spread: "_Spread",
    ) -> Estimate:  # fmt: skip
        """One set-up's estimate; effects [inputs, 6] of the runs' set-ups and of its own, shares of the change to it
        from each run's set-up and from the base."""
        told, unmeasured = {}, bare + self.beyond(from_base)
        for figure in ANCHORED:
            rows = [index for index, run in enumerate(self.runs) if FIGURES[figure] in run.measured]
            if not rows:
                error = effects[:, figure]
                told[figure] = (float(unmeasured[figure]), spread.variance(error) + floor_rpm() ** 2, error)
                continue
            measured = np.array([self.runs[row].measured[FIGURES[figure]] for row in rows])
            changes = np.array([effects[:, figure] - run_effects[row][:, figure] for row in rows])
            changes *= spread.told(self.discrepancy, TOLD[figure])
            covariance = self.noise(rows, figure, [shares[row] for row in rows]) + spread.between(changes)
            beyond = np.array([self.beyond(shares[row])[figure] for row in rows])
            joint = combined(measured + bare[figure] - values[rows, figure] + beyond, covariance)
            told[figure] = (joint.value, joint.variance, joint.weights @ changes)
        (bite, bite_var, bite_error), (mean, mean_var, mean_error), (full, full_var, _) = told.values()
        anchored = {figure: any(FIGURES[figure] in run.measured for run in self.runs) for figure in ANCHORED}
        if anchored[MEAN] != anchored[FULL_SHIFT]:
            # The curve was measured at one place: it moves as a whole.
            mean, full = (
                (mean, float(unmeasured[FULL_SHIFT]) + mean - float(unmeasured[MEAN])) if anchored[MEAN]
                else (float(unmeasured[MEAN]) + full - float(unmeasured[FULL_SHIFT]), full)
            )  # fmt: skip
        if anchored[MEAN] or anchored[FULL_SHIFT]:
            done = np.linspace(0.0, 1.0, len(curve_sd))
            curve_sd = np.sqrt(np.interp(done, [MIDDLE, 1.0], [mean_var, full_var]))
        shared = float(spread.between(np.array([bite_error, mean_error]))[0, 1])
        correlation = float(np.clip(shared / np.sqrt(bite_var * mean_var), -0.999, 0.999))
        return Estimate(
            bite, mean, full, bite_var**0.5, mean_var**0.5, full_var**0.5, correlation, curve_sd, bare,
            np.array([bite_error, mean_error]), tuple(spread.at),
        )  # fmt: skip

    def noise(self, rows: Sequence[int], figure: int, shares: Sequence[Shares]) -> Array:
        """What runs' figures are in doubt by beside the parameters, given each one's shares of a change."""
        noise = np.diag([self.runs[row].noise(FIGURES[figure]) ** 2 for row in rows])
        if figure not in TOLD:
            return noise
        return noise + floor_rpm() ** 2 + discrepancy_between(self.discrepancy, figure, shares)

    def beyond(self, shares: Shares) -> Array:
        """What the factors add to a change as the model has it, Σ (b − 1)·Δ of every figure [6]."""
        added = np.zeros(len(FIGURES))
        for group, change in shares.items():
            for figure, told in TOLD.items():
                added[figure] += (self.discrepancy.of(group, told).factor - 1) * change[figure]
        return added

    def told_shares(self, shares: Shares) -> Shares:
        """Shares of a change as they are told, b·Δ, that sum to the change told."""
        return {group: change + self.beyond({group: change}) for group, change in shares.items()}

    def changes(self, origin: SetupDocument, documents: Sequence[SetupDocument]) -> Array:
        """The change from one set-up to each of others as it is told, D of every figure [k, 6]; NaN to one that cannot
        work."""
        split = self.shares([(origin, each) for each in documents])
        return np.array([sum(self.told_shares(each).values(), np.zeros(len(FIGURES))) for each in split])

    def shares(self, pairs: Sequence[tuple[SetupDocument, SetupDocument]]) -> list[Shares]:
        """Shares of the change from one set-up of each pair to the other, at the fitted parameters."""
        split = [grouped(differing(*pair), kind_of) for pair in pairs]
        made = [
            coalitions(self.applied(one), self.applied(other), groups) if groups else []
            for (one, other), groups in zip(pairs, split, strict=True)
        ]
        found = figures_of([document for each in made for document in each]).values
        shares: list[Shares] = []
        at = 0
        for groups, documents in zip(split, made, strict=True):
            worth = found[at : at + len(documents)]
            at += len(documents)
            if not groups or np.isnan(worth[0]).any():  # nothing changed, or there was no clutch to change from
                shares.append({})
            elif np.isnan(worth).any():  # a selection in between cannot work: all that changed is one part
                shares.append({tuple(part for group in groups for part in group): worth[-1] - worth[0]})
            else:
                shares.append(dict(zip(groups, shapley(worth), strict=True)))
        return shares


def discrepancy_between(discrepancy: Discrepancy, figure: int, shares: Sequence[Shares]) -> Array:
    """Σ_part (rel_part² + s_part²)·Δ_part,i·Δ_part,j of one figure [n, n, rpm²], Δ without its factor."""
    total = np.zeros((len(shares), len(shares)))
    for group in {group for each in shares for group in each}:
        told = discrepancy.of(group, TOLD[figure])
        change = np.array([each[group][figure] if group in each else 0.0 for each in shares])
        total += (told.rel**2 + told.factor_sd**2) * np.outer(change, change)
    return total


def distinct(setups: Sequence[SetupDocument]) -> tuple[list[SetupDocument], list[int]]:
    """Set-ups told apart by what they are, not by name or target, and which of them each one is."""
    found: list[SetupDocument] = []
    seen: list[SetupDocument] = []
    places = []
    for each in setups:
        bare = each.bare()
        if bare not in seen:
            seen.append(bare)
            found.append(each)
        places.append(seen.index(bare))
    return found, places


def least_deviations(documents: Sequence[SetupDocument]) -> list[list[Input]]:
    """The inputs of set-ups, each number that several hold with the least deviation any of them states."""
    return least([inputs(each) for each in documents])


def least(found: Sequence[Sequence[Input]]) -> list[list[Input]]:
    """Inputs of several set-ups, each number that several hold with the least deviation any of them has."""
    deviations: dict[str, float] = {}
    for each in (one for some in found for one in some):
        deviations[each.key] = min(each.sd, deviations.get(each.key, each.sd))
    return [
        [each if each.sd == deviations[each.key] else replace(each, sd=deviations[each.key]) for each in some]
        for some in found
    ]


def _wider(now: Sequence[Input], then: Sequence[Input]) -> Array:
    """What the deviation of each of a set-up's inputs is now over what it was [inputs]."""
    return np.array([one.sd / other.sd for one, other in zip(now, then, strict=True)])


class _Spread:
    """The covariance of everything uncertain, in prior deviations: the fitted parameters', and one of its own for
    each input that was not fitted."""

    def __init__(self, calibration: Calibration, known: Sequence[Sequence[Input]]):
        keys = [each.input.key for each in calibration.fitted]
        others = dict.fromkeys(each.key for some in known for each in some if each.key not in set(keys))
        self.at = {key: index for index, key in enumerate([*keys, *others])}
        self.fitted, self.covariance = len(keys), calibration.covariance
        paths = {each.key: each.path for some in known for each in some}
        paths |= {each.input.key: each.input.path for each in calibration.fitted}
        self.paths = [paths[key] for key in self.at]
        self.sd = {each.input.key: each.input.sd for each in calibration.fitted}

    def rows(self, known: Sequence[Input], effects: Array) -> Array:
        """Effects of a set-up's own inputs [inputs, m] at their places among all [everything, m]."""
        placed = np.zeros((len(self.at), effects.shape[1]))
        for each, effect in zip(known, effects, strict=True):
            placed[self.at[each.key]] = effect * (self.sd.get(each.key, each.sd) / each.sd)
        return placed

    def between(self, errors: Array) -> Array:
        """J C Jᵀ of some errors [n, everything]; returns [n, n]."""
        fitted, own = errors[:, : self.fitted], errors[:, self.fitted :]
        return np.asarray(fitted @ self.covariance @ fitted.T + own @ own.T)

    def told(self, discrepancy: Discrepancy, figure: Figure) -> Array:
        """The factor by which each one's part in a change is told [everything]: a helix's doubt moves the figure no
        more than the helix does."""
        found = [discrepancy.of([part_of(path)], figure).factor for path in self.paths]
        return np.array(found)

    def variance(self, error: Array) -> float:
        return float(self.between(error[None])[0, 0])

    def deviation(self, effects: Array) -> Array:
        """One deviation of each column, with what every figure's discrepancy comes to at least [m, rpm]."""
        fitted, own = effects[: self.fitted], effects[self.fitted :]
        variance = np.einsum("pm,pq,qm->m", fitted, self.covariance, fitted) + (own**2).sum(axis=0)
        return np.sqrt(variance + floor_rpm() ** 2)
