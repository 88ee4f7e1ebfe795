"""The almanac as files: a list of what is to be done and happens, and a calendar (RFC 5545)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING, Any
from uuid import NAMESPACE_URL, uuid5

from driftfield.core.market import DEADLINES, AlmanacRow, Happening, Kind
from driftfield.core.sentences import happening_sentences, happening_title

if TYPE_CHECKING:
    from icalendar import Event

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


def calendar_file(
    title: str, entries: Sequence[Entry], planning: date, last: date, stamp: datetime
) -> bytes:
    """The same as a calendar, with a reminder a week before each deadline.

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
    made: bytes = calendar.to_ical()
    return made


def _event(entry: Entry, one: Happening, stamp: datetime) -> Event:
    from icalendar import Alarm, Event

    event = Event()
    event.add("uid", entry.uid(one))
    event.add("dtstamp", stamp)
    event.add("summary", _text(happening_title(one, entry.name)))
    event.add("description", " ".join(happening_sentences(one, entry.row.lead_days)))
    event.add("dtstart", one.day)
    event.add("dtend", (one.until or one.day) + timedelta(days=1))  # The day after the last.
    event.add("transp", "TRANSPARENT")
    if entry.url:
        event.add("url", entry.url)
    if one.what in DEADLINES:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", _text(happening_title(one, entry.name)))
        alarm.add("trigger", -AHEAD)
        event.add_component(alarm)
    return event


def _text(text: str) -> str:
    """A text without what a calendar may not hold."""
    return "".join(letter if letter.isprintable() else " " for letter in text)
