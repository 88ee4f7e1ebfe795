from dataclasses import replace
from datetime import date
from itertools import pairwise
from unittest import TestCase

import numpy as np
from scipy import stats
from statsmodels.stats.multitest import multipletests

from driftfield.core.base import DEFAULTS
from driftfield.core.market import FIGURES_BY_KEY, KINDS, NICHE
from driftfield.core.market.watch import ASPECTS, Change, Side, compare, held
from driftfield.core.sentences import change_sentence

DAY = date(2026, 5, 17).toordinal()


def side(n: int = 3, *, day: int = DAY, **figures: object) -> Side:
    """A look at niches n0, n1 …; figures by key with “__” for the point, one value for all or one each."""
    columns = {}
    for key, value in figures.items():
        column = np.array(value if isinstance(value, list) else [value] * n)
        words = column.dtype.kind in "UO"
        columns[key.replace("__", ".")] = column.astype(object if words else float)
    names = [f"n{i}" for i in range(n)]
    return Side(NICHE, "m", names, [f"Niche {i}" for i in range(n)], day, day, columns)


def moved(n: int, beyond: list[float], size: float = 0.3, day: int = DAY) -> Side:
    low, high = size - 0.1, size + 0.1
    return side(
        n, day=day, moved__demand=size, moved__demand_low=low, moved__demand_high=high,
        moved__demand_beyond=beyond, moved__demand_from=float(day - 84),
    )  # fmt: skip


def told(before: Side, after: Side, rate: float = 0.05) -> list[Change]:
    return compare([(before, after)], rate, DEFAULTS).changes


class DiscoveryRate(TestCase):
    """Against scipy and statsmodels, which do the same."""

    def test_is_theirs(self) -> None:
        rng = np.random.default_rng(1)
        for n in (1, 7, 400):
            chances = np.concatenate([rng.random(n), rng.random(n) ** 6])
            expected = multipletests(chances, 0.05, method="fdr_bh")[0]
            np.testing.assert_array_equal(held(chances, 0.05), expected)
            adjusted = stats.false_discovery_control(chances)
            np.testing.assert_array_equal(held(chances, 0.05), adjusted <= 0.05)

    def test_what_is_not_tested_counts_in_nothing(self) -> None:
        chances = np.array([0.01, np.nan, 0.04, np.nan])
        np.testing.assert_array_equal(held(chances, 0.05), [True, False, True, False])
        self.assertFalse(held(np.full(3, np.nan), 0.05).any())

    def test_is_held_over_everything_that_is_compared(self) -> None:
        # One chance in a hundred is news of one niche, and none among a thousand.
        self.assertEqual(len(told(moved(1, [0.0], 0.0), moved(1, [2.0]))), 1)
        many = [2.0, *[0.0] * 999]
        self.assertEqual(told(moved(1000, [0.0] * 1000, 0.0), moved(1000, many)), [])


class Turns(TestCase):
    """A drift that turns over months, looked at every week."""

    @staticmethod
    def looked_at(rates: list[float], reach: float, shape: str = "Evergreen") -> list[Change]:
        looks = [
            side(
                40, day=DAY + 7 * week, drift_rate_year=[rate, *[0.0] * 39],
                shape=shape, drift_low=[rate - reach, *[-reach] * 39], drift_high=[rate + reach, *[reach] * 39],
                drift=["Rising" if rate > 0.08 and rate > reach else "Holding", *["Holding"] * 39],
            )
            for week, rate in enumerate(rates)
        ]  # fmt: skip
        pairs = pairwise(looks)
        return [one for pair in pairs for one in told(*pair)]

    def test_is_told_once_though_no_two_weeks_lie_apart(self) -> None:
        for step, reach, said in (
            (0.02, 0.06, "Drift is now Rising, +10% a year"),
            (0.01, 0.12, "Drift is Rising beyond chance now, +15% a year"),
        ):
            found = self.looked_at([step * week for week in range(25)], reach)
            self.assertEqual(
                [(one.aspect.key, one.id, one.up) for one in found], [("drift", "n0", True)]
            )
            self.assertIn(said, change_sentence(found[0]))

    def test_ends_are_read_with_the_coverage_they_were_made_with(self) -> None:
        """Ends 9 points apart are a small error where they hold nine of ten, and a large one where half."""
        facts = {"drift_low": 0.055, "drift_high": 0.145, "shape": "Evergreen"}
        before = side(1, drift_rate_year=0.05, drift="Holding", **facts)
        after = side(1, day=DAY + 7, drift_rate_year=0.1, drift="Rising", **facts)
        for interval, many in ((0.9, 1), (0.5, 0)):
            settings = replace(DEFAULTS, interval=interval)
            self.assertEqual(len(compare([(before, after)], 0.05, settings).changes), many)

    def test_of_a_season_it_is_not_told_by_two_years(self) -> None:
        """By how much years differ anyway two of them do not tell."""
        for shape in ("Seasonal", "Unsettled"):
            self.assertEqual(self.looked_at([0.02 * week for week in range(25)], 0.06, shape), [])

    def test_one_that_chance_makes_is_not_told(self) -> None:
        self.assertEqual(self.looked_at([0.01 * week for week in range(14)], 0.12), [])


