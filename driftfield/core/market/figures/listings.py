"""Figures of listings: each by itself, and what sleeps until its season."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

import numpy as np

from driftfield.core.base import Floats, Groups, Settings
from driftfield.core.supply import (
    STATES,
    WHY,
    ListingRecord,
    Listings,
    OwnCheck,
    Sleepers,
    UnitsEstimate,
)

from ..kinds import LISTING
from ..workings import ListingWorkings, Workings
from .dates import iso_days
from .demand import SHAPES
from .figure import Compute, Figure, FigureType, marked, words

RANKED = "Goolsbee & Chevalier (2003)"
QUANTILE = "Hyndman & Fan (1996), type 7"
_OF = (LISTING,)


def _own(work: Workings) -> ListingWorkings:
    assert work.listing is not None, "these are figures of listings"
    return work.listing


def _facts(work: Workings) -> Listings:
    assert work.data.listings is not None, "listings are known"
    return work.data.listings


def _fact(name: str) -> Compute:
    return lambda w: np.asarray(getattr(_facts(w), name), dtype=np.float64)


def _record(pick: Callable[[ListingRecord], Floats]) -> Compute:
    return lambda w: pick(_own(w).record)


def _estimate(pick: Callable[[UnitsEstimate], Floats]) -> Compute:
    return lambda w: pick(_own(w).estimate)


def _check(pick: Callable[[OwnCheck], Floats]) -> Compute:
    return lambda w: pick(_own(w).lines.own)


def _corrected(work: Workings) -> Floats:
    own = _own(work)
    return np.where(np.isnan(own.estimate.units), np.nan, own.lines.moved)


def _of_niche(key: str) -> Compute:
    """A figure of the niche that brings most of each listing's clicks; unknown of one without a niche."""

    def compute(work: Workings) -> np.ndarray:
        values, niche = _own(work).niches.figures[key], np.asarray(work.data.niche)
        found = np.full(
            work.count, np.nan if values.dtype.kind == "f" else None, dtype=values.dtype
        )
        known = np.flatnonzero(niche >= 0)
        found[known] = values[niche[known]]
        return found

    return compute


def _sleeper(pick: Callable[[Sleepers], Floats]) -> Compute:
    """A figure of sleepers and of what is in season; unknown of all others."""

    def compute(work: Workings) -> np.ndarray:
        found = _own(work).sleepers
        return np.where(_named(found), pick(found), np.nan)

    return compute


def _named(found: Sleepers) -> np.ndarray:
    return np.array([state is not None for state in found.state], dtype=bool)


def _ranked(work: Workings) -> Floats:
    """Whether each had a rank in the last period; unknown of those that never had one."""
    history = _facts(work).history
    ranks = None if history is None else history.measures.get("sales_rank")
    if ranks is None:
        return np.full(work.count, np.nan)
    ever = ~np.isnan(ranks).all(axis=1)
    return np.where(ever, ~np.isnan(ranks[:, -1]), np.nan)


def _sent(work: Workings) -> Floats:
    """Share of each listing's standing offers whose goods the marketplace sends."""
    offers, day = _facts(work).offers, _own(work).day
    if offers is None or offers.sent is None:
        return np.full(work.count, np.nan)
    rows = np.flatnonzero(offers.standing(day))
    return Groups(offers.listing[rows], work.count).mean(offers.sent[rows])


def _reason(at: int) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        found = _own(work).sleepers
        sleeps = found.state == STATES[0]
        return np.where(sleeps, found.why[:, at], np.nan)

    return marked(compute)


def _why(work: Workings) -> np.ndarray:
    found = _own(work).sleepers
    first = found.why.argmax(axis=1)
    out = np.full(work.count, None, dtype=object)
    sleeps = found.why.any(axis=1)
    out[sleeps] = np.array(WHY, dtype=object)[first[sleeps]]
    return out


def _season_from(work: Workings) -> np.ndarray:
    out = np.full(work.count, None, dtype=object)
    named = _named(_own(work).sleepers)
    out[named] = np.where(_own(work).by_niche[named], "its niche", "its own sales")
    return out


