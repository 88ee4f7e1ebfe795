"""Weekly curves whose shape, drift and calendar are known because they were made from them.

Kept apart from the tests: the benchmarks measure on these how often a reading is right. While the
core was written its mistakes on these curves were looked at, with other seeds than the one that is
reported. A curve's shape follows from the profile it was made with, by the published thresholds,
and profiles close to a threshold are not drawn, so that there is one right answer.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from scipy.signal import find_peaks

FIRST = date(2021, 5, 17)
WEEKS = 260
# Western Easter Sundays, from the published ecclesiastical tables.
EASTER = [date(2021, 4, 4), date(2022, 4, 17), date(2023, 4, 9), date(2024, 3, 31),
          date(2025, 4, 20), date(2026, 4, 5), date(2027, 3, 28)]  # fmt: skip
ENDED = ("fad of 1-3 years", "gone", "dying")
PLAIN = ("Evergreen", "Leaning", "Seasonal", "Occasion", "Fad", "Unsettled")
HARD = ("strong growth", "level shift", "2-3 years", "outlier weeks", "Easter-bound", "25 a week")


@dataclass(frozen=True, slots=True)
class Known:
    """One curve and what it was made from.

    values, expected: (length,), the curve ends with the last week of the common timeline.
    calendar: (length,) the season's factor in each week, mean about 1 over a year; None where the
    shape has none. rate: drift a year, as a fraction.
    """

    values: np.ndarray
    expected: np.ndarray
    calendar: np.ndarray | None
    shape: str
    kind: str
    rate: float


def best(profile: np.ndarray, window: int) -> float:
    """Share of a year in its best consecutive weeks."""
    around = np.concatenate([profile, profile[: window - 1]])
    sums = np.convolve(around, np.ones(window), "valid")
    return float(sums.max() / profile.sum())


def _bump(at: float, spread: float, kind: str) -> np.ndarray:
    weeks = np.arange(52)
    signed = (weeks - at + 26) % 52 - 26
    if kind == "plateau":
        return 1 / (1 + np.exp((np.abs(signed) - 1.6 * spread) * 2.5 / spread))
    if kind == "skewed":
        spread = np.where(signed < 0, 0.6 * spread, 1.4 * spread)
    return np.exp(-0.5 * (signed / spread) ** 2)


def profile(shape: str, rng: np.random.Generator) -> np.ndarray:
    """A season profile, (52,) with mean 1, well inside ``shape`` by the published thresholds."""
    while True:
        at = rng.uniform(0, 52)
        if shape == "Evergreen":
            made = 1 + rng.uniform(0, 0.12) * np.cos(2 * np.pi * (np.arange(52) - at) / 52)
        elif shape == "Leaning" and rng.random() < 0.6:
            made = 1 + rng.uniform(0.2, 0.45) * np.cos(2 * np.pi * (np.arange(52) - at) / 52)
        else:
            spread = rng.uniform(1, 2) if shape == "Occasion" else rng.uniform(3, 8)
            floor = {"Leaning": rng.uniform(0.4, 0.8), "Seasonal": rng.uniform(0, 0.35)}.get(
                shape, 0.02
            )
            form = _bump(at, spread, rng.choice(["bell", "plateau", "skewed"]))
            if shape != "Occasion" and rng.random() < 0.2:
                form = form + rng.uniform(0.5, 1) * _bump(at + rng.uniform(18, 34), spread, "bell")
            made = floor + (1 - floor) * form / form.mean()
        made = made / made.mean()
        quarter, month = best(made, 13), best(made, 4)
        fits = {
            "Evergreen": quarter < 0.285,
            "Leaning": 0.307 < quarter < 0.366,
            "Seasonal": quarter > 0.40 and month < 0.32,
            "Occasion": month > 0.39,
        }
        if fits[shape]:
            return np.asarray(made)


def seasons_profile(humps: int, rng: np.random.Generator) -> np.ndarray:
    """A profile with one or two seasons a year, (52,) with mean 1.

    The lower hump of two is 40 to 100% of the other and 18 to 34 weeks away. Profiles are not drawn in
    which it stands out so little that whether it is a season is a matter of taste.
    """
    while True:
        at, spread = rng.uniform(0, 52), rng.uniform(1.2, 6)
        form = _bump(at, spread, rng.choice(["bell", "plateau", "skewed"]))
        if humps == 2:
            spread = rng.uniform(1.2, 5)
            form = form + rng.uniform(0.4, 1) * _bump(at + rng.uniform(18, 34), spread, "bell")
        floor = rng.uniform(0, 0.5)
        made = floor + (1 - floor) * form / form.mean()
        made = made / made.mean()
        if best(made, 13) > 0.32 and not any(
            0.15 < height < 0.35 for height in prominences(made)[1]
        ):
            return np.asarray(made)


def prominences(made: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Peaks of a year by scipy, slots, and their prominence as a part of the range."""
    slots = len(made)
    places, found = find_peaks(np.tile(made, 3), prominence=1e-9 * np.ptp(made))
    own = (places >= slots) & (places < 2 * slots)
    return places[own] - slots, found["prominences"][own] / np.ptp(made)


