"""The worker's own program: python -m driftfield.work.worker, see keeper."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time

from driftfield.home import data_folder, turn
from driftfield.work.keeper import KEEP, KEEPER, PROGRAM, WORKER

POLL_SECONDS = 0.3  # Between two looks into the queue.


def _keep() -> None:
    """Start a worker, and another one whenever it ends; one keeper is enough for a data folder."""
    with turn(data_folder(), KEEPER):
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
    from driftfield.work.recovery import recover
    from driftfield.work.timed import schedule_look

    # One worker a database: another would take the first one's work for cut off. It waits its turn.
    with turn(data_folder(), WORKER):
        recover()
        schedule_look()
        call_command(
            "db_worker", interval=POLL_SECONDS, startup_delay=False, verbosity=0, reload=False
        )


if __name__ == "__main__":
    main()