def season_figures(
    rise: Floats, caught: Floats, planning: date, settings: Settings
) -> dict[str, np.ndarray]:
    """The figures that rest on the day of planning and the lead time, by key; see ``coming_seasons``."""
    order_by = rise - float(settings.lead_days)
    return {
        "sleep.rise": iso_days(rise),
        "sleep.order_by": iso_days(order_by),
        "sleep.order_in_days": order_by - planning.toordinal(),
        "sleep.caught": caught,
    }


def _dated(key: str) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        own = _own(work)
        planning = date.fromordinal(int(work.plan.planning[0]))
        return season_figures(own.rise, own.caught, planning, work.settings)[key]

    return compute


FACTS: tuple[Figure, ...] = (
    Figure(key="listing.price", label="Price now", type=FigureType.AMOUNT, unit="currency",
           formula="as the table of listings says, else the last one of its history", needs="listings",
           compute=_fact("price"), kinds=_OF),
    Figure(key="listing.price_change_13w", label="Price, change in 13 weeks", type=FigureType.CHANGE,
           unit="change",
           formula="mean of the last four weeks ÷ mean of the four weeks 13 weeks earlier − 1",
           needs="listing_weeks", compute=_record(lambda r: r.price_change), kinds=_OF),
    Figure(key="listing.price_low_52w", label="Lowest price of the year", type=FigureType.AMOUNT,
           unit="currency",
           formula="least of the last 52 weeks", needs="listing_weeks",
           compute=_record(lambda r: r.price_low), kinds=_OF),
    Figure(key="listing.price_high_52w", label="Highest price of the year", type=FigureType.AMOUNT,
           unit="currency",
           formula="highest of the last 52 weeks", needs="listing_weeks",
           compute=_record(lambda r: r.price_high), kinds=_OF),
    Figure(key="listing.price_floor", label="Low tenth of its prices", type=FigureType.AMOUNT,
           unit="currency",
           formula="tenth percentile of its prices of the last 52 weeks: a tenth of the time it was no dearer; "
               "a dearer price may fall back there",
           source=QUANTILE, needs="listing_weeks", compute=_record(lambda r: r.price_floor), kinds=_OF),
    Figure(key="listing.price_before", label="Price before the last rise", type=FigureType.AMOUNT,
           unit="currency",
           formula="the latest price of the last 52 weeks that lies under the price now by over a tenth",
           needs="listing_weeks", compute=_record(lambda r: r.price_before), kinds=_OF),
    Figure(key="listing.price_before_on", label="When it had that price", type=FigureType.DATE, unit="date",
           formula="first day of that price's week (month)", needs="listing_weeks",
           compute=lambda w: iso_days(_own(w).record.price_before_on), kinds=_OF),
    Figure(key="listing.sales_rank", label="Sales rank now", type=FigureType.COUNT, unit="place, 1 sells most",
           direction=-1, formula="of the last week (month)", needs="listing_weeks",
           compute=_record(lambda r: r.rank), kinds=_OF),
    Figure(key="listing.best_rank_52w", label="Best sales rank of the year", type=FigureType.COUNT,
           unit="place, 1 sells most", direction=-1, formula="least of the last 52 weeks",
           needs="listing_weeks", compute=_record(lambda r: r.best_rank), kinds=_OF),
    Figure(key="listing.ranked", label="Has a rank now", type=FigureType.WORD,
           formula="whether it has a rank in the last week (month); unknown where it never had one",
           needs="listing_weeks", compute=marked(_ranked), choices=("no", "yes"), kinds=_OF),
    Figure(key="listing.units_4w", label="Units in four weeks", type=FigureType.AMOUNT, unit="units",
           direction=1,
           formula="sum of the last four weeks (month)", needs="listing_weeks",
           compute=_record(lambda r: r.units_4w), kinds=_OF),
    Figure(key="listing.best_units_4w", label="Units in four weeks, best quarter", type=FigureType.AMOUNT,
           unit="units",
           direction=1, formula="units of the best 13 weeks in a row of the last 52 ÷ 13 × 4",
           needs="listing_weeks", compute=_record(lambda r: r.best_quarter), kinds=_OF),
    Figure(key="listing.estimated_units", label="Units a year, estimated from its rank", type=FigureType.AMOUNT,
           unit="units", direction=1,
           formula="e to the line of ln units by mean ln rank in its category, where no units are known",
           source=RANKED, needs="listing_weeks", compute=_estimate(lambda e: e.units), kinds=_OF),
    Figure(key="listing.estimated_low", label="Estimated units, low end", type=FigureType.AMOUNT, unit="units",
           direction=1, formula="lower end of the 80% interval of a single listing", source=RANKED,
           needs="listing_weeks", compute=_estimate(lambda e: e.low), kinds=_OF),
    Figure(key="listing.estimated_high", label="Estimated units, high end", type=FigureType.AMOUNT,
           unit="units",
           direction=1, formula="upper end of that interval", source=RANKED, needs="listing_weeks",
           compute=_estimate(lambda e: e.high), kinds=_OF),
    Figure(key="listing.estimated_from", label="Listings the estimate rests on", type=FigureType.COUNT,
           unit="listings", formula="listings of the category with both rank and units", source=RANKED,
           needs="listing_weeks", compute=_estimate(lambda e: e.rests_on), kinds=_OF),
    Figure(key="listing.estimated_error", label="Error of such estimates", type=FigureType.SHARE,
           unit="factor, less 1",
           formula="by what factor estimates miss units that are known, each made without its listing; root "
               "mean square of the logarithms", source="Allen (1974)", needs="listing_weeks",
           compute=_estimate(lambda e: e.error), kinds=_OF),
    Figure(key="listing.own_units", label="Units you sold in a year", type=FigureType.AMOUNT, unit="units",
           direction=1, formula="own sales of the last 52 weeks (12 months), where nine tenths are known",
           needs="own_sales", compute=_check(lambda c: c.units), kinds=_OF),
    Figure(key="listing.own_ratio", label="Your sales against such an estimate", type=FigureType.RATIO,
           unit="times the estimate",
           formula="own sales of the last 52 weeks ÷ what the line of its category says, made without it; only "
               "of what nobody else is known to sell", needs="own_sales",
           compute=_check(lambda c: np.exp(c.missed)), kinds=_OF),
    Figure(key="listing.correction", label="Your sales against estimates, in the middle", type=FigureType.RATIO,
           unit="times the estimate",
           formula="geometric mean of that over own listings of its category, or of the one above it that has "
               "five", needs="own_sales", compute=_check(lambda c: c.ratio), kinds=_OF),
    Figure(key="listing.correction_low", label="That, low end", type=FigureType.RATIO,
           unit="times the estimate", formula="lower end of its 80% interval (Student's, of the logarithms)",
           needs="own_sales", compute=_check(lambda c: c.ends()[0]), kinds=_OF),
    Figure(key="listing.correction_high", label="That, high end", type=FigureType.RATIO,
           unit="times the estimate", formula="upper end of that interval",
           needs="own_sales", compute=_check(lambda c: c.ends()[1]), kinds=_OF),
    Figure(key="listing.correction_from", label="Own listings it rests on", type=FigureType.COUNT,
           unit="listings", formula="how many own listings count", needs="own_sales",
           compute=_check(lambda c: c.told(c.listings)), kinds=_OF),
    Figure(key="listing.correction_assumed", label="Of these, taken to be sold by you alone",
           type=FigureType.COUNT, unit="listings",
           formula="those of which neither offers nor their number say whether others sold them too",
           needs="own_sales", compute=_check(lambda c: c.told(c.unsure)), kinds=_OF),
    Figure(key="listing.corrected", label="Estimate corrected by own sales", type=FigureType.WORD,
           formula="yes where correct_estimates is 1 and own sales tell; the estimate, its ends and its curve "
               "are then those of the ranks × that ratio", needs="own_sales",
           compute=marked(_corrected), choices=("no", "yes"), kinds=_OF),
    Figure(key="listing.clicks_now", label="Clicks now", type=FigureType.AMOUNT, unit="clicks", direction=1,
           formula="clicks it got after any term in the latest window of click_weeks", needs="term_clicks",
           compute=lambda w: _own(w).clicks, kinds=_OF),
    Figure(key="listing.reviews", label="Reviews now", type=FigureType.COUNT, unit="reviews",
           formula="as the table of listings says, else the last of its history", needs="listings",
           compute=_fact("reviews"), kinds=_OF),
    Figure(key="listing.new_reviews_52w", label="Reviews gained in a year", type=FigureType.COUNT,
           unit="reviews",
           formula="reviews of the last four weeks − those 52 weeks earlier; unknown where they fell",
           needs="listing_weeks", compute=_record(lambda r: r.new_reviews), kinds=_OF),
    Figure(key="listing.review_share", label="Reviews a unit", type=FigureType.RATIO, unit="reviews a unit",
           formula="reviews gained in a year ÷ units a year", needs="listing_weeks",
           compute=_record(lambda r: r.review_share), kinds=_OF),
    Figure(key="listing.rating", label="Its rating", type=FigureType.AMOUNT, unit="stars", direction=1,
           formula="as the table of listings says", needs="listings", compute=_fact("rating"), kinds=_OF),
    Figure(key="listing.offers", label="Offers now", type=FigureType.AMOUNT, unit="offers", direction=-1,
           formula="mean of the last four weeks (month)", needs="listing_weeks",
           compute=_record(lambda r: r.offers), kinds=_OF),
    Figure(key="listing.offers_yoy", label="Offers against a year ago", type=FigureType.CHANGE, unit="change",
           direction=-1, formula="mean of the last 13 weeks ÷ that of the same a year before − 1",
           needs="listing_weeks", compute=_record(lambda r: r.offers_change), kinds=_OF),
    Figure(key="listing.units_yoy", label="Units against a year ago", type=FigureType.CHANGE, unit="change",
           direction=1, formula="mean of the last 13 weeks ÷ that of the same a year before − 1",
           needs="listing_weeks", compute=_record(lambda r: r.units_change), kinds=_OF),
    Figure(key="listing.offers_lead", label="Its offers ahead of units", type=FigureType.CHANGE, unit="change",
           direction=-1, formula="(1 + offers against a year ago) ÷ (1 + units against a year ago) − 1",
           needs="listing_weeks", compute=_record(lambda r: r.offers_lead), kinds=_OF),
    Figure(key="listing.sent", label="Offers the marketplace sends", type=FigureType.SHARE,
           unit="share of offers",
           formula="standing offers whose goods the marketplace stores and sends ÷ those of which it is known",
           needs="offers", compute=_sent, kinds=_OF),
    Figure(key="listing.lead_share_52w", label="Lead offer in one hand", type=FigureType.SHARE,
           unit="share of periods",
           formula="share of the last 52 weeks in which the seller who held it longest held the lead offer, of "
               "those in which it is known", needs="listing_weeks",
           compute=_record(lambda r: r.lead_share), kinds=_OF),
    Figure(key="listing.lead_changes_26w", label="Lead offer changed hands", type=FigureType.SHARE,
           unit="share of steps", formula="steps of the last 26 weeks in which another seller took it",
           needs="listing_weeks", compute=_record(lambda r: r.lead_changes), kinds=_OF),
    Figure(key="listing.in_stock", label="In stock now", type=FigureType.SHARE, unit="share of the time",
           direction=-1,
           formula="mean of the last four weeks (month)", needs="listing_weeks",
           compute=_record(lambda r: r.in_stock), kinds=_OF),
    Figure(key="listing.launched_on", label="Launched", type=FigureType.DATE, unit="date",
           formula="as the table of listings says", needs="listings",
           compute=lambda w: iso_days(_facts(w).launched), kinds=_OF),
    Figure(key="listing.age", label="Its age", type=FigureType.COUNT, unit="days", formula="as-of − launched",
           needs="listings", compute=lambda w: _own(w).day - _facts(w).launched, kinds=_OF),
    Figure(key="listing.weight_g", label="Its weight", type=FigureType.AMOUNT, unit="g", direction=-1,
           formula="as the table of listings says", needs="listings", compute=_fact("weight_g"), kinds=_OF),
    Figure(key="listing.size_mm", label="Its longest side", type=FigureType.AMOUNT, unit="mm", direction=-1,
           formula="longest of length, width and height", needs="listings", compute=_fact("size_mm"),
           kinds=_OF),
    Figure(key="listing.quality", label="Its quality", type=FigureType.INDEX, unit="0–100",
           formula="quality of the listing, as the table says", needs="listings", compute=_fact("quality"),
           kinds=_OF),
    Figure(key="listing.return_rate", label="Its returns", type=FigureType.SHARE, unit="share of units",
           direction=-1,
           formula="as the table of listings says", needs="listings", compute=_fact("return_rate"), kinds=_OF),
    Figure(key="listing.sponsored", label="Sponsored listing", type=FigureType.WORD,
           formula="as the table of listings says",
           needs="listings", compute=marked(lambda w: _facts(w).sponsored), choices=("no", "yes"), kinds=_OF),
    Figure(key="listing.own_retail", label="The marketplace’s own", type=FigureType.WORD,
           formula="whether its brand or its seller is the marketplace itself", needs="listings",
           compute=marked(lambda w: _facts(w).own_retail), choices=("no", "yes"), kinds=_OF),
)  # fmt: skip

