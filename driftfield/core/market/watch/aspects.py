"""What the watch compares: one aspect a row, with the figures it reads and how it tells two analyses apart.

An aspect is either tested, with the chance of seeing as much where nothing changed, or a fact, such as a date
that has passed. Chances of all that is tested are held to one false discovery rate (``compare``).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from statistics import NormalDist
from typing import Any

import numpy as np
from scipy import stats

from driftfield.core.base import Bools, Floats, Settings
from driftfield.core.curves import Drift, Shape

from .side import Side

HALF_YEAR = 182  # Days that a level shift needs to be named.
# Chance of a recent move below which it has likely been told, and above which it was none. Our choice.
TOLD, LIKELY = 1e-3, 0.05
SOON = 28  # Days before an order-by date from which it is told as coming. Our choice.
REVISED = 0.005  # Part of a settled sum by which it must differ to be told as revised. Our choice.
MISSING = 0.02  # Fall of the coverage from which figures are told as missing. Our choice.
SURE = (
    0.9  # Confidence that a shape needs at both analyses for a change of it to be told. Our choice.
)
EMPTY = 0.5  # Share of four weeks in stock below which a leader counts as out of stock. Our choice.
LEAST_RANKS = 20  # Ranks from which it is told how much they move.
RANK_DF = 2  # Of Student's distribution, by which the moves of ranks are judged. Our choice.
NORMAL_MAD = NormalDist().inv_cdf(0.75)
BLOCK = 4  # Weeks of the blocks that a drift is read from; a month where figures are monthly.


@dataclass(slots=True)
class Compared:
    """One aspect of subjects that two analyses have in common, (subjects,) each.

    then, now, low, high: what is told, with the interval of ``now``; NaN for none. since: ordinal of the day
    from which it holds. p: chance of as much where nothing changed, NaN where it is not tested. p_before: the
    same at the earlier analysis, NaN where that has none of its own. up: whether it goes up, and at the
    earlier analysis; further: whether it lies beyond what could be told then. fact: told without a test.
    words: what else is told, by name, None for unknown.
    """

    aspect: Aspect
    then: Floats
    now: Floats
    low: Floats
    high: Floats
    since: Floats
    p: Floats
    p_before: Floats
    up: Bools
    up_before: Bools
    further: Bools
    fact: Bools
    words: dict[str, np.ndarray] = field(default_factory=dict)

    @classmethod
    def nothing(cls, aspect: Aspect, n: int) -> Compared:
        """Nothing told of ``n`` subjects."""
        numbers = np.full((7, n), np.nan)
        flags = np.zeros((4, n), dtype=bool)
        return cls(aspect, *numbers, *flags)


@dataclass(frozen=True, slots=True, kw_only=True)
class Aspect:
    """One thing that can change.

    key, label: its identifier and what it is called. topic: what it tells of, where another aspect tells of
    the same; what is told of a topic once is not told again the other way. dated: as a fact it is one of its
    day, and else of the look that tells it. reads: keys of the figures it compares. weight: its consequence,
    the less the sooner it is told. compare: how; it is given a ``Compared`` of nothing to fill.
    """

    key: str
    label: str
    reads: tuple[str, ...]
    weight: int
    compare: Callable[[Compared, Side, Side, Settings], Any]
    topic: str = ""
    dated: bool = False

    def __call__(self, before: Side, after: Side, settings: Settings) -> Compared:
        """Compare two sides of the same subjects in the same order."""
        found = Compared.nothing(self, len(after.ids))
        self.compare(found, before, after, settings)
        return found


def _move(name: str) -> Callable[[Compared, Side, Side, Settings], None]:
    """A recent move: told where the later analysis can tell it and the earlier one could not, or not as
    much."""

    def compare(out: Compared, before: Side, after: Side, settings: Settings) -> None:
        key = f"moved.{name}"
        _standing(out, key, f"{key}_beyond", before, after)
        out.since = after.number(f"{key}_from")

    return compare


def _offers(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    _move("offers")(out, before, after, settings)
    _beyond_demand(out, after)


def _launches(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    _standing(out, "moved.launches", "moved.launches_beyond", before, after)
    _beyond_demand(out, after)
    out.words["launches"] = after.number("entry.launches_26w")


def _beyond_demand(out: Compared, after: Side) -> None:
    """What rises with demand, or might, is no crowd; nor is what falls."""
    with_demand = out.low <= np.fmax(np.nan_to_num(after.number("moved.demand_high")), 0)
    out.p = np.where(with_demand, np.nan, out.p)


def _prices(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    _move("price")(out, before, after, settings)
    # So little is not acted on, however surely it is known.
    slight = np.where(out.up, out.low, -out.high) <= settings.price_fall
    out.p = np.where(slight, np.nan, out.p)


def _slide(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """Prices of most listings moved in half a year, as against one another."""
    _move("slide")(out, before, after, settings)
    slight = np.where(out.up, out.low, -out.high) <= settings.price_fall
    out.p = np.where(slight, np.nan, out.p)


def _brand(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """Over half now beyond chance, and either under half before or moved up beyond chance."""
    names = after.word("moved.brand")
    out.words["brand"] = names
    out.now, out.low, out.high = (
        after.number(f"moved.brand_{end}") for end in ("share", "low", "high")
    )
    same = np.array(
        [a is not None and a == b for a, b in zip(names, before.word("moved.brand"), strict=True)]
    )
    was = np.where(same, before.number("moved.brand_share"), np.nan)
    out.then = np.where(np.isnan(was), after.number("moved.brand_then"), was)
    rose = after.number("moved.brand_share") > after.number("moved.brand_then")
    moved = np.where(rose, after.chance("moved.brand_beyond"), 1.0)
    under = np.where(same, before.chance("moved.brand_under"), 1.0)
    out.p = np.maximum(after.chance("moved.brand_over"), np.minimum(2 * np.fmin(moved, under), 1))
    out.p_before = np.where(same, before.chance("moved.brand_over"), np.nan)
    out.up, out.up_before = out.now > 0.5, was > 0.5


def _apart(out: Compared, error: Floats) -> None:
    """The chance of two figures as far apart, by a normal error of their difference."""
    with np.errstate(invalid="ignore", divide="ignore"):
        out.p = 2 * stats.norm.sf(np.abs(out.now - out.then) / error)
    out.p = np.where(error > 0, out.p, np.nan)
    out.up = out.now > out.then


def _off_none(side: Side, key: str, low: str, high: str, settings: Settings) -> Floats:
    """The chance of a rate as far off none, by the error of its logarithm behind its interval.

    By Student's distribution, whose tails are longer than the normal's: the error is told by few blocks.
    """
    df = max(settings.drift_weeks / BLOCK - 2, 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        value, start, end = (np.log1p(side.number(one)) for one in (key, low, high))
        found = np.asarray(
            2 * stats.t.sf(np.abs(value) * 2 * _z(settings) / (end - start), df), dtype=np.float64
        )
    return np.where(end > start, found, np.nan)


def _reach(side: Side, low: str, high: str, settings: Settings) -> Floats:
    """Standard error behind an interval."""
    found: Floats = (side.number(high) - side.number(low)) / (2 * _z(settings))
    return found


def _z(settings: Settings) -> float:
    """How many standard errors an interval reaches to each side."""
    return NormalDist().inv_cdf(0.5 + settings.interval / 2)


def _drift(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """It rises or eases beyond chance and did not; or the word for it is another, and the two rates lie apart.

    Two looks a week apart share nearly all they are made from, so that a rate that turns over months never lies
    apart from the one before: what counts is that it is known to have a direction, and was not.
    """
    out.then, out.now = before.number("drift_rate_year"), after.number("drift_rate_year")
    out.low, out.high = after.number("drift_low"), after.number("drift_high")
    out.words["then"], out.words["now"] = words = [side.word("drift") for side in (before, after)]
    plain = {str(one) for one in (Drift.RISING, Drift.HOLDING, Drift.EASING)}
    known = np.array([{a, b} <= plain for a, b in zip(*words, strict=True)], dtype=bool)
    # With a season it is two years that are compared, and by how much years differ anyway two do not tell.
    was_moving, moving = (
        np.isin(side.word("drift"), [str(Drift.RISING), str(Drift.EASING)])
        & (side.word("shape") == str(Shape.EVERGREEN))
        for side in (before, after)
    )
    ends = [_reach(side, "drift_low", "drift_high", settings) for side in (before, after)]
    _apart(out, np.hypot(*ends))
    stood, stands = (
        _off_none(side, "drift_rate_year", "drift_low", "drift_high", settings)
        for side in (before, after)
    )
    turned = known & (words[0] != words[1])
    out.p = np.where(known & moving, stands, np.where(turned, out.p, np.nan))
    out.p_before = np.where(moving & was_moving, stood, np.nan)
    out.up = np.where(moving, out.now > 0, out.up)
    out.up_before = out.then > 0


def _rank(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """Beyond the bands of both, and far beyond what ranks moved between the two analyses.

    A band says what other weights would make of a rank, and nothing of how the figures under it jitter. That is
    taken from all ranks together: their moves, as normal scores, in units of their median, with Student's long
    tails, since some move more than others.
    """
    out.then, out.now = before.number("rank"), after.number("rank")
    out.low, out.high = after.number("rank_low"), after.number("rank_high")
    scores = [_normal_scores(side.number("rank")) for side in (before, after)]
    moved = scores[1] - scores[0]
    known = ~np.isnan(moved)
    if known.sum() >= LEAST_RANKS:
        usual = np.median(np.abs(moved[known] - np.median(moved[known]))) / NORMAL_MAD
        if usual > 0:
            out.p = 2 * stats.t.sf(np.abs(moved) / usual, RANK_DF)
    bands = before.number("rank_low"), before.number("rank_high")
    clear = (out.high < bands[0]) | (out.low > bands[1])
    out.p = np.where(clear, out.p, np.nan)
    out.up = out.now < out.then
    out.words["headroom_then"], out.words["headroom_now"] = (
        side.number("headroom") for side in (before, after)
    )


def _normal_scores(ranks: Floats) -> Floats:
    """Places as quantiles of the normal distribution (Blom 1958), NaN for none."""
    number = np.nanmax(ranks, initial=1)
    found: Floats = stats.norm.ppf((ranks - 0.375) / (number + 0.25))
    return found


def _complaint(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """The same complaint in a larger share of what is written."""
    names = after.word("voices.complaint")
    out.words["complaint"] = names
    out.then, out.now = (side.number("voices.complaint_share") for side in (before, after))
    texts = [side.number("voices.texts") for side in (before, after)]
    same = np.array(
        [
            a is not None and a == b
            for a, b in zip(names, before.word("voices.complaint"), strict=True)
        ],
        dtype=bool,
    )
    with np.errstate(invalid="ignore", divide="ignore"):
        both = (out.then * texts[0] + out.now * texts[1]) / (texts[0] + texts[1])
        error = np.sqrt(both * (1 - both) * (1 / texts[0] + 1 / texts[1]))
    _apart(out, error)
    out.p = np.where(same & (out.now > out.then), out.p, np.nan)
    out.low = after.number("voices.complaint_low")


def _shift(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """A level shift is named that was not, and that was not told as a recent move either."""
    out.now, out.since = after.number("step_size"), after.number("step_from")
    out.then = np.where(np.isnan(out.now), np.nan, 0.0)
    was = before.number("step_from")
    # The week of a shift is found anew each time, some weeks to either side.
    known = np.abs(out.since - was) <= 7 * 13
    moved = before.number("moved.demand")
    same = (moved > 0) == (out.now > 0)
    chance = np.where(same, before.chance("moved.demand_beyond"), 1.0)
    # Between looks that are close it must have been on its way: a shift out of nothing is a whim of the search.
    came = (after.as_of - before.as_of > HALF_YEAR) | (chance < LIKELY)
    new = ~np.isnan(out.since) & ~known & (out.since > before.as_of - 2 * 364)
    out.fact = new & came & (chance >= TOLD)
    out.up = out.now > 0


def _shape(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    words = [side.word("shape") for side in (before, after)]
    sure = [side.number("shape_confidence") for side in (before, after)]
    told = {str(one) for one in Shape} - {str(Shape.UNSETTLED)}
    other = np.array([a != b and {a, b} <= told for a, b in zip(*words, strict=True)], dtype=bool)
    out.words["then"], out.words["now"] = words
    out.then, out.now = sure
    out.fact = other & (sure[0] >= SURE) & (sure[1] >= SURE)


def _standing(out: Compared, key: str, beyond: str, before: Side, after: Side) -> None:
    """A figure that is told with its interval while it stands off none beyond chance."""
    out.now, out.low, out.high = (after.number(f"{key}{end}") for end in ("", "_low", "_high"))
    out.then = np.where(np.isnan(out.now), np.nan, 0.0)
    out.p, out.p_before = after.chance(beyond), before.chance(beyond)
    out.up, out.up_before = out.now > 0, before.number(key) > 0
    out.further = np.where(
        out.up,
        out.low > before.number(f"{key}_high"),
        out.high < before.number(f"{key}_low"),
    )


def _season(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """The season at hand comes early or late."""
    _standing(out, "moved.season", "moved.season_beyond", before, after)


def _own_share(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """One's own share of what a niche sells is another than at the time it is compared with."""
    _standing(out, "own.share_change", "own.share_beyond", before, after)
    for name in ("verdict", "against"):
        out.words[name] = after.word(f"own.{name}")
    for name in ("share", "share_then"):
        out.words[name] = after.number(f"own.{name}")


