"""Figures of the demand side: quality, shape, season, drift, growth split, forecast."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.curves import FAMILY, FEAST_NAMES, HORIZONS, Shape, next_call

from ..left_out import left_out
from ..workings import Workings
from .figure import OWN, Compute, Figure, FigureType, same, slots_between, unknown_below, words

FPP = "Hyndman & Athanasopoulos, Forecasting: Principles and Practice, 3rd ed., 4.3"
RATIO_MA = "ratio-to-moving-average method (Makridakis, Wheelwright & Hyndman 1998)"
SEN = "Theil (1950); Sen (1968); Hirsch, Slack & Smith (1982)"
SEGMENTS = "binary segmentation (Scott & Knott 1974) over a straight line"
DELTA = "counting noise with quasi-Poisson dispersion and the profile's error, by the delta method"
SMOOTHING = "exponential smoothing with damped drift (Hyndman, Koehler, Ord & Snyder 2008)"
SHAPES = tuple(s.value for s in Shape)


def _first_day(work: Workings, at: np.ndarray) -> np.ndarray:
    days = [work.timeline.start(i).isoformat() for i in range(work.timeline.length)]
    found: np.ndarray = np.array([*days, None], dtype=object)[at]
    return found


def _latest_shift(work: Workings) -> tuple[np.ndarray, np.ndarray]:
    """Size and column of each niche's latest level shift; NaN and −1 for none."""
    at = work.curves.shifts_at
    last = at.argmax(axis=1)[:, None]
    sizes = np.take_along_axis(work.curves.shifts, last, axis=1)[:, 0]
    return sizes, np.take_along_axis(at, last, axis=1)[:, 0]


def _shifts(work: Workings) -> np.ndarray:
    at, sizes = work.curves.shifts_at, work.curves.shifts
    out = np.empty(len(at), dtype=object)
    out[:] = [()] * len(at)
    start = work.timeline.start
    for row in np.flatnonzero((at >= 0).any(axis=1)):
        out[row] = [
            {"from": start(int(i)).isoformat(), "size": round(float(size), 6)}
            for i, size in zip(at[row], sizes[row], strict=True)
            if i >= 0
        ]
    return out


def _peak(work: Workings) -> np.ndarray:
    shape = work.curves.shape
    return slots_between(shape.peak_start, shape.peak_length, work.timeline.period.per_year)


def _no_fad(name: str) -> Compute:
    """A figure of the drift. A burst within the window is no drift, so a Fad has none."""

    def compute(work: Workings) -> np.ndarray:
        fad = work.curves.shape.shape == Shape.FAD
        return np.where(fad, np.nan, getattr(work.curves, name))

    return compute


def _drift_word(work: Workings) -> np.ndarray:
    found = words(work.curves.drift)
    found[work.curves.shape.shape == Shape.FAD] = None
    return found


def _order_by(work: Workings) -> np.ndarray:
    """Order-by dates; there are only as many as slots in a year."""
    rise, as_of = work.curves.season.rise, work.timeline.end
    days = [
        next_call(
            slot, work.timeline.period, as_of, int(work.settings.lead_days)
        ).order_by.isoformat()
        for slot in range(work.timeline.period.per_year)
    ]
    # A niche without a rise has slot −1, the last of the list.
    found: np.ndarray = np.array([*days, None], dtype=object)[rise]
    return found


def _order_in(work: Workings) -> np.ndarray:
    today = work.timeline.end
    dates = _order_by(work)
    left = {d: (date.fromisoformat(d) - today).days for d in set(dates.tolist()) if d}
    return np.array([left.get(d, np.nan) for d in dates.tolist()], dtype=np.float64)


def _feast(work: Workings) -> np.ndarray:
    names = np.array([*FEAST_NAMES, None], dtype=object)
    return names[work.curves.feast]


def _margin(work: Workings) -> np.ndarray:
    from scipy.special import ndtri

    known = work.curves.claimed[:, None]
    return np.where(known, work.curves.error, np.nan) * ndtri(0.5 + work.settings.interval / 2)


