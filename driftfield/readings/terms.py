"""The terms of one niche, worked out when asked for."""

from __future__ import annotations

from typing import Any

import numpy as np

from driftfield.core.settings import Settings
from driftfield.core.terms import TERM_FIGURES, term_figures
from driftfield.market.models import Term

from .load import load_niche
from .models import Reading


def term_rows(reading: Reading) -> list[dict[str, Any]]:
    """A row a term with its figures, None for unknown, most searched first; then by the term."""
    run = reading.market.run
    terms = Term.objects.filter(niche=reading.niche).order_by("pk").values_list("term", flat=True)
    part = load_niche(reading.niche, run.as_of)
    if part is None:
        return [{"term": term, **dict.fromkeys(TERM_FIGURES)} for term in terms]
    figures = term_figures(part.data, Settings(**run.settings))
    rows = [
        {
            "term": term,
            **{k: None if np.isnan(v[i]) else round(float(v[i]), 6) for k, v in figures.items()},
        }
        for i, term in enumerate(terms)
    ]
    return sorted(rows, key=lambda row: (-(row["searches_52w"] or 0), row["term"]))
