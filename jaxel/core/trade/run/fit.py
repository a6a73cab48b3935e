"""A machine's model fitted to its runs: which parameters they move, and whether they bear each other out.

The model's parameters and the inputs that matter are fitted together, each drawn to what was known of it before.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.run.calibration import Contradiction, Residual
from jaxel.core.formats.run.runs import ForetoldPart, RunPart, check_same_machine
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.mechanism.numerics.tables import Array
from jaxel.core.mechanism.numerics.uncertainty import combined, posterior

from ..setup.calibration import ANCHORED, TOLD, Calibration, Fitted, Shares, distinct, least_deviations
from ..setup.discrepancy import Discrepancy, Figure, Score, estimated, kind_of
from ..setup.figures import ENGAGEMENT, FIGURES, MEAN, Figures, figures_of
from ..setup.parts import Group, swap_of
from ..setup.worth import effects_on

MOST_INPUTS = 8
LEAST_SHARE = 0.01
"""Inputs that join the fit: those with this share of the variance of a figure, at most so many; from memory."""

FURTHEST = 5.0
"""Prior deviations from its prior within which a parameter is looked for."""

STEP = 0.1
"""Prior deviations over which a slope of the fit is taken: small, where the least squares must be exact."""

CONTRADICTS = 2.5
"""Deviations by which a run must lie off what the others predict for it: one in eighty does by chance (normal)."""


def calibrate(base: SetupDocument, runs: Iterable[RunPart], others: Sequence[Score] = ()) -> tuple["Fit", Calibration]:
    """Fit a machine's model to its runs; returns the fit and what came of it.

    Weighted least squares with the priors as residuals, the runs weighted with what is in doubt about each relative to
    the base set-up, so that the model's error in a changed part is not blamed on a good run. How changes are told is
    then estimated anew from each run predicted by those before it and the workshop's `others`, scores of other
    machines; with that the fit takes one more step.

    Raises InvalidValue for a run whose set-up cannot work or is of another machine.

    Reference: scipy.optimize.least_squares, trust region reflective; covariance from JᵀJ.
    """
    fit = Fit(base, tuple(counted(base, runs)))
    study = Discrepancy.of_the_study()
    first = fit.settled(study, np.zeros(len(fit.fitted)))
    fit.scored = fit.scores(first)
    again = estimated([*others, *fit.scored])
    return fit, fit.stepped(first, again) if again.scored else first


def counted(base: SetupDocument, runs: Iterable[RunPart]) -> list[RunPart]:
    """Runs as they count: of one on a set-up whose secondary slips in the shift window, no figure of the shift.

    There the engine runs on past what the clutch holds, and its speed says nothing of the balance.
    """
    every = list(runs)
    distinct_setups, places = distinct([each.setup or base for each in every])
    slips = figures_of(distinct_setups).slips
    nothing = dict.fromkeys(("shift_mean_rpm", "slope_rpm", "full_shift_rpm"))
    return [run.model_copy(update=nothing) if slips[place] else run for run, place in zip(every, places, strict=True)]


class Fit:
    """A fit in the making: distinct set-ups of the runs, what joins the fit, and shares relative to the base."""

    def __init__(self, base: SetupDocument, runs: tuple[RunPart, ...]):
        self.base, self.runs, self.bare = base, runs, Calibration.none(base)
        setups = [run.setup or base for run in runs]
        for number, each in enumerate(setups, start=1):
            check_same_machine(f"runs[{number - 1}].setup", base, each)
        self.distinct, (_, *self.of_run) = distinct([base, *setups])
        self.known = least_deviations(self.distinct)
        _, effects = effects_on(self.distinct, self.known)
        self.fitted = self._joined(effects)
        self.shares = self.bare.shares([(base, each) for each in self.distinct])
        self.rows = [(index, figure) for index, run in enumerate(runs) for figure in range(len(FIGURES))
                     if FIGURES[figure] in run.measured]  # fmt: skip
        self.kept: dict[bytes, tuple[Array, Array]] = {}
        self.pairs: dict[tuple[int, int], Shares] = {}
        self.scored: list[Score] = []
        self.measured = np.array([runs[run].measured[FIGURES[figure]] for run, figure in self.rows])

    def _joined(self, effects: Sequence[Figures]) -> tuple[Fitted, ...]:
        """The model's parameters, and the inputs with the largest shares of a figure's variance in any set-up: of
        engagement, shift and what else the runs measured."""
        measured = {FIGURES.index(figure) for each in self.runs for figure in each.measured}
        figures = sorted({ENGAGEMENT, MEAN} | measured)
        worth: dict[str, tuple[float, Fitted]] = {}
        for place, (known, effect) in enumerate(zip(self.known, effects, strict=True)):
            variance = effect.values[:, figures] ** 2
            shares = (variance / np.maximum(variance.sum(axis=0), 1e-12)).max(axis=1)
            for each, share in zip(known, shares, strict=True):
                if each.path.startswith("model.") and not each.held:
                    continue
                name = each.path if place == 0 else f"{each.path}@{self.of_run.index(place) + 1}"
                before = worth.get(each.key)
                if before is None or share > before[0]:
                    worth[each.key] = (float(share), before[1] if before else Fitted(each, name))
        most = sorted(worth.values(), key=lambda each: -each[0])[:MOST_INPUTS]
        return self.bare.fitted + tuple(fitted for share, fitted in most if share >= LEAST_SHARE)

    def _with(self, at: Array, covariance: Array, discrepancy: Discrepancy) -> Calibration:
        fitted = tuple(replace(each, at=float(place)) for each, place in zip(self.fitted, at, strict=True))
        return Calibration(self.base, self.runs, fitted, covariance, discrepancy)

    def _told(self, at: Array, discrepancy: Discrepancy) -> tuple[Array, Array]:
        """The runs' figures as they are told [rows]: the base's and the change from it by its factors; with what one
        prior deviation of each parameter does to them [rows, p]."""
        values, jacobian = self._model(at)
        telling = replace(self.bare, discrepancy=discrepancy)
        beyond = [telling.beyond(each) for each in self.shares]
        return values + [beyond[self.of_run[run]][figure] for run, figure in self.rows], jacobian

    def _model(self, at: Array) -> tuple[Array, Array]:
        """The runs' bare figures [rows] and what one prior deviation of each parameter does to them [rows, p]; kept,
        for the fit asks for both at each place it tries."""
        if at.tobytes() in self.kept:
            return self.kept[at.tobytes()]
        here = self._with(at, np.eye(len(at)), self.bare.discrepancy)
        held = [{each.key: each for each in known} for known in self.known]
        moved = [[each.input for each in self.fitted if each.input.key in known] for known in held]
        own = [
            [replace(known[each.key], sd=each.sd * STEP) for each in some]
            for known, some in zip(held, moved, strict=True)
        ]
        found, effects = effects_on([here.applied(each) for each in self.distinct], own)
        places = {each.input.key: index for index, each in enumerate(self.fitted)}
        jacobian = np.zeros((len(self.distinct), len(self.fitted), len(FIGURES)))
        for place, (some, effect) in enumerate(zip(moved, effects, strict=True)):
            for each, row in zip(some, effect.values, strict=True):
                jacobian[place, places[each.key]] = row / STEP
        at_rows = [(self.of_run[run], figure) for run, figure in self.rows]
        self.kept[at.tobytes()] = (
            np.array([found.values[place, figure] for place, figure in at_rows]),
            np.array([jacobian[place, :, figure] for place, figure in at_rows]),
        )
        return self.kept[at.tobytes()]

    def covariance(self, discrepancy: Discrepancy) -> Array:
        """What the rows are in doubt by beside the parameters [rows, rows]; figures apart from each other."""
        total = np.zeros((len(self.rows), len(self.rows)))
        calibration = replace(self.bare, runs=self.runs, discrepancy=discrepancy)
        for figure in range(len(FIGURES)):
            places = [place for place, row in enumerate(self.rows) if row[1] == figure]
            runs = [self.rows[place][0] for place in places]
            shares = [self.shares[self.of_run[run]] for run in runs]
            if runs:
                total[np.ix_(places, places)] = calibration.noise(runs, figure, shares)
        return total

    def settled(self, discrepancy: Discrepancy, start: Array) -> Calibration:
        """The fit, started at `start` [p, prior deviations]."""
        from scipy.linalg import solve_triangular  # slow to import: a server answers before it needs them
        from scipy.optimize import least_squares

        root = np.linalg.cholesky(self.covariance(discrepancy))

        def whitened(at: Array) -> tuple[Array, Array]:
            try:
                values, jacobian = self._told(at, discrepancy)
            except InvalidValue:  # no clutch: as far off as can be, so that a shorter step is tried
                return np.full(len(self.rows) + len(at), 1e3), np.zeros((len(self.rows) + len(at), len(at)))
            miss, turn = (solve_triangular(root, each, lower=True) for each in (values - self.measured, jacobian))
            return np.concatenate([miss, at]), np.vstack([turn, np.eye(len(at))])

        def residual(at: Array) -> Array:
            return whitened(at)[0]

        def slope(at: Array) -> Array:
            return whitened(at)[1]

        bounds = (-FURTHEST, FURTHEST)
        found = least_squares(residual, start, slope, bounds, xtol=1e-5, ftol=1e-6, gtol=1e-4, max_nfev=25)
        there = slope(found.x)
        return self._with(found.x, np.asarray(np.linalg.inv(there.T @ there), float), discrepancy)

    def stepped(self, calibration: Calibration, discrepancy: Discrepancy) -> Calibration:
        """The fit one step further, with other shares of discrepancy."""
        at = np.array([each.at for each in calibration.fitted])
        values, jacobian = self._told(at, discrepancy)
        there, spread = posterior(jacobian, self.measured - values, self.covariance(discrepancy), at)
        return self._with(there, spread, discrepancy)

    def between(self, run: int, others: Sequence[int]) -> list[Shares]:
        """Shares of the change to a run's set-up from each of others', of the direct pair."""
        wanted = [(self.of_run[other], self.of_run[run]) for other in others]
        fresh = [pair for pair in dict.fromkeys(wanted) if pair not in self.pairs]
        found = self.bare.shares([(self.distinct[one], self.distinct[other]) for one, other in fresh])
        self.pairs.update(zip(fresh, found, strict=True))
        return [self.pairs[pair] for pair in wanted]

    def swap(self, one: int, other: int) -> str:
        """What lies between two runs' set-ups, the same whichever came first."""
        return swap_of(self.distinct[self.of_run[one]], self.distinct[self.of_run[other]])

    def scores(self, calibration: Calibration) -> list[Score]:
        """Each run's figures as those before it predict them, changes told as in the calibration."""
        found = []
        outlook = _Outlook(self, calibration)
        for place, (run, figure) in enumerate(self.rows):
            if figure not in ANCHORED:
                continue
            before = [other for other, row in enumerate(self.rows) if row[0] < run]
            told = outlook.of(place, before)
            if told:
                found.append(told.score(TOLD[figure], self.runs[run].foretold))
        return found

    def contradictions(self, calibration: Calibration) -> list[Contradiction]:
        """Figures of runs that the other runs do not bear out."""
        found = []
        outlook = _Outlook(self, calibration)
        for place, (run, figure) in enumerate(self.rows):
            if figure not in ANCHORED:
                continue
            told = outlook.of(place, [other for other, row in enumerate(self.rows) if row[0] != run])
            if told and abs(told.z) > CONTRADICTS:
                measured = float(self.measured[place])
                found.append(Contradiction(run=run + 1, figure=FIGURES[figure], measured=measured,
                                           expected=round(measured - told.miss, 1), z=round(told.z, 2)))  # fmt: skip
        return found

    def residuals(self, calibration: Calibration) -> list[Residual]:
        """Every figure beside what the calibrated model gives for it."""
        values, _ = self._told(np.array([each.at for each in calibration.fitted]), calibration.discrepancy)
        doubt = np.sqrt(np.diag(self.covariance(calibration.discrepancy)))
        return [
            Residual(run=run + 1, figure=FIGURES[figure], measured=float(measured),
                     predicted=round(float(value), 4), z=round(float((measured - value) / sd), 3))
            for (run, figure), measured, value, sd in zip(self.rows, self.measured, values, doubt, strict=True)
        ]  # fmt: skip


