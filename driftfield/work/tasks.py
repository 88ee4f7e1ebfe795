"""The tasks of the worker. Each does one job and notes in it how far it is and what came of it."""

from __future__ import annotations

import time
from dataclasses import asdict
from pathlib import Path

from django.conf import settings
from django.utils import timezone
from django_tasks import task

from driftfield.core.base import CoreError
from driftfield.core.market import KINDS_BY_PLURAL, NICHE
from driftfield.core.market.proof import EVERY as EVERY_WEEKS
from driftfield.desk.actions import analyse_all_and_watch, analyse_and_watch, decided_niches
from driftfield.exchange.lists import Column, write_list
from driftfield.exchange.mapping import Mapping
from driftfield.exchange.problems import ExchangeError, Problems
from driftfield.home import explain
from driftfield.intake.actions import import_folder, pull_feed, undo_batch
from driftfield.intake.models import Batch
from driftfield.keeping import keep_before
from driftfield.logs import new_id, note_fault
from driftfield.market.models import Market
from driftfield.market.own_niches import niches_mark
from driftfield.readings.actions import (
    proposal_sentence,
    propose,
    replay_past,
    replay_sentence,
)

from . import incoming
from .models import Job, Kind, State

EVERY = 0.3  # Seconds between two notes of how far the work is.
SHOWN = 100  # Problems noted in the job; the file beside it has more.
PROBLEM_COLUMNS = [
    Column(key, head)
    for key, head in (
        ("file", "file"), ("line", "line"), ("column", "column"), ("value", "value"), ("message", "problem"),
        ("remedy", "remedy"),
    )
]  # fmt: skip
PROBLEM_FILE = ".problems.csv"  # Names with a point are never taken for tables.


class StoppedError(Exception):
    """The researcher asked to stop."""


