"""What buyers of a niche write, with what was decided on it: themes, questions, wishes and promises."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import Bools, Ints, wilson
from driftfield.core.market.said import LEADERS
from driftfield.core.voices import (
    KINDS,
    PROMISED_BY,
    Promise,
    Theme,
    concern_of,
    gather,
    read_corpus,
    wish_stems,
)  # fmt: skip
from driftfield.desk.models import Pin, ThemeDecision
from driftfield.market.models import Listing
from driftfield.readings.niche_data import load_niche_data
from driftfield.readings.plain import plain
from driftfield.readings.reading import Reading
from driftfield.readings.voices import contrasts_in, voices_of

from .laid import Laid, lay, own_id
from .sentences import Sentences, pins_of
from .told import (
    TONES,
    BrokenPromise,
    Made,
    NicheThemes,
    OfLeader,
    Promised,
    Spoken,
    ToldAsked,
    ToldTheme,
)  # fmt: skip

TELLING = 5  # Sentences that are told of a theme at first.
SHOWN = 12  # Questions, and wishes, that are told.
NAMED = 5  # Listings that are named for a theme, and of a promise.
LEVEL = 0.9
LONGEST_TELLING = 240  # Letters of a sentence that tells; a longer one tells less at a glance.


def read_themes(reading: Reading, language: str = "") -> NicheThemes:
    """Everything that is told of what a niche's buyers write."""
    market, niche = reading.market.market_id, reading.niche.niche_id
    languages = [Spoken(*one) for one in voices_of(market, niche)]
    pins = pins_of(reading)
    rate = reading.figures["barriers.return_rate"]
    laid = lay(reading, language)
    if laid is None:
        return NicheThemes(languages=languages, language=language, return_rate=rate, pins=pins)
    return _Telling(laid, languages, pins, rate).all()


