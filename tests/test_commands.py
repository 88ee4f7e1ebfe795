"""The shell commands: what they refuse, and how they say it."""

import json
import os
import signal
import socket
import subprocess
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest import TestCase

from driftfield.exchange.tests.packages import small_market, supplied_market, write

from .served import PATIENCE, free_port, served

ROOT = Path(__file__).resolve().parents[1]


def run(*command: str, **options: object) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(ROOT / command[0]), *command[1:]],
        capture_output=True,
        text=True,
        timeout=120,
        **options,
    )  # type: ignore[call-overload]


class Layouts(TestCase):
    def test_a_proposal_is_corrected_and_used(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder)
            weeks = "".join(f"moon filter;{n + 1:02}.01.2024;1.{n:03},5\n" for n in range(0, 22, 7))
            (folder / "weeks.csv").write_text("Suchbegriff;Woche;Suchvolumen\n" + weeks)
            answer = run("bin/driftfield", "mapping", str(folder / "weeks.csv"))
            self.assertEqual(answer.returncode, 0, answer.stderr)
            (entry,) = json.loads(answer.stdout)
            self.assertEqual(entry["mapping"]["decimal"], ",")
            mapping = folder / "mapping.json"
            mapping.write_text(answer.stdout)
            data = os.environ | {"DRIFTFIELD_DATA": str(folder / "data")}
            options = ("--no-analysis", "--mapping", str(mapping))
            # A check by a mapping keeps neither figures nor the mapping.
            looked = run(
                "bin/driftfield", "import", str(folder / "weeks.csv"), "--check", *options, env=data
            )
            self.assertIn("term_weeks 1 new", looked.stderr)
            self.assertIn("This was a check; nothing was changed.", looked.stderr)
            unknown = run("bin/driftfield", "import", str(folder / "weeks.csv"), env=data)
            self.assertNotEqual(unknown.returncode, 0)
            self.assertIn("bin/driftfield mapping", unknown.stderr)
            came = run("bin/driftfield", "import", str(folder / "weeks.csv"), *options, env=data)
            self.assertIn("term_weeks 1 new", came.stderr)
            # What was agreed is known the next time.
            (folder / "later.csv").write_text(f"Suchbegriff;Woche;Suchvolumen\n{weeks}")
            again = run("bin/driftfield", "import", str(folder / "later.csv"), env=data)
            self.assertIn("later.csv was read as term_weeks.", again.stderr)
            self.assertIn("nothing is new", again.stderr)

            mapping.write_text("[1]")
            refused = run(
                "bin/driftfield", "import", str(folder), "--mapping", str(mapping), env=data
            )
            self.assertIn("is no list of mappings", refused.stderr)


class Refusals(TestCase):
    def check(self, answer: str, *command: str) -> None:
        found = run(*command)
        self.assertNotEqual(found.returncode, 0)
        self.assertNotIn("Traceback", found.stderr)
        # What is being set up may be told first; the refusal is one line, the last.
        self.assertIn(answer, found.stderr.strip().splitlines()[-1])

    def test_options_and_ports_that_are_none(self) -> None:
        self.check("There is no option --fast", "bin/demo", "--fast")
        self.check(
            "A port is a number from 1 to 65535; got “eighty”.", "bin/demo", "--port", "eighty"
        )
        self.check("got 70000", "bin/demo", "--port=70000")
        self.check("There is no part speed", "bin/test", "speed")

    def test_a_taken_port(self) -> None:
        with socket.socket() as other, tempfile.TemporaryDirectory() as data:
            other.bind(("127.0.0.1", 0))
            other.listen()
            port = str(other.getsockname()[1])
            self.check(f"Port {port} is taken", "bin/demo", "--port", port, "--data", data)

    def test_a_folder_that_cannot_be_made(self) -> None:
        with tempfile.NamedTemporaryFile() as file:
            self.check("cannot be made", "bin/demo", "--data", f"{file.name}/inside")


class Help(TestCase):
    def test_each_command_explains_itself(self) -> None:
        for command, words in (
            (("bin/demo", "--help"), "--reset"),
            (("bin/test", "--help"), "browser tests included"),
            (("bin/driftfield", "--help"), "docs/exchange.md"),
            (("bin/driftfield", "analyse", "--help"), "--verdict"),
            (("bin/driftfield", "import", "--help"), "change nothing"),
        ):
            found = run(*command)
            self.assertEqual(found.returncode, 0, found.stderr)
            self.assertIn(words, found.stdout)


class Analyse(TestCase):
    def test_files_in_records_out_from_anywhere(self) -> None:
        with tempfile.TemporaryDirectory() as elsewhere:
            package = str(ROOT / "demo/harrow-quay.zip")
            found = run(
                "bin/driftfield", "analyse", package, "--out", "a.csv", "--verdict", cwd=elsewhere
            )
            self.assertEqual(found.returncode, 0, found.stderr)
            lines = (Path(elsewhere) / "a.csv").read_text("utf-8").splitlines()
        self.assertEqual(len(lines), 321)
        self.assertTrue(
            lines[0].startswith("market_id,niche_id,name,as_of")
            and lines[0].endswith("verdict,evidence")
        )
        self.assertIn("320 niches written to a.csv.", found.stderr)


