"""What a worker does with one part: stages, each from what the one before left in the work folder.

A stage is a plain function of the data set and of files in the work folder. What it leaves and what it tells
lie there, written whole, before it ends; so no worker holds anything that another needs, and a stage that was
ended in the middle is done again without harm.
"""

from __future__ import annotations

import pickle
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Any, TypeVar

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Settings
from driftfield.core.market import NICHE, MarketPart, OfCurves, OfFigures, OfSupply
from driftfield.core.ranking import (
    Drawn,
    Foremost,
    Lens,
    OfScores,
    PartRanks,
    RankBand,
)
from driftfield.core.signals import SIGNALS
from driftfield.core.supply import Brought
from driftfield.exchange.beside import CATEGORY_ID, beside_columns, launch_columns
from driftfield.exchange.dataset.facts import Facts, facts_of
from driftfield.exchange.dataset.layout import (
    BESIDE,
    FIGURES,
    Manifest,
    Store,
    market_folder,
    parts_of,
)
from driftfield.exchange.dataset.parts import Unit, read_unit, whole_tables
from driftfield.exchange.market_data import MarketInput, assemble, named_by
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.readings import readings_frame

T = TypeVar("T")
WHOLE_MARKET = "of all"  # The file of what a stage told of all parts.
MOST_BUCKETS = 16  # Into which what listings are brought is sorted.


@dataclass(frozen=True, slots=True)
class Job:
    """What is asked: of which data set, with what settings, to where. work: folder of what stages leave."""

    data: str
    out: str
    manifest: Manifest
    settings: Settings
    lens: Lens
    as_of: date | None
    planning: date | None
    skip_bad: bool
    work: str

    @property
    def buckets(self) -> int:
        """Into how many heaps what listings are brought is sorted."""
        return min(MOST_BUCKETS, self.manifest.parts)

    @property
    def scratch(self) -> Store:
        """Where stages leave what the next ones need."""
        return Store(f"{self.out.rstrip('/')}/{self.work}")


@dataclass(frozen=True, slots=True)
class Bad:
    """A part that could not be read, and why."""

    unit: Unit
    reason: str


# What a part tells, by the market and whether its curves are counts.
Key = tuple[str, bool]
Told = dict[Key, T]


def _file(unit: Unit, ending: str) -> str:
    return f"{unit.name.replace('/', ' ')}.{ending}"


def told_name(unit: Unit) -> str:
    """The file of what a stage tells of a part."""
    return _file(unit, "told")


def _kept(job: Job, stage: str, unit: Unit, make: Callable[[], Told[Any]]) -> None:
    """Leave what a stage tells of a part, unless it was left before."""
    place = (stage, _file(unit, "told"))
    if not job.scratch.exists(*place):
        job.scratch.write(pickle.dumps(make(), protocol=5), *place)


def _leave(job: Job, stage: str, unit: Unit, state: Any) -> None:
    job.scratch.write(pickle.dumps(state, protocol=5), stage, _file(unit, "state"))


def _left(job: Job, stage: str, unit: Unit) -> Any:
    return pickle.loads(job.scratch.read(stage, _file(unit, "state")))


def put_together(job: Job, stage: str, names: Sequence[str], into: str) -> None:
    """Put what a stage told of several parts together, or what was put together of them, into one file."""
    if job.scratch.exists(stage, into):
        return
    several: list[Told[Any]] = [pickle.loads(job.scratch.read(stage, name)) for name in names]
    keys = dict.fromkeys(key for one in several for key in one)
    add = TOGETHER[stage]
    told = {key: add([one[key] for one in several if key in one]) for key in keys}
    job.scratch.write(pickle.dumps(told, protocol=5), stage, into)


@lru_cache(maxsize=8)
def _of_all(out: str, work: str, stage: str) -> Any:
    return pickle.loads(Store(out).read(*work.split("/"), stage, WHOLE_MARKET))


def told_of_all(job: Job, stage: str) -> Any:
    """What a stage told of the whole market."""
    return _of_all(job.out.rstrip("/"), job.work, stage)


def tell(job: Job, stage: str, told: Any) -> None:
    """Leave what holds for the whole market."""
    job.scratch.write(pickle.dumps(told, protocol=5), stage, WHOLE_MARKET)


