"""Coming from below: the terms that a seed finds, and how buyers go on from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, get_args

import numpy as np

from driftfield.core.base import Bools, CoreError, Floats, Ints

from .phrases import LINKS
from .vectors import Vectors, rarity_vectors
from .words import fold, stem_of, words_of

How = Literal["all", "any", "phrase", "begins", "ends", "inside"]
HOW: tuple[How, ...] = get_args(How)
LONGEST = 200  # Characters of a seed.
DIGIT, OTHER = "0–9", "…"  # Where a next word begins with no letter from a to z.
_NONE: Ints = np.empty(0, dtype=np.int64)


@dataclass(frozen=True, slots=True)
class Seed:
    """What a search from below begins with; made by ``read``.

    how: a term has all of the words or any of them, in any order, or the phrase; or it begins or ends with
    the letters, or has them inside. also: words that a term must have as well. without: words that it may
    not have. exact: endings and diacritics count. after, before: letters with which the word after the
    seed's phrase begins, and that before it; DIGIT and OTHER are any digit and any letter beyond a to z.
    """

    text: str
    how: How = "all"
    without: str = ""
    exact: bool = False
    after: str = ""
    before: str = ""
    also: str = ""

    @classmethod
    def read(
        cls, text: str, how: str = "all", without: str = "", *, exact: bool = False, after: str = "",
        before: str = "", also: str = "",
    ) -> Seed:  # fmt: skip
        """Raises CoreError for a seed without a word, one that is too long, or a ``how`` there is not."""
        found = next((one for one in HOW if one == how), None)
        if found is None:
            raise CoreError(f"“{how}” is not a way to search. Choose one of {', '.join(HOW)}.")
        if max(map(len, (text, without, after, before, also))) > LONGEST:
            raise CoreError(f"A seed has at most {LONGEST} characters. Write it shorter.")
        if not words_of(text):
            raise CoreError("A seed is a word or a phrase. Write one.")
        text, without, also = (" ".join(one.split()) for one in (text, without, also))
        after, before = (
            one if one == OTHER else fold(one) for one in (after.strip(), before.strip())
        )
        return cls(text, found, without, exact, after, before, also)


@dataclass(frozen=True, slots=True)
class Volume:
    """Some terms together.

    terms: how many. searches: of the last 52 weeks, of those of which they are known; NaN for none. growth:
    of these over the 52 weeks before, of terms that are known in both, so that the season cancels.
    """

    terms: int
    searches: float
    growth: float


@dataclass(frozen=True, slots=True)
class Step:
    """A way to go on: a letter with which the next word begins, or another word of the terms found.

    first: its most searched term.
    """

    name: str
    volume: Volume
    first: str


@dataclass(frozen=True, slots=True)
class Onward:
    """How buyers go on from a seed: all it finds; the words after and before its phrase by the next letter,
    from a to z, each with those that the seed has already; words beside it, most searched first."""

    whole: Volume
    after: list[Step]
    before: list[Step]
    beside: list[Step]


class TermIndex:
    """Terms by their words, for searches from a seed.

    Raises CoreError for a language without a stemmer.
    """

    def __init__(self, terms: Sequence[str], language: str = "english") -> None:
        self.terms = terms
        self.language = language
        words: dict[str, int] = {}
        split = [words_of(term) for term in terms]
        token = [words.setdefault(word, len(words)) for one in split for word in one]
        self._word = words
        self._words = list(words)
        # A token is one word of one term; the terms lie one after the other.
        self._token = np.array(token, dtype=np.int64)
        sizes = np.array([len(one) for one in split], dtype=np.int64)
        self._begin = np.concatenate([[0], np.cumsum(sizes)])
        self._term = np.repeat(np.arange(len(terms), dtype=np.int64), sizes)
        stems: dict[str, int] = {}
        stem = [stems.setdefault(stem_of(word, language), len(stems)) for word in words]
        self._stem_number = stems
        self._stem = np.array(stem, dtype=np.int64)

    @cached_property
    def _plain(self) -> list[str]:
        return [" ".join(words_of(term)) for term in self.terms]

    @cached_property
    def _folded(self) -> list[str]:
        return [fold(text) for text in self._plain]

    @cached_property
    def vectors(self) -> Vectors:
        """The terms by their words, rarer ones counting more, (terms, words); see ``word_vectors``."""
        words = len(self._stem_number)
        pair = np.unique(self._term * max(words, 1) + self._stems)
        term, stem = np.divmod(pair, max(words, 1))
        return rarity_vectors(term, stem, len(self.terms), words)

    def sharing(self, place: int) -> Bools:
        """The terms that have a word of the one at ``place``, words that ask for nothing aside, (terms,)."""
        own = np.setdiff1d(self._stems[self._tokens_of(np.array([place]))], self._links)
        each = [self._having(number, exact=False) for number in own.tolist()]
        return np.logical_or.reduce(each) if each else np.zeros(len(self.terms), dtype=bool)

    @cached_property
    def _stems(self) -> Ints:
        return self._stem[self._token] if len(self._stem) else _NONE

    @cached_property
    def _by_word(self) -> _Places:
        return _Places.of(self._token, len(self._words))

    @cached_property
    def _by_stem(self) -> _Places:
        return _Places.of(self._stems, len(self._stem_number))

    @cached_property
    def _forms(self) -> _Places:
        """The words of each stem."""
        return _Places.of(self._stem, len(self._stem_number))

    def _marked_words(self, words: Ints) -> Bools:
        found = np.zeros(len(self._words), dtype=bool)
        found[words] = True
        return found

    def _at(self, number: int, exact: bool) -> Ints:
        """Tokens with a word, or with a stem, in their order; none for −1."""
        return (self._by_word if exact else self._by_stem).at(number)

    def _tokens_of(self, terms: Ints) -> Ints:
        """The tokens of some terms, one term after the other."""
        begin, size = self._begin[terms], self._begin[terms + 1] - self._begin[terms]
        shift = np.repeat(begin - np.concatenate([[0], np.cumsum(size)[:-1]]), size)
        tokens: Ints = shift + np.arange(size.sum())
        return tokens

    def _keys(self, exact: bool) -> Ints:
        """Of each token what is compared: its word, or its stem."""
        return self._token if exact else self._stems

    def _numbers(self, text: str, exact: bool) -> list[int]:
        """The same of the words of a text; −1 for one that no term has."""
        words = words_of(text)
        if exact:
            return [self._word.get(word, -1) for word in words]
        return [self._stem_number.get(stem_of(word, self.language), -1) for word in words]

    def find(self, seed: Seed) -> Bools:
        """The terms that a seed finds, (terms,)."""
        if seed.how in ("begins", "ends", "inside"):
            found = self._with_letters(seed)
        elif seed.how == "phrase":
            found = self._marked(self._term[self._phrase(seed)])
        else:
            each = [
                self._having(number, seed.exact) for number in self._numbers(seed.text, seed.exact)
            ]
            found = (np.logical_and if seed.how == "all" else np.logical_or).reduce(each)
        for number in self._numbers(seed.also, seed.exact):
            found = found & self._having(number, seed.exact)
        for number in self._numbers(seed.without, seed.exact):
            found = found & ~self._having(number, seed.exact)
        if seed.after or seed.before:
            found = found & self._marked(self._term[self._occurrences(seed)])
        return found

    def _occurrences(self, seed: Seed) -> Ints:
        """Tokens at which the seed's phrase begins, with the letters after and before it that it asks for."""
        begin = self._phrase(seed)
        for step, prefix in ((len(words_of(seed.text)), seed.after), (-1, seed.before)):
            if prefix:
                at, beside = self._next_to(begin, step)
                word, place = np.unique(self._token[beside], return_inverse=True)
                fits = np.array(
                    [_begins(self._words[one], prefix) for one in word.tolist()], dtype=bool
                )
                begin = begin[at[fits[place]]] if len(word) else _NONE
        return begin

    def _next_to(self, tokens: Ints, step: int) -> tuple[Ints, Ints]:
        """Of some tokens the places of those that have one ``step`` further in the same term, and that one."""
        beside = tokens + step
        inside = np.flatnonzero((beside >= 0) & (beside < len(self._token)))
        at = inside[self._term[tokens[inside]] == self._term[beside[inside]]]
        return at, beside[at]

    def _marked(self, places: Ints) -> Bools:
        found = np.zeros(len(self.terms), dtype=bool)
        found[places] = True
        return found

    def _having(self, number: int, exact: bool) -> Bools:
        return self._marked(self._term[self._at(number, exact)])

    def _with_letters(self, seed: Seed) -> Bools:
        texts = self._plain if seed.exact else self._folded
        sought = " ".join(words_of(seed.text))
        sought = sought if seed.exact else fold(sought)
        test = {"begins": str.startswith, "ends": str.endswith, "inside": str.__contains__}[
            seed.how
        ]
        return np.fromiter((test(text, sought) for text in texts), dtype=bool, count=len(texts))

    def _phrase(self, seed: Seed) -> Ints:
        """Tokens at which the words of a seed begin, one after the other in one term."""
        numbers = self._numbers(seed.text, seed.exact)
        keys = self._keys(seed.exact)
        at = self._at(numbers[0], seed.exact)
        at = at[at <= len(keys) - len(numbers)]
        for step, number in enumerate(numbers[1:], start=1):
            at = at[(keys[at + step] == number) & (self._term[at + step] == self._term[at])]
        return at

    def onward(
        self,
        seed: Seed,
        searches: Floats,
        before: Floats,
        *,
        most: int = 60,
        among: Bools | None = None,
    ) -> Onward:
        """How buyers go on from a seed.

        ``searches`` and ``before`` (terms,) are those of the last 52 weeks and of the 52 before, NaN for
        unknown. ``most``: words beside it. ``among`` (terms,): terms that pass what else is asked.
        """
        found = self.find(seed)
        if among is not None:
            found = found & among
        places = np.flatnonzero(found)
        sums = _Sums(self.terms, searches, before)
        begin = self._occurrences(seed)
        begin = begin[found[self._term[begin]]]
        return Onward(
            whole=sums.of(places),
            after=self._by_letter(begin, len(words_of(seed.text)), seed.after, sums),
            before=self._by_letter(begin, -1, seed.before, sums),
            beside=self._beside(seed, found, sums, most),
        )

    def _by_letter(self, tokens: Ints, step: int, prefix: str, sums: _Sums) -> list[Step]:
        """The words next to some tokens, by the letter that comes after ``prefix``."""
        _, beside = self._next_to(tokens, step)
        if prefix:
            word, place = np.unique(self._token[beside], return_inverse=True)
            known, number = _numbered([_letters(self._words[one], prefix) for one in word.tolist()])
            group = number[place]
        else:
            known, number = self._first_letters
            group = number[self._token[beside]]
        told = group >= 0
        return [
            Step(known[at], *sums.with_first(_once(terms)))
            for at, terms in _split(group[told], self._term[beside[told]])
        ]

    @cached_property
    def _first_letters(self) -> tuple[list[str], Ints]:
        """First letters in their order, and of each word the place of its own among them."""
        return _numbered([_letters(word, "") for word in self._words])

    def _beside(self, seed: Seed, found: Bools, sums: _Sums, most: int) -> list[Step]:
        """Words of the terms that are found, beyond the seed's own, each in its most searched form."""
        tokens = self._tokens_of(np.flatnonzero(found))
        token, term = self._token[tokens], self._term[tokens]
        stem = self._stem[token]
        weight = np.nan_to_num(sums.searches)[term]
        forms = np.bincount(token, weights=weight, minlength=len(self._words))
        there = self._marked_words(token)
        total = np.bincount(stem, weights=weight, minlength=len(self._stem_number))
        number = np.bincount(stem, minlength=len(self._stem_number))
        number[
            [own for own in self._numbers(f"{seed.text} {seed.also}", exact=False) if own >= 0]
        ] = 0
        number[self._links] = 0
        order = np.lexsort((-number, -total))
        told = order[number[order] > 0][:most]
        chosen = np.zeros(len(number), dtype=bool)
        chosen[told] = True
        rows = np.flatnonzero(chosen[stem])
        of_stem = dict(_split(stem[rows], rows))
        steps = []
        for one in told.tolist():
            own_rows = of_stem[one]
            several = self._forms.at(one)
            shown = max(
                several[there[several]].tolist(), key=lambda word: (forms[word], self._words[word])
            )
            steps.append(Step(self._words[shown], *sums.with_first(_once(term[own_rows]))))
        return steps

    @cached_property
    def _links(self) -> Ints:
        """Stems of words that ask for nothing by themselves."""
        return np.array(
            [n for word in LINKS if (n := self._numbers(word, False)[0]) >= 0], dtype=np.int64
        )

    def draw(self, seed: int) -> str:
        """A word drawn at random, the likelier the more terms contain it; the same for the same ``seed``.

        Raises CoreError where no term has a word of letters.
        """
        count = np.bincount(self._token, minlength=len(self._words))
        # By the alphabet, so that the order in which terms came does not matter.
        words = sorted(word for word in self._words if word.isalpha() and word not in LINKS)
        if not words:
            raise CoreError("No term has a word to draw.")
        chance = np.array([count[self._word[word]] for word in words], dtype=np.float64)
        rng = np.random.default_rng(seed)
        return words[int(rng.choice(len(words), p=chance / chance.sum()))]


