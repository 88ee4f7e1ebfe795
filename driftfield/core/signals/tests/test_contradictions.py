"""No signal says what the intervals of the niche's own figures refute, nor what their direction denies."""

from collections.abc import Callable
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, Floats
from driftfield.core.market import FIGURES_BY_KEY, FigureType
from driftfield.core.signals import SIGNALS, SIGNALS_BY_KEY, Tone, raise_signals
from driftfield.core.signals.rule import Clause, fields_of, value_of

Figures = dict[str, Floats]
SPLITS = ("growth_13w", "growth_yoy")
# The ends of each figure that has an interval, lower and upper; None where that end is not given.
ENDS: dict[str, tuple[str | None, str | None]] = {
    **{f"{split}.drift": (f"{split}.drift_low", f"{split}.drift_high") for split in SPLITS},
    "drift_rate_year": ("drift_low", "drift_high"),
    "purchase_rate": ("purchase_rate_low", "purchase_rate_high"),
    "click_purchase_rate": (None, "click_purchase_high"),
    "price_answer.correlation": ("price_answer.low", "price_answer.high"),
    "purchase_lag.weeks": ("purchase_lag.low", "purchase_lag.high"),
    "competition_parts.top3_share": (None, "competition_parts.top3_share_high"),
    "entry.success_rate": ("entry.success_low", "entry.success_high"),
}  # fmt: skip
OF_ENDS = {end: figure for figure, ends in ENDS.items() for end in ends if end}
# What each signal that names such a figure claims of it, by its ends; true where they do not refute it.
CLAIMS: dict[str, Callable[[Figures], np.ndarray]] = {
    "clicks_without_purchases": lambda f: f["click_purchase_high"] < f["usual.click_purchase_rate"],
    "searches_without_purchases": lambda f: f["purchase_rate_high"] < f["usual.purchase_rate"],
    "few_but_willing": lambda f: f["purchase_rate_low"] > f["usual.purchase_rate"],
    "waits_for_discounts": lambda f: f["price_answer.high"] < 0,
    # That it rises by season alone is refuted by anything without the calendar that rose for sure.
    "rises_by_season": lambda f: np.all(
        [f[low] <= 0 for figure, (low, _) in ENDS.items() if low and "drift" in figure], axis=0
    ),
    "rises_underneath": lambda f: f["growth_13w.drift_low"] > 0,
    "searches_lead": lambda f: f["purchase_lag.low"] > 0,
    "top_three_hold": lambda f: f["competition_parts.top3_share"] >= DEFAULTS.top3_closed,
    "room_at_the_top": lambda f: f["competition_parts.top3_share_high"] <= DEFAULTS.top3_open,
    "launches_fail": lambda f: f["entry.success_high"] < 0.5,
    "launches_work": lambda f: f["entry.success_low"] > 0,
}  # fmt: skip


def _drawn(rng: np.random.Generator, key: str, n: int) -> Floats:
    figure = FIGURES_BY_KEY[key]
    if figure.type is FigureType.SHARE:
        return rng.uniform(0, 1, n)
    if figure.type in {FigureType.CHANGE, FigureType.SIGNED, FigureType.RATIO}:
        return (
            rng.normal(0, 0.5, n).clip(-0.95, 3)
            if key != "purchase_lag.weeks"
            else rng.normal(0, 4, n)
        )
    # Amounts on both sides of the thresholds they are held against.
    return np.exp(rng.normal(np.log(50), 2.5, n))


