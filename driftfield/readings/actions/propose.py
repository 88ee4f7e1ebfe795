"""Propose niches for the terms of a market; nothing changes before a proposal is taken over."""

from __future__ import annotations

import io
from collections.abc import Collection

import numpy as np
import polars as pl
from django.db.models import Q

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE, TERM
from driftfield.core.market.grouping import ProposedNiches, propose_niches
from driftfield.core.market.vectors import market_clicks
from driftfield.exchange.groups import fineness_notes
from driftfield.market.models import Market, Niche
from driftfield.market.own_niches import emptied, niches_mark
from driftfield.readings.chosen import chosen_for
from driftfield.readings.grouping import (
    Standing,
    categories_of_groups,
    standing_niches,
    taken_ids,
)
from driftfield.readings.linked import check_not_linked
from driftfield.readings.load import Part, load_market
from driftfield.readings.models import Proposal

DECIMALS = 4
NICHES = {
    "niche_id": pl.String, "name": pl.String, "category_id": pl.String, "new": pl.Boolean,
    "terms": pl.Int64, "joining": pl.Int64, "searches_52w": pl.Float64, "quality": pl.Float64,
    "terms_by_words": pl.Int64,
}  # fmt: skip
TERMS = {"term": pl.String, "niche_id": pl.String, "from": pl.String}


def propose(market: Market, *, anew: bool = False, first: Collection[str] = ()) -> Proposal:
    """Group a market's terms and keep the outcome as its proposal, in place of an earlier one.

    Terms that have a niche stay, and terms without one join them or make new ones; ``anew``: all are grouped,
    but for those that the researcher placed. A group goes on as the niche it overlaps most; ``first``
    are ids that are kept before others, for something was decided of them.

    Table niches: what is new or gains terms, most searched first. joining: its terms that are elsewhere now.
    Table terms: those that move, with the niche they are in now. Raises CoreError without counts of searches.
    """
    check_not_linked(market)
    mark = niches_mark(market.market_id)
    part = next((one for one in load_market(market) if one.data.counts), None)
    if part is None:
        raise CoreError(f"{market.name} has no counts of searches to group terms by.")
    now = standing_niches(market)
    fixed = {
        term: niche
        for term, niche in now.niche.items()
        if term not in now.alone and (not anew or term in now.by_hand)
    }
    decided = set(first)
    before = {
        term: niche
        for term, niche in now.niche.items()
        if term not in fixed and (term not in now.alone or niche in decided)
    }
    found = propose_niches(
        part.data, part.term_names, fixed, taken_ids(), before=before, first=decided,
        language=chosen_for(market.market_id).language,
    )  # fmt: skip
    niches, terms = _tables(market.pk, part, found, now)
    many = len(now.alone - set(terms["term"]))
    notes = fineness_notes(found.found)
    if many:
        alone = "1 term belongs" if many == 1 else f"{many:,} terms belong"
        notes.append(f"{alone} with no other clearly enough. What stands alone stays so.")
    proposal, _ = Proposal.objects.update_or_create(
        market_id=market.market_id,
        defaults={
            "anew": anew, "notes": notes, "niches_mark": mark,
            "niches": _packed(niches), "terms": _packed(terms),
        },
    )  # fmt: skip
    return proposal


def _tables(
    market: int, part: Part, found: ProposedNiches, now: Standing
) -> tuple[pl.DataFrame, pl.DataFrame]:
    standing = [now.niche[term] for term in part.term_names]
    # A term that was taken out by hand stays out.
    out = np.array([term in now.alone and term in now.by_hand for term in part.term_names])
    group = np.where(out, -1, found.niche)
    size = np.bincount(group[~out], minlength=len(found.ids))
    # A term that belongs with no other stays where it is.
    moves = np.array(
        [
            place >= 0 and found.ids[place] != here and not (found.new[place] and size[place] < 2)
            for place, here in zip(group.tolist(), standing, strict=True)
        ],
        dtype=bool,
    )  # fmt: skip
    joining = np.bincount(group[moves], minlength=len(found.ids))
    categories = categories_of_groups(
        market_clicks(part.data), part.listings, group, len(found.ids)
    )
    several = Niche.objects.filter(market_id=market).filter(Q(of_term=False) | Q(own=True))
    names = dict(several.exclude(emptied()).values_list("niche_id", "name"))
    niches = pl.DataFrame(
        {
            "niche_id": found.ids,
            "name": [names.get(key, name) for key, name in zip(found.ids, found.names, strict=True)],
            "category_id": categories, "new": [key not in names for key in found.ids],
            "terms": size, "joining": joining, "searches_52w": found.searches,
            "quality": found.found.quality.round(DECIMALS), "terms_by_words": found.by_words,
        },
        schema=NICHES,
    ).filter(pl.col("joining") > 0)  # fmt: skip
    terms = pl.DataFrame(
        {"term": part.term_names, "niche_id": [found.ids[at] for at in group.tolist()], "from": standing},
        schema=TERMS,
    ).filter(pl.Series(moves))  # fmt: skip
    return (
        niches.with_columns(pl.col("quality", "searches_52w").fill_nan(None)).sort(
            "searches_52w", descending=True, nulls_last=True, maintain_order=True
        ),
        terms,
    )


def _packed(frame: pl.DataFrame) -> bytes:
    out = io.BytesIO()
    frame.write_ipc(out, compression="zstd")
    return out.getvalue()


def proposal_sentence(proposal: Proposal) -> str:
    """What a proposal holds: “3 new niches and 1 that gains terms, with 29 terms”."""
    niches, terms = proposed_tables(proposal)
    if not niches.height:
        return "No term would move: there is nothing to take over"
    new = int(niches["new"].sum())
    grow = niches.height - new
    parts = [f"{new:,} new {NICHE.name if new == 1 else NICHE.plural}"] if new else []
    if grow:
        parts.append(f"{grow:,} that gains terms" if grow == 1 else f"{grow:,} that gain terms")
    return f"{' and '.join(parts)}, with {TERM.many(terms.height)}"


def proposed_tables(proposal: Proposal) -> tuple[pl.DataFrame, pl.DataFrame]:
    """The tables niches and terms of a proposal, see ``propose``."""
    return (
        pl.read_ipc(io.BytesIO(proposal.niches)),
        pl.read_ipc(io.BytesIO(proposal.terms)),
    )