class Import(TestCase):
    def test_a_check_an_import_and_back(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = str(write(Path(holder) / "in", **small_market()))
            environment = {**os.environ, "DRIFTFIELD_DATA": holder}

            def answer(*words: str) -> str:
                found = run("bin/driftfield", *words, env=environment)
                self.assertEqual(found.returncode, 0, found.stderr)
                return found.stderr

            checked = answer("import", "--check", folder)
            self.assertIn("terms 4 new", checked)
            self.assertIn("nothing was changed", checked)
            self.assertIn("terms 4 new", answer("import", "--no-analysis", folder))
            self.assertIn("3 niches analysed", answer("renew"))
            self.assertIn("is undone", answer("undo-import"))
            kept = list((Path(holder) / "backups").glob("before-undo-*.sqlite3"))
            self.assertEqual(len(kept), 1)
            again = run("bin/driftfield", "undo-import", env=environment)
            self.assertIn("There is no import to undo.", again.stderr)


class Serve(TestCase):
    @contextmanager
    def serving(self, holder: str, *more: str) -> Iterator[str]:
        """A server on a database in ``holder``; the address of its API."""
        with served(holder, free_port(), *more) as address:
            yield f"{address}/api"

    def test_serving_processes_answer_after_a_load(self) -> None:
        """What was loaded in the parent must not stall the processes forked from it."""
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            with self.serving(holder, "--load", str(folder)) as base:
                self.assertEqual(
                    self.ask(f"{base}/ledger/?c=terms+contain+forcer&sort=name")["count"], 1
                )
                self.assertEqual(
                    self.ask(f"{base}/ledger/distribution/?figure=searches_52w")["known"], 3
                )
                self.assertEqual(len(self.ask(f"{base}/niche/terms/?niche=rf")), 2)
                self.assertIn("signals", self.ask(f"{base}/niche/?niche=rf"))
                self.assertEqual(self.ask(f"{base}/ledger/points/")["ids"], ["rf"])
                self.assertEqual(
                    self.ask(f"{base}/niche/listings/?niche=rf")[0]["listing_id"], "l1"
                )
                for question in ("demand", "curves", "holders", "terms/detail", "feedback"):
                    self.assertTrue(self.ask(f"{base}/niche/{question}/?niche=rf"))
                # Many marked niches make a long address.
                many = "&".join(f"niche=some-niche-{i:05}" for i in range(3_000))
                listed = self.ask(f"{base}/ledger/file/?as=json&niche=rf&{many}")
                self.assertEqual([row["id"] for row in listed["rows"]], ["rf"])

    def test_work_goes_on_without_a_browser_and_after_a_worker_was_killed(self) -> None:
        with tempfile.TemporaryDirectory() as holder, self.serving(holder) as base:
            self.assertEqual(self.ask(f"{base}/intake/jobs/"), [])
            incoming = self.ask(f"{base}/intake/uploads/", {})["incoming"]
            for name, text in small_market().items():
                request = urllib.request.Request(
                    f"{base}/intake/uploads/{incoming}/file/{name}.csv/", text.encode(), method="PUT",
                    headers={"Content-Type": "application/octet-stream"},
                )  # fmt: skip
                urllib.request.urlopen(request, timeout=PATIENCE).close()
            # A worker that is killed is followed by another one, which does what waits.
            self.kill_worker(holder)
            job = self.ask(
                f"{base}/intake/jobs/",
                {"kind": "import", "incoming": incoming, "name": "eleven files"},
            )
            for _ in range(120):
                job = self.ask(f"{base}/intake/jobs/{job['id']}/")
                if job["state"] not in {"waiting", "running"}:
                    break
                time.sleep(0.25)
            self.assertEqual(job["state"], "done", job)
            self.assertEqual(self.ask(f"{base}/ledger/")["total"], 3)

    def kill_worker(self, data: str) -> None:
        """Kill the worker on that database, found by its environment."""
        for _ in range(80):
            for process in Path("/proc").glob("[0-9]*"):
                try:
                    words = (process / "cmdline").read_bytes()
                    mine = f"DRIFTFIELD_DATA={data}".encode() in (process / "environ").read_bytes()
                except OSError:
                    continue  # It ended meanwhile.
                if words.endswith(b"driftfield.work.worker\0") and mine:
                    os.kill(int(process.name), signal.SIGKILL)
                    return
            time.sleep(0.25)
        raise AssertionError("there is no worker")

    def ask(self, url: str, body: dict[str, Any] | None = None) -> Any:
        """The answer; one that stalls is an error."""
        request = urllib.request.Request(url, headers={"Content-Type": "application/json"})
        if body is not None:
            request.data = json.dumps(body).encode()
        with urllib.request.urlopen(request, timeout=PATIENCE) as answer:
            return json.load(answer)