def _calendar(made: np.ndarray, length: int, rng: np.random.Generator, uneven: float) -> np.ndarray:
    """A profile laid over the weeks; each year comes a little early or late and is a little unlike."""
    days = [FIRST + timedelta(weeks=i) for i in range(WEEKS - length, WEEKS)]
    slots = np.array([min(d.isocalendar().week, 52) - 1 for d in days], dtype=float)
    # Years are counted from the profile's quietest week, so that none is cut in its season.
    quiet = int(made.argmin())
    year = np.cumsum(np.r_[0, np.diff((slots - quiet) % 52) < 0])
    early = np.clip(rng.normal(0, 0.5 * uneven, year[-1] + 1), -1.5, 1.5)[year]
    power = np.exp(rng.normal(0, 0.08 * uneven, year[-1] + 1))[year]
    moved = np.interp((slots + early) % 52, np.arange(53), np.r_[made, made[0]])
    return np.asarray(moved**power)


def _wander(length: int, rng: np.random.Generator, size: float) -> np.ndarray:
    noise = rng.normal(0, size, length)
    out = np.zeros(length)
    for i in range(1, length):
        out[i] = 0.7 * out[i - 1] + noise[i]
    return np.exp(out)


def _from_easter(rng: np.random.Generator, length: int) -> np.ndarray:
    """A calendar that hangs on Easter: a bump of one to two weeks' spread, before the day."""
    ahead, spread = rng.uniform(-2.5, 0.5), rng.uniform(1, 1.8)
    weeks = [FIRST + timedelta(weeks=i, days=3) for i in range(WEEKS - length, WEEKS)]
    near = np.array([min(((d - e).days / 7 for e in EASTER), key=abs) for d in weeks])
    made = 0.03 + 52 / (spread * 2.507) * 0.97 * np.exp(-0.5 * ((near - ahead) / spread) ** 2)
    return np.asarray(made)


def draw(shape: str, kind: str, rng: np.random.Generator, uneven: float = 1) -> Known:
    """One curve of a shape; ``kind`` is plain or one of HARD.

    ``uneven`` scales how far the years' seasons differ and how far the level wanders.
    """
    length = WEEKS if kind != "2-3 years" else int(rng.integers(104, 157))
    weeks = np.arange(length) - length + 1
    level = 25.0 if kind == "25 a week" else float(np.exp(rng.uniform(np.log(100), np.log(3000))))
    rate = float(rng.uniform(-0.15, 0.2))
    if kind == "strong growth":
        rate = float(rng.uniform(0.5, 1.0))
    calendar: np.ndarray | None = None
    if kind == "Easter-bound":
        calendar = _from_easter(rng, length)
    elif shape in {"Evergreen", "Leaning", "Seasonal", "Occasion"}:
        calendar = _calendar(profile(shape, rng), length, rng, uneven)
    if calendar is not None:
        form = calendar
    elif shape == "Fad":
        at = rng.uniform(0.15, 0.55) * length
        rise, fall = rng.uniform(2, 6), rng.uniform(5, 12)
        gap = np.arange(length) - at
        form = 0.03 + 8 * np.exp(-0.5 * (gap / np.where(gap < 0, rise, fall)) ** 2)
        rate = 0.0
    else:  # bursts, each year at another time
        form = np.full(length, 0.4)
        for start in range(0, length, 52):
            at, size, wide = start + rng.integers(0, 48), rng.uniform(2, 6), rng.integers(4, 9)
            form[at : at + wide] += size
    expected = level * form * (1 + rate) ** (weeks / 52)
    if kind == "level shift":
        at = int(rng.uniform(0.3, 0.7) * length)
        factor = rng.uniform(1.5, 2.5)
        expected = expected * np.where(
            np.arange(length) < at, 1, factor if rng.random() < 0.6 else 1 / factor
        )
    expected = expected * _wander(length, rng, 0.045 * uneven)
    values = rng.poisson(expected).astype(float)
    if kind == "outlier weeks":
        for at in rng.choice(length, int(rng.integers(1, 4)), replace=False):
            values[at] = round((values[at] + level) * rng.uniform(6, 20))
    return Known(values, expected, calendar, shape, kind, rate)


