"""A verdict is a sentence with evidence. Made from a niche's figures by key; None is unknown."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

from driftfield.core.base import MINUS, Period, format_change, format_interval
from driftfield.core.curves import slot_date
from driftfield.core.market import CATEGORY, HOLDERS, LISTING, NICHE, SELLING, TERM, Kind

from .categories import category_sentences
from .holders import holder_sentences, unsold_sentence
from .listings import asleep_sentence, listing_sentences, season_sentence

STEADY = 0.08  # Drift a year within which demand holds, as for the word; both ends of the interval.
HARDLY = (
    52  # Searches (units) a year, one a week, under which there is hardly any demand. Our choice.
)
WORTH_TELLING = 0.05  # Share of a running season under which what is left of it is not told.


def _percent(share: float) -> str:
    return f"{share:.0%}"


def _months(weeks: list[int], figures: Mapping[str, Any]) -> str:
    """A window of weeks (months) of the year, in months."""
    period, year = Period(figures["period"]), date.fromisoformat(str(figures["as_of"])).year
    first, last = (f"{slot_date(week - 1, period, year):%B}" for week in (weeks[0], weeks[-1]))
    return f"in {first}" if first == last else f"from {first} to {last}"


def _season(figures: Mapping[str, Any]) -> str:
    """When the peak comes, as months, and with which feast."""
    if not figures["peak_weeks"]:
        return "at no particular time"
    when = _months(figures["peak_weeks"], figures)
    if figures["feast"]:
        return f"with {figures['feast']}, next {when}"
    return when


def _since(figures: Mapping[str, Any]) -> str | None:
    """The month in which demand went, where it is gone."""
    since = figures["gone_since"]
    return f"{date.fromisoformat(str(since)):%B %Y}" if since else None


def shape_sentence(figures: Mapping[str, Any]) -> str:
    """When it comes: what the calendar does to the niche."""
    shape = figures["shape"]
    when = _season(figures)
    weekly = figures["period"] == "week"
    month = "the best four weeks carry" if weekly else "the best month carries"
    quarter = "the best quarter carries" if weekly else "the best three months carry"
    since = _since(figures)
    if since and shape == "Unsettled":
        text = f"No more: demand is gone, next to nothing since {since}."
        if figures["provisional"]:
            text += f" Until then it looked {figures['provisional'].lower()}."
        return text
    if shape == "Unsettled":
        text = f"Not proven: {_lower(figures['shape_reason'] or 'It swings without a pattern.')}"
        if figures["provisional"]:
            text += f" So far it looks {figures['provisional'].lower()}."
        return text
    if shape == "Fad":
        over = f", with next to nothing since {since}" if since else ""
        return f"Once: one burst carries most of its record, and it has not come back{over}."
    if shape == "Evergreen" and figures["best13"] < 0.2505:
        return "All year: no season stands out from the noise."
    if shape == "Evergreen":
        return f"All year: {quarter} {_percent(figures['best13'])}, a flat year 25%."
    if shape == "Leaning":
        text = f"All year, strongest {when}: {quarter} {_percent(figures['best13'])} of the year."
    elif shape == "Occasion":
        text = f"Every year {when}: {month} {_percent(figures['best4'])} of the year."
    else:
        text = f"Every year {when}: {quarter} {_percent(figures['best13'])} of the year."
    if figures["second_peak_weeks"]:
        text += f" It peaks a second time {_months(figures['second_peak_weeks'], figures)}."
    return text


def _lower(sentence: str) -> str:
    return sentence[0].lower() + sentence[1:]


def demand_answer(figures: Mapping[str, Any]) -> str:
    """Whether the demand is real, and where it goes: the answer first."""
    shape, since = figures["shape"], _since(figures)
    if shape == "Fad":
        return f"No: {_lower(shape_sentence(figures).removeprefix('Once: '))}"
    if since:
        return f"No: demand is gone, next to nothing since {since}."
    if shape == "Unsettled":
        return f"Not proven: {_lower(figures['shape_reason'] or 'It swings without a pattern.')}"
    searches = figures["searches_52w"]
    many = "" if searches is None else f" {searches:,.0f} searches a year"
    if figures["basis"] == "relative":
        many = " though its level is not known"
    if searches is not None and searches < HARDLY:
        return f"Hardly:{many}, {_course(figures)}."
    return f"Yes,{many + ',' if many else ''} {_course(figures)}."


def _course(figures: Mapping[str, Any]) -> str:
    """Whether it grows, by the interval of its drift alone."""
    drift, rate = figures["drift"], figures["drift_rate_year"]
    low, high = figures["drift_low"], figures["drift_high"]
    if rate is None or low is None or high is None:
        return "and whether it grows is not known"
    sure = f"{_yearly(rate)} ({format_interval(low, high)})"
    if drift in ("Stepped up", "Stepped down"):
        return f"and its level {drift.lower()} within two years; apart from that {sure}"
    if drift == "Rising":
        return f"and it is growing: {sure}"
    if drift == "Easing":
        return f"but it is shrinking: {sure}"
    if low >= -STEADY and high <= STEADY:
        return f"and it is steady: {sure}"
    # Less than makes the word Rising or Easing, but more than none.
    if low > 0:
        return f"and it grows a little: {sure}"
    if high < 0:
        return f"but it shrinks a little: {sure}"
    return f"and whether it grows or shrinks is not proven: {sure}"


def _yearly(rate: float) -> str:
    change = format_change(rate)
    return change if change == "unchanged" else f"{change} a year"


def demand_answers(figures: Mapping[str, Any], kind: Kind = NICHE) -> list[str]:
    """Is the demand real? The answer, then the latest change, shifts of level, and doubts."""
    shifted = drift_sentence(figures) if figures["level_shifts"] else None
    sentences = [
        demand_answer(figures), growth_sentence(figures), shifted, year_sentence(figures),
        doubt_sentence(figures, kind),
    ]  # fmt: skip
    return [sentence for sentence in sentences if sentence]


def calendar_answers(figures: Mapping[str, Any], lead_days: int) -> list[str]:
    """When does it come? The calendar, then the dates to act by."""
    return [shape_sentence(figures), *season_sentences(figures, lead_days)]


# From whom a noisy curve borrows its season.
LENDERS = {NICHE: "category", TERM: "niche", CATEGORY: "parent", LISTING: "niche"}


def doubt_sentence(figures: Mapping[str, Any], kind: Kind = NICHE) -> str | None:
    """What should be known before the season is believed."""
    sentences = []
    if figures["season_changed"]:
        sentences.append("Its season has moved: the last two years are unlike the ones before.")
    if figures["borrowed"]:
        sentences.append(
            f"To steady it, {_percent(figures['borrowed'])} of its season is borrowed from its "
            f"{LENDERS[kind]}."
        )
    if figures["basis"] == "ranks":
        sentences.append("Read from units that are estimated from its sales rank, not from counts.")
    if figures["basis"] == "relative":
        sentences.append(
            "Read from a relative curve: its level cannot be summed, ranked or turned into counts."
        )
    agreement = figures.get("interest_agreement")
    if agreement is not None and agreement < 0.5:
        sentences.append(f"Counts and relative curve disagree (rank correlation {agreement:.2f}).")
    return " ".join(sentences) or None


def _usual(figures: Mapping[str, Any], season: float) -> str:
    """The calendar's part in a change of the last quarter, by the months it ran through."""
    end = date.fromisoformat(str(figures["as_of"]))
    start = end - timedelta(weeks=13)
    way = "rise" if season > 0 else "fall"
    return f"the usual {start:%B}-to-{end:%B} {way}"


