"""The simulated feed as a process beside a test."""

import json
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict
from datetime import date
from pathlib import Path
from typing import Any

from driftfield.feedsim.serve import Plan

ROOT = Path(__file__).resolve().parents[3]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextmanager
def simulated(package: Path, **options: Any) -> Iterator[str]:
    """Runs the feed; its address."""
    plan = Plan(str(package), free_port(), every=None, **options)
    command = [sys.executable, "-m", "driftfield.feedsim.serve", json.dumps(asdict(plan))]
    with subprocess.Popen(command, cwd=ROOT) as process:
        address = f"http://127.0.0.1:{plan.port}"
        try:
            _wait_for(address, process)
            yield address
        finally:
            process.terminate()


def _wait_for(address: str, process: "subprocess.Popen[bytes]") -> None:
    for _ in range(1_200):  # Two minutes: a loaded machine takes long to start a program.
        try:
            clock(address)
        except (urllib.error.URLError, ConnectionError):
            if process.poll() is not None:
                break
            time.sleep(0.1)
        else:
            return
    raise AssertionError("the simulated feed does not start")


def clock(address: str, forward: int = 0) -> date:
    """Where the simulation is, after it was put forward by so many weeks."""
    body = json.dumps({"weeks": forward}).encode() if forward else None
    request = urllib.request.Request(
        f"{address}/simulation/clock", body, {"Content-Type": "application/json"}
    )
    with urllib.request.urlopen(request, timeout=60) as answer:
        return date.fromisoformat(json.load(answer)["complete_until"])
