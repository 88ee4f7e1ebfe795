"""One contract for the array functions of the core, whatever they compute.

A row is a subject. No function changes what it is given; the order of the rows, and whether they come in
one go or in several, does not change what is said of each; a row of which nothing is known gives nothing
known and leaves the others alone; and no rows at all are no fault.
"""

import inspect
from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, is_dataclass
from datetime import date
from typing import Any
from unittest import TestCase

import numpy as np
from numpydoc.validate import validate

from driftfield.core.base import (
    DEFAULTS,
    Period,
    Timeline,
    correlation_interval,
    fold_week53,
    low_ranks,
    mid_ranks,
    ratio,
    wilson,
)
from driftfield.core.base.finite import finite
from driftfield.core.curves import read_curves, read_lag
from driftfield.core.curves.align import before_launch, bridge
from driftfield.core.curves.drift import block_levels, theil_sen
from driftfield.core.curves.forecast import smooth_level, units_ahead
from driftfield.core.curves.growth import growth_split
from driftfield.core.curves.level import (
    block_sums,
    centred_average,
    growth_path,
    seen_over_expected,
)
from driftfield.core.curves.outliers import outlying
from driftfield.core.curves.pipeline import align_curves
from driftfield.core.curves.profile import best_share
from driftfield.core.curves.recurrence import correlations, friedman, recurrence
from driftfield.core.curves.season_lag import best_lag
from driftfield.core.curves.stl import robust_stl, stl, strengths
from driftfield.core.ranking.headroom import frontier, percentile, rank_of
from driftfield.core.supply.price_answer import at_period, rate_changes
from driftfield.core.supply.sales import units_for

LENGTH, YEAR = 209, 52
WEEKS = Timeline(Period.WEEK, date(2022, 1, 3), LENGTH)
MONTHS = Timeline(Period.MONTH, date(2022, 1, 1), 48)


def curves(rng: np.random.Generator, n: int) -> np.ndarray:
    """Counts with seasons, growth, a gap and a wild week here and there."""
    weeks = np.arange(LENGTH)
    season = 1 + rng.uniform(0, 0.9, (n, 1)) * np.cos(
        2 * np.pi * (weeks - rng.integers(0, 52, (n, 1))) / 52
    )
    found = rng.poisson(rng.lognormal(4, 1, (n, 1)) * season).astype(float)
    found[::3, 100] *= 14
    return found


def gapped(rng: np.random.Generator, n: int) -> np.ndarray:
    found = curves(rng, n)
    found[::2, 60:63] = np.nan
    found[1::4, :30] = np.nan
    return found


def numbers(rng: np.random.Generator, n: int) -> np.ndarray:
    return rng.lognormal(2, 1, n)


def shares(rng: np.random.Generator, n: int) -> np.ndarray:
    return rng.uniform(0.05, 0.95, n)


def blocks(rng: np.random.Generator, n: int) -> np.ndarray:
    """Block levels of four years, (n, years, blocks)."""
    return rng.lognormal(0, 0.4, (n, 4, 13))


def profiles(rng: np.random.Generator, n: int) -> np.ndarray:
    found = rng.lognormal(0, 0.5, (n, YEAR))
    return found / found.mean(axis=1, keepdims=True)


Make = Callable[[np.random.Generator, int], np.ndarray]


@dataclass(frozen=True)
class Case:
    """A function of arrays whose first axis is the subjects, and how such arrays are drawn.

    gaps: it takes NaN. among: what it says of a row depends on the other rows, as a rank does.
    """

    name: str
    call: Callable[..., Any]
    inputs: tuple[Make, ...]
    gaps: bool = True
    among: bool = False


def split(values: np.ndarray, season: np.ndarray) -> Any:
    return growth_split(values[:, -160:], season[:, -160:], 13)


