"""Own part in words: how one's own sales of a niche moved, and how much of that was the market's."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from driftfield.core.base import (
    format_change,
    format_day,
    format_interval,
    format_limit,
    format_number,
    format_share,
)
from driftfield.core.supply import Against

NAMED = 2  # Listings or terms that a sentence names.
CLOSE = 0.05  # By how much own listings must be told too high or too low for it to be said.
LEAST_POINT = 0.005  # Of the clicks of a niche that a listing must gain to be named.


def own_part_sentences(record: Mapping[str, Any]) -> list[str]:
    """All that a record of own part says, the verdict first; see ``exchange.own_part``."""
    told = [
        moved_sentence(record), basis_sentence(record), share_sentence(record), reported_sentence(record),
        clicks_sentence(record), silent_sentence(record),
    ]  # fmt: skip
    return [one for one in told if one]


def headline_of(record: Mapping[str, Any]) -> Mapping[str, Any] | None:
    """The comparison that is told first."""
    place = record["headline"]
    found: Mapping[str, Any] | None = None if place is None else record["comparisons"][place]
    return found


def moved_sentence(record: Mapping[str, Any]) -> str:
    """How own sales moved, and what made them."""
    one = headline_of(record)
    if one is None:
        return (
            "How your sales moved beside the market is not known: that takes 26 weeks of own sales, and of "
            "what listings here sold or buyers searched, with under a quarter missing."
        )
    return comparison_sentence(one)


def comparison_sentence(one: Mapping[str, Any]) -> str:
    """One comparison of own sales with the market."""
    when = f"{one['length']} to {format_day(date.fromisoformat(one['to']))}"
    before = "a year before" if one["against"] == Against.YEAR else "in as many before"
    now, then = format_number(one["own_now"]), format_number(one["own_then"])
    head = f"{one['verdict']}: " if one["verdict"] else ""
    if one["own_then"] == 0:
        return f"{head}you sold {now} units in the {when} and none {before}."
    if one["own_now"] == 0:
        return f"{head}you sold none in the {when} and {then} {before}."
    parts = []
    if one["season"] is not None and abs(one["season"]) >= 0.005:
        parts.append(f"the season made {format_limit(one['season'])} of that")
    if one["market"] is not None:
        more = "" if parts else " made"
        parts.append(f"the market{more} {format_limit(one['market'])}{_interval(one, 'market')}")
    elif one["whole_market"] is not None:
        parts.append(
            "the market with its season, which follows a moving feast, made "
            f"{format_limit(one['whole_market'])}"
        )
    parts.append(f"your share {format_limit(one['share'])}{_interval(one, 'share')}")
    split = f"{', '.join(parts[:-1])} and {parts[-1]}"
    return (
        f"{head}you sold {now} units in the {when}, {format_change(one['own'])} from {then} {before}; "
        f"{split}."
    )


def _interval(one: Mapping[str, Any], name: str) -> str:
    low, high = one[f"{name}_low"], one[f"{name}_high"]
    if low is None or high is None:
        return ""
    return f" ({format_interval(low, high)})"


def basis_sentence(record: Mapping[str, Any]) -> str | None:
    """What the market is told by, where that is not what was sold."""
    if record["by"] == "units":
        if record["added"]:
            return "What is told of the niche has none of your listings; yours are added to it."
        return None
    return (
        "What is sold here is not known, so the market is told by its searches: where buyers of the whole "
        "niche buy more or less often than they did, that counts as your share."
    )


def share_sentence(record: Mapping[str, Any]) -> str | None:
    """One's share of what is sold."""
    one = headline_of(record)
    if one is None or one["share_now"] is None or not one["own_now"]:
        return None
    if one["share_now"] > 1:
        return (
            "You sold more than is told of the whole niche, so its figures miss some of what is sold; the "
            "share is that of what is told."
        )
    then = "" if one["share_then"] is None else f", after {format_share(one['share_then'])}"
    return f"That is {format_share(one['share_now'])} of what is known to be sold here{then}."


def reported_sentence(record: Mapping[str, Any]) -> str | None:
    """How far the figures of one's own listings miss, and what that would make of the share."""
    told = record["reported"]
    if told is None:
        return None
    listings = "listing" if told["listings"] == 1 else f"{told['listings']} listings"
    text = (
        f"In the last year the market’s figures say {format_number(told['told'])} units of your {listings} "
        "where you sold "
        f"{format_number(told['own'])}, {told['ratio']:.2f} times as many"
    )
    one = headline_of(record)
    if abs(told["ratio"] - 1) < CLOSE or one is None or not one["share_now"] or not told["ratio"]:
        return f"{text}."
    share = one["share_now"] / told["ratio"]
    if share > 1:
        return f"{text}."
    return (
        f"{text}; if they miss what others sell as far, which is assumed, your share is "
        f"{format_share(share)}."
    )


def clicks_sentence(record: Mapping[str, Any]) -> str | None:
    """Where the clicks went, or came from."""
    lost = record["lost"]
    if lost is None:
        return None
    then, now = lost["share_then"], lost["share_now"]
    text = (
        f"Of the clicks here your listings took {format_share(then)} and take {format_share(now)}"
    )
    fell = now < then
    others = [
        one
        for one in lost["listings"]
        if not one["mine"] and (one["gained"] if fell else -one["gained"]) >= LEAST_POINT
    ][:NAMED]
    if not others or abs(now - then) < LEAST_POINT:
        return f"{text}."
    names = " and ".join(f"{one['name']} ({_points(one['gained'])})" for one in others)
    return f"{text}; {'most was gained by' if fell else 'most was lost by'} {names}."


def _points(share: float) -> str:
    sign = "+" if share > 0 else "−"
    return f"{sign}{abs(share) * 100:.1f} points"


def silent_sentence(record: Mapping[str, Any]) -> str | None:
    """Periods of which a listing has no line, taken as ones in which it sold nothing."""
    many = record["silent"]
    if not many:
        return None
    period = record["period"]
    return (
        f"Of your listings {many} {period if many == 1 else f'{period}s'} between others have no line; it is "
        "assumed that nothing was sold then."
    )


def own_total_sentence(record: Mapping[str, Any]) -> str:
    """All niches together."""
    niches = f"{record['niches']} {'niche' if record['niches'] == 1 else 'niches'}"
    before = "a year before" if record["against"] == Against.YEAR else "in as many before"
    text = (
        f"In {niches} together you sold {format_number(record['own_now'])} in {record['length']} and "
        f"{format_number(record['own_then'])} {before}"
    )
    if record["own"] is None or record["share"] is None:
        return f"{text}."
    return (
        f"{text}, {format_change(record['own'])}: the markets, with their seasons, made "
        f"{format_limit(record['market'])}{_interval(record, 'market')} and your shares "
        f"{format_limit(record['share'])}{_interval(record, 'share')}."
    )
