"""A verdict is a sentence with evidence. Made from a niche's figures by key; None is unknown."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

from driftfield.core.base import MINUS, Period, format_change
from driftfield.core.curves import Call, next_call, slot_date


def _percent(share: float) -> str:
    return f"{share:.0%}"


def _months(weeks: list[int], figures: Mapping[str, Any]) -> str:
    """A window of weeks (months) of the year, in months."""
    period, year = Period(figures["period"]), date.fromisoformat(str(figures["as_of"])).year
    first, last = (f"{slot_date(week - 1, period, year):%B}" for week in (weeks[0], weeks[-1]))
    return f"in {first}" if first == last else f"between {first} and {last}"


def _season(figures: Mapping[str, Any]) -> str:
    """When the peak comes, as months, and with which feast."""
    if not figures["peak_weeks"]:
        return "at no particular time"
    when = _months(figures["peak_weeks"], figures)
    if figures["feast"]:
        return f"with {figures['feast']}, next {when}"
    return when


def shape_sentence(figures: Mapping[str, Any]) -> str:
    """What the calendar does to the niche."""
    shape = figures["shape"]
    when = _season(figures)
    weekly = figures["period"] == "week"
    month = "the best four weeks carry" if weekly else "the best month carries"
    quarter = "the best quarter carries" if weekly else "the best three months carry"
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
        return (
            f"Sells about level all year: {quarter} {_percent(figures['best13'])}, a flat year 25%."
        )
    if shape == "Leaning":
        text = (
            f"Sells all year and leans {when}: {quarter} {_percent(figures['best13'])} of the year."
        )
    elif shape == "Occasion":
        text = f"Comes every year {when}: {month} {_percent(figures['best4'])} of the year."
    else:
        text = f"Comes every year {when}: {quarter} {_percent(figures['best13'])} of the year."
    if figures["second_peak_weeks"]:
        text += f" It rises a second time {_months(figures['second_peak_weeks'], figures)}."
    return text


def doubt_sentence(figures: Mapping[str, Any]) -> str | None:
    """What should be known before the season is believed."""
    sentences = []
    if figures["season_changed"]:
        sentences.append("Its season has moved: the last two years are unlike the ones before.")
    if figures["borrowed"]:
        sentences.append(
            f"Its own searches are few, so {_percent(figures['borrowed'])} of its season is borrowed from "
            "its category."
        )
    if figures["basis"] == "relative":
        sentences.append(
            "Read from a relative curve: its level cannot be summed, ranked or turned into counts."
        )
    agreement = figures["interest_agreement"]
    if agreement is not None and agreement < 0.5:
        sentences.append(f"Counts and relative curve disagree (rank correlation {agreement:.2f}).")
    return " ".join(sentences) or None


def _usual(figures: Mapping[str, Any], season: float) -> str:
    """The calendar's part in a change of the last quarter, by the months it ran through."""
    end = date.fromisoformat(str(figures["as_of"]))
    start = end - timedelta(weeks=13)
    way = "rise" if season > 0 else "fall"
    return f"the usual {start:%B}-to-{end:%B} {way}"


def growth_sentence(figures: Mapping[str, Any]) -> str:
    """The last quarter's change, never without its split."""
    raw, season, drift = (figures[f"growth_13w.{part}"] for part in ("raw", "season", "drift"))
    weeks = "13 weeks" if figures["period"] == "week" else "3 months"
    if raw is None:
        return f"Its last {weeks} cannot be compared: figures are missing or were near zero before."
    if abs(raw) < 0.0005:
        change = f"Level over {weeks}"
    else:
        change = (
            f"{'Up' if raw > 0 else 'Down'} {format_change(raw).lstrip('+' + MINUS)} in {weeks}"
        )
    if figures["shape"] == "Fad":
        return f"{change}; after a burst there is no calendar by which season and drift could be told apart."
    if drift is None:
        return f"{change}; what the calendar did in that is unknown."
    low, high = figures["growth_13w.drift_low"], figures["growth_13w.drift_high"]
    sure = "" if low is None else f" ({format_change(low)} to {format_change(high)})"
    if abs(season) < 0.0005:
        return (
            f"{change}, and the calendar has no part in it: drift is {format_change(drift)}{sure}."
        )
    return (
        f"{change}: {_usual(figures, season)} makes {format_change(season)}, "
        f"the remaining {format_change(drift)} is drift{sure}."
    )


def year_sentence(figures: Mapping[str, Any]) -> str | None:
    """A caution where the feast a niche keeps time with fell in one year's window only."""
    feast, raw = figures["feast"], figures["growth_yoy.raw"]
    if not feast or raw is None or feast not in (figures["yoy_feasts"] or ""):
        return None
    return (
        f"A year ago the same 13 weeks stood {_distance(raw)}, but {feast} fell in one of the two "
        "windows and not in the other."
    )


def _distance(raw: float) -> str:
    """How far below or above today's a window a year ago stood."""
    if raw <= -0.99:
        return "far higher"
    back = 1 / (1 + raw) - 1
    if abs(back) < 0.0005:
        return "as high"
    return f"{abs(back):.0%} {'higher' if back > 0 else 'lower'}"


def drift_sentence(figures: Mapping[str, Any]) -> str | None:
    """The drift a year with its interval."""
    rate = figures["drift_rate_year"]
    if rate is None or figures["shape"] in ("Fad", "Unsettled"):
        return None
    low, high = figures["drift_low"], figures["drift_high"]
    text = f"A year it drifts {format_change(rate)} ({format_change(low)} to {format_change(high)})"
    shifts = figures["level_shifts"]
    if shifts:
        dated = [
            f"{format_change(shift['size'])} in {date.fromisoformat(shift['from']):%B %Y}"
            for shift in shifts
        ]
        noun = "a level shift" if len(dated) == 1 else "level shifts"
        text += f", apart from {noun} of {' and '.join(dated)}"
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
    sentences = [
        shape_sentence(figures), growth_sentence(figures), drift_sentence(figures),
        year_sentence(figures), doubt_sentence(figures), call,
    ]  # fmt: skip
    return [sentence for sentence in sentences if sentence]
