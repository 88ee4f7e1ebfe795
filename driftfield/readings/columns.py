"""A run's subjects column by column, held in memory between requests."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable
from functools import cached_property
from itertools import compress
from typing import Any, TypeVar, cast

import numpy as np
import polars as pl

from driftfield.core.base import Bools, Floats, Ints, Period
from driftfield.core.market import FIGURES_BY_KEY, NICHE, SELLING, Figure, FigureType, Kind
from driftfield.core.market.seeds import TermIndex
from driftfield.core.market.vectors import Vectors
from driftfield.core.ranking import Bands, Lens, Ranking, rank_bands, rank_niches
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.exchange.beside import PARTS, TOP
from driftfield.exchange.columns import numbers_in
from driftfield.exchange.texts import Texts
from driftfield.market.models import Term

from .chosen import chosen_for
from .matrices import SCALARS, normalised_of, plain_cell
from .models import Run
from .store import (
    CLICKED,
    CLICKS,
    FAMILY,
    MISSPELT_OF,
    TIES,
    names_with,
    plain_profiles,
    read_column,
    read_rows,
)
from .subjects import MILLIONS, Subjects, in_order
from .under_lens import figures_under

HELD = 8  # Kinds of runs whose columns a process keeps.
EACH = 64  # Every so many are looked at for a sample of what comes first,
SPARE = 16  # and so many more than are needed are let through.
MADE = 32  # Orders and rankings of a run that it keeps.
T = TypeVar("T")


class RunColumns(Subjects):
    """What sieve, order and rows ask of one kind in a run; everything is read once, when first asked for.

    Numbers, words, dates and flags are held as one array of float64 each, NaN for unknown.
    """

    def __init__(self, run: Run, kind: Kind) -> None:
        super().__init__(run, kind)
        self._found: dict[str, np.ndarray] = {}
        self._made: OrderedDict[Hashable, object] = OrderedDict()
        self._lock = threading.Lock()

    @cached_property
    def period(self) -> Period:
        """The step of the curves; what sells has a history of its own."""
        selling = self.kind in SELLING
        found = read_column(self.run, self.kind, "period") if selling else None
        return Period(self.run.period if found is None or not len(found) else found[0])

    def figure(self, key: str) -> np.ndarray:
        if key not in self._found:
            self._found[key] = self._files.array(key, lambda: self._numbers(FIGURES_BY_KEY[key]))
        return self._found[key]

    def _numbers(self, figure: Figure) -> Floats:
        column = read_column(self.run, self.kind, figure.key)
        if column is None:
            return np.full(self.count, np.nan)
        return numbers_in(figure, column, self.period.per_year)

    def column(self, name: str) -> pl.Series | None:
        """A column that is no figure, whole; None where the run has none of that name."""
        return self.kept(("column", name), lambda: (read_column(self.run, self.kind, name),))[0]

    def names_with(self, prefix: str) -> list[str]:
        """Names of the run's columns that begin with a prefix."""
        return self.kept(("names", prefix), lambda: names_with(self.run, self.kind, prefix))

    def _table(self, name: str) -> np.ndarray | None:
        """Several numbers a subject, float32; None where the run has no such column."""
        if name not in self._found:
            found = self._files.array(name, lambda: self._several(name))
            if not len(found) and self.count:
                return None
            self._found[name] = found
        return self._found[name]

    def _several(self, name: str) -> np.ndarray:
        """A column of arrays; no row where the run has none, or knows nothing of anybody in it."""
        column = read_column(self.run, self.kind, name)
        if column is None or column.dtype == pl.Null:
            return np.empty((0, 0), np.float32)
        return column.to_numpy()

    @cached_property
    def _raised(self) -> Bools:
        """Of which subjects each signal is raised, (signals, subjects)."""
        return self._files.array("signals", self._signals)

    def _signals(self) -> Bools:
        column = self._whole("signals", pl.Null)
        marks = np.zeros((len(SIGNALS_BY_KEY), self.count), dtype=bool)
        if column.dtype != pl.Null:
            found = pl.DataFrame({"row": np.arange(self.count), "raised": column})
            each = found.explode("raised").drop_nulls("raised").unnest("raised")
            place = {key: at for at, key in enumerate(SIGNALS_BY_KEY)}
            # One that an earlier version raised may be none any more.
            known = pl.col("signal").cast(pl.String).replace_strict(place, default=None)
            each = each.with_columns(known).drop_nulls("signal")
            marks[each["signal"].to_numpy(), each["row"].to_numpy()] = True
        return marks

    def raised(self, signal: str) -> Bools:
        marks: Bools = self._raised[list(SIGNALS_BY_KEY).index(signal)]
        return marks

    def top(self, figure: str) -> np.ndarray | None:
        return self._table(TOP + figure)

    def cells(self, figure: Figure, places: Ints, lens: Lens | None = None) -> list[Any]:
        """A figure of the subjects at some places, as JSON takes it; dates stay dates."""
        if figure.type is FigureType.PROFILE:
            found = self._table(figure.key)
            return [None] * len(places) if found is None else plain_profiles(found[places])
        if figure.type not in SCALARS:
            rows = read_rows(self.run, self.kind, [figure], places)
            return [row[figure.key] for row in rows]
        column = self.figure(figure.key) if lens is None else self.under(lens, figure.key)
        values = column[places].tolist()
        return [None if v != v else plain_cell(figure, v) for v in values]

    @cached_property
    def _texts(self) -> Texts:
        return Texts.of(self._files.table("#texts", lambda: self._words().made), self.count)

    def _words(self) -> Texts:
        if self.kind != NICHE or self.run.linked:
            return Texts(self.names, [], [])
        found = Term.objects.filter(market=self.run.market, niche__isnull=False)
        rows = list(found.values_list("term", "niche_id"))
        owners = self.places_of(np.array([niche for _, niche in rows], dtype=np.int64))
        known = owners >= 0
        return Texts(self.names, list(compress((term for term, _ in rows), known)), owners[known])

    def terms(self, how: str, words: str) -> Bools:
        return self._texts.having(how, words)

    @cached_property
    def seeds(self) -> TermIndex:
        """The terms by their words, for searches from a seed; of the kind term alone."""
        return TermIndex(self.ids, chosen_for(self.run.market.market_id).language)

    @cached_property
    def right_forms(self) -> dict[str, str]:
        """Terms that are likely mistyped, with the term that each is a mistyping of."""
        forms = self._whole(MISSPELT_OF, pl.String)
        places = forms.is_not_null().arg_true()
        return {self.ids[place]: forms[place] for place in places}

    def right_form(self, term: str) -> str | None:
        """The term that one is likely a mistyping of; None for one that is not."""
        return self.right_forms.get(term)

    @property
    def click_vectors(self) -> Vectors:
        """Terms by the listings their buyers click, (terms, listings), rows of length 1; of terms alone."""
        return self._clicked[0]

    @property
    def clicked(self) -> list[int]:
        """Keys of these listings, in the order of ``click_vectors``."""
        return self._clicked[1]

    @cached_property
    def _clicked(self) -> tuple[Vectors, list[int]]:
        listings = self._whole(CLICKED, pl.List(pl.Int64))
        weights = self._whole(CLICKS, pl.List(pl.Float32))
        sizes = listings.list.len().fill_null(0).to_numpy()
        keys, at = np.unique(
            listings.explode().drop_nulls().cast(pl.Int64).to_numpy(), return_inverse=True
        )
        vectors = Vectors(
            (weights.explode().drop_nulls().cast(pl.Float64).to_numpy(), at,
             np.concatenate([[0], np.cumsum(sizes)])),
            shape=(self.count, max(len(keys), 1)),
        )  # fmt: skip
        return vectors, keys.tolist()

    @cached_property
    def families(self) -> Ints | None:
        """The family of each niche, −1 for none, (subjects,); None where they were not looked for."""
        found = read_column(self.run, self.kind, FAMILY)
        return None if found is None else found.fill_null(-1).to_numpy().astype(np.int64)

    @cached_property
    def ties(self) -> list[list[str]]:
        """What ties each niche to its family."""
        return [one or [] for one in self._whole(TIES, pl.List(pl.String)).to_list()]

    @cached_property
    def searches_before(self) -> Floats:
        """Searches of the 52 weeks before the last 52, (subjects,), NaN for unknown."""
        growth = self.figure("growth_52w.raw")
        known = growth > -1
        return np.where(known, self.figure("searches_52w") / np.where(known, 1 + growth, 1), np.nan)

    def term_words(self, low: int, high: int) -> Bools:
        return self._texts.with_words(low, high)

    @cached_property
    def _ties(self) -> Ints:
        """Place of each subject where everything else is equal: by the kind's size, then by id."""
        return self._files.array("#ties", self._tied)

    def _tied(self) -> Ints:
        size = np.nan_to_num(self.figure(self.kind.size), nan=-1)
        order = np.lexsort((self._id_ranks, -size))
        places = np.empty(self.count, dtype=np.int64)
        places[order] = np.arange(self.count)
        return places

    @cached_property
    def _by_name(self) -> np.ndarray:
        return self._files.array("#by_name", lambda: in_order(self._names))

    def _values(self, key: str) -> np.ndarray:
        """What to sort by: a figure, or the places of the names in their order."""
        if key != "name":
            return self.figure(key)
        return self._by_name

    def kept(self, key: Hashable, make: Callable[[], T]) -> T:
        """What was made for a key before, or now; the same is asked for page by page."""
        with self._lock:
            found = self._made.get(key)
        if found is None:
            found = make()
            with self._lock:
                self._made[key] = found
                while len(self._made) > (MADE if self.count < MILLIONS else MADE // 8):
                    self._made.popitem(last=False)
        return cast(T, found)

    def ranking(self, lens: Lens) -> Ranking | None:
        """The run's niches under a lens; None where nothing is ranked."""
        rows = self._table(PARTS)
        if rows is None:
            return None
        return self.kept(
            ("ranking", lens.weights, lens.balance), lambda: rank_niches(normalised_of(rows), lens)
        )

    def bands(self, lens: Lens) -> Bands | None:
        """How far the ranks move when the lens's weights are shaken: seconds on a large market."""
        rows, ranking = self._table(PARTS), self.ranking(lens)
        if rows is None or ranking is None:
            return None
        settings = self.run.made_with
        return self.kept(
            ("bands", lens.weights, lens.balance),
            lambda: rank_bands(normalised_of(rows), ranking, lens, settings),
        )

    def order(self, keys: list[tuple[str, bool]], among: Bools, lens: Lens | None = None) -> Ints:
        """Places of some niches in order: by figures (key, downwards) or "name", first key first.

        Unknown comes last either way; equal ones go by searches, then by id. Under a ``lens`` the
        figures that it makes are its own.
        """

        order = self.kept(self._mark(keys, lens), lambda: self._sorted(keys, lens, None))
        return order[among[order]]

    def first(
        self, keys: list[tuple[str, bool]], among: Bools, most: int, lens: Lens | None = None
    ) -> Ints:
        """The first ``most`` places of ``order``, without putting all of them in order."""
        if self._mark(keys, lens) in self._made:
            return self.order(keys, among, lens)[:most]
        places = self._promising(*keys[0], among, most, lens)
        if places is None:
            places = np.flatnonzero(among)
        if not 0 < most < len(places):
            return self._sorted(keys, lens, places)[:most]
        column = self._column(*keys[0], lens, places)
        last = np.partition(column, most - 1)[most - 1]
        return self._sorted(keys, lens, places[column <= last])[:most]

    def _promising(
        self, key: str, down: bool, among: Bools, most: int, lens: Lens | None
    ) -> Ints | None:
        """Places among which the first ``most`` of some are, told by a sample; None where it does not tell."""
        values = self._values(key) if lens is None else self.under(lens, key)
        sample = values[np.flatnonzero(among[::EACH]) * EACH]
        sample = sample[~np.isnan(sample)]
        # Twice as many as are wanted, for a sample errs.
        at = 2 * most // EACH + SPARE
        if at >= len(sample):
            return None
        bound = np.partition(sample, -1 - at if down else at)[-1 - at if down else at]
        found = values >= bound if down else values <= bound
        found &= among
        places = np.flatnonzero(found)
        return places if len(places) >= most else None

    @staticmethod
    def _mark(keys: list[tuple[str, bool]], lens: Lens | None) -> Hashable:
        return ("order", tuple(keys), lens and (lens.weights, lens.balance))

    def _column(self, key: str, down: bool, lens: Lens | None, places: Ints | None) -> np.ndarray:
        """What to sort some places by, upwards; unknown is infinite, so that it comes last."""
        values = self._values(key) if lens is None else self.under(lens, key)
        if places is not None:
            values = values[places]
        return np.where(np.isnan(values), np.inf, -values if down else values)

    def _sorted(self, keys: list[tuple[str, bool]], lens: Lens | None, places: Ints | None) -> Ints:
        """Some places, or all, in order."""
        ties = self._ties if places is None else self._ties[places]
        by = [self._column(key, down, lens, places) for key, down in reversed(keys)]
        order = np.lexsort([ties, *by])
        return order if places is None else places[order]

    def under(self, lens: Lens, key: str) -> np.ndarray:
        """A figure, or the names' places, as it is under a lens."""
        found = self.made_by(lens).get(key)
        return self._values(key) if found is None else found

    def made_by(self, lens: Lens) -> dict[str, np.ndarray]:
        """The figures that a lens makes, by key, (subjects,), NaN for unknown."""
        mark = ("made by", lens.weights, lens.balance)
        return self.kept(mark, lambda: figures_under(self, lens))

    def read_ahead(self, figures: Iterable[Figure]) -> None:
        """Read what a page of a ledger asks: who the subjects are, how equal ones stand, some figures."""
        for texts in (self.ids, self.names, self.places):
            len(texts)
        _ = self._ties, self._by_name, self.category_keys
        for figure in figures:
            self.cells(figure, np.arange(min(self.count, 1)))


_cache: OrderedDict[tuple[int, str, str], RunColumns] = OrderedDict()
_lock = threading.Lock()


def columns_of(run: Run, kind: Kind) -> RunColumns:
    """A kind's columns of a run, from memory where its latest analysis was asked for before."""
    key = (run.pk, kind.key, run.planned_at.isoformat())
    with _lock:
        if key not in _cache:
            _cache[key] = RunColumns(run, kind)
        _cache.move_to_end(key)
        while len(_cache) > HELD:
            _cache.popitem(last=False)
        return _cache[key]
