"""What a record says of markets whose truth is known."""

from dataclasses import replace
from datetime import date
from functools import cache
from types import SimpleNamespace
from typing import Any
from unittest import TestCase

import numpy as np
from scipy import stats
from sklearn.calibration import calibration_curve

from driftfield.core.base import DEFAULTS, Estimate, Period, Timeline
from driftfield.core.market.proof import LEAST, SCORES, TrackRecord, days_to_replay, track_record
from driftfield.core.market.proof.demand import Foreseen, read_foreseen
from driftfield.core.market.proof.lines import LineMaker
from driftfield.core.sentences import limits_of
from driftfield.core.signals import SIGNALS

from .markets import past_market

DAYS = [date(2024, 1, 7), date(2024, 4, 7)]


@cache
def recorded(niches: int, seed: int, tells: float = 0.0, launches: float = 6.0) -> TrackRecord:
    data = past_market(niches, seed, tells=tells, launches=launches)
    return track_record(data, days_to_replay(data.timeline), DEFAULTS, rules=SIGNALS)


class Launches(TestCase):
    def test_headroom_tells_where_launches_follow_it(self) -> None:
        record = recorded(60, 11, tells=2.0)
        area = record.line("launch", "area", "headroom").estimate
        self.assertGreater(area.low, 0.5)
        self.assertGreater(area.value, 0.65)
        lift = record.line("launch", "lift", "headroom").estimate
        self.assertGreater(lift.low, 1)
        best, worst = (
            record.line("launch", "worked_by_headroom", tenth).estimate for tenth in ("10", "1")
        )
        self.assertGreater(best.low, worst.high)
        # Either side alone tells less than both together.
        for key in ("demand", "competition"):
            self.assertLess(record.line("launch", "area", key).estimate.value, area.value)

    def test_deciles_by_each_score_hold_every_launch_once(self) -> None:
        record = recorded(60, 11, tells=2.0)
        whole = record.line("launch", "area", "headroom").estimate.many
        for score in SCORES:
            told = [
                record.line("launch", f"worked_by_{score}", f"{tenth}").estimate
                for tenth in range(1, 11)
            ]
            self.assertEqual(sum(one.many for one in told), whole)
            won = sum(one.many * one.value for one in told if one.many >= LEAST)
            self.assertAlmostEqual(won, round(won), places=6)

    def test_and_does_not_where_they_follow_nothing(self) -> None:
        area = recorded(60, 12).line("launch", "area", "headroom").estimate
        self.assertLess(area.low, 0.5)
        self.assertGreater(area.high, 0.5)

    def test_a_launch_counts_on_the_days_of_the_half_year_before_it_alone(self) -> None:
        """With days half a year apart each launch that is judged counts once."""
        data = past_market(30, 13)
        days = days_to_replay(data.timeline, every=26)
        record = track_record(data, days, DEFAULTS)
        listings = data.listings
        assert listings is not None
        first, last = days[0].toordinal(), days[-3].toordinal() + 7 * 26
        between = int(((listings.launched > first) & (listings.launched <= last)).sum())
        self.assertEqual(record.line("launch", "worked").estimate.many, between)

    def test_how_many_worked_is_what_was_planted(self) -> None:
        """Log-odds of −0.5 are 38%; a launch sells one and a half times what the others do, or four tenths."""
        found = recorded(60, 12).line("launch", "worked").estimate
        self.assertTrue(found.low < 1 / (1 + np.exp(0.5)) < found.high, found)

    def test_too_few_claim_nothing(self) -> None:
        record = recorded(10, 14, launches=0.3)
        for measure, group in (("worked", ""), ("area", "headroom"), ("lift", "demand")):
            self.assertTrue(np.isnan(record.line("launch", measure, group).estimate.value))


