"""The data folder: where it is, whether it can be used, and what is said where it cannot.

Knows neither Django nor what is stored: a program asks here before it opens anything.
"""

from __future__ import annotations

import errno
import fcntl
import os
import shutil
import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path
from typing import IO

from driftfield.core.base import CoreError

ROOT = Path(__file__).resolve().parents[1]
DATABASE, WORK_DATABASE = "driftfield.sqlite3", "work.sqlite3"
OWN = 0o600  # Only the account that made a file reads it.
LOOK = 0.2  # Seconds between two looks whether another program is done.
ELSEWHERE = "Give another folder with DRIFTFIELD_DATA (bin/demo --data)"
# What SQLite says, and what it means to those who read it.
DATABASE_SAYS = {
    "malformed": "The database is damaged. Put a copy back with bin/driftfield restore FILE; those made by "
    "themselves are in backups/ of the data folder.",
    "not a database": "The file of the database is none, or is damaged. Put a copy back with "
    "bin/driftfield restore FILE; those made by themselves are in backups/ of the data folder.",
    "readonly database": "The database cannot be written to. Let your account write in the data folder.",
    "disk is full": "The disk is full. What was being written is as it was; free some space and try again.",
    "unable to open": "The database cannot be opened. Let your account read and write in the data folder.",
    "disk i/o error": "The disk cannot be read or written. Check that it is not full and still there.",
    "locked": "Other work holds the database. Nothing was changed; try again when it is done.",
}


def data_folder() -> Path:
    """The folder of the databases: DRIFTFIELD_DATA, else var/ in the checkout."""
    return Path(os.environ.get("DRIFTFIELD_DATA") or ROOT / "var")


def explain(error: BaseException) -> str | None:
    """A database's error in a sentence with what to do; None for another kind of error."""
    if "DatabaseError" not in {one.__name__ for one in type(error).__mro__}:
        return None
    told = str(error).lower()
    return next((meaning for words, meaning in DATABASE_SAYS.items() if words in told), None)


def make_ready(folder: Path) -> None:
    """Make the folder, if need be, and files in it that only this account reads.

    Raises CoreError where it cannot be written to.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        probe = folder / f".probe-{os.getpid()}"
        probe.write_bytes(b"x" * 4096)
        probe.unlink()
        for name in (DATABASE, WORK_DATABASE):
            # SQLite gives the files beside it the rights of the database.
            (folder / name).touch(mode=OWN)
            for file in folder.glob(f"{name}*"):
                if file.stat().st_uid == os.getuid():
                    file.chmod(OWN)
    except OSError as error:
        raise CoreError(_unusable(folder, error)) from None


def _unusable(folder: Path, error: OSError) -> str:
    if error.errno == errno.ENOSPC:
        return f"The disk of {folder} is full. Free some space and try again."
    if error.errno in {errno.EEXIST, errno.ENOTDIR}:
        return f"{error.filename or folder} is a file and no folder. {ELSEWHERE}."
    why = f"The data folder {folder} cannot be written to ({error.strerror})."
    return f"{why} {ELSEWHERE}, or let your account write there."


def check_databases(folder: Path, report: Callable[[str], None]) -> None:
    """See that the databases can be opened and are Driftfield's.

    Raises CoreError for a market's database that is damaged or another program's. What is said of long
    work can be made anew: a damaged one is put aside, which ``say`` is told.
    """
    main = folder / DATABASE
    if (what := _wrong(main, "market")) is not None:
        raise CoreError(
            f"{main} {what}. Put a copy back with bin/driftfield restore FILE"
            f"{_copies(folder)}, or move the file away to start with nothing."
        )
    work = folder / WORK_DATABASE
    if (what := _wrong(work, "work")) is not None:
        kept = put_aside(work)
        report(
            f"{work} {what}. It only tells of long work and was begun anew; the old one is {kept}."
        )


def _copies(folder: Path) -> str:
    found = sorted((folder / "backups").glob("before-*.sqlite3"), key=lambda p: p.stat().st_mtime)
    return f" (the latest kept by itself is {found[-1]})" if found else ""


def _wrong(file: Path, app: str) -> str | None:
    """What is wrong with a database at first sight; None where there is none yet, or it looks right."""
    if not file.exists() or not file.stat().st_size:
        return None
    try:
        with closing(sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)) as opened:
            tables = {name for (name,) in opened.execute("SELECT name FROM sqlite_master")}
            if not tables:
                return None
            if "django_migrations" not in tables:
                return "is another program's database"
            found = opened.execute("SELECT 1 FROM django_migrations WHERE app = ? LIMIT 1", [app])
            return None if found.fetchone() else "is another program's database"
    except sqlite3.OperationalError:
        return None  # Locked, or not to be opened by this account: no damage, and said when it is used.
    except sqlite3.DatabaseError as error:
        return f"is damaged ({error})"


def put_aside(database: Path) -> Path:
    """Move a database that cannot be used to backups/, with the files beside it; where it is now."""
    folder = database.parent / "backups"
    folder.mkdir(exist_ok=True, mode=0o700)
    stamp = datetime.now().strftime("%Y%m%d-%H%M%S-%f")
    kept = folder / f"damaged-{database.stem}-{stamp}.sqlite3"
    for ending in ("-wal", "-shm", ""):
        beside = Path(f"{database}{ending}")
        if beside.exists():
            shutil.move(beside, f"{kept}{ending}")
    return kept


@contextmanager
def turn(folder: Path, name: str, waiting: Callable[[], None] = lambda: None) -> Iterator[None]:
    """Hold a turn that one program of a data folder has at a time; it ends with the program.

    ``waiting`` is told again and again while another one has it, and may raise to give up.
    """
    with _lock(folder, name) as lock:
        while not _taken(lock.fileno()):
            waiting()
            time.sleep(LOOK)
        yield


@contextmanager
def queue(folder: Path, name: str) -> Iterator[None]:
    """The same for short work: those who wait stand in a queue of the system's, woken one after the other."""
    with _lock(folder, name) as lock:
        fcntl.flock(lock.fileno(), fcntl.LOCK_EX)
        yield


def is_taken(folder: Path, name: str) -> bool:
    """Whether a program has that turn now."""
    with _lock(folder, name) as lock:
        return not _taken(lock.fileno())


def _lock(folder: Path, name: str) -> IO[bytes]:
    return open(folder / f"{name}.lock", "ab", opener=lambda path, flags: os.open(path, flags, OWN))


def _taken(file: int) -> bool:
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True
