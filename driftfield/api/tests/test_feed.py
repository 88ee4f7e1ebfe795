"""The market feed as pages steer it, and as the clock does."""

import json
from datetime import timedelta
from pathlib import Path
from typing import Any

import jsonschema
import requests
from django.test import override_settings
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from driftfield.exchange.tests.packages import small_market, write
from driftfield.feedsim.tests.simulated import clock, free_port, simulated
from driftfield.intake.models import FeedSchedule, FeedState
from driftfield.work.models import Job
from driftfield.work.timed import look_at_the_clock, schedule_look

from .files import WithFiles, work_off

CONTRACT = Path(__file__).resolve().parents[3] / "schemas" / "feed.openapi.json"


class Feed(WithFiles):
    def simulated(self, **options: Any) -> Any:
        return simulated(write(self.data / "package", **small_market(80)), further=4, **options)

    def setUp(self) -> None:
        super().setUp()
        from django.conf import settings

        self.data = Path(settings.DATA_DIR)

    def put(self, hours: Any, status: int = 200) -> dict:
        found = self.client.put(
            "/api/intake/feed/", {"every_hours": hours}, content_type="application/json"
        )
        self.assertEqual(found.status_code, status, found.content)
        return found.json()

    def test_a_pull_is_long_work_and_its_revisions_can_be_read(self) -> None:
        with self.simulated(faults="none", told=30) as address, override_settings(FEED_URL=address):
            self.assertEqual(self.ask("intake/feed/")["markets"], [])
            pulled = self.done(self.ask("intake/feed/pull/", 201))
            self.assertEqual((pulled["kind"], pulled["state"]), ("pull", "done"), pulled)
            self.assertIn("3 niches analysed", pulled["messages"][-1])
            clock(address, forward=30)
            again = self.done(self.ask("intake/feed/pull/", 201))
            self.assertIn(
                {"table": "term_weeks", "of": "curves", "new": 0, "changed": 12, "unchanged": 0},
                again["counts"],
            )
            (market,) = self.ask("intake/feed/")["markets"]
            self.assertEqual(market["market_id"], "north")
        latest = self.ask("intake/batches/")[0]
        self.assertEqual(latest["name"], "Feed, Harrow Quay North")
        revised = self.ask(f"intake/batches/{latest['id']}/revisions/")
        self.assertEqual(revised["total"], len(revised["rows"]))
        self.assertGreater(revised["total"], 0)
        listed = self.client.get(
            f"/api/intake/batches/{latest['id']}/revisions/file/"
        ).content.decode("utf-8-sig")
        self.assertEqual(len(listed.splitlines()), revised["total"] + 1)
        coverage = self.ask(f"intake/batches/{latest['id']}/coverage/")
        self.assertEqual([one["table"] for one in coverage], ["term_weeks"])

    def test_a_feed_that_does_not_answer_is_said_to_and_nothing_changes(self) -> None:
        nobody = f"http://127.0.0.1:{free_port()}"
        with override_settings(FEED_URL=nobody, FEED_PATIENCE=0.2, FEED_FIRST_WAIT=0.01):
            job = self.done(self.ask("intake/feed/pull/", 201))
            self.assertEqual(job["state"], "refused")
            self.assertIn("no connection", job["messages"][0])
        with override_settings(FEED_URL="http://192.0.2.7"):
            self.assertIn("is not this machine", self.ask("intake/feed/pull/", 409)["detail"])
        with override_settings(FEED_URL=""):
            self.assertEqual(self.ask("intake/feed/")["address"], "")

    def test_the_clock_asks_the_feed_when_its_time_has_come_and_not_before(self) -> None:
        self.assertIsNone(self.ask("intake/feed/")["next_at"])
        self.put(7, 400)
        self.put(24)
        nobody = f"http://127.0.0.1:{free_port()}"
        with override_settings(FEED_URL=nobody, FEED_PATIENCE=0.1, FEED_FIRST_WAIT=0.01):
            look_at_the_clock.call()
            work_off()
            self.assertEqual([job.state for job in Job.objects.all()], ["refused"])
            look_at_the_clock.call()
            self.assertEqual(Job.objects.count(), 1, "asked once, though it failed")
            FeedSchedule.objects.update(tried_at=timezone.now() - timedelta(hours=25))
            look_at_the_clock.call()
            self.assertEqual(Job.objects.count(), 2)
            # While work is going on its turn waits.
            FeedSchedule.objects.update(tried_at=timezone.now() - timedelta(hours=25))
            look_at_the_clock.call()
            self.assertEqual(Job.objects.count(), 2)
        self.put(0)
        Job.objects.all().delete()
        look_at_the_clock.call()
        self.assertEqual(Job.objects.count(), 0)
        looks = DBTaskResult.objects.filter(task_path=look_at_the_clock.module_path)
        schedule_look()
        self.assertEqual(
            looks.filter(status="READY").count(), 1, "one look waits, however often it is wound up"
        )

    def test_what_was_asked_by_hand_need_not_be_asked_by_the_clock(self) -> None:
        FeedState.objects.create(address="x", market_id="m", asked_at=timezone.now())
        row = self.put(1)
        self.assertGreater(row["next_at"], timezone.now().isoformat())

    def test_the_simulation_keeps_the_contract(self) -> None:
        contract = json.loads(CONTRACT.read_text("utf-8"))
        with self.simulated(faults="none") as address:
            sign_in = {"client_id": "driftfield", "secret": "only-a-simulation"}
            token = requests.post(f"{address}/v1/sign-in", json=sign_in, timeout=60).json()["token"]
            headers = {"Authorization": f"Bearer {token}"}
            for path, query in (
                ("/v1/markets", {}),
                ("/v1/markets/{market_id}/niches", {}),
                ("/v1/markets/{market_id}/terms", {"limit": 2}),
                ("/v1/markets/{market_id}/changes", {"limit": 50, "from_week": "2024-01-01"}),
                ("/v1/markets/{market_id}/changes", {"limit": 0}),
                ("/v1/markets/{market_id}/changes", {"cursor": "none"}),
            ):
                url = address + path.format(market_id="north")
                answer = requests.get(url, params=query, headers=headers, timeout=60)
                text = contract["paths"][path]["get"]["responses"][str(answer.status_code)]
                (media,) = text["content"].values()
                schema = {**media["schema"], "components": contract["components"]}
                jsonschema.validate(answer.json(), schema)
            refused = requests.get(f"{address}/v1/markets", timeout=60)
            self.assertEqual(refused.status_code, 401)
