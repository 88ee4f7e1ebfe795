"""Lines of the track record: what is counted of what was said and what came, with intervals."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import ndtri
from scipy.stats import false_discovery_control

from driftfield.core.base import (
    Bools,
    Estimate,
    Floats,
    Ints,
    Settings,
    Timeline,
    area_under_curve,
    clustered_mean,
    clustered_share,
    count_groups,
    lift,
)
from driftfield.core.curves import AHEAD

from .dates import EITHER_SIDE, Dated
from .demand import Foreseen
from .launched import SCORES, Launched
from .matched import followed, strata_of
from .replay import Then, later_by

LEAST = 20  # Observations from which anything is claimed; our choice.
LEAST_OF_BOTH = (
    5  # Launches that worked, and that did not, from which a score is judged; our choice.
)
NEAR = 2.0  # Weeks by which a date may lie off and still be found.
EIGHT_OF_TEN = 0.8
LEVELS = (0.5, 0.6, 0.7, 0.8, 0.9, 0.95)  # Coverages that intervals are made for, and held against.
SURE = 10  # Steps of confidence.
YEAR = 52


@dataclass(frozen=True, slots=True)
class Held:
    """One line of the record.

    part, measure: of what, and what is told of it. group: of which alone, empty for all. category: id of the
    one at the top of its tree that it is of alone, empty for all. weeks: how far ahead, 0 where that has no
    meaning. estimate: in the measure's unit; unknown where too little is known to claim
    anything. beside: the same of the obvious alternative, None for none. chance: of as much where there is
    nothing, NaN where it is not tested; stands: whether it holds at the false discovery rate over all that is
    tested in that part.
    """

    part: str
    measure: str
    group: str
    weeks: int
    estimate: Estimate
    beside: Estimate | None = None
    chance: float = float("nan")
    stands: bool = False
    category: str = ""


class LineMaker:
    """Makes lines of the record from what was said on some days.

    ``home`` is (subjects,), which subjects belong together: those of one niche share their luck. ``top`` is
    (subjects,), the id of the category at the top of each one's tree, empty for none; None where there is none.
    """

    def __init__(
        self,
        thens: Sequence[Then],
        settings: Settings,
        timeline: Timeline,
        home: Ints,
        top: np.ndarray | None = None,
    ) -> None:
        self.home = home
        self.top = np.full(len(home), "") if top is None else top
        self.thens, self.settings, self.timeline = thens, settings, timeline
        self.level = settings.interval

    def share(self, hit: Bools, subject: Ints, when: Ints) -> Estimate:
        if len(hit) < LEAST:
            return _unknown(subject, when)
        return clustered_share(hit, [self.home[subject], when], self.level)

    def mean(self, values: Floats, subject: Ints, when: Ints) -> Estimate:
        """Of logarithms, told as a change."""
        if len(values) < LEAST:
            return _unknown(subject, when)
        return _as_change(clustered_mean(values, [self.home[subject], when], self.level))

    def apart(self, words: np.ndarray, of: Bools, subject: Ints) -> list[tuple[str, str, Ints]]:
        """All of some rows, those of each word, and those of each category: word, category, rows."""
        by_category = self.by_category(np.flatnonzero(of), subject)
        return [
            *[(word, "", rows) for word, rows in _by_word(words, of)],
            *[("", category, rows) for category, rows in by_category],
        ]

    def by_category(self, rows: Ints, subject: Ints) -> list[tuple[str, Ints]]:
        """Some rows by the category at the top of their subject's tree; none where there is one alone."""
        top = self.top[subject[rows]]
        named = sorted(set(top.tolist()) - {""})
        return [(one, rows[top == one]) for one in named] if len(named) > 1 else []

    def forecasts(self, found: Foreseen) -> list[Held]:
        lines = []
        for weeks in AHEAD:
            ahead = found.weeks == weeks
            lines += self._levels(found, np.flatnonzero(ahead), weeks)
            for group, category, rows in self.apart(found.shape, ahead, found.subject):
                subject, when = found.subject[rows], found.when[rows]
                ours, naive = found.error[rows], found.naive_error[rows]
                both = (ours > 0) & (naive > 0)
                ratio = np.log(ours[both] / naive[both])
                lines += [
                    Held("forecast", measure, group, weeks, estimate, beside, category=category)
                    for measure, estimate, beside in (
                        (
                            "scaled_error",
                            _middle(ours, subject, when),
                            _middle(naive, subject, when),
                        ),
                        ("against_naive", self.mean(ratio, subject[both], when[both]), None),
                        ("within", self.share(found.within[rows] > 0, subject, when), None),
                        ("bias", self.mean(found.off[rows], subject, when), None),
                        (
                            "off",
                            _reach(found.off[rows], subject, when),
                            _reach(found.naive_off[rows], subject, when),
                        ),
                    )
                ]
        return lines

    def _levels(self, found: Foreseen, rows: Ints, weeks: int) -> list[Held]:
        """How much came within intervals of other coverages than that which is told."""
        whole = float(ndtri(0.5 + self.settings.forecast_interval / 2))
        subject, when, reach = found.subject[rows], found.when[rows], found.reach[rows]
        known = np.isfinite(reach)
        groups = subject[known], when[known]
        return [
            Held(
                "forecast", "within_level", f"{level:g}", weeks,
                self.share(reach[known] <= float(ndtri(0.5 + level / 2)) / whole, *groups),
            )
            for level in LEVELS
        ]  # fmt: skip

    def shapes(self) -> list[Held]:
        """Whether the shape a year later is the same."""
        same, words, subject, when = [], [], [], []
        sure: list[Floats] = []
        for place, then in enumerate(self.thens):
            later = self._later(place, YEAR)
            if later is None:
                continue
            before, after = (one.figures["shape"].astype(str) for one in (then, later))
            # Of what was not searched for yet nothing was said.
            known = ~np.isnan(then.figures["searches_52w"].astype(np.float64))
            rows = np.flatnonzero((before != "None") & known)
            same.append(before[rows] == after[rows])
            words.append(before[rows])
            sure.append(then.figures["shape_confidence"][rows].astype(np.float64))
            subject.append(rows)
            when.append(np.full(len(rows), place))
        if not same:
            return []
        hit, word, who, at = (np.concatenate(one) for one in (same, words, subject, when))
        lines = [
            Held(
                "shape", "kept", group, YEAR, self.share(hit[rows], who[rows], at[rows]),
                category=category,
            )
            for group, category, rows in self.apart(word, np.ones(len(word), dtype=bool), who)
        ]  # fmt: skip
        confidence = np.concatenate(sure)
        # What is exactly at a step's beginning is in it, and not lost to the last digit.
        step = np.minimum(np.floor(np.nan_to_num(confidence, nan=-1) * SURE + 1e-9), SURE - 1)
        for one in range(SURE):
            rows = np.flatnonzero(step == one)
            if len(rows):
                groups = count_groups([who[rows], at[rows]])
                meant = Estimate.alone(float(confidence[rows].mean()), len(rows), groups)
                told = self.share(hit[rows], who[rows], at[rows])
                lines.append(Held("shape", "kept_if_sure", f"{one / SURE:g}", YEAR, told, meant))
        return lines

    def _later(self, place: int, weeks: int) -> Then | None:
        return later_by(self.thens, place, weeks, self.timeline.period)

    def _grown(self, grown: Sequence[Floats]) -> tuple[Ints, Ints, Floats]:
        """Subjects, days and what they grew by in the year after, where it is known."""
        rows = [np.flatnonzero(np.isfinite(one)) for one in grown]
        when = np.concatenate([np.full(len(one), place) for place, one in enumerate(rows)])
        values = np.concatenate([one[at] for one, at in zip(grown, rows, strict=True)])
        return np.concatenate(rows), when, values

    def drift(self, grown: Sequence[Floats]) -> list[Held]:
        """How niches grew that were said to rise, hold or ease."""
        subject, when, growth = self._grown(grown)
        words = self._words("drift", subject, when)
        lines = []
        for group, rows in _by_word(words, np.ones(len(words), dtype=bool)):
            who, at = subject[rows], when[rows]
            lines += [
                Held("drift", "growth", group, YEAR, self.mean(growth[rows], who, at)),
                Held("drift", "grew", group, YEAR, self.share(growth[rows] > 0, who, at)),
            ]
        return lines

    def _words(self, key: str, subject: Ints, when: Ints) -> np.ndarray:
        out = np.full(len(subject), "None", dtype=object)
        for place, then in enumerate(self.thens):
            rows = np.flatnonzero(when == place)
            out[rows] = then.figures[key][subject[rows]].astype(str)
        return out

    def dates(self, found: Dated) -> list[Held]:
        who, at = found.subject, found.when
        known = np.flatnonzero(~np.isnan(found.caught))

        def near(values: Floats) -> Estimate:
            return self.share(np.abs(values) <= NEAR, who, at)

        # Of what was not found it is not known how far away it was.
        there = np.flatnonzero(np.abs(found.shift) < EITHER_SIDE)
        later = _unknown(who[there], at[there])
        if len(there) >= LEAST:
            later = clustered_mean(
                found.shift[there], [self.home[who[there]], at[there]], self.level
            )
        lines = [
            Held("season", "near", "", 0, near(found.shift)),
            Held("season", "later", "", 0, later),
            Held("season", "peak_near", "", 0, near(found.peak), near(found.naive_peak)),
        ]
        if len(known) >= LEAST:
            caught = found.caught[known], [self.home[who[known]], at[known]]
            lines.append(Held("season", "caught", "", 0, clustered_mean(*caught, self.level)))
        return lines

    def launches(self, found: Launched) -> list[Held]:
        who, at, won = found.subject, found.when, found.won
        everyone = np.arange(len(won))
        lines = [
            Held(
                "launch", "worked", "", 0, self.share(won[rows], who[rows], at[rows]),
                category=category,
            )
            for category, rows in [("", everyone), *self.by_category(everyone, who)]
        ]  # fmt: skip
        lines += self._headroom_apart(found)
        for key in SCORES:
            score = found.scores[key]
            rows = np.flatnonzero(~np.isnan(score))
            few = min(int(won[rows].sum()), int((~won[rows]).sum())) < LEAST_OF_BOTH
            if few or len(rows) < LEAST:
                unknown = _unknown(who[rows], at[rows])
                lines += [Held("launch", measure, key, 0, unknown) for measure in ("area", "lift")]
                continue
            told = score[rows], won[rows], [who[rows], at[rows]], self.level
            lines.append(Held("launch", "area", key, 0, area_under_curve(*told)))
            lines.append(Held("launch", "lift", key, 0, lift(*told)))
        for key, score in found.scores.items():
            lines += self._deciles(found, key, _tenths(score))
        return lines

    def _deciles(self, found: Launched, key: str, tenth: Ints) -> list[Held]:
        """Launches by the tenth of niches that they were in by a score; what they brought by headroom alone."""
        who, at, won = found.subject, found.when, found.won
        lines = []
        for place in range(10):
            rows = np.flatnonzero(tenth == place)
            group = f"{place + 1}"
            worked = self.share(won[rows], who[rows], at[rows])
            lines.append(Held("launch", f"worked_by_{key}", group, 0, worked))
            if key != "headroom":
                continue
            alive = rows[~np.isnan(found.alive[rows])]
            earned = rows[~np.isnan(found.revenue[rows])]
            lines += [
                Held("launch", "alive", group, YEAR,
                     self.share(found.alive[alive] > 0, who[alive], at[alive])),
                Held("launch", "revenue", group, 0, _middle(found.revenue[earned], who[earned], at[earned])),
            ]  # fmt: skip
        return lines

    def _headroom_apart(self, found: Launched) -> list[Held]:
        """What headroom says within each category.

        Of many categories some would seem to tell launches by chance: their intervals hold all at once
        (Bonferroni).
        """
        score = found.scores["headroom"]
        told = self.by_category(np.flatnonzero(~np.isnan(score)), found.subject)
        level = 1 - (1 - self.level) / max(len(told), 1)
        lines = []
        for category, rows in told:
            who, at, won = found.subject[rows], found.when[rows], found.won[rows]
            few = min(len(rows) - LEAST, min(int(won.sum()), int((~won).sum())) - LEAST_OF_BOTH) < 0
            area = (
                _unknown(who, at) if few else area_under_curve(score[rows], won, [who, at], level)
            )
            lines.append(Held("launch", "area", "headroom", 0, area, category=category))
        return lines

    def signals(self, keys: Sequence[str], grown: Sequence[Floats]) -> list[Held]:
        """How demand grew in the year after a signal was raised, against niches alike where it was not."""
        subject, when, growth = self._grown(grown)
        if not len(subject) or not keys:
            return []
        size = np.full(len(subject), np.nan)
        for place, then in enumerate(self.thens):
            rows = np.flatnonzero(when == place)
            size[rows] = then.figures["searches_52w"][subject[rows]]
        groups = [self.home[subject], when]
        alike = strata_of(self._words("shape", subject, when), size, when)
        lines = []
        for column, key in enumerate(keys):
            raised = np.zeros(len(subject), dtype=bool)
            for place, then in enumerate(self.thens):
                rows = np.flatnonzero(when == place)
                raised[rows] = then.raised[subject[rows], column]
            found, chance = followed(raised, growth, alike, groups, self.level)
            if found.many < LEAST:
                found, chance = Estimate.unknown(found.many, found.groups), float("nan")
            lines.append(Held("signal", "growth", key, YEAR, _as_change(found), chance=chance))
        return _held(lines, self.settings.watch_rate)

    def bands(self) -> list[Held]:
        """How often a later rank lies within the band of then; nothing of what is not ranked."""
        lines: list[Held] = []
        if not all("rank" in then.figures for then in self.thens):
            return lines
        for weeks in AHEAD:
            hit, subject, when = [], [], []
            for place, then in enumerate(self.thens):
                later = self._later(place, weeks)
                if later is None:
                    continue
                rank = later.figures["rank"].astype(np.float64)
                low, high = (
                    then.figures[key].astype(np.float64) for key in ("rank_low", "rank_high")
                )
                rows = np.flatnonzero((rank > 0) & (low > 0))
                hit.append((rank[rows] >= low[rows]) & (rank[rows] <= high[rows]))
                subject.append(rows)
                when.append(np.full(len(rows), place))
            if hit:
                whole = (np.concatenate(one) for one in (hit, subject, when))
                lines.append(Held("rank", "within", "", weeks, self.share(*whole)))
        return lines