def draw_seasons(humps: int, rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    """Weekly counts (WEEKS,) with one or two seasons a year, and the profile they were made from."""
    made = seasons_profile(humps, rng)
    length = WEEKS if rng.random() < 0.8 else int(rng.integers(130, 209))
    level = float(np.exp(rng.uniform(np.log(100), np.log(3000))))
    weeks = np.arange(length) - length + 1
    expected = (
        level * _calendar(made, length, rng, 1) * (1 + rng.uniform(-0.15, 0.2)) ** (weeks / 52)
    )
    values = np.full(WEEKS, np.nan)
    values[WEEKS - length :] = rng.poisson(expected * _wander(length, rng, 0.045))
    return values, made


def draw_ended(kind: str, rng: np.random.Generator) -> np.ndarray:
    """Weekly counts, (WEEKS,) with NaN before they begin, of demand that ends; see ENDED.

    fad of 1-3 years: a burst of a few months and nothing for a year or more after it. gone: level or seasonal
    demand of over a year and a half that stops within a quarter, at least 54 weeks ago. dying: it has halved in
    every half year for two, and is not empty yet.
    """
    level = float(np.exp(rng.uniform(np.log(5), np.log(2000))))
    values = np.full(WEEKS, np.nan)
    if kind == "fad of 1-3 years":
        length = int(rng.integers(75, 157))
        at = rng.uniform(6, length - 66)
        gap = np.arange(length) - at
        form = 6 * np.exp(
            -0.5 * (gap / np.where(gap < 0, rng.uniform(1, 3), rng.uniform(2, 4))) ** 2
        )
    else:
        length = int(rng.integers(150, WEEKS + 1))
        shape = ("Evergreen", "Leaning", "Seasonal", "Occasion")[int(rng.integers(4))]
        form = _calendar(profile(shape, rng), length, rng, 1)
        weeks = np.arange(length)
        if kind == "gone":
            end = int(rng.integers(80, length - 66))
            form = form / (1 + np.exp(np.minimum((weeks - end) / 2, 50)))
        else:
            form = form * 2.0 ** (-np.maximum(weeks - length + 104, 0) / 26)
    values[WEEKS - length :] = rng.poisson(level * form)
    return values


def sample(kind: str, n: int, seed: int) -> list[Known]:
    """``n`` curves of a kind, shapes in turn; an Easter-bound one is an Occasion."""
    rng = np.random.default_rng([seed, *kind.encode()])
    if kind == "Easter-bound":
        return [draw("Occasion", kind, rng) for _ in range(n)]
    # One step does not make a fad or bursts another thing, but growth and steps are asked of goods
    # that have a calendar.
    shapes = PLAIN[:4] if kind in {"strong growth", "level shift"} else PLAIN
    return [draw(shapes[i % len(shapes)], kind, rng) for i in range(n)]


def as_matrix(curves: list[Known]) -> np.ndarray:
    """(curves, WEEKS), NaN before a shorter curve begins."""
    out = np.full((len(curves), WEEKS), np.nan)
    for row, one in zip(out, curves, strict=True):
        row[WEEKS - len(one.values) :] = one.values
    return out
