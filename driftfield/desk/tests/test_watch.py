"""The watch: what each import leaves behind, what changed since, told once."""

import json
import tempfile
import xml.etree.ElementTree as ElementTree
from datetime import date
from email import message_from_bytes, policy
from pathlib import Path
from unittest.mock import patch

from django.core import mail
from django.test import TestCase, override_settings

from driftfield.core.base import CoreError
from driftfield.core.market import LISTING, NICHE
from driftfield.core.market.watch import ASPECTS_BY_KEY, Change, Changes
from driftfield.desk.actions import (
    analyse_all_and_watch,
    decide,
    mail_digest,
    mark_seen,
    save_list,
    save_sieve,
)
from driftfield.desk.models import Choice, Look, Told
from driftfield.desk.watch import digest, history_of, looks, standing_looks, tell
from driftfield.desk.watch.telling import told_key
from driftfield.exchange.tests.newsy import BRAND, CHANGES, EMPTY, FALLS, LAUNCH, WAR, newsy
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.intake.models import Batch
from driftfield.market.models import Market

ATOM = "{http://www.w3.org/2005/Atom}"


def bring(weeks: int) -> None:
    """Import the market as it is after so many weeks, and analyse it."""
    with tempfile.TemporaryDirectory() as folder:
        import_folder(newsy(Path(folder) / "in", weeks))
    list(analyse_all_and_watch(only_stale=True))


class Watched(TestCase):
    """Six niches are kept and one is parked; twenty weeks later five of them have changed."""

    @classmethod
    def setUpTestData(cls) -> None:
        bring(CHANGES)
        for niche in (FALLS, WAR, BRAND, EMPTY, LAUNCH, "n20"):
            decide("m", niche, Choice.KEEP)
        decide("m", "n21", Choice.PARK)
        decide("m", "n22", Choice.PASS)
        save_sieve("Many searches", ["searches >= 29000"])
        save_sieve("Cheap goods", ["listing.price <= 17"])
        bring(260)

    def setUp(self) -> None:
        self.market = Market.objects.get()

    def told(self) -> set[tuple[str, str]]:
        return {(one["subject"], one["aspect"]) for one in digest(self.market)["changes"]}


