"""What became of launches, by hand."""

from dataclasses import replace
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any
from unittest import TestCase

import numpy as np

from driftfield.core.base import Floats, Period, Timeline
from driftfield.core.market.proof.launched import Launched, read_launched
from driftfield.core.supply import History, Listings

FIRST = date(2022, 1, 3)
WEEKS = 160
DAY = 60  # Weeks known on the day.
LAUNCH = 64  # The week in which all are launched.


def launched(units: Floats, price: Floats) -> Launched:
    """Listings of one niche, (listings, weeks), launched four weeks after the day."""
    many = len(units)
    timeline = Timeline(Period.WEEK, FIRST, WEEKS)
    day = (FIRST + timedelta(weeks=LAUNCH)).toordinal()
    measures = {"units": units.astype(np.float32), "price": price.astype(np.float32)}
    listings = Listings.unknown(many)
    listings.launched[:] = day
    made = SimpleNamespace(
        subject=np.zeros(many, dtype=np.int64), listing=np.arange(many), launched=np.full(many, float(day)),
        won=np.zeros(many, dtype=bool),
    )  # fmt: skip
    thens: Any = [
        SimpleNamespace(
            as_of=FIRST + timedelta(weeks=length) - timedelta(days=1), length=length, launches=made,
            figures={}, scale=np.ones(1),
        )
        for length in (DAY, DAY + 52)
    ]  # fmt: skip
    return read_launched(thens, replace(listings, history=History(timeline, measures)), Period.WEEK)


class WorkedByHand(TestCase):
    """The first sells on, the second is given up after 30 weeks, of the third no sales are known."""

    def setUp(self) -> None:
        self.units = np.full((3, WEEKS), np.nan)
        self.units[0, LAUNCH:] = 5
        self.units[1, LAUNCH : LAUNCH + 30] = 4
        self.price = np.where(np.isnan(self.units), np.nan, 10.0)

    def test_who_still_sells_after_a_year_and_of_whom_it_is_not_known(self) -> None:
        np.testing.assert_array_equal(launched(self.units, self.price).alive, [1, 0, np.nan])

    def test_what_is_known_from_before_the_launch_alone_tells_nothing_of_it(self) -> None:
        self.units[2, LAUNCH - 20 : LAUNCH - 1] = 3
        self.assertTrue(np.isnan(launched(self.units, self.price).alive[2]))

    def test_revenue_of_the_first_26_weeks_where_all_of_them_are_known(self) -> None:
        self.price[1, LAUNCH + 3] = np.nan
        found = launched(self.units, self.price).revenue
        np.testing.assert_array_equal(found, [5 * 10 * 26, np.nan, np.nan])
        # What was not sold brought nothing, whatever it would have cost.
        self.units[1, LAUNCH + 3] = 0
        self.assertEqual(launched(self.units, self.price).revenue[1], 4 * 10 * 25)