def _split_rows(prefix: str, said: str, pick: Callable[[Workings], Any]) -> list[Figure]:
    def part(name: str) -> Compute:
        return lambda work: getattr(pick(work), name)

    return [
        Figure(
            f"{prefix}.raw", f"Change, {said}", FigureType.CHANGE, "fraction", 1,
            "sum of the late window ÷ sum of the early one − 1", OWN, "term_weeks", part("raw"),
        ),
        Figure(
            f"{prefix}.season", f"Season part, {said}", FigureType.CHANGE, "fraction", 0,
            "the same ratio, of the season profile over the same periods − 1",
            OWN, "term_weeks", part("season"),
        ),
        Figure(
            f"{prefix}.drift", f"Drift part, {said}", FigureType.CHANGE, "fraction", 1,
            "(1 + change) ÷ (1 + season part) − 1", OWN, "term_weeks", part("drift"),
        ),
        Figure(
            f"{prefix}.drift_low", f"Drift part, {said}, low end", FigureType.CHANGE, "fraction", 1,
            "lower end of the drift part's 90% interval", DELTA, "term_weeks", part("low"),
        ),
        Figure(
            f"{prefix}.drift_high", f"Drift part, {said}, high end", FigureType.CHANGE, "fraction", 1,
            "upper end of the drift part's 90% interval", DELTA, "term_weeks", part("high"),
        ),
    ]  # fmt: skip


def _ahead_rows(weeks: int) -> list[Figure]:
    rows = (
        ("value", "Forecast", "sum of level now × damped drift × season profile"),
        ("low", "Forecast, low end", "lower end of the forecast's 80% interval"),
        ("high", "Forecast, high end", "upper end of the forecast's 80% interval"),
    )
    return [
        Figure(
            f"forecast_{weeks}w.{name}", f"{label}, {weeks} weeks", FigureType.AMOUNT, "searches", 1,
            formula, SMOOTHING, "term_weeks",
            lambda w, name=name: getattr(w.curves.ahead[weeks], name),  # type: ignore[misc]
        )
        for name, label, formula in rows
    ]  # fmt: skip


QUALITY: tuple[Figure, ...] = (
    Figure("as_of", "As of", FigureType.DATE, "date", 0,
           "last day of the last complete week (month) in the data", OWN, "term_weeks",
           same(lambda w: w.timeline.end.isoformat())),
    Figure("period", "Period", FigureType.WORD, "", 0, "the step of the curve", OWN, "term_weeks",
           same(lambda w: w.timeline.period.value), choices=("week", "month")),
    Figure("basis", "Basis", FigureType.WORD, "", 0,
           "counts of searches, or a relative curve whose level cannot be summed or turned into counts",
           OWN, "term_weeks", same(lambda w: "counts" if w.counts else "relative"),
           choices=("counts", "relative")),
    Figure("periods", "Periods read", FigureType.COUNT, "periods", 1,
           "length of the unbroken span that was read", OWN, "term_weeks",
           lambda w: unknown_below(w.curves.periods, 1)),
    Figure("read_from", "Read from", FigureType.DATE, "date", 0,
           "first day of the first period that was read", OWN, "term_weeks",
           lambda w: _first_day(w, np.where(w.curves.periods > 0, w.curves.begin, -1))),
    Figure("coverage", "Coverage", FigureType.SHARE, "fraction of periods", 1,
           "periods with a figure ÷ periods since the first", OWN, "term_weeks",
           lambda w: w.curves.coverage),
    Figure("gaps", "Gaps", FigureType.COUNT, "gaps", -1,
           "runs of absent periods between the first figure and the last", OWN, "term_weeks",
           lambda w: w.curves.gaps.astype(np.float64)),
    Figure("bridged", "Periods bridged", FigureType.COUNT, "periods", -1,
           "absent periods, filled by a line (up to four) or from the years beside", OWN, "term_weeks",
           lambda w: w.curves.bridged.astype(np.float64)),
    Figure("outliers", "Outlying periods", FigureType.COUNT, "periods", -1,
           "weeks over three times (months over twice) their neighbours and the same time of the other years",
           OWN, "term_weeks", lambda w: w.curves.outliers.astype(np.float64)),
    Figure("before_launch", "Periods before launch", FigureType.COUNT, "periods", 0,
           "zeros at the beginning in weeks in which a year later at least 14 searches came",
           OWN, "term_weeks", lambda w: w.curves.not_yet.astype(np.float64)),
    Figure("left_out", "Left out", FigureType.SENTENCE, "", 0,
           "what of the curve was not read as it came, and why", OWN, "term_weeks", left_out),
    Figure("life", "Life", FigureType.WORD, "", 0,
           "New: under two years old in an older market; Fading: the last year under a quarter of the "
           "best, no Fad; Established: the rest", OWN, "term_weeks",
           lambda w: w.curves.life, choices=("New", "Established", "Fading")),
)  # fmt: skip

