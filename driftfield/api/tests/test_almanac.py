"""The almanac over the API: in the order of its deadlines, from any day, as a calendar to subscribe to."""

from datetime import date, timedelta
from typing import Any

import vobject

from driftfield.exchange.tests.packages import small_market, table
from driftfield.exchange.tests.sleepy import sleepy_market
from driftfield.market.models import Market
from driftfield.readings.actions import choose_planning, overrule

from .loaded import Loaded


def in_britain() -> dict[str, str]:
    return small_market() | {
        "markets": table(
            "market_id,name,currency,country", ("north", "Harrow Quay North", "GBP", "GB")
        )
    }


class Almanac(Loaded):
    package = staticmethod(in_britain)

    def test_rows_come_by_their_next_deadline_and_those_without_a_season_last(self) -> None:
        found = self.get("almanac/")
        self.assertEqual((found["first"], found["last"]), ("2025-12-01", "2027-02-28"))
        rows = found["rows"]
        self.assertEqual(rows[0]["name"], "Rhubarb forcers")
        self.assertEqual([row["next"] is None for row in rows], [False, True, True])
        due = rows[0]["next"]
        own = self.get("niche/?niche=rf")["figures"]
        self.assertEqual(due["day"], own["act_order_by"] if due["what"] == "order" else own["act_open_until"])  # fmt: skip
        self.assertAlmostEqual(due["caught"], own["act_caught"], places=5)
        self.assertIn("Rhubarb forcers", " ".join(found["sentences"]))

    def test_holidays_are_those_of_the_market_s_country(self) -> None:
        found = self.get("almanac/")
        self.assertEqual(found["holidays_of"], "GB")
        self.assertIn(
            {"name": "Spring Bank Holiday", "day": "2026-05-25", "moving": False}, found["feasts"]
        )
        Market.objects.update(country="XX")
        found = self.get("almanac/")
        self.assertEqual(found["holidays_of"], "")
        self.assertTrue(all(one["moving"] for one in found["feasts"]))

    def test_what_passes_a_sieve_alone_and_why_nothing_does(self) -> None:
        self.assertEqual(self.get("almanac/?c=shape+%3D+Seasonal")["count"], 1)
        kept = self.get("almanac/?c=decided+keep")
        self.assertEqual((kept["rows"], kept["total"]), ([], 3))
        self.assertIsNotNone(kept["blocked"])
        self.post("desk/decisions/", {"market_id": "north", "id": "mf", "choice": "keep"}, 201)
        self.assertEqual([row["id"] for row in self.get("almanac/?c=decided+keep")["rows"]], ["mf"])

    def test_looking_from_another_day_is_what_planning_from_it_would_give(self) -> None:
        overrule(Market.objects.get(), "rf", {"lead_days": 30})
        day = date(2026, 8, 3)
        looked = self.get(f"almanac/?on={day}")
        self.assertEqual((looked["on"], looked["planning_date"]), ("2026-08-03", "2025-12-28"))
        choose_planning(Market.objects.get(), day, 77)
        planned = self.get("almanac/")
        self.assertEqual(planned["rows"][0]["next"], looked["rows"][0]["next"])
        self.assertEqual(planned["rows"][0]["lead_days"], 30)
        # The sieve asks of the market's planning date; what is looked from changes nothing.
        self.assertEqual(planned["on"], "2026-08-03")

    def test_a_day_of_which_nothing_is_known_is_refused(self) -> None:
        for day in ("2020-01-01", "2031-01-01"):
            self.assertIn("planning date", self.get(f"almanac/?on={day}", 409)["detail"])
        self.get("almanac/?on=tomorrow", 400)

    def test_the_list_and_the_files_hold_what_happens(self) -> None:
        weeks = self.get("almanac/weeks/")
        self.assertEqual(weeks["count"], len(weeks["happenings"]))
        rows = self.get("almanac/file/?as=json")["rows"]
        self.assertEqual(
            [(one["day"], one["title"]) for one in rows],
            [(one["day"], one["title"]) for one in weeks["happenings"]],
        )

    def test_a_calendar_to_subscribe_to(self) -> None:
        response = self.client.get("/api/almanac/calendar/?c=shape+%3D+Seasonal")
        self.assertEqual(response["Content-Type"], "text/calendar; charset=utf-8")
        calendar: Any = vobject.readOne(response.content.decode())
        read = calendar.vevent_list
        self.assertEqual(len(read), self.get("almanac/weeks/")["count"])
        self.assertTrue(read[0].url.value.startswith("http://testserver/dossier?market=north"))
        # Asked again it is the same, but for nothing.
        again = self.client.get("/api/almanac/calendar/?c=shape+%3D+Seasonal")
        self.assertEqual(again.content, response.content)


class OfListings(Loaded):
    package = staticmethod(sleepy_market)

    def test_a_listing_has_its_niche_s_season_where_that_tells_it(self) -> None:
        niches = {row["id"]: row for row in self.get("almanac/")["rows"]}
        rows = self.get("almanac/?of=listings")["rows"]
        lent = [row for row in rows if row["next"] and row["niche"] in niches]
        self.assertTrue(lent)
        asked = self.get("ledger/?of=listings&figures=sleep.season_from")["rows"]
        tells = {row["id"]: row["extra"]["sleep.season_from"] for row in asked}
        same = [row for row in lent if tells[row["id"]] == "its niche"]
        self.assertTrue(same)
        for row in same:
            self.assertEqual(row["seasons"], niches[row["niche"]]["seasons"])
        later = self.get("almanac/?of=listings&on=" + _later(self.get("almanac/")["as_of"]))
        self.assertEqual(len(later["rows"]), len(rows))


def _later(day: str) -> str:
    return (date.fromisoformat(day) + timedelta(days=100)).isoformat()
