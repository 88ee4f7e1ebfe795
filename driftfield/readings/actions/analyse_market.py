"""Analyse a market: read it whole, store a row a niche, replace what was there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date

import numpy as np
from django.db import transaction
from django.db.models import Max, QuerySet

from driftfield.core.base import DEFAULTS, Settings
from driftfield.core.market import FIGURES, Workings, run_market
from driftfield.core.sentences import plain_column
from driftfield.core.signals import SIGNALS
from driftfield.core.supply import top_tables
from driftfield.exchange.completeness import last_complete
from driftfield.intake.models import Batch
from driftfield.market.many_rows import insert_columns
from driftfield.market.models import Market
from driftfield.readings.load import load_market
from driftfield.readings.matrices import (
    FIGURE,
    PARTS,
    SEVERITIES,
    TOP,
    column_of,
    kept,
    pack_matrix,
    pack_order,
    stored_logs,
)
from driftfield.readings.models import Matrix, Reading, Run

Progress = Callable[[int, int], None]


def analyse_market(
    market: Market,
    settings: Settings = DEFAULTS,
    *,
    as_of: date | None = None,
    progress: Progress | None = None,
) -> Run:
    """Read a market up to ``as_of`` (default: its last complete period) and store the readings.

    Raises CoreError when it has no searches or nothing is complete by then.
    """
    niches: list[int] = []
    columns: dict[str, list[object]] = {f.column: [] for f in FIGURES}
    parts: list[dict[str, np.ndarray]] = []
    notes, ends = [], []
    for part in load_market(market):
        data = part.data
        end, note = last_complete(data.searches, data.timeline, as_of, market.complete_until)
        work = run_market(data, settings, as_of=end, rules=SIGNALS, progress=progress)
        figures = work.figures
        parts.append(_matrices(work))
        for figure in FIGURES:
            columns[figure.column] += plain_column(figure, figures[figure.key])
        niches += part.niches
        notes += [note] if note else []
        ends.append((end, data.timeline.period.value))
    with transaction.atomic():
        Reading.objects.filter(market=market).delete()
        insert_columns(
            Reading, {"niche_id": niches, "market_id": [market.pk] * len(niches), **columns}
        )
        run, _ = Run.objects.update_or_create(
            market=market,
            defaults={
                # The counts come first; a market of relative curves alone has theirs.
                "as_of": ends[0][0],
                "period": ends[0][1],
                "settings": settings.as_dict(),
                "niches": len(niches),
                "note": " ".join(notes),
                "order": pack_order(niches),
            },
        )
        run.matrices.all().delete()
        for matrix in (made := _together(parts)):
            matrix.run = run
        Matrix.objects.bulk_create(made)
    return run


def _matrices(work: Workings) -> dict[str, np.ndarray]:
    """What is asked of a whole market at once, by the names of matrices."""
    year = work.timeline.period.per_year
    found = {
        f"{FIGURE}{f.key}": column_of(f, work.figures[f.key], year)[:, None]
        for f in FIGURES
        if kept(f)
    }
    found[SEVERITIES] = work.figures["signals"]
    if work.counts:  # Relative curves are not ranked.
        assert work.normalised is not None, "a market that was worked through is normalised"
        found[PARTS] = stored_logs(work.normalised)
    if work.data.listings is not None:
        tables = top_tables(work.supply.members, work.data.listings, work.timeline.end.toordinal())
        found |= {f"{TOP}{key}": table for key, table in tables.items()}
    return found


def _together(parts: list[dict[str, np.ndarray]]) -> list[Matrix]:
    """The matrices of all parts of a market one below the other, NaN where a part has none."""
    names = dict.fromkeys(name for part in parts for name in part)
    sizes = [len(part[SEVERITIES]) for part in parts]
    out = []
    for name in names:
        width = next(part[name].shape[1] for part in parts if name in part)
        rows = [
            part.get(name, np.full((size, width), np.nan))
            for part, size in zip(parts, sizes, strict=True)
        ]
        out.append(pack_matrix(name, np.concatenate(rows)))
    return out


def _curved() -> QuerySet[Market]:
    known = ("searches", "index")
    return Market.objects.filter(terms__curves__measure__in=known).distinct().order_by("pk")


def stale() -> QuerySet[Market]:
    """Markets that have curves and were not analysed since something was last loaded or taken back."""
    latest = Batch.objects.aggregate(made=Max("made_at"), undone=Max("undone_at"))
    moments = [moment for moment in latest.values() if moment is not None]
    if not moments:
        return _curved().filter(run=None)
    return _curved().exclude(run__made_at__gt=max(moments))


def analyse_all(
    settings: Settings = DEFAULTS, *, only_stale: bool = False, progress: Progress | None = None
) -> Iterator[Run]:
    """Analyse every market that has curves; ``only_stale``: those that ``stale`` names."""
    for market in list(stale() if only_stale else _curved()):
        yield analyse_market(market, settings, progress=progress)
