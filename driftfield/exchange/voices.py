"""Themes of what buyers wrote, niche by niche, on files."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError
from driftfield.core.market.words import LANGUAGES
from driftfield.core.voices import COMPLAINT, Theme, Voices, copies_of, plain_words, read_voices

from .package import Package

COLUMNS = (
    "niche_id", "language", "theme", "tone", "texts", "of", "share", "low", "high", "stars", "late", "early",
    "grown", "listings", "most_of", "sentences",
)  # fmt: skip
WHOLE = ""  # Texts about no niche that is known.
TELLING = 5  # Sentences of a theme that are written out.
GROWN = {1: "more", -1: "less", 0: ""}


@dataclass(frozen=True, slots=True)
class Themes:
    """What was found: records of COLUMNS. texts: how many were read; copies: how many more said the same."""

    rows: list[dict[str, Any]]
    texts: int
    copies: int


def find_themes(package: Package, niche: str, language: str) -> Themes:
    """Themes of each niche's texts, or of one's, those that most texts say first.

    Reviews, notes on returns and comments are read; questions praise and complain of nothing. A text and its
    copies, whatever their capitals and points, count once (`copies_of`). ``language`` is that of texts that do
    not say theirs.

    Raises CoreError where there are no texts, none of the niche, or one is in a language without a stemmer.
    """
    frame = package.frames.get("voices")
    if frame is None:
        raise CoreError("There are no texts: give a voices table with voice_id, kind and text.")
    texts = _told(frame.filter(pl.col("kind") != "question"), package, language)
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
        rows += _records(group)
    read = sum(group.height for group in groups)
    return Themes(rows, read, texts.height - read)


def _told(frame: pl.DataFrame, package: Package, language: str) -> pl.DataFrame:
    """The texts with every column there is to know, the niche each is about, and their bare words."""
    for name, kind in (("rating", pl.Float64), ("day", pl.Date), ("listing_id", pl.String),
                       ("niche_id", pl.String), ("term", pl.String), ("language", pl.String)):  # fmt: skip
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


def _records(group: pl.DataFrame) -> list[dict[str, Any]]:
    texts = group["text"].to_list()
    ordinal = date(1970, 1, 1).toordinal()
    day = group["day"].cast(pl.Date).cast(pl.Int32).cast(pl.Float64).fill_null(np.nan).to_numpy()
    voices = read_voices(
        texts,
        rating=group["rating"].cast(pl.Float64).fill_null(np.nan).to_numpy(),
        lean=np.where(group["kind"].to_numpy() == "return", COMPLAINT, 0),
        day=day + ordinal,
        language=group["language"][0],
    )
    listings = group["listing_id"].to_list()
    return [_record(theme, voices, texts, listings, group) for theme in voices.themes]


def _record(
    theme: Theme,
    voices: Voices,
    texts: Sequence[str],
    listings: Sequence[str | None],
    group: pl.DataFrame,
) -> dict[str, Any]:
    about = Counter(own for at in theme.texts.tolist() if (own := listings[at]) is not None)
    often = sorted(about, key=lambda one: (-about[one], one))
    return {
        "niche_id": group["niche"][0] or None, "language": group["language"][0], "theme": theme.name,
        "tone": "complaint" if theme.tone == COMPLAINT else "praise", "texts": len(theme.texts),
        "of": len(texts), "share": _known(theme.share), "low": _known(theme.low), "high": _known(theme.high),
        "stars": _known(theme.effect), "late": _known(theme.late), "early": _known(theme.early),
        "grown": GROWN[theme.grown], "listings": len(often), "most_of": often[:TELLING],
        "sentences": telling(theme, voices, texts),
    }  # fmt: skip


def telling(theme: Theme, voices: Voices, texts: Sequence[str], most: int = TELLING) -> list[str]:
    """The sentences that say most of a theme, each of another text and in other words."""
    corpus = voices.read.corpus
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
