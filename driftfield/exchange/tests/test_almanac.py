"""The almanac as a calendar: valid under RFC 5545, read back by another parser, the same when made anew."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from unittest import TestCase

import numpy as np
import vobject

from driftfield.core.market import NICHE, Window, almanac_rows
from driftfield.core.market.tests.test_almanac import AS_OF, PROFILES, inputs
from driftfield.exchange.almanac import Entry, calendar_file, happening_records

STAMP = datetime(2026, 5, 18, 9, tzinfo=UTC)
WINDOW = Window.from_month_of(AS_OF)
HOSTILE = "Rings; “5, 6”\\n\r\nBEGIN:VEVENT\x07 <b>" + "ü" * 90


def entries(*names: str, lead: int = 77, shift: int = 0) -> list[Entry]:
    profiles = np.roll(PROFILES[: len(names)], shift, axis=1)
    rows = almanac_rows(inputs(profiles), np.full(len(names), lead), AS_OF, WINDOW)
    return [
        Entry("north", NICHE, f"n{at}", name, row) for at, (name, row) in enumerate(zip(names, rows, strict=True))
    ]  # fmt: skip


def made(found: list[Entry]) -> bytes:
    return calendar_file("Kept, north", found, AS_OF, WINDOW.last, STAMP)


def events(found: list[Entry]) -> list[Any]:
    """Read by vobject, which is a parser of its own."""
    calendar: Any = vobject.readOne(made(found).decode())
    return list(calendar.vevent_list)


class AsRfc5545(TestCase):
    def test_lines_end_and_fold_as_they_must(self) -> None:
        """Section 3.1: lines end in CR LF and have at most 75 octets; 3.6: what must stand in it."""
        raw = made(entries("Rhubarb forcers", HOSTILE))
        self.assertTrue(raw.endswith(b"END:VCALENDAR\r\n"))
        for line in raw.split(b"\r\n"):
            self.assertLessEqual(len(line), 75)
            self.assertNotIn(b"\n", line)
            self.assertNotIn(b"\x07", line)
        self.assertIn(b"VERSION:2.0\r\n", raw)
        self.assertEqual(raw.count(b"BEGIN:VEVENT\r\n"), raw.count(b"END:VEVENT\r\n"))

    def test_another_parser_reads_the_same_back(self) -> None:
        found = entries("Rhubarb forcers", HOSTILE)
        records = happening_records(found, AS_OF, WINDOW.last)
        read = events(found)
        self.assertEqual(len(read), len(records))
        self.assertEqual(
            sorted((one.dtstart.value.isoformat(), one.summary.value) for one in read),
            sorted((one["day"], _shown(one["title"])) for one in records),
        )
        for one in read:
            self.assertGreater(one.dtend.value, one.dtstart.value)  # The end is not included.
            self.assertEqual(one.dtstamp.value, STAMP)

    def test_a_reminder_a_week_before_each_deadline_and_nowhere_else(self) -> None:
        for one in events(entries("Rhubarb forcers")):
            deadline = one.summary.value.startswith(("Order ", "Last day to order "))
            alarms = getattr(one, "valarm_list", [])
            self.assertEqual(len(alarms), int(deadline), one.summary.value)
            if deadline:
                self.assertEqual(alarms[0].trigger.value, timedelta(days=-7))
                self.assertEqual(alarms[0].action.value, "DISPLAY")


class MadeAnew(TestCase):
    def test_entries_keep_their_uids_when_dates_move(self) -> None:
        """With another lead time, and with a season a week later, an entry is the same one on another day."""
        before = {one.uid.value: one.dtstart.value for one in events(entries("Forcers"))}
        self.assertEqual(len(before), len(events(entries("Forcers"))))
        for later in (entries("Renamed forcers", lead=70), entries("Forcers", shift=1)):
            after = {one.uid.value: one.dtstart.value for one in events(later)}
            both = before.keys() & after.keys()
            self.assertGreaterEqual(len(both), len(before) - 1)
            self.assertTrue(any(before[uid] != after[uid] for uid in both))
            self.assertTrue(all(abs(before[uid] - after[uid]) <= timedelta(8) for uid in both))

    def test_of_several_seasons_and_niches_no_two_share_one(self) -> None:
        uids = [one.uid.value for one in events(entries("a", "a", "a"))]
        self.assertEqual(len(uids), len(set(uids)))

    def test_the_list_says_day_by_day_what_the_calendar_does(self) -> None:
        (entry,) = entries("Rhubarb forcers")
        records = happening_records([entry], AS_OF, WINDOW.last)
        order = next(one for one in records if one["what"] == "order")
        self.assertEqual(order["title"], "Order Rhubarb forcers for the full season")
        self.assertEqual(
            date.fromisoformat(order["rise"]) - date.fromisoformat(order["day"]), timedelta(days=77)
        )
        self.assertEqual([one["day"] for one in records], sorted(one["day"] for one in records))


def _shown(title: str) -> str:
    return "".join(letter if letter.isprintable() else " " for letter in title)
