"""Themes of what buyers wrote, niche by niche, on files."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, wilson
from driftfield.core.market.words import LANGUAGES
from driftfield.core.voices import (
    COMPLAINT,
    PRAISE,
    Corpus,
    Promise,
    ReadTexts,
    Theme,
    WholeTexts,
    apply_decisions,
    gather,
    plain_words,
    sentences_of,
    themes_of,
    wish_stems,
)  # fmt: skip

from .package import Package
from .theme_lines import ThemeLine, decided
from .voice_groups import about_niches, read_group

COLUMNS = (
    "niche_id", "language", "theme", "tone", "texts", "of", "share", "low", "high", "stars", "late", "early",
    "grown", "listings", "most_of", "notes", "returned", "remedy", "sentences",
)  # fmt: skip
ASKED_COLUMNS = ("niche_id", "language", "name", "texts", "helpful", "sentences")
PROMISE_COLUMNS = (
    "niche_id",
    "language",
    "promise",
    "notes",
    "of",
    "share",
    "low",
    "high",
    "listings",
    "sentences",
)
TELLING = 5  # Sentences of a theme that are written out.
GROWN = {1: "more", -1: "less", 0: ""}
TONES = {COMPLAINT: "complaint", PRAISE: "praise", 0: "either"}
OF = {
    "themes": COLUMNS, "questions": ASKED_COLUMNS, "wishes": ASKED_COLUMNS, "returns": PROMISE_COLUMNS,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Found:
    """What was found: records of the columns of ``OF``.

    texts: how many were read; copies: how many more said the same. unread: texts by language without a stemmer.
    """

    rows: list[dict[str, Any]]
    texts: int
    copies: int
    unread: dict[str, int]


def find_voices(
    package: Package, of: str, niche: str, language: str, decisions: Sequence[ThemeLine] = ()
) -> Found:
    """Find what is said about each niche, or about one: what most texts say first.

    ``of`` themes: what reviews, notes on returns and comments praise and complain of, after the decisions that
    were made; ``questions`` and ``wishes``: what several texts ask or wish for in the same words; ``returns``:
    what notes on returns say was not as promised. A text and its copies, whatever their capitals and points,
    count once (``copies_of``). ``language`` is that of texts that do not say theirs; what is in a language
    without a stemmer is not read.

    Raises CoreError where there are no texts, none of the niche, none that can be read, or no stemmer for
    ``language``.
    """
    frame = package.frames.get("voices")
    if frame is None:
        raise CoreError("There are no texts: give a voices table with voice_id, kind and text.")
    texts = about_niches(frame, *_niches_of(package), language)
    if niche:
        texts = texts.filter(pl.col("niche") == niche)
        if not texts.height:
            raise CoreError(f"No text is about a niche “{niche}”.")
    can = pl.col("language").is_in(list(LANGUAGES))
    left = texts.filter(~can)["language"].value_counts(sort=True)
    unread = {str(name): int(many) for name, many in left.iter_rows()}
    texts = texts.filter(can)
    if language not in LANGUAGES or (unread and not texts.height):
        unknown = language if language not in LANGUAGES else next(iter(unread))
        raise CoreError(f"There is no stemmer for “{unknown}”. Languages: {', '.join(LANGUAGES)}.")
    groups = texts.partition_by("niche", "language", maintain_order=True)
    rows: list[dict[str, Any]] = []
    read = copies = 0
    for group in sorted(groups, key=lambda one: (-one.height, str(one["niche"][0]))):
        whole = read_group(group)
        kept = group[whole.kept.tolist()]
        rows += _records(kept, whole, of, decisions)
        read += kept.height
        copies += group.height - kept.height
    return Found(rows, read, copies, unread)


def _niches_of(package: Package) -> tuple[dict[str, str], dict[str, str]]:
    """The niche that brings most of each listing's clicks, and the niche of each term."""
    terms = package.frames.get("terms")
    if terms is None or "niche_id" not in terms.columns:
        return {}, {}
    owned = terms.select("term", "niche_id").drop_nulls()
    by_term = dict(owned.iter_rows())
    clicks = package.frames.get("term_clicks")
    if clicks is None:
        return {}, by_term
    most = (
        clicks.join(owned, on="term")
        .group_by("listing_id", "niche_id")
        .agg(pl.col("click_share").sum())
        .sort(["click_share", "niche_id"], descending=[True, False])
        .unique("listing_id", keep="first", maintain_order=True)
    )
    return dict(most.select("listing_id", "niche_id").iter_rows()), by_term