@dataclass(frozen=True, slots=True)
class _Places:
    """Places of numbers in an array: in ``order`` from the number's ``begin`` to the next one's."""

    order: Ints
    begin: Ints

    @classmethod
    def of(cls, numbers: Ints, many: int) -> _Places:
        order = np.argsort(numbers, kind="stable")
        count = (
            np.bincount(numbers, minlength=many) if len(numbers) else np.zeros(many, dtype=np.int64)
        )
        return cls(order, np.concatenate([[0], np.cumsum(count)]))

    def at(self, number: int) -> Ints:
        return self.order[self.begin[number] : self.begin[number + 1]] if number >= 0 else _NONE


def _once(ordered: Ints) -> Ints:
    """Ordered numbers, each once."""
    return (
        ordered[np.concatenate([[True], ordered[1:] != ordered[:-1]])] if len(ordered) else ordered
    )


class _Sums:
    """Volumes of some of a market's terms."""

    def __init__(self, terms: Sequence[str], searches: Floats, before: Floats) -> None:
        self.terms, self.searches, self.earlier = terms, searches, before

    def of(self, places: Ints) -> Volume:
        now, then = self.searches[places], self.earlier[places]
        known = ~np.isnan(now)
        both = known & ~np.isnan(then)
        base = float(then[both].sum())
        return Volume(
            terms=len(places),
            searches=float(now[known].sum()) if known.any() else float("nan"),
            growth=float(now[both].sum()) / base - 1 if base > 0 else float("nan"),
        )

    def with_first(self, places: Ints) -> tuple[Volume, str]:
        first = places[int(np.argmax(np.nan_to_num(self.searches[places], nan=-1)))]
        return self.of(places), self.terms[int(first)]


