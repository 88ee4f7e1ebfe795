"""Words for a listing of one niche, from its terms and its leading listings."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.market import TERM
from driftfield.core.market.listing_words import (
    ListingWord,
    Picked,
    fit_words,
    listing_words,
    reach_of,
)
from driftfield.market.models import Listing, Term

from .chosen import chosen_for
from .columns import columns_of
from .holders import clicked_listings
from .plain import plain
from .reading import Reading

LEADERS = 10  # Listings whose titles are looked at.
LENGTH = 150  # Letters of a usual title (common practice, no source).


@dataclass(frozen=True, slots=True)
class WordsForListing:
    """What to write into a listing of a niche.

    terms: those that can be reached, most reach first, with their reach in searches a year. words: theirs.
    leaders: how many leading titles were looked at. picked: what fits into ``length`` letters. left_out:
    terms with brand or protected words. known: whether clicks are, without which all searches count as reach.
    """

    terms: list[tuple[str, float]]
    words: list[ListingWord]
    leaders: int
    picked: Picked
    length: int
    left_out: int
    known: bool

    def as_record(self) -> dict[str, Any]:
        """As JSON takes it, None for unknown."""
        return {
            "text": self.picked.text,
            "letters": len(self.picked.text),
            "length": self.length,
            "covered": plain(self.picked.covered, 4),
            "terms": [{"term": term, "reach": round(reach)} for term, reach in self.terms],
            "words": [{**asdict(one), "reach": round(one.reach)} for one in self.words],
            "leaders": self.leaders,
            "left_out": self.left_out,
            "known": self.known,
        }


def words_for_listing(reading: Reading, length: int = LENGTH, first: str = "") -> WordsForListing:
    """What to write into a listing; ``first``: words that come first in what is picked, as a brand's name."""
    columns = columns_of(reading.run, TERM)
    own = Term.objects.filter(niche=reading.niche).order_by("pk").values_list("term", flat=True)
    terms = [term for term in own if term in columns.places]
    places = np.array([columns.places[term] for term in terms], dtype=np.int64)

    def figure(key: str) -> Floats:
        return np.asarray(columns.figure(key)[places], dtype=np.float64)

    marked = (figure("branded") == 1) | (figure("protected") == 1)
    at = {term: i for i, term in enumerate(terms)}
    right = [at.get(columns.right_form(term) or "") for term in terms]
    top3, usual = (
        figure("competition_parts.top3_share"),
        reading.figures["competition_parts.top3_share"],
    )
    reach = reach_of(
        figure("searches_52w"), top3, np.nan if usual is None else usual, marked, right
    )
    language = chosen_for(reading.market.market_id).language
    titles = _leading(reading)
    order = sorted(np.flatnonzero(reach > 0).tolist(), key=lambda i: (-reach[i], terms[i]))
    return WordsForListing(
        terms=[(terms[i], float(reach[i])) for i in order],
        words=listing_words(terms, reach, titles, language),
        leaders=len(titles),
        picked=fit_words(terms, reach, length, language, first=first.split()),
        length=length,
        left_out=int(marked.sum()),
        known=usual is not None or not bool(np.isnan(top3).all()),
    )


def _leading(reading: Reading) -> list[str]:
    """Titles of the most clicked listings, with their tags."""
    ids = [row["listing_id"] for row in clicked_listings(reading, LEADERS)]
    known = {one.listing_id: one for one in Listing.objects.filter(listing_id__in=ids)}
    return [f"{known[one].title} {known[one].tags or ''}" for one in ids if one in known]
