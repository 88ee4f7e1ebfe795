"""Make, rename and merge niches, and say which terms are in them; imports and proposals keep to it."""

from __future__ import annotations

from collections.abc import Collection, Sequence

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE, TERM
from driftfield.core.market.grouping import new_ids
from driftfield.desk.models import CostSheet, Decision, Remark
from driftfield.desk.niche_changes import ALONE, Changed, change_niches
from driftfield.desk.subjects import no_such
from driftfield.desk.write_queue import writing
from driftfield.market.models import Market, Niche, NicheChange, OwnNiche, Term
from driftfield.market.own_niches import emptied, niches_mark
from driftfield.readings.actions import proposed_tables
from driftfield.readings.columns import columns_of
from driftfield.readings.grouping import categories_of_groups, niches_of, taken_ids
from driftfield.readings.models import Proposal, Run

LONGEST = 200  # Characters of a niche's name.


def decided_niches(market_id: str) -> set[str]:
    """Ids of the niches of which something was decided, noted or calculated."""
    mine = {"market_id": market_id}
    of_kind = {**mine, "kind": NICHE.key}
    return {
        *Decision.objects.filter(**of_kind, current=True).values_list("subject", flat=True),
        *Remark.objects.filter(**of_kind).values_list("subject", flat=True),
        *CostSheet.objects.filter(**mine).values_list("niche_id", flat=True),
    }


@writing()
def make_niche(market: Market, name: str, terms: Sequence[str]) -> NicheChange:
    """Make a niche of terms, which leave the ones they are in.

    A term that stood for itself and was decided on gives it its id, so that what was decided stays. Raises
    CoreError for no name or term, for a term that there is not, and for a name that another niche has.
    """
    name, wanted = _named(market, name), _known(market, terms)
    decided = set(niches_of(market, wanted).values()) & decided_niches(market.market_id)
    alone = Niche.objects.filter(market=market, niche_id__in=decided, of_term=True, own=False)
    kept = alone.order_by("pk").values_list("niche_id", flat=True).first()
    key = kept or new_ids([name], taken_ids())[0]
    return change_niches(
        market,
        f"Made “{name}” of {TERM.many(len(wanted))}",
        Changed(
            dict.fromkeys(wanted, (key, True)), {key: (name, _category(market, wanted))}
        ),
    )  # fmt: skip


@writing()
def rename_niche(market: Market, niche: str, name: str) -> NicheChange:
    """Call a niche otherwise. Raises CoreError for no such niche, no name, or one that another niche has."""
    found = _niche(market, niche)
    name = _named(market, name, besides=niche)
    own = OwnNiche.objects.filter(market_id=market.market_id, niche_id=niche).first()
    category = own.category_id if own else _category_id(found)
    back = found.given_name == name and not found.of_term
    return change_niches(
        market,
        f"Renamed “{found.name}” to “{name}”",
        Changed({}, {niche: None if back else (name, category)}),
    )


@writing()
def move_terms(market: Market, terms: Sequence[str], niche: str) -> NicheChange:
    """Put terms into a niche that there is. Raises CoreError for a term or niche that there is not."""
    found, wanted = _niche(market, niche), _known(market, terms)
    if set(niches_of(market, wanted).values()) == {niche}:
        raise CoreError(f"They are in “{found.name}” already. Nothing was changed.")
    told = f"Put {_told(wanted)} into “{found.name}”"
    return change_niches(market, told, _joining(market, found, wanted))


@writing()
def take_out(market: Market, terms: Sequence[str]) -> NicheChange:
    """Take terms out of their niches, to stand alone; no proposal puts them back. Raises CoreError for a
    term that there is not."""
    wanted = _known(market, terms)
    return change_niches(
        market,
        f"Took {_told(wanted)} out",
        Changed(dict.fromkeys(wanted, (ALONE, True))),
    )


@writing()
def merge_niches(market: Market, niches: Collection[str], into: str) -> NicheChange:
    """Put all terms of some niches into another one, whose name and decisions hold.

    What was decided on the others is kept, and comes back with an undo. Raises CoreError for a niche that
    there is not, or for one alone.
    """
    found = _niche(market, into)
    others = [_niche(market, one) for one in dict.fromkeys(niches) if one != into]
    if not others:
        raise CoreError("Choose another niche to merge with.")
    terms = list(Term.objects.filter(niche__in=others).values_list("term", flat=True))
    names = ", ".join(f"“{one.name}”" for one in others[:3])
    more = f" and {len(others) - 3} more" if len(others) > 3 else ""
    told = f"Merged {names}{more} into “{found.name}”"
    return change_niches(market, told, _joining(market, found, terms))


