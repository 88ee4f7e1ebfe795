"""Mark once more what holds a protected word, where the list of them was changed."""

from __future__ import annotations

import numpy as np
from django.db import transaction
from django.utils import timezone

from driftfield.core.base import Floats
from driftfield.core.market import FIGURES_BY_KEY, NICHE, TERM, Kind
from driftfield.core.market.protected import marks_of
from driftfield.exchange.columns import series_of
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.load import protected_words
from driftfield.readings.models import Run
from driftfield.readings.store import compact, replace_columns


def mark_protected() -> None:
    """Store the figures that rest on protected words anew, for every run; nothing else of it changes."""
    words = protected_words()
    with transaction.atomic():
        for run in Run.objects.filter(columns_in="").select_related("market"):
            terms, niches = columns_of(run, TERM), columns_of(run, NICHE)
            marks = marks_of(terms.ids, words)
            held = np.zeros(terms.count) if marks is None else marks
            owned = np.fmax(held, np.nan_to_num(terms.figure("branded")))
            as_words = np.full(terms.count, None, dtype=object)
            if marks is not None:
                as_words[:] = np.where(marks == 1, "yes", "no")
            _put(run, TERM, "protected", as_words)
            _put(run, TERM, "open_searches_52w", terms.figure("searches_52w") * (1 - owned))
            share = _share(terms, niches, held)
            known = share if marks is not None else np.full(niches.count, np.nan)
            _put(run, NICHE, "protected_share", known)
            open_share = 1 - np.nan_to_num(_share(terms, niches, owned))
            _put(run, NICHE, "open_searches_52w", niches.figure("searches_52w") * open_share)
            # What was made from the columns before is not shown any more.
            run.planned_at = timezone.now()
            run.save(update_fields=["planned_at"])


def _share(terms: RunColumns, niches: RunColumns, marks: Floats) -> Floats:
    """Share of each niche's searches that its marked terms have, (niches,)."""
    owner = np.array([niches.places[niche] for niche in terms.owners], dtype=np.int64)
    searches = np.nan_to_num(terms.figure("searches_52w"))
    whole = np.bincount(owner, weights=searches, minlength=niches.count)
    part = np.bincount(owner, weights=searches * marks, minlength=niches.count)
    share: Floats = np.divide(part, whole, out=np.full(niches.count, np.nan), where=whole > 0)
    return share


def _put(run: Run, kind: Kind, key: str, values: np.ndarray) -> None:
    figure = FIGURES_BY_KEY[key]
    replace_columns(run, kind, {key: compact(figure, series_of(figure, values))})
