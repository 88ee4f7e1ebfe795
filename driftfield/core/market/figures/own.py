"""Figures of own part: what one sells in a niche, one's share, and how its growth splits."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.supply import Against, Comparison, OwnPart, OwnVerdict

from ..kinds import NICHE
from ..workings import Workings
from .figure import Compute, Figure, FigureType
from .moves import against_chance

_OF = (NICHE,)
_OVER = (
    "13 weeks against the same a year before, or where that is not known against the 13 before; weeks count of "
    "which both are known"
)
_RATES = (
    "Wilson (1927), as the score interval of a ratio of rates; scatter of own units by von Neumann (1941), "
    "pooled (Smyth 2004)"
)
_MARKET = "scatter of four weeks by von Neumann (1941), pooled (Smyth 2004)"
BY = ("units", "searches")
CHANGE, SHARE, AMOUNT, WORD = (
    FigureType.CHANGE,
    FigureType.SHARE,
    FigureType.AMOUNT,
    FigureType.WORD,
)


def _own(read: Callable[[OwnPart], Floats]) -> Compute:
    """Numbers of own niches at their places; NaN of all others."""

    def compute(work: Workings) -> np.ndarray:
        found = np.full(work.count, np.nan)
        if work.own is not None:
            found[work.own.subject] = read(work.own)
        return found

    return compute


def _told(read: Callable[[Comparison], Floats]) -> Compute:
    """Numbers of the comparison that is told first of each own niche."""

    def pick(own: OwnPart) -> Floats:
        each = [read(one) for one in own.comparisons]
        return np.array(
            [
                np.nan if place is None else each[place][at]
                for at, place in enumerate(own.headline())
            ]
        )

    return _own(pick)


def _words(read: Callable[[OwnPart], list[str | None]]) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        found = np.full(work.count, None, dtype=object)
        if work.own is not None:
            for subject, word in zip(work.own.subject.tolist(), read(work.own), strict=True):
                found[subject] = word
        return found

    return compute


def _verdict(own: OwnPart) -> list[str | None]:
    each = [one.verdict() for one in own.comparisons]
    words = (None if place is None else each[place][at] for at, place in enumerate(own.headline()))
    return [None if word is None else str(word) for word in words]


def _against(own: OwnPart) -> list[str | None]:
    return [
        None if place is None else str(own.comparisons[place].against) for place in own.headline()
    ]


def _by(own: OwnPart) -> list[str | None]:
    return [BY[0] if one.by_units else BY[1] for one in own.niches]


def _of_units(own: OwnPart, share: Floats) -> Floats:
    """Shares of what is sold; NaN where only searches are known."""
    return np.where([one.by_units for one in own.niches], share, np.nan)


def _share_52w(own: OwnPart) -> Floats:
    units, _, market = own.year()
    with np.errstate(invalid="ignore", divide="ignore"):
        return _of_units(own, np.where(market > 0, units / market, np.nan))


def _share(now: bool) -> Compute:
    def pick(own: OwnPart) -> Floats:
        found = np.full(len(own.niches), np.nan)
        for at, place in enumerate(own.headline()):
            if place is not None:
                one = own.comparisons[place]
                units, market = (
                    (one.own_now, one.market_now) if now else (one.own_then, one.market_then)
                )
                found[at] = units[at] / market[at]
        return _of_units(own, found)

    return _own(pick)


def _ratio(
    key: str, label: str, formula: str, source: str, read: Callable[[Comparison], object]
) -> tuple[Figure, ...]:
    """A growth with the ends of its interval; ``read`` gives the ratios."""

    def end(name: str) -> Compute:
        return _told(lambda one: np.asarray(getattr(read(one), name)) - 1)

    ends = ("lower", "low", ", low end"), ("upper", "high", ", high end")
    return (
        Figure(key=f"own.{key}", label=label, type=CHANGE, unit="change", formula=formula, source=source,
               needs="own_sales", kinds=_OF, compute=end("value")),
        *(Figure(key=f"own.{key}_{name}", label=f"{label}{more}", type=CHANGE, unit="change",
                 formula=f"{word} end of its 90% interval", source=source, needs="own_sales", kinds=_OF,
                 compute=end(name)) for word, name, more in ends),
    )  # fmt: skip


OWN_PART: tuple[Figure, ...] = (
    Figure(key="own.units_52w", label="Your units a year", type=AMOUNT, unit="units", needs="own_sales",
           formula="own sales of the niche, or of its listings by the part of their clicks that it brings, "
               "last 52 weeks", kinds=_OF, compute=_own(lambda own: own.year()[0])),
    Figure(key="own.revenue_52w", label="Your revenue a year", type=AMOUNT, unit="currency", needs="own_sales",
           formula="revenue of own sales, last 52 weeks", kinds=_OF,
           compute=_own(lambda own: own.year()[1])),
    Figure(key="own.share_52w", label="Your share", type=SHARE, unit="share of units", needs="own_sales",
           formula="own units ÷ units of the niche, last 52 weeks", kinds=_OF,
           compute=_own(_share_52w)),
    Figure(key="own.share", label="Your share of late", type=SHARE, unit="share of units", needs="own_sales",
           formula="own units ÷ units of the niche, last 13 weeks as compared", kinds=_OF,
           compute=_share(True)),
    Figure(key="own.share_then", label="Your share before", type=SHARE, unit="share of units",
           formula="the same at the time it is compared with", needs="own_sales", kinds=_OF,
           compute=_share(False)),
    Figure(key="own.against", label="Own part against", type=WORD, needs="own_sales", kinds=_OF,
           formula="what the 13 weeks are compared with", choices=tuple(map(str, Against)),
           compute=_words(_against)),
    Figure(key="own.by", label="Own part by", type=WORD, needs="own_sales", kinds=_OF, choices=BY,
           formula="what the market is told by: units sold there, or where these are not known searches",
           compute=_words(_by)),
    *_ratio("growth", "Your growth", f"own units, {_OVER}", f"{_RATES}; Zou & Donner (2008)",
            lambda one: one.own),
    Figure(key="own.season", label="Your growth by the season", type=CHANGE, unit="change", needs="own_sales",
           formula="sums of the season’s factors over the same weeks", kinds=_OF,
           compute=_told(lambda one: one.season - 1)),
    *_ratio("market", "Your growth by the market", "what the niche sold, without the season, over the same "
            "weeks", _MARKET, lambda one: one.drift),
    *_ratio("share_change", "Your growth by your share", "share now ÷ share then: (1 + your growth) = "
            "(1 + season) × (1 + market) × (1 + share)", _RATES, lambda one: one.share),
    Figure(key="own.share_beyond", label="Your share’s move, beyond chance", type=AMOUNT, unit="powers of ten",
           formula="−log₁₀ of the chance that it moves as far by itself; 0 at 1, 2 at 1 in 100, 6 at one in a "
               "million", source=_RATES, needs="own_sales", kinds=_OF,
           compute=_told(lambda one: against_chance(one.share.p))),
    Figure(key="own.verdict", label="Own part", type=WORD, choices=tuple(map(str, OwnVerdict)), kinds=_OF,
           formula="which of market and share moved by more than their intervals", needs="own_sales",
           compute=_words(_verdict)),
    Figure(key="own.told", label="Your sales against what is told of your listings", type=FigureType.RATIO,
           unit="times what is told", formula="own units ÷ units in listing_weeks, of the listings and "
               "weeks of the last 52 that have both", needs="own_sales", kinds=_OF,
           compute=_own(lambda own: own.told.ratio)),
)  # fmt: skip
