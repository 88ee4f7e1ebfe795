"""The worker's own program: python -m driftfield.work.worker, started and kept up by the server."""

from __future__ import annotations

import fcntl
import os
import subprocess
import sys
import threading
import time

LOOKS = 0.3  # Seconds between two looks into the queue.


def keep_working() -> None:
    """Keep a worker running beside this program, and start another whenever it ends."""

    def keep() -> None:
        while True:
            with subprocess.Popen([sys.executable, "-m", "driftfield.work.worker"]) as worker:
                worker.wait()
            time.sleep(1)

    threading.Thread(target=keep, daemon=True).start()


def _end_with(parent: int) -> None:
    """End when the program that started this one is gone, however it went."""
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    import django
    from django.core.management import call_command

    django.setup()
    from django.conf import settings

    from driftfield.work.actions import recover

    # One worker a database: another would take the first one's work for cut off. It waits its turn.
    with (settings.DATA_DIR / "worker.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        recover()
        call_command("db_worker", interval=LOOKS, startup_delay=False, verbosity=0, reload=False)


if __name__ == "__main__":
    main()