class Forecasts(TestCase):
    def test_intervals_hold_what_they_promise_where_nothing_happens(self) -> None:
        record = recorded(60, 12)
        for weeks in (13, 26, 52):
            within = record.line("forecast", "within", "", weeks).estimate
            self.assertGreater(within.high, DEFAULTS.forecast_interval)
            self.assertLess(record.line("forecast", "against_naive", "", weeks).estimate.high, 0)

    def test_of_intervals_of_every_coverage_the_told_one_is_one(self) -> None:
        record = recorded(60, 12)
        shares = [
            record.line("forecast", "within_level", f"{level:g}", 26).estimate.value
            for level in (0.5, 0.6, 0.7, 0.8, 0.9, 0.95)
        ]
        self.assertEqual(shares, sorted(shares))
        told = record.line("forecast", "within", "", 26).estimate.value
        self.assertEqual(shares[3], told)

    def test_the_ratio_of_errors_is_tested_as_diebold_and_mariano_do(self) -> None:
        """One niche a day, so that nothing is shared: the mean difference of the losses over its standard error,
        with n − 1 as Harvey, Leybourne & Newbold (1997), International Journal of Forecasting 13, for one step.
        """
        rng = np.random.default_rng(5)
        many = 40
        ours, naive = rng.lognormal(0, 0.4, (2, many))
        foreseen = Foreseen(
            np.arange(many), np.arange(many), np.full(many, 13), np.full(many, "Seasonal", dtype=object),
            ours, naive, np.full(many, 200.0), np.full(many, 200.0), np.zeros(many), np.zeros(many),
            np.ones(many), np.zeros(many),
        )  # fmt: skip
        line = Timeline(Period.WEEK, date(2021, 1, 4), 264)
        made = LineMaker([], DEFAULTS, line, np.arange(many)).forecasts(foreseen)
        told = next(
            one for one in made if one.measure == "against_naive" and not one.group
        ).estimate
        losses = np.log(ours) - np.log(naive)
        test = stats.ttest_1samp(losses, 0)
        low, high = test.confidence_interval(DEFAULTS.interval)
        np.testing.assert_allclose(np.log1p([told.low, told.high]), [low, high], rtol=1e-9)

    def test_a_step_in_every_niche_is_told_as_their_lean(self) -> None:
        """Demand that doubles everywhere on one day: what was said before it is half of what came."""
        data = past_market(40, 15, launches=0, step=np.log(2))
        before = data.timeline.start(data.timeline.length - 52).toordinal() - 1
        days = [one for one in days_to_replay(data.timeline) if one.toordinal() <= before]
        record = track_record(data, days, DEFAULTS)
        # Of those days the last one alone lies at the step; its 52 weeks are all after it.
        whole = record.line("forecast", "bias", "", 13).estimate
        none = recorded(60, 12).line("forecast", "bias", "", 13).estimate
        self.assertGreater(whole.value, none.high)
        misses = [one for one in record.misses if one.part == "forecast"]
        self.assertEqual({one.as_of for one in misses}, {date.fromordinal(before)})
        self.assertTrue(all(1.4 < one.came / one.said < 3 for one in misses))

    def test_what_dies_out_altogether_was_foreseen_wrongly(self) -> None:
        """Of three niches the first goes on, the second ends, and of the third nothing was ever to come."""
        line = Timeline(Period.WEEK, date(2021, 1, 4), 208)
        curves = np.full((3, 208), 10.0)
        curves[1, 117:] = 0
        curves[2] = 0.01
        coming = np.repeat([[10.0], [10.0], [0.01]], 52, axis=1)
        sums = SimpleNamespace(
            value=coming[:, :13].sum(axis=1),
            low=np.array([100, 100, 0.1]),
            high=np.array([160, 160, 0.2]),
        )
        then: Any = SimpleNamespace(
            length=117, coming=coming, ahead={13: sums, 26: sums, 52: sums}, scale=np.ones(3),
            figures={"shape": np.full(3, "Evergreen", dtype=object)},
        )  # fmt: skip
        found = read_foreseen(then, 0, curves, line)
        soon = found.weeks == 13
        self.assertEqual(found.subject[soon].tolist(), [0, 1])
        self.assertEqual(
            (found.said[soon].tolist(), found.came[soon].tolist()), ([130, 130], [130, 0])
        )
        np.testing.assert_allclose(found.off[soon], [0, np.log(0.5 / 130.5)])
        self.assertEqual(found.within[soon].tolist(), [1, 0])
        self.assertGreater(found.reach[1], 1)

    def test_what_last_year_had_none_of_is_no_measure(self) -> None:
        """Niches that were not searched at all a year before are off by no percentage of it."""
        line = Timeline(Period.WEEK, date(2021, 1, 4), 264)
        many = 30
        foreseen = Foreseen(
            np.arange(many), np.arange(many) % 5, np.full(many, 13), np.full(many, "Occasion", dtype=object),
            np.ones(many), np.ones(many), np.full(many, 200.0), np.full(many, 220.0), np.full(many, 0.1),
            np.where(np.arange(many) < 10, np.inf, 0.2), np.ones(many), np.zeros(many),
        )  # fmt: skip
        made = LineMaker([], DEFAULTS, line, np.arange(many)).forecasts(foreseen)
        off = next(one for one in made if one.measure == "off" and not one.group)
        self.assertAlmostEqual(off.estimate.value, np.expm1(0.1))
        assert off.beside is not None
        self.assertTrue(np.isnan(off.beside.value))


