"""Read what buyers wrote about a market's niches, and keep what was read until the texts are others."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from hashlib import blake2b
from typing import Any

import numpy as np
from django.db.models import F

from driftfield.core.base import Floats, Ints
from driftfield.core.market.said import Said, SaidReader
from driftfield.core.market.words import LANGUAGES
from driftfield.core.voices import (
    ENOUGH,
    Phrase,
    Summary,
    contrasts_of,
    elsewhere,
    phrase_counts,
    read_corpus,
    read_whole,
    said_of,
    summarise,
    told_apart,
    written_as,
)
from driftfield.market.models import Market, Niche, Term, Voice
from driftfield.market.own_niches import slices
from driftfield.readings.chosen import chosen_for
from driftfield.readings.load import Part
from driftfield.readings.method import method_digest
from driftfield.readings.models import NicheVoices
from driftfield.readings.voices import StoredVoices, pack, unpack

_FIELDS = ("pk", "text", "kind", "rating", "day", "listing_id", "helpful")
_About = tuple[str, str]  # A niche by its id, and a language.


class VoicesReader:
    """Reads all that is written about the niches of a market, each niche and language by itself.

    A text is about the niche that it names, else about the one that brings most of its listing's clicks, else
    about that of its term. Texts in a language without a stemmer are counted and not read.
    """

    def __init__(self, market: Market) -> None:
        self.market = market
        self.had = {
            (one.niche_id, one.language): one
            for one in NicheVoices.objects.filter(market=market).defer("tables")
        }

    def of(self, part: Part) -> SaidReader | None:
        """What reads the texts about a part of the market; None where nobody wrote anything."""
        if not Voice.objects.exists():
            return None

        def read(home: Ints, leaders: Sequence[Ints]) -> Said:
            return self._read(part, home, leaders)

        return read

    def finish(self) -> None:
        """Forget what was read of niches about which nothing is written any more."""
        NicheVoices.objects.filter(pk__in=[one.pk for one in self.had.values()]).delete()

    def _read(self, part: Part, home: Ints, leaders: Sequence[Ints]) -> Said:
        place = {niche: at for at, niche in enumerate(part.data.subjects)}
        by_listing = {
            part.listings[at]: part.data.subjects[niche]
            for at, niche in enumerate(home.tolist())
            if niche >= 0
        }
        found: dict[int, Summary] = {}
        most: dict[int, int] = {}
        beside = _Beside(part)
        for (niche, language), keys in _about(self.market, by_listing).items():
            at = place.get(niche)
            if at is None:  # Of another part, which reads it.
                continue
            stored, many = self._stored(niche, language, keys)
            if stored is not None:
                beside.add(at, language, stored)
            # The figures are those of the language in which most is written.
            if stored is not None and many > most.get(at, 0):
                keys_of = np.array(
                    [part.listings[one] for one in leaders[at].tolist()], dtype=np.int64
                )
                found[at] = summarise(stored.whole, stored.listings, keys_of)
                most[at] = many
        self._keep(part, beside)
        return said_of(found, len(part.data.subjects))

    def _keep(self, part: Part, beside: _Beside) -> None:
        """Keep what sets each niche's texts apart; it may be others that changed."""
        rows = NicheVoices.objects.filter(market=self.market).defer("tables")
        by_name = {(one.niche_id, one.language): one for one in rows}
        for (at, language), found in beside.contrasts().items():
            row = by_name[part.data.subjects[at], language]
            told = {name: [asdict(one) for one in phrases] for name, phrases in found.items()}
            if row.contrasts != told:
                row.contrasts = told
                row.save(update_fields=["contrasts"])

    def _stored(
        self, niche: str, language: str, keys: list[int]
    ) -> tuple[StoredVoices | None, int]:
        """What the texts say, read or as it was read before, and how many there are."""
        rows = _rows(keys)
        mark = _mark(rows, language)
        before = self.had.pop((niche, language), None)
        if before is not None and before.mark == mark:
            packed = before.tables
            return (
                unpack(language, before.copies, bytes(packed)) if packed else None
            ), before.texts
        stored, many = _read(rows, language)
        NicheVoices.objects.update_or_create(
            market=self.market,
            niche_id=niche,
            language=language,
            defaults={
                "mark": mark,
                "texts": many,
                "copies": 0 if stored is None else stored.copies,
                "tables": b"" if stored is None else pack(stored),
            },
        )
        return stored, many


