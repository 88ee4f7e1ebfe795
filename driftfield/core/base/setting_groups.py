"""How the settings are shown: which belong together, what changes with them, and what each is called."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class SettingGroup:
    """Settings that belong together: what they are about, what changes with them, and their names."""

    title: str
    touches: str
    keys: tuple[str, ...]


GROUPS = (
    SettingGroup(
        "Dates", "order dates and the share of a season that is caught, at once", ("lead_days",)
    ),
    SettingGroup(
        "Money", "the calculation of “Does it pay?”, at once; figures and signals of the target with the next "
        "analysis", ("target_income", "tax_rate", "tax_included"),
    ),
    SettingGroup(
        "Families", "whether a family is said to be enough for a brand, at once",
        ("brand_goods", "brand_searches_low", "brand_searches_high"),
    ),
    SettingGroup(
        "Reviews and launches", "barriers, success of launches, headroom and signals",
        ("review_limit", "reviews_hardly", "success_units", "success_revenue", "launch_window", "launch_least"),
    ),
    SettingGroup(
        "Competition", "concentration, prices, the field and signals",
        ("breadth_share", "click_weeks", "brand_dominant", "top3_closed", "top3_open", "price_fall",
         "field_change"),
    ),
    SettingGroup(
        "Curves", "what is read of each curve, and all that rests on it",
        ("bridge_periods", "max_missing", "min_years", "launch_counts", "record_years"),
    ),
    SettingGroup(
        "Shape and season", "shapes, seasons and their dates",
        ("evergreen_best13", "seasonal_best13", "occasion_best4", "min_recurrence", "season_alpha",
         "count_alpha", "large_swing", "fad_share", "fad_remnant", "gone_level", "feast_gain", "hump_share",
         "quiet_level", "season_moved", "pool_members", "pool_least"),
    ),
    SettingGroup(
        "Drift and forecast", "drift, level shifts, intervals and forecasts",
        ("drift_weeks", "drift_rate", "step_size", "interval", "damping", "forecast_interval"),
    ),
    SettingGroup(
        "Categories", "openness and settledness of categories",
        ("open_success", "open_newcomers", "open_spread", "open_reviews", "settled_share", "settled_age",
         "settled_reviews"),
    ),
    SettingGroup(
        "Sleepers", "which listings sleep until their season",
        ("sleeper_strong", "sleeper_share", "sleeper_quiet"),
    ),
    SettingGroup(
        "Estimates", "units estimated from sales ranks, and all that rests on them", ("correct_estimates",)
    ),
    SettingGroup("Watch", "what the watch tells after the next import", ("watch_rate",)),
    SettingGroup("Ranking", "rank bands", ("rank_draws", "weight_spread")),
)  # fmt: skip
# What holds at once when it is changed, without a new analysis.
AT_ONCE = (
    "lead_days", "tax_rate", "tax_included", "brand_goods", "brand_searches_low", "brand_searches_high",
)  # fmt: skip
# What each is called where people choose it.
NAMES = {
    "brand_goods": "Goods that make a brand", "brand_searches_low": "Searches a month, at least",
    "brand_searches_high": "Searches a month, at most", "lead_days": "Lead time, days",
    "target_income": "Revenue wanted a year", "tax_rate": "Value added tax",
    "tax_included": "Prices include that tax", "review_limit": "Review limit",
    "reviews_hardly": "Reviews that hardly matter", "success_units": "Success: units a month",
    "success_revenue": "Success: revenue a month", "launch_window": "Launches: year judged by",
    "launch_least": "Launches: least to be judged", "breadth_share": "Click breadth covers",
    "click_weeks": "Weeks of clicks", "brand_dominant": "One brand dominates from",
    "top3_closed": "Three listings dominate from", "top3_open": "Nobody dominates up to",
    "price_fall": "A price falls from", "field_change": "A field opens from",
    "bridge_periods": "Longest gap bridged", "max_missing": "Most that may be missing",
    "min_years": "Years needed for a shape", "launch_counts": "Searches that show a late start",
    "record_years": "Oldest figures, years", "evergreen_best13": "Evergreen up to, best quarter",
    "seasonal_best13": "Seasonal from, best quarter", "occasion_best4": "Occasion from, best month",
    "min_recurrence": "Recurs from, correlation", "season_alpha": "Level of the season test",
    "count_alpha": "Level of the count test", "large_swing": "Swings widely from",
    "fad_share": "Fad: share of its best year", "fad_remnant": "Fad: left at most",
    "gone_level": "Gone: left at most", "feast_gain": "Feast: gain needed", "hump_share": "Hump: least height",
    "quiet_level": "Quiet below", "season_moved": "Season moved from", "pool_members": "Pooling: niches needed",
    "pool_least": "Pooling: least share", "drift_weeks": "Weeks of drift",
    "drift_rate": "Rising or easing from",
    "step_size": "Level shift from", "interval": "Intervals cover", "damping": "Damping of the drift",
    "forecast_interval": "Forecast intervals cover", "rank_draws": "Draws behind the band",
    "weight_spread": "Spread of the weights", "open_success": "Open: launches work",
    "open_newcomers": "Open: newcomers sell", "open_spread": "Open: clicks are spread",
    "open_reviews": "Open: few reviews", "settled_share": "Settled: old listings sell",
    "settled_age": "Settled: age of what sells", "settled_reviews": "Settled: many reviews",
    "correct_estimates": "Correct by own sales (1 yes, 0 no)",
    "watch_rate": "Watch: share of chance among what is told",
    "sleeper_strong": "Strong from, units in four weeks",
    "sleeper_share": "Or strong from, share of its category", "sleeper_quiet": "Quiet up to",
}  # fmt: skip
