"""Files that were handed over in the browser, until they are imported."""

from __future__ import annotations

import shutil
import time
import uuid
from collections.abc import Iterable
from pathlib import Path, PurePosixPath

from django.conf import settings

from driftfield.core.errors import CoreError
from driftfield.exchange.sources import READABLE

YOUNG = 86_400.0  # Seconds for which files wait for what is to be done with them.
ROOM_LEFT = 1 << 29  # Bytes of the disk that stay free.


def open_folder() -> str:
    """Make a folder for files to come; its name."""
    name = uuid.uuid4().hex
    _place(name).mkdir(parents=True)
    return name


def folder_of(name: str) -> Path:
    """The folder of that name. Raises CoreError where there is none."""
    if not (len(name) == 32 and name.isalnum() and _place(name).is_dir()):
        raise CoreError("These files are not here any more. Choose them again.")
    return _place(name)


def path_of(folder: Path) -> Path:
    """What is to be read of a folder: one file or zip stands for itself, several for the folder they are in."""
    files = [p for p in folder.iterdir() if not p.name.startswith(".")] if folder.is_dir() else []
    return files[0] if len(files) == 1 else folder


def check_file(name: str, size: int) -> str:
    """What a file of ``size`` bytes may be called here.

    Raises CoreError where its kind or its size is not right.
    """
    bare = PurePosixPath(name.replace("\\", "/")).name
    if not bare.lower().endswith(READABLE) or bare.startswith("."):
        raise CoreError(f"{bare or 'A file'} is none of {', '.join(READABLE)}.")
    if size > settings.UPLOAD_LIMIT:
        raise CoreError(
            f"{bare} has {size / 1e9:.1f} GB; at most {settings.UPLOAD_LIMIT / 1e9:.1f} GB are taken here. "
            "Give its path to bin/driftfield import."
        )
    if size + ROOM_LEFT > shutil.disk_usage(settings.DATA_DIR).free:
        raise CoreError(f"There is no room on the disk for {bare}.")
    return bare


def keep(folder: str, name: str, pieces: Iterable[bytes], size: int) -> None:
    """Write a file of ``size`` bytes into the folder, whole or not at all.

    Raises CoreError where less came: a browser that goes away sends the beginning of a file.
    """
    place = folder_of(folder) / name
    part = place.with_name(f".{name}.part")
    try:
        with part.open("wb") as out:
            for piece in pieces:
                out.write(piece)
        came = part.stat().st_size
        if came != size:
            raise CoreError(
                f"Of {name} only {came:,} of {size:,} bytes came. Hand it over once more."
            )
        part.replace(place)
    finally:
        part.unlink(missing_ok=True)


def remove(folder: Path) -> None:
    """Take a folder of files away, if it is one of these."""
    if folder.parent == _root():
        shutil.rmtree(folder, ignore_errors=True)


def clear(in_use: set[str]) -> None:
    """Take away old folders but those of the paths ``in_use``; into a young one files may be coming."""
    young = time.time() - YOUNG
    for folder in _root().glob("*"):
        if str(folder) not in in_use and folder.stat().st_mtime < young:
            remove(folder)


def _root() -> Path:
    return Path(settings.DATA_DIR) / "incoming"


def _place(name: str) -> Path:
    return _root() / name
