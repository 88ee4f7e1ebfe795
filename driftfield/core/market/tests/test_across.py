"""Several markets: what is the same in them, and figures that may be laid beside one another."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves.tests.synthetic import LENGTH, TIMELINE, sine
from driftfield.core.market import (
    CATEGORY,
    NICHE,
    Beside,
    Demand,
    InMarket,
    Matches,
    Named,
    lay_across,
    propose_matches,
    same_ids,
    side_by_side,
)
from driftfield.core.market.figures import FIGURES_BY_KEY
from driftfield.core.market.side_by_side import COMPETITION, ENDS, HEADS, easier
from driftfield.core.sentences import across_record, across_said


class Matching(TestCase):
    def test_the_same_id_matches_unless_it_is_rejected(self) -> None:
        found = Matches()
        held = {"north": ["a", "b"], "south": ["a", "c"], "west": ["d"]}
        self.assertEqual(
            found.everywhere("north", "a", held), [("north", "a", "itself"), ("south", "a", "id")]
        )
        found.record(("north", "a"), ("south", "a"), same=False)
        self.assertEqual(len(found.everywhere("north", "a", held)), 1)

    def test_a_decision_goes_before_an_id_and_leads_on_to_further_markets(self) -> None:
        found = Matches()
        held = {"north": ["a", "b"], "south": ["a", "c"], "west": ["d"]}
        found.record(("north", "b"), ("south", "a"), same=True)
        found.record(("south", "a"), ("west", "d"), same=True)
        self.assertEqual(
            found.everywhere("north", "b", held),
            [("north", "b", "itself"), ("south", "a", "confirmed"), ("west", "d", "confirmed")],
        )
        # The one in the south is taken: the same id in the north stands alone.
        self.assertEqual(len(found.everywhere("north", "a", held)), 1)

    def test_a_match_that_has_left_its_market_is_none(self) -> None:
        found = Matches()
        found.record(("north", "b"), ("south", "gone"), same=True)
        self.assertEqual(len(found.everywhere("north", "b", {"north": ["b"], "south": ["b"]})), 1)

    def test_names_in_other_spellings_are_proposed(self) -> None:
        first = [
            Named("n1", "Crème brûlée torch"),
            Named("n2", "Moon filters"),
            Named("n3", "Taps"),
        ]
        second = [
            Named("s1", "torches, creme brulee"),
            Named("s2", "Moon filter"),
            Named("n3", "Taps"),
        ]
        self.assertEqual(same_ids(first, second), [(2, 2)])
        found = propose_matches(first, second)
        self.assertEqual(
            {(one.first, one.second, one.by) for one in found}, {(0, 0, "name"), (1, 1, "name")}
        )

    def test_what_two_are_called_is_told_apart_by_what_they_lie_in(self) -> None:
        first = [Named("1", "Tools", ("Bees",)), Named("2", "Tools", ("Sky",)), Named("3", "Rope")]
        second = [
            Named("a", "Tools", ("Sky",)),
            Named("b", "Tools", ("Water",)),
            Named("c", "Rope", ("Hills",)),
        ]
        found = propose_matches(first, second)
        self.assertEqual(
            [(one.first, one.second, one.by) for one in found], [(1, 0, "path"), (0, 1, "name"), (2, 2, "name")]
        )  # fmt: skip

    def test_niches_that_share_terms_are_proposed_to_their_nearest(self) -> None:
        first = [
            Named("1", "Pail lids", (), ("pail lid", "bucket lid", "tub lid")),
            Named("2", "X", (), ("tub lid",)),
        ]
        second = [
            Named("a", "Covers", (), ("Bucket Lid", "pail lid")),
            Named("b", "Y", (), ("tub lid", "pail lid")),
        ]
        (found,) = propose_matches(first, second)
        self.assertEqual((found.first, found.second, found.by, found.shared), (0, 0, "terms", 2))
        self.assertEqual(found.why, "2 terms in common")


def beside(market: str, rate: float | None = 1.0, **figures: object) -> Beside:
    return Beside(market, rate, {key.replace("__", "."): value for key, value in figures.items()})


def line(key: str, *subjects: Beside):
    return next(one for one in side_by_side(NICHE, subjects) if one.figure.key == key)


class SideBySide(TestCase):
    def test_every_figure_of_a_head_and_of_an_interval_is_one(self) -> None:
        named = {key for keys in HEADS.values() for key in keys} | set(COMPETITION)
        named |= {key for ends in ENDS.values() for key in ends} | set(ENDS)
        self.assertEqual(named - set(FIGURES_BY_KEY), set())

    def test_the_best_is_the_one_that_its_interval_bears_out(self) -> None:
        far = line(
            "purchase_rate",
            beside("n", purchase_rate=0.06, purchase_rate_low=0.055, purchase_rate_high=0.065),
            beside("n", purchase_rate=0.03, purchase_rate_low=0.02, purchase_rate_high=0.04),
        )
        near = line(
            "purchase_rate",
            beside("n", purchase_rate=0.06, purchase_rate_low=0.03, purchase_rate_high=0.09),
            beside("n", purchase_rate=0.03, purchase_rate_low=0.02, purchase_rate_high=0.04),
        )
        lone = line(
            "purchase_rate",
            beside("n", purchase_rate=0.06, purchase_rate_low=0.05, purchase_rate_high=0.07),
            beside("n", purchase_rate=0.03),
        )
        self.assertEqual([c.best for c in far.cells], [True, False])
        self.assertEqual([c.at for c in far.cells], [1, 0])
        self.assertEqual([c.best for c in near.cells + lone.cells], [False] * 4)

    def test_less_is_better_where_the_registry_says_so_and_in_ranks(self) -> None:
        reviews = line(
            "review_barrier", beside("n", review_barrier=300), beside("n", review_barrier=20)
        )
        ranks = line(
            "rank",
            beside("n", rank=3, rank_low=1, rank_high=4),
            beside("n", rank=9, rank_low=7, rank_high=12),
        )
        self.assertEqual([c.best for c in reviews.cells], [False, True])
        self.assertEqual([(c.best, c.banded) for c in ranks.cells], [(True, True), (False, True)])
        alone = line("review_barrier", beside("n", review_barrier=300), beside("n"))
        self.assertEqual([c.best for c in alone.cells], [False, False])

    def test_what_is_measured_within_a_market_stands_apart(self) -> None:
        found = line("headroom", beside("n", headroom=60), beside("s", headroom=20))
        self.assertEqual((found.apart, [c.best for c in found.cells]), ("within", [False, False]))
        self.assertEqual([c.at for c in found.cells], [None, None])
        self.assertEqual(
            line("headroom", beside("n", headroom=60), beside("n", headroom=20)).apart, ""
        )

    def test_money_is_laid_beside_other_money_at_a_rate_only(self) -> None:
        figures = {"sales__price_median": 20.0}
        told = line("sales.price_median", beside("n", **figures), beside("s", 0.85, **figures))
        self.assertEqual([c.value for c in told.cells], [20, 17])
        without = line("sales.price_median", beside("n", **figures), beside("s", None, **figures))
        self.assertEqual((without.apart, [c.value for c in without.cells]), ("rate", [20, 20]))
        self.assertEqual([c.best for c in without.cells], [False, False])

    def test_competition_counts_what_differs_clearly(self) -> None:
        lines = side_by_side(
            NICHE,
            [
                beside("n", review_barrier=100, competition_parts__top_brand_share=0.20, barriers__sponsored_clicks=0.5),
                beside("s", review_barrier=20, competition_parts__top_brand_share=0.21),
            ],
        )  # fmt: skip
        found = easier(lines)
        self.assertEqual((found.known, found.favoured), (2, [0, 1]))

    def test_kinds_have_what_holds_for_them(self) -> None:
        keys = [one.figure.key for one in side_by_side(CATEGORY, [beside("n"), beside("s")])]
        self.assertIn("openness", keys)
        self.assertNotIn("headroom", keys)


def in_market(
    name: str, values: np.ndarray, timeline: Timeline = TIMELINE, **more: object
) -> InMarket:
    demand = Demand.read(values, timeline, True, DEFAULTS)
    return InMarket(name.lower(), name, "x", "X", "id", "GBP", 1.0, dict(more), demand)


class Told(TestCase):
    def said(self, *markets: InMarket):
        return across_said(lay_across(NICHE, markets, "GBP", DEFAULTS))

    def counted(self, expected: np.ndarray, seed: int) -> np.ndarray:
        return np.random.default_rng(seed).poisson(expected).astype(float)

    def test_a_season_that_comes_earlier_is_told_with_its_interval(self) -> None:
        first, second = (self.counted(3000 * sine(peak, 0.5), peak) for peak in (20, 14))
        said = self.said(in_market("North", first), in_market("South", second))
        self.assertRegex(
            said.seasons[0], r"^The season in South comes [56]\.\d weeks earlier than in North \([45]\.\d to 6\.\d;"
        )  # fmt: skip
        self.assertIn("no more alike than chance", said.lead[0])

    def test_the_same_season_is_not_told_apart(self) -> None:
        first, second = (self.counted(300 * sine(20, 0.5), seed) for seed in (1, 2))
        said = self.said(in_market("North", first), in_market("South", second))
        self.assertIn("No clear difference in timing: the season in South is", said.seasons[0])

    def test_half_a_year_apart_is_neither_earlier_nor_later(self) -> None:
        first, second = (self.counted(3000 * sine(peak, 0.5), peak) for peak in (10, 36))
        said = self.said(in_market("North", first), in_market("South", second))
        self.assertIn("half a year apart", said.seasons[0])
        self.assertIn("South sells while North is quiet", said.seasons[0])

    def test_no_season_no_curve_and_months_are_said_as_such(self) -> None:
        level = self.counted(np.full(LENGTH, 900.0), 5)
        season = self.counted(3000 * sine(20, 0.5), 6)
        said = self.said(in_market("North", level), in_market("South", season))
        self.assertIn("North shows no clear season", said.seasons[0])
        months = Timeline(Period.MONTH, Period.MONTH.start(2021 * 12), 60)
        said = self.said(in_market("North", season), in_market("South", season[:60], months))
        self.assertIn("one has weekly data, the other monthly", said.lead[0])
        bare = InMarket("south", "South", "x", "X", "id", "EUR", None, {}, None)
        said = self.said(in_market("North", season), bare)
        self.assertIn("one of the two has no curve", said.seasons[0])
        self.assertIn("cannot be compared", said.competition)

    def test_markets_of_one_name_are_told_apart(self) -> None:
        season = self.counted(3000 * sine(20, 0.5), 7)
        one = in_market("Quay", season)
        other = InMarket("quay-2", "Quay", "x", "X", "id", "GBP", 1.0, {}, one.demand)
        self.assertIn(
            "Quay (quay-2)", " ".join(self.said(one, other).seasons + self.said(one, other).lead)
        )

    def test_a_record_is_plain(self) -> None:
        season = self.counted(3000 * sine(20, 0.5), 8)
        markets = [
            in_market("North", season, searches_52w=10),
            in_market("South", season, searches_52w=None),
        ]
        record = across_record(lay_across(NICHE, markets, "GBP", DEFAULTS))
        searches = next(one for one in record["figures"] if one["figure"] == "searches_52w")
        self.assertEqual((searches["values"], searches["best"]), ([10, None], [False, False]))
        self.assertEqual(record["markets"][1]["niche_id"], "x")