@dataclass(frozen=True)
class _Told:
    """A measured figure beside what other runs predict for it [rpm]: `miss`; `change` told between; `variance` of noise
    and parameters, `total` with the discrepancy; `parts`, the change of each group of parts between, without factor;
    `swap`, what was swapped for what."""

    miss: float
    change: float
    variance: float
    total: float
    parts: dict[Group, float]
    swap: str

    @property
    def z(self) -> float:
        return self.miss / self.total**0.5

    def score(self, figure: Figure, foretold: ForetoldPart | None = None) -> Score:
        """The change with what was measured of it; as it was foretold, where it was this one."""
        if foretold is not None and foretold.swap == self.swap:
            return Score(
                figure, getattr(foretold, figure), self.change, self.change + self.miss, self.variance, self.swap
            )
        changes: dict[str, float] = {}
        for group, change in self.parts.items():
            kinds = dict.fromkeys(kind_of(part) for part in group)
            for kind in kinds:
                changes[kind] = changes.get(kind, 0.0) + change / len(kinds)
        return Score(figure, changes, self.change, self.change + self.miss, self.variance, self.swap)


class _Outlook:
    """What some runs say of another, on the model made linear at the fit."""

    def __init__(self, fit: Fit, calibration: Calibration):
        self.fit, self.calibration = fit, calibration
        self.at = np.array([each.at for each in calibration.fitted])
        self.values, self.jacobian = fit._told(self.at, calibration.discrepancy)
        self.bare, _ = fit._model(self.at)
        self.covariance = fit.covariance(calibration.discrepancy)

    def of(self, place: int, others: Sequence[int]) -> _Told | None:
        """A row as the rows `others` predict it; None where none of them measured the same figure."""
        run, figure = self.fit.rows[place]
        anchors = [other for other in others if self.fit.rows[other][1] == figure]
        if not anchors:
            return None
        rows = list(others)
        settled, spread = posterior(
            self.jacobian[rows], (self.fit.measured - self.values)[rows], self.covariance[np.ix_(rows, rows)], self.at
        )
        changes = self.jacobian[place] - self.jacobian[anchors]
        between = self.fit.between(run, [self.fit.rows[other][0] for other in anchors])
        beyond = np.array([self.calibration.beyond(each)[figure] for each in between])
        shift = self.bare[place] - self.bare[anchors] + changes @ (settled - self.at) + beyond
        runs = [self.fit.rows[other][0] for other in anchors]
        doubt = self.calibration.noise(runs, figure, between) + changes @ spread @ changes.T
        joint = combined(self.fit.measured[anchors] + shift, doubt)
        noise = self.fit.runs[run].noise(FIGURES[figure]) ** 2
        parts = {group: float(joint.weights @ [each.get(group, np.zeros(len(FIGURES)))[figure] for each in between])
                 for group in {group for each in between for group in each}}  # fmt: skip
        tellings = {group: self.calibration.discrepancy.of(group, TOLD[figure]) for group in parts if figure in TOLD}
        known = sum((told.rel**2 + told.factor_sd**2) * parts[group] ** 2 for group, told in tellings.items())
        total = joint.variance + noise
        apart = [bool(each) for each in between]
        nearest = runs[int(np.argmax(joint.weights * apart))]  # of those with another set-up, if there is one
        return _Told(
            float(self.fit.measured[place] - joint.value), float(joint.weights @ shift), max(noise, total - known),
            total, parts, self.fit.swap(nearest, run),
        )  # fmt: skip
