"""A grouping of a market's terms as niches with ids and names, beside those that stand."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import DEFAULTS, Bools, Floats, Ints
from driftfield.core.market.data import MarketData, year_total

from .group_terms import Grouping, group_terms
from .names import leading_terms, new_ids, niche_name


@dataclass(frozen=True, slots=True)
class ProposedNiches:
    """What the terms of a market could be niches of.

    niche: (terms,) place of each one's niche. ids, names: (niches,). new: (niches,) those that do not stand
    already. searches: (niches,) a year, of the terms of which they are known; NaN where of none. found: how
    the terms were grouped.
    """

    niche: Ints
    ids: list[str]
    names: list[str]
    new: Bools
    searches: Floats
    found: Grouping

    @property
    def terms(self) -> Ints:
        """How many terms each has, (niches,)."""
        return np.bincount(self.niche, minlength=len(self.ids))

    @property
    def by_words(self) -> Ints:
        """How many of them were placed by their words, (niches,)."""
        return np.bincount(self.niche[self.found.by_words], minlength=len(self.ids))


def propose_niches(
    data: MarketData,
    terms: Sequence[str],
    owner: Mapping[str, str],
    taken: Collection[str],
    *,
    before: Mapping[str, str] | None = None,
    first: Collection[str] = (),
    prefix: str = "",
    language: str = "english",
    seed: int = 1,
) -> ProposedNiches:
    """Group the terms of a market, and say which niche each group is.

    ``owner``: ids of the niches in which terms stay. ``before``: those that the free terms were in; a group
    keeps the id of the one it overlaps most, see ``kept_ids``. ``first``: ids that are kept before others.
    ``taken``: ids that no new niche may have. ``prefix``: of new ids.
    """
    ids = list(dict.fromkeys(owner[term] for term in terms if term in owner))
    number = {niche: i for i, niche in enumerate(ids)}
    known = np.array([number.get(owner.get(term, ""), -1) for term in terms], dtype=np.int64)
    found = group_terms(data, terms, known if ids else None, language=language, seed=seed)
    searches = year_total(data.searches, data.timeline, DEFAULTS)
    leading = leading_terms(found.group, searches, data.branded)
    # Groups of a term that had a niche are that niche.
    standing: list[str | None] = [None] * len(leading)
    for group, at in zip(found.group[known >= 0].tolist(), known[known >= 0].tolist(), strict=True):
        standing[group] = ids[at]
    if before:
        free = {term: niche for term, niche in before.items() if niche not in number}
        kept = kept_ids(found.group, [free.get(term) for term in terms], searches, first)
        standing = [have or kept.get(group) for group, have in enumerate(standing)]
    names = [niche_name(terms[place]) for place in leading.tolist()]
    fresh = [name for name, have in zip(names, standing, strict=True) if have is None]
    made = iter(new_ids(fresh, {*taken, *ids, *filter(None, standing)}, prefix))
    return ProposedNiches(
        found.group,
        [next(made) if have is None else have for have in standing],
        names,
        np.array([have is None for have in standing], dtype=bool),
        _summed(found.group, searches, len(leading)),
        found,
    )


def kept_ids(
    group: Ints, before: Sequence[str | None], searches: Floats, first: Collection[str] = ()
) -> dict[int, str]:
    """Which groups go on as which of the niches that were there before, by the group's number.

    Pairs are taken in the order of the terms they share, then those that are in ``first``, then by the
    searches of what they share; each group and each niche once. ``before`` is (terms,), None for a term
    that was in none; ``searches`` (terms,), NaN for unknown.

    >>> kept_ids(np.array([0, 0, 1, 1]), ["a", "a", "a", None], np.array([1.0, 1, 9, 9]))
    {0: 'a'}
    """
    many: dict[tuple[int, str], int] = {}
    searched: dict[tuple[int, str], float] = {}
    for at, (one, niche) in enumerate(zip(group.tolist(), before, strict=True)):
        if niche is not None:
            pair = (one, niche)
            many[pair] = many.get(pair, 0) + 1
            searched[pair] = searched.get(pair, 0.0) + float(np.nan_to_num(searches[at]))
    wanted = set(first)
    order = sorted(
        many, key=lambda pair: (-many[pair], pair[1] not in wanted, -searched[pair], pair)
    )
    found: dict[int, str] = {}
    used: set[str] = set()
    for one, niche in order:
        if one not in found and niche not in used:
            found[one] = niche
            used.add(niche)
    return found


def _summed(group: Ints, searches: Floats, groups: int) -> Floats:
    known = ~np.isnan(searches)
    total = np.bincount(group[known], weights=searches[known], minlength=groups)
    some = np.bincount(group[known], minlength=groups) > 0
    return np.where(some, total, np.nan)
