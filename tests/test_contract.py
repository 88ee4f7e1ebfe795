"""The API's description is true: requests made from it, right and wrong ones, are answered as it says."""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import tag

from benchmarks.contract import KNOWN
from driftfield.exchange.tests.packages import whole_market
from tests.browser.market import load

# Of what benchmarks/contract.py tries, each limit and each wrong type of every parameter, always the same.
SEED = "14"
# Addresses whose parameters are those of /api/ledger/ or of the list they are the file of, and a feed, which
# is asked in tests of its own. benchmarks/contract.py asks them too.
LEFT_OUT = (
    "/api/ledger/distribution/", "/api/ledger/ids/", "/api/ledger/points/", "/api/terms/onward/",
    "/api/almanac/weeks/", "/api/almanac/calendar/", "/api/tables/", "/api/intake/feed/pull/",
)  # fmt: skip
FILES = "/file/$"
PROGRAM = str(Path(sys.executable).with_name("st"))


@tag("contract")
class Contract(StaticLiveServerTestCase):
    databases = frozenset({"default", "work"})

    def test_every_address_answers_as_the_description_says(self) -> None:
        load(whole_market())
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "schemathesis.toml").write_text(KNOWN, "utf-8")
            found = subprocess.run(
                [PROGRAM, "run", f"{self.live_server_url}/api/schema/", "--phases", "coverage",
                 "--seed", SEED, "--continue-on-failure",
                 "--exclude-path-regex", FILES, *(part for path in LEFT_OUT for part in ("--exclude-path", path))],
                cwd=folder, env={**os.environ, "NO_COLOR": "1"}, capture_output=True, text=True,
                check=False,
            )  # fmt: skip
        self.assertEqual(found.returncode, 0, found.stdout[-6000:])
        self.assertRegex(found.stdout, r"[1-9]\d{3,} generated")
