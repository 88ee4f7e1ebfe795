"""Import a folder or zip of exchange tables: all of it or nothing."""

from __future__ import annotations

import getpass
import hashlib
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractContextManager
from pathlib import Path

from django.conf import settings
from django.db import transaction

from driftfield.exchange.forms import refusal
from driftfield.exchange.mapping import Agreed
from driftfield.exchange.mapping import Mapping as FileMapping
from driftfield.exchange.progress import Progress, untold
from driftfield.exchange.reader import read_package
from driftfield.home import turn
from driftfield.intake.models import Batch
from driftfield.intake.stored import ROWS
from driftfield.market.own_niches import follow_own

from .import_curves import CurvesImport
from .journal import Journal
from .mappings import kept_mappings


def import_folder(
    path: Path,
    *,
    dry_run: bool = False,
    progress: Progress = untold,
    source: str = "",
    cap: int | None = None,
    mappings: Mapping[str, FileMapping] | None = None,
    market: str = "",
    in_turn: bool = False,
) -> Batch:
    """Import ``path`` in one transaction and return what it did.

    ``source`` is what the batch is called, by default the path's name; ``cap`` how many problems are
    kept in full. ``mappings`` says how files of other layouts are read, by key of the layout; where it
    says nothing, they are read as such files were before. ``market`` is the id of the one that new niches
    belong to which name none. ``in_turn``: the caller has the ``import_turn`` already.

    The batch is saved, with what it takes to undo it, only when something changed. ``dry_run``: all is
    done and rolled back, so that the counts are those an import would have. ``progress`` is told how far the
    work is, and may raise to end it. Raises ExchangeError with every problem when the files are not
    right; the database is then as it was.
    """
    if in_turn:
        return _import(path, dry_run, progress, source, cap, mappings, market)
    with import_turn(progress):
        return _import(path, dry_run, progress, source, cap, mappings, market)


def import_turn(progress: Progress) -> AbstractContextManager[None]:
    """One import at a time changes the data; the next one waits, which ``progress`` is told."""
    return turn(
        settings.DATA_DIR, "import", lambda: progress("Waiting for another import to end", 0, 0)
    )


def _import(
    path: Path,
    dry_run: bool,
    progress: Progress,
    source: str,
    cap: int | None,
    mappings: Mapping[str, FileMapping] | None,
    market: str,
) -> Batch:
    progress("Looking at the files", 0, 0)
    files = _files(path)
    before = [_stamp(file) for file in files]
    # The sum over all bytes is computed beside the reading.
    with ThreadPoolExecutor(1) as beside:
        digest = beside.submit(_digest, files)
        agreed = Agreed(mappings or {}, kept_mappings())
        package = read_package(
            path,
            known=_known(),
            progress=progress,
            cap=cap,
            agreed=agreed,
            record_years=settings.RECORD_YEARS,
        )
        files_sum = digest.result()
    for file, stamp in zip(files, before, strict=True):
        if not file.exists() or _stamp(file) != stamp:
            raise refusal(
                file.name, "It was changed while it was read.", "Import it again when it is whole."
            )
    batch = Batch(
        source=source or path.name, digest=files_sum, notes=package.notes, by=_account(),
        mappings={file: mapping.as_dict() for file, mapping in package.mappings.items()},
    )  # fmt: skip

    with transaction.atomic():
        journal = Journal()
        counts = CurvesImport(package, journal, progress, market).run()
        batch.counts = {table: count.as_dict() for table, count in counts.items()}
        if dry_run:
            transaction.set_rollback(True)
        elif batch.changed:
            progress("Keeping what it takes to undo it", 0, 0)
            batch.save()
            journal.save(batch)
            follow_own()
    return batch


def _files(path: Path) -> list[Path]:
    if not path.is_dir():
        return [path]
    return sorted(p for p in path.iterdir() if p.is_file() and not p.name.startswith("."))


def _stamp(file: Path) -> tuple[int, int] | None:
    """Size and time of the last change; None where there is no such file, which the reader will say."""
    if not file.exists():
        return None
    found = file.stat()
    return found.st_size, found.st_mtime_ns


def _account() -> str:
    """The name of the account at work; none where the system has none."""
    try:
        return getpass.getuser()
    except (OSError, KeyError):
        return ""


def _digest(files: list[Path]) -> str:
    """BLAKE2b (RFC 7693, 256 bits) over names and contents of the files; half of SHA-256's time."""
    digest = hashlib.blake2b(digest_size=32)
    for file in files:
        if not file.exists():
            continue
        digest.update(file.name.encode())
        with file.open("rb") as f:
            while block := f.read(1 << 23):
                digest.update(block)
    return digest.hexdigest()


def _known() -> dict[str, set[str]]:
    """Ids that are loaded already, by table; empty when nothing is."""
    found = {
        one.name: set(one.model._default_manager.values_list(one.identity, flat=True))
        for one in ROWS.values()
        if one.identity
    }
    return {table: ids for table, ids in found.items() if ids}
