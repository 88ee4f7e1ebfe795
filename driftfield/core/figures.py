"""The registry of figures: each declared once, with the function that computes it.

The record schema, the CSV headers, the API's fields, the stored readings, the ledger's columns and
the table in ``docs/method.md`` are all made from these rows, or tested against them. Adding a
figure is one row and one function.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np

from .analysis import Workings
from .shape import FAMILY, Shape


class Kind(StrEnum):
    """What a figure is and so how it is stored and shown."""

    WORD = "word"
    SENTENCE = "sentence"
    DATE = "date"
    FLAG = "flag"
    COUNT = "count"  # whole number, null when unknown
    AMOUNT = "amount"  # number, no fixed range
    SHARE = "share"  # fraction 0–1, shown in percent
    CHANGE = "change"  # signed fraction, shown in percent with its sign
    RATIO = "ratio"  # number on a scale of its own, such as a correlation
    INDEX = "index"  # 0–100
    PROFILE = "profile"  # a list of factors
    WEEKS = "weeks"  # a list of weeks (or months) of the year


Compute = Callable[[Workings], np.ndarray]


@dataclass(frozen=True, slots=True)
class Figure:
    """One figure of a reading.

    key: path in the record, dotted where nested. direction: +1 more is better for an entrant, −1
    less is, 0 neither. needs: the exchange table it is made from. after_headroom: whether it reads
    the composite, and so is computed last.
    """

    key: str
    label: str
    kind: Kind
    unit: str
    direction: int
    formula: str
    source: str
    needs: str
    compute: Compute
    digits: int = 3
    after_headroom: bool = False
    choices: tuple[str, ...] = ()

    @property
    def column(self) -> str:
        """Name of the column in a table, in CSV and in the store."""
        return self.key.replace(".", "_")


def _words(values: np.ndarray) -> np.ndarray:
    return np.array([None if v is None else str(v) for v in values], dtype=object)


def _unknown_below(values: np.ndarray, least: int) -> np.ndarray:
    return np.where(values >= least, values, np.nan).astype(np.float64)


def _first_day(work: Workings, at: np.ndarray) -> np.ndarray:
    start = work.timeline.start
    return np.array([start(int(i)).isoformat() if i >= 0 else None for i in at], dtype=object)


def _peak_weeks(work: Workings) -> np.ndarray:
    demand, slots = work.demand_side, work.timeline.period.per_year
    out = np.empty(len(demand.peak_start), dtype=object)
    windows = np.stack([demand.peak_start, demand.peak_length], axis=1)
    for start, length in np.unique(windows[demand.peak_start >= 0], axis=0):
        weeks = [int((start + k) % slots) + 1 for k in range(length)]
        for row in np.flatnonzero((windows == (start, length)).all(axis=1)):
            out[row] = weeks
    return out


def _purchase_rate(work: Workings) -> np.ndarray:
    searches = work.searches_52w
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(searches > 0, work.purchases_52w / searches, np.nan)


def _composite(name: str) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        assert work.headroom is not None, "composites are computed after the headroom"
        found: np.ndarray = getattr(work.headroom, name)
        return _unknown_below(found, 1) if name.startswith("rank") else found

    return compute


def _same(value: Callable[[Workings], object]) -> Compute:
    """A figure that is the same for every niche of a market."""

    def compute(work: Workings) -> np.ndarray:
        out = np.empty(len(work.searches_52w), dtype=object)
        out[:] = value(work)
        return out

    return compute


FPP = "Hyndman & Athanasopoulos, Forecasting: Principles and Practice, 3rd ed., 4.3"
RATIO_MA = "ratio-to-moving-average method (Makridakis, Wheelwright & Hyndman 1998)"
OWN = "Driftfield's definition"
SEN = "Theil (1950); Sen (1968); Hirsch, Slack & Smith (1982)"
HMG = "Herfindahl–Hirschman index as in the U.S. Horizontal Merger Guidelines"
OECD = "OECD/JRC Handbook on Constructing Composite Indicators (2008)"


def _split_rows(prefix: str, words: str, pick: Callable[[Workings], Any]) -> list[Figure]:
    def part(name: str) -> Compute:
        return lambda work: getattr(pick(work), name)

    return [
        Figure(
            f"{prefix}.raw", f"Change, {words}", Kind.CHANGE, "fraction", 1,
            "sum of the late window ÷ sum of the early one − 1", OWN, "term_weeks", part("raw"),
        ),
        Figure(
            f"{prefix}.season", f"Season part, {words}", Kind.CHANGE, "fraction", 0,
            "the same ratio, of the season profile over the same periods − 1",
            OWN, "term_weeks", part("season"),
        ),
        Figure(
            f"{prefix}.drift", f"Drift part, {words}", Kind.CHANGE, "fraction", 1,
            "(1 + change) ÷ (1 + season part) − 1", OWN, "term_weeks", part("drift"),
        ),
    ]  # fmt: skip


def _click_rows() -> list[Figure]:
    def top(k: int) -> Compute:
        return lambda w: w.listings.top[k]

    rows = [
        ("hhi_listings", "HHI of listings", Kind.AMOUNT, "points, 0–10,000", -1,
         "Σ (100 × click share)² over listings", HMG, lambda w: w.listings.hhi),
        ("effective_listings", "Effective listings", Kind.AMOUNT, "listings", 1,
         "10,000 ÷ HHI of listings", HMG, lambda w: w.listings.effective),
        ("click_breadth", "Click breadth", Kind.COUNT, "listings", 1,
         "fewest listings that together take 80% of the clicks", OWN, lambda w: w.listings.breadth),
        ("top3_share", "Share of the top 3", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the three most clicked listings, summed", OWN, top(3)),
        ("top5_share", "Share of the top 5", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the five most clicked listings, summed", OWN, top(5)),
        ("top20_share", "Share of the top 20", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the twenty most clicked listings, summed", OWN, top(20)),
        ("hhi_brands", "HHI of brands", Kind.AMOUNT, "points, 0–10,000", -1,
         "Σ (100 × click share)² over brands", HMG, lambda w: w.brands.hhi),
        ("top_brand_share", "Share of the first brand", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the most clicked brand's listings, summed", OWN, lambda w: w.brands.top[1]),
        ("accounted", "Clicks accounted for", Kind.SHARE, "fraction of clicks", 0,
         "click shares of all known listings, summed", OWN, lambda w: w.listings.accounted),
        ("listings", "Listings clicked", Kind.COUNT, "listings", 0,
         "listings with a click share in the window", OWN, lambda w: w.listings.holders),
    ]  # fmt: skip
    return [
        Figure(f"competition_parts.{key}", label, kind, unit, direction, formula, source,
               "listings" if "brand" in key else "term_clicks", compute)
        for key, label, kind, unit, direction, formula, source, compute in rows
    ]  # fmt: skip


FIGURES: tuple[Figure, ...] = (
    Figure("as_of", "As of", Kind.DATE, "date", 0,
           "last day of the last complete week (month) in the data", OWN, "term_weeks",
           _same(lambda w: w.timeline.end.isoformat())),
    Figure("period", "Period", Kind.WORD, "", 0, "the step of the curve", OWN, "term_weeks",
           _same(lambda w: w.timeline.period.value), choices=("week", "month")),
    Figure("periods", "Periods read", Kind.COUNT, "periods", 1,
           "length of the unbroken span that was read", OWN, "term_weeks",
           lambda w: _unknown_below(w.demand_side.periods, 1)),
    Figure("coverage", "Coverage", Kind.SHARE, "fraction of periods", 1,
           "periods with a figure ÷ periods since the first", OWN, "term_weeks",
           lambda w: w.demand_side.coverage),
    Figure("bridged", "Periods bridged", Kind.COUNT, "periods", -1,
           "absent periods, filled by a line (up to four) or from the years beside", OWN, "term_weeks",
           lambda w: w.demand_side.bridged.astype(np.float64)),
    Figure("outliers", "Outlying periods", Kind.COUNT, "periods", -1,
           "periods over three times their neighbours and the same time of every other year",
           OWN, "term_weeks", lambda w: w.demand_side.outliers.astype(np.float64)),
    Figure("shape", "Shape", Kind.WORD, "", 0,
           "from best13, best4, recurrence and the season test, by the thresholds in the settings",
           OWN, "term_weeks", lambda w: _words(w.demand_side.shape),
           choices=tuple(s.value for s in Shape)),
    Figure("shape_family", "Shape family", Kind.WORD, "", 0,
           "Evergreen and Leaning: evergreen; Seasonal and Occasion: seasonal; the rest alone",
           OWN, "term_weeks",
           lambda w: np.array([FAMILY[s] for s in w.demand_side.shape], dtype=object),
           choices=tuple(sorted(set(FAMILY.values())))),
    Figure("shape_confidence", "Confidence in the shape", Kind.SHARE, "probability", 1,
           "smallest probability that a figure the shape rests on lies on its side of its threshold",
           OWN, "term_weeks", lambda w: w.demand_side.confidence),
    Figure("runner_up", "Runner-up shape", Kind.WORD, "", 0,
           "the shape on the other side of the weakest figure's threshold", OWN, "term_weeks",
           lambda w: _words(w.demand_side.runner_up), choices=tuple(s.value for s in Shape)),
    Figure("provisional", "Provisional shape", Kind.WORD, "", 0,
           "what the data so far suggest where they do not suffice for a shape", OWN, "term_weeks",
           lambda w: _words(w.demand_side.provisional), choices=tuple(s.value for s in Shape)),
    Figure("shape_reason", "Why Unsettled", Kind.SENTENCE, "", 0,
           "the first rule that made it Unsettled", OWN, "term_weeks",
           lambda w: w.demand_side.reason),
    Figure("drift", "Drift", Kind.WORD, "", 0,
           "Rising or Easing: interval excludes zero and the rate is beyond ±8% a year; Stepped: a "
           "level shift within the window; else Holding", OWN, "term_weeks",
           lambda w: _words(w.demand_side.drift),
           choices=("Rising", "Holding", "Easing", "Stepped up", "Stepped down")),
    Figure("drift_rate_year", "Drift a year", Kind.CHANGE, "fraction a year", 1,
           "robust slope of the log deseasonalised four-week levels of the last 104 weeks",
           SEN, "term_weeks", lambda w: w.demand_side.rate),
    Figure("drift_low", "Drift a year, low end", Kind.CHANGE, "fraction a year", 1,
           "lower end of the slope's 90% interval", SEN, "term_weeks",
           lambda w: w.demand_side.rate_low),
    Figure("drift_high", "Drift a year, high end", Kind.CHANGE, "fraction a year", 1,
           "upper end of the slope's 90% interval", SEN, "term_weeks",
           lambda w: w.demand_side.rate_high),
    Figure("step_size", "Level shift", Kind.CHANGE, "fraction", 1,
           "level after the best single split ÷ level before − 1", "CUSUM search", "term_weeks",
           lambda w: w.demand_side.step),
    Figure("step_from", "New level since", Kind.DATE, "date", 0,
           "first day of the period in which the new level starts", "CUSUM search", "term_weeks",
           lambda w: _first_day(w, w.demand_side.step_at)),
    *_split_rows("growth_4w", "4 weeks against the 4 before", lambda w: w.demand_side.growth[4]),
    *_split_rows("growth_13w", "13 weeks against the 13 before", lambda w: w.demand_side.growth[13]),
    *_split_rows("growth_26w", "26 weeks against the 26 before", lambda w: w.demand_side.growth[26]),
    *_split_rows("growth_52w", "52 weeks against the 52 before", lambda w: w.demand_side.growth[52]),
    *_split_rows("growth_yoy", "13 weeks against the same a year before",
                 lambda w: w.demand_side.year_on_year),
    Figure("season_profile", "Season profile", Kind.PROFILE, "factor, mean 1", 0,
           "trimmed mean across years of value ÷ centred one-year moving average; all 1 where no "
           "season is claimed", RATIO_MA, "term_weeks", lambda w: w.demand_side.factors),
    Figure("season_p", "Season test", Kind.RATIO, "p-value", 0,
           "Friedman test across years on detrended four-week levels", "Friedman (1937)",
           "term_weeks", lambda w: w.demand_side.season_p),
    Figure("best13", "Best quarter", Kind.SHARE, "fraction of a year", 0,
           "share of the profile in its best 13 consecutive weeks (3 months)", OWN, "term_weeks",
           lambda w: w.demand_side.best13),
    Figure("best4", "Best month", Kind.SHARE, "fraction of a year", 0,
           "share of the profile in its best 4 consecutive weeks (one month)", OWN, "term_weeks",
           lambda w: w.demand_side.best4),
    Figure("recurrence", "Recurrence", Kind.RATIO, "correlation", 0,
           "median correlation between the years' own detrended four-week levels", OWN,
           "term_weeks", lambda w: w.demand_side.recurrence),
    Figure("peak_weeks", "Peak", Kind.WEEKS, "weeks (months) of the year", 0,
           "the best 13 weeks, for an Occasion the best 4", OWN, "term_weeks", _peak_weeks),
    Figure("rise_week", "Start of rise", Kind.COUNT, "week (month) of the year", 0,
           "first slot of the unbroken run above the mean that leads to the highest slot", OWN,
           "term_weeks", lambda w: _unknown_below(w.demand_side.rise + 1, 1)),
    Figure("strength_seasonal", "Seasonal strength", Kind.RATIO, "0–1", 0,
           "max(0, 1 − Var(remainder) ÷ Var(seasonal + remainder))", FPP, "term_weeks",
           lambda w: w.demand_side.strength_seasonal),
    Figure("strength_trend", "Trend strength", Kind.RATIO, "0–1", 0,
           "max(0, 1 − Var(remainder) ÷ Var(trend + remainder))", FPP, "term_weeks",
           lambda w: w.demand_side.strength_trend),
    Figure("searches_52w", "Searches a year", Kind.AMOUNT, "searches", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", lambda w: w.searches_52w),
    Figure("purchases_52w", "Purchases a year", Kind.AMOUNT, "purchases", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", lambda w: w.purchases_52w),
    Figure("purchase_rate", "Purchase rate", Kind.SHARE, "purchases a search", 1,
           "purchases a year ÷ searches a year", OWN, "term_weeks", _purchase_rate, digits=5),
    *_click_rows(),
    Figure("review_barrier", "Reviews of the top ten", Kind.AMOUNT, "reviews", -1,
           "median reviews of the ten most clicked listings", OWN, "listings",
           lambda w: w.review_barrier),
    Figure("demand", "Demand", Kind.INDEX, "0–100", 1,
           "weighted geometric mean of percentiles: searches ½, purchases 0.3, drift 0.2", OECD,
           "term_weeks", _composite("demand"), after_headroom=True),
    Figure("competition", "Competition", Kind.INDEX, "0–100", -1,
           "100 − weighted geometric mean of inverted percentiles: top five 0.35, reviews ¼, "
           "breadth 0.2, first brand 0.2", OECD, "term_clicks", _composite("competition"),
           after_headroom=True),
    Figure("headroom", "Headroom", Kind.INDEX, "0–100", 1,
           "√(demand × (100 − competition))", OECD, "term_clicks", _composite("headroom"),
           after_headroom=True),
    Figure("rank", "Rank", Kind.COUNT, "place, 1 is best", -1,
           "1 + niches with more headroom; equal ones share the better rank", OECD, "term_weeks",
           _composite("rank"), after_headroom=True),
    Figure("rank_low", "Rank band, best", Kind.COUNT, "place", -1,
           "5th percentile of the rank over 1,000 draws of shaken weights", OECD, "term_weeks",
           _composite("rank_low"), after_headroom=True),
    Figure("rank_high", "Rank band, worst", Kind.COUNT, "place", -1,
           "95th percentile of the rank over 1,000 draws of shaken weights", OECD, "term_weeks",
           _composite("rank_high"), after_headroom=True),
    Figure("frontier", "On the frontier", Kind.FLAG, "", 1,
           "no other niche is at least as good on demand and competition and better on one", OECD,
           "term_clicks", _composite("frontier"), after_headroom=True),
)  # fmt: skip

BY_KEY = {figure.key: figure for figure in FIGURES}
