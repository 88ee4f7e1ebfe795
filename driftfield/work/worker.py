"""The worker's own program: python -m driftfield.work.worker, kept up by a small one that the server starts."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time

from driftfield.home import data_folder, is_taken, turn

LOOKS = 0.3  # Seconds between two looks into the queue.
PROGRAM = [sys.executable, "-m", "driftfield.work.worker"]
KEEP = "keep"
WORKER, KEEPER = "worker", "keeper"  # Turns of the data folder.
SERVED = "DRIFTFIELD_SERVED"  # Set to 1 by the server for what it starts.


def keep_working() -> None:
    """Start a program that keeps a worker running; it ends with this one.

    A program and not a thread: where a server forks its processes meanwhile, one of them takes the pipe
    along on which a thread waits for its child to begin, and the thread would wait for ever.
    """
    subprocess.Popen([*PROGRAM, KEEP], env={**os.environ, "DRIFTFIELD_PROGRAM": "worker"})


def keep_on() -> None:
    """Where the server's keeper or its worker was killed: say so of the job it was at, and start another.

    Does nothing in a program that serves no one, whose jobs wait for one that does.
    """
    from driftfield.work.actions.recover import recover

    folder = data_folder()
    if os.environ.get(SERVED) != "1":
        return
    if not is_taken(folder, WORKER):
        recover()
    if not is_taken(folder, KEEPER):
        keep_working()


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
    from driftfield.work.actions import recover
    from driftfield.work.timed import wind_up

    # One worker a database: another would take the first one's work for cut off. It waits its turn.
    with turn(data_folder(), WORKER):
        recover()
        wind_up()
        call_command("db_worker", interval=LOOKS, startup_delay=False, verbosity=0, reload=False)


if __name__ == "__main__":
    main()
