"""What the figures of a brand or a seller say: what it carries, what carries it, and how its launches did."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from driftfield.core.base import format_money
from driftfield.core.market import BRAND, SELLER, Kind

FEW = 4  # Listings under which it is not told how few of them make most of the revenue.
QUICK, SLOW = (
    1 / 0.2,
    1 / 0.08,
)  # Units a review between which reviews come quickly; common practice, no source.
ESTIMATED = 0.005  # Part of its units from which it is told that they are estimated.


def _many(number: float, one: str, more: str) -> str:
    return f"{number:,.0f} {one if number == 1 else more}"


def holder_sentences(figures: Mapping[str, Any], kind: Kind, currency: str = "") -> list[str]:
    """The sentences of a verdict that brands and sellers alone have; amounts in ``currency``, ISO 4217."""
    sentences = [
        carries_sentence(figures, kind, currency), few_sentence(figures), moved_sentence(figures),
        launched_sentence(figures) if kind == BRAND else None,
        reviews_sentence(figures) if kind == BRAND else None, estimated_sentence(figures),
        assumed_sentence(figures) if kind == SELLER else None,
    ]  # fmt: skip
    return [sentence for sentence in sentences if sentence]


def carries_sentence(figures: Mapping[str, Any], kind: Kind, currency: str = "") -> str:
    """What it has on sale."""
    listings = figures["carried.listings"]
    if not listings:
        return "It has nothing on sale any more."
    parts = [_many(listings, "listing", "listings")]
    if kind == SELLER and figures["carried.brands"] is not None:
        parts.append(f"of {_many(figures['carried.brands'], 'brand', 'brands')}")
    if figures["carried.categories"] is not None:
        parts.append(f"in {_many(figures['carried.categories'], 'category', 'categories')}")
    text = f"It has {' '.join(parts)} on sale"
    if kind == BRAND and figures["carried.sellers"] is not None:
        text += f", offered by {_many(figures['carried.sellers'], 'seller', 'sellers')}"
    if figures["carried.price"] is not None:
        text += f", at a median price of {format_money(figures['carried.price'], currency)}"
    return f"{text}."


def few_sentence(figures: Mapping[str, Any]) -> str | None:
    """How few of its listings make most of what it earns."""
    share, ever = figures["lorenz.share_for_90"], figures["carried.ever"]
    if share is None or ever is None or ever < FEW:
        return None
    return (
        f"{share:.0%} of the listings whose revenue of the last year is known make 90% of it "
        f"(Gini {figures['lorenz.gini']:.2f})."
    )


def moved_sentence(figures: Mapping[str, Any]) -> str | None:
    """What came and what went within a year."""
    came, went = figures["carried.came_52w"], figures["carried.went_52w"]
    told = [
        f"{_many(many, 'listing', 'listings')} {verb}"
        for many, verb in ((came, "came"), (went, "went"))
        if many is not None
    ]
    return f"Within a year {' and '.join(told)}." if told else None


def launched_sentence(figures: Mapping[str, Any]) -> str | None:
    """How its launches of the year did, with how firm that is."""
    judged, worked = figures["entry.judged"], figures["entry.successes"]
    if not judged:
        return None
    low, high = figures["entry.success_low"], figures["entry.success_high"]
    return (
        f"Of {_many(judged, 'launch', 'launches')} that can be judged {worked:,.0f} worked "
        f"(between {low:.0%} and {high:.0%} of such launches do)."
    )


def reviews_sentence(figures: Mapping[str, Any]) -> str | None:
    """How many units bring a review, and what that means."""
    units = figures["entry.units_per_review"]
    if units is None:
        return None
    text = f"It sells {units:,.1f} units for each review it gains"
    if QUICK <= units <= SLOW:
        text += ", which is quick"
    elif units < QUICK:
        text += ": so many reviews for its sales are unusual"
    return f"{text}."


def estimated_sentence(figures: Mapping[str, Any]) -> str | None:
    """How much of what it sells is estimated from ranks."""
    share = figures["carried.estimated_share"]
    if share is None or share < ESTIMATED:
        return None
    units = figures["carried.estimated_units"]
    return (
        f"{share:.0%} of what it sells, about {units:,.0f} units a year, is estimated from the sales ranks "
        "of its listings."
    )


def knows_sales(figures: Mapping[str, Any]) -> bool:
    """Whether anything is told of what it sells."""
    known = (figures["sales.units_52w"], figures["carried.estimated_units"])
    return any(units is not None for units in known)


def unsold_sentence(figures: Mapping[str, Any], kind: Kind) -> str | None:
    """That nothing is told of what it sells, and why; None where something is."""
    if knows_sales(figures):
        return None
    never = kind == SELLER and figures["carried.lead_share"] == 0
    why = ": it held no lead offer of its listings in the last year" if never else ""
    return f"What it sells is not known{why}."


def assumed_sentence(figures: Mapping[str, Any]) -> str | None:
    """On what assumption sales are told to be a seller's."""
    if not knows_sales(figures):
        return None
    lead = figures["carried.lead_share"]
    held = (
        ""
        if lead is None
        else f"; it held that of its listings for {lead:.0%} of the last year’s periods in which it is known"
    )
    return (
        f"Its sales are assumed to be those of the periods in which it held the lead offer{held}."
    )
