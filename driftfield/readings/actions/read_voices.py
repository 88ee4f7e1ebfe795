"""Read what buyers wrote about a market's niches, and keep what was read until the texts are others."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from hashlib import blake2b
from typing import Any

import numpy as np
from django.db.models import F

from driftfield.core.base import Floats, Ints
from driftfield.core.market import LISTING
from driftfield.core.market.words import LANGUAGES
from driftfield.core.voices import (
    COMPLAINT,
    broken_promises,
    copies_of,
    joined,
    plain_words,
    questions,
    read_corpus,
    read_texts,
    sentences_of,
    wishes,
)  # fmt: skip
from driftfield.market.models import Market, Niche, Term, Voice
from driftfield.market.own_niches import slices
from driftfield.readings.chosen import chosen_for
from driftfield.readings.method import method_digest
from driftfield.readings.models import NicheVoices, Run
from driftfield.readings.store import KEYS, OWN, read_column
from driftfield.readings.voices import KINDS, QUESTION, RETURN, StoredVoices, pack

_FIELDS = ("pk", "text", "kind", "rating", "day", "listing_id", "helpful")
_About = tuple[str, str]  # A niche by its id, and a language.


def read_voices_of(run: Run) -> None:
    """Read all that is written about the niches of a run, each niche and language by itself.

    A text is about the niche that it names, else about the one that brings most of its listing's clicks, else
    about that of its term. Texts in a language without a stemmer are counted and not read.
    """
    market = run.market
    had = {
        (one.niche_id, one.language): one
        for one in NicheVoices.objects.filter(market=market).defer("tables")
    }
    for (niche, language), keys in _about(run).items():
        rows = _rows(keys)
        mark = _mark(rows, language)
        before = had.pop((niche, language), None)
        if before is not None and before.mark == mark:
            continue
        stored, many = _read(rows, language)
        NicheVoices.objects.update_or_create(
            market=market,
            niche_id=niche,
            language=language,
            defaults={
                "mark": mark,
                "texts": many,
                "copies": 0 if stored is None else stored.copies,
                "tables": b"" if stored is None else pack(stored),
            },
        )
    NicheVoices.objects.filter(pk__in=[one.pk for one in had.values()]).delete()


def _about(run: Run) -> dict[_About, list[int]]:
    """Keys of the texts about each niche in each language."""
    market = run.market
    usual = chosen_for(market.market_id).language
    niches = set(Niche.objects.filter(market=market).values_list("niche_id", flat=True))
    by_listing = _niches_of_listings(run)
    by_term: dict[str | None, str] = {}
    if Voice.objects.exclude(term=None).exists():
        by_term = _niches_of_terms(market)
    moved = _moved(market)
    about: dict[_About, list[int]] = defaultdict(list)
    voices = Voice.objects.values_list("pk", "niche_id", "listing_id", "term", "language")
    for key, named, listing, term, language in voices.order_by("pk").iterator():
        niche = named or by_listing.get(listing) or by_term.get(term)
        niche = moved.get(niche, niche) if niche else None
        if niche in niches:
            about[niche, (language or usual).lower()].append(key)
    return about


def _moved(market: Market) -> dict[str, str]:
    """The niche into which each one went that the researcher left without terms: where most of them are."""
    terms = Term.objects.filter(given__market=market).exclude(niche=None)
    places = terms.exclude(niche=F("given")).values_list("given__niche_id", "niche__niche_id")
    went: dict[str, Counter[str]] = defaultdict(Counter)
    for given, niche in places:
        went[given][niche] += 1
    left = set(
        Term.objects.filter(niche__niche_id__in=list(went)).values_list(
            "niche__niche_id", flat=True
        )
    )
    return {
        given: min(into, key=lambda one: (-into[one], one))
        for given, into in went.items()
        if given not in left
    }


def _niches_of_listings(run: Run) -> dict[int | None, str]:
    keys, niches = (read_column(run, LISTING, name) for name in (KEYS, f"{OWN}niche_id"))
    if keys is None or niches is None:
        return {}
    return dict(zip(keys.to_list(), niches.to_list(), strict=True))


def _niches_of_terms(market: Market) -> dict[str | None, str]:
    terms = Term.objects.filter(niche__market=market)
    return dict(terms.values_list("term", "niche__niche_id"))


def _rows(keys: Sequence[int]) -> list[tuple[Any, ...]]:
    """The texts of some keys, in the order in which they came."""
    found = []
    for some in slices(list(keys)):  # type: ignore[arg-type]
        found += list(Voice.objects.filter(pk__in=some).order_by("pk").values_list(*_FIELDS))
    return found


def _mark(rows: Iterable[tuple[Any, ...]], language: str) -> str:
    """Another one as soon as a text, or the way in which it is read, is another one."""
    digest = blake2b(f"{method_digest()} {language}".encode(), digest_size=24)
    for row in rows:
        digest.update(repr(row).encode())
    return digest.hexdigest()


def _read(rows: list[tuple[Any, ...]], language: str) -> tuple[StoredVoices | None, int]:
    """What the texts say, and how many there are without copies; None in a language that cannot be read."""
    if language not in LANGUAGES:
        return None, len(rows)
    copies = copies_of([plain_words(row[1]) for row in rows])
    own = [row for row, first in zip(rows, copies.tolist(), strict=True) if first < 0]
    own.sort(key=lambda row: row[2] == QUESTION)
    texts = [row[1] for row in own]
    kinds = np.array([KINDS.index(row[2]) for row in own], dtype=np.int64)
    told = int((kinds != KINDS.index(QUESTION)).sum())
    day = np.array([np.nan if row[4] is None else row[4].toordinal() for row in own], dtype=float)
    read = read_texts(
        texts[:told],
        rating=_floats(row[3] for row in own[:told]),
        lean=np.where(kinds[:told] == KINDS.index(RETURN), COMPLAINT, 0),
        day=day[:told],
        language=language,
    )
    asked = read_corpus(texts[told:], language)
    whole = joined(read.corpus, asked)
    wishing = np.zeros(len(whole.text), dtype=bool)
    wishing[wishes(whole, texts, language)] = True
    asking = np.zeros(len(whole.text), dtype=bool)
    asking[questions(whole, texts, kinds == KINDS.index(QUESTION))] = True
    broken = np.zeros(len(whole.text), dtype=np.int64)
    notes = np.flatnonzero(kinds[whole.text] == KINDS.index(RETURN))
    said = sentences_of(whole, texts)
    for bit, found in enumerate(broken_promises([said[at] for at in notes], language).values()):
        broken[notes[found]] |= 1 << bit
    stored = StoredVoices(
        language,
        len(rows) - len(own),
        read,
        asked,
        _ints(row[0] for row in own),
        _ints(-1 if row[5] is None else row[5] for row in own),
        kinds,
        _floats(row[6] for row in own),
        broken,
        asking & ~wishing,
        wishing,
    )
    return stored, len(own)


def _floats(values: Iterable[float | None]) -> Floats:
    return np.array([np.nan if one is None else one for one in values], dtype=float)


def _ints(values: Iterable[int]) -> Ints:
    return np.array(list(values), dtype=np.int64)