class Watch:
    """Notes in a job how far it is, and ends it when that is asked for."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.noted = 0.0

    def __call__(self, step: str, done: int, whole: int, unit: str = "bytes") -> None:
        now = time.monotonic()
        if step == self.job.step and now - self.noted < EVERY and done < whole:
            return
        self.noted = now
        if step != self.job.step:
            self.job.step, self.job.step_at = step, timezone.now()
        self.job.done, self.job.whole, self.job.unit = done, whole, unit
        self.job.save(update_fields=["step", "step_at", "done", "whole", "unit"])
        if Job.objects.filter(pk=self.job.pk, stop_asked=True).exists():
            raise StoppedError

    def analysis(self, done: int, whole: int) -> None:
        self("Analysing", done, whole, "niches and terms")


@task()
def do_job(pk: int) -> None:
    """Do the job; whatever comes of it is noted there."""
    job = Job.objects.get(pk=pk)
    if job.state != State.WAITING:
        return  # It was stopped before it began.
    new_id()
    job.state, job.started_at = State.RUNNING, timezone.now()
    job.save(update_fields=["state", "started_at"])
    try:
        WORK[Kind(job.kind)](job, Watch(job))
        job.state = State.DONE
    except StoppedError:
        job.state = State.STOPPED
        job.messages = [_what_stands(job)]
    except ExchangeError as error:
        job.state = State.REFUSED
        _note_problems(job, error.problems)
    except CoreError as error:
        job.state = State.REFUSED
        job.messages = [str(error)]
    except Exception as error:
        job.state = State.FAILED
        explanation = explain(error)
        if explanation is None:
            noted = note_fault(error, f"{job.kind} of {job.source}")
            explanation = f"A fault in the program; the page Faults has it under {noted}."
        job.messages = [explanation, _what_stands(job)]
    except BaseException:
        job.state = State.FAILED
        job.messages = ["The program was ended.", _what_stands(job)]
        raise
    finally:
        job.ended_at = timezone.now()
        job.save()
    if job.state == State.DONE and job.kind == Kind.IMPORT and job.folder:
        incoming.remove(Path(job.folder))


def _what_stands(job: Job) -> str:
    """What is left when a job ends in its middle; imports and undoing change all or nothing."""
    if job.kind == Kind.ANALYSE:
        return "The readings are as they were."
    if job.kind == Kind.PROPOSE:
        return "Nothing was changed."
    if job.kind == Kind.REPLAY:
        return (
            "The track record is as it was. Days that were replayed are kept; resuming continues."
        )
    if job.kind == Kind.UNDO:
        done, what = _is_undone(job.batch), "The import was undone"
    else:
        done, what = job.batch is not None, "What had arrived was imported"
    if not done:
        kept = (
            " What has arrived is kept; resuming continues from there."
            if job.kind == Kind.PULL
            else ""
        )
        return f"Nothing was changed.{kept}"
    return f"{what} before that, whole; the niches still have to be analysed again."


def _is_undone(batch: int | None) -> bool:
    return batch is not None and Batch.objects.filter(pk=batch, undone_at__isnull=False).exists()


def _import(job: Job, watch: Watch) -> None:
    folder = Path(job.folder)
    checking = job.kind == Kind.CHECK
    if not folder.exists():
        raise CoreError("These files are no longer here. Upload them again.")
    path = incoming.path_of(folder)
    mappings = {key: Mapping.from_dict(mapping) for key, mapping in job.mappings.items()}
    batch = import_folder(
        path, dry_run=checking, progress=watch, source=job.source, cap=settings.PROBLEM_CAP, mappings=mappings,
        market=job.market,
    )  # fmt: skip
    job.counts, job.notes, job.messages = batch.counts, batch.notes, [batch.sentence]
    job.batch = batch.pk
    # Not the whole row: that the work is to stop may just have been written there.
    job.save(update_fields=["counts", "notes", "messages", "batch"])
    if not checking:
        for run in analyse_all_and_watch(only_stale=True, progress=watch.analysis):
            job.messages.append(run.sentence)


def _undo(job: Job, watch: Watch) -> None:
    watch("Keeping a copy of what is there now", 0, 0)
    database = Path(str(settings.DATABASES["default"]["NAME"]))

    def keep() -> None:
        if database.exists():  # In memory there is none.
            keep_before(database, "undo")

    # Work that goes on may have come so far before.
    if not _is_undone(job.batch):
        undo_batch(keep, job.batch)
    job.messages = [
        "What it brought is gone, what it changed is as it was. Decisions and notes stay."
    ]
    job.save(update_fields=["messages"])
    for run in analyse_all_and_watch(only_stale=True, progress=watch.analysis):
        job.messages.append(run.sentence)


def _pull(job: Job, watch: Watch) -> None:
    for batch in pull_feed(progress=watch):
        job.messages.append(batch.sentence)
        job.notes += [note for note in batch.notes if note not in job.notes]
        for table, count in batch.counts.items():
            before = job.counts.get(table, {})
            job.counts[table] = {key: before.get(key, 0) + many for key, many in count.items()}
        job.batch = batch.pk or job.batch
        job.save(update_fields=["counts", "notes", "messages", "batch"])
    for run in analyse_all_and_watch(only_stale=True, progress=watch.analysis):
        job.messages.append(run.sentence)


def _market(job: Job) -> Market:
    market = Market.objects.filter(market_id=job.market).first()
    if market is None:
        raise CoreError("The market no longer exists.")
    return market


def _analyse(job: Job, watch: Watch) -> None:
    market = _market(job)
    run = analyse_and_watch(market, progress=watch.analysis)
    # Niches that were changed meanwhile are read as well.
    while run.niches_mark != niches_mark(market.market_id):
        run = analyse_and_watch(market, progress=watch.analysis)
    job.messages = [run.sentence]


def _replay(job: Job, watch: Watch) -> None:
    record = replay_past(
        _market(job), KINDS_BY_PLURAL[str(job.options.get("of", NICHE.plural))],
        every=int(job.options.get("every", EVERY_WEEKS)), anew=bool(job.options.get("anew")),
        resumed=bool(job.options.get("resumed")),
        progress=lambda done, whole: watch("Replaying the past", done, whole, "days"),
    )  # fmt: skip
    job.messages = [f"{record.market.name}: {replay_sentence(record)}"]


def _propose(job: Job, watch: Watch) -> None:
    market = _market(job)
    watch("Grouping terms", 0, 0)
    proposal = propose(
        market, anew=bool(job.options.get("anew")), first=decided_niches(market.market_id)
    )
    job.messages = [f"{market.name}: {proposal_sentence(proposal)}."]
    job.notes = proposal.notes


WORK = {
    Kind.CHECK: _import, Kind.IMPORT: _import, Kind.UNDO: _undo, Kind.PULL: _pull,
    Kind.ANALYSE: _analyse, Kind.PROPOSE: _propose, Kind.REPLAY: _replay,
}  # fmt: skip


def problem_file(job: Job) -> Path:
    """Where the problems of a job's files are listed; it need not exist."""
    return Path(job.folder or "nowhere") / PROBLEM_FILE


def _note_problems(job: Job, problems: Problems) -> None:
    job.problem_count = problems.count
    job.problems = [asdict(problem) for problem in problems.kept[:SHOWN]]
    job.messages = ["Nothing was changed."]
    file = problem_file(job)
    if not file.parent.is_dir():
        return
    with file.open("wb") as out:
        out.write(
            write_list("csv", "Problems", PROBLEM_COLUMNS, [asdict(p) for p in problems.kept])
        )
