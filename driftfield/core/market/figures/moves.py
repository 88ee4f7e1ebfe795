"""Figures of what moved of late: each with its interval and how far beyond chance it is, for the watch to
compare."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.base import Floats, Timeline
from driftfield.core.curves import Recent, apart
from driftfield.core.supply import Moves

from ..kinds import KINDS, NICHE, Kind
from ..workings import Workings
from .figure import Compute, Figure, FigureType

BEYOND = 300.0  # Chances below 10^−300 are no different.
RECENT = "Bayley & Hammersley (1946); Satterthwaite (1946); Bonferroni over the stretches tried"
ACROSS = "Student's t over listings; their variance pooled over the market (Smyth 2004)"
POOLED = f"{RECENT}; noise pooled over the market (Smyth 2004)"
STRETCH = (
    ": the latest 4 to 24 weeks over the year before, less what they did of themselves before; of six "
    "stretches the one that stands out most"
)
_CHANCE = "0 at 1, 2 at 1 in 100, 6 at one in a million"


def against_chance(p: Floats) -> Floats:
    """Chances as powers of ten, 0 for certain; NaN for unknown."""
    with np.errstate(divide="ignore"):
        found: Floats = np.minimum(-np.log10(p), BEYOND) + 0.0
    return found


def _since(recent: Recent, timeline: Timeline) -> np.ndarray:
    """First day of the stretch that shows each move, None for unknown."""
    length, block = timeline.length, timeline.period.block
    days: list[str | None] = [None]
    for back in range(1, int(recent.blocks.max(initial=0)) + 1):
        days.append(timeline.start(max(length - back * block, 0)).isoformat())
    told = np.where(np.isnan(recent.p), 0, recent.blocks)
    found: np.ndarray = np.array(days, dtype=object)[told]
    return found


def _move(
    key: str, label: str, what: str, pick: Callable[[Workings], tuple[Recent, Timeline] | None], *,
    kinds: tuple[Kind, ...], direction: int, source: str, needs: str = "term_weeks", how: str = STRETCH,
) -> tuple[Figure, ...]:  # fmt: skip
    """The figures of one recent move; ``pick`` gives None where nothing is known."""

    def number(read: Callable[[Recent, Workings], Floats]) -> Compute:
        def compute(work: Workings) -> np.ndarray:
            found = pick(work)
            return np.full(work.count, np.nan) if found is None else read(found[0], work)

        return compute

    def end(place: int) -> Compute:
        return number(lambda r, w: np.expm1(r.interval(w.settings.interval)[place]))

    def since(work: Workings) -> np.ndarray:
        found = pick(work)
        return np.full(work.count, None, dtype=object) if found is None else _since(*found)

    def row(
        name: str, label_: str, type_: FigureType, formula: str, compute: Compute, **more: object
    ) -> Figure:
        return Figure(
            key=f"moved.{name}", label=label_, type=type_, formula=formula, compute=compute, needs=needs,
            kinds=kinds, source=source, **more,  # type: ignore[arg-type]
        )  # fmt: skip

    change = FigureType.CHANGE
    return (
        row(key, f"{label} of late", change,
            f"{what}{how}", number(lambda r, w: np.expm1(r.size)),
            unit="change", direction=direction),
        row(f"{key}_low", f"{label} of late, low end", change, "lower end of its 90% interval", end(0),
            unit="change", direction=direction),
        row(f"{key}_high", f"{label} of late, high end", change, "upper end of its 90% interval", end(1),
            unit="change", direction=direction),
        row(f"{key}_beyond", f"{label} of late, beyond chance", FigureType.AMOUNT,
            f"−log₁₀ of the chance that noise alone moves it as far; {_CHANCE}",
            number(lambda r, w: against_chance(r.p)), unit="powers of ten"),
        row(f"{key}_from", f"{label} of late, from", FigureType.DATE,
            "first day of the stretch that stands out most", since, unit="date"),
    )  # fmt: skip


def _demand(work: Workings) -> tuple[Recent, Timeline]:
    return work.curves.recent, work.timeline


def _history(name: str) -> Callable[[Workings], tuple[Recent, Timeline] | None]:
    def pick(work: Workings) -> tuple[Recent, Timeline] | None:
        history = work.supply.history
        if work.moves is None or history is None:
            return None
        return getattr(work.moves, name), history.timeline

    return pick


def _crowding(work: Workings) -> tuple[Recent, Timeline] | None:
    found = _history("offers")(work)
    return None if found is None else (apart(found[0], work.curves.recent), found[1])


def _brand(read: Callable[[Moves, Workings], np.ndarray]) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        return np.full(work.count, np.nan) if work.moves is None else read(work.moves, work)

    return compute


def _brand_name(work: Workings) -> np.ndarray:
    listings = work.data.listings
    if work.moves is None or listings is None:
        return np.full(work.count, None, dtype=object)
    people = listings.brands
    names = [name or id_ for name, id_ in zip(people.names, people.ids, strict=True)]
    code = work.moves.brand.brand
    found: np.ndarray = np.array([*names, None], dtype=object)[
        np.where(code < len(names), code, -1)
    ]
    return found


def _settled_until(work: Workings) -> np.ndarray:
    day = work.settled_until
    return np.full(work.count, None if day is None else day.isoformat(), dtype=object)


_SHARE = FigureType.SHARE
_CLICKS = "its share of the clicks of the last 13 weeks"

_RATES = "Przyborowski & Wilenski (1940); Wilson (1927)"
_RIDGE = "ridge regression (Hoerl & Kennard 1970) on the season’s slope and swing; Student’s t"
_WEEKS = FigureType.SIGNED


def _early(
    key: str, label: str, formula: str, read: Callable[[Workings], Floats], **more: object
) -> Figure:
    return Figure(
        key=f"moved.season{key}", label=f"Season early{label}", formula=formula, compute=read, kinds=KINDS,
        source=_RIDGE, **{"type": _WEEKS, "unit": "weeks", **more},  # type: ignore[arg-type]
    )  # fmt: skip


_EARLY = (
    _early("", " by", "weeks by which the season at hand comes early, below 0 late, by its latest 24 weeks; "
           "only while it moves by 4% a week or more. Before its peak a stronger season looks the same",
           lambda w: w.curves.early.size),
    _early("_low", " by, low end", "lower end of its 90% interval",
           lambda w: w.curves.early.interval(w.settings.interval)[0]),
    _early("_high", " by, high end", "upper end of its 90% interval",
           lambda w: w.curves.early.interval(w.settings.interval)[1]),
    _early("_beyond", ", beyond chance", "−log₁₀ of the chance of as much where seasons differ as those of "
           f"earlier years did; {_CHANCE}", lambda w: against_chance(w.curves.early.p), type=FigureType.AMOUNT,
           unit="powers of ten"),
)  # fmt: skip


def _launches(
    key: str, label: str, formula: str, read: Callable[[Moves], Floats], **more: object
) -> Figure:
    return Figure(
        key=f"moved.launches{key}", label=f"Launches of late{label}", formula=formula, kinds=(NICHE,),
        compute=_brand(lambda moves, _: read(moves)), needs="listings", source=_RATES,
        **{"type": FigureType.CHANGE, "unit": "change", **more},  # type: ignore[arg-type]
    )  # fmt: skip


MOVES: tuple[Figure, ...] = (
    *_move("demand", "Demand", "level of demand without the season and known level shifts", _demand,
           kinds=KINDS, direction=1, source=RECENT),
    *_move("price", "Prices", "prices of the listings clicked now, each against itself, by clicks",
           _history("price"), kinds=(NICHE,), direction=1, source=POOLED, needs="listing_weeks"),
    *_move("slide", "Prices in 26 weeks", "mean over the listings clicked now of price ÷ price 26 weeks ago",
           _history("slide"), kinds=(NICHE,), direction=1, source=ACROSS, needs="listing_weeks", how="")[:-1],
    *_move("offers", "Offers", "offers of the listings clicked now, each against itself, by clicks",
           _history("offers"), kinds=(NICHE,), direction=-1, source=POOLED, needs="listing_weeks"),
    *_move("crowding", "Crowding", "(1 + offers of late) ÷ (1 + demand of late) − 1", _crowding,
           kinds=(NICHE,), direction=-1, source=f"{POOLED}; Welch (1947)", needs="listing_weeks", how="")[:-1],
    *_EARLY,
    _launches("", "", "launches in 26 weeks ÷ 26 over those in the 39 weeks before ÷ 39, of listings that "
               "buyers click, half a launch added to each", lambda m: m.launches.value - 1),
    _launches("_low", ", low end", "lower end of its 90% interval", lambda m: m.launches.low - 1),
    _launches("_high", ", high end", "upper end of its 90% interval", lambda m: m.launches.high - 1),
    _launches("_beyond", ", beyond chance", f"−log₁₀ of the chance of as much at one rate; {_CHANCE}",
               lambda m: against_chance(m.launches.p), type=FigureType.AMOUNT, unit="powers of ten"),
    Figure(key="moved.brand", label="First brand", type=FigureType.SENTENCE, needs="listings",
           formula="the brand with most clicks in the last 13 weeks", compute=_brand_name, kinds=(NICHE,)),
    Figure(key="moved.brand_share", label="First brand’s share", type=_SHARE, unit="share of clicks",
           formula=_CLICKS, needs="listings", direction=-1, kinds=(NICHE,),
           compute=_brand(lambda m, w: m.brand.share)),
    Figure(key="moved.brand_low", label="First brand’s share, low end", type=_SHARE, unit="share of clicks",
           formula="lower end of its 90% interval, by how far such shares differ from quarter to quarter",
           source="Smyth (2004)", needs="listings", direction=-1, kinds=(NICHE,),
           compute=_brand(lambda m, w: m.brand.interval(w.settings.interval)[0])),
    Figure(key="moved.brand_high", label="First brand’s share, high end", type=_SHARE, unit="share of clicks",
           formula="upper end of that interval", source="Smyth (2004)", needs="listings", direction=-1,
           kinds=(NICHE,), compute=_brand(lambda m, w: m.brand.interval(w.settings.interval)[1])),
    Figure(key="moved.brand_then", label="First brand’s share, the year before", type=_SHARE,
           unit="share of clicks", formula="mean log-odds of its share in the four quarters before",
           needs="listings", direction=-1, kinds=(NICHE,), compute=_brand(lambda m, w: m.brand.then)),
    Figure(key="moved.brand_beyond", label="First brand’s move, beyond chance", type=FigureType.AMOUNT,
           unit="powers of ten", source="Smyth (2004)", needs="listings", kinds=(NICHE,),
           formula=f"−log₁₀ of the chance that its share moves as far by itself; {_CHANCE}",
           compute=_brand(lambda m, w: against_chance(m.brand.move.p))),
    Figure(key="moved.brand_over", label="First brand over half, beyond chance", type=FigureType.AMOUNT,
           unit="powers of ten", source="Smyth (2004)", needs="listings", kinds=(NICHE,),
           formula=f"−log₁₀ of the chance that half of the clicks would seem as much; {_CHANCE}",
           compute=_brand(lambda m, w: against_chance(m.brand.over))),
    Figure(key="moved.brand_under", label="First brand under half, beyond chance", type=FigureType.AMOUNT,
           unit="powers of ten", source="Smyth (2004)", needs="listings", kinds=(NICHE,),
           formula=f"−log₁₀ of the chance that half of the clicks would seem as little; {_CHANCE}",
           compute=_brand(lambda m, w: against_chance(m.brand.under))),
    Figure(key="moved.leader_stock", label="The most clicked listing in stock", type=_SHARE,
           unit="share of time", formula="time in stock of the most clicked listing, last four weeks known",
           needs="listing_weeks", kinds=(NICHE,), compute=_brand(lambda m, w: m.leader_stock)),
    Figure(key="moved.settled", label="Searches up to the end of a year", type=FigureType.AMOUNT,
           formula="sum of the curve, as it came, up to the last end of a year at least 13 weeks ago: what "
               "changes it is a revision", compute=lambda w: w.settled, kinds=KINDS, unit="searches"),
    Figure(key="moved.settled_until", label="That end of a year", type=FigureType.DATE, unit="date",
           formula="the 31st of December it goes up to", compute=_settled_until, kinds=KINDS),
)  # fmt: skip