CASES = (
    Case("finite", finite, (numbers,)),
    Case("ratio", ratio, (numbers, numbers)),
    Case("wilson", lambda a, b: wilson(np.minimum(a, b), b, 0.9), (numbers, numbers)),
    Case("correlation_interval", lambda r, n: correlation_interval(r, n + 5, 0.9), (shares, numbers)),
    Case("mid_ranks", mid_ranks, (blocks,), gaps=False),
    Case("low_ranks", low_ranks, (blocks,), gaps=False),
    Case("fold_week53", lambda v: fold_week53(v, WEEKS), (curves,)),
    Case("bridge", lambda v: bridge(v, 4, YEAR), (gapped,)),
    Case("before_launch", lambda v: before_launch(v, YEAR, 14), (gapped,)),
    Case("align_curves", lambda v: align_curves(v, WEEKS, DEFAULTS), (gapped,)),
    Case("stl", lambda v: stl(v[:, :208], YEAR), (curves,), gaps=False),
    Case("robust_stl", lambda v: robust_stl(v[:, :208], YEAR), (curves,), gaps=False),
    Case("strengths", lambda v: strengths(stl(v[:, :208], YEAR)), (curves,), gaps=False),
    Case("outlying", lambda v: outlying(v[:, :208], YEAR), (curves,), gaps=False),
    Case("growth_path", lambda v: growth_path(v[:, :208], YEAR), (curves,), gaps=False),
    Case("centred_average", lambda v: centred_average(v[:, :208], YEAR), (curves,), gaps=False),
    Case("seen_over_expected", lambda v, w: seen_over_expected(v[:, :208], w[:, :208] + 1, YEAR),
         (curves, curves), gaps=False),
    Case("block_sums", lambda v: block_sums(v, 4), (curves,)),
    Case("block_levels", lambda v: block_levels(v, np.ones_like(v), 4), (curves,)),
    Case("theil_sen", lambda v: theil_sen(np.log(v[:, :26] + 1), 0.9), (gapped,)),
    Case("friedman", friedman, (blocks,), gaps=False),
    Case("correlations", correlations, (blocks,), gaps=False),
    Case("recurrence", recurrence, (blocks,), gaps=False),
    Case("best_share", lambda f: best_share(f, 13), (profiles,), gaps=False),
    Case("smooth_level", lambda v: smooth_level(np.log(v[:, :26] + 1)), (curves,), gaps=False),
    Case("units_ahead", units_ahead, (numbers, numbers, numbers, shares)),
    Case("growth_split", split, (curves, curves)),
    Case("read_curves", lambda v: read_curves(v, WEEKS, DEFAULTS), (gapped,)),
    Case("best_lag", lambda a, b: best_lag(a, b), (profiles, profiles), gaps=False),
    Case("read_lag",
         lambda a, b: read_lag(a, b, np.ones(len(a), dtype=bool), WEEKS, DEFAULTS), (curves, curves)),
    Case("rate_changes", lambda a, b: rate_changes(a + 50, b + 20), (curves, curves)),
    Case("at_period", lambda v: at_period(v, WEEKS, MONTHS), (gapped,)),
    Case("units_for", lambda p: units_for(30_000, p), (numbers,)),
    Case("percentile", percentile, (numbers,), among=True),
    Case("rank_of", rank_of, (numbers,), among=True),
    Case("frontier", frontier, (numbers, numbers), among=True),
)  # fmt: skip


def arrays(found: Any, path: str = "") -> Iterator[tuple[str, np.ndarray]]:
    """Every array in an answer, by its path."""
    if isinstance(found, np.ndarray):
        yield path, found
    elif isinstance(found, dict):
        for key, part in found.items():
            yield from arrays(part, f"{path}.{key}")
    elif isinstance(found, tuple):
        for place, part in enumerate(found):
            yield from arrays(part, f"{path}[{place}]")
    elif is_dataclass(found):
        for one in fields(found):
            yield from arrays(getattr(found, one.name), f"{path}.{one.name}")


