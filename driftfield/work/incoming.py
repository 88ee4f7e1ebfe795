"""Files uploaded in the browser, until they are imported."""

from __future__ import annotations

import errno
import shutil
import time
import uuid
from collections.abc import Iterable
from pathlib import Path, PurePosixPath

from django.conf import settings

from driftfield.core.base import CoreError
from driftfield.exchange.sources import READABLE

from .models import Job

FOR_FILES = 20  # Jobs whose files are kept.
YOUNG = 86_400.0  # Seconds for which files wait for what is to be done with them.
BEGUN = 3_600.0  # Seconds after which an upload that did not end has been given up.
MOST_FOLDERS, MOST_FILES = 200, 500
LONGEST_NAME = 200  # Bytes.
PART = ".part"
ROOM_LEFT = 1 << 29  # Bytes of the disk that stay free.


def open_folder() -> str:
    """Make a folder for files to come; its name. Raises CoreError where very many are open."""
    if sum(1 for _ in _root().glob("*")) >= MOST_FOLDERS:
        sweep()
    if sum(1 for _ in _root().glob("*")) >= MOST_FOLDERS:
        raise CoreError(
            "Too many uploads were started and not imported. Import them, or wait a day until they are "
            "removed."
        )
    name = uuid.uuid4().hex
    _root().mkdir(mode=0o700, exist_ok=True)
    _place(name).mkdir(mode=0o700)
    return name


def folder_of(name: str) -> Path:
    """The folder of that name. Raises CoreError where there is none."""
    if not (len(name) == 32 and name.isalnum() and _place(name).is_dir()):
        raise CoreError("These files are no longer here. Upload them again.")
    return _place(name)


def path_of(folder: Path) -> Path:
    """What is to be read of a folder: one file or zip stands for itself, several for the folder they are in."""
    files = [p for p in folder.iterdir() if not p.name.startswith(".")] if folder.is_dir() else []
    return files[0] if len(files) == 1 else folder


def check_file(name: str, size: int | None) -> str:
    """What a file of ``size`` bytes may be called here; None where it is not said how many come.

    Raises CoreError where its kind or its size is not right.
    """
    bare = PurePosixPath(name.replace("\\", "/")).name
    if not bare.lower().endswith(READABLE) or bare.startswith("."):
        raise CoreError(f"{bare or 'A file'} cannot be read. Readable are {', '.join(READABLE)}.")
    if len(bare.encode()) > LONGEST_NAME:
        raise CoreError(f"The name {bare[:40]}… is too long for a file here. Shorten it.")
    _check_room(bare, size or 0)
    return bare


def _check_room(name: str, size: int) -> None:
    if size > settings.UPLOAD_LIMIT:
        raise CoreError(
            f"{name} has {size / 1e9:.1f} GB; at most {settings.UPLOAD_LIMIT / 1e9:.1f} GB are accepted. "
            "Give its path to bin/driftfield import."
        )
    if size + ROOM_LEFT > shutil.disk_usage(settings.DATA_DIR).free:
        raise CoreError(f"The disk has no room for {name}.")


def keep(folder: str, name: str, pieces: Iterable[bytes], size: int | None) -> int:
    """Write a file of ``size`` bytes into the folder, whole or not at all; bytes written.

    ``size`` is None where the browser sends pieces without saying how many. Each upload is written to a
    file of its own and named when it is whole, so that two of one name do not mix. Raises CoreError where
    another number came (a browser that goes away sends the beginning of a file), and where it is more
    than a folder takes.
    """
    place = folder_of(folder)
    before = [one for one in place.iterdir() if one.name != name]
    taken = sum(one.stat().st_size for one in before)
    if len(before) >= MOST_FILES:
        raise CoreError(
            f"At most {MOST_FILES:,} files can be uploaded at once. Pack them as a zip."
        )
    part = place / f".{uuid.uuid4().hex}{PART}"
    try:
        came = 0
        with part.open("xb") as out:
            for piece in pieces:
                came += len(piece)
                if size is not None and came > size:
                    raise CoreError(
                        f"More bytes of {name} arrived than the {size:,} announced. Upload it once more."
                    )
                if taken + came > settings.UPLOAD_LIMIT:
                    _check_room(f"The folder with {name}", taken + came)
                out.write(piece)
        if size is not None and came != size:
            raise CoreError(
                f"Only {came:,} of {size:,} bytes of {name} arrived. Upload it once more."
            )
        part.replace(place / name)
    except OSError as error:
        if error.errno != errno.ENOSPC:
            raise
        raise CoreError(f"The disk has no room for {name}.") from None
    finally:
        part.unlink(missing_ok=True)
    return came


def remove(folder: Path) -> None:
    """Take a folder of files away, if it is one of these."""
    if folder.parent == _root():
        shutil.rmtree(folder, ignore_errors=True)


def sweep() -> None:
    """Take away what was uploaded and never used: old folders but those of recent jobs, into a young one
    files may be coming; and beginnings of files that did not arrive."""
    recent = Job.objects.exclude(folder="").order_by("-pk")[:FOR_FILES]
    in_use = {job.folder for job in recent}
    now = time.time()
    for folder in _root().glob("*"):
        if str(folder) not in in_use and folder.stat().st_mtime < now - YOUNG:
            remove(folder)
            continue
        for part in folder.glob(f".*{PART}"):
            if part.stat().st_mtime < now - BEGUN:
                part.unlink(missing_ok=True)


def _root() -> Path:
    return Path(settings.DATA_DIR) / "incoming"


def _place(name: str) -> Path:
    return _root() / name
