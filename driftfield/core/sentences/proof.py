"""The track record in words: what was said on past days, and how far it held."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import Any

from driftfield.core.base import (
    MINUS,
    format_change,
    format_day,
    format_interval,
    format_money,
    format_number,
    format_share,
)
from driftfield.core.market.proof import EITHER_SIDE, LEAST

Line = Mapping[str, Any]
SLIGHT = 0.005  # A bias that rounds to nothing.
MOST_UNDATED = 0.05  # Share of listings without a launch date from which it is said. Our choice.
SCORE_NAMES = {
    "headroom": "more headroom", "demand": "more demand", "competition": "less competition",
    "searches_52w": "more searches",
}  # fmt: skip
SCORES_BY = {
    "headroom": "headroom", "demand": "demand", "competition": "lack of competition",
    "searches_52w": "searches",
}  # fmt: skip
_PARTS = {
    "forecast": "Forecasts", "shape": "Shapes", "drift": "Drift", "season": "Season dates",
    "launch": "Launches", "signal": "What follows signals", "rank": "Rank bands",
}  # fmt: skip


def line_sentence(line: Line) -> str:
    """What one line of the record says; see ``exchange.proof`` for its fields."""
    if line["value"] is None:
        return _too_little(line)
    return _SENTENCES[line["part"], line["measure"]](line)


def _too_little(line: Line) -> str:
    many, days = line["observations"], line["days"]
    of = line["name"] or SCORE_NAMES.get(line["group"]) or line["group"]
    if line["part"] == "launch" and line["group"].isdigit():
        of = _decile(line)
    if line["measure"] == "kept_if_sure":
        of = f"{_confidence(line)} confidence"
    both = ", some that worked and some that did not" if line["measure"] in ("area", "lift") else ""
    known = (
        f"{many:,} {'case' if many == 1 else 'cases'} on {days} {'day' if days == 1 else 'days'}"
    )
    said = f"{_PARTS[line['part']]}{f', {of}' if of else ''}: too little data ({known})."
    return f"{said} At least {LEAST} are needed{both}."


def _basis(line: Line, ends: str) -> str:
    """An interval and how many cases it rests on."""
    if line["low"] is None:
        return f"{line['observations']:,} cases, on too few days for an interval"
    return f"{ends}, {line['observations']:,} cases"


def _shares(line: Line) -> str:
    known = line["low"] is not None
    return _basis(
        line, f"{format_share(line['low'])} to {format_share(line['high'])}" if known else ""
    )


def _changes(line: Line) -> str:
    known = line["low"] is not None
    return _basis(line, format_interval(line["low"], line["high"]) if known else "")


def _numbers(line: Line, unit: str = "") -> str:
    known = line["low"] is not None
    return _basis(line, f"{_number(line['low'])} to {_number(line['high'])}{unit}" if known else "")


def _number(value: float) -> str:
    return format_number(value).replace("-", MINUS)


def _sure(line: Line, at: float = 0.0) -> bool:
    """Whether the interval leaves out a value."""
    return line["low"] is not None and (line["low"] > at or line["high"] < at)


def _of(line: Line) -> str:
    if line["category"]:
        return f" of {line['of']} in {line['name']}"
    return f" of {line['group']} {line['of']}" if line["group"] else ""


def _called(line: Line) -> str:
    if line["category"]:
        return f"{line['of']} in {line['name']}"
    return f"{line['of']} called {line['group']}" if line["group"] else f"all {line['of']}"


def _ahead(line: Line) -> str:
    return f"{line['weeks']} weeks ahead"


def _decile(line: Line) -> str:
    score = line["measure"].removeprefix("worked_by_")
    return f"decile {line['group']} of 10 by {SCORES_BY.get(score, 'headroom')}"


def _scaled_error(line: Line) -> str:
    said = f"Median scaled error (MASE){_of(line)}, {_ahead(line)}: {line['value']:.2f}"
    if line["beside"] is None:
        return f"{said}."
    return f"{said}, against {line['beside']:.2f} for the same weeks a year earlier."


def _against_naive(line: Line) -> str:
    said = f"Forecasts{_of(line)} {_ahead(line)}"
    if not _sure(line):
        return f"{said}: no evidence that they do better or worse than last year's figures ({_changes(line)})."
    if line["value"] >= 1:
        missed = f"missed by {line['value'] + 1:.1f} times as much as"
    else:
        missed = f"missed by {format_share(abs(line['value']))} {'less' if line['value'] < 0 else 'more'} than"
    return f"{said} {missed} last year's figures would have ({_changes(line)})."


def _within(line: Line) -> str:
    judged = ""
    if line["low"] is not None and line["high"] < line["meant"]:
        judged = " The intervals are too narrow."
    elif line["low"] is not None and line["low"] > line["meant"]:
        judged = " The intervals are wider than they need to be."
    return (
        f"{format_share(line['value'])} of totals{_of(line)} {_ahead(line)} fell within their "
        f"{format_share(line['meant'])} interval ({_shares(line)}).{judged}"
    )


def _within_level(line: Line) -> str:
    meant = format_share(float(line["group"]))
    return (
        f"Of intervals meant to hold {meant} of totals {_ahead(line)}, {format_share(line['value'])} did "
        f"({_shares(line)})."
    )


def _bias(line: Line) -> str:
    said = f"Totals{_of(line)} {_ahead(line)}"
    if not _sure(line):
        return f"{said} show no bias beyond chance ({_changes(line)})."
    if abs(line["value"]) < SLIGHT:
        return f"{said} were off by less than half a percent on average ({_changes(line)})."
    way = "higher" if line["value"] > 0 else "lower"
    by = (
        format_share(abs(line["value"])) if abs(line["value"]) < 1 else format_change(line["value"])
    )
    return f"{said} came in {by} {way} than forecast on average ({_changes(line)})."


def _off(line: Line) -> str:
    beside = (
        f", and within {format_share(line['beside'])} of last year's"
        if line["beside"] is not None
        else ""
    )
    return (
        f"Eight in ten totals{_of(line)} {_ahead(line)} came within {format_share(line['value'])} of the "
        f"forecast{beside} ({line['observations']:,} cases)."
    )


def _kept(line: Line) -> str:
    kept = format_share(line["value"])
    return f"{kept} of {_called(line)} had the same shape a year later ({_shares(line)})."


def _confidence(line: Line) -> str:
    low = float(line["group"])
    return f"{format_share(low)} to {format_share(low + 0.1)}"


def _kept_if_sure(line: Line) -> str:
    return (
        f"Of shapes told with {_confidence(line)} confidence, "
        f"{format_share(line['value'])} were the same a year later ({_shares(line)})."
    )


def _growth(line: Line) -> str:
    return f"Demand of {_called(line)} {_changed(line['value'])} in the following year ({_changes(line)})."


def _changed(change: float) -> str:
    told = format_change(change)
    return f"was {told}" if told == "unchanged" else f"changed by {told}"


def _grew(line: Line) -> str:
    return f"{format_share(line['value'])} of {_called(line)} grew in the following year ({_shares(line)})."


def _near(line: Line) -> str:
    found = format_share(line["value"])
    return f"{found} of seasons came within two weeks of the dates given ({_shares(line)})."


def _later(line: Line) -> str:
    told = _numbers(line, " weeks")
    if not _sure(line):
        return (
            f"Seasons came neither earlier nor later than the dates given, beyond chance ({told})."
        )
    which = "later" if line["value"] > 0 else "earlier"
    size = format_number(abs(line["value"]))
    return f"Seasons came {size} weeks {which} than the dates given, on average ({told})."


def _peak_near(line: Line) -> str:
    beside = ""
    if line["beside"] is not None:
        beside = f"; last year's best weeks would have done so in {format_share(line['beside'])}"
    return (
        f"The best weeks fell within two weeks of those given in {format_share(line['value'])} of seasons "
        f"({_shares(line)}){beside}."
    )


def _caught(line: Line) -> str:
    points = {key: line[key] and 100 * line[key] for key in ("value", "low", "high")}
    told = _numbers({**line, **points}, " points")
    if not _sure(line):
        return f"An order placed on the day caught as much of the season as stated, within chance ({told})."
    which = "more" if line["value"] > 0 else "fewer"
    size = format_number(abs(points["value"]))
    return f"An order placed on the day caught {size} points {which} of the season than stated ({told})."


def _worked(line: Line) -> str:
    where = f" in {line['name']}" if line["category"] else ""
    return f"{format_share(line['value'])} of launches worked{where} ({_shares(line)})."


def _worked_by(line: Line) -> str:
    return f"{format_share(line['value'])} of launches worked, {_decile(line)} ({_shares(line)})."


def _alive(line: Line) -> str:
    alive = format_share(line["value"])
    return f"{alive} of launches still sold after a year, {_decile(line)} ({_shares(line)})."


def _revenue(line: Line) -> str:
    return (
        f"Median revenue of a launch in its first 26 weeks, {_decile(line)}: "
        f"{format_money(line['value'], line['currency'], whole=True)} ({line['observations']:,} launches)."
    )


def _area(line: Line) -> str:
    judged = "" if _sure(line, 0.5) else " This may be chance."
    where = f"{line['name']}: in" if line["category"] else "In"
    return (
        f"{where} {format_share(line['value'])} of pairs the launch that worked was in the niche with "
        f"{SCORE_NAMES[line['group']]} ({_shares(line)}); at random it would be 50%.{judged}"
    )


def _lift(line: Line) -> str:
    most = SCORE_NAMES[line["group"]].replace("more", "the most").replace("less", "the least")
    judged = "" if _sure(line, 1.0) else " This may be chance."
    return (
        f"The tenth of launches with {most} worked {format_number(line['value'])} times as often as all "
        f"launches ({_numbers(line)}).{judged}"
    )


def _signal(line: Line) -> str:
    judged = "" if line["stands"] else " Not beyond chance, given how many signals were tried."
    return (
        f"In the year after “{line['name']}”, demand {_changed(line['value'])} compared with similar "
        f"{line['of']} ({_changes(line)}).{judged}"
    )


def _band(line: Line) -> str:
    return (
        f"{format_share(line['value'])} of ranks were still within their band {line['weeks']} weeks later "
        f"({_shares(line)})."
    )


_SENTENCES: dict[tuple[str, str], Callable[[Line], str]] = {
    ("forecast", "scaled_error"): _scaled_error, ("forecast", "against_naive"): _against_naive,
    ("forecast", "within"): _within, ("forecast", "within_level"): _within_level,
    ("forecast", "bias"): _bias, ("forecast", "off"): _off,
    ("shape", "kept"): _kept, ("shape", "kept_if_sure"): _kept_if_sure,
    ("drift", "growth"): _growth, ("drift", "grew"): _grew,
    ("season", "near"): _near, ("season", "later"): _later, ("season", "peak_near"): _peak_near,
    ("season", "caught"): _caught, ("launch", "worked"): _worked,
    **dict.fromkeys((("launch", f"worked_by_{score}") for score in SCORES_BY), _worked_by),
    ("launch", "alive"): _alive,
    ("launch", "revenue"): _revenue, ("launch", "area"): _area, ("launch", "lift"): _lift,
    ("signal", "growth"): _signal, ("rank", "within"): _band,
}  # fmt: skip


def lens_sentence(row: Line) -> str:
    """What weights fitted to launches come to; see ``exchange.proof`` for its fields."""
    many = f"{row['observations']:,} launches on {row['days']} days"
    if row["low"] is None:
        return (
            f"Too few launches to tell whether other weights would do better here ({many}). It takes three "
            "days, with enough launches before them to fit weights to."
        )
    gain = f"by {_points(row['low'])} to {_points(row['high'])} points, {many}"
    if not row["weights"]:
        tried = f"fitted ones changed the area under the curve {gain}"
        return f"No evidence that other weights do better here: {tried}."
    return (
        "Weights fitted to past launches ranked later launches better than the default: the one that worked "
        f"came higher in {format_share(row['value'])} of pairs, against {format_share(row['beside'])} ({gain})."
    )


def _points(part: float) -> str:
    return f"{100 * part:+.0f}".replace("-", MINUS).replace("+0", "0").replace(f"{MINUS}0", "0")


def forecast_miss(name: str, day: date, weeks: int, said: float, came: float, unit: str) -> str:
    """A forecast that was far from what came."""
    told = f"{format_number(round(said))} {unit} forecast for the next {weeks} weeks"
    return f"{name}, {format_day(day)}: {told}; {format_number(round(came))} came."


def season_miss(name: str, day: date, weeks: float) -> str:
    """A season that came so many weeks later than was told, below 0 earlier; from ``EITHER_SIDE`` on none was
    found."""
    if abs(weeks) >= EITHER_SIDE:
        return f"{name}, {format_day(day)}: no season came within {EITHER_SIDE} weeks of the date given."
    way = "later" if weeks > 0 else "earlier"
    return f"{name}, {format_day(day)}: its season came {abs(weeks):.1f} weeks {way} than the date given."


def limits_of(
    undated: float | None,
    ended: bool | None,
    launches: int,
    days: Sequence[date],
    *,
    ranked: bool = True,
) -> list[str]:
    """What the record cannot show, as far as it can be seen from the data."""
    told = [
        f"This rests on {len(days)} days, {format_day(days[0])} to {format_day(days[-1])}. Neighbouring days "
        "share most of their data, and an unusual year is in many of them.",
        "Ratings, quality, sponsoring, returns and sellers of listings are not dated, so they count as unknown "
        "on past days. Figures corrected before they were imported count as if they had been known.",
    ]
    if undated is not None and undated > MOST_UNDATED:
        told.append(
            f"{format_share(undated)} of the listings clicked have no launch date and are left out."
        )
    if launches and ended is False:
        told.append(
            "No listing's figures end early: listings that were given up may be missing from the tables, which "
            "makes launches look more successful than they were."
        )
    if launches:
        told.append(
            "Niches differ in more than headroom: launches that worked more often in some are no proof that "
            "yours would."
        )
    if ranked:
        told.append("A rank's band shows what other weights make of it, not what time does.")
    return told
