"""Who holds a niche, what its buyers type and what they complain of: the answer first, then the evidence.

From a niche's figures by key, and its terms' figures; None is unknown. As in ``verdict``.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from driftfield.core.base import DEFAULTS, Settings, format_change, format_number, format_share
from driftfield.core.market import CLEARLY

MAINLY = 0.5  # Share from which something is most of it.


def who_holds(figures: Mapping[str, Any], settings: Settings = DEFAULTS) -> list[str]:
    """Who takes the clicks, what a newcomer competes with, and how newcomers fared."""
    sentences = [
        *_holders(figures, settings),
        _barrier(figures, settings),
        _launches(figures),
        _prices(figures),
    ]
    found = [sentence for sentence in sentences if sentence]
    return found or ["Not known: term_clicks and listings would tell who takes the clicks."]


def _holders(figures: Mapping[str, Any], settings: Settings) -> list[str]:
    """One brand, a few listings, or nobody; the brand first where it has more than the listings tell."""
    clicks, brand = _clicks(figures, settings), _brand(figures, settings)
    share = figures["competition_parts.top_brand_share"]
    dominant = share is not None and share > settings.brand_dominant
    return [brand, clicks] if dominant else [clicks, brand]


def _clicks(figures: Mapping[str, Any], settings: Settings) -> str:
    top3, most, breadth = (
        figures["competition_parts.top3_share"],
        figures["competition_parts.top3_share_high"],
        figures["competition_parts.click_breadth"],
    )
    if top3 is None:
        return ""
    # Listings that are not in the figures may be among the three: then their share may be higher.
    most = top3 if most is None else max(most, top3)
    if top3 >= settings.top3_closed:
        head = "A few listings dominate"
    elif most <= settings.top3_open:
        head = "Nobody dominates"
    elif most < settings.top3_closed:
        head = "Some listings are ahead"
    else:
        head = "Not proven that anyone does"
    text = f"{head}: the three most clicked take {format_share(top3)} of the clicks"
    if format_share(most) != format_share(top3):
        text = (
            f"{head}: the three most clicked take {format_share(top3)} to {format_share(most)} of "
            "the clicks"
        )
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
        return f"One brand dominates, with {format_share(brand)} of the clicks."
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
    return f"The top ten have {format_number(reviews)} reviews in the middle: {barrier}."


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
    return f"Prices in 26 weeks: {format_change(change)}; {fell}."


def what_they_complain_of(
    figures: Mapping[str, Any], themes: Sequence[Mapping[str, Any]]
) -> list[str]:
    """What stands out among complaints and returns, and how much is returned.

    ``themes`` are rows with kind, tone, theme, mentions, share, low, high, usual and special.
    """
    sentences: list[str] = []
    for of, head, kind in (("complaints", "", "review"), ("reasons", "Of returns: ", "return")):
        rows = [one for one in themes if (one["kind"], one["tone"]) == (kind, "complaint")]
        total = sum(one["mentions"] for one in rows)
        if not total:
            continue
        first = rows[0]
        # Ahead of the second for sure, and much of it, or no more than one among several.
        ahead = len(rows) == 1 or first["low"] > rows[1]["high"]
        how = "no one thing" if not ahead else "mostly" if first["share"] >= MAINLY else "above all"
        text = f"{head}{how if head else how.capitalize()}"
        text += f" “{first['theme']}”: " if ahead else f": “{first['theme']}” is "
        text += (
            f"{format_share(first['share'])} of {format_number(total)} {of} "
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
        beside = ""
        if ratio is not None:
            alike = 0.95 <= ratio < 1.05
            beside = (
                ", as in the category"
                if alike
                else f", {format_number(ratio)} times the category's rate"
            )
        sentences.append(f"{format_share(rate)} of what is bought is returned{beside}.")
    return sentences or ["Not known: feedback would tell what buyers say and send back."]


def what_they_write(themes: Sequence[Mapping[str, Any]], texts: int, leaders: int) -> list[str]:
    """What is complained of most in what buyers write, how many leaders share it, what grows, what is praised.

    ``themes`` are rows with name, tone, share, low, high, grown, late, early, sharing and lacking, most said
    first; ``texts``: how many were read; ``leaders``: most clicked listings that something is written about.
    """
    if not texts:
        return []
    of = f"{format_number(texts)} {'text' if texts == 1 else 'texts'}"
    complaints = [one for one in themes if one["tone"] == "complaint" and one["share"]]
    praise = [one for one in themes if one["tone"] == "praise" and one["share"]]
    if not complaints and not praise:
        return [f"Nothing is said often enough in {of} to be told as a theme."]
    sentences = []
    if complaints:
        first, *others = complaints
        ahead = not others or first["low"] > others[0]["high"]
        text = (
            f"{'Above all' if ahead else 'No one complaint leads'}: “{first['name']}” is said in "
            f"{format_share(first['share'])} of {of} ({format_share(first['low'])} to "
            f"{format_share(first['high'])})"
        )
        if leaders:
            text += f", of {first['sharing']} of the {leaders} leaders that have texts"
        sentences.append(f"{text}.")
    worse = [one for one in complaints if one["grown"] == "more"]
    if worse:
        named = ", ".join(
            f"“{one['name']}” ({format_share(one['late'])} after {format_share(one['early'])})"
            for one in worse[:3]
        )
        sentences.append(f"Said more often than a year ago: {named}.")
    if praise:
        best = praise[0]
        sentences.append(
            f"Praised most: “{best['name']}” ({format_share(best['low'])} to {format_share(best['high'])})."
        )
    return sentences


def what_buyers_type(figures: Mapping[str, Any], terms: Sequence[Mapping[str, Any]]) -> list[str]:
    """How many terms there are, how much the first holds, whose names are typed, and where room is.

    ``terms`` are rows of ``core.terms``' figures with the term itself, most searched first.
    """
    total = sum(term["searches_52w"] or 0 for term in terms)
    if not terms or not total:
        return ["Not known: term_weeks would tell how often its terms are typed."]
    first = terms[0]
    share = (first["searches_52w"] or 0) / total
    branded = figures["branded_share"]
    if len(terms) == 1:
        answer = f"One term, “{first['term']}”."
    elif share >= MAINLY:
        answer = f"Mostly “{first['term']}”: {format_share(share)} of the searches, of {len(terms)} terms."
    else:
        answer = (
            f"Many words: {len(terms)} terms, of which “{first['term']}” has {format_share(share)} of the "
            "searches."
        )
    sentences = [answer]
    if branded and branded >= MAINLY:
        sentences.insert(0, f"Mostly brand names: {format_share(branded)} of the searches.")
    elif branded:
        sentences.append(f"Brand words are in {format_share(branded)} of the searches.")
    if (room := figures["competition_parts.open_terms"]) is not None:
        sentences.append(
            f"{format_share(room)} of the searches go to terms that are not dominated by three listings."
        )
    best = _willing(terms, figures["purchase_rate"])
    if best is not None:
        sentences.append(
            f"Of the terms that matter, “{best['term']}” converts best: "
            f"{format_share(best['purchase_rate'])} of its searches end in a purchase, "
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
