"""The small program that keeps a worker running beside a server."""

from __future__ import annotations

import os
import subprocess
import sys

from driftfield.home import data_folder, is_taken

PROGRAM = [sys.executable, "-m", "driftfield.work.worker"]
KEEP = "keep"  # What the worker's program is told to be the keeper.
WORKER, KEEPER = "worker", "keeper"  # Turns of the data folder.
SERVED = "DRIFTFIELD_SERVED"  # Set to 1 by the server for what it starts.


def start_keeper() -> None:
    """Start a program that keeps a worker running; it ends with this one.

    A program and not a thread: where a server forks its processes meanwhile, one of them takes the pipe
    along on which a thread waits for its child to begin, and the thread would wait for ever.
    """
    subprocess.Popen([*PROGRAM, KEEP], env={**os.environ, "DRIFTFIELD_PROGRAM": "worker"})


def ensure_worker() -> None:
    """Where the server's keeper or its worker was killed: say so of the job it was at, and start another.

    Does nothing in a program that serves no one, whose jobs wait for one that does.
    """
    from driftfield.work.recovery import (
        recover,  # Needs Django, which a server's first lines have not set up.
    )

    folder = data_folder()
    if os.environ.get(SERVED) != "1":
        return
    if not is_taken(folder, WORKER):
        recover()
    if not is_taken(folder, KEEPER):
        start_keeper()
