"""The API's description is true: requests made from it, right and wrong ones, are answered as it says."""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from django.contrib.staticfiles.testing import StaticLiveServerTestCase

from benchmarks.contract import KNOWN
from driftfield.exchange.tests.packages import whole_market
from tests.browser.market import load

# A part of what benchmarks/contract.py tries, always the same.
CASES, SEED, SECONDS = "4", "14", "90"
PROGRAM = str(Path(sys.executable).with_name("st"))


class Contract(StaticLiveServerTestCase):
    databases = frozenset({"default", "work"})

    def test_every_address_answers_as_the_description_says(self) -> None:
        load(whole_market())
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "schemathesis.toml").write_text(KNOWN, "utf-8")
            found = subprocess.run(
                [PROGRAM, "run", f"{self.live_server_url}/api/schema/", "--phases", "coverage,fuzzing",
                 "-n", CASES, "--seed", SEED, "--max-time", SECONDS, "--continue-on-failure",
                 # It asks a feed, which tests of the feed do.
                 "--exclude-path", "/api/intake/feed/pull/"],
                cwd=folder, env={**os.environ, "NO_COLOR": "1"}, capture_output=True, text=True,
                check=False,
            )  # fmt: skip
        self.assertEqual(found.returncode, 0, found.stdout[-6000:])
        self.assertRegex(found.stdout, r"[1-9]\d{2,} generated")
