"""Files uploaded in the browser, the work on them, and undoing it."""

import io
import os
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.db.utils import OperationalError
from django.test import override_settings

from driftfield.core.base import CoreError
from driftfield.exchange.tests.packages import small_market
from driftfield.intake import actions
from driftfield.intake.actions.import_curves import CurvesImport
from driftfield.intake.models import Batch
from driftfield.market.models import Market, Niche
from driftfield.readings.models import Run
from driftfield.work import incoming
from driftfield.work.keeper import SERVED
from driftfield.work.models import Job, State
from driftfield.work.recovery import recover
from driftfield.work.tasks import StoppedError

from .files import WithFiles, work_off


class Intake(WithFiles):
    def test_files_are_checked_then_imported_then_taken_back(self) -> None:
        folder = self.hand_over(**small_market())
        waiting = self.job("check", folder)
        self.assertEqual(waiting["state"], "waiting")
        checked = self.done(waiting)
        self.assertEqual(checked["state"], "done", checked)
        self.assertIn(
            {"table": "terms", "of": "rows", "new": 4, "changed": 0, "unchanged": 0},
            checked["counts"],
        )
        self.assertFalse(Market.objects.exists() or Batch.objects.exists())

        came = self.done(self.ask(f"intake/jobs/{checked['id']}/import/", 201))
        self.assertEqual(came["counts"], checked["counts"])
        self.assertIn("3 niches analysed", came["messages"][1])
        self.assertFalse(came["incoming"])
        (batch,) = self.ask("intake/batches/")
        self.assertEqual((batch["name"], batch["latest"]), ("North, May", True))
        self.assertEqual(self.client.get("/api/ledger/").json()["total"], 3)

        undone = self.done(self.ask(f"intake/batches/{batch['id']}/undo/", 201))
        self.assertIn("Decisions and notes stay.", undone["messages"][0])
        self.assertFalse(Niche.objects.exists() or Run.objects.exists())
        (batch,) = self.ask("intake/batches/")
        self.assertFalse(batch["latest"])
        self.assertIsNotNone(batch["undone_at"])

    def test_pages_of_other_origins_change_nothing(self) -> None:
        self.done(self.job("import", self.hand_over(**small_market())))
        (batch,) = self.ask("intake/batches/")
        undo = f"/api/intake/batches/{batch['id']}/undo/"
        for origin in ("http://elsewhere.example", "http://127.0.0.1:9", "null"):
            found = self.client.post(undo, headers={"Origin": origin})
            self.assertEqual(found.status_code, 403, origin)
        self.assertIn("another origin", found.json()["detail"])
        self.assertEqual(Job.objects.filter(kind="undo").count(), 0)
        own = self.client.post(undo, headers={"Origin": "http://testserver"})
        self.assertEqual(own.status_code, 201)

    def test_a_stop_that_comes_while_results_are_noted_is_not_lost(self) -> None:
        job = self.job("import", self.hand_over(**small_market()))
        run = actions.import_folder

        def then_stop(*args: Any, **options: Any) -> Batch:
            batch = run(*args, **options)
            self.ask(f"intake/jobs/{job['id']}/stop/")
            return batch

        with patch("driftfield.work.tasks.import_folder", then_stop):
            stopped = self.done(job)
        self.assertEqual(stopped["state"], "stopped")
        self.assertIn("imported before that, whole", stopped["messages"][0])
        self.assertEqual(Batch.objects.count(), 1)

    def test_a_file_of_which_less_came_is_not_kept(self) -> None:
        folder = str(self.ask("intake/uploads/", 201)["incoming"])
        with self.assertRaisesRegex(CoreError, "Only 3 of 5 bytes of terms.csv arrived"):
            incoming.keep(folder, "terms.csv", iter([b"abc"]), 5)
        self.assertEqual(list((Path(settings.DATA_DIR) / "incoming" / folder).iterdir()), [])

    def test_two_uploads_of_one_name_do_not_mix(self) -> None:
        folder = str(self.ask("intake/uploads/", 201)["incoming"])
        place = Path(settings.DATA_DIR) / "incoming" / folder

        def slow() -> Iterator[bytes]:
            yield b"term\n"
            # Another window sends the same name meanwhile, and is done first.
            incoming.keep(folder, "terms.csv", iter([b"term\nsecond\n"]), 12)
            yield b"first\n"

        incoming.keep(folder, "terms.csv", slow(), 11)
        self.assertEqual((place / "terms.csv").read_bytes(), b"term\nfirst\n")
        self.assertEqual([one.name for one in place.iterdir()], ["terms.csv"])

    def test_uploads_have_a_quota_and_need_no_length(self) -> None:
        folder = str(self.ask("intake/uploads/", 201)["incoming"])
        self.assertEqual(incoming.keep(folder, "terms.csv", iter([b"ab", b"c"]), None), 3)
        with override_settings(UPLOAD_LIMIT=10):
            with self.assertRaisesRegex(CoreError, "at most"):
                incoming.keep(folder, "other.csv", iter([b"x" * 8]), None)
            # The same file again takes the place of the first.
            self.assertEqual(incoming.keep(folder, "terms.csv", iter([b"x" * 9]), 9), 9)
        with (
            patch.object(incoming, "MOST_FILES", 1),
            self.assertRaisesRegex(CoreError, "Pack them as a zip"),
        ):
            incoming.keep(folder, "third.csv", iter([b"x"]), 1)
        with patch.object(incoming, "MOST_FOLDERS", 1):
            self.assertIn("Too many uploads", self.ask("intake/uploads/", 409)["detail"])
        self.assertIn("too long", self.put(folder, f"{'x' * 240}.csv", b"x", 409)["detail"])

    def test_beginnings_of_files_are_swept(self) -> None:
        folder = str(self.ask("intake/uploads/", 201)["incoming"])
        place = Path(settings.DATA_DIR) / "incoming" / folder
        for name, age in ((".old.part", 2 * incoming.BEGUN), (".new.part", 10)):
            (place / name).write_bytes(b"x")
            os.utime(place / name, (time.time() - age,) * 2)
        incoming.sweep()
        self.assertEqual([one.name for one in place.iterdir()], [".new.part"])

    def test_a_fault_of_the_program_is_noted_and_told_where(self) -> None:
        job = self.job("import", self.hand_over(**small_market()))
        with (
            patch("driftfield.work.tasks.import_folder", side_effect=KeyError("luck")),
            self.assertLogs("driftfield.faults", "ERROR") as noted,
        ):
            failed = self.done(job)
        self.assertEqual(failed["state"], "failed")
        self.assertRegex(failed["messages"][0], r"the page Faults has it under [0-9a-f]{12}\.")
        self.assertIn("KeyError", noted.output[0])
        self.assertNotIn("luck", " ".join(failed["messages"]))

    def test_a_job_whose_worker_was_killed_makes_way(self) -> None:
        """Nobody holds the worker's turn, so what is said to run was cut off."""
        killed = self.job("check", self.hand_over(**small_market()))
        Job.objects.filter(pk=killed["id"]).update(state="running")
        with (
            patch.dict(os.environ, {SERVED: "1", "DRIFTFIELD_DATA": str(settings.DATA_DIR)}),
            patch("driftfield.work.keeper.start_keeper") as kept,
        ):
            self.job("check", self.hand_over(**small_market()))
        self.assertEqual(self.ask(f"intake/jobs/{killed['id']}/")["state"], "cut off")
        kept.assert_called_once()

    def test_a_zip_by_itself(self) -> None:
        raw = io.BytesIO()
        with zipfile.ZipFile(raw, "w") as archive:
            for name, text in small_market().items():
                archive.writestr(f"{name}.csv", text)
        job = self.done(self.job("import", self.hand_over(market__zip=raw.getvalue())))
        self.assertEqual(job["state"], "done", job)

    def test_refused_files_say_where_and_change_nothing(self) -> None:
        bad = small_market()
        bad["term_weeks"] += "moon filter,2024-01-03,many,,\n" * 150
        job = self.done(self.job("import", self.hand_over(**bad)))
        self.assertEqual((job["state"], job["messages"]), ("refused", ["Nothing was changed."]))
        self.assertEqual(len(job["problems"]), 100)
        self.assertGreater(job["problem_count"], 250)
        first = job["problems"][0]
        self.assertEqual((first["file"], first["line"]), ("term_weeks.csv", 626))
        self.assertFalse(Market.objects.exists())
        listed = self.client.get(f"/api/intake/jobs/{job['id']}/problems/")
        lines = b"".join(listed.streaming_content).decode("utf-8-sig").splitlines()
        self.assertEqual(lines[0], "file,line,column,value,problem,remedy")
        self.assertEqual(len(lines), 1 + job["problem_count"])

    def test_stopping_changes_nothing_and_it_can_go_on(self) -> None:
        folder = self.hand_over(**small_market())
        before = self.ask(f"intake/jobs/{self.job('import', folder)['id']}/stop/")
        self.assertEqual(before["state"], "stopped")
        work_off()
        self.assertFalse(Market.objects.exists())
        running = self.ask(f"intake/jobs/{before['id']}/resume/", 201)

        def stop_in_the_middle(*_: object) -> None:
            Job.objects.filter(pk=running["id"]).update(stop_asked=True)

        with patch.object(CurvesImport, "_term_clicks", stop_in_the_middle):
            stopped = self.done(running)
        self.assertEqual(
            (stopped["state"], stopped["messages"]), ("stopped", ["Nothing was changed."])
        )
        self.assertFalse(Market.objects.exists())
        finished = self.done(self.ask(f"intake/jobs/{stopped['id']}/resume/", 201))
        self.assertEqual(finished["state"], "done")
        self.assertEqual(
            self.ask(f"intake/jobs/{finished['id']}/resume/", 409)["title"],
            "This cannot be done as asked",
        )

    def test_undoing_that_is_stopped_goes_on_with_the_same_import(self) -> None:
        for weeks in (100, 156):
            self.done(self.job("import", self.hand_over(**small_market(weeks))))
        latest, first = self.ask("intake/batches/")
        undo = self.ask(f"intake/batches/{latest['id']}/undo/", 201)
        # Stopped while niches are analysed again: the import is undone already.
        with patch(
            "driftfield.readings.actions.analyse_market.load_market", side_effect=StoppedError
        ):
            stopped = self.done(undo)
        self.assertEqual(stopped["state"], "stopped")
        self.assertIn("undone before that, whole", stopped["messages"][0])
        went_on = self.done(self.ask(f"intake/jobs/{stopped['id']}/resume/", 201))
        self.assertEqual(went_on["state"], "done", went_on)
        left = {one["id"]: one["undone_at"] for one in self.ask("intake/batches/")}
        self.assertIsNone(left[first["id"]])
        self.assertIsNotNone(left[latest["id"]])

    def test_one_at_a_time(self) -> None:
        self.job("check", self.hand_over(**small_market()))
        second = self.job("check", self.hand_over(**small_market()), 409)
        self.assertIn("North, May is still running", second["detail"])

    def test_a_fault_is_said_and_nothing_is_changed(self) -> None:
        job = self.job("import", self.hand_over(**small_market()))
        with patch.object(CurvesImport, "_offers", side_effect=KeyError("x")):
            failed = self.done(job)
        self.assertEqual(failed["state"], "failed")
        self.assertIn("Nothing was changed.", failed["messages"])
        self.assertFalse(Market.objects.exists())

    def test_work_that_was_cut_off_is_said_to_be_and_can_go_on(self) -> None:
        job = self.job("import", self.hand_over(**small_market()))
        Job.objects.filter(pk=job["id"]).update(state=State.RUNNING, step="Reading listings.csv")
        recover()
        found = self.ask(f"intake/jobs/{job['id']}/")
        self.assertEqual(found["state"], "cut off")
        self.assertIn("“Reading listings.csv”", found["messages"][0])
        self.assertTrue(found["incoming"])
        self.assertEqual(
            self.done(self.ask(f"intake/jobs/{job['id']}/resume/", 201))["state"], "done"
        )

    def test_a_decision_while_an_import_is_written_is_told_to_wait(self) -> None:
        busy = OperationalError("database is locked")
        with patch("driftfield.api.desk.views.decide", side_effect=busy):
            asked = {"market_id": "north", "id": "rf", "choice": "keep"}
            found = self.client.post("/api/desk/decisions/", asked, content_type="application/json")
        self.assertEqual((found.status_code, found.json()["title"]), (503, "The database is busy"))

    def test_files_nobody_asked_for_are_taken_away_after_a_day(self) -> None:
        checked = self.done(self.job("check", self.hand_over(**small_market())))
        young, old = self.hand_over(terms="term\na\n"), self.hand_over(terms="term\na\n")
        root = Path(settings.DATA_DIR) / "incoming"
        for folder in root.iterdir():
            if folder.name != young:
                os.utime(folder, (0, 0))
        recover()
        left = {folder.name for folder in root.iterdir()}
        self.assertIn(young, left)  # Its files may still be coming.
        self.assertNotIn(old, left)
        self.assertTrue(self.ask(f"intake/jobs/{checked['id']}/")["incoming"])

    def test_what_may_be_handed_over(self) -> None:
        folder = str(self.ask("intake/uploads/", 201)["incoming"])
        self.assertIn("cannot be read", self.put(folder, "script.exe", b"x", 409)["detail"])
        self.assertEqual(self.put(folder, "..%5C..%5Cterms.csv", b"x", 201)["name"], "terms.csv")
        self.assertIn("no longer here", self.put("a" * 32, "terms.csv", b"x", 409)["detail"])
        with override_settings(UPLOAD_LIMIT=3):
            self.assertIn("at most", self.put(folder, "terms.csv", b"four", 409)["detail"])
        # A form of a foreign page cannot send this type.
        form = self.client.put(
            f"/api/intake/uploads/{folder}/file/terms.csv/", b"x", content_type="text/plain"
        )
        self.assertEqual(form.status_code, 415)
        inside = Path(settings.DATA_DIR) / "incoming" / folder
        self.assertEqual([p.name for p in inside.iterdir()], ["terms.csv"])
        self.assertEqual([p.name for p in Path(settings.DATA_DIR).iterdir()], ["incoming"])
