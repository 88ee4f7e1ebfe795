"""What a worker does with one part: stages, each from what the one before left in the work folder.

A stage is a plain function of the data set, the work folder and what the whole market told. What it leaves and
what it tells lie in files, written whole, before it ends; so a stage that was ended in the middle is done again
without harm, and one that is asked for again, because who held its answer is gone, answers from its file.
"""

from __future__ import annotations

import pickle
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date
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
from driftfield.exchange.dataset.facts import Facts, facts_of
from driftfield.exchange.dataset.layout import Manifest, Store, parts_of
from driftfield.exchange.dataset.parts import Unit, read_unit, whole_tables
from driftfield.exchange.market_data import MarketInput, assemble
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.readings import readings_frame
from driftfield.exchange.whole import Whole

T = TypeVar("T")
LISTING_BUCKETS = 16  # Into which what listings are brought is sorted; more than there are workers.


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
    def scratch(self) -> Store:
        """Where stages leave what the next ones need."""
        return Store(f"{self.out.rstrip('/')}/{self.work}")


@dataclass(frozen=True, slots=True)
class Bad:
    """A part that could not be read, and why."""

    unit: Unit
    reason: str


# What a part tells, by the market and whether its curves are counts.
Told = dict[tuple[str, bool], T]


def _kept(job: Job, stage: str, unit: Unit, make: Callable[[], T]) -> T:
    """What a stage told of a part before, or what it tells now."""
    place = (stage, f"{unit.name.replace('/', ' ')}.told")
    if job.scratch.exists(*place):
        told: T = pickle.loads(job.scratch.read(*place))
        return told
    told = make()
    job.scratch.write(pickle.dumps(told, protocol=5), *place)
    return told


def _leave(job: Job, stage: str, unit: Unit, state: Any) -> None:
    job.scratch.write(
        pickle.dumps(state, protocol=5), stage, f"{unit.name.replace('/', ' ')}.state"
    )


def _left(job: Job, stage: str, unit: Unit) -> Any:
    return pickle.loads(job.scratch.read(stage, f"{unit.name.replace('/', ' ')}.state"))


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


def read(job: Job, unit: Unit, whole: Whole, *, alone: bool) -> Told[Any] | Bad:
    """Read a part's curves. ``alone``: nothing else rests on other parts before the ranks, so the figures are
    computed at once and it tells ``OfFigures``; else ``OfCurves``."""

    def make() -> Told[Any]:
        store = Store(job.data)
        package = read_unit(store, job.manifest, unit, whole_tables(store, job.manifest))
        markets, _ = assemble(package, job.as_of, whole)
        told: Told[Any] = {}
        state: dict[tuple[str, bool], tuple[MarketInput, MarketPart]] = {}
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
        if alone:
            _leave(job, "figures", unit, _slim(state))
        else:
            _leave(job, "curves", unit, state)
        return told

    return _guarded(job, unit, lambda: _kept(job, "read", unit, make))


def _slim(
    state: dict[tuple[str, bool], tuple[MarketInput, MarketPart]],
) -> dict[tuple[str, bool], tuple[MarketInput, MarketPart]]:
    """Without the curves of terms, of which nothing more is asked."""
    out = {}
    for key, (market, part) in state.items():
        part.let_go()
        out[key] = (replace(market, data=part.data, terms=[]), part)
    return out


def _bring(
    job: Job, unit: Unit, key: tuple[str, bool], market: MarketInput, part: MarketPart
) -> None:
    """Leave what the part's niches bring each listing, by the bucket of the listing's id."""
    brought = part.brought()
    if brought is None:
        return
    ids = pl.Series("listing_id", market.listing_ids[: len(brought.clicks)], dtype=pl.String)
    frame = pl.DataFrame(
        {"listing_id": ids, "clicks": brought.clicks, "subjects": brought.subjects}
    ).filter(pl.col("subjects") > 0)
    bucket = parts_of(frame["listing_id"], LISTING_BUCKETS)
    for which in range(LISTING_BUCKETS):
        mine = frame.filter(pl.Series(bucket == which))
        if mine.height:
            name = f"{unit.name.replace('/', ' ')}.parquet"
            job.scratch.write_frame(mine, "brought", f"{key[0]} {key[1]}", str(which), name)


def bring_together(job: Job, key: tuple[str, bool], bucket: int) -> int:
    """Add up what all parts bring the listings of a bucket that several of them click; how many these are."""
    folder = ("brought", f"{key[0]} {key[1]}", str(bucket))
    frames = [job.scratch.read_frame(*folder, name) for name in job.scratch.names(*folder)]
    if not frames:
        return 0
    whole = (
        pl.concat(frames)
        .group_by("listing_id", maintain_order=True)
        .agg(pl.col("clicks").sum(), pl.col("subjects").sum(), pl.len().alias("parts"))
        .filter(pl.col("parts") > 1)
        .drop("parts")
    )
    job.scratch.write_frame(whole, "shared", f"{key[0]} {key[1]}", f"{bucket}.parquet")
    return whole.height


