"""Themes of what buyers wrote, niche by niche, on files."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, wilson
from driftfield.core.market.words import LANGUAGES
from driftfield.core.voices import (
    COMPLAINT,
    PRAISE,
    Corpus,
    ReadTexts,
    Theme,
    apply_decisions,
    broken_promises,
    copies_of,
    gather,
    plain_words,
    questions,
    read_corpus,
    read_texts,
    sentences_of,
    themes_of,
    wish_stems,
    wishes,
)  # fmt: skip

from .package import Package
from .theme_lines import ThemeLine, decided

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
WHOLE = ""  # Texts about no niche that is known.
TELLING = 5  # Sentences of a theme that are written out.
GROWN = {1: "more", -1: "less", 0: ""}
TONES = {COMPLAINT: "complaint", PRAISE: "praise", 0: "either"}
OF = {
    "themes": COLUMNS, "questions": ASKED_COLUMNS, "wishes": ASKED_COLUMNS, "returns": PROMISE_COLUMNS,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Found:
    """What was found: records of the columns of ``OF``.

    texts: how many were read; copies: how many more said the same.
    """

    rows: list[dict[str, Any]]
    texts: int
    copies: int


def find_voices(
    package: Package, of: str, niche: str, language: str, decisions: Sequence[ThemeLine] = ()
) -> Found:
    """Find what is said about each niche, or about one: what most texts say first.

    ``of`` themes: what reviews, notes on returns and comments praise and complain of, after the decisions that
    were made; ``questions`` and ``wishes``: what several texts ask or wish for in the same words; ``returns``:
    what notes on returns say was not as promised. A text and its copies, whatever their capitals and points,
    count once (``copies_of``). ``language`` is that of texts that do not say theirs.

    Raises CoreError where there are no texts, none of the niche, or one is in a language without a stemmer.
    """
    frame = package.frames.get("voices")
    if frame is None:
        raise CoreError("There are no texts: give a voices table with voice_id, kind and text.")
    wanted = {"questions": None, "wishes": None, "returns": ["return"]}
    kinds = wanted.get(of, ["review", "return", "comment"])
    texts = _told(
        frame if kinds is None else frame.filter(pl.col("kind").is_in(kinds)), package, language
    )
    spoken = texts["language"].unique().to_list()
    unknown = [one for one in spoken if one not in LANGUAGES]
    if unknown:
        raise CoreError(
            f"There is no stemmer for “{unknown[0]}”. Languages: {', '.join(LANGUAGES)}."
        )
    if niche:
        texts = texts.filter(pl.col("niche") == niche)
        if not texts.height:
            raise CoreError(f"No text is about a niche “{niche}”.")
    groups = [
        group.filter(pl.Series(copies_of(group["plain"].to_list()) < 0))
        for group in texts.partition_by("niche", "language", maintain_order=True)
    ]
    rows: list[dict[str, Any]] = []
    for group in sorted(groups, key=lambda one: (-one.height, str(one["niche"][0]))):
        rows += _records(group, of, decisions)
    read = sum(group.height for group in groups)
    return Found(rows, read, texts.height - read)


def _told(frame: pl.DataFrame, package: Package, language: str) -> pl.DataFrame:
    """The texts with every column there is to know, the niche each is about, and their bare words."""
    for name, kind in (("rating", pl.Float64), ("day", pl.Date), ("listing_id", pl.String),
                       ("niche_id", pl.String), ("term", pl.String), ("language", pl.String),
                       ("helpful", pl.Float64)):  # fmt: skip
        if name not in frame.columns:
            frame = frame.with_columns(pl.lit(None, kind).alias(name))
    by_listing, by_term = _niches_of(package)
    niche = pl.coalesce(
        pl.col("niche_id"),
        pl.col("listing_id").replace_strict(by_listing, default=None, return_dtype=pl.String),
        pl.col("term").replace_strict(by_term, default=None, return_dtype=pl.String),
        pl.lit(WHOLE),
    )
    plain = pl.col("text").map_elements(plain_words, return_dtype=pl.String)
    return frame.with_columns(
        niche.alias("niche"),
        plain.alias("plain"),
        pl.col("language").fill_null(language).str.to_lowercase(),
    )


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


def _records(group: pl.DataFrame, of: str, decisions: Sequence[ThemeLine]) -> list[dict[str, Any]]:
    if of == "themes":
        return _theme_records(group, decisions)
    head = {"niche_id": group["niche"][0] or None, "language": group["language"][0]}
    if of == "returns":
        return [{**head, **row} for row in _promise_records(group)]
    return [{**head, **row} for row in _asked_records(group, of)]


def _theme_records(group: pl.DataFrame, decisions: Sequence[ThemeLine]) -> list[dict[str, Any]]:
    texts, language = group["text"].to_list(), group["language"][0]
    ordinal = date(1970, 1, 1).toordinal()
    day = group["day"].cast(pl.Date).cast(pl.Int32).cast(pl.Float64).fill_null(np.nan).to_numpy()
    returned = group["kind"].to_numpy() == "return"
    read = read_texts(
        texts,
        rating=group["rating"].cast(pl.Float64).fill_null(np.nan).to_numpy(),
        lean=np.where(returned, COMPLAINT, 0),
        day=day + ordinal,
        language=language,
    )
    own = [one for one in decisions if one.about(group["niche"][0], language)]
    applied = apply_decisions(read, decided(own, read, language), language)
    listings = group["listing_id"].to_list()
    return [
        {
            **_record(theme, read, texts, listings, group),
            "notes": int(returned[theme.texts].sum()),
            "returned": _known(returned[theme.texts].sum() / returned.sum()) if returned.any() else None,
            "remedy": applied.remedies.get(theme.id),
        }
        for theme in themes_of(read, applied.sides)
        if theme.id not in applied.hidden
    ]  # fmt: skip


def _asked_records(group: pl.DataFrame, of: str) -> list[dict[str, Any]]:
    texts, language = group["text"].to_list(), group["language"][0]
    corpus = read_corpus(texts, language)
    wishing = wishes(corpus, texts, language)
    rows, without = wishing, wish_stems(language)
    if of == "questions":
        asking = questions(corpus, texts, group["kind"].to_numpy() == "question")
        rows, without = np.setdiff1d(asking, wishing), set()
    helpful = group["helpful"].cast(pl.Float64).fill_null(np.nan).to_numpy()
    said = sentences_of(corpus, texts)
    return [
        {
            "name": one.name, "texts": len(one.texts), "helpful": _known(one.helpful),
            "sentences": list(dict.fromkeys(said[at] for at in one.sentences.tolist()))[:TELLING],
        }
        for one in gather(corpus, rows, helpful, without=without)
    ]  # fmt: skip


def _promise_records(group: pl.DataFrame) -> list[dict[str, Any]]:
    texts, language = group["text"].to_list(), group["language"][0]
    corpus = read_corpus(texts, language)
    said = sentences_of(corpus, texts)
    rows = []
    for promise, found in broken_promises(said, language).items():
        own = np.unique(corpus.text[found])
        low, high = wilson(np.array([float(len(own))]), np.array([float(len(texts))]), 0.9)
        listings = {one for one in group["listing_id"][own.tolist()].to_list() if one is not None}
        if own.size:
            rows.append(
                {
                    "promise": promise.value, "notes": len(own), "of": len(texts),
                    "share": _known(len(own) / len(texts)), "low": _known(float(low[0])),
                    "high": _known(float(high[0])), "listings": len(listings),
                    "sentences": list(dict.fromkeys(said[at] for at in found.tolist()))[:TELLING],
                }
            )  # fmt: skip
    return sorted(rows, key=lambda row: (-row["notes"], row["promise"]))


def _record(
    theme: Theme,
    read: ReadTexts,
    texts: Sequence[str],
    listings: Sequence[str | None],
    group: pl.DataFrame,
) -> dict[str, Any]:
    about = Counter(own for at in theme.texts.tolist() if (own := listings[at]) is not None)
    often = sorted(about, key=lambda one: (-about[one], one))
    return {
        "niche_id": group["niche"][0] or None, "language": group["language"][0], "theme": theme.name,
        "tone": TONES[theme.tone], "texts": len(theme.texts), "of": len(texts),
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
