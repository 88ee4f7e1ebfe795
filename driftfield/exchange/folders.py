"""Folders that tables are written to."""

from __future__ import annotations

from pathlib import Path

from driftfield.core.base import CoreError


def new_folder(folder: Path) -> Path:
    """The folder, made if need be. Raises CoreError where it holds files already."""
    if folder.exists() and any(folder.iterdir()):
        raise CoreError(f"{folder} is not empty. Choose a new folder.")
    folder.mkdir(parents=True, exist_ok=True)
    return folder
