"""Several markets: what is the same in them, confirmed, rejected and undone, and one of them everywhere."""

import tempfile
from datetime import date, timedelta
from pathlib import Path

from django.db import transaction

from driftfield.core.curves.tests.synthetic import LENGTH
from driftfield.desk.models import ExchangeRate, Match
from driftfield.exchange.tests.packages import START, table, write
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.readings.actions import analyse_all

from .loaded import Loaded
from .two_markets import NORTH, SOUTH, Two


class SameInBoth(Two):
    def test_the_same_id_is_the_same_for_every_kind(self) -> None:
        for of, row in (("niches", "hooks"), ("terms", "lock hook"), ("categories", "tools")):
            found = self.across(row, of=of)
            self.assertEqual([m["how"] for m in found["markets"]], ["itself", "id"], of)
            self.assertIn(row, [one["id"] for one in self.pairs("matched", of=of)["rows"]])
        self.assertEqual(self.across("n9")["without"][0]["market_id"], "south")

    def test_what_may_be_the_same_is_proposed_confirmed_and_undone(self) -> None:
        (row,) = self.pairs("proposed")["rows"]
        self.assertEqual(
            (row["id"], row["other_id"], row["why"]), ("lids", "s7", "the same name and category")
        )
        self.assertEqual(self.pairs("proposed", row="lids")["total"], 1)
        self.assertEqual(self.pairs("proposed", row="n9")["total"], 0)
        match_ids = self.decide("lids", "s7")["match_ids"]
        self.assertEqual(self.across("lids")["markets"][1]["match_id"], match_ids[0])
        self.assertEqual(self.across("s7", market="south")["markets"][1]["id"], "lids")
        self.assertEqual(self.pairs("proposed")["total"], 0)
        self.assertEqual(self.pairs("matched", find="pail")["rows"][0]["how"], "confirmed")
        self.undo(match_ids)
        self.assertEqual(self.pairs("proposed")["total"], 1)
        self.undo(match_ids, 409)
        self.assertEqual(Match.objects.count(), 1)  # No decision is lost.

    def test_a_refusal_parts_what_has_one_id_and_what_has_one_name(self) -> None:
        match_ids = self.decide("hooks", "hooks", same=False)["match_ids"]
        self.assertEqual(len(self.across("hooks")["markets"]), 1)
        self.assertEqual(self.pairs("matched")["rejected"][0]["match_id"], match_ids[0])
        self.decide("lids", "s7", same=False)
        self.assertEqual(self.pairs("proposed")["total"], 0)

    def test_a_pair_that_is_decided_on_again_has_the_later_word(self) -> None:
        """Also by a window that does not know yet; each is undone by itself."""
        for same in (True, True, False, False):
            self.decide("lids", "s7", same=same)
        latest = Match.objects.get(current=True)
        self.assertFalse(latest.same)
        self.undo([latest.pk])
        self.undo([Match.objects.get(current=True).pk])
        self.assertTrue(Match.objects.get(current=True).same)

    def test_a_new_match_takes_the_place_of_the_one_before_until_it_is_undone(self) -> None:
        self.decide("lids", "s7")
        later = self.decide("lids", "s9")["match_ids"]
        self.assertEqual(self.across("lids")["markets"][1]["id"], "s9")
        self.assertEqual(len(self.across("s7", market="south")["markets"]), 1)
        self.undo(later)
        self.assertEqual(self.across("lids")["markets"][1]["id"], "s7")

    def test_an_undo_restores_nothing_beside_what_was_decided_meanwhile(self) -> None:
        first = self.decide("lids", "s7")["match_ids"]
        second = self.decide("lids", "s9")["match_ids"]
        third = self.decide("n9", "s7")["match_ids"]
        self.undo(second)
        # The first would match s7 twice: it waits until what took s7 is undone.
        self.assertEqual(len(self.across("lids")["markets"]), 1)
        self.assertEqual(self.across("s7", market="south")["markets"][1]["id"], "n9")
        self.undo(third)
        self.assertEqual(self.across("lids")["markets"][1]["match_id"], first[0])
        # So does one of a pair that was rejected meanwhile.
        second = self.decide("lids", "s9")["match_ids"]
        rejected = self.decide("lids", "s7", same=False)["match_ids"]
        self.undo(second)
        self.assertEqual(len(self.across("lids")["markets"]), 1)
        self.undo(rejected)
        self.assertEqual(self.across("lids")["markets"][1]["id"], "s7")

    def test_matches_that_cannot_be_change_nothing(self) -> None:
        self.decide("none", "s7", status=409)
        self.decide("lids", "n9", status=409, other_market_id="north")
        self.decide("lids", "s7", status=400, of="nothing")
        two = [
            {"market_id": "north", "id": one, "other_market_id": "south", "other_id": "s7", "same": True}
            for one in ("lids", "none")
        ]  # fmt: skip
        self.post("across/matches/", {"matches": two}, 409)
        self.assertFalse(Match.objects.exists())

    def test_matches_outlive_an_import_that_is_undone(self) -> None:
        self.decide("lids", "s7")
        undo_batch(lambda: None)
        list(analyse_all())
        self.assertEqual(len(self.across("lids")["markets"]), 1)
        self.assertTrue(Match.objects.filter(current=True).exists())


