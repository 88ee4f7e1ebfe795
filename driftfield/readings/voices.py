"""What buyers wrote about a niche: read once with every analysis, packed, and unpacked when it is asked for."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import Floats, Ints
from driftfield.core.voices import Corpus, ReadTexts, Tone, Topics, WholeTexts, bare_of

from .models import NicheVoices

KEPT = 4  # Niches whose texts are kept in memory, up to some megabytes each.
_HEAD = 4  # Bytes that say how long a table is.
_WHOLE = (
    "token",
    "sentence",
    "text",
    "begin",
    "end",
    "of",
    "tone",
    "kind",
    "broken",
)  # Whole numbers.


@dataclass(frozen=True, slots=True)
class StoredVoices:
    """Texts about a niche in one language.

    whole: what they say. keys, listings: (texts,) the voice of each text and its listing, −1 for none. helpful:
    (texts,), NaN for unknown.
    """

    language: str
    copies: int
    whole: WholeTexts
    keys: Ints
    listings: Ints
    helpful: Floats

    @property
    def read(self) -> ReadTexts:
        """All but the questions."""
        return self.whole.read


def voices_of(market_id: str, niche_id: str) -> list[tuple[str, int, bool]]:
    """Languages in which something is written about a niche, with how many texts and whether they were read;
    most texts first."""
    found = NicheVoices.objects.filter(market__market_id=market_id, niche_id=niche_id)
    rows = [
        (one.language, one.texts, bool(one.tables))
        for one in found.only("language", "texts", "tables")
    ]
    return sorted(rows, key=lambda row: (-row[1], row[0]))


def stored_voices(market_id: str, niche_id: str, language: str) -> StoredVoices | None:
    """What was read of a niche in one language; None where nothing was. Not to be written to."""
    found = (
        NicheVoices.objects.filter(
            market__market_id=market_id, niche_id=niche_id, language=language
        )
        .values_list("pk", "mark")
        .first()
    )
    return None if found is None else _unpacked(*found)


@lru_cache(maxsize=KEPT)
def _unpacked(key: int, mark: str) -> StoredVoices | None:
    row = NicheVoices.objects.get(pk=key)
    return unpack(row.language, row.copies, bytes(row.tables)) if row.tables else None


def contrasts_in(market_id: str, niche_id: str, language: str) -> dict[str, list[dict[str, Any]]]:
    """What sets a niche's texts in a language apart, by contrast; empty where nothing was read."""
    found = NicheVoices.objects.filter(
        market__market_id=market_id, niche_id=niche_id, language=language
    )
    row = found.values_list("contrasts", flat=True).first()
    return row or {}


def pack(voices: StoredVoices) -> bytes:
    """Everything in four tables, one behind the other, each an Arrow IPC stream after its length."""
    read, corpus = voices.read, voices.read.corpus
    topic = read.topics.stem[read.topics.bare] if len(corpus.stems) else np.zeros(0, dtype=np.int64)
    whole = voices.whole
    asked = whole.asked
    none = np.full(len(asked.stems), -1)
    blank = np.full(len(asked.text), 0.0)
    tables = [
        pl.DataFrame(
            {
                "stem": corpus.stems + asked.stems,
                "shown": corpus.shown + asked.shown,
                "topic": np.concatenate([topic, none]).astype(np.int32),
            },
            schema_overrides={"stem": pl.String, "shown": pl.String},
        ),
        pl.DataFrame(
            {
                "token": np.concatenate([corpus.token, asked.token]).astype(np.int32),
                "sentence": np.concatenate([corpus.sentence, asked.sentence]).astype(np.int32),
            }
        ),
        pl.DataFrame(
            {
                "text": np.concatenate([corpus.text, asked.text]).astype(np.int32),
                "begin": np.concatenate([corpus.begin, asked.begin]).astype(np.int16),
                "end": np.concatenate([corpus.end, asked.end]).astype(np.int16),
                "of": np.concatenate([read.topics.of, blank - 1]).astype(np.int32),
                "strength": np.concatenate([read.topics.strength, blank]).astype(np.float32),
                "tone": np.concatenate([read.tone.of, blank]).astype(np.int8),
                "asks": whole.asks,
                "wishes": whole.wishes,
                "broken": whole.broken.astype(np.int8),
            }
        ),
        pl.DataFrame(
            {
                "key": voices.keys,
                "listing": voices.listings,
                "kind": whole.kinds.astype(np.int8),
                "helpful": voices.helpful.astype(np.float32),
                "rating": _filled(read.rating, len(voices.keys)).astype(np.float32),
                "day": _filled(read.day, len(voices.keys)).astype(np.float32),
            }
        ),
        pl.DataFrame(
            {
                "learnt": [read.tone.learnt],
                "stems": [len(corpus.stems)],
                "tokens": [len(corpus.token)],
                "sentences": [len(corpus.text)],
                "texts": [corpus.texts],
            }
        ),
    ]
    out = io.BytesIO()
    for table in tables:
        buffer = io.BytesIO()
        table.write_ipc_stream(buffer, compression="zstd", compat_level=pl.CompatLevel.oldest())
        packed = buffer.getvalue()
        out.write(len(packed).to_bytes(_HEAD, "little"))
        out.write(packed)
    return out.getvalue()


