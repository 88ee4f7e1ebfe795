"""A run over all parts: which stages are asked of whom, and how what parts tell is put together."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import asdict, dataclass, replace
from datetime import date
from typing import Any
from uuid import uuid4

from driftfield.core.base import CoreError, Settings
from driftfield.core.market import check_planning
from driftfield.core.ranking import Lens
from driftfield.exchange.dataset.facts import whole_of
from driftfield.exchange.dataset.layout import (
    BESIDE,
    FIGURES,
    MANIFEST,
    RESULT,
    Store,
    read_manifest,
)
from driftfield.exchange.dataset.parts import LEFT_OUT, Unit, units_of, whole_tables
from driftfield.exchange.forms import refusal

from . import stages
from .stages import Bad, Job

TOGETHER = 8  # Files put together at once, so that no one reads those of all parts.
TRIES = 5  # How often a part is tried again when the worker that had it is gone,
AGAIN = 2  # and when it failed: an object store may be out of reach for a moment.
REACHED = "10s"  # Within which a scheduler must answer.
GLANCE, PATIENCE = 0.02, 60.0  # Seconds between looks, and after which it is asked who still works.
WORK = "_work"

Progress = Callable[[str, int, int], None]


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A part that was left out, and why."""

    market: str
    part: int
    reason: str


@dataclass(frozen=True, slots=True)
class RunResult:
    """What a run came to: niches, as-of, parts read, those left out, what is to be noted, seconds it took."""

    niches: int
    as_of: date
    parts: int
    left_out: list[LeftOut]
    notes: list[str]
    seconds: float


@contextmanager
def connected(cluster: str) -> Iterator[Any]:
    """A Dask client of ``local:N``, programs of this machine, or of the scheduler at ``tcp://…``.

    Raises CoreError where the one is no number and the other does not answer.
    """
    import dask
    import distributed

    one = dict.fromkeys(("POLARS_MAX_THREADS", "OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"), "1")
    settings = {
        "distributed.scheduler.allowed-failures": TRIES,
        # A part takes as much memory as it takes; pausing would only keep others from what is free.
        "distributed.worker.memory.pause": False,
        "distributed.worker.memory.terminate": False,
        # One that is killed again while it starts would else be given up.
        "distributed.deploy.lost-worker-timeout": "1 hour",
        "distributed.nanny.pre-spawn-environ": {**one, "MALLOC_TRIM_THRESHOLD_": "65536"},
    }
    with dask.config.set(settings):
        if cluster.startswith("local:"):
            workers = cluster.removeprefix("local:")
            if not workers.isdigit() or not 1 <= int(workers) <= 1024:
                raise CoreError(f"“{cluster}” names no cluster: write local:2 for two programs.")
            with (
                distributed.LocalCluster(
                    n_workers=int(workers), threads_per_worker=1, processes=True,
                    dashboard_address=None, host="127.0.0.1", silence_logs=50,
                ) as started,
                distributed.Client(started) as client,
            ):  # fmt: skip
                yield client
            return
        try:
            client = distributed.Client(cluster, timeout=REACHED)
        except (OSError, ValueError) as error:
            raise CoreError(
                f"No scheduler answers at {cluster} ({error}). Start one with “dask scheduler”, or use local:2."
            ) from None
        with client:
            yield client


class _Run:
    """Asks workers for stages, and for what parts told to be put together."""

    def __init__(self, client: Any, job: Job, progress: Progress) -> None:
        self.client, self.job, self.progress = client, job, progress

    def ask(
        self, label: str, stage: Callable[..., Any], of_each: Sequence[tuple[Any, ...]], **more: Any
    ) -> list[Any]:
        """A stage of each part, told of where it has a label; its answers in order. A fault ends all."""
        futures = [
            self.client.submit(stage, self.job, *each, **more, pure=False, retries=AGAIN)
            for each in of_each
        ]
        try:
            for done, future in enumerate(self._ended(futures), 1):
                future.result()
                if label:
                    self.progress(label, done, len(futures))
            return [future.result() for future in futures]
        except BaseException:
            self.client.cancel(futures, force=True)
            raise

    def _ended(self, futures: list[Any]) -> Iterator[Any]:
        """The futures as they end; CoreError where nobody is left to work on them."""
        from distributed import as_completed

        coming, heard = as_completed(futures), time.monotonic()
        while coming.count():
            if coming.has_ready():
                heard = time.monotonic()
                yield from coming.next_batch(block=False)
                continue
            time.sleep(GLANCE)
            if time.monotonic() - heard > PATIENCE:
                if not self.client.nthreads():
                    raise CoreError(
                        "No worker is left. Start some at the scheduler, and run it again."
                    )
                heard = time.monotonic()

    def together(self, stage: str, units: Sequence[Unit]) -> None:
        """Put together what a stage told of all parts, some files at a time, so that no one reads them all."""
        names, level = [stages.told_name(unit) for unit in units], 0
        while len(names) > TOGETHER:
            heaps = [names[at : at + TOGETHER] for at in range(0, len(names), TOGETHER)]
            made = [f"{level}-{at}" for at in range(len(heaps))]
            pairs = zip(heaps, made, strict=True)
            self.ask("", stages.put_together, [(stage, heap, into) for heap, into in pairs])
            names, level = made, level + 1
        self.ask("", stages.put_together, [(stage, names, stages.WHOLE_MARKET)])


