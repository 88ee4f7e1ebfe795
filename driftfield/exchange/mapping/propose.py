"""What a file of an unknown layout may be, by the names of its columns and by what is in them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from driftfield.exchange.tables import Table, tables

from .columns import MOSTLY, PREFERRED, Seen, look_at, uses_of
from .dates import find_day, monday_of, parse_day
from .layout import Layout
from .model import MONTHS_ALONE, NAMED, SUBJECT_TABLES, Mapping, Use
from .numerals import NOTHING, writing_of
from .words import OTHER_MEASURES, fit, words_of

ENDS = {"end", "ending", "to", "until", "through", "closing", "bis"}


@dataclass(frozen=True, slots=True)
class Proposal:
    """A mapping that fits as far as can be seen; of no table where none fits.

    doubts: what was a matter of choice, in sentences.
    """

    mapping: Mapping
    doubts: list[str] = field(default_factory=list)


def propose(layout: Layout, file_name: str, table: str = "") -> Proposal:
    """What the file may be; of ``table`` where that is known."""
    spread, order = _spread(layout)
    cells = [[row[i] for row in layout.sample] for i in range(len(layout.names))]
    known = [[c for c in column if c.casefold() not in {*NOTHING, ""}] for column in cells]
    figures = [cell for column in known for cell in column if _looks_numeric(cell)]
    decimal, grouping, doubt = writing_of(figures, layout.separator)
    seen = [
        look_at(name, column, decimal, grouping)
        for name, column in zip(layout.names, known, strict=True)
        if name not in spread
    ]
    texts = [file_name, *layout.above]
    chosen, uses = _table_of(seen, texts, table, spread=bool(spread))
    doubts = [doubt] if doubt and figures else []
    if not table and not spread and not _explained(seen, uses):
        found = _by_content(seen)
        if found:
            chosen, uses = tables()["term_weeks"], found
            if layout.head:
                doubts.append(f"“{found[-1].column}” is taken for searches by what is in it.")
    if chosen is None:
        return Proposal(Mapping("", head=layout.head))
    mapping = Mapping(chosen.name, tuple(uses), layout.head, decimal, grouping)
    if spread:
        measure = _measure(chosen, texts)
        doubts.append(f"The figures below dates are taken for {measure}.")
        days = [day for name in spread if (day := parse_day(name, order))]
        mapping = replace(mapping, spread=measure, dates=order)
        mapping, more = _named(mapping, days, "")
    else:
        mapping, more = _dated(mapping, chosen, seen, file_name, layout)
    if chosen.name == "feedback" and all(use.to != "kind" for use in uses):
        kind = "return" if "return" in words_of(file_name) else "review"
        mapping = replace(mapping, fixed={"kind": kind})
        more.append(f"All rows are taken for a {kind}.")
    return Proposal(mapping, doubts + more)


def _table_of(
    seen: Sequence[Seen], texts: Sequence[str], table: str, *, spread: bool
) -> tuple[Table | None, list[Use]]:
    """The table for which most speaks, and which columns are which; of ``table`` where that is given."""
    chosen, uses, most = None, [], 0.0
    for candidate in [tables()[table]] if table else tables().values():
        if spread and candidate.name not in SUBJECT_TABLES:
            continue
        found = uses_of(candidate, seen)
        value = _score(candidate, found, texts, spread=spread)
        if value > most or table:
            chosen, uses, most = candidate, found, value
    return chosen, uses


def _explained(seen: Sequence[Seen], uses: Sequence[Use]) -> bool:
    """Whether the names say what any of the dates or figures are."""
    used = {use.column for use in uses}
    return any(one.name in used for one in seen if one.dates or one.figures >= MOSTLY)


def _by_content(seen: Sequence[Seen]) -> list[Use]:
    """One column of texts, one of dates and figures beside them are terms by week, whatever they are called.

    term, week and searches, for which the first of several columns of figures is taken; empty where they
    are not like that.
    """
    texts = [one for one in seen if one.cells and not one.dates and one.figures < MOSTLY]
    dates = [one for one in seen if one.dates]
    figures = [
        one
        for one in seen
        if one.figures >= MOSTLY and not one.dates and not OTHER_MEASURES & set(words_of(one.name))
    ]
    if not figures or not len(texts) == len(dates) == 1:
        return []
    return [
        Use(texts[0].name, "term"),
        Use(dates[0].name, "week"),
        Use(figures[0].name, "searches"),
    ]


def _dated(
    mapping: Mapping, table: Table, seen: Sequence[Seen], file_name: str, layout: Layout
) -> tuple[Mapping, list[str]]:
    """The mapping with what its dates are, in columns or for the whole file."""
    by_name = {one.name: one for one in seen}
    dated = {u.to: by_name[u.column] for u in mapping.columns if by_name[u.column].dates}
    if "week" in dated:
        week = dated["week"]
        days = [day for cell in week.cells if (day := parse_day(cell, week.order))]
        mapping, doubts = _named(replace(mapping, dates=week.order), days, week.name)
        if _open_order(week.cells):
            doubts.append(f"“{week.cells[0]}” is read as {days[0]:%-d %B %Y}.")
        return mapping, doubts
    if dated:
        return replace(mapping, dates=next(iter(dated.values())).order), []
    if table.column("week") is None:
        return mapping, []
    # The week of a whole file stands in its name, or above the table.
    for where, texts, place in (
        ("name", [file_name], "in the file's name"),
        ("above", list(layout.above), "above the table"),
    ):
        day = find_day(texts, "dmy")
        if day is not None:
            whole = replace(mapping, dates="dmy", week_in=where)
            whole, doubts = _named(whole, [day], "")
            return whole, [f"The week of all rows is taken from {day:%-d %B %Y}, {place}.", *doubts]
    return mapping, []


def _looks_numeric(cell: str) -> bool:
    return sum(c.isdigit() for c in cell) * 2 >= len(cell) and not parse_day(cell, "ymd")


def _spread(layout: Layout) -> tuple[list[str], str]:
    """Names of the columns that are dates, where most are, and how those are written."""
    for order in PREFERRED[:-1]:
        found = [name for name in layout.names if parse_day(name, order)]
        if len(found) >= 3 and len(found) * 2 > len(layout.names):
            return found, order
    return [], ""


def _open_order(cells: Sequence[str]) -> bool:
    """Whether all dates of a column are days under both orders, and not the same ones."""
    both = [(parse_day(c, "dmy"), parse_day(c, "mdy")) for c in dict.fromkeys(cells)]
    return all(a and b for a, b in both) and any(a != b for a, b in both)


def _score(table: Table, uses: Sequence[Use], texts: Sequence[str], *, spread: bool) -> float:
    """How much speaks for a table: what it explains of the file, if it has what it must have."""
    have = {use.to for use in uses}
    lacking = {c.name for c in table.columns if c.required} - have
    if spread:
        lacking -= {"week", _measure(table, [])}
    if "week" in lacking and find_day(texts, "dmy"):
        lacking -= {"week"}
    if table.name == "feedback":
        lacking -= {"kind"}
    if lacking or not have or (table.one_of and not have & set(table.one_of)):
        return 0.0
    named = set(words_of(table.name)) <= set(words_of(texts[0]))
    if not (named or table.told_by(have)):
        return 0.0
    explained = sum(fit(use.column, table, use.to) for use in uses) + (1.0 if spread else 0.0)
    hint = 0.4 if named else 0.0
    if spread:
        return explained + hint + max(fit(t, table, name) for t in texts for name in table.measures)
    # Of two tables that explain as much, the one of which less is missing.
    return explained + hint + 0.3 * len(have) / len(table.columns)


def _measure(table: Table, texts: Sequence[str]) -> str:
    """Which figures of a table stand in columns of dates: the one that is spoken of, else the first."""
    for text in texts:
        best = max(table.measures, key=lambda name: fit(text, table, name))
        if fit(text, table, best) > 0:
            return best
    return table.measures[0]


def _named(mapping: Mapping, days: Sequence[date], clue: str) -> tuple[Mapping, list[str]]:
    """The mapping with what its dates name, and a doubt where they leave it open."""
    if mapping.dates in MONTHS_ALONE or _monthly(days):
        return replace(mapping, named="day of a month"), []
    weekdays = {day.weekday() for day in days}
    if mapping.dates == "iso week" or len(weekdays) != 1 or weekdays == {0}:
        return mapping, []
    last = bool(ENDS & set(words_of(clue))) or weekdays == {5}
    named = NAMED[1] if last else NAMED[0]
    monday = monday_of(days[0], named)
    return replace(mapping, named=named), [
        f"Weeks are named by a {days[0]:%A}, taken for their {'last' if last else 'first'} day: "
        f"{days[0]:%-d %b %Y} is in the week of {monday:%-d %b %Y}."
    ]


def _monthly(dates: Sequence[date]) -> bool:
    """Whether they are months: all first days, or no two in one month and as many as months."""
    distinct = sorted(set(dates))
    if len(distinct) < 2:
        return False
    months = {(d.year, d.month) for d in distinct}
    if all(d.day == 1 for d in distinct):
        return True
    spans = (distinct[-1].year - distinct[0].year) * 12 + distinct[-1].month - distinct[0].month + 1
    return len(months) == len(distinct) and len(distinct) >= 3 and spans < 2 * len(months)