SHAPE: tuple[Figure, ...] = (
    Figure("shape", "Shape", FigureType.WORD, "", 0,
           "from best13, best4, recurrence and the season test, by the thresholds in the settings",
           OWN, "term_weeks", lambda w: words(w.curves.shape.shape), choices=SHAPES),
    Figure("shape_family", "Shape family", FigureType.WORD, "", 0,
           "Evergreen and Leaning: evergreen; Seasonal and Occasion: seasonal; the rest alone",
           OWN, "term_weeks",
           lambda w: np.array([FAMILY[s] for s in w.curves.shape.shape], dtype=object),
           choices=tuple(sorted(set(FAMILY.values())))),
    Figure("shape_confidence", "Confidence in the shape", FigureType.SHARE, "probability", 1,
           "smallest probability that a figure the shape rests on lies on its side of its threshold",
           OWN, "term_weeks", lambda w: w.curves.shape.confidence),
    Figure("runner_up", "Runner-up shape", FigureType.WORD, "", 0,
           "the shape on the other side of the weakest figure's threshold", OWN, "term_weeks",
           lambda w: words(w.curves.shape.runner_up), choices=SHAPES),
    Figure("provisional", "Provisional shape", FigureType.WORD, "", 0,
           "what the data so far suggest where they do not suffice for a shape", OWN, "term_weeks",
           lambda w: words(w.curves.shape.provisional), choices=SHAPES),
    Figure("shape_reason", "Why Unsettled", FigureType.SENTENCE, "", 0,
           "the first rule that made it Unsettled", OWN, "term_weeks",
           lambda w: w.curves.shape.reason),
    Figure("feast", "Feast", FigureType.WORD, "", 0,
           "the moving feast on which the years are more alike than on the calendar", OWN,
           "term_weeks", _feast, choices=FEAST_NAMES),
    Figure("feast_gain", "Gain of the feast", FigureType.RATIO, "correlation", 0,
           "median correlation between years laid feast on feast − that between calendar years",
           OWN, "term_weeks", lambda w: w.curves.feast_gain),
)  # fmt: skip