def _guarded(job: Job, unit: Unit, work: Callable[[], T]) -> T | Bad:
    """The work done, or why the part is bad, where bad parts are to be left out."""
    try:
        return work()
    except (CoreError, ExchangeError) as error:
        if job.skip_bad:
            return Bad(unit, str(error))
        raise


def survey(job: Job, unit: Unit) -> Facts | Bad:
    """What a part is, from a few columns."""
    return _guarded(job, unit, lambda: facts_of(Store(job.data), job.manifest, unit))


def read(job: Job, unit: Unit, *, alone: bool) -> Bad | None:
    """Read a part's curves. ``alone``: nothing else rests on other parts before the ranks, so the figures are
    computed at once and it tells ``OfFigures``; else ``OfCurves``."""

    def make() -> Told[Any]:
        store, whole = Store(job.data), told_of_all(job, "whole")
        package = read_unit(store, job.manifest, unit, whole_tables(store, job.manifest))
        markets, _ = assemble(package, job.as_of, whole)
        told: Told[Any] = {}
        state: dict[Key, tuple[MarketInput, MarketPart]] = {}
        for market in markets:
            key = (market.market_id, market.data.counts)
            part = MarketPart(
                market.data, job.settings, lens=job.lens, planning=job.planning, threads=1
            )
            told[key] = part.read()
            state[key] = (replace(market, data=part.data), part)
            if alone:
                told[key] = part.measure(part.compete(None))
            else:
                _bring(job, unit, key, market, part)
        _leave(job, "figures" if alone else "curves", unit, _slim(state) if alone else state)
        return told

    stage = "measure" if alone else "read"
    return _guarded(job, unit, lambda: _kept(job, stage, unit, make))


def _slim(
    state: dict[Key, tuple[MarketInput, MarketPart]],
) -> dict[Key, tuple[MarketInput, MarketPart]]:
    """Without the curves of terms, of which nothing more is asked."""
    out = {}
    for key, (market, part) in state.items():
        part.let_go()
        out[key] = (replace(market, data=part.data, terms=[]), part)
    return out


def _bring(job: Job, unit: Unit, key: Key, market: MarketInput, part: MarketPart) -> None:
    """Leave what the part's niches bring each listing, by the bucket of the listing's id."""
    brought = part.brought()
    if brought is None:
        return
    ids = pl.Series("listing_id", market.listing_ids[: len(brought.clicks)], dtype=pl.String)
    frame = pl.DataFrame(
        {"listing_id": ids, "clicks": brought.clicks, "subjects": brought.subjects}
    ).filter(pl.col("subjects") > 0)
    bucket = parts_of(frame["listing_id"], job.buckets)
    for which in range(job.buckets):
        mine = frame.filter(pl.Series(bucket == which))
        if mine.height:
            job.scratch.write_frame(
                mine, "brought", _folder(key), str(which), _file(unit, "parquet")
            )


def _folder(key: Key) -> str:
    """The folder of a market."""
    return f"{market_folder(key[0])} {'counts' if key[1] else 'relative'}"


def bring_together(job: Job, key: Key, bucket: int) -> None:
    """Add up what all parts bring the listings of a bucket that several of them click."""
    folder = ("brought", _folder(key), str(bucket))
    frames = [job.scratch.read_frame(*folder, name) for name in job.scratch.names(*folder)]
    if not frames:
        return
    whole = (
        pl.concat(frames)
        .group_by("listing_id", maintain_order=True)
        .agg(pl.col("clicks").sum(), pl.col("subjects").sum(), pl.len().alias("parts"))
        .filter(pl.col("parts") > 1)
        .drop("parts")
    )
    job.scratch.write_frame(whole, "shared", _folder(key), f"{bucket}.parquet")


def _brought(job: Job, key: Key, market: MarketInput, own: Brought) -> Brought:
    """What all niches of the market bring the listings of a part."""
    folder = ("shared", _folder(key))
    frames = [job.scratch.read_frame(*folder, name) for name in job.scratch.names(*folder)]
    if not frames:
        return own
    ids = market.listing_ids[: len(own.clicks)]
    wanted = pl.DataFrame({"listing_id": pl.Series(ids, dtype=pl.String)})
    found = wanted.join(pl.concat(frames), on="listing_id", how="left", maintain_order="left")
    clicks = found["clicks"].fill_null(np.nan).to_numpy()
    subjects = found["subjects"].fill_null(-1).to_numpy()
    return Brought(
        np.where(np.isnan(clicks), own.clicks, clicks),
        np.where(subjects < 0, own.subjects, subjects).astype(np.int64),
    )