@writing()
def take_over(
    market: Market,
    niches: Sequence[str] | None = None,
    names: dict[str, str] | None = None,
    besides: Collection[str] = (),
) -> NicheChange:
    """Let some niches of the market's proposal hold, by default all, but for those ``besides``.

    ``names``: what some are called instead.

    A later proposal may move their terms again; what was changed by hand it does not. Raises CoreError
    where there is no proposal, where the niches were changed since, and for a niche that is not in it.
    """
    proposal = Proposal.objects.filter(market_id=market.market_id).first()
    if proposal is None:
        raise CoreError(f"No niches were proposed for {market.name}. Propose some first.")
    if proposal.niches_mark != niches_mark(market.market_id):
        raise CoreError("The niches were changed since they were proposed. Propose them anew.")
    rows, terms = proposed_tables(proposal)
    wanted = set(rows["niche_id"]) if niches is None else set(niches)
    for key in {*wanted, *besides} - set(rows["niche_id"]):
        raise CoreError(f"“{key}” is not proposed for {market.name}.")
    wanted -= set(besides)
    if not wanted:
        raise CoreError("Choose at least one niche.")
    changed, called = Changed(), names or {}
    for row in rows.iter_rows(named=True):
        key = row["niche_id"]
        if key in wanted and (row["new"] or key in called):
            name = _clean(called.get(key, row["name"]))
            changed.niches[key] = (name, row["category_id"] or "")
    for term, key in terms.select("term", "niche_id").iter_rows():
        if key in wanted:
            changed.places[term] = (key, False)
    many = NICHE.many(len(wanted))
    done = change_niches(
        market, f"Took over {many} of a proposal with {TERM.many(len(changed.places))}", changed
    )
    proposal.delete()
    return done


def _joining(market: Market, niche: Niche, terms: Sequence[str]) -> Changed:
    """Terms put into a niche. A single term that gains others is a niche from now on, and stays in it."""
    changed = Changed(dict.fromkeys(terms, (niche.niche_id, True)))
    if niche.of_term and not niche.own:
        changed.niches[niche.niche_id] = (niche.name, _category(market, terms))
        for term in Term.objects.filter(niche=niche).values_list("term", flat=True):
            changed.places[term] = (niche.niche_id, True)
    return changed


def _clean(name: str) -> str:
    name = " ".join(name.split())
    if not name:
        raise CoreError("A niche has a name. Write one.")
    if len(name) > LONGEST:
        raise CoreError(f"A niche's name has up to {LONGEST} letters; this one has {len(name)}.")
    return name


def _named(market: Market, name: str, besides: str = "") -> str:
    """A name that no other niche of the market has."""
    name = _clean(name)
    others = Niche.objects.filter(market=market, name__iexact=name).exclude(emptied())
    # A term that stands alone is called like itself, and may give its name to a niche.
    others = others.exclude(niche_id=besides).exclude(of_term=True, own=False)
    if others.exists():
        raise CoreError(
            f"There is a niche “{name}” already. Choose another name, or merge with it."
        )
    return name


def _niche(market: Market, niche: str) -> Niche:
    found = Niche.objects.filter(market=market, niche_id=niche).exclude(emptied()).first()
    if found is None:
        raise no_such(NICHE, niche, market.market_id)
    return found


def _known(market: Market, terms: Sequence[str]) -> list[str]:
    wanted = list(dict.fromkeys(terms))
    if not wanted:
        raise CoreError("Choose at least one term.")
    there = niches_of(market, wanted)
    for term in wanted:
        if term not in there:
            raise no_such(TERM, term, market.market_id)
    return wanted


def _told(terms: Sequence[str]) -> str:
    return f"“{terms[0]}”" if len(terms) == 1 else TERM.many(len(terms))


def _category_id(niche: Niche) -> str:
    return niche.category.category_id if niche.category else ""


def _category(market: Market, terms: Sequence[str]) -> str:
    """The category in which most clicks after terms lie; where none are known, that of most of their niches."""
    run = Run.objects.filter(market=market).first()
    if run is not None:
        columns = columns_of(run, TERM)
        wanted = set(terms)
        group = np.array([0 if term in wanted else -1 for term in columns.ids], dtype=np.int64)
        (found,) = categories_of_groups(columns.click_vectors, columns.clicked, group, 1)
        if found:
            return found
    named = list(
        Term.objects.filter(market=market, term__in=list(terms), niche__category__isnull=False)
        .values_list("niche__category__category_id", flat=True)
    )  # fmt: skip
    best = max(set(named), key=named.count, default="")
    return best if 2 * named.count(best) > len(terms) else ""