def _records(
    kept: pl.DataFrame, whole: WholeTexts, of: str, decisions: Sequence[ThemeLine]
) -> list[dict[str, Any]]:
    head = {"niche_id": kept["niche"][0] or None, "language": kept["language"][0]}
    if of == "themes":
        found = _theme_records(kept, whole, decisions)
    elif of == "returns":
        found = _promise_records(kept, whole)
    else:
        found = _asked_records(kept, whole, of)
    return [{**head, **row} for row in found]


def _theme_records(
    kept: pl.DataFrame, whole: WholeTexts, decisions: Sequence[ThemeLine]
) -> list[dict[str, Any]]:
    read, texts, language = whole.read, kept["text"].to_list(), kept["language"][0]
    own = [one for one in decisions if one.about(kept["niche"][0], language)]
    applied = apply_decisions(read, decided(own, read, language), language)
    listings, notes = kept["listing_id"].to_list(), len(whole.notes)
    rows = []
    for theme in themes_of(read, applied.sides):
        if theme.id not in applied.hidden:
            noted = int(np.isin(whole.notes, theme.texts).sum())
            rows.append(
                {
                    **_record(theme, read, texts, listings),
                    "notes": noted,
                    "returned": _known(noted / notes) if notes else None,
                    "remedy": applied.remedies.get(theme.id),
                }
            )
    return rows


def _asked_records(kept: pl.DataFrame, whole: WholeTexts, of: str) -> list[dict[str, Any]]:
    corpus, said = whole.all, sentences_of(whole.all, kept["text"].to_list())
    rows = np.flatnonzero(whole.wishes if of == "wishes" else whole.asks)
    without = wish_stems(kept["language"][0]) if of == "wishes" else ()
    helpful = kept["helpful"].cast(pl.Float64).fill_null(np.nan).to_numpy()
    return [
        {
            "name": one.name, "texts": len(one.texts), "helpful": _known(one.helpful),
            "sentences": list(dict.fromkeys(said[at] for at in one.sentences.tolist()))[:TELLING],
        }
        for one in gather(corpus, rows, helpful, without=without)
    ]  # fmt: skip


def _promise_records(kept: pl.DataFrame, whole: WholeTexts) -> list[dict[str, Any]]:
    corpus, said = whole.read.corpus, sentences_of(whole.read.corpus, kept["text"].to_list())
    many, rows = len(whole.notes), []
    for bit, promise in enumerate(Promise):
        found = np.flatnonzero((whole.broken >> bit) & 1)
        own = np.unique(corpus.text[found])
        if not own.size:
            continue
        low, high = wilson(np.array([float(len(own))]), np.array([float(many)]), 0.9)
        listings = {one for one in kept["listing_id"][own.tolist()].to_list() if one is not None}
        rows.append(
            {
                "promise": promise.value, "notes": len(own), "of": many, "share": _known(len(own) / many),
                "low": _known(float(low[0])), "high": _known(float(high[0])), "listings": len(listings),
                "sentences": list(dict.fromkeys(said[at] for at in found.tolist()))[:TELLING],
            }
        )  # fmt: skip
    return sorted(rows, key=lambda row: (-row["notes"], row["promise"]))


def _record(
    theme: Theme,
    read: ReadTexts,
    texts: Sequence[str],
    listings: Sequence[str | None],
) -> dict[str, Any]:
    about = Counter(own for at in theme.texts.tolist() if (own := listings[at]) is not None)
    often = sorted(about, key=lambda one: (-about[one], one))
    return {
        "theme": theme.name, "tone": TONES[theme.tone], "texts": len(theme.texts), "of": read.corpus.texts,
        "share": _known(theme.share), "low": _known(theme.low), "high": _known(theme.high),
        "stars": _known(theme.effect), "late": _known(theme.late), "early": _known(theme.early),
        "grown": GROWN[theme.grown], "listings": len(often), "most_of": often[:TELLING],
        "sentences": telling(theme, read.corpus, texts),
    }  # fmt: skip


def telling(theme: Theme, corpus: Corpus, texts: Sequence[str], most: int = TELLING) -> list[str]:
    """The sentences that say most of a theme, each of another text and in other words."""
    found: dict[str, str] = {}
    used: set[int] = set()
    for at in theme.sentences.tolist():
        text = int(corpus.text[at])
        said = texts[text][corpus.begin[at] : corpus.end[at]].strip()
        plain = plain_words(said)
        if text in used or plain in found:
            continue
        used.add(text)
        found[plain] = said
        if len(found) == most:
            break
    return list(found.values())


def _known(value: float) -> float | None:
    return None if np.isnan(value) else round(value, 4)