DRIFT: tuple[Figure, ...] = (
    Figure("drift", "Drift", FigureType.WORD, "", 0,
           "Rising or Easing: interval excludes zero and the rate is beyond ±8% a year; Stepped: a "
           "level shift within the window; else Holding; none for a Fad", OWN, "term_weeks",
           _drift_word, choices=("Rising", "Holding", "Easing", "Stepped up", "Stepped down")),
    Figure("drift_rate_year", "Drift a year", FigureType.CHANGE, "fraction a year", 1,
           "robust slope of the log deseasonalised four-week levels of the last 104 weeks",
           SEN, "term_weeks", _no_fad("rate")),
    Figure("drift_low", "Drift a year, low end", FigureType.CHANGE, "fraction a year", 1,
           "lower end of the slope's 90% interval", SEN, "term_weeks",
           _no_fad("rate_low")),
    Figure("drift_high", "Drift a year, high end", FigureType.CHANGE, "fraction a year", 1,
           "upper end of the slope's 90% interval", SEN, "term_weeks",
           _no_fad("rate_high")),
    Figure("drift_26w", "Drift a year, last 26 weeks", FigureType.CHANGE, "fraction a year", 1,
           "the same slope over the last 26 weeks alone", SEN, "term_weeks",
           _no_fad("late")),
    Figure("drift_26w_low", "Drift a year, last 26 weeks, low end", FigureType.CHANGE, "fraction a year", 1,
           "lower end of that slope's 90% interval", SEN, "term_weeks",
           _no_fad("late_low")),
    Figure("drift_26w_high", "Drift a year, last 26 weeks, high end", FigureType.CHANGE, "fraction a year", 1,
           "upper end of that slope's 90% interval", SEN, "term_weeks",
           _no_fad("late_high")),
    Figure("acceleration", "Acceleration", FigureType.CHANGE, "fraction a year", 1,
           "(1 + drift of the last 26 weeks) ÷ (1 + drift of the last 104) − 1", OWN, "term_weeks",
           _no_fad("acceleration")),
    Figure("step_size", "Latest level shift", FigureType.CHANGE, "fraction", 1,
           "level after the latest shift ÷ level before − 1", SEGMENTS, "term_weeks",
           lambda w: _latest_shift(w)[0]),
    Figure("step_from", "New level since", FigureType.DATE, "date", 0,
           "first day of the period in which the latest shift's level starts", SEGMENTS, "term_weeks",
           lambda w: _first_day(w, _latest_shift(w)[1])),
    Figure("level_shifts", "Level shifts", FigureType.SHIFTS, "date and fraction", 0,
           "every level shift of the record, at most three, with the first day of its new level",
           SEGMENTS, "term_weeks", _shifts),
)  # fmt: skip

