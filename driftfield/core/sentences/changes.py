"""What the watch found, in words: what changed, by how much, how surely, and since when."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any

from driftfield.core.base import (
    FOLD,
    format_change,
    format_day,
    format_interval,
    format_limit,
    format_number,
    format_share,
)
from driftfield.core.market.watch import Change
from driftfield.core.supply import Against

UNADJUSTED = "; a season in prices is not taken out"


def change_sentence(change: Change) -> str:
    """One change as a sentence that stands without its heading."""
    return _SENTENCES[change.aspect.key](change)


def _size(value: float) -> str:
    """A change without its sign, as it stands behind “above” and “below”."""
    return format_limit(value).lstrip("+−")


def _against(value: float) -> str:
    """How something stands to its course."""
    if value >= FOLD - 1:
        return f"at {value + 1:.0f} times their course"
    return f"{_size(value)} {'above' if value > 0 else 'below'} their course"


def _day(day: date | None) -> str:
    return "" if day is None else format_day(day)


def _interval(change: Change) -> str:
    if change.low is None or change.high is None:
        return ""
    return f" ({format_interval(change.low, change.high)})"


def _shares(change: Change) -> str:
    if change.low is None or change.high is None:
        return ""
    return f" ({format_share(change.low)} to {format_share(change.high)})"


def _number(value: Any) -> float:
    return 0.0 if value is None else float(value)


def _off_course(what: str, tail: str = "") -> Callable[[Change], str]:
    def sentence(change: Change) -> str:
        return (
            f"{what.format(curve=change.kind.curve).capitalize()} since {_day(change.since)} "
            f"run {_against(_number(change.now))}{_interval(change)}{tail}."
        )

    return sentence


def _season(change: Change) -> str:
    """Before its peak a stronger season cannot be told from an early one."""
    weeks = _number(change.now)
    ends = sorted(abs(_number(end)) for end in (change.low, change.high))
    way = "early" if change.up else "late"
    other = "a stronger" if change.up else "a weaker"
    return (
        f"Its season runs about {abs(weeks):.1f} weeks {way} ({ends[0]:.1f} to {ends[1]:.1f}); before its peak "
        f"{other} season looks the same."
    )


def _own_share(change: Change) -> str:
    """What became of one's own share, with the verdict of own part where there is one."""
    shares = change.words.get("share_then"), change.words.get("share")
    told = (
        ""
        if None in shares
        else f", from {format_share(_number(shares[0]))} to {format_share(_number(shares[1]))}"
    )
    before = change.words.get("against")
    verdict = change.words.get("verdict")
    return (
        f"Your share of it {'rose' if change.up else 'fell'} by {_size(_number(change.now))}{_interval(change)}"
        f"{told}, against {'13 weeks' if before == Against.BEFORE else 'the year'} before"
        f"{f': {verdict[0].lower()}{verdict[1:]}' if verdict else ''}."
    )


def _shift(change: Change) -> str:
    return (
        f"A level shift of {format_change(_number(change.now))} from {_day(change.since)} on is confirmed: "
        "half a year has followed it."
    )


def _slide(change: Change) -> str:
    way = "rose" if change.up else "fell"
    by = _size(_number(change.now))
    return f"Prices of its listings {way} by {by} in 26 weeks, on average{_interval(change)}{UNADJUSTED}."


def _brand(change: Change) -> str:
    before = "" if change.then is None else f"; before, {format_share(change.then)}"
    return (
        f"{change.words.get('brand') or 'One brand'} now takes over half of the clicks: "
        f"{format_share(_number(change.now))}{_shares(change)}{before}."
    )


def _offers(change: Change) -> str:
    return (
        f"Offers since {_day(change.since)} run {_against(_number(change.now))}{_interval(change)}, and demand "
        "does not keep up."
    )


def _launches(change: Change) -> str:
    many = change.words.get("launches")
    number = "" if many is None else f"{int(many):,} "
    return (
        f"Launches pile in: {number}in 26 weeks, {format_change(_number(change.now))}{_interval(change)} on "
        "the rate of the 39 weeks before, and demand does not keep up."
    )


