"""The noisy-OR network by value: against enumeration in plain Python, and what a technician would expect of it."""

import itertools
import math
import unittest
from pathlib import Path

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.figures import ENGAGEMENT, LOW_RATIO, figures_of
from jaxel.core.trade.strip.diagnosis import Network, network_of, symptoms, symptoms_in
from jaxel.core.trade.strip.late_belt import late_belt
from jaxel.core.words import told
from tests.examples import example, read

DOCS = Path(__file__).parents[3] / "docs"
TOWER = Kinds("tower-and-button-primary", "bolt-in-helix-secondary")
BARE = Kinds()


def brute(network: Network, evidence: dict[str, bool]) -> tuple[list[float], float]:
    """Posteriors and the probability of the evidence, every set of causes enumerated one by one."""
    causes, total = range(len(network.causes)), 0.0
    sums = [0.0 for _ in causes]
    for state in itertools.product((0, 1), repeat=len(network.causes)):
        weight = math.prod(p if there else 1 - p for p, there in zip(network.priors, state, strict=True))
        for name, there in evidence.items():
            place = network.observables.index(name)
            absent = 1 - network.leaks[place]
            for cause in causes:
                if state[cause]:
                    absent *= 1 - network.strength[place][cause]
            weight *= 1 - absent if there else absent
        total += weight
        for cause in causes:
            sums[cause] += weight * state[cause]
    return [each / total for each in sums], total


def entropy(p: float) -> float:
    return -(p * math.log2(p) + (1 - p) * math.log2(1 - p))


class AgainstEnumeration(unittest.TestCase):
    def test_posterior(self):
        network = network_of(BARE)
        for evidence in (
            {},
            {"jerky": True},
            {"bog": True, "no_top": True, "belt:worn": False},
            {"hot": True, "belt:cups": True, "fault:unwound": True, "belt:glaze": False},
        ):
            for mine, theirs in zip(network.posterior(evidence), brute(network, evidence)[0], strict=True):
                self.assertAlmostEqual(mine, theirs, places=12)

    def test_expected_drop_in_entropy(self):
        # H(causes) − Σ P(seen)·H(causes | seen), the joint entropy of the causes by enumeration of its chain rule:
        # the mutual information is H(seen) − Σ_state P(state)·H(seen | state).
        network = network_of(BARE)
        evidence = {"bog": True}
        _, before = brute(network, evidence)
        _, both = brute(network, {**evidence, "belt:worn": True})
        place = network.observables.index("belt:worn")
        conditional = 0.0
        for state in itertools.product((0, 1), repeat=len(network.causes)):
            weight = math.prod(p if there else 1 - p for p, there in zip(network.priors, state, strict=True))
            told = network.observables.index("bog")

            def absent(observable: int, state=state) -> float:
                misses = (1 - s for s, there in zip(network.strength[observable], state, strict=True) if there)
                return (1 - network.leaks[observable]) * math.prod(misses)

            conditional += weight * (1 - absent(told)) / before * entropy(1 - absent(place))
        self.assertAlmostEqual(
            network.most_telling(evidence, ["belt:worn"])[0].bits, entropy(both / before) - conditional, places=12
        )

    def test_the_most_telling_is_the_largest_drop(self):
        network = network_of(TOWER)
        evidence = {"jerky": True, "bog": True}
        items = ["arm_bushing", "moving_face", "secondary_spring", "belt:glaze"]
        told = network.most_telling(evidence, items)
        drops = {name: network.most_telling(evidence, [name])[0].bits for name in items}
        self.assertEqual([each.key for each in told], sorted(items, key=lambda name: -drops[name]))
        self.assertAlmostEqual(told[0].bits, max(drops.values()))
        self.assertNotIn(
            "arm_bushing", [e.key for e in network.most_telling({**evidence, "arm_bushing": False}, items)]
        )


