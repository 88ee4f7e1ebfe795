"""Which subjects of several markets are the same, and proposals that somebody has to confirm.

What has the same id in two markets is the same, unless the match is rejected. Of the rest those are
proposed whose names are the same words, whatever their endings, diacritics and order, where no other one of
either market is called so; and niches whose buyers type the same terms.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Container, Hashable, Mapping, Sequence
from dataclasses import dataclass

from .words import LANGUAGE, fold, stem_of, words_of

# How two came to be the same; ITSELF is the one that is looked at.
ITSELF, BY_ID, CONFIRMED = "itself", "id", "confirmed"
LEAST_TERMS = 2  # Terms that two niches must share to be proposed.


class Matches:
    """Confirmed and rejected matches of a kind in several markets; without either the same id is a match."""

    def __init__(self) -> None:
        self._same: defaultdict[tuple[str, str], dict[str, str]] = defaultdict(dict)
        self._rejected: set[tuple[tuple[str, str], tuple[str, str]]] = set()

    def record(self, one: tuple[str, str], other: tuple[str, str], *, same: bool) -> None:
        """Record a confirmed or rejected match of two; each is a market and an id there."""
        if same:
            self._same[one][other[0]] = other[1]
            self._same[other][one[0]] = one[1]
        else:
            self._rejected |= {(one, other), (other, one)}

    def rejected(self, one: tuple[str, str], other: tuple[str, str]) -> bool:
        """Whether a match of two was rejected."""
        return (one, other) in self._rejected

    def of(self, one: tuple[str, str], other: str, held: Container[str]) -> tuple[str, str] | None:
        """The id in the market ``other``, which holds ``held``, that is the same, and how; None for none."""
        if (confirmed := self._same.get(one, {}).get(other)) is not None:
            return (confirmed, CONFIRMED) if confirmed in held else None
        alike = (other, one[1])
        theirs = self._same.get(alike, {}).get(one[0])
        if one[1] in held and theirs is None and not self.rejected(one, alike):
            return one[1], BY_ID
        return None

    def everywhere(
        self, market: str, subject: str, held: Mapping[str, Container[str]]
    ) -> list[tuple[str, str, str]]:
        """Market, id and how of a subject wherever it is, itself first; ``held``: ids by market.

        A market may be reached through another one: what is the same as the same is the same.
        """
        found = [(market, subject, ITSELF)]
        for one, known, _ in found:  # Grows as it goes.
            there = {place for place, *_ in found}
            for other in held:
                if other not in there and (same := self.of((one, known), other, held[other])):
                    found.append((other, *same))
        return found


@dataclass(frozen=True, slots=True)
class Named:
    """A subject of a market. above: names of what it lies in, from the top. terms: what its buyers type."""

    id: str
    name: str
    above: tuple[str, ...] = ()
    terms: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Proposed:
    """Two that may be the same: their places in both markets. shared: terms that both have.

    by: whether their names, their names with what they lie in (``path``), or their ``terms`` are the same.
    """

    first: int
    second: int
    by: str
    shared: int

    @property
    def why(self) -> str:
        """Why they may be the same, in words."""
        terms = f"{self.shared:,} {'term' if self.shared == 1 else 'terms'} in common"
        if self.by == "terms":
            return terms
        name = "the same name and category" if self.by == "path" else "the same name"
        return f"{name}, {terms}" if self.shared else name


def same_ids(first: Sequence[Named], second: Sequence[Named]) -> list[tuple[int, int]]:
    """Places of the subjects that have one id in both markets."""
    places = {one.id: at for at, one in enumerate(second)}
    return [(at, places[one.id]) for at, one in enumerate(first) if one.id in places]


def propose_matches(
    first: Sequence[Named],
    second: Sequence[Named],
    languages: tuple[str, str] = (LANGUAGE, LANGUAGE),
) -> list[Proposed]:
    """Propose which subjects of two markets may be the same, each at most once, surest first.

    ``languages``: of the names in both markets; see ``words.LANGUAGES``. Those with the same id are left
    out: they need no proposal.
    """
    taken = [set(places) for places in zip(*same_ids(first, second), strict=True)]
    sides = (first, second)
    free = [
        {at for at in range(len(side)) if not taken or at not in taken[i]}
        for i, side in enumerate(sides)
    ]
    readers = [_Reader(language) for language in languages]
    found: list[Proposed] = []
    for by, key in (("path", _Reader.path), ("name", _Reader.name)):
        keys = [
            {at: made for at in sorted(free[i]) if (made := key(readers[i], side[at])) is not None}
            for i, side in enumerate(sides)
        ]
        for one, other in _only_pairs(*keys):
            shared = len(_folded(first[one]) & _folded(second[other]))
            found.append(Proposed(one, other, by, shared))
            free[0].remove(one)
            free[1].remove(other)
    found += _by_terms(first, second, free)
    order = {"path": 0, "name": 1, "terms": 2}
    return sorted(found, key=lambda one: (order[one.by], -one.shared, one.first))


class _Reader:
    """What names come to in a language, each read once."""

    def __init__(self, language: str) -> None:
        self.language = language
        self._read: dict[str, Hashable] = {}

    def words(self, text: str) -> Hashable:
        if text not in self._read:
            # Folded first: a stemmer cuts “brûlée” otherwise than “brulee”.
            stems = frozenset(stem_of(word, self.language) for word in words_of(fold(text)))
            self._read[text] = stems or text
        return self._read[text]

    def name(self, one: Named) -> Hashable | None:
        return self.words(one.name)

    def path(self, one: Named) -> Hashable | None:
        """Its name with the names of what it lies in; None where it lies in nothing."""
        if not one.above:
            return None
        return (*map(self.words, one.above), self.words(one.name))


def _folded(one: Named) -> set[str]:
    return {fold(term) for term in one.terms}


def _only_pairs(first: dict[int, Hashable], second: dict[int, Hashable]) -> list[tuple[int, int]]:
    """Places whose key no other one of either side has."""
    many = [Counter(side.values()) for side in (first, second)]
    places = {key: at for at, key in second.items() if many[1][key] == 1}
    return [(at, places[key]) for at, key in first.items() if many[0][key] == 1 and key in places]


def _by_terms(
    first: Sequence[Named], second: Sequence[Named], free: Sequence[set[int]]
) -> list[Proposed]:
    """Those that share most terms with one another, as far as either side has no better one."""
    holders: defaultdict[str, list[int]] = defaultdict(list)
    for at in sorted(free[1]):
        for term in _folded(second[at]):
            holders[term].append(at)
    shared: Counter[tuple[int, int]] = Counter()
    for at in sorted(free[0]):
        for term in _folded(first[at]):
            shared.update((at, other) for other in holders.get(term, ()))
    found, used = [], (set[int](), set[int]())
    for (one, other), many in sorted(shared.items(), key=lambda item: (-item[1], item[0])):
        if many >= LEAST_TERMS and one not in used[0] and other not in used[1]:
            found.append(Proposed(one, other, "terms", many))
            used[0].add(one)
            used[1].add(other)
    return found