def _markets(n: int) -> Figures:
    """Random figures, each interval around its figure; one rule's conditions lie together in each row."""
    rng = np.random.default_rng(31)
    read = dict.fromkeys(key for rule in SIGNALS for key in rule.reads)
    named = dict.fromkeys(
        key for rule in SIGNALS for at, key, _ in fields_of(rule.sentence) if not at
    )
    keys = [*read, *named, *ENDS, *OF_ENDS]
    found = {
        key: _drawn(rng, key, n) for key in dict.fromkeys(keys) if not FIGURES_BY_KEY[key].choices
    }
    found["entry.success_rate"] = rng.choice([0, 0.1, 0.5, 1.0], n)
    for figure, (low, high) in ENDS.items():
        width = np.abs(rng.normal(0, rng.choice([0.02, 0.2], n)))
        if low:
            found[low] = found[figure] - width
        if high:
            found[high] = found[figure] + np.abs(rng.normal(0, width))
    words = {key: FIGURES_BY_KEY[key].choices for key in [*read] if FIGURES_BY_KEY[key].choices}
    for key, choices in words.items():
        found[key] = rng.choice(np.array(choices, dtype=object), n)
    # Towards each rule in turn, so that all are raised often: its clauses hold in a share of the rows.
    for place, rule in enumerate(SIGNALS):
        rows = np.flatnonzero(np.arange(n) % len(SIGNALS) == place)
        for clause in rule.when:
            if not isinstance(clause, Clause):
                found[clause.figure][rows] = clause.word
                continue
            bar = value_of(clause.than, DEFAULTS) * (found[clause.of][rows] if clause.of else 1)
            held = bar + (1 if clause.above else -1) * np.abs(rng.normal(0, 0.2, len(rows))) * (
                1 + abs(bar)
            )
            _move(found, clause.figure, rows, held)
    return found


def _move(found: Figures, key: str, rows: np.ndarray, values: Floats) -> None:
    """Give a figure, or an end of one, some values, and move its interval with it."""
    owner = OF_ENDS.get(key, key)
    moved = values - found[key][rows]
    for one in dict.fromkeys((owner, *(end for end in ENDS.get(owner, ()) if end), key)):
        found[one][rows] += moved


class Contradictions(TestCase):
    def test_every_signal_that_names_an_interval_says_what_it_claims(self) -> None:
        naming = {
            rule.key
            for rule in SIGNALS
            for key in [*rule.reads, *(key for at, key, _ in fields_of(rule.sentence) if not at)]
            if key in ENDS or key in OF_ENDS
        }
        self.assertEqual(naming, set(CLAIMS))

    def test_no_raised_signal_is_refuted_by_the_intervals_of_its_figures(self) -> None:
        figures = _markets(60_000)
        raised = ~np.isnan(raise_signals(figures, DEFAULTS))
        for place, rule in enumerate(SIGNALS):
            rows = raised[:, place]
            self.assertGreater(rows.sum(), 20, rule.key)
            if rule.key in CLAIMS:
                holds = CLAIMS[rule.key](figures)[rows]
                self.assertTrue(holds.all(), rule.key)

    def test_a_caution_is_about_what_is_worse_and_a_chance_about_what_is_better(self) -> None:
        """By the direction that side by side marks the best by."""
        for rule in SIGNALS:
            if rule.tone is Tone.NOTE:
                continue
            for clause in rule.when:
                if not isinstance(clause, Clause) or clause is not rule.when[0]:
                    continue
                more_is_better = FIGURES_BY_KEY[clause.figure].direction
                toward = more_is_better * (1 if clause.above else -1)
                with self.subTest(rule.key):
                    self.assertIn(toward, (0, 1 if rule.tone is Tone.CHANCE else -1))

    def test_growth_by_the_same_weeks_a_year_ago_is_no_rise_by_season_alone(self) -> None:
        """A niche at +57% in 13 weeks, of which the calendar makes +45%, whose year on year is +30%
        (+14% to +47%)."""
        known = {
            "growth_13w.raw": 0.57, "growth_13w.season": 0.45, "growth_13w.drift": 0.08,
            "growth_13w.drift_low": -0.05, "growth_13w.drift_high": 0.22,
            "growth_yoy.drift_low": 0.14, "growth_yoy.drift_high": 0.47, "drift_low": -0.01,
        }  # fmt: skip
        rule = SIGNALS_BY_KEY["rises_by_season"]
        arrays = {key: np.array([value]) for key, value in known.items()}
        self.assertTrue(np.isnan(rule.severity(arrays, DEFAULTS)[0]))
        arrays["growth_yoy.drift_low"] = np.array([-0.03])
        self.assertGreater(rule.severity(arrays, DEFAULTS)[0], 0)

    def test_the_season_s_own_rise_is_no_merit(self) -> None:
        for key in ("growth_4w.raw", "growth_13w.raw", "growth_26w.raw"):
            self.assertEqual(FIGURES_BY_KEY[key].direction, 0)
        self.assertEqual(FIGURES_BY_KEY["growth_yoy.raw"].direction, 1)
        self.assertEqual(FIGURES_BY_KEY["entry.units_per_review"].direction, 0)
