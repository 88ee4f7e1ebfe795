"""Figures of the demand side: quality, shape, season, drift, growth split, forecast."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from driftfield.core.curves import FAMILY, FEAST_NAMES, HORIZONS, Shape

from ..left_out import left_out
from ..workings import Workings
from .figure import Compute, Figure, FigureType, same, slots_between, unknown_below, words

FPP = "Hyndman & Athanasopoulos, Forecasting: Principles and Practice, 3rd ed., 4.3"
RATIO_MA = "ratio-to-moving-average method (Makridakis, Wheelwright & Hyndman 1998)"
SEN = "Theil (1950); Sen (1968); Hirsch, Slack & Smith (1982)"
SEGMENTS = "binary segmentation (Scott & Knott 1974) over a straight line"
PERSISTENCE = "persistence of maxima (Edelsbrunner, Letscher & Zomorodian 2002)"
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


def _season_starts(work: Workings) -> np.ndarray:
    """Weeks (months) of the year; few sets of them are different ones."""
    starts = work.curves.season.starts
    out = np.empty(len(starts), dtype=object)
    rows = np.flatnonzero(starts.any(axis=1))
    packed, place = np.unique(np.packbits(starts[rows], axis=1), axis=0, return_inverse=True)
    sets = [(np.flatnonzero(one) + 1).tolist() for one in np.unpackbits(packed, axis=1)]
    for row, found in zip(rows.tolist(), place.ravel().tolist(), strict=True):
        out[row] = sets[found]
    return out


def _steadiness(work: Workings) -> np.ndarray:
    """By the mean difference of the factors; profiles have mean 1."""
    factors = np.sort(work.curves.factors, axis=1)
    slots = factors.shape[1]
    weights = 2 * np.arange(1, slots + 1) - slots - 1
    shapes = work.curves.shape.shape
    told = (shapes != Shape.FAD) & (shapes != Shape.UNSETTLED)
    with np.errstate(invalid="ignore"):
        gini = factors @ weights / (slots * factors.sum(axis=1))
    return np.where(told, np.clip(1 - gini, 0, 1), np.nan)


def _over(work: Workings) -> np.ndarray:
    """A burst within the window is no drift, nor is an end."""
    shape = work.curves.shape
    return np.asarray((shape.shape == Shape.FAD) | (shape.gone_since >= 0))


def _no_fad(name: str) -> Compute:
    """A figure of the drift, of which a Fad and what is gone have none."""

    def compute(work: Workings) -> np.ndarray:
        return np.where(_over(work), np.nan, getattr(work.curves, name))

    return compute


def _drift_word(work: Workings) -> np.ndarray:
    found = words(work.curves.drift)
    found[_over(work)] = None
    return found


def _feast(work: Workings) -> np.ndarray:
    names = np.array([*FEAST_NAMES, None], dtype=object)
    return names[work.curves.feast]


def _margin(work: Workings) -> np.ndarray:
    from scipy.special import ndtri

    known = work.curves.claimed[:, None]
    return np.where(known, work.curves.error, np.nan) * ndtri(0.5 + work.settings.interval / 2)


def _split_rows(
    prefix: str, window: str, pick: Callable[[Workings], Any], raw: int = 0
) -> list[Figure]:
    """The rows of one split. ``raw`` is the direction of the raw change: none where the calendar makes it."""

    def part(name: str) -> Compute:
        return lambda work: getattr(pick(work), name)

    return [
        Figure(key=f"{prefix}.raw", label=f"Change, {window}", type=FigureType.CHANGE, unit="change",
               direction=raw, formula="sum of the late window ÷ sum of the early one − 1",
               compute=part("raw")),
        Figure(key=f"{prefix}.season", label=f"Season part, {window}", type=FigureType.CHANGE, unit="change",
               formula="the same ratio, of the season profile over the same periods − 1",
               compute=part("season")),
        Figure(key=f"{prefix}.drift", label=f"Drift part, {window}", type=FigureType.CHANGE, unit="change",
               direction=1, formula="(1 + change) ÷ (1 + season part) − 1", compute=part("drift")),
        Figure(key=f"{prefix}.drift_low", label=f"Drift part, {window}, low end", type=FigureType.CHANGE,
               unit="change", direction=1, formula="lower end of the drift part's 90% interval",
               source=DELTA, compute=part("low")),
        Figure(key=f"{prefix}.drift_high", label=f"Drift part, {window}, high end", type=FigureType.CHANGE,
               unit="change", direction=1, formula="upper end of the drift part's 90% interval",
               source=DELTA, compute=part("high")),
    ]  # fmt: skip


def _ahead(weeks: int, name: str) -> Compute:
    return lambda work: getattr(work.curves.ahead[weeks], name)


def _ahead_rows(weeks: int) -> list[Figure]:
    rows = (
        ("value", "Forecast", "sum of level now × damped drift × season profile"),
        ("low", "Forecast, low end", "lower end of the forecast's 80% interval"),
        ("high", "Forecast, high end", "upper end of the forecast's 80% interval"),
    )
    return [
        Figure(key=f"forecast_{weeks}w.{name}", label=f"{label}, {weeks} weeks", type=FigureType.AMOUNT,
               unit="searches", direction=1, formula=formula, source=SMOOTHING,
               compute=_ahead(weeks, name))
        for name, label, formula in rows
    ]  # fmt: skip


def _basis(work: Workings) -> np.ndarray:
    out = np.full(work.count, "counts" if work.counts else "relative", dtype=object)
    if work.listing is not None:
        out[work.listing.estimated] = "ranks"
    if work.holder is not None:
        out[work.holder.carried.estimated_share == 1] = "ranks"
    return out


QUALITY: tuple[Figure, ...] = (
    Figure(key="as_of", label="As of", type=FigureType.DATE, unit="date",
           formula="last day of the last complete week (month) in the data",
           compute=same(lambda w: w.timeline.end.isoformat())),
    Figure(key="period", label="Period", type=FigureType.WORD, formula="the step of the curve",
           compute=same(lambda w: w.timeline.period.value), choices=("week", "month")),
    Figure(key="basis", label="Basis", type=FigureType.WORD,
           formula="counts of searches (of what sells, of units); units estimated from sales ranks; or a "
               "relative curve whose level cannot be summed or turned into counts",
           compute=_basis, choices=("counts", "ranks", "relative")),
    Figure(key="periods", label="Periods read", type=FigureType.COUNT, unit="periods", direction=1,
           formula="length of the unbroken span that was read",
           compute=lambda w: unknown_below(w.curves.periods, 1)),
    Figure(key="read_from", label="Read from", type=FigureType.DATE, unit="date",
           formula="first day of the first period that was read",
           compute=lambda w: _first_day(w, np.where(w.curves.periods > 0, w.curves.begin, -1))),
    Figure(key="coverage", label="Coverage", type=FigureType.SHARE, unit="share of periods", direction=1,
           formula="periods with a figure ÷ periods since the first",
           compute=lambda w: w.curves.coverage),
    Figure(key="gaps", label="Gaps", type=FigureType.COUNT, unit="gaps", direction=-1,
           formula="runs of absent periods between the first figure and the last",
           compute=lambda w: w.curves.gaps.astype(np.float64)),
    Figure(key="bridged", label="Periods bridged", type=FigureType.COUNT, unit="periods", direction=-1,
           formula="absent periods, filled by a line (up to four) or from the years beside",
           compute=lambda w: w.curves.bridged.astype(np.float64)),
    Figure(key="outliers", label="Outlying periods", type=FigureType.COUNT, unit="periods", direction=-1,
           formula="weeks over three times (months over twice) their neighbours and the same time of "
               "the other years",
           compute=lambda w: w.curves.outliers.astype(np.float64)),
    Figure(key="before_launch", label="Periods before launch", type=FigureType.COUNT, unit="periods",
           formula="zeros at the beginning in weeks in which a year later at least 14 came",
           compute=lambda w: w.curves.not_yet.astype(np.float64)),
    Figure(key="left_out", label="Left out", type=FigureType.SENTENCE,
           formula="what of the curve was not read as it came, and why", compute=left_out),
    Figure(key="life", label="Life", type=FigureType.WORD,
           formula="Gone: the last 52 weeks bring at most 2% of the best before; New: under two years old in "
               "an older market; Fading: the last year under a quarter of the best, no Fad; Established: the "
               "rest",
           compute=lambda w: w.curves.life,
           choices=("New", "Established", "Fading", "Gone")),
    Figure(key="gone_since", label="Gone since", type=FigureType.DATE, unit="date",
           formula="end of the last four weeks (month) with a tenth of the level of the best year, where the "
               "last 52 weeks bring 2% of it at most",
           compute=lambda w: _first_day(w, w.curves.shape.gone_since)),
)  # fmt: skip

SHAPE: tuple[Figure, ...] = (
    Figure(key="shape", label="Shape", type=FigureType.WORD,
           formula="from best13, best4, recurrence and the season test, by the thresholds in the settings",
           compute=lambda w: words(w.curves.shape.shape), choices=SHAPES),
    Figure(key="shape_family", label="Shape family", type=FigureType.WORD,
           formula="Evergreen and Leaning: evergreen; Seasonal and Occasion: seasonal; the rest alone",
           compute=lambda w: np.array([FAMILY[s] for s in w.curves.shape.shape], dtype=object),
           choices=tuple(sorted(set(FAMILY.values())))),
    Figure(key="shape_confidence", label="Confidence in the shape", type=FigureType.SHARE,
           unit="probability", direction=1,
           formula="smallest probability that a figure the shape rests on lies on its side of its threshold",
           compute=lambda w: w.curves.shape.confidence),
    Figure(key="runner_up", label="Runner-up shape", type=FigureType.WORD,
           formula="the shape on the other side of the weakest figure's threshold",
           compute=lambda w: words(w.curves.shape.runner_up), choices=SHAPES),
    Figure(key="provisional", label="Provisional shape", type=FigureType.WORD,
           formula="what the data so far suggest where they do not suffice for a shape",
           compute=lambda w: words(w.curves.shape.provisional), choices=SHAPES),
    Figure(key="shape_reason", label="Why Unsettled", type=FigureType.SENTENCE,
           formula="the first rule that made it Unsettled", compute=lambda w: w.curves.shape.reason),
    Figure(key="feast", label="Feast", type=FigureType.WORD,
           formula="the moving feast on which the years are more alike than on the calendar",
           compute=_feast, choices=FEAST_NAMES),
    Figure(key="feast_gain", label="Gain of the feast", type=FigureType.RATIO, unit="correlation",
           formula="median correlation between years laid feast on feast − that between calendar years",
           compute=lambda w: w.curves.feast_gain),
)  # fmt: skip

DRIFT: tuple[Figure, ...] = (
    Figure(key="drift", label="Drift", type=FigureType.WORD,
           formula="Rising or Easing: interval excludes zero and the rate is beyond ±8% a year; Stepped: a "
               "level shift within the window; else Holding; none for a Fad", compute=_drift_word,
           choices=("Rising", "Holding", "Easing", "Stepped up", "Stepped down")),
    Figure(key="drift_rate_year", label="Drift a year", type=FigureType.CHANGE, unit="change a year",
           direction=1,
           formula="robust slope of the log deseasonalised four-week levels of the last 104 weeks",
           source=SEN, compute=_no_fad("rate")),
    Figure(key="drift_low", label="Drift a year, low end", type=FigureType.CHANGE, unit="change a year",
           direction=1, formula="lower end of the slope's 90% interval", source=SEN,
           compute=_no_fad("rate_low")),
    Figure(key="drift_high", label="Drift a year, high end", type=FigureType.CHANGE, unit="change a year",
           direction=1, formula="upper end of the slope's 90% interval", source=SEN,
           compute=_no_fad("rate_high")),
    Figure(key="drift_26w", label="Drift a year, last 26 weeks", type=FigureType.CHANGE,
           unit="change a year", direction=1, formula="the same slope over the last 26 weeks alone",
           source=SEN, compute=_no_fad("late")),
    Figure(key="drift_26w_low", label="Drift a year, last 26 weeks, low end", type=FigureType.CHANGE,
           unit="change a year", direction=1, formula="lower end of that slope's 90% interval",
           source=SEN, compute=_no_fad("late_low")),
    Figure(key="drift_26w_high", label="Drift a year, last 26 weeks, high end", type=FigureType.CHANGE,
           unit="change a year", direction=1, formula="upper end of that slope's 90% interval",
           source=SEN, compute=_no_fad("late_high")),
    Figure(key="acceleration", label="Acceleration", type=FigureType.CHANGE, unit="change a year",
           direction=1, formula="(1 + drift of the last 26 weeks) ÷ (1 + drift of the last 104) − 1",
           compute=_no_fad("acceleration")),
    Figure(key="step_size", label="Latest level shift", type=FigureType.CHANGE, unit="change",
           direction=1, formula="level after the latest shift ÷ level before − 1", source=SEGMENTS,
           compute=lambda w: _latest_shift(w)[0]),
    Figure(key="step_from", label="New level since", type=FigureType.DATE, unit="date",
           formula="first day of the period in which the latest shift's level starts", source=SEGMENTS,
           compute=lambda w: _first_day(w, _latest_shift(w)[1])),
    Figure(key="level_shifts", label="Level shifts", type=FigureType.SHIFTS, unit="date and change",
           formula="every level shift of the record, at most three, with the first day of its new level",
           source=SEGMENTS, compute=_shifts),
)  # fmt: skip

SEASON: tuple[Figure, ...] = (
    Figure(key="season_profile", label="Season profile", type=FigureType.PROFILE, unit="factor, mean 1",
           formula="value ÷ centred one-year level, in sums by slot without each slot's highest and lowest "
               "year; all 1 where no season is claimed", source=RATIO_MA,
           compute=lambda w: w.curves.factors),
    Figure(key="season_margin", label="Margin of the season profile", type=FigureType.PROFILE,
           unit="factor, ±",
           formula="half the width of each factor's 90% interval, from how far the years lie from it; unknown "
               "where no season is claimed", compute=_margin),
    Figure(key="season_p", label="Season test", type=FigureType.RATIO, unit="p-value",
           formula="twice the smaller p-value of the Friedman test and of the median correlation, across "
               "years on detrended four-week levels", source="Friedman (1937); Fisher (1921)",
           compute=lambda w: w.curves.season_p),
    Figure(key="season_moved", label="Season moved", type=FigureType.SHARE, unit="share of a year",
           formula="share of demand that falls in other months in the last two years than before, beyond "
               "counting noise", compute=lambda w: w.curves.shape.moved),
    Figure(key="season_changed", label="Season changed", type=FigureType.FLAG,
           formula="at least 10% moved, and old and new years are each more alike than old with new",
           compute=lambda w: w.curves.shape.changed),
    Figure(key="borrowed", label="Borrowed from the category", type=FigureType.SHARE,
           unit="share of the profile",
           formula="own sampling variance ÷ (own + between the category's niches), where a noisy niche leans "
               "on its category's profile", source="empirical Bayes shrinkage (Efron & Morris 1973)",
           needs="niches", compute=lambda w: w.curves.borrowed),
    Figure(key="best13", label="Best quarter", type=FigureType.SHARE, unit="share of a year",
           formula="share of the profile in its best 13 consecutive weeks (3 months)",
           compute=lambda w: w.curves.shape.best13),
    Figure(key="best4", label="Best month", type=FigureType.SHARE, unit="share of a year",
           formula="share of the profile in its best 4 consecutive weeks (one month)",
           compute=lambda w: w.curves.shape.best4),
    Figure(key="steadiness", label="Steadiness", type=FigureType.SHARE, unit="0–1", direction=0,
           formula="1 − Gini coefficient of the season profile: 1 sells the same every week; unknown for a Fad "
               "and where Unsettled", source="Gini (1912)", compute=_steadiness),
    Figure(key="recurrence", label="Recurrence", type=FigureType.RATIO, unit="correlation",
           formula="median correlation between the years' own detrended four-week levels",
           compute=lambda w: w.curves.shape.recurrence),
    Figure(key="peak_weeks", label="Peak", type=FigureType.WEEKS, unit="weeks (months) of the year",
           formula="the best 13 weeks, for an Occasion the best 4", compute=_peak),
    Figure(key="season_starts", label="Season starts", type=FigureType.WEEKS,
           unit="weeks (months) of the year",
           formula="the lowest slot before the peak of each hump that rises out of both its valleys by a "
                "quarter of the range from lowest to highest, and beyond noise; in a level valley its middle",
           source=PERSISTENCE, compute=_season_starts),
    Figure(key="second_peak_weeks", label="Second hump", type=FigureType.WEEKS,
           unit="weeks (months) of the year",
           formula="the best 13 weeks (Occasion: 4) of the best season besides the one of the peak, where "
               "they do not reach into it",
           compute=lambda w: slots_between(w.curves.season.second, w.curves.season.second_length,
               w.timeline.period.per_year)),
    Figure(key="rise_week", label="Start of rise", type=FigureType.COUNT, unit="week (month) of the year",
           formula="first slot above the mean on the way to the highest one of the season with the best weeks, "
               "before half of it has passed",
           compute=lambda w: unknown_below(w.curves.season.rise + 1, 1)),
    Figure(key="end_week", label="End of season", type=FigureType.COUNT, unit="week (month) of the year",
           formula="last slot above the mean after the highest one of that season",
           compute=lambda w: unknown_below(w.curves.season.end + 1, 1)),
    Figure(key="quiet_weeks", label="Quiet weeks", type=FigureType.WEEKS, unit="weeks (months) of the year",
           formula="longest unbroken run of slots below half the mean",
           compute=lambda w: slots_between(w.curves.season.quiet, w.curves.season.quiet_length,
               w.timeline.period.per_year)),
    Figure(key="strength_seasonal", label="Seasonal strength", type=FigureType.RATIO, unit="0–1",
           formula="max(0, 1 − Var(remainder) ÷ Var(seasonal + remainder))", source=FPP,
           compute=lambda w: w.curves.strength_seasonal),
    Figure(key="strength_trend", label="Trend strength", type=FigureType.RATIO, unit="0–1",
           formula="max(0, 1 − Var(remainder) ÷ Var(trend + remainder))", source=FPP,
           compute=lambda w: w.curves.strength_trend),
)  # fmt: skip

GROWTH: tuple[Figure, ...] = (
    *_split_rows("growth_4w", "4 weeks against the 4 before", lambda w: w.curves.growth[4]),
    *_split_rows("growth_13w", "13 weeks against the 13 before", lambda w: w.curves.growth[13]),
    *_split_rows("growth_26w", "26 weeks against the 26 before", lambda w: w.curves.growth[26]),
    *_split_rows("growth_52w", "52 weeks against the 52 before", lambda w: w.curves.growth[52],
                 raw=1),
    *_split_rows("growth_yoy", "13 weeks against the same a year before",
                 lambda w: w.curves.year_on_year, raw=1),
    Figure(key="yoy_feasts", label="Feasts in one year's window only", type=FigureType.SENTENCE,
           formula="moving feasts that fall in the last 13 weeks or in the same a year before, not in both",
           compute=same(lambda w: ", ".join(w.yoy_feasts) or None)),
)  # fmt: skip

FORECAST: tuple[Figure, ...] = tuple(row for weeks in HORIZONS for row in _ahead_rows(weeks))
INTEREST = Figure(key="interest_agreement", label="Agreement with the relative curve", type=FigureType.RATIO,
                  unit="rank correlation",
                  formula="Spearman correlation of counts and relative curve by four weeks (month), where "
                      "there are both",
                  source="Spearman (1904)", needs="interest", compute=lambda w: w.agreement)  # fmt: skip
