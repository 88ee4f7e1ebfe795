"""Analyse a market: read it whole, store a column for each kind and figure, replace what was there."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np
import polars as pl
from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone

from driftfield.core.base import DEFAULTS, Settings
from driftfield.core.market import (
    CATEGORY,
    HOLDERS,
    KINDS,
    LISTING,
    NICHE,
    TERM,
    Workings,
    figures_of,
    run_categories,
    run_holders,
    run_listings,
    run_market,
)
from driftfield.core.market.families import EVIDENCE, find_families
from driftfield.core.market.vectors import Vectors, market_clicks
from driftfield.core.signals import SIGNALS
from driftfield.exchange.beside import beside_columns, launch_columns, numbers
from driftfield.exchange.columns import series_of
from driftfield.exchange.completeness import last_complete
from driftfield.exchange.market_data import holders_named, named_by
from driftfield.exchange.own_part import own_records, total_of
from driftfield.intake.models import Batch
from driftfield.market.models import Market
from driftfield.market.own_niches import niches_mark
from driftfield.readings.chosen import chosen_for
from driftfield.readings.linked import check_not_linked
from driftfield.readings.load import Part, load_market
from driftfield.readings.load_listings import listing_names
from driftfield.readings.method import method_digest
from driftfield.readings.models import Run
from driftfield.readings.store import (
    CATEGORIES,
    CLICKED,
    CLICKS,
    FAMILY,
    KEYS,
    MISSPELT_OF,
    OWN,
    OWN_PART,
    TIES,
    compact,
    write_columns,
)

from .category_columns import curve_columns, listing_columns
from .holder_columns import holder_columns
from .overrule import apply_overrules
from .plan_market import plan_run
from .read_voices import VoicesReader

Progress = Callable[[int, int], None]
# Of more niches finding families would cost as much as reading them; bin/driftfield families takes any number.
MOST_IN_FAMILIES = 20_000


@dataclass(slots=True)
class _Found:
    """What was found of one kind: for each column its values, a series for each part of the market."""

    columns: dict[str, list[pl.Series | None]] = field(default_factory=dict)
    sizes: list[int] = field(default_factory=list)

    def add(self, columns: dict[str, pl.Series]) -> None:
        """The columns of one more part of the market; a column may be lacking in some of them."""
        for name in [*self.columns, *columns]:
            had = self.columns.setdefault(name, [])
            had += [None] * (len(self.sizes) - len(had))
        for name, had in self.columns.items():
            had.append(columns.get(name))
        self.sizes.append(len(columns[KEYS]))

    def together(self) -> dict[str, pl.Series]:
        """The columns of all parts one below the other, unknown where a part has none."""
        out = {}
        for name, parts in self.columns.items():
            like = next(part for part in parts if part is not None)
            out[name] = pl.concat(
                [
                    _unknown(size, like) if part is None else part
                    for part, size in zip(parts, self.sizes, strict=True)
                ]
            )
        return out


def _unknown(size: int, like: pl.Series) -> pl.Series:
    if isinstance(like.dtype, pl.Array):
        return numbers(np.full((size, like.dtype.size), np.nan))
    return pl.repeat(None, size, dtype=like.dtype, eager=True)


def analyse_market(
    market: Market,
    settings: Settings = DEFAULTS,
    *,
    as_of: date | None = None,
    progress: Progress | None = None,
) -> Run:
    """Read a market up to ``as_of`` (default: its last complete period) and store the readings.

    What was chosen for the market goes before ``settings``.

    ``progress`` is told how many of its niches and terms are read. Raises CoreError when it has no
    searches or nothing is complete by then.
    """
    check_not_linked(market)
    chosen = chosen_for(market.market_id, settings)
    settings, planning = chosen.settings, chosen.planning
    found = {kind: _Found() for kind in KINDS}
    mark = niches_mark(market.market_id)
    notes, ends = [], []
    parts = load_market(market)
    lone = not Market.objects.exclude(pk=market.pk).exists()
    whole, before = sum(len(part.niches) + len(part.terms) for part in parts), 0

    def told(done: int, _: int) -> None:
        if progress:
            progress(before + done, whole)

    voices = VoicesReader(market)
    for part in parts:
        data = replace(part.data, voices=voices.of(part))
        end, note = last_complete(data.searches, data.timeline, as_of, market.complete_until)
        niches = run_market(
            data, settings, rules=SIGNALS, as_of=end, planning=planning, progress=told
        )
        found[NICHE].add(
            {
                **_columns(niches, part),
                **_families(niches, part, chosen.language),
                **launch_columns(niches),
                **_own_part(niches, part),
            }
        )
        before += len(part.niches)
        # A term that is too noisy to show a season leans on its niche's.
        own = part.data.of_terms(part.term_names, niches.figures["season_profile"])
        terms = run_market(
            own, settings, rules=SIGNALS, as_of=end, planning=planning, progress=told
        )
        found[TERM].add(_columns(terms, part))
        before += len(part.terms)
        categories = run_categories(niches, every_tree=lone, planning=planning)
        if categories is not None:
            found[CATEGORY].add({**_columns(categories, part), **curve_columns(categories)})
        listings = run_listings(niches, [str(pk) for pk in part.listings], planning=planning)
        if listings is not None:
            found[LISTING].add(
                {**_columns(listings, part), **listing_columns(niches, categories, part)}
            )
        for kind in HOLDERS:
            holders = run_holders(kind, niches, listings, planning=planning)
            if holders is not None:
                found[kind].add({**_columns(holders, part), **holder_columns(holders, part)})
        notes += [note] if note else []
        ends.append((end, data.timeline.period.value))
    if planning is not None and chosen.planning_at(ends[0][0]) is None:
        notes.append(
            f"The planning date {planning} lies too far from these figures; dates are planned from their end."
        )
    voices.finish()
    with transaction.atomic():
        run, _ = Run.objects.update_or_create(
            market=market,
            defaults={
                # The counts come first; a market of relative curves alone has theirs.
                "as_of": ends[0][0],
                "period": ends[0][1],
                "planning_date": chosen.planning_at(ends[0][0]),
                "planned_at": timezone.now(),
                "settings": settings.as_dict(),
                "counts": {kind.key: sum(found[kind].sizes) for kind in KINDS},
                "note": " ".join(notes),
                "method": method_digest(),
                "niches_mark": mark,
            },
        )
        for kind, one in found.items():
            write_columns(run, kind, one.together() if one.sizes else {})
        apply_overrules(run)
        # Another day or lead time may have been chosen meanwhile.
        plan_run(run)
    return run


def _columns(work: Workings, part: Part) -> dict[str, pl.Series]:
    """All that is stored of the subjects of one run."""
    kind = work.data.kind
    columns = _identity(work, part)
    for figure in figures_of(kind):
        columns[figure.key] = compact(figure, series_of(figure, work.figures[figure.key]))
    columns |= beside_columns(work)
    if work.misspelt is not None:
        right = [
            None if place < 0 else work.data.subjects[place] for place in work.misspelt.tolist()
        ]
        columns[MISSPELT_OF] = pl.Series(right, dtype=pl.String)
    if kind == TERM and (clicks := market_clicks(work.data)).nnz:
        columns |= _clicks(clicks, part)
    return columns


def _families(work: Workings, part: Part, language: str) -> dict[str, pl.Series]:
    """The family of each niche and what ties it to it; nothing of relative curves, or of too many niches."""
    if not work.counts or len(part.niches) > MOST_IN_FAMILIES:
        return {}
    known = part.data.category is not None and work.data.listings is not None
    families = find_families(
        part.niche_names, work.figures["searches_52w"], work.supply.clicked if known else None,
        work.data.listings, part.data.category, work.timeline.end.toordinal(), language=language,
    )  # fmt: skip
    ties = [
        [kind for kind in EVIDENCE if families.ties[kind][at]] for at in range(len(part.niches))
    ]
    return {
        FAMILY: pl.Series(families.family, dtype=pl.Int32),
        TIES: pl.Series(ties, dtype=pl.List(pl.Enum(EVIDENCE))),
    }


def _own_part(work: Workings, part: Part) -> dict[str, pl.Series]:
    """All that is told of own part in each niche in which one sells; nothing where one sells in none."""
    if work.own is None:
        return {}

    def terms(places: Sequence[int]) -> list[str]:
        return [part.term_names[at] for at in places]

    def listed(places: Sequence[int]) -> list[tuple[str, str]]:
        named = listing_names([part.listings[at] for at in places])
        return [
            (str(own), str(name))
            for own, name in zip(named["listing_id"], named["name"], strict=True)
        ]

    told: list[str | None] = [None] * work.count
    total = total_of(work.own, work.settings)
    for subject, record in zip(
        work.own.subject.tolist(), own_records(work, terms, listed), strict=True
    ):
        told[subject] = json.dumps({**record, "total": total}, ensure_ascii=False)
    return {OWN_PART: pl.Series(told, dtype=pl.String)}


def _clicks(vectors: Vectors, part: Part) -> dict[str, pl.Series]:
    """Keys of the listings clicked after each term, and the weights that make its row of ``vectors``."""
    rows = pl.DataFrame(
        {
            "term": np.repeat(np.arange(vectors.shape[0]), np.diff(vectors.indptr)),
            CLICKED: np.array(part.listings, dtype=np.int64)[vectors.indices],
            CLICKS: vectors.data.astype(np.float32),
        }
    )
    each = rows.group_by("term", maintain_order=True).agg(CLICKED, CLICKS)
    whole = pl.DataFrame({"term": np.arange(vectors.shape[0])}).join(
        each, on="term", how="left", maintain_order="left"
    )
    return {name: whole[name] for name in (CLICKED, CLICKS)}


def _identity(work: Workings, part: Part) -> dict[str, pl.Series]:
    niches, kind = part.data.subjects, work.data.kind
    keys: list[int]
    categories: list[int] | list[int | None]
    own: dict[str, Sequence[str | None]]
    if work.category is not None:
        tree = work.category.tree
        key_of = dict(zip(part.data.tree.ids if part.data.tree else [], part.tree, strict=True))
        keys = categories = [key_of[one] for one in tree.ids]
        own = {"category_id": tree.ids, "name": tree.names, "parent_id": tree.parent_ids()}
    elif kind == NICHE:
        keys, categories = part.niches, part.categories
        own = {"niche_id": niches, "name": part.niche_names}
    elif work.holder is not None:
        # They have no row of their own in the database: what a run calls them by is their place.
        keys = list(range(work.count))
        categories = named_by(work.data.category, part.tree)
        own = holders_named(work, part.data.tree.ids if part.data.tree else [])
    elif kind == LISTING:
        keys = part.listings
        categories = named_by(work.data.category, part.tree)
        own = {
            **listing_names(keys),
            "category_id": named_by(
                work.data.category, part.data.tree.ids if part.data.tree else []
            ),
            "niche_id": named_by(work.data.niche, niches),
        }
    else:
        owner = part.data.term_subject.tolist()
        keys, categories = part.terms, [part.categories[place] for place in owner]
        own = {"term": part.term_names, "niche_id": [niches[place] for place in owner]}
    return {
        KEYS: pl.Series(keys, dtype=pl.Int64),
        CATEGORIES: pl.Series(categories, dtype=pl.Int64),
        **{f"{OWN}{name}": pl.Series(values, dtype=pl.String) for name, values in own.items()},
    }


def _curved() -> QuerySet[Market]:
    known = ("searches", "index")
    found = Market.objects.filter(terms__curves__measure__in=known).exclude(run__columns_in__gt="")
    return found.distinct().order_by("pk")


def stale() -> QuerySet[Market]:
    """Markets that have curves and were not analysed since something was last loaded or undone, since their
    niches were changed, or by another method than the present one."""
    latest = Batch.objects.aggregate(made=Max("made_at"), undone=Max("undone_at"))
    moments = [moment for moment in latest.values() if moment is not None]
    fresh = _curved().filter(run__method=method_digest())
    if moments:
        fresh = fresh.filter(run__made_at__gt=max(moments))
    same = [
        pk
        for pk, market_id, mark in fresh.order_by().values_list(
            "pk", "market_id", "run__niches_mark"
        )
        if mark == niches_mark(market_id)
    ]
    return _curved().exclude(pk__in=same)


def analyse_all(
    settings: Settings = DEFAULTS, *, only_stale: bool = False, progress: Progress | None = None
) -> Iterator[Run]:
    """Analyse every market that has curves; ``only_stale``: those that ``stale`` names."""
    for market in list(stale() if only_stale else _curved()):
        yield analyse_market(market, settings, progress=progress)
