"""Sentences as buyers wrote them, with what is known of their texts."""

from __future__ import annotations

from collections.abc import Sequence

from driftfield.core.market import NICHE
from driftfield.core.voices import Theme, marked_words
from driftfield.desk.models import Pin
from driftfield.desk.niche_changes import parts_of
from driftfield.market.models import Voice
from driftfield.readings.reading import Reading
from driftfield.readings.voices import StoredVoices

from .laid import Laid
from .told import Sentence


class Sentences:
    """Sentences of stored texts with all that is told of them; their texts are asked for in one go."""

    def __init__(self, stored: StoredVoices, pins: Sequence[Pin]) -> None:
        self.stored, self.whole = stored, stored.whole.all
        self.pinned = {(one.voice_id, one.said): one.pk for one in pins}
        self.waiting: list[tuple[list[Sentence], Sequence[int], tuple[str, ...]]] = []

    def of(self, rows: Sequence[int], stems: tuple[str, ...]) -> list[Sentence]:
        """A list that ``fill`` fills."""
        out: list[Sentence] = []
        self.waiting.append((out, rows, stems))
        return out

    def fill(self) -> None:
        """Fill every list that was asked for."""
        stored, corpus = self.stored, self.whole
        rows = {at for _, some, _ in self.waiting for at in some}
        keys = {int(stored.keys[corpus.text[at]]) for at in rows}
        voices: dict[int, Voice] = {}
        ordered = sorted(keys)
        for start in range(0, len(ordered), 900):
            voices |= Voice.objects.select_related("listing").in_bulk(ordered[start : start + 900])
        for out, some, stems in self.waiting:
            for at in some:
                voice = voices.get(int(stored.keys[corpus.text[at]]))
                if voice is not None:  # Undone meanwhile: its texts are read anew in a moment.
                    out.append(self._sentence(voice, at, stems))
        self.waiting = []

    def _sentence(self, voice: Voice, at: int, stems: tuple[str, ...]) -> Sentence:
        end = int(self.whole.end[at])
        end += voice.text[end : end + 1] == "?"
        said = voice.text[self.whole.begin[at] : end].strip()
        listing = voice.listing
        return Sentence(
            voice.voice_id, said, marked_words(said, stems, self.stored.language), voice.kind,
            voice.rating, voice.day, listing.listing_id if listing else None,
            (listing.title or listing.listing_id) if listing else None,
            self.pinned.get((voice.voice_id, said)),
        )  # fmt: skip


def pins_of(reading: Reading) -> list[Pin]:
    """Sentences that are pinned to a niche, or to one that is part of it now."""
    market = reading.market.market_id
    own = parts_of(market, reading.niche.niche_id)
    pinned = Pin.objects.filter(market_id=market, kind=NICHE.key, subject__in=own)
    return list(pinned.filter(removed_at=None))


def sentences_of_theme(laid: Laid, theme: Theme, start: int, most: int) -> list[Sentence]:
    """A page of all sentences that say a theme, the most telling first."""
    sentences = Sentences(laid.stored, pins_of(laid.reading))
    out = sentences.of(theme.sentences[start : start + most].tolist(), theme.stems)
    sentences.fill()
    return out