class OneEverywhere(Two):
    def line(self, found: dict, key: str) -> dict:
        return next(one for one in found["lines"] if one["figure"] == key)

    def test_seasons_and_leads_are_told_with_their_intervals(self) -> None:
        (found,) = self.across("hooks")["against"]
        self.assertTrue(found["shift_low"] <= -6 <= found["shift_high"])
        self.assertTrue(found["lead_low"] <= 6 <= found["lead_high"])
        self.assertIn(
            "Quay North moved first: Quay South followed 6 weeks later", found["lead_sentence"]
        )
        # From the other market it is the other way round.
        (back,) = self.across("hooks", market="south")["against"]
        self.assertEqual(back["lead_sentence"], found["lead_sentence"])
        self.assertEqual(back["lead"], -6)

    def test_money_is_one_at_the_rate_that_was_set_and_apart_without(self) -> None:
        apart = self.line(self.across("hooks"), "sales.price_median")
        self.assertEqual((apart["apart"], [c["value"] for c in apart["cells"]]), ("rate", [10, 20]))
        day = (date.today() - timedelta(days=2)).isoformat()
        self.post("across/rates/", {"currency": "eur", "into": "GBP", "rate": 0.8, "day": day})
        found = self.across("hooks")
        price = self.line(found, "sales.price_median")
        self.assertEqual((price["apart"], [c["value"] for c in price["cells"]]), ("", [10, 16]))
        self.assertEqual((found["markets"][1]["rate"], found["markets"][1]["day"]), (0.8, day))
        turned = self.across("hooks", into="EUR")
        self.assertEqual(
            [c["value"] for c in self.line(turned, "sales.price_median")["cells"]], [12.5, 20]
        )
        self.post("across/rates/", {"currency": "GBP", "into": "EUR", "rate": 1.25, "day": day})
        self.assertEqual(len(self.get("across/rates/")), 1)
        self.post("across/rates/", {"currency": "GBP", "into": "EUR", "rate": None})
        self.assertEqual((self.get("across/rates/"), ExchangeRate.objects.count()), ([], 2))

    def test_rates_that_are_none_are_refused(self) -> None:
        soon = (date.today() + timedelta(days=2)).isoformat()
        good = {"currency": "EUR", "into": "GBP", "rate": 0.8, "day": "2026-05-20"}
        for wrong in ({"rate": 0}, {"rate": -1}, {"rate": 1e300}, {"day": soon}, {"day": None}, {"into": "EUR"},
                      {"currency": "E1R"}, {"currency": "EURO"}, {"rate": "0.8"}):  # fmt: skip
            answer = self.client.post(
                "/api/across/rates/", good | wrong, content_type="application/json"
            )
            self.assertIn(answer.status_code, (400, 409), wrong)
        self.assertFalse(ExchangeRate.objects.exists())

    def test_competition_and_ranks(self) -> None:
        found = self.across("hooks")
        self.assertEqual(self.line(found, "headroom")["apart"], "within")
        barrier = self.line(found, "review_barrier")
        self.assertEqual([c["best"] for c in barrier["cells"]], [True, False])
        self.assertIn("1 favours Quay North", found["competition"])

    def test_what_is_not_there_is_said(self) -> None:
        self.get("across/?market=north&row=none", 404)
        self.get("across/matched/?market=north&other=north", 400)
        self.get("across/matched/?market=north&other=nowhere", 404)
        self.get("across/?market=north", 400)

    def test_rows_of_one_market_stand_side_by_side(self) -> None:
        found = self.get("side-by-side/?market=north&row=hooks&row=gone&row=lids")
        self.assertEqual(found["ids"], ["hooks", "lids"])
        self.assertEqual(self.line(found, "headroom")["apart"], "")
        self.assertEqual(self.get("side-by-side/?market=north")["ids"], [])


