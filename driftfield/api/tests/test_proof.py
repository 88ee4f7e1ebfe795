"""The track record over the interface: what the command says, kept, continued, and told where it holds."""

import csv
import json
import tempfile
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path
from unittest.mock import patch

import numpy as np
from click.testing import CliRunner
from django.test import TestCase

from driftfield.cli.main import main
from driftfield.core.base import CoreError
from driftfield.core.market import TERM
from driftfield.core.market.proof.kept import unpack_then
from driftfield.desk.models import SavedLens
from driftfield.exchange.tests.packages import table, write
from driftfield.exchange.tests.test_proof import START, curves
from driftfield.intake.actions import import_folder
from driftfield.intake.models import Batch
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_all, choose_settings, claim_due_replay, replay_past
from driftfield.readings.as_told import as_told
from driftfield.readings.load import load_market
from driftfield.readings.models import KeptRecord, ReplayedDay
from driftfield.work.models import Job, Kind, State

from .files import WithFiles, work_off

WEEKS = 247
TREE = {
    "categories": table("category_id,parent_id,name", ("a", None, "Growing"), ("b", None, "Brewing")),
    "niches": table(
        "niche_id,name,category_id", *[(f"n{one}", f"Niche {one}", "ab"[one % 2]) for one in range(8)]
    ),
    "terms": table("term,niche_id", *[(f"term {one}", f"n{one}") for one in range(8)]),
}  # fmt: skip


def files(weeks: int = WEEKS) -> dict[str, str]:
    """Eight niches in two categories, of which the first ``weeks`` are known."""
    end = START + timedelta(weeks=weeks)
    rows = [row for row in curves(8, 264) if date.fromisoformat(str(row[1])) < end]
    return {**TREE, "term_weeks": table("term,week,searches", *rows)}


def load(weeks: int = WEEKS) -> Market:
    with tempfile.TemporaryDirectory() as holder:
        import_folder(write(Path(holder) / "in", **files(weeks)))
    list(analyse_all(only_stale=True))
    return Market.objects.get()


class StoppedError(Exception):
    """Work was stopped."""


def stop_after_four(done: int, _: int) -> None:
    if done == 4:
        raise StoppedError


