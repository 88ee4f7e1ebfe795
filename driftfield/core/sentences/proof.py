"""The track record in words: what was said on past days, and how far it held."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from driftfield.core.base import (
    format_change,
    format_interval,
    format_number,
    format_share,
)
from driftfield.core.market.proof import LEAST

Line = Mapping[str, Any]
SLIGHT = 0.005  # A lean that rounds to nothing.
MOST_UNDATED = 0.05  # Share of listings without a launch date from which it is said. Our choice.
SCORE_NAMES = {
    "headroom": "headroom", "demand": "demand", "competition": "less competition",
    "searches_52w": "searches",
}  # fmt: skip


def line_sentence(line: Line) -> str:
    """What one line of the record says; see ``exchange.proof`` for its fields."""
    if line["value"] is None:
        return _too_little(line)
    return _SENTENCES[line["part"], line["measure"]](line)


_PARTS = {
    "forecast": "Forecasts", "shape": "Shapes", "drift": "Drift", "season": "Dates of seasons",
    "launch": "Launches", "signal": "What follows signals", "rank": "Rank bands",
}  # fmt: skip


def _too_little(line: Line) -> str:
    many, days = line["observations"], line["days"]
    of = line["name"] or SCORE_NAMES.get(line["group"]) or line["group"]
    if line["part"] == "launch" and line["group"].isdigit():
        of = f"the {_tenth(line)} tenth of niches by headroom"
    both = ", some that worked and some that did not" if line["measure"] in ("area", "lift") else ""
    cases = f"{many:,} {'case' if many == 1 else 'cases'}"
    return (
        f"{_PARTS[line['part']]}{f', {of}' if of else ''}: too little to claim anything, {cases} on {days} "
        f"{'day' if days == 1 else 'days'}. It takes {LEAST}{both}."
    )


def _shares(line: Line) -> str:
    """The interval of a share."""
    if line["low"] is None:
        return f"{line['observations']:,} cases, on too few days for an interval"
    return f"{format_share(line['low'])} to {format_share(line['high'])}, {line['observations']:,} cases"


def _changes(line: Line) -> str:
    if line["low"] is None:
        return f"{line['observations']:,} cases, on too few days for an interval"
    return f"{format_interval(line['low'], line['high'])}, {line['observations']:,} cases"


def _numbers(line: Line, unit: str = "") -> str:
    if line["low"] is None:
        return f"{line['observations']:,} cases, on too few days for an interval"
    low, high = (_number(line[end]) for end in ("low", "high"))
    return f"{low} to {high}{unit}, {line['observations']:,} cases"


def _number(value: float) -> str:
    return format_number(value).replace("-", "−")


def _sure(line: Line, at: float = 0.0) -> bool:
    """Whether the interval leaves out a value."""
    return line["low"] is not None and (line["low"] > at or line["high"] < at)


def _who(line: Line) -> str:
    return f" of {line['group']} niches" if line["group"] else ""


def _ahead(line: Line) -> str:
    return f"{line['weeks']} weeks ahead"


def _scaled_error(line: Line) -> str:
    return (
        f"Middle scaled error (MASE){_who(line)}, {_ahead(line)}: {line['value']:.2f}; that of the same weeks "
        f"a year before, {line['beside']:.2f}."
    )


def _against_naive(line: Line) -> str:
    said = f"Forecasts{_who(line)} {_ahead(line)}"
    if not _sure(line):
        return (
            f"{said}: no evidence that they miss by more or by less than the same weeks a year before "
            f"({_changes(line)})."
        )
    if line["value"] >= 1:
        times = f"{line['value'] + 1:.1f} times as much as"
    else:
        way = "less" if line["value"] < 0 else "more"
        times = f"by {format_share(abs(line['value']))} {way} than"
    return f"{said} missed {times} the same weeks a year before ({_changes(line)})."


def _within(line: Line) -> str:
    meant = format_share(line["meant"])
    judged = ""
    if line["low"] is not None:
        if line["high"] < line["meant"]:
            judged = " They are too narrow."
        elif line["low"] > line["meant"]:
            judged = " They are wider than they need be."
    return (
        f"Of sums {_ahead(line)}{_who(line)} {format_share(line['value'])} lay within their {meant} interval "
        f"({_shares(line)}).{judged}"
    )


def _bias(line: Line) -> str:
    said = f"Sums {_ahead(line)}{_who(line)}"
    if not _sure(line):
        return f"{said} lean neither way beyond chance ({_changes(line)})."
    if abs(line["value"]) < SLIGHT:
        return f"{said} lean by less than half a percent ({_changes(line)})."
    way = "higher" if line["value"] > 0 else "lower"
    return f"{said} came {way} than foreseen, by {format_change(line['value'])} ({_changes(line)})."


def _off(line: Line) -> str:
    return (
        f"Eight of ten sums {_ahead(line)}{_who(line)} came within {format_share(line['value'])} of the "
        f"forecast, and within {format_share(line['beside'])} of a year before "
        f"({line['observations']:,} cases)."
    )


def _kept(line: Line) -> str:
    who = f"Of niches called {line['group']}" if line["group"] else "Of all niches"
    return f"{who} {format_share(line['value'])} had the same shape a year later ({_shares(line)})."


def _growth(line: Line) -> str:
    who = (
        f"The demand of niches called {line['group']}"
        if line["group"]
        else "The demand of all niches"
    )
    return f"{who} {_changed(line['value'])} in the year after ({_changes(line)})."


def _changed(change: float) -> str:
    told = format_change(change)
    return f"was {told}" if told == "unchanged" else f"changed by {told}"


def _grew(line: Line) -> str:
    who = f"Of niches called {line['group']}" if line["group"] else "Of all niches"
    return f"{who} {format_share(line['value'])} grew in the year after ({_shares(line)})."


def _near(line: Line) -> str:
    return f"{format_share(line['value'])} of seasons came within two weeks of those told ({_shares(line)})."


def _later(line: Line) -> str:
    if not _sure(line):
        return (
            f"Seasons came neither earlier nor later, beyond chance ({_numbers(line, ' weeks')})."
        )
    which = "later" if line["value"] > 0 else "earlier"
    return (
        f"On average seasons came {format_number(abs(line['value']))} weeks {which} than told "
        f"({_numbers(line, ' weeks')})."
    )


def _peak_near(line: Line) -> str:
    return (
        f"The best weeks lay within two weeks of those told in {format_share(line['value'])} of seasons "
        f"({_shares(line)}), and of those of the year before in {format_share(line['beside'])}."
    )


def _caught(line: Line) -> str:
    return (
        "Of what an order placed on the day would have caught of a season, the share came out "
        f"{_number(100 * line['value'])} points higher than told ({_number(100 * (line['low'] or 0))} to "
        f"{_number(100 * (line['high'] or 0))}, {line['observations']:,} cases)."
        if line["low"] is not None
        else f"The share of a season caught is known of {line['observations']:,} cases on too few days."
    )


def _worked(line: Line) -> str:
    where = f" in the {_tenth(line)} tenth of niches by headroom" if line["group"] else ""
    return f"{format_share(line['value'])} of launches{where} worked ({_shares(line)})."


def _tenth(line: Line) -> str:
    place = int(line["group"])
    return {1: "lowest", 2: "2nd", 3: "3rd", 10: "highest"}.get(place, f"{place}th")


def _alive(line: Line) -> str:
    return (
        f"{format_share(line['value'])} of launches in the {_tenth(line)} tenth of niches by headroom still "
        f"sold after a year ({_shares(line)})."
    )


def _revenue(line: Line) -> str:
    return (
        f"The middle launch in the {_tenth(line)} tenth of niches by headroom took "
        f"{format_number(line['value'])} in its first 26 weeks ({line['observations']:,} launches)."
    )


def _area(line: Line) -> str:
    name = SCORE_NAMES[line["group"]]
    told = (
        f"A launch that worked stood in a niche with more {name} than one that did not in "
        if line["group"] != "competition"
        else "A launch that worked stood in a niche with less competition than one that did not in "
    )
    judged = "" if _sure(line, 0.5) else " That may be chance."
    return (
        f"{told}{format_share(line['value'])} of pairs ({_shares(line)}); at random, 50%.{judged}"
    )


def _lift(line: Line) -> str:
    name = SCORE_NAMES[line["group"]]
    judged = "" if _sure(line, 1.0) else " That may be chance."
    return (
        f"The tenth of launches with most {name} worked {format_number(line['value'])} times as often as all "
        f"({_numbers(line)}).{judged}"
    ).replace("with most less competition", "with least competition")


def _signal(line: Line) -> str:
    said = (
        f"In the year after “{line['name']}” demand {_changed(line['value'])} against niches alike"
    )
    judged = "" if line["stands"] else " Not beyond chance, of all signals that were tried."
    return f"{said} ({_changes(line)}).{judged}"


def _band(line: Line) -> str:
    return (
        f"{format_share(line['value'])} of ranks lay within their band {line['weeks']} weeks later "
        f"({_shares(line)}); a band says what other weights make of a rank, not what time does."
    )


_SENTENCES: dict[tuple[str, str], Callable[[Line], str]] = {
    ("forecast", "scaled_error"): _scaled_error, ("forecast", "against_naive"): _against_naive,
    ("forecast", "within"): _within, ("forecast", "bias"): _bias, ("forecast", "off"): _off,
    ("shape", "kept"): _kept, ("drift", "growth"): _growth, ("drift", "grew"): _grew,
    ("season", "near"): _near, ("season", "later"): _later, ("season", "peak_near"): _peak_near,
    ("season", "caught"): _caught, ("launch", "worked"): _worked, ("launch", "alive"): _alive,
    ("launch", "revenue"): _revenue, ("launch", "area"): _area, ("launch", "lift"): _lift,
    ("signal", "growth"): _signal, ("rank", "within"): _band,
}  # fmt: skip


def lens_sentence(row: Line) -> str:
    """What weights fitted to launches come to; see ``exchange.proof`` for its fields."""
    many = f"{row['observations']:,} launches on {row['days']} days"
    if row["low"] is None:
        return (
            f"Too few launches to tell whether other weights do better here: {many} that came after enough "
            "others to fit weights to, some that worked and some that did not, on three days at least."
        )
    ends = f"{_points(row['low'])} to {_points(row['high'])}"
    gain = f"{ends} points of the area under the curve, {many}"
    if not row["weights"]:
        tried = f"those fitted to launches changed it by {gain}"
        return f"No evidence that other weights do better here: {tried}."
    return (
        "Weights fitted to which launches worked told later launches better than the default: in "
        f"{format_share(row['value'])} of pairs the one that worked stood higher, and in "
        f"{format_share(row['beside'])} by the default ({gain})."
    )


def _points(part: float) -> str:
    return f"{100 * part:+.0f}".replace("-", "−").replace("+0", "0").replace("−0", "0")


def limits_of(
    undated: float | None, ended: bool | None, launches: int, days: Sequence[str]
) -> list[str]:
    """What the data cannot show, as far as it can be seen from them."""
    told = [
        f"It rests on {len(days)} days, {days[0]} to {days[-1]}. Days close to one another share most of what "
        "they were told from, and a year that was unlike others is in many of them.",
        "Ratings, quality, sponsoring, returns and sellers of listings are not known of past days and count as "
        "unknown on them; what was put right in the figures later counts as if it had been known.",
    ]
    if undated is not None and undated > MOST_UNDATED:
        told.append(
            f"{format_share(undated)} of the listings clicked have no launch date: they are not in it."
        )
    if launches and ended is False:
        told.append(
            "No listing's figures end before the others': those that were given up may be missing from the "
            "tables, and launches then seem to work more often than they did."
        )
    if launches:
        told.append(
            "Niches differ in more than headroom: that launches worked more often in some is no proof that "
            "yours would."
        )
    return told
