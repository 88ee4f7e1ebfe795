"""Doing work again that was stopped or cut off."""

from __future__ import annotations

from pathlib import Path

from driftfield.core.base import CoreError
from driftfield.work.models import Job, Kind, State

from .start import start


def resume(job: Job, kind: Kind | None = None) -> Job:
    """The same work anew, or an import of what was checked.

    What the first one finished is not done twice: the same files change nothing, and readings that are
    up to date stay. Raises CoreError where it is still running, or done.
    """
    wanted = kind or Kind(job.kind)
    after_check = job.kind == Kind.CHECK and wanted == Kind.IMPORT and job.state == State.DONE
    if not after_check and (kind or job.state not in {State.STOPPED, State.CUT_OFF, State.FAILED}):
        raise CoreError(f"There is nothing to resume: {job.source} is {job.state}.")
    folder = Path(job.folder) if job.folder else None
    # Before its first day is done, work that takes nothing over may not have let go of what was kept.
    begun = job.done > 0 or bool(job.options.get("resumed"))
    options = {**job.options, "resumed": True} if wanted == Kind.REPLAY and begun else job.options
    return start(
        wanted, job.source, folder, job.batch, job.mappings, job.market, options
    )  # fmt: skip