class _Beside:
    """The phrases of the niches of a part of a market, to be set against one another."""

    def __init__(self, part: Part) -> None:
        self.part = part
        category = part.data.category
        self.category = [-1] * len(part.niches) if category is None else category.tolist()
        self.own: dict[tuple[int, str], tuple[Counter[tuple[str, ...]], int]] = {}
        self.within: dict[tuple[int, str], dict[str, list[Phrase]]] = {}
        self.shown: dict[tuple[int, str], dict[str, str]] = {}
        self.all: dict[tuple[int | None, str], tuple[Counter[tuple[str, ...]], int]] = {}
        terms: dict[int, list[str]] = defaultdict(list)
        for place, term in zip(part.data.term_subject.tolist(), part.term_names, strict=True):
            terms[place].append(term)
        self.terms = terms

    def add(self, at: int, language: str, stored: StoredVoices) -> None:
        """A niche's texts in a language."""
        corpus = stored.read.corpus
        counts = phrase_counts(corpus)
        self.own[at, language] = counts, corpus.texts
        self.within[at, language] = contrasts_of(stored.read)
        self.shown[at, language] = written_as(corpus)
        for group in (self.category[at], None):
            whole, texts = self.all.get((group, language), (Counter(), 0))
            whole.update(counts)
            self.all[group, language] = whole, texts + corpus.texts

    def contrasts(self) -> dict[tuple[int, str], dict[str, list[Phrase]]]:
        """Of each niche and language what is said here more than elsewhere, and within its texts.

        Elsewhere is the rest of its category, or of the market where too little is written about that.
        """
        out = {}
        for (at, language), (counts, texts) in self.own.items():
            found = dict(self.within[at, language])
            for name, group in (("category", self.category[at]), ("market", None)):
                whole, every = self.all[group, language]
                if group == -1 or every - texts < ENOUGH:
                    continue
                found[name] = told_apart(
                    counts, texts, elsewhere(whole, counts), every - texts, self.shown[at, language],
                    without=self._named(at, language),
                )  # fmt: skip
                break
            out[at, language] = found
        return out

    def _named(self, at: int, language: str) -> set[str]:
        """Stems by which the niche is called: of its name, and of most of its terms."""
        terms = [set(read_corpus([term], language).stems) for term in self.terms[at]]
        often = Counter(stem for stems in terms for stem in stems)
        usual = {stem for stem, many in often.items() if 2 * many >= len(terms)}
        return usual | set(read_corpus([self.part.niche_names[at]], language).stems)


def _about(market: Market, by_listing: dict[int, str]) -> dict[_About, list[int]]:
    """Keys of the texts about each niche in each language."""
    usual = chosen_for(market.market_id).language
    niches = set(Niche.objects.filter(market=market).values_list("niche_id", flat=True))
    by_term: dict[str | None, str] = {}
    if Voice.objects.exclude(term=None).exists():
        by_term = _niches_of_terms(market)
    moved = _moved(market)
    about: dict[_About, list[int]] = defaultdict(list)
    voices = Voice.objects.values_list("pk", "niche_id", "listing_id", "term", "language")
    for key, named, listing, term, language in voices.order_by("pk").iterator():
        niche = named or (by_listing.get(listing) if listing else None) or by_term.get(term)
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
    day = _floats(None if row[4] is None else row[4].toordinal() for row in rows)
    whole = read_whole(
        [row[1] for row in rows],
        [row[2] for row in rows],
        _floats(row[3] for row in rows),
        day,
        language,
    )
    own = [rows[at] for at in whole.kept.tolist()]
    stored = StoredVoices(
        language,
        len(rows) - len(own),
        whole,
        _ints(row[0] for row in own),
        _ints(-1 if row[5] is None else row[5] for row in own),
        _floats(row[6] for row in own),
    )
    return stored, len(own)


def _floats(values: Iterable[float | None]) -> Floats:
    return np.array([np.nan if one is None else one for one in values], dtype=float)


def _ints(values: Iterable[int]) -> Ints:
    return np.array(list(values), dtype=np.int64)
