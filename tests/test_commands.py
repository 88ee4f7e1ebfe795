"""The shell commands: what they refuse, and how they say it."""

import json
import os
import socket
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any
from unittest import TestCase

from driftfield.exchange.tests.packages import supplied_market, write

ROOT = Path(__file__).resolve().parents[1]


def run(*command: str, **options: object) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(ROOT / command[0]), *command[1:]],
        capture_output=True,
        text=True,
        timeout=120,
        **options,
    )  # type: ignore[call-overload]


class Refusals(TestCase):
    def check(self, said: str, *command: str) -> None:
        found = run(*command)
        self.assertNotEqual(found.returncode, 0)
        self.assertNotIn("Traceback", found.stderr)
        # What is being set up may be told first; the refusal is one line, the last.
        self.assertIn(said, found.stderr.strip().splitlines()[-1])

    def test_options_and_ports_that_are_none(self) -> None:
        self.check("There is no option --fast", "bin/demo", "--fast")
        self.check(
            "A port is a number from 1 to 65535; “eighty” came.", "bin/demo", "--port", "eighty"
        )
        self.check("70000 came", "bin/demo", "--port=70000")
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
            (("bin/driftfield", "import", "--help"), "All of it or nothing"),
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
        self.assertEqual(len(lines), 286)
        self.assertTrue(
            lines[0].startswith("market_id,niche_id,name,as_of")
            and lines[0].endswith("verdict,evidence")
        )
        self.assertIn("285 niches written to a.csv.", found.stderr)


class Serve(TestCase):
    def test_serving_processes_answer_after_a_load(self) -> None:
        """What was loaded in the parent must not stall the processes forked from it."""
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            with socket.socket() as probe:
                probe.bind(("127.0.0.1", 0))
                port = probe.getsockname()[1]
            environment = {**os.environ, "DRIFTFIELD_DATA": holder}
            command = [
                str(ROOT / "bin/driftfield"),
                "serve",
                "--port",
                str(port),
                "--load",
                str(folder),
            ]
            server = subprocess.Popen(
                command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE
            )
            try:
                base = f"http://127.0.0.1:{port}/api"
                self.assertEqual(
                    self.ask(f"{base}/ledger/?c=terms+hold+forcer&sort=name")["count"], 1
                )
                self.assertEqual(self.ask(f"{base}/spread/?figure=searches_52w")["known"], 3)
                self.assertEqual(len(self.ask(f"{base}/terms/?niche=rf")), 2)
                self.assertIn("signals", self.ask(f"{base}/preview/?niche=rf"))
                self.assertEqual(self.ask(f"{base}/points/")["niches"], ["rf"])
                self.assertEqual(self.ask(f"{base}/listings/?niche=rf")[0]["listing_id"], "l1")
                for question in ("outlook", "curves", "holders", "typed", "said"):
                    self.assertTrue(self.ask(f"{base}/dossier/{question}/?niche=rf"))
                # Many marked niches make a long address.
                many = "&".join(f"niche=some-niche-{i:05}" for i in range(3_000))
                listed = self.ask(f"{base}/ledger/list/?as=json&niche=rf&{many}")
                self.assertEqual([row["niche_id"] for row in listed["rows"]], ["rf"])
            finally:
                server.terminate()
                server.communicate(timeout=20)

    def ask(self, url: str) -> Any:
        """The answer, waited for while the server starts; one that stalls is an error."""
        for _ in range(120):
            try:
                with urllib.request.urlopen(url, timeout=20) as answer:
                    return json.load(answer)
            except urllib.error.URLError as error:
                if not isinstance(error.reason, ConnectionRefusedError):
                    raise
                time.sleep(0.5)
        raise AssertionError("the server did not start")