SLEEPERS: tuple[Figure, ...] = (
    Figure(key="sleep.state", label="Sleeper", type=FigureType.WORD,
           formula="Asleep: strong in its last season, at most sleeper_quiet of that now, and the calendar, "
               "stock, rank or price says why; In season: strong now, in weeks above the mean of the year, and "
               "hardly wanted out of season; only of "
               "what is seasonal by its own sales or its niche's searches", needs="listing_weeks",
           compute=lambda w: words(_own(w).sleepers.state), choices=STATES, kinds=_OF),
    Figure(key="sleep.why", label="Why it is quiet", type=FigureType.WORD,
           formula="the first that holds: the calendar leaves no more; in stock under half of the last four "
               "weeks; no rank now and one then; a price over 1.2 times that of its season",
           needs="listing_weeks", compute=_why, choices=WHY, kinds=_OF),
    *(
        Figure(key=f"sleep.{key}", label=f"Quiet: {why}", type=FigureType.WORD,
               formula="whether this reason holds, besides others", needs="listing_weeks", compute=_reason(at),
               choices=("no", "yes"), kinds=_OF)
        for at, (key, why) in enumerate(
            zip(("by_season", "out_of_stock", "unranked", "dearer"), WHY, strict=True)
        )
    ),
    Figure(key="sleep.season_from", label="Season told by", type=FigureType.WORD,
           formula="its niche, where that is seasonal and its sales of two years move with it (correlation "
               "0.5 or more); else its own sales",
           needs="listing_weeks", compute=_season_from, choices=("its niche", "its own sales"), kinds=_OF),
    Figure(key="sleep.strong_4w", label="Units in four weeks, last season", type=FigureType.AMOUNT,
           unit="units", direction=1, formula="units of the best 13 weeks in a row of the last 65 ÷ 13 × 4",
           needs="listing_weeks", compute=_sleeper(lambda s: s.strong), kinds=_OF),
    Figure(key="sleep.part", label="Share of its category’s seasons", type=FigureType.SHARE,
           unit="share",
           formula="that ÷ the sum over its category's listings of what each best quarter brought",
           needs="listing_weeks", compute=_sleeper(lambda s: s.part), kinds=_OF),
    Figure(key="sleep.usual_4w", label="What the calendar leaves of it now", type=FigureType.AMOUNT,
           unit="units", formula="that × profile of the last four weeks ÷ profile of those 13",
           needs="listing_weeks", compute=_sleeper(lambda s: s.usual), kinds=_OF),
    Figure(key="sleep.expected_4w", label="Units in four weeks expected, coming season",
           type=FigureType.AMOUNT, unit="units", direction=1,
           formula="units in four weeks of its last season × (1 + drift a year): an estimate that takes the "
               "next season to be like the last", needs="listing_weeks",
           compute=_sleeper(lambda s: s.expected), kinds=_OF),
    Figure(key="sleep.expected_low", label="Units expected, low end", type=FigureType.AMOUNT, unit="units",
           direction=1, formula="(those units − counting noise of two seasons) × (1 + low end of the drift)",
           needs="listing_weeks", compute=_sleeper(lambda s: s.low), kinds=_OF),
    Figure(key="sleep.expected_high", label="Units expected, high end", type=FigureType.AMOUNT, unit="units",
           direction=1, formula="(those units + counting noise of two seasons) × (1 + high end of the drift)",
           needs="listing_weeks", compute=_sleeper(lambda s: s.high), kinds=_OF),
    Figure(key="sleep.price_then", label="Price in its last season", type=FigureType.AMOUNT, unit="currency",
           formula="mean over those 13 weeks", needs="listing_weeks",
           compute=_sleeper(lambda s: s.price_then), kinds=_OF),
    Figure(key="sleep.offers_then", label="Offers in its last season", type=FigureType.AMOUNT, unit="offers",
           formula="mean over those 13 weeks", needs="listing_weeks",
           compute=_sleeper(lambda s: s.offers_then), kinds=_OF),
    Figure(key="sleep.best_on", label="Middle of its last season", type=FigureType.DATE, unit="date",
           formula="first day of the middle week (month) of those 13 weeks", needs="listing_weeks",
           compute=lambda w: iso_days(_sleeper(lambda s: s.middle)(w)), kinds=_OF),
    Figure(key="sleep.rise", label="Its season rises", type=FigureType.DATE, unit="date",
           formula="start of the season that held its best weeks: the next of which half is caught",
           needs="listing_weeks",
           compute=_dated("sleep.rise"), kinds=_OF),
    Figure(key="sleep.order_by", label="Order by, its season", type=FigureType.DATE, unit="date",
           formula="that day − lead_days", needs="listing_weeks", compute=_dated("sleep.order_by"),
           kinds=_OF),
    Figure(key="sleep.order_in_days", label="Days to order for its season", type=FigureType.SIGNED, unit="days",
           formula="that date − planning date; below 0 it has passed", needs="listing_weeks",
           compute=_dated("sleep.order_in_days"), kinds=_OF),
    Figure(key="sleep.caught", label="Caught of its season", type=FigureType.SHARE, unit="share of the season",
           direction=1, formula="share of that season's demand that falls after arrival",
           needs="listing_weeks", compute=_dated("sleep.caught"), kinds=_OF),
)  # fmt: skip