def _split(group: Ints, values: Ints) -> list[tuple[int, Ints]]:
    """Values by their group, each in its order."""
    if not len(group):
        return []
    order = np.argsort(group, kind="stable")
    numbers, first = np.unique(group[order], return_index=True)
    return list(zip(numbers.tolist(), np.split(values[order], first[1:]), strict=True))


def _numbered(names: list[str]) -> tuple[list[str], Ints]:
    """The names there are, letters from a to z first, and each one's place among them; −1 for an empty one."""
    known = sorted(set(names) - {""}, key=lambda one: (not one.isalpha(), one))
    number = {name: i for i, name in enumerate(known)}
    return known, np.array([number.get(name, -1) for name in names], dtype=np.int64)


def _letters(word: str, prefix: str) -> str:
    """``prefix`` and the letter that comes after it in a word; empty where there is none."""
    if prefix:
        folded = fold(word)
        longer = folded.startswith(prefix) and len(folded) > len(prefix)
        return folded[: len(prefix) + 1] if longer else ""
    first = fold(word)[:1]
    return DIGIT if first.isdigit() else first if "a" <= first <= "z" else OTHER


def _begins(word: str, prefix: str) -> bool:
    if prefix in (DIGIT, OTHER):
        return _letters(word, "") == prefix
    return fold(word).startswith(prefix)
