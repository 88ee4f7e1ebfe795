"""The track record of a market as records, on files and for the application."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from driftfield.core.base import CoreError, Estimate, Settings
from driftfield.core.market import CATEGORY, NICHE, TERM, Kind, MarketData
from driftfield.core.market.proof import (
    EVERY,
    FittedLens,
    Held,
    Memory,
    Miss,
    TrackRecord,
    days_to_replay,
    first_known,
    track_record,
)
from driftfield.core.ranking import DEFAULT_LENS, Lens
from driftfield.core.sentences import (
    forecast_miss,
    lens_sentence,
    limits_of,
    line_sentence,
    season_miss,
)
from driftfield.core.signals import SIGNALS

from .market_data import MarketInput
from .own_part import plain

COLUMNS = (
    "market_id", "of", "row", "part", "measure", "group", "category", "name", "weeks", "value", "low", "high",
    "beside", "beside_low", "beside_high", "observations", "niches", "days", "meant", "chance", "stands", "id",
    "as_of",
    "said", "came", "weights", "sentence",
)  # fmt: skip
NAMES = {signal.key: signal.name for signal in SIGNALS}
Progress = Callable[[str, int, int], None]


@dataclass(frozen=True, slots=True)
class MarketRecord:
    """What was replayed of one market and kind, or why it was not."""

    market: MarketInput
    kind: Kind
    record: TrackRecord | None
    reason: str = ""

    def named(self) -> list[tuple[str, str]]:
        """Id and name of each subject."""
        if self.kind == TERM:
            return [(term, term) for term in self.market.terms]
        tree = self.market.data.tree
        if self.kind == CATEGORY and tree is not None:
            return list(zip(tree.ids, tree.names, strict=True))
        return list(zip(self.market.data.subjects, self.market.niche_names, strict=True))


def replay_market(
    market: MarketInput, settings: Settings, *, every: int = EVERY, since: date | None = None,
    through: date | None = None, kind: Kind = NICHE, lens: Lens = DEFAULT_LENS, memory: Memory | None = None,
    as_told: Callable[[date], MarketData] | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> MarketRecord:  # fmt: skip
    """Replay the niches, terms or categories of one market on the days of ``days_to_replay``.

    Raises CoreError where its past is too short.
    """
    line, first = market.data.timeline, first_known(market.data)
    days = days_to_replay(line, every=every, since=since, first=first, through=through)
    made = track_record(
        market.data, days, settings, lens=lens, rules=SIGNALS, progress=progress, memory=memory,
        as_told=as_told, kind=kind, terms=market.terms,
    )  # fmt: skip
    return MarketRecord(market, kind, made)


def replay_markets(
    markets: Iterable[MarketInput], settings: Settings, *, every: int, since: date | None,
    kind: Kind = NICHE, lens: Lens = DEFAULT_LENS, progress: Progress | None = None,
) -> list[MarketRecord]:  # fmt: skip
    """Replay all markets of a package; of those whose past is too short it is told why.

    Raises CoreError where no market has a past long enough.
    """
    found = []
    for market in markets:

        def told(done: int, every: int, name: str = market.market_id) -> None:
            if progress:
                progress(name, done, every)

        try:
            found.append(
                replay_market(
                    market, settings, every=every, since=since, kind=kind, lens=lens, progress=told
                )
            )
        except CoreError as error:
            found.append(MarketRecord(market, kind, None, str(error)))
    if not any(one.record for one in found):
        raise CoreError(found[0].reason if found else "There is no market to replay.")
    return found


def record_rows(found: MarketRecord, settings: Settings) -> list[dict[str, Any]]:
    """Rows of COLUMNS: what held, the worst misses, and what the data cannot show."""
    record = found.record
    if record is None:
        return []
    market = found.market
    named, counts = found.named(), market.data.counts
    tree = market.data.tree
    tops = {} if tree is None else dict(zip(tree.ids, tree.names, strict=True))
    rows = [held_row(one, settings, market.currency, tops, found.kind) for one in record.lines] + [
        miss_row(one, named, counts) for one in record.misses
    ]
    if record.fitted is not None:
        rows.append(lens_row(record.fitted))
    rows += [{"row": "limit", "sentence": one} for one in limits_of_record(record)]
    empty = dict.fromkeys(COLUMNS)
    told = {"market_id": market.market_id, "of": found.kind.plural}
    return [{**empty, **told, **row} for row in rows]


def held_row(
    one: Held, settings: Settings, currency: str, categories: Mapping[str, str], kind: Kind
) -> dict[str, Any]:
    """A line of the record as a flat row with its sentence; ``currency``: ISO 4217, empty for unknown;
    ``categories``: their names by id."""
    niches, days = one.estimate.groups or (0, 0)
    name = NAMES.get(one.group) if one.part == "signal" else None
    row: dict[str, Any] = {
        "row": "held", "part": one.part, "measure": one.measure, "group": one.group,
        "category": one.category, "name": categories.get(one.category, name), "weeks": one.weeks,
        **_ends("value", one.estimate), **_ends("beside", one.beside),
        "observations": one.estimate.many, "niches": niches, "days": days,
        "meant": settings.forecast_interval if (one.part, one.measure) == ("forecast", "within") else None,
        "chance": plain(one.chance), "stands": one.stands if one.chance == one.chance else None,
    }  # fmt: skip
    return {**row, "sentence": line_sentence({**row, "currency": currency, "of": kind.plural})}


def _ends(name: str, estimate: Estimate | None) -> dict[str, float | None]:
    ends = ("low", "high") if name == "value" else (f"{name}_low", f"{name}_high")
    if estimate is None:
        return dict.fromkeys((name, *ends))
    values = (estimate.value, estimate.low, estimate.high)
    return dict(zip((name, *ends), map(plain, values), strict=True))


def miss_row(one: Miss, named: Sequence[tuple[str, str]], counts: bool) -> dict[str, Any]:
    """A miss as a flat row with its sentence; ``counts`` says whether curves are counts or relative."""
    subject, name = named[one.subject]
    what = "searches" if counts else "points of its relative curve"
    if one.part == "forecast":
        sentence = forecast_miss(name, one.as_of, one.weeks, one.said, one.came, what)
    else:
        sentence = season_miss(name, one.as_of, one.came)
    return {
        "row": "miss", "part": one.part, "weeks": one.weeks, "id": subject, "name": name,
        "as_of": one.as_of.isoformat(), "said": plain(one.said), "came": plain(one.came), "sentence": sentence,
    }  # fmt: skip


def lens_row(found: FittedLens) -> dict[str, Any]:
    """The lens from launches as a flat row: areas of both, the ends of the gain, and weights where proposed."""
    niches, days = found.gain.groups or (0, 0)
    lens = found.lens
    weights = None if lens is None else lens.as_dict()
    row = {
        "row": "lens", "part": "launch", "measure": "lens", "name": lens and lens.name,
        "value": plain(found.fitted.value), "beside": plain(found.default.value),
        "low": plain(found.gain.low), "high": plain(found.gain.high),
        "observations": found.gain.many, "niches": niches, "days": days,
        "weights": weights and " ".join(f"{part}={weight:g}" for part, weight in weights.items()),
    }  # fmt: skip
    return {**row, "sentence": lens_sentence(row)}


def limits_of_record(record: TrackRecord) -> list[str]:
    """What a record cannot show."""
    launches = sum(
        one.estimate.many
        for one in record.lines
        if (one.part, one.measure, one.category) == ("launch", "worked", "")
    )
    ranked = any(one.part == "rank" for one in record.lines)
    return limits_of(plain(record.undated), record.ended, launches, record.days, ranked=ranked)