# What is asked of the niche beside a listing: key, label, type, unit and direction as the niche has them.
_BESIDE = (
    ("headroom", "Headroom of its niche", FigureType.INDEX, "0–100", 1),
    ("demand", "Demand of its niche", FigureType.INDEX, "0–100", 1),
    ("competition", "Competition in its niche", FigureType.INDEX, "0–100", -1),
    ("searches_52w", "Searches a year of its niche", FigureType.AMOUNT, "searches", 1),
    ("purchase_rate", "Purchase rate of its niche", FigureType.SHARE, "purchases a search", 1),
    ("drift_rate_year", "Drift of its niche", FigureType.CHANGE, "change a year", 1),
    ("sales.units_52w", "Units a year of its niche", FigureType.AMOUNT, "units", 1),
    ("sales.price_median", "Median price of its niche", FigureType.AMOUNT, "currency", 0),
    ("review_barrier", "Reviews of the top ten of its niche", FigureType.AMOUNT, "reviews", -1),
    ("entry.launches_52w", "Launches in 52 weeks in its niche", FigureType.COUNT, "listings", 0),
)  # fmt: skip
BESIDE: tuple[Figure, ...] = (
    Figure(key="niche.shape", label="Shape of its niche", type=FigureType.WORD,
           formula="shape of the niche that brings most of its clicks", needs="term_clicks",
           compute=_of_niche("shape"), choices=SHAPES, kinds=_OF),
    *(
        Figure(key=f"niche.{key}", label=label, type=kind, unit=unit, direction=direction,
               formula=f"{key} of the niche that brings most of its clicks", needs="term_clicks",
               compute=_of_niche(key), kinds=_OF, digits=5 if key == "purchase_rate" else 3)
        for key, label, kind, unit, direction in _BESIDE
    ),
)  # fmt: skip

LISTINGS = (*FACTS, *SLEEPERS, *BESIDE)