def _gone(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    lives = [side.word("life") for side in (before, after)]
    out.fact = np.array(
        [a is not None and a != "Gone" and b == "Gone" for a, b in zip(*lives, strict=True)],
        dtype=bool,
    )
    out.then, out.now = (side.number(after.kind.size) for side in (before, after))
    out.since = after.number("gone_since")


def _order_soon(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    day = after.number("act.order_by")
    left = day - after.planning
    was = before.number("act.order_by") - before.planning
    coming = (left >= 0) & (left <= SOON)
    new = np.isnan(was) | (was > SOON) | (was < 0) | (before.number("act.order_by") < day - SOON)
    out.fact, out.since, out.now = coming & new, day, left
    out.then = was
    out.words["caught"] = after.number("act.caught")


def _order_missed(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    """The date lay ahead at the earlier analysis and lies behind at the later one, and what is left by now."""
    day = before.number("act.order_by")
    out.fact = (day >= before.planning) & (day < after.planning)
    out.since, out.now = day, after.number("act.caught")
    out.then = before.number("act.caught")
    out.words["next"] = after.number("act.order_by")
    out.words["planning"] = np.full(len(day), float(after.planning))


def _stock(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    out.then, out.now = (side.number("moved.leader_stock") for side in (before, after))
    out.fact = (out.now < EMPTY) & (out.then >= EMPTY)


def _launch(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    out.since = after.as_of - after.number("entry.newest_days")
    out.fact = out.since > before.as_of
    out.then, out.now = (side.number("entry.launches_26w") for side in (before, after))
    for name in ("successes", "judged"):
        out.words[name] = after.number(f"entry.{name}")


def _revised(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    same = before.number("moved.settled_until") == after.number("moved.settled_until")
    out.then, out.now = (side.number("moved.settled") for side in (before, after))
    with np.errstate(invalid="ignore"):
        out.fact = same & (np.abs(out.now - out.then) > REVISED * np.fmax(out.then, out.now))
    out.since = after.number("moved.settled_until")


def _missing(out: Compared, before: Side, after: Side, settings: Settings) -> None:
    out.then, out.now = (side.number("coverage") for side in (before, after))
    out.fact = out.now < out.then - MISSING


_ENDS = ("", "_low", "_high", "_beyond", "_from")


def _moved(name: str) -> tuple[str, ...]:
    return tuple(f"moved.{name}{end}" for end in _ENDS)


_ORDER = ("act.order_by", "act.caught")
_BRAND = tuple(
    f"moved.brand{end}"
    for end in ("", "_share", "_low", "_high", "_then", "_beyond", "_over", "_under")
)
_OWN = (
    *(f"own.share_change{end}" for end in ("", "_low", "_high")), "own.share_beyond", "own.share",
    "own.share_then", "own.verdict", "own.against",
)  # fmt: skip
_DRIFT = ("drift", "drift_rate_year", "drift_low", "drift_high", "shape")

ASPECTS: tuple[Aspect, ...] = (
    Aspect(key="order_missed", dated=True, label="Order-by date missed", reads=_ORDER, weight=1,
           compare=_order_missed),
    Aspect(key="order_soon", dated=True, label="Order-by date near", reads=_ORDER, weight=2,
           compare=_order_soon),
    Aspect(key="gone", dated=True, label="Demand gone", reads=("life", "gone_since"), weight=3, compare=_gone),
    Aspect(key="own_share", label="Own share moved", reads=_OWN, weight=4, compare=_own_share),
    Aspect(key="demand", label="Demand off its course", reads=_moved("demand"), weight=5,
           compare=_move("demand")),
    Aspect(key="season", label="Season early or late", weight=6, compare=_season,
           reads=tuple(f"moved.season{end}" for end in ("", "_low", "_high", "_beyond"))),
    Aspect(key="level_shift", dated=True, label="Level shift named", weight=7, compare=_shift, topic="demand",
           reads=("step_size", "step_from", "moved.demand", "moved.demand_beyond")),
    Aspect(key="prices", label="Prices off their course", reads=_moved("price"), weight=8, compare=_prices),
    Aspect(key="price_slide", label="Prices of most listings moved", reads=_moved("slide")[:-1], weight=9,
           compare=_slide, topic="prices"),
    Aspect(key="brand_over_half", label="A brand passed half", reads=_BRAND, weight=10, compare=_brand),
    Aspect(key="offers", label="Offers piling in", weight=11, compare=_offers,
           reads=(*_moved("offers"), "moved.demand_high")),
    Aspect(key="launches", label="Launches piling in", weight=12, compare=_launches,
           reads=(*(f"moved.launches{end}" for end in ("", "_low", "_high", "_beyond")), "moved.demand_high",
                  "entry.launches_26w")),
    Aspect(key="drift", label="Drift turned", reads=_DRIFT, weight=13, compare=_drift),
    Aspect(key="shape", label="Shape changed", reads=("shape", "shape_confidence"), weight=14, compare=_shape),
    Aspect(key="rank", label="Rank beyond its band", weight=15, compare=_rank,
           reads=("rank", "rank_low", "rank_high", "headroom")),
    Aspect(key="complaint", label="Complaint grown", weight=16, compare=_complaint,
           reads=("voices.complaint", "voices.complaint_share", "voices.complaint_low", "voices.texts")),
    Aspect(key="leader_stock", label="Leader out of stock", reads=("moved.leader_stock",), weight=17,
           compare=_stock),
    Aspect(key="launch", dated=True, label="New launch", weight=18, compare=_launch,
           reads=("entry.newest_days", "entry.launches_26w", "entry.successes", "entry.judged")),
    Aspect(key="revised", label="Figures revised", reads=("moved.settled", "moved.settled_until"), weight=19,
           compare=_revised),
    Aspect(key="missing", label="Figures missing", reads=("coverage",), weight=20, compare=_missing),
)  # fmt: skip
ASPECTS_BY_KEY = {aspect.key: aspect for aspect in ASPECTS}
