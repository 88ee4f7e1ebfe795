"""Every threshold of the computation, in one typed object.

A default is the design's published value unless its help text says otherwise. Each stored result
keeps the settings it was made with.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Any

from .errors import CoreError


def _setting(default: float, help_text: str, *, low: float, high: float) -> Any:
    return field(default=default, metadata={"help": help_text, "low": low, "high": high})


@dataclass(frozen=True, slots=True)
class Threshold:
    """A setting that belongs to one rule and is declared with it: its name, default, what it means and
    the range it may take."""

    key: str
    default: float
    help: str
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Settings:
    """Thresholds and windows. Fractions are 0–1, rates are per year, windows are in periods.

    changed: values of thresholds (``Threshold``) that differ from their defaults, by key.
    """

    bridge_periods: int = _setting(
        4, "Longest gap, in periods, that is filled before a curve is decomposed.", low=0, high=13
    )
    max_missing: float = _setting(
        0.25, "Share of a curve that may be missing before its shape is Unsettled.", low=0, high=1
    )
    min_years: float = _setting(
        2.0, "Years of figures below which a curve's shape is Unsettled.", low=1, high=20
    )
    evergreen_best13: float = _setting(
        0.295, "best13 below this is Evergreen (flat is 0.25).", low=0.25, high=1
    )
    seasonal_best13: float = _setting(
        0.38, "best13 from this on is Seasonal; between the two is Leaning.", low=0.25, high=1
    )
    occasion_best4: float = _setting(
        0.35, "best4 from this on is Occasion (flat is 0.077).", low=0.077, high=1
    )
    min_recurrence: float = _setting(
        0.5,
        "Median correlation between years from which a profile counts as recurring. Our choice: "
        "halfway between one-off spikes (about 0) and fixed dates (0.8 to 1).",
        low=0,
        high=1,
    )
    season_alpha: float = _setting(
        0.05, "Level of the Friedman test for a season. With two years its floor is 0.02.",
        low=0.001, high=0.5,
    )  # fmt: skip
    count_alpha: float = _setting(
        0.01, "Level of the test of a season against counting noise.", low=0.0001, high=0.5
    )
    large_swing: float = _setting(
        0.35,
        "Spread of the detrended four-week levels, counting noise taken out, above which a curve "
        "without a recurring season is Unsettled. Our choice: a sine with best13 0.38 spreads 0.41.",
        low=0.05,
        high=5,
    )
    fad_share: float = _setting(
        0.57,
        "Share of a five-year record in its best 52 weeks from which a Fad is possible; in a "
        "shorter or longer record, the share that is as far from an even spread over the years.",
        low=0.2,
        high=1,
    )
    fad_remnant: float = _setting(
        0.25, "Latest quarter over the best year's mean, at most, for a Fad.", low=0.01, high=1
    )
    gone_level: float = _setting(
        0.02,
        "Demand counts as gone when the mean of the last 52 weeks is at most this part of that "
        "of the best 52 before. Our choice.",
        low=0,
        high=0.2,
    )
    launch_counts: float = _setting(
        14,
        "Searches that the following year must show in the weeks in which a curve began with "
        "none, for those weeks to lie before the niche existed. A count of 14 is none by chance "
        "once in a million.",
        low=3,
        high=1000,
    )
    feast_gain: float = _setting(
        0.06,
        "How much recurrence must gain when the years are laid feast on feast for the feast to "
        "be named. Our choice: of simulated curves that keep to the calendar, one in a thousand "
        "gains as much.",
        low=0.01,
        high=1,
    )
    hump_share: float = _setting(
        0.25, "How far a hump must rise above the valleys on both sides to be a season of its own, as "
        "a share of the range from the year's lowest week to its highest. Our choice.", low=0.05, high=0.9,
    )  # fmt: skip
    quiet_level: float = _setting(
        0.5, "Factor below which a week is quiet. Our choice: half an average week.",
        low=0.05, high=1,
    )  # fmt: skip
    season_moved: float = _setting(
        0.1,
        "Share of the year's demand that must fall in other months than before for a season to "
        "count as changed. Our choice.",
        low=0.02,
        high=1,
    )
    pool_members: int = _setting(
        5, "Niches with a season of their own that a category needs before it lends its profile.",
        low=2, high=100,
    )  # fmt: skip
    pool_least: float = _setting(
        0.1, "Smallest share of a profile that is borrowed; below it a niche keeps its own.",
        low=0, high=1,
    )  # fmt: skip
    damping: float = _setting(
        0.95,
        "What remains of the drift after every four weeks (or month) of forecast. Our choice "
        "within 0.8 to 0.98 (Hyndman & Athanasopoulos, section 8.2).",
        low=0.5,
        high=1,
    )
    forecast_interval: float = _setting(
        0.8, "Coverage of the forecast's intervals.", low=0.5, high=0.99
    )
    drift_weeks: int = _setting(
        104,
        "Weeks of the deseasonalised curve from which the drift rate is taken.",
        low=52,
        high=520,
    )
    drift_rate: float = _setting(
        0.08, "Rate a year beyond which drift is Rising or Easing.", low=0, high=1
    )
    interval: float = _setting(
        0.90, "Coverage of the intervals that are shown.", low=0.5, high=0.99
    )
    step_size: float = _setting(
        0.25, "Smallest level shift that is named, as a share of the level.", low=0.05, high=5
    )
    breadth_share: float = _setting(
        0.80, "Share of the clicks that the click breadth covers.", low=0.5, high=0.99
    )
    click_weeks: int = _setting(
        13, "Weeks of clicks from which the concentration is taken.", low=1, high=52
    )
    review_limit: float = _setting(
        150, "Reviews below which a newcomer can compete with a listing. Common practice, no source: "
        "fewer than 75 are hardly a barrier, fewer than 150 can be approached.", low=1, high=100_000,
    )  # fmt: skip
    success_units: float = _setting(
        0, "Units in four average weeks of a year from which a launch has succeeded; 0 uses the "
        "niche's median.",
        low=0, high=1e9,
    )  # fmt: skip
    success_revenue: float = _setting(
        0, "Revenue in four average weeks of a year from which a launch has succeeded; 0 judges by "
        "units.",
        low=0, high=1e12,
    )  # fmt: skip
    launch_window: float = _setting(
        0.25, "How much of the niche's year, latest weeks first, a listing is judged by. Our choice: "
        "an average quarter.", low=0.02, high=1,
    )  # fmt: skip
    launch_least: float = _setting(
        0.08, "How much of the niche's year a launch must have been on sale for before it is judged. "
        "Our choice: four average weeks hold 0.077.", low=0.01, high=1,
    )  # fmt: skip
    price_fall: float = _setting(
        0.03, "Fall of a price in 26 weeks from which it counts as falling. Our choice.",
        low=0, high=1,
    )  # fmt: skip
    field_change: float = _setting(
        0.25, "Growth of the effective listings in a year from which a field counts as opening; "
        "closing is the same the other way. Our choice.", low=0.01, high=10,
    )  # fmt: skip
    target_income: float = _setting(
        30_000, "Revenue a year wanted from one listing. Our choice: 3,000 units at 10.", low=1, high=1e12,
    )  # fmt: skip
    brand_goods: int = _setting(
        3, "Goods that make a brand. Common practice, no source: three to five.", low=1, high=50,
    )  # fmt: skip
    brand_searches_low: float = _setting(
        10_000, "Searches a month from which a good carries its part of a brand. Common practice, no source.",
        low=1, high=1e9,
    )  # fmt: skip
    brand_searches_high: float = _setting(
        50_000, "Searches a month up to which it does; more is fought over. Common practice, no source.",
        low=1, high=1e9,
    )  # fmt: skip
    open_success: float = _setting(
        0.3, "Openness of a category: weight of how surely launches work. Weights count in relation to one "
        "another. Our choice.", low=0, high=100,
    )  # fmt: skip
    open_newcomers: float = _setting(
        0.3, "Openness: weight of what listings sell that came within a year. Our choice.", low=0, high=100,
    )  # fmt: skip
    open_spread: float = _setting(
        0.2, "Openness: weight of what the five most clicked listings leave. Our choice.", low=0, high=100,
    )  # fmt: skip
    open_reviews: float = _setting(
        0.2, "Openness: weight of the reviews a newcomer competes with, the fewer the more open. Our "
        "choice.", low=0, high=100,
    )  # fmt: skip
    settled_share: float = _setting(
        0.4, "Settledness of a category: weight of what listings over two years old sell. Our choice.",
        low=0, high=100,
    )  # fmt: skip
    settled_age: float = _setting(
        0.3, "Settledness: weight of the age of what is sold. Our choice.", low=0, high=100,
    )  # fmt: skip
    settled_reviews: float = _setting(
        0.3, "Settledness: weight of the reviews of the most clicked listings. Our choice.", low=0, high=100,
    )  # fmt: skip
    tax_rate: float = _setting(
        0.0, "Value added tax on what is sold, as a share of the price without it. Standard rates in Europe: "
        "17% to 27%.", low=0, high=1,
    )  # fmt: skip
    tax_included: int = _setting(
        1, "Whether the listings' prices include that tax: 1 for yes, as buyers in Europe see them, "
        "0 for no.",
        low=0, high=1,
    )  # fmt: skip
    brand_dominant: float = _setting(
        0.5, "Signals: share of clicks from which one brand dominates. Common practice, no source.",
        low=0, high=1,
    )  # fmt: skip
    reviews_hardly: float = _setting(
        75, "Verdict: median reviews of the top ten below which reviews are hardly a barrier. Common "
        "practice, no source.", low=0, high=1_000_000,
    )  # fmt: skip
    top3_closed: float = _setting(
        0.6, "Signals: share of clicks of the three most clicked listings from which there is no "
        "room. Our choice; common practice: 90% leaves none.", low=0, high=1,
    )  # fmt: skip
    top3_open: float = _setting(
        0.25, "Signals: share of clicks of the three most clicked listings up to which there is room. "
        "Our choice; common practice: 15% leaves room.", low=0, high=1,
    )  # fmt: skip
    rank_draws: int = _setting(
        1000, "Draws of perturbed weights behind the rank band.", low=20, high=10000
    )
    weight_spread: float = _setting(
        0.25,
        "Relative spread of the weights in a draw. Our choice, within the ±25% range customary in "
        "sensitivity analyses of composite indicators.",
        low=0.01,
        high=2,
    )
    record_years: int = _setting(
        60,
        "Years that a record may go back; older periods in a file are a problem.",
        low=3,
        high=200,
    )
    sleeper_strong: float = _setting(
        12.0, "Units in four weeks of its best quarter from which a listing was strong. Our choice.",
        low=0, high=1e9,
    )  # fmt: skip
    sleeper_share: float = _setting(
        0.1, "Or its share of what the best quarters of its category's listings brought together. Our choice.",
        low=0, high=1,
    )  # fmt: skip
    sleeper_quiet: float = _setting(
        0.25, "Share of that up to which a listing is quiet. Our choice.", low=0, high=1
    )
    correct_estimates: int = _setting(
        0, "1 corrects units estimated from ranks by own sales, where five own listings or more show how far "
        "they miss; 0 leaves them as the ranks say.", low=0, high=1,
    )  # fmt: skip
    watch_rate: float = _setting(
        0.05, "False discovery rate of the watch: of the changes it tells beside facts, at most this share is "
        "chance (Benjamini & Hochberg 1995).", low=0.001, high=0.5,
    )  # fmt: skip
    lead_days: int = _setting(77, "Days from ordering to being on sale.", low=0, high=730)

    changed: tuple[tuple[str, float], ...] = ()

    def __getitem__(self, threshold: Threshold) -> float:
        """The value of a rule's threshold."""
        return dict(self.changed).get(threshold.key, threshold.default)

    @classmethod
    def declared(cls) -> list[Threshold]:
        """The settings that belong to no one rule, in their order."""
        return [
            Threshold(f.name, getattr(DEFAULTS, f.name), **f.metadata)
            for f in fields(cls)
            if f.name != "changed"
        ]

    def as_dict(self) -> dict[str, float]:
        """All settings by name, as stored with every result."""
        own = {f.name: getattr(self, f.name) for f in fields(self) if f.name != "changed"}
        return {**own, **dict(self.changed)}

    @classmethod
    def from_dict(cls, stored: Mapping[str, float]) -> Settings:
        """What ``as_dict`` gave."""
        names = {f.name for f in fields(cls)}
        own = {name: value for name, value in stored.items() if name in names}
        changed = tuple((name, value) for name, value in stored.items() if name not in names)
        return cls(**own, changed=changed)  # type: ignore[arg-type]

    def with_pairs(self, pairs: Iterable[str], thresholds: Iterable[Threshold] = ()) -> Settings:
        """A copy with ``key=value`` pairs applied, those of ``thresholds`` among them.

        Raises CoreError that names the pair and the remedy.
        """
        own: dict[str, float] = {}
        changed = dict(self.changed)
        known = {one.key: one for one in self.declared()}
        ruled = {threshold.key: threshold for threshold in thresholds}
        for pair in pairs:
            key, sep, text = pair.partition("=")
            if not sep:
                raise CoreError(
                    f"“{pair}” is not a setting: write key=value, as in drift_rate=0.1."
                )
            wanted = known.get(key) or ruled.get(key)
            if wanted is None:
                names = ", ".join(sorted([*known, *ruled]))
                raise CoreError(f"There is no setting “{key}”. Known: {names}.")
            (own if key in known else changed)[key] = _parse(wanted, text)
        made: Settings = replace(self, **own, changed=tuple(changed.items()))  # type: ignore[arg-type]
        for low, high in _ORDERED:
            if getattr(made, low) > getattr(made, high):
                raise CoreError(f"{low} may not exceed {high}.")
        return made


_ORDERED = (
    ("evergreen_best13", "seasonal_best13"), ("top3_open", "top3_closed"),
    ("reviews_hardly", "review_limit"),
)  # fmt: skip


def _parse(wanted: Threshold, text: str) -> float:
    whole = isinstance(wanted.default, int)
    try:
        value: float = int(text) if whole else float(text)
    except ValueError:
        kind = "a whole number" if whole else "a number"
        raise CoreError(f"Setting {wanted.key} needs {kind}; got “{text}”.") from None
    if not wanted.low <= value <= wanted.high:
        raise CoreError(
            f"Setting {wanted.key} lies between {wanted.low} and {wanted.high}; got {text}."
        )
    return value


DEFAULTS = Settings()