def analyse_dataset(
    client: Any,
    data: str,
    out: str,
    settings: Settings,
    lens: Lens,
    *,
    as_of: date | None = None,
    planning: date | None = None,
    skip_bad: bool = False,
    progress: Progress = lambda _label, _done, _whole: None,
) -> RunResult:
    """Analyse the niches of a data set by the workers of a Dask client, and write readings by part.

    The figures are those of one machine that reads the tables at once. Raises ExchangeError and CoreError as
    reading files does, and where ``out`` is in use; with ``skip_bad`` parts that cannot be read are left out.
    """
    began = time.monotonic()
    source, target = Store(data), Store(out)
    manifest = read_manifest(source)
    if target.exists(MANIFEST) or not (target.is_empty() or _is_ours(target)):
        raise refusal(out, "Something else lies there.", "Give another folder, or remove it first.")
    for name in target.names():
        target.remove(name)
    work = f"{WORK}/{uuid4().hex}"
    job = Job(
        source.address, target.address, manifest, settings, lens, as_of, planning, skip_bad, work
    )
    run = _Run(client, job, progress)
    try:
        result = _run(run, units_of(source, manifest), began)
    finally:
        target.remove(WORK)
    told = asdict(result) | {
        "data": data, "lens": lens.name, "settings": settings.as_dict(),
        "weights": lens.as_dict(), "parts_of_data": manifest.parts, "planning_date": planning,
    }  # fmt: skip
    target.write(json.dumps(told, ensure_ascii=False, indent=1, default=str).encode(), RESULT)
    return result


def _is_ours(target: Store) -> bool:
    """Whether nothing but an earlier run's result lies there."""
    return set(target.names()) <= {RESULT, WORK, FIGURES, BESIDE}


def _run(run: _Run, units: list[Unit], began: float) -> RunResult:
    job, source = run.job, Store(run.job.data)
    if not units:
        raise CoreError(f"There are no niches in {job.data}.")
    left_out: dict[Unit, str] = {}
    categories = whole_tables(source, job.manifest).get("categories")
    found = run.ask("Looking at parts", stages.survey, [(one,) for one in units])
    facts = {unit: one for unit, one in zip(units, found, strict=True) if not isinstance(one, Bad)}
    left_out |= {one.unit: one.reason for one in found if isinstance(one, Bad)}
    tables = job.manifest.tables
    alone = "term_clicks" not in tables and not any(
        "category_id" in tables.get(name, {}) for name in ("niches", "listings")
    )
    while True:
        if not facts:
            raise CoreError(f"No part of {job.data} can be read. {next(iter(left_out.values()))}")
        whole = whole_of(job.manifest, facts, categories, job.as_of)
        end = max(span.end for span in (whole.counts, whole.relative) if span is not None)
        if job.planning is not None:
            check_planning(job.planning, end)
        stages.tell(job, "whole", whole)
        answers = run.ask(
            "Reading curves", stages.read, [(unit,) for unit in sorted(facts)], alone=alone
        )
        bad = [one for one in answers if one is not None]
        if not bad:
            break
        for one in bad:
            left_out[one.unit] = one.reason
            del facts[one.unit]
        # What was read rests on what the bad part told of the whole: begin again without it.
        job = run.job = replace(job, work=f"{WORK}/{uuid4().hex}")
    units = sorted(facts)
    if not alone:
        _supply_side(run, units)
    run.together("measure", units)
    run.ask("Scoring", stages.score, [(unit, number) for number, unit in enumerate(units)])
    run.together("score", units)
    each = [(unit,) for unit in units]
    run.ask("Drawing weights", stages.draw, each)
    run.together("draw", units)
    run.ask("Reading bands", stages.band, each)
    run.together("band", units)
    counts = run.ask("Writing readings", stages.finish, each)
    notes = [*job.manifest.notes, *whole.notes]
    for name in LEFT_OUT:
        if name in tables:
            notes.append(f"{name} is not read by a run over parts; its figures are unknown.")
    gone = [LeftOut(unit.market, unit.part, reason) for unit, reason in sorted(left_out.items())]
    return RunResult(
        sum(counts), end, len(units), gone, list(dict.fromkeys(notes)), time.monotonic() - began
    )


def _supply_side(run: _Run, units: list[Unit]) -> None:
    """The stages between curves and figures, in which parts need one another."""
    run.together("read", units)
    keys = list(stages.told_of_all(run.job, "read"))
    shared = [(key, bucket) for key in keys for bucket in range(run.job.buckets)]
    run.ask("Listings in several parts", stages.bring_together, shared)
    each = [(unit,) for unit in units]
    run.ask("Reading the supply side", stages.compete, each)
    run.together("compete", units)
    run.ask("Computing figures", stages.measure, each)