class Shapes(TestCase):
    def test_by_confidence_are_the_calibration_curve_of_scikit_learn(self) -> None:
        rng = np.random.default_rng(6)
        many = 800
        confidence = rng.uniform(0.3, 1, many)
        same = rng.random(many) < confidence
        line = Timeline(Period.WEEK, date(2021, 1, 4), 264)
        known = np.full(many, 100.0)
        thens: Any = [
            SimpleNamespace(
                length=length,
                figures={"shape": shape, "shape_confidence": confidence, "searches_52w": known},
            )
            for length, shape in (
                (156, np.full(many, "Seasonal", dtype=object)),
                (208, np.where(same, "Seasonal", "Leaning").astype(object)),
            )
        ]
        lines = LineMaker(thens, DEFAULTS, line, np.arange(many)).shapes()
        told = [one for one in lines if one.measure == "kept_if_sure"]
        held, meant = calibration_curve(same, confidence, n_bins=10)
        np.testing.assert_allclose([one.estimate.value for one in told], held)
        np.testing.assert_allclose([one.beside.value for one in told if one.beside], meant)
        self.assertEqual([one.group for one in told], [f"{one / 10:g}" for one in range(3, 10)])


class Dates(TestCase):
    def test_of_seasons_as_ever_are_found(self) -> None:
        record = recorded(60, 12)
        near = record.line("season", "near").estimate
        self.assertGreater(near.low, 0.9)
        later = record.line("season", "later").estimate
        self.assertLess(abs(later.value), 0.5)

    def test_of_seasons_that_come_six_weeks_late_are_not(self) -> None:
        record = self.late(6)
        self.assertGreater(record.line("season", "later").estimate.value, 3)
        self.assertLess(record.line("season", "near").estimate.value, 0.4)

    def test_what_comes_later_than_is_looked_for_counts_as_not_found(self) -> None:
        six, twelve = (self.late(weeks).line("season", "near").estimate for weeks in (6, 12))
        self.assertLess(twelve.value, 0.4)
        self.assertGreater(twelve.many, 0.8 * six.many)
        # How much later is told of those that were found alone.
        self.assertLess(self.late(12).line("season", "later").estimate.many, twelve.many)

    def late(self, weeks: int) -> TrackRecord:
        """The record of days before the last 78 weeks, which came as they had been, so many weeks later."""
        data = past_market(60, 16, launches=0)
        late = data.searches.copy()
        late[:, -78:] = data.searches[:, -78 - weeks : -weeks]
        days = [
            one
            for one in days_to_replay(data.timeline)
            if one <= data.timeline.start(data.timeline.length - 79)
        ]
        return track_record(replace(data, searches=late), days[-3:], DEFAULTS)


class Whole(TestCase):
    def test_the_order_of_subjects_does_not_matter(self) -> None:
        """Reading in another order gives the same record, but for the names of misses."""
        data = past_market(20, 17, launches=2)
        order = np.random.default_rng(1).permutation(20)
        seen = data.observed
        assert seen is not None
        place = np.argsort(order)
        other = replace(
            data, searches=data.searches[order], clicks=data.clicks[order], purchases=data.purchases[order],  # type: ignore[index]
            observed=replace(seen, term=place[seen.term]),
        )  # fmt: skip
        days = days_to_replay(data.timeline)[-6:]
        first, second = (track_record(one, days, DEFAULTS, rules=SIGNALS) for one in (data, other))
        for one, another in zip(first.lines, second.lines, strict=True):
            self.assertEqual(
                (one.part, one.measure, one.group), (another.part, another.measure, another.group)
            )
            # A draw behind the band of a rank falls to a niche by its place.
            if one.part != "rank":
                np.testing.assert_allclose(_ends(one.estimate), _ends(another.estimate), rtol=1e-6)

    def test_listings_without_a_launch_date_and_of_survivors_alone_are_named(self) -> None:
        record = recorded(10, 14, launches=0.3)
        self.assertEqual(record.undated, 0)
        self.assertIs(record.ended, False)
        told = " ".join(limits_of(0.4, False, 30, DAYS))
        self.assertIn("40% of the listings clicked have no launch date", told)
        self.assertIn("No listing's figures end early", told)
        self.assertNotIn("launch date", " ".join(limits_of(0.01, True, 30, DAYS)))


def _ends(found: Estimate) -> list[float]:
    return [found.value, found.low, found.high]
