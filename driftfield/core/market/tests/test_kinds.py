"""Terms as a kind: each is read as a niche is, with its niche's season to lean on."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS
from driftfield.core.curves.pooling import LEAST_SPREAD, Prior
from driftfield.core.curves.reading import read_curves
from driftfield.core.market import (
    BRAND,
    CATEGORY,
    KINDS,
    LISTING,
    NICHE,
    SELLER,
    TERM,
    Kind,
    MarketData,
    figures_of,
    run_market,
)
from driftfield.core.signals import SIGNALS

from .test_figures import TIMELINE


def market() -> MarketData:
    """Two niches: one of a loud term and a faint one with the same season, one of a single term."""
    rng = np.random.default_rng(4)
    weeks = np.arange(TIMELINE.length)
    season = 1 + 0.8 * np.cos(2 * np.pi * (weeks - 20) / 52)
    means = np.stack([300 * season, 2.5 * season, np.full(len(weeks), 120.0)])
    return MarketData(
        timeline=TIMELINE,
        subjects=["forcers", "hooks"],
        term_subject=np.array([0, 0, 1]),
        searches=rng.poisson(means).astype(float),
        branded=np.array([0.0, np.nan, 1.0]),
        category=np.array([0, 0]),
    )


class Terms(TestCase):
    def setUp(self) -> None:
        self.data = market()
        self.niches = run_market(self.data, rules=SIGNALS)
        own = self.data.of_terms(
            ["rhubarb forcer", "clay forcer", "hook"], self.niches.figures["season_profile"]
        )
        self.terms = run_market(own, rules=SIGNALS)

    def test_each_has_the_figures_of_its_kind_and_no_others(self) -> None:
        for work, kind in ((self.niches, NICHE), (self.terms, TERM)):
            self.assertEqual(set(work.figures), {figure.key for figure in figures_of(kind)})
        self.assertEqual({len(v) for v in self.terms.figures.values()}, {3})
        self.assertNotIn("branded_share", self.terms.figures)

    def test_what_a_term_is_by_itself(self) -> None:
        self.assertEqual(self.terms.figures["words"].tolist(), [2, 2, 1])
        self.assertEqual(self.terms.figures["branded"].tolist(), ["no", None, "yes"])
        # Ranked among terms, and a rule that asks for a figure terms do not have holds for none.
        self.assertEqual(sorted(self.terms.figures["rank"].tolist()), [1, 2, 3])
        place = [rule.key for rule in SIGNALS].index("brand_words")
        self.assertTrue(np.isnan(self.terms.figures["signals"][:, place]).all())

    def test_the_only_term_of_a_niche_is_read_as_the_niche(self) -> None:
        for key in ("searches_52w", "shape", "drift_rate_year", "growth_13w.raw"):
            self.assertEqual(self.terms.figures[key][2], self.niches.figures[key][1], key)

    def test_a_faint_term_leans_on_the_season_of_its_niche(self) -> None:
        season = self.niches.figures["season_profile"][0]
        alone = read_curves(self.data.searches[1:2], TIMELINE, DEFAULTS)
        lent = Prior(season[None], np.array([LEAST_SPREAD**2]))
        leaning = read_curves(self.data.searches[1:2], TIMELINE, DEFAULTS, prior=lent)
        found = self.terms.figures["season_profile"][1]
        np.testing.assert_allclose(found, leaning.factors[0])
        truth = season / season.mean()
        self.assertLess(np.abs(found - truth).mean(), 0.5 * np.abs(alone.factors[0] - truth).mean())


class Registry(TestCase):
    def test_every_kind_has_what_a_ledger_needs(self) -> None:
        for kind in KINDS:
            keys = {figure.key for figure in figures_of(kind)}
            own: dict[Kind, set[str]] = {
                CATEGORY: {"openness", "settledness"}, LISTING: {"sleep.state"},
                BRAND: {"carried.sellers", "entry.successes"}, SELLER: {"carried.brands"},
            }  # fmt: skip
            ranked = own.get(kind, {"rank", "headroom", "signals"})
            self.assertLessEqual({kind.size, "shape", "drift", *ranked}, keys, kind)
            self.assertEqual(kind.fields[0], "market_id")
            self.assertIn(kind.subject, kind.fields)
        self.assertEqual((NICHE.many(1), TERM.many(2700)), ("1 niche", "2,700 terms"))
