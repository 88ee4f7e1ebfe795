"""A run's niches column by column, held in memory between requests."""

from __future__ import annotations

import threading
from collections import OrderedDict
from functools import cached_property

import numpy as np

from driftfield.core.periods import Bools, Ints
from driftfield.core.signals import RULES
from driftfield.market.models import Category, Niche, Term

from .matrices import FIGURE, SIGNALS, TOP, order_of, read_matrix
from .models import Run

HELD = 3  # Runs whose columns a process keeps.
ORDERS = 24  # Orders of a run that it keeps.


class RunColumns:
    """What sieve and order ask of one run; everything is read once, when it is first asked for."""

    def __init__(self, run: Run) -> None:
        self.run = run
        self.keys: Ints = order_of(run)
        self._found: dict[str, np.ndarray | None] = {}
        self._orders: OrderedDict[tuple[tuple[str, bool], ...], Ints] = OrderedDict()

    @property
    def count(self) -> int:
        return len(self.keys)

    def _matrix(self, name: str) -> np.ndarray | None:
        if name not in self._found:
            self._found[name] = read_matrix(self.run, name)
        return self._found[name]

    def figure(self, key: str) -> np.ndarray:
        rows = self._matrix(FIGURE + key)
        return np.full(self.count, np.nan) if rows is None else rows[:, 0]

    def raised(self, signal: str) -> Bools:
        rows = self._matrix(SIGNALS)
        place = [rule.key for rule in RULES].index(signal)
        if rows is None:
            return np.zeros(self.count, dtype=bool)
        raised: Bools = ~np.isnan(rows[:, place])
        return raised

    def top(self, figure: str) -> np.ndarray | None:
        return self._matrix(TOP + figure)

    @cached_property
    def _niches(self) -> list[tuple[str, str, int | None]]:
        """Id, name and category of each niche, in the order of the run.

        No polars here: its threads do not live through the fork of the serving processes.
        """
        found = Niche.objects.filter(market=self.run.market)
        rows: dict[int, tuple[str, str, int | None]] = {
            niche.pk: (niche.niche_id, niche.name, niche.category_id)
            for niche in found.only("niche_id", "name", "category_id").iterator()
        }
        return [rows[pk] for pk in self.keys.tolist()]

    @cached_property
    def ids(self) -> list[str]:
        """The niches' ids."""
        return [niche_id for niche_id, _, _ in self._niches]

    @cached_property
    def names(self) -> list[str]:
        """The niches' names."""
        return [name for _, name, _ in self._niches]

    @cached_property
    def _categories(self) -> list[int | None]:
        return [category for _, _, category in self._niches]

    def category_path(self, place: int) -> str:
        """A niche's category under its parent, as “Growing › Bed covers”; empty for none."""
        own = self._categories[place]
        if own is None:
            return ""
        parent, _, name = self._tree[own]
        return name if parent is None else f"{self._tree[parent][2]} › {name}"

    @cached_property
    def places(self) -> dict[str, int]:
        """Place of each niche by its id."""
        return {niche: i for i, niche in enumerate(self.ids)}

    @cached_property
    def _texts(self) -> tuple[list[str], Ints]:
        """Names and terms in lower case between blanks, and the place of each one's niche."""
        place = {pk: i for i, pk in enumerate(self.keys.tolist())}
        terms = [
            (term, place[niche])
            for term, niche in Term.objects.filter(market=self.run.market).values_list(
                "term", "niche_id"
            )
            if niche in place
        ]
        words = [*self.names, *(term for term, _ in terms)]
        owner = np.array([*range(self.count), *(i for _, i in terms)], dtype=np.int64)
        return [f" {word.lower()} " for word in words], owner

    def terms(self, how: str, words: str) -> Bools:
        texts, owner = self._texts
        needle = words.lower()
        if how == "hold exactly":
            needle = f" {needle} "
        if how == "start with":
            needle = f" {needle}"
            found = [text.startswith(needle) for text in texts]
        else:
            found = [needle in text for text in texts]
        yes = np.zeros(self.count, dtype=bool)
        yes[owner[np.array(found, dtype=bool)]] = True
        return ~yes if how == "lack" else yes

    @cached_property
    def _tree(self) -> dict[int, tuple[int | None, str, str]]:
        found = Category.objects.values_list("pk", "parent_id", "category_id", "name")
        return {pk: (parent, code, name) for pk, parent, code, name in found}

    def category(self, wanted: str) -> Bools:
        low = wanted.lower()
        inside = {
            pk for pk, (_, code, name) in self._tree.items() if low in (code.lower(), name.lower())
        }
        while (
            more := {pk for pk, (parent, _, _) in self._tree.items() if parent in inside} - inside
        ):
            inside |= more
        return np.array([own in inside for own in self._categories], dtype=bool)

    @cached_property
    def _ties(self) -> Ints:
        """Place of each niche where everything else is equal: by searches, then by id."""
        searches = self.figure("searches_52w")
        order = np.lexsort(
            (np.argsort(np.argsort(np.array(self.ids))), -np.nan_to_num(searches, nan=-1))
        )
        places = np.empty(self.count, dtype=np.int64)
        places[order] = np.arange(self.count)
        return places

    def _values(self, key: str) -> np.ndarray:
        """What to sort by: a figure, or the places of the names in their order."""
        if key != "name":
            return self.figure(key)
        return np.unique(np.array(self.names), return_inverse=True)[1].astype(np.float64)

    def _whole_order(self, keys: tuple[tuple[str, bool], ...]) -> Ints:
        """All niches in order; kept, for the same order is asked for page by page."""
        if keys not in self._orders:
            columns = []
            for key, down in keys:
                values = self._values(key)
                columns.append(np.where(np.isnan(values), np.inf, -values if down else values))
            order = np.lexsort([self._ties, *reversed(columns)])
            self._orders[keys] = order
            while len(self._orders) > ORDERS:
                self._orders.popitem(last=False)
            return order
        return self._orders[keys]

    def order(self, keys: list[tuple[str, bool]], among: Bools) -> Ints:
        """Places of some niches in order: by figures (key, downwards) or "name", first key first.

        Unknown comes last either way; equal ones go by searches, then by id.
        """
        whole = self._whole_order(tuple(keys))
        return whole[among[whole]]


_cache: OrderedDict[tuple[int, str], RunColumns] = OrderedDict()
_lock = threading.Lock()


def columns_of(run: Run) -> RunColumns:
    """The columns of a run, from memory where its latest analysis was asked for before."""
    key = (run.pk, run.made_at.isoformat())
    with _lock:
        if key not in _cache:
            _cache[key] = RunColumns(run)
        _cache.move_to_end(key)
        while len(_cache) > HELD:
            _cache.popitem(last=False)
        return _cache[key]