class Once(TestCase):
    def test_what_could_be_told_before_is_not_told_again(self) -> None:
        self.assertEqual(told(moved(1, [6.0]), moved(1, [7.0])), [])

    def test_the_other_way_round_it_is(self) -> None:
        found = told(moved(1, [6.0]), moved(1, [7.0], -0.3))
        self.assertEqual([one.up for one in found], [False])

    def test_far_more_of_it_is_told_again(self) -> None:
        self.assertEqual(len(told(moved(1, [6.0]), moved(1, [9.0], 0.9))), 1)

    def test_a_shift_is_not_told_where_its_move_is(self) -> None:
        before = moved(1, [1.0])
        after = moved(1, [6.0])
        shift = {"step_size": np.array([0.3]), "step_from": np.array([DAY - 180.0])}
        after = Side(NICHE, "m", after.ids, after.names, DAY, DAY, {**after.columns, **shift})
        none = {"step_size": np.array([np.nan]), "step_from": np.array([np.nan])}
        before = Side(NICHE, "m", before.ids, before.names, DAY, DAY, {**before.columns, **none})
        self.assertEqual([one.aspect.key for one in told(before, after)], ["demand"])


class Facts(TestCase):
    def test_an_order_by_date_comes_near_and_passes(self) -> None:
        far, near = float(DAY + 40), float(DAY + 20)
        before = side(3, day=DAY - 14, act__order_by=[near, far, float(DAY - 3)], act__caught=0.9)
        after = side(3, act__order_by=[near, far, float(DAY + 361)], act__caught=0.8)
        found = {one.id: one for one in told(before, after)}
        self.assertEqual({id_: one.aspect.key for id_, one in found.items()},
                         {"n0": "order_soon", "n2": "order_missed"})  # fmt: skip
        self.assertEqual(
            change_sentence(found["n0"]), "Order by 6 Jun 2026 to catch the full season."
        )
        self.assertIn("has passed. The next season’s is", change_sentence(found["n2"]))
        self.assertTrue(all(one.chance is None for one in found.values()))

    def test_a_revision_is_told_and_another_years_sum_is_none(self) -> None:
        year = float(date(2025, 12, 31).toordinal())
        before = side(
            3,
            moved__settled=[1000.0, 1000.0, 1000.0],
            moved__settled_until=[year, year, year - 365],
        )
        after = side(3, moved__settled=[1100.0, 1001.0, 2000.0], moved__settled_until=year)
        self.assertEqual([one.id for one in told(before, after)], ["n0"])

    def test_a_leader_that_was_empty_already_is_not_told(self) -> None:
        before = side(2, moved__leader_stock=[0.9, 0.1])
        after = side(2, moved__leader_stock=[0.2, 0.0])
        self.assertEqual([one.id for one in told(before, after)], ["n0"])

    def test_a_shape_that_neither_look_is_sure_of_is_none(self) -> None:
        before = side(2, shape=["Evergreen", "Evergreen"], shape_confidence=[0.95, 0.6])
        after = side(2, shape=["Seasonal", "Seasonal"], shape_confidence=[0.97, 0.99])
        self.assertEqual([one.id for one in told(before, after)], ["n0"])

    def test_a_season_that_runs_ahead_may_be_a_stronger_one(self) -> None:
        after = side(
            1,
            moved__season=2.1,
            moved__season_low=1.4,
            moved__season_high=2.8,
            moved__season_beyond=4.0,
        )
        (change,) = told(side(1), after)
        self.assertEqual(
            change_sentence(change),
            "Its season runs about 2.1 weeks early (1.4 to 2.8); before its peak a stronger season looks the same.",
        )
        self.assertEqual(told(after, after), [])

    def test_launches_that_demand_may_keep_up_with_are_no_crowd(self) -> None:
        piled = {
            "moved__launches": 4.0, "moved__launches_low": 1.2, "moved__launches_high": 9.0,
            "moved__launches_beyond": 4.0, "entry__launches_26w": 9.0,
        }  # fmt: skip
        (change,) = told(side(1), side(1, **piled))
        self.assertEqual(
            change_sentence(change),
            "Launches pile in: 9 in 26 weeks, 5-fold (+120% to 10-fold) on the rate of the 39 weeks before, and "
            "demand does not keep up.",
        )
        self.assertEqual(told(side(1), side(1, **piled, moved__demand_high=1.5)), [])

    def test_a_share_that_fell_is_told_with_what_the_market_did(self) -> None:
        after = side(
            1, own__share_change=-0.5, own__share_change_low=-0.6, own__share_change_high=-0.3,
            own__share_beyond=3.0, own__share=0.08, own__share_then=0.16, own__against="a year before",
            own__verdict="Lost share as the market grew",
        )  # fmt: skip
        (change,) = told(side(1), after)
        self.assertEqual(
            change_sentence(change),
            "Your share of it fell by 50% (−60% to −30%), from 16% to 8.0%, against the year before: lost share as "
            "the market grew.",
        )

    def test_what_came_and_went_is_counted(self) -> None:
        before, after = side(3, coverage=1.0), side(2, coverage=1.0)
        found = compare([(before, after)], 0.05)
        self.assertEqual([one for _, one in found.went], ["n2"])
        self.assertEqual(found.came, [])


