"""What is written about a niche in a few figures, as sieve and ledger ask for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Ints
from driftfield.core.market.said import Said

from .concerns import concern_of
from .themes import sides_of, themes_of
from .tone import COMPLAINT
from .whole import WholeTexts

SHARED = 0.5  # Part of the leaders that must have a complaint before it is said that none lacks it; our choice.


@dataclass(frozen=True, slots=True)
class Summary:
    """The figures of one niche's texts, as ``core.market.said.Said`` has them of all."""

    texts: float
    complaint: str | None
    share: float
    low: float
    fault: str | None
    fault_share: float
    worsening: float
    wishes: float


def summarise(whole: WholeTexts, listings: Ints, leaders: Ints) -> Summary:
    """The figures of some texts, by the themes that are found in them.

    listings: (texts,) the listing of each text, −1 for none. leaders: the most clicked listings. A complaint is
    known to be there or not only where themes could be found at all.
    """
    read, listings = whole.read, listings[: whole.told]
    themes = [one for one in themes_of(read, sides_of(read)) if one.tone == COMPLAINT]
    texts, wishes = float(whole.told), float(whole.wishing)
    if not themes:
        return Summary(texts, None, np.nan, np.nan, None, np.nan, np.nan, wishes)
    known = np.unique(np.concatenate([listings[listings >= 0], leaders]))
    place = {int(key): at for at, key in enumerate(known)}
    group = np.array([place.get(int(key), -1) for key in listings], dtype=np.int64)
    leading = np.array([place[int(key)] for key in leaders], dtype=np.int64)
    fault, fault_share = None, np.nan
    for one in themes if leading.size else []:
        concern = concern_of(one.texts, group, len(known), one.share)
        has, lacks = concern.has[leading].mean(), concern.lacks[leading].any()
        if has >= SHARED and not lacks:
            fault, fault_share = one.name, one.share
            break
    first = themes[0]
    # A year ago is known where anything was written then.
    dated = any(not np.isnan(one.early) for one in themes)
    worse = float(any(one.grown > 0 for one in themes)) if dated else np.nan
    return Summary(texts, first.name, first.share, first.low, fault, fault_share, worse, wishes)


def said_of(found: Mapping[int, Summary], subjects: int) -> Said:
    """The figures of all subjects, from those of some by their places."""

    def numbers(name: str) -> np.ndarray:
        out = np.full(subjects, np.nan)
        for place, one in found.items():
            out[place] = getattr(one, name)
        return out

    def names(name: str) -> np.ndarray:
        out = np.full(subjects, None, dtype=object)
        for place, one in found.items():
            out[place] = getattr(one, name)
        return out

    return Said(
        numbers("texts"), names("complaint"), numbers("share"), numbers("low"), names("fault"),
        numbers("fault_share"), numbers("worsening"), numbers("wishes"),
    )  # fmt: skip