class Once(Watched):
    def test_what_changed_is_told_of_what_is_watched_and_of_nothing_else(self) -> None:
        self.assertLessEqual(
            {(FALLS, "demand"), (WAR, "price_slide"), (BRAND, "brand_over_half"), (EMPTY, "leader_stock"),
             (LAUNCH, "launch")},
            self.told(),
        )  # fmt: skip
        self.assertLessEqual({one for one, _ in self.told()}, {FALLS, WAR, BRAND, EMPTY, LAUNCH})

    def test_a_sieve_tells_who_no_longer_passes_and_why(self) -> None:
        found = {one["name"]: one for one in digest(self.market)["sieves"]}
        sieve = found["Many searches"]
        self.assertEqual((sieve["of"], set(found)), ("niches", {"Many searches", "Cheap goods"}))
        self.assertEqual([one["id"] for one in sieve["went"]], [FALLS])
        self.assertIn("searches", sieve["went"][0]["why"][0])
        # A sieve of listings is told as one of niches is; what came under it was dearer, or was not there.
        goods = found["Cheap goods"]
        self.assertEqual((goods["of"], goods["went"]), ("listings", []))
        self.assertEqual({one["id"].split("-")[0] for one in goods["came"]}, {WAR})
        self.assertTrue(
            all("price" in one["why"][0].lower() for one in goods["came"] if not one["new"])
        )
        self.assertTrue(goods["came"][0]["name"].startswith("Listing 2"))

    def test_what_was_seen_is_not_shown_and_can_be_shown_again(self) -> None:
        found = digest(self.market)
        ids = [one["id"] for one in found["changes"] if one["subject"] == FALLS]
        self.assertEqual(mark_seen("m", ids), len(ids))
        self.assertNotIn(FALLS, {one for one, _ in self.told()})
        again = digest(self.market, seen=True)["changes"]
        self.assertEqual(len(again), len(found["changes"]))
        mark_seen("m", ids, seen=False)
        self.assertIn((FALLS, "demand"), self.told())
        with self.assertRaisesRegex(CoreError, "no longer there"):
            mark_seen("m", [*ids, 10**6])
        with self.assertRaisesRegex(CoreError, "no longer there"):
            mark_seen("other", ids)

    def test_it_ends_with_how_much_was_looked_at(self) -> None:
        sentence = digest(self.market)["sentences"][-1]
        self.assertIn("Nothing else", sentence)
        self.assertIn("false discovery rate of 5%", sentence)

    def test_another_analysis_of_the_same_import_tells_nothing_twice(self) -> None:
        before, seen = self.told(), Told.objects.filter(subject=FALLS).first()
        assert seen is not None, "it was told"
        mark_seen("m", [seen.pk])
        many = Told.objects.count()
        list(analyse_all_and_watch())
        self.assertEqual(Look.objects.count(), 2)
        self.assertEqual(Told.objects.count(), many)
        self.assertEqual(self.told(), before - {(seen.subject, seen.aspect)})

    def test_with_the_next_import_only_what_is_new_is_told(self) -> None:
        first = {one.pk for one in Told.objects.all()}
        Batch.objects.create(source="nothing new", digest="x")
        list(analyse_all_and_watch())
        self.assertEqual(Look.objects.count(), 3)
        self.assertEqual({one.pk for one in Told.objects.all()}, first)

    def test_an_import_that_is_undone_takes_what_it_told_along(self) -> None:
        undo_batch(lambda: None, Batch.objects.latest("pk").pk)
        list(analyse_all_and_watch(only_stale=True))
        found = digest(Market.objects.get())
        self.assertEqual(found["changes"], [])
        self.assertEqual(len(found["looks"]), 1)
        bring(260)
        self.assertIn((FALLS, "demand"), self.told())

    def test_since_an_earlier_import_all_is_told_seen_or_not(self) -> None:
        expected = self.told()
        mark_seen("m", list(Told.objects.values_list("pk", flat=True)))
        first = standing_looks("m")[-1]
        live = {(one["subject"], one["aspect"]) for one in digest(self.market, first.pk)["changes"]}
        self.assertEqual(live, expected)
        for wrong in (standing_looks("m")[0].pk, 999):
            with self.assertRaisesRegex(CoreError, "no such earlier import"):
                digest(self.market, wrong)

    def test_what_was_known_on_a_day_can_be_read(self) -> None:
        rows = history_of("m", NICHE, FALLS, ["searches_52w", "shape", "rank"])
        self.assertEqual([look.as_of for look, _ in rows], [date(2025, 12, 21), date(2026, 5, 10)])
        self.assertGreater(rows[0][1]["searches_52w"], rows[1][1]["searches_52w"])
        self.assertEqual(rows[0][1]["shape"], "Evergreen")
        self.assertEqual(history_of("m", NICHE, "nobody", ["rank"]), [])
        with self.assertRaisesRegex(CoreError, "No history is kept of season_profile"):
            history_of("m", NICHE, FALLS, ["season_profile"])

    def test_kinds_that_are_many_are_kept_where_they_are_watched(self) -> None:
        self.assertEqual(set(Look.objects.latest("pk").kept), {"niche"})
        save_list("m", "Leaders", ["n4-0"], kind=LISTING)
        list(analyse_all_and_watch())
        self.assertEqual(Look.objects.latest("pk").kept["listing"], 1)
        self.assertEqual(len(history_of("m", LISTING, "n4-0", ["sales.units_52w"])), 1)

    def test_old_looks_are_thinned_to_one_a_quarter(self) -> None:
        for k in range(40):
            Look.objects.create(
                market_id="m",
                batch=100 + k,
                as_of=date(2015 + k // 20, 1 + k % 12, 4),
                planning=date(2015, 1, 4),
            )
        recent = looks.RECENT
        try:
            looks.RECENT = 10
            looks._thin_out("m")
        finally:
            looks.RECENT = recent
        kept = list(
            Look.objects.filter(market_id="m").order_by("pk").values_list("as_of", flat=True)
        )
        older = [(day.year, (day.month - 1) // 3) for day in kept[:-10]]
        self.assertEqual(len(older), len(set(older)))
        self.assertLess(len(kept), 42)


class Again(Watched):
    def change(self, *, fact: bool, further: bool = False) -> Change:
        aspect = ASPECTS_BY_KEY["leader_stock" if fact else "demand"]
        chance = None if fact else 1e-9
        return Change(
            NICHE, "m", "n20", "Niche 20", aspect, 0.9, 0.2, 0.1, 0.3, None, chance, True, further, {}
        )  # fmt: skip

    def test_a_fact_is_another_one_with_another_look_and_a_move_with_another_direction(
        self,
    ) -> None:
        first, latest = reversed(standing_looks("m"))
        fact, move = self.change(fact=True), self.change(fact=False)
        self.assertNotEqual(told_key(fact, first), told_key(fact, latest))
        self.assertEqual(told_key(move, first), told_key(move, latest))

    def test_what_goes_far_beyond_what_was_told_is_told_again_and_once(self) -> None:
        run, latest = self.market.run, standing_looks("m")[0]
        for further, expected in ((False, 0), (True, 1), (True, 1)):
            with patch("driftfield.desk.watch.telling.changes_since") as since:
                Told.objects.filter(subject="n20", look=latest).delete()
                Told.objects.get_or_create(
                    key="niche:demand:up:n20", look=standing_looks("m")[1], market_id="m", weight=4,
                    kind="niche", subject="n20", name="", aspect="demand", sentence="",
                )  # fmt: skip
                since.return_value = Changes([self.change(fact=False, further=further)], 1, [], [])
                tell(run, latest)
                tell(run, latest)
            self.assertEqual(Told.objects.filter(subject="n20", look=latest).count(), expected)


class Out(Watched):
    def test_as_a_feed_whose_ids_stay(self) -> None:
        """Read by Python's own parser; RFC 4287 says what a feed and an entry must have."""
        address = "/api/watch/feed/?market=m"
        first, again = (self.client.get(address) for _ in range(2))
        self.assertTrue(first["Content-Type"].startswith("application/atom+xml"))
        feed = ElementTree.fromstring(first.content)
        self.assertEqual(feed.tag, f"{ATOM}feed")
        for name in ("id", "title", "updated"):
            self.assertIsNotNone(feed.find(f"{ATOM}{name}"), name)
        entries = feed.findall(f"{ATOM}entry")
        self.assertGreaterEqual(len(entries), 6)
        for entry in entries:
            for name in ("id", "title", "updated", "link", "summary"):
                self.assertIsNotNone(entry.find(f"{ATOM}{name}"), name)
        ids = [entry.findtext(f"{ATOM}id") for entry in entries]
        self.assertEqual(len(set(ids)), len(ids))
        mark_seen("m", list(Told.objects.values_list("pk", flat=True)))
        self.assertEqual(
            ids, [e.findtext(f"{ATOM}id") for e in ElementTree.fromstring(again.content).findall(f"{ATOM}entry")]
        )  # fmt: skip
        later = ElementTree.fromstring(self.client.get(address).content)
        self.assertEqual(set(ids), {e.findtext(f"{ATOM}id") for e in later.findall(f"{ATOM}entry")})

    def test_by_mail_as_python_reads_it_back(self) -> None:
        self.assertTrue(mail_digest(self.market, ["me@example.org"], "http://127.0.0.1:8000/watch"))
        (sent,) = mail.outbox
        read = message_from_bytes(sent.message().as_bytes(), policy=policy.default)
        self.assertEqual(read["To"], "me@example.org")
        self.assertRegex(read["Subject"], r"^Harrow Quay: \d changes, as of 10 May 2026$")
        body = read.get_body(("plain",)).get_content()
        self.assertIn("Niche 1: Searches since", body)
        self.assertIn("http://127.0.0.1:8000/watch", body)
        with self.assertRaisesRegex(CoreError, "not an e-mail address"):
            mail_digest(self.market, ["me"])

    def test_into_files_where_no_mail_server_is_named(self) -> None:
        with tempfile.TemporaryDirectory() as folder, override_settings(
            EMAIL_BACKEND="django.core.mail.backends.filebased.EmailBackend", EMAIL_FILE_PATH=folder
        ):  # fmt: skip
            mail_digest(self.market, ["me@example.org"])
            (file,) = Path(folder).iterdir()
            self.assertIn("Subject: Harrow Quay", file.read_text("utf-8"))

    def test_a_mail_server_that_is_not_there_is_told(self) -> None:
        backend = "django.core.mail.backends.smtp.EmailBackend"
        with (
            override_settings(EMAIL_BACKEND=backend, EMAIL_HOST="127.0.0.1", EMAIL_PORT=1),
            self.assertRaisesRegex(CoreError, "mail server does not take it"),
        ):
            mail_digest(self.market, ["me@example.org"])

    def test_over_the_api_as_a_list_and_whole(self) -> None:
        found = self.client.get("/api/watch/?market=m").json()
        self.assertEqual({(one["subject"], one["aspect"]) for one in found["changes"]}, self.told())
        whole = json.loads(self.client.get("/api/watch/file/?market=m&as=json").content)
        self.assertEqual(len(whole["changes"]), len(found["changes"]))
        rows = self.client.get("/api/watch/file/?market=m").content.decode("utf-8-sig").splitlines()
        passers = sum(len(one["came"]) + len(one["went"]) for one in found["sieves"])
        self.assertEqual(len(rows), 1 + len(found["changes"]) + passers)
        ids = [one["id"] for one in found["changes"]]
        body = {"market_id": "m", "ids": ids}
        marked = self.client.post("/api/watch/seen/", body, content_type="application/json")
        self.assertEqual(marked.json(), {"marked": len(ids)})
        self.assertEqual(self.client.get("/api/watch/?market=m").json()["changes"], [])
        self.assertEqual(self.client.get("/api/watch/?market=m&since=999").status_code, 404)
        history = self.client.get(f"/api/history/?market=m&id={FALLS}&figures=rank").json()
        self.assertEqual(len(history["rows"]), 2)
        self.assertEqual(
            self.client.get(f"/api/history/?market=m&id={FALLS}&figures=nothing").status_code, 409
        )
