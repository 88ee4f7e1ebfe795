"""How often the season to act on is the right one, and how well what is caught of it is told.

    PYTHONPATH=. .venv/bin/python benchmarks/season_dates.py [--curves 2000] [--seed 41]

Curves of known_curves.py with one or two seasons a year are read, and dates planned for a lead time of 14
to 180 days that is drawn for each. What is right is worked out from the profile a curve was made from, slot
by slot, with the peaks scipy finds in it. “Late” are those whose goods arrive after the season's rise has
begun. A day on which between 45 and 55% of a season is caught is not drawn: whether that is half is no
question of right or wrong.
"""

from __future__ import annotations

import argparse
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from known_curves import FIRST, WEEKS, draw_seasons, prominences

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import FEAST_NAMES, read_curves
from driftfield.core.market import plan_subjects

PLAIN_HUMP = 0.25  # The default of hump_share.


@dataclass(frozen=True, slots=True)
class Truth:
    """top: first day of the peak week of the season to act on; caught: of it; quarter: share of the year
    in the 13 weeks after arrival. clear: whether half was no close call."""

    top: date
    caught: float
    quarter: float
    late: bool
    clear: bool


def truth_of(made: np.ndarray, planning: date, lead: int) -> Truth:
    """What a profile says when every week is gone through by itself."""
    places, heights = prominences(made)
    tops = sorted(places[heights >= PLAIN_HUMP].tolist())
    arrival = planning + timedelta(days=lead)
    coming: list[tuple[date, float, date]] = []
    for i, top in enumerate(tops):
        before = tops[i - 1] - (52 if i == 0 else 0)
        after = tops[(i + 1) % len(tops)] + (52 if i == len(tops) - 1 else 0)
        first = min(range(before + 1, top), key=lambda w: made[w % 52])
        last = min(range(top + 1, after), key=lambda w: made[w % 52])
        for year in range(planning.year - 2, planning.year + 4):
            begin = date.fromisocalendar(year, 1, 1) + timedelta(weeks=first)
            days = [begin + timedelta(days=d) for d in range(7 * (last - first))]
            demand = np.repeat([made[w % 52] for w in range(first, last)], 7)
            caught = demand[[day >= arrival for day in days]].sum() / demand.sum()
            coming.append((begin + timedelta(weeks=top - first), caught, begin))
    coming.sort()
    clear = not any(0.45 < caught < 0.55 for _, caught, _ in coming)
    top_day, caught, begin = next(one for one in coming if one[1] >= 0.5)
    weeks = np.arange(13 * 7) + (arrival.isocalendar().week - 1) * 7 + arrival.weekday()
    quarter = made[(weeks // 7) % 52].sum() / 7 / made.sum()
    return Truth(top_day, float(caught), float(quarter), caught < 0.98, clear)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--curves", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=41)
    options = parser.parse_args()
    timeline = Timeline(Period.WEEK, FIRST, WEEKS)
    planning = timeline.end
    names = np.array([*FEAST_NAMES, None], dtype=object)
    print(f"{'seasons':>8}{'curves':>8}{'right':>9}{'late: right':>13}{'caught, median error':>22}"
          f"{'quarter, median error':>23}{'no season claimed':>19}")  # fmt: skip
    for humps in (1, 2):
        rng = np.random.default_rng([options.seed, humps])
        truths, curves, leads = [], [], []
        while len(truths) < options.curves:
            values, made = draw_seasons(humps, rng)
            lead = int(rng.integers(14, 181))
            truth = truth_of(made, planning, lead)
            if truth.clear:
                truths.append(truth)
                curves.append(values)
                leads.append(lead)
        read = read_curves(np.array(curves), timeline, DEFAULTS)
        right, errors, quarters, unclaimed = [], [], [], 0
        for row, (truth, lead) in enumerate(zip(truths, leads, strict=True)):
            one = slice(row, row + 1)
            plan = plan_subjects(
                read.shape.shape[one], names[read.feast[one]], read.factors[one],
                read.season.starts[one], Period.WEEK, DEFAULTS.with_pairs([f"lead_days={lead}"]),
                as_of=planning,
            )  # fmt: skip
            unclaimed += bool(np.isnan(plan.caught[0]))
            acted = np.flatnonzero(plan.planned.rise - lead == plan.order_by[0])
            near = False
            if acted.size:
                start, end = (
                    int(getattr(plan.planned, name)[acted[0]])
                    for name in ("peak_start", "peak_end")
                )
                near = start - 21 <= truth.top.toordinal() <= end + 21
            error = abs(plan.caught[0] - truth.caught)
            right.append(near and error <= 0.1)
            errors.append(error)
            quarters.append(abs(plan.after_arrival[0] - truth.quarter))
        late = np.array([truth.late for truth in truths])
        print(f"{humps:>8}{len(truths):>8}{np.mean(right):>9.1%}{np.mean(np.array(right)[late]):>13.1%}"
              f"{np.nanmedian(errors):>22.3f}{np.nanmedian(quarters):>23.4f}{unclaimed:>19}")  # fmt: skip


if __name__ == "__main__":
    main()
