"""Who held lead offers: by hand, and against polars over the same rows."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
import polars as pl

from driftfield.core.base import Period, Timeline
from driftfield.core.supply import History, Listings, lead_holders

NONE = np.nan


def listings(lead: np.ndarray, units: np.ndarray | None = None) -> Listings:
    timeline = Timeline(Period.MONTH, date(2024, 1, 1), lead.shape[1])
    measures = {"lead_seller": lead.astype(np.float32)}
    if units is not None:
        measures["units"] = units.astype(np.float32)
    return replace(Listings.unknown(len(lead)), history=History(timeline, measures))


class Held(TestCase):
    def test_by_hand(self) -> None:
        lead = np.array([[1, 1, 2, NONE], [2, 2, 2, 3], [7, 7, 7, 7]], dtype=float)
        units = np.array([[5, NONE, 1, 9], [2, 2, 2, NONE], [1, 1, 1, 1]], dtype=float)
        found = lead_holders(listings(lead, units), np.array([0, 1]), 0, 4)
        self.assertEqual(found.seller.tolist(), [2, 1, 3])
        self.assertEqual((found.periods.tolist(), found.listings.tolist()), ([4, 2, 1], [2, 1, 1]))
        # Of the seven periods of which it is known.
        np.testing.assert_allclose(found.share, [4 / 7, 2 / 7, 1 / 7])
        np.testing.assert_array_equal(found.units, [7, 5, NONE])
        late = lead_holders(listings(lead, units), np.array([0, 1]), 3, 4)
        self.assertEqual((late.seller.tolist(), late.share.tolist()), ([3], [1]))

    def test_nobody_where_it_is_not_known(self) -> None:
        lead = np.full((2, 3), NONE)
        for made in (listings(lead), Listings.unknown(2)):
            self.assertEqual(len(lead_holders(made, np.array([0, 1]), 0, 3).seller), 0)
        self.assertEqual(len(lead_holders(listings(lead), np.empty(0, dtype=int), 0, 3).seller), 0)

    def test_it_is_what_the_rows_say(self) -> None:
        rng = np.random.default_rng(8)
        lead = rng.integers(0, 9, (60, 24)).astype(float)
        lead[rng.random(lead.shape) < 0.4] = NONE
        units = rng.poisson(5, lead.shape).astype(float)
        rows = np.flatnonzero(rng.random(60) < 0.5)
        found = lead_holders(listings(lead, units), rows, 5, 17)
        row, month = np.divmod(np.arange(lead.size), 24)
        told = (
            pl.DataFrame(
                {"listing": row, "month": month, "lead": lead.ravel(), "units": units.ravel()}
            )
            .filter(
                pl.col("listing").is_in(rows.tolist()), pl.col("month").is_between(5, 16),
                ~pl.col("lead").is_nan(),
            )
            .group_by("lead")
            .agg(
                pl.len().alias("periods"), pl.col("listing").n_unique().alias("listings"),
                pl.col("units").sum(),
            )
            .sort(["periods", "units", "lead"], descending=[True, True, False])
        )  # fmt: skip
        self.assertEqual(found.seller.tolist(), told["lead"].cast(int).to_list())
        for name in ("periods", "listings", "units"):
            self.assertEqual(getattr(found, name).tolist(), told[name].to_list(), name)
        self.assertAlmostEqual(found.share.sum(), 1)
