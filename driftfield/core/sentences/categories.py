"""What is said of a category, from its figures by key; None is unknown."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from driftfield.core.base import format_money


def _percent(share: float) -> str:
    """A share in percent; what is less than half of one is told as such."""
    return "under 0.5%" if 0 < share < 0.005 else f"{share:.0%}"


def _many(number: float, one: str, more: str) -> str:
    return f"{number:,.0f} {one if number == 1 else more}"


def openness_sentence(figures: Mapping[str, Any]) -> str:
    """How easily newcomers got in, with its place and how firm that is."""
    value = figures["openness"]
    if value is None:
        return (
            "How open it is cannot be told: too little is known of its launches, sales and clicks."
        )
    place = _place(figures, "openness")
    return f"Openness {value:.0f} of 100: {place}, the most open first{_sure(figures, 'openness')}."


def settledness_sentence(figures: Mapping[str, Any]) -> str | None:
    """How old and entrenched what sells is."""
    value = figures["settledness"]
    if value is None:
        return None
    place = _place(figures, "settledness")
    return f"Settledness {value:.0f} of 100: {place}, the most settled first{_sure(figures, 'settledness')}."


def _place(figures: Mapping[str, Any], name: str) -> str:
    return f"{ordinal(int(figures[f'{name}_rank']))} of {int(figures[f'{name}_among']):,}"


def _sure(figures: Mapping[str, Any], name: str) -> str:
    """How far its place moves when the weights are shaken."""
    low, high = (figures[f"{name}_{end}"] for end in ("rank_low", "rank_high"))
    if low is None or high is None:
        return ""
    return "" if low == high else f"; {ordinal(low)} to {ordinal(high)} if the weights are shaken"


def ordinal(number: int) -> str:
    """A place, as in “1st”, “12th” and “23rd”."""
    teens = 10 < number % 100 < 14
    return f"{number:,}{'th' if teens else {1: 'st', 2: 'nd', 3: 'rd'}.get(number % 10, 'th')}"


def newcomers_sentence(figures: Mapping[str, Any]) -> str:
    """Who came lately, and what they sell."""
    many, share = figures["newcomers.listings_52w"], figures["newcomers.units_share_52w"]
    if many is None:
        return "When its listings were launched is not known."
    came = f"{_many(many, 'listing', 'listings')} came within 52 weeks"
    if not many:
        return "No listing is known to have come within 52 weeks."
    if share is None:
        return f"{came}; what they sell is not known."
    return f"{came} and made {_percent(share)} of the units sold in them."


def launches_sentence(figures: Mapping[str, Any]) -> str | None:
    """What became of the launches that could be judged, in season."""
    judged, won = figures["entry.judged"], figures["entry.successes"]
    if not judged:
        return None
    low, high = figures["entry.success_low"], figures["entry.success_high"]
    return (
        f"Of {_many(judged, 'launch', 'launches')} that can be judged {won:.0f} reached what their niche’s "
        f"established listings sell, the season taken out ({_percent(low)} to {_percent(high)})."
    )


def lorenz_sentence(figures: Mapping[str, Any]) -> str | None:
    """How few listings make most of the revenue."""
    most, nearly = figures["lorenz.share_for_80"], figures["lorenz.share_for_90"]
    if most is None:
        return None
    return f"{_percent(most)} of the listings make 80% of a year’s revenue, {_percent(nearly)} make 90%."


def brand_sentence(figures: Mapping[str, Any]) -> str | None:
    """What the brand with most clicks holds."""
    share = figures["competition_parts.top_brand_share"]
    return None if share is None else f"The first brand holds {_percent(share)} of the clicks."


def category_sentences(figures: Mapping[str, Any]) -> list[str]:
    """What a category is like to come into: open or settled, who came, who holds it."""
    found = [
        openness_sentence(figures), settledness_sentence(figures), newcomers_sentence(figures),
        launches_sentence(figures), lorenz_sentence(figures), brand_sentence(figures),
    ]  # fmt: skip
    return [sentence for sentence in found if sentence]


def prices_sentence(median: float | None, then: float | None, currency: str) -> str:
    """What its listings cost in the middle, and a year ago."""
    if median is None:
        return "What its listings cost is not known."
    now = f"Half of its listings cost {format_money(median, currency)} or more"
    if then is None:
        return f"{now}; what they cost a year ago is not known."
    return f"{now}; a year ago {format_money(then, currency)}."


def holders_sentence(
    what: str, plural: str, count: int, first: str, share: float | None, selling: int | None, before: int | None
) -> str:  # fmt: skip
    """Who sells, and whether they are more or fewer than a year before; ``what`` as in “brand”."""
    if not count:
        return f"Its {plural} are not known."
    lead = f"Its listings name {_many(count, what, plural)}"
    if share is not None:
        lead += f"; {first} makes most, {_percent(share)} of a year’s revenue"
    if selling is None or before is None:
        return f"{lead}."
    return f"{lead}. {selling:,} sold something in the last 52 weeks, {before:,} in the 52 before."


def wanted_sentence(wanted: Sequence[str], oversupplied: Sequence[str], known: bool) -> str:
    """Which values of attributes sell beyond their share of the listings, and which below it."""
    if not known:
        return "What its listings are made of, and what of it sells, is not known."
    if not wanted and not oversupplied:
        return "Nothing sells clearly more or less than its share of the listings."
    found = []
    if wanted:
        found.append(f"wanted beyond its share of the listings: {', '.join(wanted)}")
    if oversupplied:
        found.append(f"offered beyond what is bought: {', '.join(oversupplied)}")
    text = "; ".join(found)
    return f"{text[0].upper()}{text[1:]}."


def returned_sentence(
    rate: float | None, above: float | None, above_name: str, more: Sequence[str], less: Sequence[str],
    beside: str,
) -> str:  # fmt: skip
    """What comes back, and what comes back for more or less often than beside it."""
    if rate is None and not more and not less:
        return "What comes back, and why, is not known."
    found = []
    if rate is not None:
        against = f", {_percent(above)} in {above_name}" if above is not None else ""
        found.append(f"{_percent(rate)} comes back{against}.")
    if more:
        found.append(f"More often than in {beside}: {', '.join(more)}.")
    if less:
        found.append(f"Less often: {', '.join(less)}.")
    return " ".join(found)


def shared_sentence(what: str, shared: Sequence[tuple[str, str, int, int, int, int]]) -> str | None:
    """What some listings have in common: attribute, value, how many of them of how many, and of the others."""
    if not shared:
        return None
    told = [
        f"{held} of {chosen} have {attribute} {value}, {others_held} of the other {others}"
        for attribute, value, held, chosen, others_held, others in shared
    ]
    return f"What {what} have in common: {'; '.join(told)}."
