"""Words in the terms of a niche: what recurs as a feature buyers ask for, and what is mistyped."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from rapidfuzz.distance import OSA

from driftfield.core.base import Floats, Ints

# Words that ask for nothing by themselves.
LINKS = frozenset(
    "a an and at best by for from good in kit of on or set the to with without".split()  # noqa: SIM905
)
COMMON = 0.6  # Share of the searches from which a word names the niche itself.
NOTABLE = 0.02  # Share of the searches from which a word of one term alone is told.
# A slip is one letter left out, put in, changed or swapped with the next (Damerau 1964: four in five
# mistypings). Under five letters as many words lie one letter apart that both mean something.
LEAST_LETTERS = 5
TIMES = 4.0  # How much more the right spelling is typed (common practice, no source).


@dataclass(frozen=True, slots=True)
class Word:
    """A word that recurs: in its most typed form, the places of the terms that hold it, and their
    share of the niche's searches."""

    word: str
    terms: tuple[int, ...]
    share: float


def stem(word: str) -> str:
    """A word without the ending of its plural: “pegs” and “peg” are one wish.

    >>> [stem(w) for w in ("pegs", "glass", "boxes", "gas")]
    ['peg', 'glass', 'box', 'gas']
    """
    if word.endswith(("sses", "shes", "ches", "xes")):
        return word[:-2]
    return word[:-1] if len(word) > 3 and word.endswith("s") and not word.endswith("ss") else word


def recurring_words(terms: Sequence[str], searches: Floats) -> list[Word]:
    """Words that some of a niche's terms contain beyond what names the niche, most searched first.

    ``searches`` is (terms,), NaN for unknown. A word counts in its singular. Told are words in two
    terms or more, and words of one term that takes at least 2% of the searches.
    """
    weight = np.nan_to_num(searches)
    total = float(weight.sum())
    if not total:
        return []
    held: dict[str, dict[str, list[int]]] = {}
    for place, term in enumerate(terms):
        for word in dict.fromkeys(term.lower().split()):
            if word not in LINKS and not word.isdigit():
                held.setdefault(stem(word), {}).setdefault(word, []).append(place)
    words = []
    for forms in held.values():
        places = sorted({place for at in forms.values() for place in at})
        share = float(weight[places].sum()) / total
        if share < COMMON and (len(places) > 1 or share >= NOTABLE):
            shown = max(forms, key=lambda form: (float(weight[forms[form]].sum()), form))
            words.append(Word(shown, tuple(places), share))
    return sorted(words, key=lambda one: (-one.share, one.word))


def likely_misspelt(
    terms: Sequence[str], searches: Floats, niche: Ints | None = None
) -> list[int | None]:
    """For each term the place of the one it is likely a mistyping of, None for no such.

    Two terms of as many words that differ in one word by one slip (optimal string alignment
    distance of 1), the other typed at least four times as often, and so is its word in all terms: what is
    typed in many others is a word of its own. Not a slip: a plural, a digit, a word of under five letters.

    ``niche`` (terms,) is each one's: a term is held against those of its own, and one that stands alone
    against all. None: all against all.
    """
    split = [tuple(term.lower().split()) for term in terms]
    weight = np.nan_to_num(searches)
    typed: dict[str, float] = {}
    for words, many in zip(split, weight.tolist(), strict=True):
        for word in dict.fromkeys(words):
            typed[word] = typed.get(word, 0.0) + many
    near = _slips(typed)
    places: dict[tuple[str, ...], list[int]] = {}
    for place, words in enumerate(split):
        places.setdefault(words, []).append(place)
    alone = None if niche is None else np.bincount(niche)[niche] == 1

    def beside(place: int, other: int) -> bool:
        return niche is None or alone is None or bool(alone[place] or niche[place] == niche[other])

    found: list[int | None] = []
    for place, words in enumerate(split):
        better = [
            other
            for at, word in enumerate(words)
            for right in near.get(word, ())
            if typed[right] >= TIMES * max(typed[word], 1)
            for other in places.get((*words[:at], right, *words[at + 1 :]), ())
            if weight[other] >= TIMES * max(weight[place], 1) and beside(place, other)
        ]
        found.append(max(better, key=lambda other: weight[other]) if better else None)
    return found


def _slips(words: Iterable[str]) -> dict[str, list[str]]:
    """The words that lie one slip from each, of those that can be mistyped.

    Two words one slip apart are the same once a letter is left out of one or of both (the symmetric
    deletion of Garbe 2012), so that few pairs have to be compared.
    """
    left: dict[str, list[str]] = {}
    for word in words:
        if len(word) >= LEAST_LETTERS and word.isalpha():
            for form in {word, *(word[:at] + word[at + 1 :] for at in range(len(word)))}:
                left.setdefault(form, []).append(word)
    near: dict[str, set[str]] = {}
    for alike in left.values():
        for one in alike if len(alike) > 1 else ():
            for other in alike:
                if stem(one) != stem(other) and OSA.distance(one, other, score_cutoff=1) == 1:
                    near.setdefault(one, set()).add(other)
    return {word: sorted(others) for word, others in near.items()}
