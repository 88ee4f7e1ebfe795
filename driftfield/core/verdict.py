"""A verdict is a sentence with evidence. Made from a niche's figures by key; None is unknown."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from .dates import Call, next_call, slot_date
from .periods import Period

MINUS = "−"


def say_change(change: float) -> str:
    """A change in words a merchant reads: percent, beyond a tenfold a factor, never a monster."""
    if change >= 99:
        return "from near zero"
    if change >= 9:
        return f"×{change + 1:.0f}"
    if change <= -0.99:
        return "to almost nothing"
    if change <= -0.9:
        return f"÷{1 / (1 + change):.0f}"
    sign = "+" if change > 0.0005 else MINUS if change < -0.0005 else "±"
    return f"{sign}{abs(change):.0%}"


def _percent(share: float) -> str:
    return f"{share:.0%}"


def _season(figures: Mapping[str, Any], as_of: date) -> str:
    """When the peak comes, as months."""
    weeks = figures["peak_weeks"]
    if not weeks:
        return "at no particular time"
    period = Period(figures["period"])
    first = f"{slot_date(weeks[0] - 1, period, as_of.year):%B}"
    last = f"{slot_date(weeks[-1] - 1, period, as_of.year):%B}"
    return f"in {first}" if first == last else f"between {first} and {last}"


def shape_sentence(figures: Mapping[str, Any]) -> str:
    """What the calendar does to the niche."""
    shape, as_of = figures["shape"], date.fromisoformat(str(figures["as_of"]))
    when = _season(figures, as_of)
    quarter = "the best quarter" if figures["period"] == "week" else "the best three months"
    if shape == "Unsettled":
        text = figures["shape_reason"] or "It swings without a pattern."
        if figures["provisional"]:
            text += f" So far it looks {figures['provisional'].lower()}."
        return str(text)
    if shape == "Fad":
        return "One burst carries most of its record, and it has not come back."
    if shape == "Evergreen" and figures["best13"] < 0.2505:
        return "Sells level all year: no season stands out from the noise."
    if shape == "Evergreen":
        return f"Sells about level all year: {quarter} carries {_percent(figures['best13'])}, a flat year 25%."
    if shape == "Leaning":
        return f"Sells all year and leans {when}: {quarter} carries {_percent(figures['best13'])} of the year."
    if shape == "Occasion":
        return f"Comes every year {when}: the best four weeks carry {_percent(figures['best4'])} of the year."
    return f"Comes every year {when}: {quarter} carries {_percent(figures['best13'])} of the year."


def growth_sentence(figures: Mapping[str, Any]) -> str:
    """The last quarter's change, never without its split."""
    raw, season, drift = (figures[f"growth_13w.{part}"] for part in ("raw", "season", "drift"))
    weeks = "13 weeks" if figures["period"] == "week" else "3 months"
    if raw is None:
        return f"Its last {weeks} cannot be compared: figures are missing or were near zero before."
    if drift is None:
        return f"The last {weeks} look like {say_change(raw)}; what the calendar did in that is unknown."
    if abs(season) < 0.0005:
        return f"The last {weeks} changed by {say_change(raw)}; the calendar has no part in it."
    return (
        f"The last {weeks} look like {say_change(raw)}: the calendar alone makes it "
        f"{say_change(season)}, so the drift is {say_change(drift)}."
    )


def drift_sentence(figures: Mapping[str, Any]) -> str | None:
    """The drift a year with its interval."""
    rate = figures["drift_rate_year"]
    if rate is None:
        return None
    low, high = figures["drift_low"], figures["drift_high"]
    text = f"A year it drifts {say_change(rate)} ({say_change(low)} to {say_change(high)})"
    if figures["step_size"] is not None:
        way = "up" if figures["step_size"] > 0 else "down"
        day = date.fromisoformat(str(figures["step_from"]))
        text += f", after a level shift {way} of {say_change(figures['step_size'])} in {day:%B %Y}"
    return text + "."


def season_call(figures: Mapping[str, Any], lead_days: int) -> Call | None:
    """The next order-by date, where the niche has a season to order for."""
    if figures["rise_week"] is None:
        return None
    as_of = date.fromisoformat(str(figures["as_of"]))
    return next_call(figures["rise_week"] - 1, Period(figures["period"]), as_of, lead_days)


def call_sentence(call: Call | None, family: str) -> str | None:
    """The date to act by; seasonal niches only are ordered by the date."""
    if call is None or family != "seasonal":
        return None
    day = f"{call.order_by.day} {call.order_by:%b %Y}"
    rise = f"{call.rise.day} {call.rise:%b}"
    if call.missed is not None:
        late = f"{call.missed.day} {call.missed:%b}"
        return f"{late} was the last call for the coming season; the next is {day}."
    return f"Order by {day} to be on sale when the rise begins, {rise}."


def verdict(figures: Mapping[str, Any], lead_days: int) -> list[str]:
    """The sentences of a niche's verdict: its calendar, its change, its drift, its next date."""
    call = call_sentence(season_call(figures, lead_days), figures["shape_family"])
    said = [shape_sentence(figures), growth_sentence(figures), drift_sentence(figures), call]
    return [sentence for sentence in said if sentence]