class _Telling:
    """One niche's texts, themes and leaders, and what is told of them."""

    def __init__(
        self, laid: Laid, languages: list[Spoken], pins: list[Pin], rate: float | None
    ) -> None:
        self.laid, self.languages, self.pins, self.rate = laid, languages, pins, rate
        stored = laid.stored
        self.stored, self.read = stored, stored.read
        loaded = load_niche_data(laid.reading)
        self.leaders = (
            [] if loaded is None else [loaded.keys[at] for at in loaded.clicked[:LEADERS]]
        )
        about = stored.listings[: stored.whole.told]
        self.known = np.unique(
            np.concatenate([about[about >= 0], np.array(self.leaders, np.int64)])
        )
        place = {int(key): at for at, key in enumerate(self.known)}
        self.group = np.array([place.get(int(key), -1) for key in about], dtype=np.int64)
        self.leading = np.array([place[key] for key in self.leaders], dtype=np.int64)
        self.notes = stored.whole.notes
        self.sentences = Sentences(stored, pins)

    def all(self) -> NicheThemes:
        laid, stored, read, whole = self.laid, self.stored, self.read, self.stored.whole
        day = read.day[~np.isnan(read.day)]
        about = np.bincount(self.group[self.group >= 0], minlength=len(self.known))
        kinds = np.bincount(whole.kinds, minlength=len(KINDS))
        themes = [self.theme(one) for one in laid.themes if len(one.texts) or not one.found]
        questions = self.asked(whole.asks)
        wishes = self.asked(whole.wishes, wish_stems(stored.language))
        promises = self.promises()
        reading = laid.reading
        contrasts = contrasts_in(reading.market.market_id, reading.niche.niche_id, stored.language)
        self.sentences.fill()
        return NicheThemes(
            languages=self.languages,
            language=stored.language,
            texts=whole.told,
            copies=stored.copies,
            kinds=dict(zip(KINDS, kinds.tolist(), strict=True)),
            since=date.fromordinal(int(day.min())) if day.size else None,
            until=date.fromordinal(int(day.max())) if day.size else None,
            learnt=read.tone.learnt,
            leaders=int((about[self.leading] > 0).sum()),
            leaders_of=len(self.leaders),
            return_rate=self.rate,
            themes=themes,
            questions=questions,
            wishes=wishes,
            promises=promises,
            contrasts=contrasts,
            decisions=[self.made(one) for one in laid.decisions],
            pins=self.pins,
        )

    def theme(self, one: Theme) -> ToldTheme:
        applied = self.laid.applied
        concern = concern_of(one.texts, self.group, len(self.known), one.share)
        order = np.argsort(-concern.own, kind="stable")[:NAMED]
        most = [at for at in order.tolist() if concern.own[at]]
        titles = titles_of(self.known[at] for at in most)
        notes = float(np.isin(self.notes, one.texts).sum())
        share = low = high = np.nan
        if self.notes.size:
            share = notes / len(self.notes)
            low, high = _interval(notes, len(self.notes))
        rate = np.nan if self.rate is None else self.rate
        return ToldTheme(
            id=one.id,
            name=one.name,
            tone=TONES[one.tone],
            found=one.found,
            hidden=one.id in applied.hidden,
            words=self._words(one),
            texts=len(one.texts),
            share=plain(one.share),
            low=plain(one.low),
            high=plain(one.high),
            stars=plain(one.effect),
            late=plain(one.late),
            early=plain(one.early),
            grown={1: "more", -1: "less", 0: None}[one.grown],
            listings=int((concern.own > 0).sum()),
            most=[
                OfLeader(*titles[key], int(concern.own[at]), int(concern.whole[at]))
                for at in most
                if (key := int(self.known[at])) in titles  # Its import may just have been undone.
            ],
            sharing=int(concern.has[self.leading].sum()),
            lacking=int(concern.lacks[self.leading].sum()),
            notes=int(notes),
            returned=plain(share),
            returned_low=plain(low),
            returned_high=plain(high),
            spared=plain(share * rate),
            spared_low=plain(low * rate),
            spared_high=plain(high * rate),
            merged=applied.merged.get(one.id, []),
            remedy=applied.remedies.get(one.id, ""),
            sentences=self.sentences.of(self._differing(one.sentences), one.stems),
        )

    def _words(self, one: Theme) -> list[str]:
        """The words of a theme as they are mostly written."""
        shown = {}
        for stem, written in zip(self.read.corpus.stems, self.read.corpus.shown, strict=True):
            if stem in one.stems:
                shown[stem] = written
        return [shown.get(stem, stem) for stem in one.stems]

    def _differing(self, rows: Ints) -> list[int]:
        """The first of some sentences, each of another text and in other words, none too long for a glance."""
        corpus, found = self.sentences.whole, []
        used: set[int | tuple[int, ...]] = set()
        for at in rows.tolist():
            text = int(corpus.text[at])
            if text in used or corpus.end[at] - corpus.begin[at] > LONGEST_TELLING:
                continue
            # Two that have the same words say the same.
            words = tuple(corpus.words_in(at))
            if words in used:
                continue
            used |= {text, words}
            found.append(at)
            if len(found) == TELLING:
                break
        return found or rows[:1].tolist()

    def asked(self, rows: Bools, without: Collection[str] = ()) -> list[ToldAsked]:
        found = gather(
            self.sentences.whole, np.flatnonzero(rows), self.stored.helpful, without=without
        )[:SHOWN]
        pages = self._pages() if found else []
        return [
            ToldAsked(
                one.name, len(one.texts), plain(one.helpful),
                sum(set(one.stems) <= page for page in pages), len(pages),
                self.sentences.of(self._differing(one.sentences), one.stems),
            )
            for one in found
        ]  # fmt: skip

    def _pages(self) -> list[set[str]]:
        """The stems on each leader's page: of its title and its attributes."""
        facts = Listing.objects.in_bulk(self.leaders)
        pages: list[set[str]] = []
        for one in facts.values():
            words = [one.title, *(f"{name} {value}" for name, value in one.attributes.items())]
            pages.append(set(read_corpus([". ".join(words)], self.stored.language).stems))
        return pages

    def promises(self) -> list[BrokenPromise]:
        stored, made = self.stored, []
        for bit, promise in enumerate(Promise):
            rows = np.flatnonzero((stored.whole.broken >> bit) & 1)
            texts = np.unique(self.read.corpus.text[rows])
            if not texts.size:
                continue
            low, high = _interval(len(texts), len(self.notes))
            own = [int(key) for key in np.unique(stored.listings[texts]) if key >= 0]
            made.append(
                BrokenPromise(
                    promise.value, len(texts), len(texts) / len(self.notes), low, high, len(own),
                    _promised(own, promise), self.sentences.of(self._differing(rows), ()),
                )
            )  # fmt: skip
        return sorted(made, key=lambda one: -one.notes)

    def made(self, one: ThemeDecision) -> Made:
        return Made(
            one.pk, one.act, _called(one.of), one.name, one.words, _called(one.into), TONES[one.tone],
            one.text, one.made_at.date(), own_id(one) in self.laid.applied.idle,
        )  # fmt: skip


def _called(named: Mapping[str, Any] | None) -> str:
    return "" if named is None else str(named.get("name", named["id"]))


def _interval(own: float, whole: float) -> tuple[float, float]:
    low, high = wilson(np.array([float(own)]), np.array([float(whole)]), LEVEL)
    return float(low[0]), float(high[0])


def _promised(keys: Sequence[int], promise: Promise) -> list[Promised]:
    words = PROMISED_BY[promise]
    found = []
    for one in Listing.objects.filter(pk__in=keys[:500]).order_by("pk"):
        for name, value in one.attributes.items():
            if any(word in name.lower() for word in words):
                found.append(Promised(one.listing_id, one.title, name, str(value)))
    return found[:NAMED]


def titles_of(keys: Iterable[int]) -> dict[int, tuple[str, str]]:
    """Id and title of some listings, by key."""
    rows = Listing.objects.filter(pk__in=[int(key) for key in keys])
    return {
        pk: (own, title or own) for pk, own, title in rows.values_list("pk", "listing_id", "title")
    }
