"""Who holds a niche, what its buyers type and what they complain of, in sentences with evidence.

From a niche's figures by key, and its terms' figures; None is unknown. As in ``verdict``.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from driftfield.core.base import DEFAULTS, Settings, format_change, format_number, format_share
from driftfield.core.market import CLEARLY


def who_holds(figures: Mapping[str, Any], settings: Settings = DEFAULTS) -> list[str]:
    """Who takes the clicks, what a newcomer stands beside, and how newcomers fared."""
    sentences = [
        _clicks(figures, settings),
        _brand(figures, settings),
        _barrier(figures, settings),
        _launches(figures),
        _prices(figures),
    ]
    found = [sentence for sentence in sentences if sentence]
    return found or ["Nothing is known of its listings: term_clicks and listings would bring it."]


def _clicks(figures: Mapping[str, Any], settings: Settings) -> str:
    top3, breadth = (
        figures["competition_parts.top3_share"],
        figures["competition_parts.click_breadth"],
    )
    if top3 is None:
        return ""
    if top3 <= settings.top3_open:
        head = "Nobody holds it"
    elif top3 >= settings.top3_closed:
        head = "A few listings hold it"
    else:
        head = "Some listings are ahead"
    text = f"{head}: the three most clicked take {format_share(top3)} of the clicks"
    if breadth is not None:
        text += f", and {format_number(breadth)} take four fifths"
    before = figures["competition_parts.effective_listings_52w_ago"]
    now = figures["competition_parts.effective_listings"]
    if figures["field"] in {"Opening", "Closing"} and before and now:
        way = "opened" if figures["field"] == "Opening" else "closed"
        then = format_number(before)
        text += f"; it has {way} within a year, from {then} equal listings to {format_number(now)}"
    return f"{text}."


def _brand(figures: Mapping[str, Any], settings: Settings) -> str:
    brand = figures["competition_parts.top_brand_share"]
    if brand is None:
        return ""
    if brand > settings.brand_dominant:
        return f"One brand dominates with {format_share(brand)} of the clicks."
    return f"The first brand takes {format_share(brand)}."


def _barrier(figures: Mapping[str, Any], settings: Settings) -> str:
    reviews = figures["review_barrier"]
    if reviews is None:
        return ""
    if reviews < settings.reviews_hardly:
        barrier = "hardly a barrier"
    elif reviews < settings.review_limit:
        barrier = "within reach"
    else:
        barrier = "a head start to make up"
    return f"A newcomer stands beside {format_number(reviews)} reviews in the middle of the top ten: {barrier}."


def _launches(figures: Mapping[str, Any]) -> str:
    launches, judged = figures["entry.launches_52w"], figures["entry.judged"]
    if launches is None:
        return ""
    if not launches:
        return "Nobody has launched here within a year."
    text = f"{format_number(launches)} launched within a year"
    if judged:
        low, high = figures["entry.success_low"], figures["entry.success_high"]
        text += (
            f"; of {format_number(judged)} that can be judged {format_number(figures['entry.successes'])} "
            f"reached the bar, the season taken out "
            f"({format_share(low)} to {format_share(high)} would in the long run)"
        )
    return f"{text}."


def _prices(figures: Mapping[str, Any]) -> str:
    change, falling = figures["pressure.price_change"], figures["pressure.price_falling"]
    if change is None or falling is None:
        return ""
    fell = f"{format_share(falling)} of the listings became cheaper"
    return f"Prices moved {format_change(change)} in 26 weeks; {fell}."


def what_they_complain_of(
    figures: Mapping[str, Any], themes: Sequence[Mapping[str, Any]]
) -> list[str]:
    """What stands out among complaints and returns, and how much is sent back.

    ``themes`` are rows with kind, tone, theme, mentions, share, low, high, usual and special.
    """
    sentences = []
    for head, kind in (("complaints", "review"), ("reasons of returns", "return")):
        rows = [one for one in themes if (one["kind"], one["tone"]) == (kind, "complaint")]
        total = sum(one["mentions"] for one in rows)
        if not total:
            continue
        first = rows[0]
        text = (
            f"Of {format_number(total)} {head} {format_share(first['share'])} are “{first['theme']}” "
            f"({format_share(first['low'])} to {format_share(first['high'])}"
        )
        if first["usual"] is not None:
            text += f"; in the category {format_share(first['usual'])}"
        sentences.append(f"{text}).")
        special = [one for one in rows if one["special"] == "more" and one is not first]
        if special:
            named = ", ".join(f"“{one['theme']}”" for one in special)
            sentences.append(f"Named more often here than in the category: {named}.")
    rate, ratio = figures["barriers.return_rate"], figures["barriers.return_ratio"]
    if rate is not None:
        beside = "" if ratio is None else f", {format_number(ratio)} times the category's"
        sentences.append(f"{format_share(rate)} of what is bought is sent back{beside}.")
    return sentences or [
        "Nothing is known of what buyers say or send back: feedback would bring it."
    ]


def what_buyers_type(figures: Mapping[str, Any], terms: Sequence[Mapping[str, Any]]) -> list[str]:
    """How many terms there are, how much the first holds, whose names are typed, and where room is.

    ``terms`` are rows of ``core.terms``' figures with the term itself, most searched first.
    """
    total = sum(term["searches_52w"] or 0 for term in terms)
    if not terms or not total:
        return ["How often its terms are typed is not known."]
    first = terms[0]
    share = (first["searches_52w"] or 0) / total
    if len(terms) == 1:
        sentences = [f"Buyers type one term, “{first['term']}”."]
    else:
        sentences = [
            f"Buyers type {len(terms)} terms; “{first['term']}” is {format_share(share)} of the searches."
        ]
    if figures["branded_share"]:
        sentences.append(f"Brand words are in {format_share(figures['branded_share'])} of them.")
    if (room := figures["competition_parts.open_terms"]) is not None:
        sentences.append(
            f"{format_share(room)} of the searches go to terms that no three listings close."
        )
    best = _willing(terms, figures["purchase_rate"])
    if best is not None:
        sentences.append(
            f"Of the terms that matter, “{best['term']}” is bought after most: "
            f"{format_share(best['purchase_rate'])} of searches, "
            f"{format_share(figures['purchase_rate'])} over all."
        )
    return sentences


def _willing(terms: Sequence[Mapping[str, Any]], usual: float | None) -> Mapping[str, Any] | None:
    """The term with the highest purchase rate among those whose count of purchases bears it.

    Thirty purchases leave a rate known to about a fifth of itself (Poisson); one beyond the niche's
    by less than that is not singled out.
    """
    known = [term for term in terms if term["purchase_rate"] and (term["purchases_52w"] or 0) >= 30]
    if len(known) < 2 or not usual:
        return None
    best = max(known, key=lambda term: term["purchase_rate"])
    return best if best["purchase_rate"] > CLEARLY * usual else None
