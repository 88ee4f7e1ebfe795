"""What a listing's own figures say: whether it sleeps, what its price may do, who piles in."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from driftfield.core.base import format_change, format_money

WAR, FEW = 0.5, 5  # Offers ahead of units by so much, of so many, announce a price war; our choice.


def _day(text: object) -> str:
    day = date.fromisoformat(str(text))
    return f"{day.day} {day:%b %Y}"


def _units(many: float) -> str:
    return f"{many:,.0f} {'unit' if round(many) == 1 else 'units'}"


def listing_sentences(figures: Mapping[str, Any], currency: str = "") -> list[str]:
    """The sentences of a listing's verdict that are its kind's alone; amounts in ``currency``, ISO 4217."""
    sentences = [
        estimate_sentence(figures), correction_sentence(figures), own_sentence(figures),
        expected_sentence(figures), price_sentence(figures, currency), offers_sentence(figures),
    ]  # fmt: skip
    return [sentence for sentence in sentences if sentence]


def estimate_sentence(figures: Mapping[str, Any]) -> str | None:
    """Units that are estimated from the rank, with how far such estimates miss."""
    units = figures["listing.estimated_units"]
    if units is None:
        return None
    low, high = figures["listing.estimated_low"], figures["listing.estimated_high"]
    text = (
        f"About {_units(units)} a year ({low:,.0f} to {high:,.0f}), estimated from its sales rank by "
        f"{figures['listing.estimated_from']:,.0f} listings of its category"
    )
    if figures["listing.estimated_error"] is not None:
        text += (
            f"; estimates of these miss what they sold by {figures['listing.estimated_error']:.0%}"
        )
    return f"{text}."


def correction_sentence(figures: Mapping[str, Any]) -> str | None:
    """What own sales say of such an estimate, and whether it is corrected by them."""
    if figures["listing.estimated_units"] is None or figures["listing.correction"] is None:
        return None
    keys = (
        "correction",
        "correction_low",
        "correction_high",
        "correction_from",
        "correction_assumed",
    )
    ratio, low, high, many, assumed = (figures[f"listing.{key}"] for key in keys)
    text = f"{missed_text(ratio, low, high, many, assumed)}."
    if figures["listing.corrected"] == "yes":
        return f"{text} This estimate is corrected by that."
    return f"{text} This estimate is not corrected by that."


def missed_text(ratio: float, low: float, high: float, many: float, assumed: float) -> str:
    """How own sales compare with estimates from ranks, and what that shows; no full stop."""
    if low > 1:
        shows = "such estimates come out too low"
    elif high < 1:
        shows = "such estimates come out too high"
    else:
        shows = "which does not show them to be too high or too low"
    taken = f", taking it that nobody else sold {_many(assumed, many)}" if assumed else ""
    return (
        f"By {many:,.0f} listings of your own{taken}, you sold {ratio:.2f} times ({low:.2f} to {high:.2f}) "
        f"what ranks say: {shows}"
    )


def _many(assumed: float, many: float) -> str:
    return "them" if assumed == many else f"{assumed:,.0f} of them"


def own_sentence(figures: Mapping[str, Any]) -> str | None:
    """What the researcher sold of it, and what would be estimated."""
    sold, ratio = figures["listing.own_units"], figures["listing.own_ratio"]
    if sold is None:
        return None
    text = f"You sold {_units(sold)} of it in the last year"
    return f"{text}; its sales rank would say about {sold / ratio:,.0f}." if ratio else f"{text}."


def sleeper_sentences(figures: Mapping[str, Any], currency: str = "") -> list[str]:
    """Whether it sleeps until its season, why, when that comes and what to expect; none for others."""
    sentences = [
        asleep_sentence(figures, currency), expected_sentence(figures), season_sentence(figures),
    ]  # fmt: skip
    return [sentence for sentence in sentences if sentence]


def asleep_sentence(figures: Mapping[str, Any], currency: str = "") -> str | None:
    """Whether it sleeps until its season, and why; or sells for its season alone."""
    state = figures["sleep.state"]
    if state is None:
        return None
    estimated = figures["basis"] == "ranks"
    strong, now = figures["sleep.strong_4w"], figures["listing.units_4w"]
    many = (
        f"about {_units(strong)}, estimated from its sales rank," if estimated else _units(strong)
    )
    if state == "In season":
        return (
            f"It sells for its season: {many} in four weeks of the best quarter, little outside "
            "of it."
        )
    selling = "" if estimated else ", and how many it sells now is unknown"
    if now is not None:
        selling = f", {now:,.0f} in the last four"
    around = f"{date.fromisoformat(str(figures['sleep.best_on'])):%B %Y}"
    return (
        f"It sleeps: {many} in four weeks of its last season, around {around}{selling}. "
        f"{_why(figures, currency)}"
    )


def season_sentence(figures: Mapping[str, Any]) -> str | None:
    """When the season of a sleeper comes again, and by when to order for it."""
    if figures["sleep.state"] is None:
        return None
    rise = figures["sleep.rise"]
    if rise is None:
        return "When its season rises again is unknown."
    late, caught = figures["sleep.order_in_days"] < 0, figures["sleep.caught"]
    order_by = _day(figures["sleep.order_by"])
    due = (
        f"too late for all of it since {order_by}" if late else f"order by {order_by} for all of it"
    )
    return (
        f"By {figures['sleep.season_from']}, the next season of which an order can still meet half or more "
        f"rises on {_day(rise)}: {due}. Ordered on the planning date, goods meet {caught:.0%} of it."
    )


def expected_sentence(figures: Mapping[str, Any]) -> str | None:
    """What a sleeper's coming season brings, if it is like the last one."""
    expected, low = figures["sleep.expected_4w"], figures["sleep.expected_low"]
    if figures["sleep.state"] != "Asleep" or expected is None or low is None:
        return None
    return (
        "If its next season is like the last and the drift goes on, four weeks of its best quarter bring about "
        f"{_units(expected)} ({low:,.0f} to {figures['sleep.expected_high']:,.0f})."
    )


