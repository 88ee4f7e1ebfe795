"""The almanac as files: a list of what is to be done and happens, and a calendar (RFC 5545)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING, Any
from uuid import NAMESPACE_URL, uuid5

from driftfield.core.market import DEADLINES, AlmanacRow, Happening, Kind
from driftfield.core.sentences import happening_sentences, happening_title

if TYPE_CHECKING:
    from icalendar import Alarm, Event

CALENDAR_TYPE = "text/calendar; charset=utf-8"
AHEAD = timedelta(days=7)  # How long before a deadline a calendar reminds of it.
ANEW = timedelta(hours=12)  # How often a calendar that is subscribed to is read again.
COLUMNS = (
    "market_id", "kind", "id", "name", "what", "day", "until", "title", "order_by", "open_until", "rise",
    "peak_start", "peak_end", "wind_down", "end", "share", "caught", "level", "lead_days",
)  # fmt: skip
_OF_SEASON = COLUMNS[8:-1]


@dataclass(frozen=True, slots=True)
class Entry:
    """A subject of the almanac. url: where it is looked at, if anywhere."""

    market_id: str
    kind: Kind
    subject: str
    name: str
    row: AlmanacRow
    url: str = ""

    def uid(self, one: Happening) -> str:
        """A name for an entry that stays while its dates move, but for a season whose peak crosses New Year."""
        season = one.season
        parts = (
            self.market_id, self.kind.key, self.subject, one.what, str(season.year), str(season.number),
        )  # fmt: skip
        return str(uuid5(NAMESPACE_URL, "\n".join(parts)))


def happening_records(entries: Sequence[Entry], planning: date, last: date) -> list[dict[str, Any]]:
    """All that is to be done and happens from the planning date to a last day, by day."""
    found = [
        {
            "market_id": entry.market_id, "kind": entry.kind.key, "id": entry.subject, "name": entry.name,
            "what": one.what, "day": one.day.isoformat(), "until": one.until and one.until.isoformat(),
            "title": happening_title(one, entry.name),
            **{key: _plain(getattr(one.season, key)) for key in _OF_SEASON},
            "lead_days": entry.row.lead_days,
        }
        for entry in entries
        for one in entry.row.happenings(planning, last)
    ]  # fmt: skip
    return sorted(found, key=lambda one: one["day"])


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


@dataclass(frozen=True, slots=True)
class PlannedDay:
    """A day of a plan of an order. key: of the plan and what the day is for, which stays while the day moves.

    reminds: whether there is something to be done on it.
    """

    key: str
    day: date
    title: str
    description: str
    reminds: bool
    url: str = ""


def planned_days(
    plans: Sequence[dict[str, Any]], today: date, url: Callable[[dict[str, Any]], str]
) -> list[PlannedDay]:
    """The days of plans (``several_record``) from a day on: to order, to pay, goods on sale; by day.

    Of drafts whose day is past, and of plans that none can be made of, there are none.
    """
    found = []
    for one in plans:
        own = one["summary"]
        if own is None or (not one["placed"] and own["ordered"] < today.isoformat()):
            continue
        what = f"{own['units']:,} × {one['niche']} ({one['name']})"
        days = [("on sale", own["on_sale"], f"On sale: {what}", False)]
        if not one["placed"]:
            days.append(("order", own["ordered"], f"Order {what}, as planned", True))
        days += [
            (
                f"{paid['what']} {at}",
                paid["week"],
                f"Pay this week: {paid['what']} {paid['told']}, {what}",
                True,
            )
            for at, paid in enumerate(own["payments"])
        ]
        found += [
            PlannedDay(
                f"{one['key']}\n{name}",
                date.fromisoformat(day),
                title,
                own["sentence"],
                reminds,
                url(one),
            )
            for name, day, title, reminds in days
            if day >= today.isoformat()
        ]
    return sorted(found, key=lambda one: one.day)


def calendar_file(
    title: str, entries: Sequence[Entry], planning: date, last: date, stamp: datetime,
    planned: Sequence[PlannedDay] = (),
) -> bytes:  # fmt: skip
    """The same as a calendar, with a reminder a week before each deadline; and days of plans of orders.

    ``stamp`` is when the dates were made. A calendar that is read in again has the same entries by their UIDs.
    """
    from icalendar import Calendar, vDuration  # takes a moment, and few ask for a calendar

    calendar = Calendar()
    calendar.add("prodid", "-//Driftfield//Almanac//EN")
    calendar.add("version", "2.0")
    calendar.add("calscale", "GREGORIAN")
    calendar.add("method", "PUBLISH")
    calendar.add("name", _text(title))  # RFC 7986; the next line for readers that do not know it.
    calendar.add("x-wr-calname", _text(title))
    calendar.add("refresh-interval", vDuration(ANEW), parameters={"VALUE": "DURATION"})
    for entry in entries:
        for one in entry.row.happenings(planning, last):
            calendar.add_component(_event(entry, one, stamp))
    for day in planned:
        event = _dated(
            str(uuid5(NAMESPACE_URL, day.key)), stamp, day.title, day.description, day.day
        )
        if day.url:
            event.add("url", day.url)
        if day.reminds:
            event.add_component(_reminder(day.title))
        calendar.add_component(event)
    made: bytes = calendar.to_ical()
    return made


def _event(entry: Entry, one: Happening, stamp: datetime) -> Event:
    title = happening_title(one, entry.name)
    told = " ".join(happening_sentences(one, entry.row.lead_days))
    event = _dated(entry.uid(one), stamp, title, told, one.day, one.until)
    if entry.url:
        event.add("url", entry.url)
    if one.what in DEADLINES:
        event.add_component(_reminder(title))
    return event


def _dated(
    uid: str, stamp: datetime, title: str, told: str, day: date, until: date | None = None
) -> Event:
    from icalendar import Event

    event = Event()
    event.add("uid", uid)
    event.add("dtstamp", stamp)
    event.add("summary", _text(title))
    event.add("description", _text(told))
    event.add("dtstart", day)
    event.add("dtend", (until or day) + timedelta(days=1))  # The day after the last.
    event.add("transp", "TRANSPARENT")
    return event


def _reminder(title: str) -> Alarm:
    from icalendar import Alarm

    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", _text(title))
    alarm.add("trigger", -AHEAD)
    return alarm


def _text(text: str) -> str:
    """A text without what a calendar may not hold."""
    return "".join(letter if letter.isprintable() else " " for letter in text)