def by_row(found: Any, n: int) -> dict[str, np.ndarray]:
    """The arrays that have a row a subject; all of them must."""
    out = dict(arrays(found))
    assert out, "nothing came"
    assert all(len(array) == n for array in out.values()), {k: v.shape for k, v in out.items()}
    return out


class Contract(TestCase):
    ROWS = 12

    def drawn(self, case: Case, n: int = ROWS) -> list[np.ndarray]:
        made = [make(np.random.default_rng(7 + i), n) for i, make in enumerate(case.inputs)]
        for array in made:
            array.setflags(write=False)  # What writes into its input is found out at once.
        return made

    def same(self, one: np.ndarray, other: np.ndarray, what: str) -> None:
        if one.dtype == object:
            self.assertEqual(one.tolist(), other.tolist(), what)
        else:
            # Sums of rows in another grouping differ in the last digits.
            np.testing.assert_allclose(one, other, rtol=1e-5, atol=1e-6, err_msg=what)

    def each(self) -> Iterator[tuple[Case, list[np.ndarray], dict[str, np.ndarray]]]:
        for case in CASES:
            with self.subTest(case.name):
                inputs = self.drawn(case)
                yield case, inputs, by_row(case.call(*inputs), self.ROWS)

    def test_inputs_stay_as_they_are(self) -> None:
        for case, inputs, _ in self.each():
            for given, again in zip(inputs, self.drawn(case), strict=True):
                np.testing.assert_array_equal(given, again)

    def test_the_order_of_rows_does_not_matter(self) -> None:
        turned = np.random.default_rng(1).permutation(self.ROWS)
        for case, inputs, whole in self.each():
            other = by_row(case.call(*(array[turned] for array in inputs)), self.ROWS)
            for key, array in whole.items():
                self.same(array[turned], other[key], f"{case.name}{key}")

    def test_rows_may_come_in_several_goes(self) -> None:
        for case, inputs, whole in self.each():
            if case.among:
                continue
            first = by_row(case.call(*(array[:5] for array in inputs)), 5)
            rest = by_row(case.call(*(array[5:] for array in inputs)), self.ROWS - 5)
            for key, array in whole.items():
                self.same(array, np.concatenate([first[key], rest[key]]), f"{case.name}{key}")

    def test_no_rows_are_no_fault(self) -> None:
        for case in CASES:
            with self.subTest(case.name):
                by_row(case.call(*(array[:0] for array in self.drawn(case))), 0)

    def test_what_is_unknown_stays_unknown_and_leaves_the_others_alone(self) -> None:
        for case, inputs, whole in self.each():
            if not case.gaps:
                continue
            holed = [array.copy() for array in inputs]
            for array in holed:
                array[2] = np.nan
            found = by_row(case.call(*holed), self.ROWS)
            others = np.delete(np.arange(self.ROWS), 2)
            for key, array in found.items():
                if array.dtype.kind == "f" and not key.endswith((".missing", ".borrowed")):
                    self.assertTrue(np.isnan(array[2]).all(), f"{case.name}{key}")
                if not case.among:
                    self.same(array[others], whole[key][others], f"{case.name}{key}")


class Documented(TestCase):
    """Docstrings that tools can read: parameters with shape and unit, and what comes back."""

    # Codes of numpydoc's validation: parameters named as they are and described, returns described.
    WANTED = frozenset({"PR01", "PR02", "PR03", "PR07", "PR10", "RT01", "RT03", "SS01", "GL07"})

    def test_every_array_function_says_what_it_takes_and_gives(self) -> None:
        for case in CASES:
            function = inspect.unwrap(globals()[case.name])
            found = validate(f"{function.__module__}.{function.__qualname__}")["errors"]
            wrong = [f"{code} {text}" for code, text in found if code in self.WANTED]
            self.assertEqual(wrong, [], case.name)
            self.assertRegex(inspect.getdoc(function) or "", r"(?m)^\S.* : .*(array|Decomposition)")
