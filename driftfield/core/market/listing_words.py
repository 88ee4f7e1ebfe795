"""Words for a listing: what buyers type that a newcomer could reach, fitted into a length."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats

from .phrases import LINKS
from .words import LANGUAGE, stem_of, words_of


@dataclass(frozen=True, slots=True)
class ListingWord:
    """A word of a niche's terms, in its most typed form.

    reach: searches a year of the terms with it that a newcomer could reach. terms: how many have it.
    leaders: how many of the leading listings use it.
    """

    word: str
    reach: float
    terms: int
    leaders: int


@dataclass(frozen=True, slots=True)
class Picked:
    """Words fitted into a length. text: with a space between. covered: share of the reach whose terms have all
    their words in it, 0–1; NaN where there is none."""

    words: list[str]
    text: str
    covered: float


def reach_of(
    searches: Floats, top3: Floats, usual: float, left_out: Bools, right: Sequence[int | None]
) -> Floats:
    """Searches a year of each term that do not go to its three leading listings, (terms,); 0 of those left out.

    ``searches`` and ``top3``, the share of clicks of the three, are (terms,), NaN for unknown; where a term's
    is unknown the niche's, ``usual``, stands for it, and where that is too, all searches count. The reach of
    a mistyped term is its right form's (``right``, places): nobody writes it into a title.
    """
    taken = np.where(np.isnan(top3), 0.0 if np.isnan(usual) else usual, top3)
    reach = np.nan_to_num(searches) * (1 - np.clip(taken, 0, 1))
    reach[left_out] = 0.0
    found = np.zeros(len(reach))
    for place, one in enumerate(right):
        found[place if one is None else one] += reach[place]
    found[left_out] = 0.0
    return found


def listing_words(
    terms: Sequence[str], reach: Floats, leading: Sequence[str], language: str = LANGUAGE
) -> list[ListingWord]:
    """The words of terms that can be reached, most reach first; words of one stem are one word.

    ``leading``: titles, with tags where they are known, of the leading listings.
    """
    held: dict[str, dict[str, float]] = {}
    total: dict[str, float] = {}
    many: dict[str, int] = {}
    for term, value in zip(terms, reach.tolist(), strict=True):
        if value <= 0:
            continue
        for stem, form in _forms(term, language).items():
            total[stem] = total.get(stem, 0.0) + value
            many[stem] = many.get(stem, 0) + 1
            forms = held.setdefault(stem, {})
            forms[form] = forms.get(form, 0.0) + value
    used = [set(_forms(text, language)) for text in leading]
    rows = [
        ListingWord(
            max(held[stem], key=lambda form: (held[stem][form], form)), value, many[stem],
            sum(stem in words for words in used),
        )
        for stem, value in total.items()
    ]  # fmt: skip
    return sorted(rows, key=lambda one: (-one.reach, one.word))


def fit_words(
    terms: Sequence[str],
    reach: Floats,
    length: int,
    language: str = LANGUAGE,
    *,
    first: Sequence[str] = (),
) -> Picked:
    """Words that let as much as can be of the reach be found, in at most ``length`` letters, none twice.

    A term is found when all its words are there, by stem. Term by term that is taken which brings most reach
    for the letters it adds, as long as it fits: the greedy rule for covering within a budget (Khuller, Moss &
    Naor 1999). ``first``: words that come first, whatever they bring. Words of one stem come once, in the form
    of the term that brought them.
    """
    wanted = [_forms(term, language) for term in terms]
    there: dict[str, str] = {}
    used = 0

    def added(forms: dict[str, str]) -> int:
        """Letters that forms add, with a space before each word but the first."""
        new = [len(form) + 1 for stem, form in forms.items() if stem not in there]
        return sum(new) - (1 if new and not there else 0)

    def take(forms: dict[str, str]) -> None:
        nonlocal used
        used += added(forms)
        there.update({stem: form for stem, form in forms.items() if stem not in there})

    for word in first:
        forms = _forms(word, language, links=True)
        if used + added(forms) <= length:
            take(forms)
    left = [place for place, forms in enumerate(wanted) if forms and reach[place] > 0]
    while True:
        left = [place for place in left if added(wanted[place])]
        fits = [place for place in left if used + added(wanted[place]) <= length]
        if not fits:
            break
        take(wanted[max(fits, key=lambda place: float(reach[place]) / added(wanted[place]))])
    words = list(there.values())
    found = sum(
        float(reach[p]) for p, forms in enumerate(wanted) if forms and forms.keys() <= there.keys()
    )
    whole = float(reach.sum())
    return Picked(words, " ".join(words), found / whole if whole > 0 else float("nan"))


def _forms(text: str, language: str, *, links: bool = False) -> dict[str, str]:
    """The words of a text by their stem, without those that ask for nothing."""
    found: dict[str, str] = {}
    for word in words_of(text):
        if links or word not in LINKS:
            found.setdefault(stem_of(word, language), word)
    return found