def _brought(job: Job, key: tuple[str, bool], market: MarketInput, own: Brought) -> Brought:
    """What all niches of the market bring the listings of a part."""
    folder = ("shared", f"{key[0]} {key[1]}")
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


def compete(job: Job, unit: Unit, curves: Mapping[tuple[str, bool], OfCurves]) -> Told[OfSupply]:
    """Read a part's supply side, knowing what categories lend and what listings are brought elsewhere."""

    def make() -> Told[OfSupply]:
        state = _left(job, "curves", unit)
        told: Told[OfSupply] = {}
        for key, (market, part) in state.items():
            own = part.brought()
            brought = None if own is None else _brought(job, key, market, own)
            told[key] = part.compete(curves[key].seasons, brought)
        _leave(job, "supply", unit, _slim(state))
        return told

    return _kept(job, "compete", unit, make)


def measure(job: Job, unit: Unit, supply: Mapping[tuple[str, bool], OfSupply]) -> Told[OfFigures]:
    """Compute a part's figures that rest on the data."""

    def make() -> Told[OfFigures]:
        state = _left(job, "supply", unit)
        told = {key: part.measure(supply[key]) for key, (_, part) in state.items()}
        _leave(job, "figures", unit, state)
        return told

    return _kept(job, "measure", unit, make)


def _ranks(job: Job, unit: Unit, number: int) -> dict[tuple[str, bool], PartRanks]:
    """What is ranked of a part."""
    values = _kept(job, "values", unit, lambda: _values(job, unit))
    return {key: PartRanks(one, job.lens, job.settings, number) for key, one in values.items()}


def _values(job: Job, unit: Unit) -> dict[tuple[str, bool], Any]:
    return {key: part.values for key, (_, part) in _left(job, "figures", unit).items()}


def score(
    job: Job, unit: Unit, number: int, figures: Mapping[tuple[str, bool], OfFigures]
) -> Told[OfScores]:
    """Score a part's niches."""

    def make() -> Told[OfScores]:
        ranks = _ranks(job, unit, number)
        return {key: one.score(figures[key].values) for key, one in ranks.items()}

    return _kept(job, "score", unit, make)


def _ranked(
    job: Job,
    unit: Unit,
    number: int,
    figures: Mapping[tuple[str, bool], OfFigures],
    scores: Mapping[tuple[str, bool], OfScores],
) -> dict[tuple[str, bool], PartRanks]:
    ranks = _ranks(job, unit, number)
    for key, one in ranks.items():
        one.score(figures[key].values)
        one.rank(scores[key])
    return ranks


def draw(
    job: Job,
    unit: Unit,
    number: int,
    figures: Mapping[tuple[str, bool], OfFigures],
    scores: Mapping[tuple[str, bool], OfScores],
) -> Told[Drawn]:
    """Count where a part's niches come in draws of shaken weights."""

    def make() -> Told[Drawn]:
        ranks = _ranked(job, unit, number, figures, scores)
        return {key: one.draw() for key, one in ranks.items()}

    return _kept(job, "draw", unit, make)


def band(
    job: Job,
    unit: Unit,
    number: int,
    figures: Mapping[tuple[str, bool], OfFigures],
    scores: Mapping[tuple[str, bool], OfScores],
    drawn: Mapping[tuple[str, bool], Drawn],
) -> Told[Foremost | None]:
    """Read the bands of a part's ranks."""

    def make() -> Told[Foremost | None]:
        bands: dict[tuple[str, bool], RankBand] = {}
        told: Told[Foremost | None] = {}
        for key, one in _ranked(job, unit, number, figures, scores).items():
            bands[key], told[key] = one.band(drawn[key])
        _leave(job, "bands", unit, bands)
        return told

    return _kept(job, "band", unit, make)


def finish(
    job: Job,
    unit: Unit,
    number: int,
    figures: Mapping[tuple[str, bool], OfFigures],
    scores: Mapping[tuple[str, bool], OfScores],
    foremost: Mapping[tuple[str, bool], Foremost | None],
) -> int:
    """Write a part's readings; how many niches they are of."""

    def make() -> int:
        state, bands = _left(job, "figures", unit), _left(job, "bands", unit)
        frames = []
        for key, one in _ranked(job, unit, number, figures, scores).items():
            market, part = state[key]
            part.rules = SIGNALS
            work = part.finish(one.finish(bands[key], foremost[key]), figures[key])
            frames.append(readings_frame(NICHE, market.identity(work), work.figures))
        frame = pl.concat(frames)
        Store(job.out).write_frame(frame, "niches", *unit.place("niches")[1:])
        return frame.height

    return _kept(job, "finish", unit, make)
