"""A server of its own beside a test, on a database of its own."""

import os
import socket
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from driftfield.feedsim.tests.simulated import free_port
from driftfield.home import is_taken
from driftfield.work.keeper import KEEPER, WORKER

ROOT = Path(__file__).resolve().parents[1]
PATIENCE = 120  # Seconds: a loaded machine takes long to start a program, and to end one.

__all__ = ["PATIENCE", "ROOT", "free_port", "served"]


@contextmanager
def served(data: str | Path, port: int, *more: str) -> Iterator[str]:
    """Serve from the folder ``data``; the address. What the server started has ended too at the end.

    A worker ends a little after its server, and writes into the folder until then.
    """
    with subprocess.Popen(
        [str(ROOT / "bin/driftfield"), "serve", "--port", str(port), *more],
        env={**os.environ, "DRIFTFIELD_DATA": str(data)},
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    ) as server:
        try:
            _wait(
                "The server does not come up.", lambda: _answers(port) or server.poll() is not None
            )
            yield f"http://127.0.0.1:{port}"
        finally:
            server.terminate()
            try:
                server.wait(PATIENCE)
            except subprocess.TimeoutExpired:
                server.kill()
                raise
            folder = Path(data)
            _wait(
                "What the server started does not end.",
                lambda: not any(is_taken(folder, name) for name in (KEEPER, WORKER)),
            )


def _answers(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


def _wait(refusal: str, done: Callable[[], bool]) -> None:
    until = time.monotonic() + PATIENCE
    while not done():
        if time.monotonic() > until:
            raise AssertionError(refusal)
        time.sleep(0.1)
