"""Dates as people write them."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date, timedelta

MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september", "october",
    "november", "december",
)  # fmt: skip
TIME = re.compile(r"[T ]\d{1,2}:\d{2}.*$")
WEEK = re.compile(r"(\d{4})-?\s?[Ww](\d{1,2})(?:-\d)?")
PARTS = re.compile(r"\d+|[A-Za-z]{3,}")
JOINED = re.compile(r"\d{8}")
# A spreadsheet's day 1 is 1900-01-01, and it counts a 29 February 1900 that never was (ECMA-376,
# part 1, 18.17.4.1); so for all days after that, day 0 is this one.
DAY_ZERO = date(1899, 12, 30)
EARLIEST, LATEST = date(1980, 1, 1), date(2100, 1, 1)
ORDERS = {"ymd": "ymd", "dmy": "dmy", "mdy": "mdy", "ym": "ym", "my": "my"}
# Looked for in longer text, such as a file's name.
WITHIN = re.compile(
    r"\d{4}-?[Ww]\d{1,2}|\d{4}[-._/]\d{1,2}[-._/]\d{1,2}|\d{1,2}[-._/]\d{1,2}[-._/]\d{2,4}"
    r"|(?<!\d)(?:19|20)\d{6}(?!\d)|\d{1,2} [A-Za-z]{3,9} \d{4}|[A-Za-z]{3,9} \d{1,2},? \d{4}"
)


def parse_day(text: str, order: str) -> date | None:
    """The date that ``text`` is when written in one of ``model.DATES``; None where it is none.

    Of a span, such as “1 Nov 2026 – 7 Nov 2026”, the first. Years of two digits are after 2000. A month
    is its first day.
    """
    text = TIME.sub("", text.strip())
    try:
        if order == "iso week":
            found = WEEK.fullmatch(text)
            return _within(date.fromisocalendar(int(found[1]), int(found[2]), 1)) if found else None
        if order == "days":
            return _within(DAY_ZERO + timedelta(days=int(float(text))))
        return _within(_of_parts(text, ORDERS[order]))
    except (ValueError, OverflowError):
        return None


def _within(day: date | None) -> date | None:
    return day if day is not None and EARLIEST <= day < LATEST else None


def _of_parts(text: str, order: str) -> date | None:
    """Parts of a date in their order; where a month is written out, the order of the others stands."""
    if JOINED.fullmatch(text) and order == "ymd":
        text = f"{text[:4]}-{text[4:6]}-{text[6:]}"
    parts = PARTS.findall(text)
    spans = len(parts) == 2 * len(order)
    if not parts or not (len(parts) == len(order) or spans):
        return None
    rest = PARTS.sub("", text)
    if re.search(r"[^\s,./\-–—_']|to", rest):
        return None
    parts = parts[: len(order)]
    words = [part for part in parts if part.isalpha()]
    if len(words) > 1 or (words and "m" not in order):
        return None
    values = {}
    if words:
        month = _month(words[0])
        if month is None:
            return None
        values["m"] = month
        numbers = [int(part) for part in parts if not part.isalpha()]
        letters = [sign for sign in order if sign != "m"]
        # “Nov 9, 2026” is month, day, year however days and months are ordered in figures.
        if len(numbers) == 2 and letters == ["y", "d"] and numbers[0] < 100:
            letters = ["d", "y"]
        values |= dict(zip(letters, numbers, strict=True))
    else:
        values = {sign: int(part) for sign, part in zip(order, parts, strict=True)}
    year = values["y"]
    # Of two parts the year must be plain: “4.5” is no month.
    if year < 100 and len(order) == 3:
        year += 2000
    elif year < 1000:
        return None
    return date(year, values["m"], values.get("d", 1))


def _month(word: str) -> int | None:
    short = word.casefold()
    found = [i for i, name in enumerate(MONTHS, start=1) if name.startswith(short)]
    if not found and short == "sept":
        return 9
    return found[0] if len(found) == 1 else None


def day_in(text: str) -> date | None:
    """The date that a whole short text is in any unmistakable way of writing, or in one of two."""
    if not 6 <= len(text) <= 30 or not any(c.isdigit() for c in text):
        return None
    for order in ("iso week", "ymd", "dmy", "mdy", "ym", "my"):
        found = parse_day(text, order)
        if found is not None:
            return found
    return None


def find_day(texts: Iterable[str], order: str) -> date | None:
    """The first date anywhere in the texts, written in ``order``; ISO dates always count."""
    for text in texts:
        for found in WITHIN.findall(text):
            day = parse_day(found, "iso week") or parse_day(found, order) or parse_day(found, "ymd")
            if day is not None:
                return day
    return None


def monday_of(day: date, named: str) -> date:
    """The period a date names, as the exchange tables name it: a week's Monday, a month's first day.

    A week that begins on another day is the ISO week that shares most of its days: that of its fourth
    day, by the rule that gives ISO years their first week (ISO 8601).
    """
    if named == "day of a month":
        return day.replace(day=1)
    middle = day + timedelta(days=3 if named == "first day of a week" else -3)
    return middle - timedelta(days=middle.weekday())