def monthly(files: dict[str, str]) -> dict[str, str]:
    """A market whose searches come by months."""
    months = [f"{2021 + m // 12}-{m % 12 + 1:02}-01" for m in range(60)]
    rows = [("lock hook", day, 90 + 40 * (i % 12)) for i, day in enumerate(months)]
    kept = {name: text for name, text in files.items() if name != "term_clicks"}
    return kept | {
        "term_weeks": table("term,week,searches", *rows),
        "terms": table("term,niche_id", ("lock hook", "hooks")),
    }


def relative(files: dict[str, str]) -> dict[str, str]:
    """A market of which only relative curves are known."""
    counted = files["term_weeks"].splitlines()[1:]
    rows = [(*row.split(",")[:2], min(100, float(row.split(",")[2]) // 20)) for row in counted]
    kept = {name: text for name, text in files.items() if name not in ("term_weeks", "term_clicks")}
    return kept | {"interest": table("term,week,index", *rows)}


def short(files: dict[str, str]) -> dict[str, str]:
    """A market that is known for forty weeks."""
    rows = [
        row for row in files["term_weeks"].splitlines()[1:]
        if row.split(",")[1] >= (START + timedelta(weeks=LENGTH - 40)).isoformat()
    ]  # fmt: skip
    return files | {"term_weeks": "\n".join(["term,week,searches", *rows, ""])}


def earlier(files: dict[str, str]) -> dict[str, str]:
    """A market that ended before the other one began."""
    rows = [
        ("lock hook", (START - timedelta(weeks=300 - i)).isoformat(), 100 + i) for i in range(150)
    ]
    kept = {name: text for name, text in files.items() if name != "term_clicks"}
    return kept | {
        "term_weeks": table("term,week,searches", *rows),
        "terms": table("term,niche_id", ("lock hook", "hooks")),
    }


class OddTogether(Loaded):
    """The first market beside one that lacks something, is of another kind, or shares no time with it."""

    package = staticmethod(lambda: NORTH)

    def beside(self, other: dict[str, str]) -> dict:
        with tempfile.TemporaryDirectory() as holder:
            import_folder(write(Path(holder) / "in", **other))
        list(analyse_all(only_stale=True))
        for of in ("niches", "terms", "categories"):
            for which in ("matched", "proposed"):
                self.get(f"across/{which}/?market=north&other=south&of={of}")
                self.get(f"across/{which}/?market=south&other=north&of={of}")
        self.get("across/?market=south&row=hooks")
        return self.get("across/?market=north&row=hooks")

    def lead(self, other: dict[str, str]) -> str:
        return self.beside(other)["against"][0]["lead_sentence"]

    def test_without_an_optional_table(self) -> None:
        for lacking in ("listings", "term_clicks", "categories"):
            files = {name: text for name, text in SOUTH.items() if name != lacking}
            if lacking == "categories":
                files["niches"] = (
                    files["niches"].replace("category_id,", "").replace(",tools,", ",")
                )
            if lacking == "listings":
                files.pop("term_clicks", None)
            with self.subTest(lacking=lacking), transaction.atomic():
                self.assertIn("followed 6 weeks later", self.lead(files))
                transaction.set_rollback(True)

    def test_months_beside_weeks(self) -> None:
        self.assertIn("one has weekly data, the other monthly", self.lead(monthly(SOUTH)))

    def test_relative_beside_counted(self) -> None:
        self.assertIn("followed", self.lead(relative(SOUTH)))

    def test_too_short_and_at_another_time(self) -> None:
        self.assertIn("under two years", self.lead(short(SOUTH)))

    def test_at_another_time(self) -> None:
        found = self.beside(earlier(SOUTH))
        self.assertIn("is unknown", found["against"][0]["lead_sentence"])
        self.assertIsNone(found["against"][0]["lead"])