class BrandPastHalf(TestCase):
    def look(self, share: float, over: float, under: float, move: float, then: float = 0.4) -> Side:
        return side(
            1, moved__brand="Skepgarth", moved__brand_share=share, moved__brand_low=share - 0.02,
            moved__brand_high=share + 0.02, moved__brand_then=then, moved__brand_beyond=move,
            moved__brand_over=over, moved__brand_under=under,
        )  # fmt: skip

    def test_needs_both_a_side_and_a_move(self) -> None:
        under = self.look(0.45, 0.0, 6.0, 0.2)
        self.assertEqual(len(told(under, self.look(0.56, 6.0, 0.0, 5.0))), 1)
        # Over half all along, and known so before.
        self.assertEqual(
            told(self.look(0.7, 9.0, 0.0, 0.1, 0.7), self.look(0.71, 9.0, 0.0, 0.1, 0.7)), []
        )
        # Around half: surely over now, but it neither was under nor moved.
        self.assertEqual(
            told(self.look(0.51, 0.5, 0.1, 0.1, 0.51), self.look(0.53, 6.0, 0.0, 0.2, 0.51)), []
        )

    def test_says_who_and_how_much(self) -> None:
        (found,) = told(self.look(0.45, 0.0, 6.0, 0.2), self.look(0.56, 6.0, 0.0, 5.0))
        self.assertEqual(
            change_sentence(found),
            "Skepgarth now takes over half of the clicks: 56% (54% to 58%); before, 45%.",
        )


class EveryAspect(TestCase):
    def test_reads_figures_there_are_and_has_a_sentence(self) -> None:
        self.assertEqual(len({one.key for one in ASPECTS}), len(ASPECTS))
        for aspect in ASPECTS:
            self.assertTrue(all(key in FIGURES_BY_KEY for key in aspect.reads), aspect.key)
            bare = Change(
                NICHE, "m", "n", "N", aspect, None, None, None, None, None, None, False, False, {}
            )
            self.assertTrue(change_sentence(bare).endswith("."), aspect.key)

    def test_nothing_known_tells_nothing(self) -> None:
        for kind in KINDS:
            keys = {key for aspect in ASPECTS for key in aspect.reads}
            empty = {
                key: np.full(2, None, dtype=object)
                if FIGURES_BY_KEY[key].type.value in ("word", "sentence")
                else np.full(2, np.nan)
                for key in keys
            }
            one = Side(kind, "m", ["a", "b"], ["A", "B"], DAY, DAY, empty)
            self.assertEqual(compare([(one, one)], 0.05).changes, [])
