"""One market as the arrays that its figures are computed from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from driftfield.core.base import Floats, Ints, Settings, Timeline
from driftfield.core.curves import (
    LEAST_SPREAD,
    Interest,
    Prior,
    bridge,
    mean_curves,
    sum_by_group,
)
from driftfield.core.supply import Clicks, History, Listings

from .kinds import NICHE, TERM, Kind
from .said import SaidReader
from .tree import CategoryTree


@dataclass(frozen=True, slots=True)
class MarketData:
    """One market as arrays; NaN for absent.

    subjects: ids of the niches, or of whatever ``kind`` says, in the order of every result.
    term_subject: (terms,) each term's subject.
    searches, clicks, purchases, impressions: (terms, timeline.length); all but the first None where not known.
    Of listings the first are units, what their kind's ``curve`` says.
    counts: whether searches are counts; else they are relative curves, which have no total.
    branded: (terms,) 1 where a term holds a brand's name, 0 where not, NaN for unknown.
    protected: (terms,) 1 where a term holds a protected word, 0 where not; None without a list of them.
    observed: shares of clicks, with listings numbered as in ``listings``, what is known of them.
    category: (subjects,) place of each one's category in ``tree``, −1 for none; both None where not known.
    interest: relative curves beside the counts. prior: a season that noisy subjects lean on; None
    where they are to borrow from their category. niche: of terms and listings, (subjects,) index of each
    one's, −1 for none. voices: who has the texts of buyers about niches, None where there are none. own_sales:
    of niches, rows (subjects), what the researcher sold there, where it is told by the niche.
    """

    timeline: Timeline
    subjects: list[str]
    term_subject: Ints
    searches: Floats
    clicks: Floats | None = None
    purchases: Floats | None = None
    impressions: Floats | None = None
    branded: Floats | None = None
    protected: Floats | None = None
    observed: Clicks | None = None
    listings: Listings | None = None
    counts: bool = True
    category: Ints | None = None
    tree: CategoryTree | None = None
    interest: Interest | None = None
    kind: Kind = NICHE
    prior: Prior | None = None
    niche: Ints | None = None
    voices: SaidReader | None = None
    own_sales: History | None = None

    def of_terms(self, terms: Sequence[str], seasons: Floats) -> MarketData:
        """The same market with every term a subject of its own.

        ``terms`` (terms,) are their names. ``seasons`` (subjects, slots) are the season profiles of
        the present subjects, NaN where none is claimed: a term too noisy to show a season leans on
        its niche's, as a niche leans on its category's.
        """
        owner = self.term_subject
        variance = np.where(np.isnan(seasons[:, 0]), np.nan, LEAST_SPREAD**2)
        return replace(
            self, kind=TERM, subjects=list(terms), term_subject=np.arange(len(owner)),
            interest=None, voices=None, own_sales=None,
            category=None if self.category is None else self.category[owner],
            prior=Prior(seasons[owner], variance[owner]) if self.counts else None, niche=owner,
        )  # fmt: skip

    def upto(self, as_of: date) -> MarketData:
        """The same market with nothing later than the last period complete on ``as_of``."""
        timeline = self.timeline.upto(as_of)
        end = timeline.length
        seen = self.observed

        def cut(matrix: Floats | None) -> Floats | None:
            return None if matrix is None else matrix[:, :end]

        return replace(
            self, timeline=timeline, searches=self.searches[:, :end], clicks=cut(self.clicks),
            purchases=cut(self.purchases), impressions=cut(self.impressions),
            observed=None if seen is None else seen.of(seen.at < end),
            listings=None if self.listings is None else self.listings.upto(timeline.end),
            own_sales=None if self.own_sales is None else self.own_sales.upto(timeline.end),
        )  # fmt: skip


def year_total(values: Floats, timeline: Timeline, settings: Settings) -> Floats:
    """Sum of the last 52 weeks (12 months) of each row, gaps bridged; NaN where that cannot be."""
    return totals(values, timeline, settings, 52)[0]


def totals(
    values: Floats, timeline: Timeline, settings: Settings, *weeks: int
) -> tuple[Floats, ...]:
    """Sums of the last so many weeks of each row, gaps bridged; NaN where that cannot be."""
    bridged = bridge(values, settings.bridge_periods, timeline.period.per_year).values
    spans = [timeline.period.span(w) for w in weeks]
    unknown = np.full(len(values), np.nan)
    return tuple(
        bridged[:, -span:].sum(axis=1) if span <= values.shape[1] else unknown for span in spans
    )


def _terms_of(data: MarketData, rows: range) -> tuple[Ints, Ints]:
    """Terms of the subjects in ``rows`` and their subject's place among them."""
    inside = np.flatnonzero((data.term_subject >= rows.start) & (data.term_subject < rows.stop))
    return inside, data.term_subject[inside] - rows.start


def subject_curves(data: MarketData, measure: Floats, rows: range, settings: Settings) -> Floats:
    """Curves of the subjects in ``rows``, (subjects, length): the sums over their terms.

    Relative curves cannot be summed; a subject's is the mean of its terms', each over its own mean.
    """
    terms, place = _terms_of(data, rows)
    if not data.counts:
        return mean_curves(measure[terms], place, len(rows))
    if len(terms) == len(rows) and np.array_equal(place, np.arange(len(rows))):
        return measure[terms].astype(np.float64, copy=False)
    return sum_by_group(measure[terms], place, len(rows), settings.bridge_periods)