SEASON: tuple[Figure, ...] = (
    Figure("season_profile", "Season profile", FigureType.PROFILE, "factor, mean 1", 0,
           "value ÷ centred one-year level, in sums by slot without each slot's highest and lowest "
           "year; all 1 where no season is claimed", RATIO_MA, "term_weeks",
           lambda w: w.curves.factors),
    Figure("season_margin", "Margin of the season profile", FigureType.PROFILE, "factor, ±", 0,
           "half the width of each factor's 90% interval, from how far the years lie from it; unknown "
           "where no season is claimed", OWN,
           "term_weeks", _margin),
    Figure("season_p", "Season test", FigureType.RATIO, "p-value", 0,
           "twice the smaller p-value of the Friedman test and of the median correlation, across "
           "years on detrended four-week levels", "Friedman (1937); Fisher (1921)",
           "term_weeks", lambda w: w.curves.season_p),
    Figure("season_moved", "Season moved", FigureType.SHARE, "fraction of a year", 0,
           "share of demand that falls in other months in the last two years than before, beyond "
           "counting noise", OWN, "term_weeks", lambda w: w.curves.shape.moved),
    Figure("season_changed", "Season changed", FigureType.FLAG, "", 0,
           "at least 10% moved, and old and new years are each more alike than old with new", OWN,
           "term_weeks", lambda w: w.curves.shape.changed),
    Figure("borrowed", "Borrowed from the category", FigureType.SHARE, "fraction of the profile", 0,
           "own sampling variance ÷ (own + between the category's niches), where a noisy niche leans "
           "on its category's profile", "empirical Bayes shrinkage (Efron & Morris 1973)", "niches",
           lambda w: w.curves.borrowed),
    Figure("best13", "Best quarter", FigureType.SHARE, "fraction of a year", 0,
           "share of the profile in its best 13 consecutive weeks (3 months)", OWN, "term_weeks",
           lambda w: w.curves.shape.best13),
    Figure("best4", "Best month", FigureType.SHARE, "fraction of a year", 0,
           "share of the profile in its best 4 consecutive weeks (one month)", OWN, "term_weeks",
           lambda w: w.curves.shape.best4),
    Figure("recurrence", "Recurrence", FigureType.RATIO, "correlation", 0,
           "median correlation between the years' own detrended four-week levels", OWN,
           "term_weeks", lambda w: w.curves.shape.recurrence),
    Figure("peak_weeks", "Peak", FigureType.WEEKS, "weeks (months) of the year", 0,
           "the best 13 weeks, for an Occasion the best 4", OWN, "term_weeks", _peak),
    Figure("second_peak_weeks", "Second hump", FigureType.WEEKS, "weeks (months) of the year", 0,
           "another run above the mean with at least a quarter of the rise above it, behind a dip",
           OWN, "term_weeks",
           lambda w: slots_between(w.curves.season.second, w.curves.season.second_length,
                                   w.timeline.period.per_year)),
    Figure("rise_week", "Start of rise", FigureType.COUNT, "week (month) of the year", 0,
           "first slot of the unbroken run above the mean that holds the highest slot", OWN,
           "term_weeks", lambda w: unknown_below(w.curves.season.rise + 1, 1)),
    Figure("order_by", "Order by", FigureType.DATE, "date", 0,
           "start of the next rise that can still be met − lead_days", OWN, "term_weeks", _order_by),
    Figure("order_in_days", "Days to the order-by date", FigureType.COUNT, "days", 0,
           "order-by date − as-of", OWN, "term_weeks", _order_in),
    Figure("end_week", "End of season", FigureType.COUNT, "week (month) of the year", 0,
           "last slot of the unbroken run above the mean that holds the highest slot", OWN,
           "term_weeks", lambda w: unknown_below(w.curves.season.end + 1, 1)),
    Figure("quiet_weeks", "Quiet weeks", FigureType.WEEKS, "weeks (months) of the year", 0,
           "longest unbroken run of slots below half the mean", OWN, "term_weeks",
           lambda w: slots_between(w.curves.season.quiet, w.curves.season.quiet_length,
                                   w.timeline.period.per_year)),
    Figure("strength_seasonal", "Seasonal strength", FigureType.RATIO, "0–1", 0,
           "max(0, 1 − Var(remainder) ÷ Var(seasonal + remainder))", FPP, "term_weeks",
           lambda w: w.curves.strength_seasonal),
    Figure("strength_trend", "Trend strength", FigureType.RATIO, "0–1", 0,
           "max(0, 1 − Var(remainder) ÷ Var(trend + remainder))", FPP, "term_weeks",
           lambda w: w.curves.strength_trend),
)  # fmt: skip

GROWTH: tuple[Figure, ...] = (
    *_split_rows("growth_4w", "4 weeks against the 4 before", lambda w: w.curves.growth[4]),
    *_split_rows("growth_13w", "13 weeks against the 13 before", lambda w: w.curves.growth[13]),
    *_split_rows("growth_26w", "26 weeks against the 26 before", lambda w: w.curves.growth[26]),
    *_split_rows("growth_52w", "52 weeks against the 52 before", lambda w: w.curves.growth[52]),
    *_split_rows("growth_yoy", "13 weeks against the same a year before",
                 lambda w: w.curves.year_on_year),
    Figure("yoy_feasts", "Feasts in one year's window only", FigureType.SENTENCE, "", 0,
           "moving feasts that fall in the last 13 weeks or in the same a year before, not in both",
           OWN, "term_weeks", same(lambda w: ", ".join(w.yoy_feasts) or None)),
)  # fmt: skip

FORECAST: tuple[Figure, ...] = tuple(row for weeks in HORIZONS for row in _ahead_rows(weeks))
INTEREST = Figure(
    "interest_agreement", "Agreement with the relative curve", FigureType.RATIO, "rank correlation", 0,
    "Spearman correlation of counts and relative curve by four weeks (month), where a niche has both",
    "Spearman (1904)", "interest", lambda w: w.agreement,
)  # fmt: skip