class TrackRecords(WithFiles):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.market = load()

    def found(self, path: str = "", **query: str) -> dict:
        response = self.client.get(f"/api/track-record/{path}", query)
        self.assertEqual(response.status_code, 200, response.content[:300])
        return response.json()

    def post(self, path: str, expected: int, **body: object) -> dict:
        body = {"market_id": self.market.market_id, **body}
        response = self.client.post(f"/api/track-record/{path}/", body, "application/json")
        self.assertEqual(response.status_code, expected, response.content[:300])
        return response.json()

    def test_nothing_is_claimed_before_the_past_was_replayed(self) -> None:
        found = self.found()
        self.assertIsNone(found["made"])
        self.assertEqual((found["lines"], found["misses"], found["limits"]), ([], [], []))
        self.assertEqual(self.found("lines/")["lines"], [])
        self.assertEqual(self.client.get("/api/track-record/file/").status_code, 404)

    def test_it_is_what_the_command_says(self) -> None:
        for kind in ("niches", "terms"):
            with tempfile.TemporaryDirectory() as holder:
                folder = write(Path(holder) / "in", **files())
                told = CliRunner().invoke(main, ["backtest", str(folder), "--of", kind])
            rows = [json.loads(line) for line in told.stdout.splitlines() if line.startswith("{")]
            replay_past(self.market, *([TERM] if kind == "terms" else []))
            found = self.found(of=kind)
            held = [row for row in rows if row["row"] == "held"]
            self.assertEqual(
                [one["sentence"] for one in found["lines"]], [row["sentence"] for row in held]
            )
            self.assertEqual(
                [one["sentence"] for one in found["misses"]],
                [row["sentence"] for row in rows if row["row"] == "miss"],
            )
            listed = self.client.get("/api/track-record/file/", {"of": kind}).content.decode()
            sentences = [
                row["sentence"] for row in csv.DictReader(listed.lstrip("\ufeff").splitlines())
            ]
            self.assertEqual(sentences, [row["sentence"] for row in rows])

    def test_categories_are_told_apart(self) -> None:
        replay_past(self.market)
        within = {
            one["name"]: one for one in self.found()["lines"]
            if (one["part"], one["measure"], one["weeks"]) == ("forecast", "within", 13) and one["category"]
        }  # fmt: skip
        self.assertEqual(set(within), {"Growing", "Brewing"})
        self.assertEqual({one["niches"] for one in within.values()}, {4})
        self.assertIn("of niches in Growing", within["Growing"]["sentence"])

    def test_it_goes_on_when_weeks_come_in(self) -> None:
        first = replay_past(self.market)
        days = set(ReplayedDay.objects.values_list("as_of", flat=True))
        self.assertEqual((first.days, first.taken, len(days)), (12, 0, 12))
        self.assertIsNone(claim_due_replay())
        load(WEEKS + 4)
        self.assertIsNone(claim_due_replay())
        self.assertFalse(self.found()["made"]["due"])
        load(WEEKS + 14)
        self.assertTrue(self.found()["made"]["due"])
        due = claim_due_replay()
        self.assertEqual(due, first)
        # Whatever comes of it, it is not tried again with the same figures.
        self.assertIsNone(claim_due_replay())
        again = replay_past(self.market)
        self.assertEqual(again.days - again.taken, 1)
        self.assertEqual(again.last_day, first.last_day + timedelta(weeks=13))
        self.assertEqual(KeptRecord.objects.count(), 1)
        whole = again.rows
        # The same as if all days were replayed anew.
        anew = replay_past(self.market, anew=True)
        self.assertEqual(anew.taken, 0)
        self.assertEqual(len(anew.rows), len(whole))

    def test_a_day_is_replayed_with_the_figures_that_stood_on_it(self) -> None:
        """Searches that are told otherwise two years later: until then the forecast was made from the others."""
        early, late = START + timedelta(weeks=150), START + timedelta(weeks=240)
        Market.objects.all().delete()
        load(150)
        Batch.objects.update(made_at=datetime.combine(early, time(), UTC))
        load(WEEKS)
        # Weeks that were only added revise nothing.
        added = load_market(Market.objects.get())[0]
        self.assertIs(as_told(added, early).searches, added.data.searches)
        rows = [
            (term, day, value * 3 if str(day) < early.isoformat() else value)
            for term, day, value in curves(8, 264) if date.fromisoformat(str(day)) < late
        ]  # fmt: skip
        with tempfile.TemporaryDirectory() as holder:
            revised = {"term_weeks": table("term,week,searches", *rows)}
            import_folder(write(Path(holder) / "in", **revised))
        market = Market.objects.get()
        part = load_market(market)[0]
        at = part.data.timeline.upto(early - timedelta(weeks=2)).length - 1
        now, then = part.data.searches[:, at], as_told(part, early).searches[:, at]
        np.testing.assert_allclose(now, 3 * then)
        # What was not told by then is as it is now, and so is what was told before it was revised.
        beyond = part.data.timeline.upto(early + timedelta(weeks=8)).length
        told = as_told(part, early).searches[:, beyond:]
        np.testing.assert_array_equal(told, part.data.searches[:, beyond:])
        before = as_told(part, START + timedelta(weeks=149))
        np.testing.assert_array_equal(before.searches, part.data.searches)
        replay_past(market)
        day = ReplayedDay.objects.filter(as_of__gte=early).earliest("as_of")
        said = unpack_then(bytes(day.packed), part.data.subjects, []).figures["searches_52w"]
        year = day.as_of - timedelta(weeks=52)
        for niche, searches in zip(part.niche_names, said, strict=True):
            told_then = [
                value for term, monday, value in curves(8, 264)
                if term == f"term {niche[-1]}" and year < date.fromisoformat(str(monday)) <= day.as_of
            ]  # fmt: skip
            self.assertEqual((len(told_then), searches), (52, sum(told_then)))

    def test_days_that_were_replayed_stay_when_the_work_is_stopped(self) -> None:
        with self.assertRaises(StoppedError):
            replay_past(self.market, progress=stop_after_four)
        self.assertFalse(KeptRecord.objects.exists())
        self.assertEqual(replay_past(self.market).taken, 4)

    def test_what_was_replayed_anew_is_taken_over_when_that_is_resumed(self) -> None:
        replay_past(self.market)
        with patch("driftfield.work.actions.start.ensure_worker"):
            self.post("replay", 201, anew=True)
            # As where the computer went down after four days.
            with self.assertRaises(StoppedError):
                replay_past(self.market, anew=True, progress=stop_after_four)
            Job.objects.update(state=State.CUT_OFF, done=4)
            self.client.post(f"/api/intake/jobs/{Job.objects.get().pk}/resume/")
        work_off()
        self.assertEqual(Job.objects.latest("pk").state, State.DONE)
        self.assertEqual(KeptRecord.objects.get().taken, 4)

    def test_with_other_settings_it_is_no_longer_said_elsewhere(self) -> None:
        replay_past(self.market)
        told = self.found("lines/")["lines"]
        self.assertIn("forecast", {one["part"] for one in told})
        self.assertTrue(all("too little" not in one["sentence"] for one in told))
        choose_settings(self.market, {"min_years": 3.0})
        self.assertIn("Settings of the market have changed", self.found()["made"]["outdated"])
        self.assertEqual(self.found("lines/")["lines"], [])
        self.assertEqual(replay_past(self.market).taken, 0)
        self.assertEqual(self.found()["made"]["outdated"], "")

    def test_by_another_method_neither(self) -> None:
        replay_past(self.market)
        KeptRecord.objects.update(method="another")
        self.assertIn("earlier version of the method", self.found()["made"]["outdated"])
        self.assertEqual(self.found("lines/")["lines"], [])

    def test_a_niche_that_is_gone_is_told_without_a_page(self) -> None:
        record = replay_past(self.market)
        miss = {
            "row": "miss", "part": "season", "weeks": 0, "id": "gone", "name": "Gone", "as_of": "2024-01-07",
            "said": 0.0, "came": 3.0, "sentence": "Gone, 7 Jan 2024: its season came 3 weeks later.",
        }  # fmt: skip
        record.rows = [*record.rows, miss]
        record.save()
        there = {one["id"]: one["there"] for one in self.found()["misses"]}
        self.assertFalse(there.pop("gone"))
        self.assertTrue(all(there.values()))

    def test_a_job_is_asked_for(self) -> None:
        with patch("driftfield.work.actions.start.ensure_worker"):
            told = self.post("replay", 201, of="terms", every=26)
            self.assertEqual(told["kind"], "replay")
            job = Job.objects.get()
            self.assertEqual(
                (job.kind, job.options["of"], job.options["every"]), (Kind.REPLAY, "terms", 26)
            )
            self.post("replay", 409)
        self.post("replay", 400, of="listings")
        self.post("replay", 400, every=0)

    def test_a_past_too_short_says_what_it_takes(self) -> None:
        with self.assertRaisesMessage(CoreError, "an earlier day needs 104 weeks before it"):
            replay_past(self.market, every=200)