def _filled(values: Floats, size: int) -> Floats:
    out = np.full(size, np.nan)
    out[: len(values)] = values
    return out


def unpack(language: str, copies: int, packed: bytes) -> StoredVoices:
    """What ``pack`` packed."""
    view, tables, at = memoryview(packed), [], 0
    while at < len(view):
        size = int.from_bytes(view[at : at + _HEAD], "little")
        at += _HEAD
        tables.append(pl.read_ipc_stream(io.BytesIO(view[at : at + size])))
        at += size
    stems, tokens, sentences, texts, head = tables
    learnt, own_stems, own_tokens, own_sentences, own_texts = head.row(0)
    every = {
        name: table[name].to_numpy()
        for table in (tokens, sentences, texts)
        for name in table.columns
    }
    whole = {name: every[name].astype(np.int64) for name in _WHOLE}
    names, shown = stems["stem"].to_list(), stems["shown"].to_list()

    def corpus(first: bool) -> Corpus:
        of = [
            slice(None, n) if first else slice(n, None)
            for n in (own_stems, own_tokens, own_sentences)
        ]
        return Corpus(
            names[of[0]], shown[of[0]], whole["token"][of[1]], whole["sentence"][of[1]],
            whole["text"][of[2]], whole["begin"][of[2]], whole["end"][of[2]],
            own_texts if first else len(texts) - own_texts,
        )  # fmt: skip

    told = corpus(True)
    bare = bare_of(told.stems)
    topic = stems["topic"].to_numpy().astype(np.int64)[:own_stems]
    of_bare = np.full(int(bare.max(initial=-1)) + 1, -1, dtype=np.int64)
    of_bare[bare] = topic
    said = np.unique(np.stack([told.sentence, bare[told.token]]), axis=1)[1] if len(bare) else bare
    often = np.bincount(said, minlength=len(of_bare))
    leading = [
        sorted(np.flatnonzero(of_bare == one).tolist(), key=lambda stem: -often[stem])
        for one in range(int(topic.max(initial=-1)) + 1)
    ]
    read = ReadTexts(
        told,
        Topics(
            whole["of"][:own_sentences], every["strength"][:own_sentences].astype(float), of_bare,
            bare, leading,
        ),
        Tone(whole["tone"][:own_sentences], bool(learnt)),
        every["rating"][:own_texts].astype(float),
        every["day"][:own_texts].astype(float),
    )  # fmt: skip
    own = WholeTexts(
        np.arange(len(texts)), read, corpus(False), whole["kind"], every["asks"], every["wishes"],
        whole["broken"],
    )  # fmt: skip
    return StoredVoices(
        language, copies, own, every["key"].astype(np.int64), every["listing"].astype(np.int64),
        every["helpful"].astype(float),
    )  # fmt: skip
