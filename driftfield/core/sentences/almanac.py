"""What is to be done for a season, or happens in it, in words."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from driftfield.core.base import format_day, format_share
from driftfield.core.market import AlmanacRow, Happening, ShownSeason

SOON = timedelta(days=28)
ONLY = 0.9995  # Share of a year from which on a season is the only one.
NAMED = 3  # Names that a sentence gives; of more it gives the first and counts the rest.


def happening_title(one: Happening, name: str) -> str:
    """What is to be done or happens, as the title of an entry in a calendar."""
    return {
        "order": f"Order {name} for the full season",
        "order_half": f"Last day to order {name} for half of the season",
        "rise": f"{name}: the season starts to rise",
        "peak": f"{name}: peak of the season",
        "wind_down": f"{name}: the season winds down",
    }[one.what]


def happening_sentences(one: Happening, lead_days: int) -> list[str]:
    """What an entry in a calendar says besides."""
    season = one.season
    on_sale = format_day(one.day + timedelta(days=lead_days))
    arrives = f"With a lead time of {lead_days} days the goods are on sale by {on_sale}"
    lead = {
        "order": f"{arrives}, when the season starts to rise. Half of it is still caught when ordering by "
        f"{format_day(season.open_until)}.",
        "order_half": f"{arrives}, when half of the season’s demand is still to come. Ordered later, less than "
        "half is caught.",
        "rise": f"To be on sale by then, order by {format_day(season.order_by)} (lead time {lead_days} days).",
        "peak": f"It peaks until {format_day(season.peak_end)}.",
        "wind_down": f"It is over after {format_day(season.end)}.",
    }[one.what]  # fmt: skip
    rest = f"Peak {format_day(season.peak_start)} to {format_day(season.peak_end)}. "
    share = (
        "It is the year’s only season."
        if season.share >= ONLY
        else f"The season has {format_share(season.share)} of a year’s demand."
    )
    return [lead, share if one.what == "peak" else rest + share]


def almanac_sentences(rows: Sequence[tuple[str, AlmanacRow]], planning: date) -> list[str]:
    """What is to be ordered now and soon, and what starts to rise, among rows by name.

    To be ordered now is what is still open and already too late for all of its season; to be ordered soon, what
    is due for all of it within four weeks.
    """
    now, soon, rising = [], [], []
    until = planning + SOON
    first = sorted(rows, key=lambda one: due.day if (due := one[1].next(planning)) else date.max)
    for name, row in first:
        due = row.next(planning)
        if due is not None and due.what == "order_half":
            caught = format_share(due.season.caught)
            now.append(f"{name} ({caught} still caught; half until {format_day(due.day)})")
        elif due is not None and due.day <= until:
            soon.append(f"{name} (by {format_day(due.day)})")
        rises = [season for season in row.seasons if planning <= season.rise <= until]
        if rises:
            rising.append(f"{name}{_stands(rises[0])}")
    found = []
    if now:
        found.append(f"Still open, too late for the full season: {_named(now)}.")
    if soon:
        found.append(f"To order within four weeks: {_named(soon)}.")
    if rising:
        found.append(f"Starts to rise within four weeks: {_named(rising)}.")
    return found or [
        "Nothing is due within four weeks, and no season starts to rise. What comes next stands below."
    ]


def _stands(season: ShownSeason) -> str:
    """How high a subject's usual year stands now."""
    return "" if season.level is None else f" (now at {season.level:.0%} of the year’s highest)"


def _named(texts: Sequence[str]) -> str:
    if len(texts) > NAMED:
        return f"{texts[0]} and {len(texts) - 1:,} more"
    return " and ".join(filter(None, [", ".join(texts[:-1]), texts[-1]]))