def _as_change(found: Estimate) -> Estimate:
    """A mean of logarithms as a change."""
    value, low, high = (float(np.expm1(end)) for end in (found.value, found.low, found.high))
    return Estimate(value, low, high, found.many, found.groups)


def _by_word(words: np.ndarray, of: Bools) -> list[tuple[str, Ints]]:
    """All of some rows, and those of each word among them."""
    whole = np.flatnonzero(of)
    told = words[whole].astype(str)
    named = [(word, whole[told == word]) for word in sorted(set(told.tolist()) - {"None"})]
    return [("", whole), *named]


def _tenths(score: Floats) -> Ints:
    """The tenth that each score from 0 to 1 lies in, from 0; −1 where it is unknown."""
    return np.where(np.isnan(score), -1, np.minimum(np.floor(score * 10), 9)).astype(np.int64)


def _unknown(subject: Ints, when: Ints) -> Estimate:
    """Too little to claim anything of."""
    return Estimate.unknown(len(subject), count_groups([subject, when]))


def _middle(values: Floats, subject: Ints, when: Ints) -> Estimate:
    """The median, counted and not inferred: it has no interval."""
    return _quantile_of(values, subject, when, 0.5)


def _reach(off: Floats, subject: Ints, when: Ints) -> Estimate:
    """Within what part of the sum foreseen eight of ten came."""
    return _quantile_of(np.abs(np.expm1(off)), subject, when, EIGHT_OF_TEN)


def _quantile_of(values: Floats, subject: Ints, when: Ints, part: float) -> Estimate:
    if len(values) < LEAST:
        return _unknown(subject, when)
    # One of the values, for between two without end there is none. Without end it is unknown.
    value = float(np.quantile(values, part, method="higher"))
    groups = count_groups([subject, when])
    return Estimate.alone(value if np.isfinite(value) else float("nan"), len(values), groups)


def _held(lines: list[Held], rate: float) -> list[Held]:
    """Which of some lines stand at a false discovery rate."""
    tested = [place for place, one in enumerate(lines) if not np.isnan(one.chance)]
    if tested:
        told = false_discovery_control([lines[place].chance for place in tested]) <= rate
        for place, stands in zip(tested, told.tolist(), strict=True):
            lines[place] = replace(lines[place], stands=stands)
    return lines
