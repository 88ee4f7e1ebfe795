"""Themes against what is usual in the category."""

from unittest import TestCase

import numpy as np
from statsmodels.stats.proportion import proportion_confint

from driftfield.core.sentences import what_they_complain_of
from driftfield.core.sentences.tests.test_verdict_supply import figures
from driftfield.core.supply.feedback import theme_shares


class Themes(TestCase):
    def test_shares_and_intervals_as_statsmodels_has_them(self) -> None:
        here, there = np.array([60.0, 30.0, 10.0]), np.array([300.0, 300.0, 400.0])
        found = theme_shares(here, there)
        low, high = proportion_confint(here, 100, alpha=0.1, method="wilson")
        np.testing.assert_allclose(found.low, low)
        np.testing.assert_allclose(found.high, high)
        np.testing.assert_allclose(found.share, [0.6, 0.3, 0.1])
        np.testing.assert_allclose(found.usual, [0.3, 0.3, 0.4])
        self.assertEqual(found.more.tolist(), [True, False, False])
        self.assertEqual(found.fewer.tolist(), [False, False, True])

    def test_a_niche_like_its_category_seldom_singles_out_any(self) -> None:
        rng = np.random.default_rng(3)
        usual = rng.dirichlet(np.ones(10) * 5)
        singled = [
            theme_shares(here, usual * 1e6).more.any()
            or theme_shares(here, usual * 1e6).fewer.any()
            for here in rng.multinomial(300, usual, 400).astype(float)
        ]
        self.assertLess(np.mean(singled), 0.13)

    def test_nothing_here_or_nothing_elsewhere_is_unknown(self) -> None:
        none = theme_shares(np.zeros(2), np.array([3.0, 4.0]))
        self.assertTrue(np.isnan(none.share).all() and not none.more.any())
        alone = theme_shares(np.array([3.0, 1.0]), np.zeros(2))
        self.assertTrue(
            np.isnan(alone.usual).all() and not alone.more.any() and not alone.fewer.any()
        )


class Complaints(TestCase):
    def row(self, theme: str, mentions: float, share: float, **more: object) -> dict[str, object]:
        row = {
            "kind": "review",
            "tone": "complaint",
            "theme": theme,
            "mentions": mentions,
            "share": share,
        }
        return {
            **row,
            "low": share - 0.04,
            "high": share + 0.04,
            "usual": 0.14,
            "special": None,
            **more,
        }

    def test_sentences_name_the_first_and_what_is_special(self) -> None:
        rows = [
            self.row("rusts in a season", 70, 0.7),
            self.row("arrived bent", 30, 0.3, special="more"),
        ]
        rows += [self.row("seam splits", 9, 0.9, kind="return", usual=None)]
        answer = what_they_complain_of(
            figures(barriers_return_rate=0.17, barriers_return_ratio=2.1), rows
        )
        self.assertEqual(
            answer,
            [
                "Mostly “rusts in a season”: 70% of 100 complaints (66% to 74%; in the category 14%).",
                "Named more often here than in the category: “arrived bent”.",
                "Of returns: mostly “seam splits”: 90% of 9 reasons (86% to 94%).",
                "17% of what is bought is returned, 2.1 times the category's rate.",
            ],
        )

    def test_nothing_known_names_the_table(self) -> None:
        answer = what_they_complain_of(figures(), [])
        self.assertEqual(answer, ["Not known: feedback would tell what buyers say and send back."])

    def test_what_does_not_stand_out_is_not_put_first(self) -> None:
        """12% (9% to 15%) against 11% (8% to 14%) is no order."""
        near = [self.row("rusts in a season", 12, 0.12), self.row("arrived bent", 11, 0.11)]
        self.assertIn(
            "No one thing: “rusts in a season” is 12% of", what_they_complain_of(figures(), near)[0]
        )