class FittedLenses(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.market = load()
        cls.record = replay_past(cls.market)

    def take(self) -> object:
        body = {"market_id": self.market.market_id}
        return self.client.post("/api/track-record/lens/", body, "application/json")

    def propose(self, weights: str | None) -> None:
        rows = [row for row in self.record.rows if row["row"] != "lens"]
        lens = next(row for row in self.record.rows if row["row"] == "lens")
        proposed = {
            **lens, "name": "From this market's launches", "weights": weights,
            "sentence": "Weights fitted to past launches ranked later launches better.",
        }  # fmt: skip
        self.record.rows = [*rows, proposed]
        self.record.save()

    def test_none_is_kept_where_none_is_proposed(self) -> None:
        response = self.take()
        self.assertEqual(response.status_code, 409)
        self.assertIn("no evidence", response.json()["detail"])
        self.assertFalse(SavedLens.objects.exists())

    def test_none_is_kept_of_a_record_that_is_outdated(self) -> None:
        self.propose("searches=1 reviews=0.6 balance=0.3")
        KeptRecord.objects.update(as_of=self.market.run.as_of + timedelta(weeks=1))
        self.assertIn("undone since", self.take().json()["detail"])
        self.assertFalse(SavedLens.objects.exists())

    def test_it_is_kept_with_what_it_was_fitted_to(self) -> None:
        self.propose("searches=1 reviews=0.6 balance=0.3")
        made = self.take().json()
        self.assertEqual(made["weights"]["reviews"], 0.6)
        self.assertEqual(made["weights"]["balance"], 0.3)
        self.assertIn("ranked later launches better", made["purpose"])
        (own,) = self.client.get("/api/desk/lenses/").json()
        self.assertEqual(own, made)
        # Taken twice it is one.
        self.take()
        self.assertEqual(SavedLens.objects.count(), 1)