def _drift(change: Change) -> str:
    words, then = change.words, change.then
    was = "" if then is None else f", {format_change(then)} a year"
    now = f"{format_change(_number(change.now))} a year{_interval(change)}"
    if words.get("now") == words.get("then"):
        return (
            f"Drift is {words.get('now')} beyond chance now, {now}. It was {words.get('then')} before{was}, "
            "but not beyond chance."
        )
    return f"Drift is now {words.get('now')}, {now}; it was {words.get('then')}{was}."


def _shape(change: Change) -> str:
    words = change.words
    return (
        f"Its shape is now {words.get('now')}, with {format_share(_number(change.now))} confidence; it was "
        f"{words.get('then')}, with {format_share(_number(change.then))}."
    )


def _rank(change: Change) -> str:
    then, now = (change.words.get(f"headroom_{one}") for one in ("then", "now"))
    headroom = (
        f" Its headroom is {format_number(_number(now))}, after {format_number(_number(then))}."
        if then is not None and now is not None
        else ""
    )
    return (
        f"Its rank is now {format_number(_number(change.now))} (band {format_number(_number(change.low))} to "
        f"{format_number(_number(change.high))}); it was {format_number(_number(change.then))}.{headroom}"
    )


def _complaint(change: Change) -> str:
    return (
        f"“{change.words.get('complaint')}” is now in {format_share(_number(change.now))} of what buyers "
        f"write, at least {format_share(_number(change.low))}; it was in {format_share(_number(change.then))}."
    )


def _gone(change: Change) -> str:
    return f"Demand is gone since {_day(change.since)}: a year brings next to nothing any more."


def _order_soon(change: Change) -> str:
    return f"Order by {_day(change.since)} to catch the full season."


def _order_missed(change: Change) -> str:
    text = f"The order-by date {_day(change.since)} has passed."
    next_, planned = change.words.get("next"), change.words.get("planning")
    if next_ is not None and change.since is not None and next_ > change.since.toordinal():
        return f"{text} The next season’s is {_day(date.fromordinal(int(next_)))}."
    if change.now is not None and planned is not None:
        placed = _day(date.fromordinal(int(planned)))
        text += f" An order placed on {placed} would still catch {format_share(change.now)} of the season."
    return text


def _stock(change: Change) -> str:
    return (
        f"The most clicked listing was in stock {format_share(_number(change.now))} of the last four weeks; "
        f"before, {format_share(_number(change.then))}."
    )


def _launch(change: Change) -> str:
    text = f"A listing was launched on {_day(change.since)}"
    if change.now is not None:
        many = int(change.now)
        text += f"; {many:,} in 26 weeks" if many > 1 else ""
    judged, worked = change.words.get("judged"), change.words.get("successes")
    if judged:
        text += f". Of a year’s launches {int(_number(worked))} of {int(judged)} succeeded"
    return f"{text}."


def _revised(change: Change) -> str:
    then, now = _number(change.then), _number(change.now)
    by = format_change(now / then - 1) if then > 0 else "from nothing"
    return (
        f"Its figures were revised: up to {_day(change.since)} they now add up to {format_number(now)}, not "
        f"{format_number(then)} ({by})."
    )


def _missing(change: Change) -> str:
    return (
        f"Figures are missing: {format_share(_number(change.now))} of its periods are covered, not "
        f"{format_share(_number(change.then))}."
    )


_SENTENCES: dict[str, Callable[[Change], str]] = {
    "own_share": _own_share, "season": _season, "order_missed": _order_missed,
    "order_soon": _order_soon, "gone": _gone,
    "demand": _off_course("{curve}", ", the season and earlier drift taken out"), "level_shift": _shift,
    "prices": _off_course("prices", UNADJUSTED),
    "price_slide": _slide, "brand_over_half": _brand, "offers": _offers, "launches": _launches,
    "drift": _drift, "shape": _shape, "rank": _rank, "complaint": _complaint, "leader_stock": _stock,
    "launch": _launch, "revised": _revised, "missing": _missing,
}  # fmt: skip