def _changed(raw: float, weeks: str) -> str:
    """A change of the last quarter as the beginning of a sentence."""
    change = format_change(raw)
    if change == "unchanged":
        return f"Unchanged over {weeks}"
    way = "Rose" if raw > 0 else "Fell"
    if change[0] in f"+{MINUS}":
        return f"{'Up' if raw > 0 else 'Down'} {change[1:]} in {weeks}"
    return f"{way} {change} in {weeks}"


def _makes(season: float) -> str:
    """What the calendar does to the figures."""
    change = format_change(season)
    if change.startswith("from "):
        return "starts from almost nothing"
    if change.startswith("to "):
        return f"takes it {change}"
    return f"makes it {change}" if change.endswith("-fold") else f"makes {change}"


def growth_sentence(figures: Mapping[str, Any]) -> str:
    """The last quarter's change, never without its split."""
    raw, season, drift = (figures[f"growth_13w.{part}"] for part in ("raw", "season", "drift"))
    weeks = "13 weeks" if figures["period"] == "week" else "3 months"
    if raw is None:
        return f"Its last {weeks} cannot be compared: figures are missing or were almost nothing before."
    change = _changed(raw, weeks)
    if figures["shape"] == "Fad":
        return f"{change}; after a burst there is no calendar by which season and drift could be told apart."
    if drift is None:
        return f"{change}; what the calendar did in that is unknown."
    low, high = figures["growth_13w.drift_low"], figures["growth_13w.drift_high"]
    sure = "" if low is None else f" ({format_interval(low, high)})"
    if abs(season) < 0.005 and abs(raw) < 0.005:
        return f"{change}: neither season nor drift moved it{sure}."
    if abs(season) < 0.005:
        return f"{change}, none of it seasonal: drift is {format_change(drift)}{sure}."
    rest = (
        "nothing is left for drift"
        if abs(drift) < 0.005
        else f"the rest is drift, {format_change(drift)}"
    )
    return f"{change}: {_usual(figures, season)} {_makes(season)}; {rest}{sure}."


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


def hardly_sentence(figures: Mapping[str, Any]) -> str | None:
    """That it sells too little for anything to be told of season or trend, where it does."""
    units = figures["sales.units_52w"]
    if units is None or units >= HARDLY or figures["basis"] != "counts":
        return None
    many = f"{units:,.0f} {'unit' if units == 1 else 'units'}"
    return f"It sells too little to tell a season or a trend: {many} in the last year."