class OfTheTrade(unittest.TestCase):
    """What common practice says explains what (no source)."""

    def first(self, kinds: Kinds, **evidence: bool) -> str:
        return network_of(kinds).ranked(evidence)[0].key

    def test_a_cocked_arm_explains_a_bog(self):
        network = network_of(TOWER)
        before = {each.key: each.chance for each in network.ranked({"bog": True})}
        after = {each.key: each for each in network.ranked({"bog": True, "arm_bushing": True})}
        self.assertGreater(after["cocked_arm"].chance, 3 * before["cocked_arm"])
        # Explained away: the worn belt is less likely once the arm accounts for the bog.
        self.assertLess(after["worn_belt"].chance, before["worn_belt"])
        steps = after["cocked_arm"].steps
        self.assertEqual([label for label, _ in steps], ["Bogs at take-off or on a climb", "Arm bushings"])
        self.assertAlmostEqual(steps[0][1], before["cocked_arm"])
        self.assertAlmostEqual(steps[-1][1], after["cocked_arm"].chance)

    def test_of_the_kinds(self):
        self.assertEqual(self.first(Kinds("roller-variator-primary"), rattle=True), "slide_guides")
        converter = Kinds("light-torque-converter", "light-torque-converter")
        self.assertEqual(self.first(converter, jerky=True), "dry_weights")
        self.assertEqual(self.first(TOWER, over_rev=True), "light_weights")
        self.assertEqual(self.first(Kinds("one-way-bearing-primary"), creeps=True, squeal=True), "one_way_bearing")
        self.assertNotIn("slide_guides", network_of(TOWER).causes)

    def test_a_sound_finding_clears_a_cause(self):
        network = network_of(TOWER)
        place = network.causes.index("cocked_arm")
        told, cleared = ({"jerky": True}, {"jerky": True, "arm_bushing": False})
        self.assertLess(network.posterior(cleared)[place], 0.1 * network.posterior(told)[place])

    def test_an_idler_that_binds_stops_the_shift_short(self):
        """No top speed on a good belt: a binding driver or idler, a stop, a belt of another machine (common
        practice)."""
        network = network_of(TOWER)
        place = network.causes.index("stopped_short")
        good = {"no_top": True, "belt:worn": False}
        alone, bound, free = (
            network.posterior(each)[place]
            for each in (good, {**good, "idler_bearing": True}, {**good, "idler_bearing": False})
        )
        self.assertGreater(bound, 2 * alone)
        self.assertLess(free, alone)

    def test_the_pairs_of_the_docs(self):
        """Thirty pairs of complaint and finding with the cause that heads the list: common practice, no source."""
        pairs = 0
        for line in (DOCS / "diagnosis.md").read_text(encoding="utf-8").splitlines():
            cells = [each.strip() for each in line.strip("|").split("|")]
            if not line.startswith("| ") or cells[0] == "clutches":
                continue
            clutches, complaint, finding, first = cells
            primary, _, secondary = clutches.partition(", ")
            kinds = BARE if clutches == "–" else Kinds(primary, secondary)
            told = dict.fromkeys(complaint.split(", "), True)
            found = [] if finding == "–" else finding.split(", ")
            told |= {each.removesuffix(" sound"): not each.endswith(" sound") for each in found}
            with self.subTest(complaint=complaint, finding=finding):
                self.assertEqual(network_of(kinds).ranked(told)[0].key, first)
            pairs += 1
        self.assertGreaterEqual(pairs, 30)

    def test_a_fault_somebody_found_is_as_good_as_the_cause(self):
        told = network_of(TOWER).ranked({"slip": True, "jerky": True, "fault:wound-backwards": True})
        self.assertEqual(told[0].key, "secondary_spring")
        self.assertGreater(told[0].chance, 0.95)

    def test_late_by_a_worn_belt_agrees_with_the_model(self):
        sled = read(example("mountain-sled"))
        narrow = sled.with_belt_width(sled.belt.top_width_new_mm - 1.2)
        bite, low = (figures_of([narrow, sled.with_belt_width(sled.belt.top_width_new_mm)]).values[:, each]
                     for each in (ENGAGEMENT, LOW_RATIO))  # fmt: skip
        words = told(late_belt(narrow))
        self.assertIn(f"starts at {low[0]:.2f}, a new one at {low[1]:.2f}", words)
        later = bite[0] - bite[1]
        self.assertGreaterEqual(later, -1)  # a worn belt never bites lower
        self.assertIn("what feels late is its taller gear" if later < 30 else f"{later:.0f}"[:1], words)
        self.assertIn("no later than a new one", told(late_belt(sled.with_belt_width(sled.belt.top_width_new_mm))))

    def test_range_at_walking_pace_counts(self):
        high, low = (network_of(BARE).ranked({"hot": True, "range:high": each}) for each in (True, False))
        chance = {each.key: each.chance for each in high}["wrong_range"]
        self.assertEqual(high[0].key, "wrong_range")
        self.assertLess({each.key: each.chance for each in low}["wrong_range"], chance / 5)
        # By itself it is a habit, and no trouble.
        (alone,) = (each for each in network_of(BARE).ranked({"range:high": True}) if each.key == "wrong_range")
        self.assertLess(alone.chance, 0.25)

    def test_what_shows_causes_of_this_complaint_alone(self):
        network = network_of(TOWER)
        shown = network.shown_by(["rattle"])
        self.assertLessEqual({"buttons", "arm_bushing", "belt:cups"}, shown)
        self.assertNotIn("belt:glaze", network.shown_by(["rattle"]) - network.shown_by(["squeal"]))
        self.assertNotIn("loads", shown)

    def test_words_of_riders(self):
        """How people say it; each common practice, no source."""
        for words, symptom in (
            ("it lurches off the line", "jerky"), ("judders when cold", "jerky"), ("hesitates out of the gate", "bog"),
            ("there is a flat spot", "bog"), ("needs a lot of revs to go", "late"),
            ("starts as if in a higher gear", "tall"), ("surges on the flat", "surges"), ("squeals", "squeal"),
            ("smells of rubber", "hot"), ("will not stop pulling at idle", "creeps"),
            ("will not back-shift out of the corner", "slow_backshift"), ("goes through belts", "eats_belts"),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertIn(symptom, symptoms_in(words))

    def test_words_of_a_complaint(self):
        self.assertEqual(symptoms_in("It JERKS at take-off and the belt smells"), ["jerky", "hot"])
        self.assertEqual(symptoms_in("Winter check."), [])
        self.assertGreaterEqual({each.key for each in symptoms()}, {"jerky", "bog", "rattle", "no_top"})

    def test_nothing_this_machine_can_show(self):
        with self.assertRaises(InvalidValue):
            network_of(TOWER).posterior({"slide_guide": True})
