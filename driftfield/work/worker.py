"""The worker's own program: python -m driftfield.work.worker, kept up by a small one that the server starts."""

from __future__ import annotations

import fcntl
import os
import subprocess
import sys
import threading
import time

LOOKS = 0.3  # Seconds between two looks into the queue.
PROGRAM = [sys.executable, "-m", "driftfield.work.worker"]
KEEP = "keep"


def keep_working() -> None:
    """Start a program that keeps a worker running; it ends with this one.

    A program and not a thread: where a server forks its processes meanwhile, one of them takes the pipe
    along on which a thread waits for its child to begin, and the thread would wait for ever.
    """
    subprocess.Popen([*PROGRAM, KEEP])


def _keep() -> None:
    """Start a worker, and another one whenever it ends."""
    while True:
        subprocess.run(PROGRAM, check=False)
        time.sleep(1)


def _end_with(parent: int) -> None:
    """End when the program that started this one is gone, however it went."""
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    if KEEP in sys.argv[1:]:
        _keep()
    import django
    from django.core.management import call_command

    django.setup()
    from django.conf import settings

    from driftfield.work.actions import recover
    from driftfield.work.timed import wind_up

    # One worker a database: another would take the first one's work for cut off. It waits its turn.
    with (settings.DATA_DIR / "worker.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        recover()
        wind_up()
        call_command("db_worker", interval=LOOKS, startup_delay=False, verbosity=0, reload=False)


if __name__ == "__main__":
    main()
