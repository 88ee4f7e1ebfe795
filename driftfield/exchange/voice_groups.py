"""Texts of buyers by the niche that they are about, and what a market's niches are told of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np
import polars as pl

from driftfield.core.base import Ints
from driftfield.core.market import MarketData
from driftfield.core.market.said import Said, SaidReader
from driftfield.core.market.words import LANGUAGE, LANGUAGES
from driftfield.core.voices import Summary, WholeTexts, read_whole, said_of, summarise

from .package import Package

WHOLE = ""  # Texts about no niche that is known.
_OPTIONAL = (
    ("rating", pl.Float64), ("day", pl.Date), ("listing_id", pl.String), ("niche_id", pl.String),
    ("term", pl.String), ("language", pl.String), ("helpful", pl.Float64),
)  # fmt: skip


def about_niches(
    frame: pl.DataFrame, by_listing: Mapping[str, str], by_term: Mapping[str, str], language: str
) -> pl.DataFrame:
    """The texts with every column there is to know and the ``niche`` each is about, WHOLE for none.

    It is the one that the text names, else that of its listing, else that of its term. ``language`` is that of
    texts that do not say theirs.
    """
    for name, kind in _OPTIONAL:
        if name not in frame.columns:
            frame = frame.with_columns(pl.lit(None, kind).alias(name))
    niche = pl.coalesce(
        pl.col("niche_id"),
        pl.col("listing_id").replace_strict(dict(by_listing), default=None, return_dtype=pl.String),
        pl.col("term").replace_strict(dict(by_term), default=None, return_dtype=pl.String),
        pl.lit(WHOLE),
    )
    return frame.with_columns(
        niche.alias("niche"), pl.col("language").fill_null(language).str.to_lowercase()
    )


def read_group(group: pl.DataFrame) -> WholeTexts:
    """The texts about one niche in one language, read."""
    day = group["day"].cast(pl.Date).cast(pl.Int32).cast(pl.Float64).fill_null(np.nan).to_numpy()
    return read_whole(
        group["text"].to_list(),
        group["kind"].to_list(),
        group["rating"].cast(pl.Float64).fill_null(np.nan).to_numpy(),
        day + date(1970, 1, 1).toordinal(),
        group["language"][0],
    )


def said_reader(
    package: Package,
    data: MarketData,
    terms: Sequence[str],
    listings: Sequence[str],
    until: date | None,
) -> SaidReader | None:
    """Who has the texts about a market's niches; None where there are none.

    ``until``: the last day whose texts count, with those that do not say theirs.
    """
    frame = package.frames.get("voices")
    if frame is None:
        return None
    if until is not None and "day" in frame.columns:
        frame = frame.filter(pl.col("day").is_null() | (pl.col("day").cast(pl.Date) <= until))
    place = {niche: at for at, niche in enumerate(data.subjects)}
    code = {listing: at for at, listing in enumerate(listings)}
    owner = data.term_subject.tolist()
    by_term = {term: data.subjects[at] for term, at in zip(terms, owner, strict=True)}

    def read(home: Ints, leaders: Sequence[Ints]) -> Said:
        by_listing = {
            listings[at]: data.subjects[niche]
            for at, niche in enumerate(home.tolist())
            if niche >= 0
        }
        texts = about_niches(frame, by_listing, by_term, LANGUAGE)
        texts = texts.filter(
            pl.col("niche").is_in(list(place)) & pl.col("language").is_in(list(LANGUAGES))
        )
        found: dict[int, Summary] = {}
        most: dict[int, int] = {}
        for group in texts.partition_by("niche", "language", maintain_order=True):
            whole, at = read_group(group), place[group["niche"][0]]
            # The figures are those of the language in which most is written.
            if len(whole.kept) > most.get(at, 0):
                most[at] = len(whole.kept)
                about = group["listing_id"].to_list()
                own = [code.get(about[row] or "", -1) for row in whole.kept.tolist()]
                found[at] = summarise(whole, np.array(own, dtype=np.int64), leaders[at])
        return said_of(found, len(data.subjects))

    return read
