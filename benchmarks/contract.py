"""Ten thousand requests made from the API's own description, right and wrong ones, for each of three seeds.

    PYTHONPATH=. .venv/bin/python benchmarks/contract.py [CASES [SEED ...]]

A server with the small whole market is started, and schemathesis asks it until so many requests were made:
none may be answered with a status or a media type that the description lacks, with a 5xx, accepted against
it or refused against it. Told are the numbers of each seed, and every failure.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from driftfield.exchange.tests.packages import whole_market, write

ROOT = Path(__file__).resolve().parents[1]
PORT = 8200  # And the seed, so that several seeds can be tried side by side.
PROGRAM = str(Path(sys.executable).with_name("st"))
EACH = 100  # Requests an address at first; more rounds follow until there are enough.
MAX_SECONDS = 900  # Seconds a seed may take.

# What is there to be asked for; of addresses that take one niche, and no list of them.
KNOWN = """
[parameters]
market = "north"
listing = "l1"

[[operations]]
include-path-regex = "/api/niche/"
parameters = { niche = "rf", term = "rhubarb forcer" }
"""


def serving(folder: Path, port: int) -> subprocess.Popen[bytes]:
    """A server with the market loaded, once it answers."""
    environment = {**os.environ, "DRIFTFIELD_DATA": str(folder / "data"), "PYTHONPATH": str(ROOT)}
    program = [sys.executable, "-m", "driftfield", "serve", "--port", str(port)]
    package = write(folder / "in", **whole_market())
    made = subprocess.Popen(
        [*program, "--load", str(package)], env=environment, stdout=-3, stderr=-3
    )
    for _ in range(300):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/api/markets/", timeout=2).close()
            return made
        except OSError:
            time.sleep(0.2)
    raise TimeoutError("The server did not start.")


def tried(cases: int, seed: int) -> int:
    """Try so many requests and say what came of it; how many failures there were."""
    with tempfile.TemporaryDirectory() as holder:
        folder = Path(holder)
        (folder / "schemathesis.toml").write_text(KNOWN, "utf-8")
        server = serving(folder, PORT + seed)
        try:
            found = subprocess.run(
                [PROGRAM, "run", f"http://127.0.0.1:{PORT + seed}/api/schema/",
                 "--phases", "coverage,fuzzing", "-n", str(max(cases // EACH, 1)), "--seed", str(seed),
                 "--max-time", str(MAX_SECONDS), "--continue-on-failure",
                 "--exclude-path", "/api/intake/feed/pull/"],
                cwd=folder, env={**os.environ, "NO_COLOR": "1"}, capture_output=True, text=True,
                check=False,
            )  # fmt: skip
        finally:
            server.terminate()
            server.wait()
    made = re.search(r"(\d+) generated", found.stdout)
    failures = re.findall(r"❌ (ST\d+ [^:]+): (\d+)", found.stdout)
    listed = ", ".join(f"{kind} {many}" for kind, many in failures) or "none"
    print(f"seed {seed}: {made and made[1]} requests; failures: {listed}", flush=True)
    if failures or found.returncode:
        told = [
            line for line in found.stdout.splitlines() if re.search("ST[0-9]{3}|detail|curl", line)
        ]
        print("\n".join(line[:2_000] for line in told))
    return sum(int(many) for _, many in failures) or found.returncode


def main() -> int:
    numbers = [int(word) for word in sys.argv[1:]]
    cases, seeds = (numbers or [10_000])[0], numbers[1:] or [1, 2, 3]
    return int(sum(tried(cases, seed) for seed in seeds) > 0)


if __name__ == "__main__":
    sys.exit(main())