def drift_sentence(figures: Mapping[str, Any]) -> str | None:
    """The drift a year with its interval."""
    rate = figures["drift_rate_year"]
    if rate is None or figures["shape"] in ("Fad", "Unsettled"):
        return None
    low, high = figures["drift_low"], figures["drift_high"]
    text = f"Trend without the season: {_yearly(rate)} ({format_interval(low, high)})"
    shifts = figures["level_shifts"]
    if shifts:
        dated = [
            f"{format_change(shift['size'])} in {date.fromisoformat(shift['from']):%B %Y}"
            for shift in shifts
        ]
        noun = "a level shift" if len(dated) == 1 else "level shifts"
        text += f", apart from {noun} of {' and '.join(dated)}"
    return text + "."


def _day(day: date, near: date) -> str:
    """A date as it is read; without the year where that is the one of ``near``."""
    return f"{day.day} {day:%b}" if day.year == near.year else f"{day.day} {day:%b %Y}"


def season_sentences(figures: Mapping[str, Any], lead_days: int) -> list[str]:
    """When to order and what is caught then; seasonal niches only are ordered by the date."""
    if figures["act.order_by"] is None or figures["shape_family"] != "seasonal":
        return []
    planning, order_by, until = (
        date.fromisoformat(str(figures[key]))
        for key in ("planning_date", "act.order_by", "act.open_until")
    )
    arrival, rise = (day + timedelta(days=lead_days) for day in (planning, order_by))
    season = _acted_on(figures, rise)
    if order_by >= planning:
        told = f"{order_by.day} {order_by:%b %Y}"
        sentences = [
            f"Order by {told} to be on sale when it starts to rise, {_day(rise, order_by)}."
        ]
        left = figures["act.running_left"]
        if left is not None and left >= WORTH_TELLING:
            sentences.append(
                f"Goods ordered on {_day(planning, order_by)} arrive on {_day(arrival, order_by)} and would "
                f"still meet about {_percent(left)} of the season before that."
            )
        return sentences
    peak = ""
    if season is not None:
        start, end = (date.fromisoformat(season[key]) for key in ("peak_start", "peak_end"))
        peak = f", which peaks from {_day(start, planning)} to {_day(end, planning)}"
    sentences = [
        f"The season is still open: goods ordered on {planning.day} {planning:%b %Y} arrive on "
        f"{_day(arrival, planning)} and meet about {_percent(figures['act.caught'])} of it{peak}.",
        f"Half of it is met until {_day(until, planning)}; too late for the full season since "
        f"{_day(order_by, planning)}.",
    ]
    if figures["order_by"] is not None:
        full = date.fromisoformat(str(figures["order_by"]))
        sentences.append(f"For the next full one, order by {full.day} {full:%b %Y}.")
    return sentences


def _acted_on(figures: Mapping[str, Any], rise: date) -> Mapping[str, Any] | None:
    """The season that the dates are of."""
    return next((one for one in figures["seasons"] if one["rise"] == rise.isoformat()), None)


def date_sentences(figures: Mapping[str, Any], lead_days: int, kind: Kind = NICHE) -> list[str]:
    """When to order: the last sentences of a verdict; of a sleeper by the season that its niche tells."""
    if kind in HOLDERS:
        return []
    own = season_sentence(figures) if kind == LISTING else None
    return season_sentences(figures, lead_days) if own is None else [own]


def verdict(
    figures: Mapping[str, Any], lead_days: int, kind: Kind = NICHE, currency: str = ""
) -> list[str]:
    """The sentences of a verdict on a subject of a kind: calendar, change, drift, next dates.

    Of a category also how open it is, who came lately and how few listings hold it; of a listing whether it
    sleeps and what its price and offers do; of a brand or a seller what it carries. Amounts are in
    ``currency``, ISO 4217.
    """
    sentences = [
        shape_sentence(figures), growth_sentence(figures), drift_sentence(figures),
        year_sentence(figures), doubt_sentence(figures, kind), *season_sentences(figures, lead_days),
    ]  # fmt: skip
    if kind == CATEGORY:
        # Its niches have dates of their own; those of their sum are nobody's to order by.
        sentences = [*sentences[:5], *category_sentences(figures)]
    if kind in SELLING and (hardly := hardly_sentence(figures)):
        sentences = [hardly]
    if kind in HOLDERS and (unsold := unsold_sentence(figures, kind)):
        sentences = [unsold]
    if kind in HOLDERS:
        # What it sells has dates of its own, too.
        sentences = [*sentences[:5], *holder_sentences(figures, kind, currency)]
    if kind == LISTING:
        sentences = [
            asleep_sentence(figures, currency), *sentences[:5], *listing_sentences(figures, currency),
            *date_sentences(figures, lead_days, kind),
        ]  # fmt: skip
    return [sentence for sentence in sentences if sentence]