def compete(job: Job, unit: Unit) -> None:
    """Read a part's supply side, knowing what categories lend and what listings are brought elsewhere."""

    def make() -> Told[OfSupply]:
        state, curves = _left(job, "curves", unit), told_of_all(job, "read")
        told: Told[OfSupply] = {}
        for key, (market, part) in state.items():
            own = part.brought()
            brought = None if own is None else _brought(job, key, market, own)
            told[key] = part.compete(curves[key].seasons, brought)
        _leave(job, "supply", unit, _slim(state))
        return told

    _kept(job, "compete", unit, make)


def measure(job: Job, unit: Unit) -> None:
    """Compute a part's figures that rest on the data."""

    def make() -> Told[OfFigures]:
        state, supply = _left(job, "supply", unit), told_of_all(job, "compete")
        told = {key: part.measure(supply[key]) for key, (_, part) in state.items()}
        _leave(job, "figures", unit, state)
        return told

    _kept(job, "measure", unit, make)


def score(job: Job, unit: Unit, number: int) -> None:
    """Score a part's niches; what is ranked of them is left by itself, for the rest of the figures is large."""

    def make() -> Told[OfScores]:
        figures, told, ranks = told_of_all(job, "measure"), {}, {}
        for key, (_, part) in _left(job, "figures", unit).items():
            ranks[key] = PartRanks(part.values, job.lens, job.settings, number)
            told[key] = ranks[key].score(figures[key].values)
        _leave(job, "scores", unit, ranks)
        return told

    _kept(job, "score", unit, make)


def draw(job: Job, unit: Unit) -> None:
    """Rank a part's niches in the whole market, and count where they come in draws of shaken weights."""

    def make() -> Told[Drawn]:
        scores, ranks = told_of_all(job, "score"), _left(job, "scores", unit)
        for key, one in ranks.items():
            one.rank(scores[key])
        _leave(job, "ranks", unit, ranks)
        return {key: one.draw() for key, one in ranks.items()}

    _kept(job, "draw", unit, make)


def band(job: Job, unit: Unit) -> None:
    """Read the bands of a part's ranks."""

    def make() -> Told[Foremost | None]:
        bands: dict[Key, RankBand] = {}
        told: Told[Foremost | None] = {}
        drawn = told_of_all(job, "draw")
        for key, one in _left(job, "ranks", unit).items():
            bands[key], told[key] = one.band(drawn[key])
        _leave(job, "bands", unit, bands)
        return told

    _kept(job, "band", unit, make)


def finish(job: Job, unit: Unit) -> int:
    """Write a part's readings, and what is kept beside them; how many niches they are of."""
    state, bands = _left(job, "figures", unit), _left(job, "bands", unit)
    figures, foremost = told_of_all(job, "measure"), told_of_all(job, "band")
    frames, beside = [], []
    for key, one in _left(job, "ranks", unit).items():
        market, part = state[key]
        part.rules = SIGNALS
        work = part.finish(one.finish(bands[key], foremost[key]), figures[key])
        identity = market.identity(work)
        frame = readings_frame(NICHE, identity, work.figures)
        frames.append(frame)
        own = {NICHE.subject: identity[NICHE.subject]}
        data = market.data
        if data.category is not None and data.tree is not None:
            own[CATEGORY_ID] = named_by(data.category, data.tree.ids)
        keys = {name: pl.Series(list(texts), dtype=pl.String) for name, texts in own.items()}
        more = pl.DataFrame({**keys, **beside_columns(work), **launch_columns(work)})
        beside.append(
            frame.select(NICHE.subject).join(
                more, on=NICHE.subject, how="left", maintain_order="left"
            )
        )
    frame, out = pl.concat(frames), Store(job.out)
    out.write_frame(frame, *unit.place(FIGURES))
    out.write_frame(pl.concat(beside, how="diagonal"), *unit.place(BESIDE))
    return frame.height


def _foremost(several: Sequence[Foremost | None]) -> Foremost | None:
    known = [one for one in several if one is not None]
    return Foremost.together(known) if known else None


# How what parts tell is put together, by stage.
TOGETHER: dict[str, Callable[[Any], Any]] = {
    "read": OfCurves.together, "compete": OfSupply.together, "measure": OfFigures.together,
    "score": OfScores.together, "draw": Drawn.together, "band": _foremost,
}  # fmt: skip