def _why(figures: Mapping[str, Any], currency: str) -> str:
    """Why it is quiet, all reasons that hold."""
    reasons = []
    if figures["sleep.by_season"] == "yes":
        usual = figures["sleep.usual_4w"]
        reasons.append(f"the calendar leaves about {usual:,.0f} of them at this time of the year")
    if figures["sleep.out_of_stock"] == "yes":
        reasons.append(
            f"it was in stock for {figures['listing.in_stock']:.0%} of the last four weeks"
        )
    if figures["sleep.unranked"] == "yes":
        reasons.append("it has lost its sales rank")
    if figures["sleep.dearer"] == "yes":
        then, price = figures["sleep.price_then"], figures["listing.price"]
        reasons.append(
            f"it costs {format_money(price, currency)}, then {format_money(then, currency)} "
            f"({format_change(price / then - 1)})"
        )
    return f"Why: {', and '.join(reasons)}."


def price_sentence(figures: Mapping[str, Any], currency: str = "") -> str | None:
    """The level that its price may fall back to, where it is clearly above that."""
    price, floor, before = (
        figures["listing.price"],
        figures["listing.price_floor"],
        figures["listing.price_before"],
    )
    if price is None or floor is None or before is None or before < floor:
        return None
    month = f"{date.fromisoformat(str(figures['listing.price_before_on'])):%B %Y}"
    return (
        f"It costs {format_money(price, currency)}; in {month} it was {format_money(before, currency)}, and "
        f"for a tenth of the last year {format_money(floor, currency)} or less: its price may fall back there."
    )


def offers_sentence(figures: Mapping[str, Any]) -> str | None:
    """Whether offers grow clearly faster than what is sold."""
    lead = figures["listing.offers_lead"]
    if lead is None or lead < WAR or (figures["listing.offers"] or 0) < FEW:
        return None
    return (
        f"Offers run ahead of sales: {format_change(figures['listing.offers_yoy'])} in a year, units "
        f"{format_change(figures['listing.units_yoy'])}. Prices may come under pressure."
    )
