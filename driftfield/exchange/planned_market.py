"""A market that was read from files, as plans of its niches are made from it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Period, Settings
from driftfield.core.economics import (
    EXAMPLE_CLASSES,
    GOODS_SHARE,
    Costs,
    SizeClass,
    Sold,
    outcome,
    unit_economics,
)
from driftfield.core.market import (
    NicheOutlook,
    Workings,
    listing_share,
    niche_outlook,
    run_market,
)
from driftfield.core.sentences import outcome_sentence

from .market_data import MarketInput, assemble
from .matrices import numbers_of
from .package import Package
from .plan_file import Read, day_of, read_inputs
from .plan_record import planned_of
from .plans_record import Pool
from .reader import read_package


@dataclass(frozen=True, slots=True)
class PlannedMarket:
    """A market and what was worked out of it. as_of: the day that counts as today."""

    source: MarketInput
    done: Workings
    package: Package

    @property
    def market_id(self) -> str:
        return self.source.market_id

    @property
    def currency(self) -> str:
        return self.source.currency

    @property
    def as_of(self) -> date:
        return self.source.data.timeline.end

    @property
    def arrival(self) -> date:
        """From when on goods ordered now are on sale."""
        return self.as_of + timedelta(days=int(self.done.settings.lead_days))

    def name_of(self, niche: str) -> str:
        return self.source.niche_names[self._place(niche)]

    def _place(self, niche: str) -> int:
        return self.source.data.subjects.index(niche)

    def read(self, niche: str, document: dict[str, Any]) -> tuple[Read, NicheOutlook]:
        """A plan's inputs, read against its niche. Raises CoreError for what makes none."""
        subject = self._place(niche)
        clicked = self.done.supply.clicked
        listings = clicked.listing[clicked.subject == subject].tolist()
        ids = self.source.listing_ids
        matched = {ids[at]: listing_share(self.done, subject, at) for at in listings}
        known = niche_outlook(self.done, subject, day_of(document, self.as_of))
        read = read_inputs(
            document, known, self.as_of, matched, lambda listing: self.sold(niche, listing)
        )
        return read, known

    def sold(self, niche: str, listing: str = "") -> list[Sold]:
        """What one sold oneself of a listing, or in a niche, to the as-of; in time."""
        frame = self.package.frames.get("own_sales")
        column, wanted = ("listing_id", listing) if listing else ("niche_id", niche)
        if frame is None or column not in frame.columns:
            return []
        period = self.package.periods.get("own_sales", Period.WEEK)
        rows = frame.filter(pl.col(column) == wanted).sort("week")
        found = [
            Sold(period.start(number), period.start(number + 1), float(units))
            for number, units in zip(
                numbers_of(rows["week"], period).tolist(), rows["units"].to_list(), strict=True
            )
            if units is not None
        ]
        return [one for one in found if one.end <= self.as_of + timedelta(days=1)]

    def came_of(self, niche: str, listing: str, made: dict[str, Any]) -> str | None:
        """What was sold so far against what a plan planned, in words; None where nothing was."""
        found = outcome(planned_of(made["sold_by"]), self.sold(niche, listing))
        return None if found is None else outcome_sentence(found, self.as_of)

    def pool(self, fees: Sequence[SizeClass] = ()) -> Pool:
        """Its niches as what may fill quiet months, each at costs that are assumed but for the fees given."""
        figures = self.done.figures
        price, units = figures["sales.price_median"], figures["sales.units_52w"]
        settings = self.done.settings

        def left(at: int) -> tuple[float, float] | None:
            own = float(price[at])
            if not own > 0:
                return None
            returned = float(figures["barriers.return_rate"][at])
            made = unit_economics(
                Costs(
                    price=own, goods=GOODS_SHARE * own, returns=0.0 if np.isnan(returned) else returned,
                    weight_g=_known(figures["barriers.weight_g"][at]),
                    longest_mm=_known(figures["barriers.size_mm"][at]), tax=settings.tax_rate,
                    tax_included=bool(settings.tax_included),
                ),
                fees or EXAMPLE_CLASSES,
            )  # fmt: skip
            return made.left, own

        return Pool(
            self.source.data.subjects, self.source.niche_names,
            np.asarray(self.done.curves.factors, dtype=np.float64), np.asarray(price * units), left,
        )  # fmt: skip


def _known(value: float) -> float | None:
    return None if np.isnan(value) else float(value)


def planned_market(
    folder: Path, niches: Sequence[str], settings: Settings, as_of: date | None,
    note: Callable[[str], None],
) -> PlannedMarket:  # fmt: skip
    """Read a package and work out the market that some niches are in. Raises CoreError for another's."""
    package = read_package(folder, record_years=int(settings.record_years))
    markets, notes = assemble(package, as_of)
    for said in [*package.notes, *notes]:
        note(f"Note: {said}")
    market = next((one for one in markets if niches[0] in one.data.subjects), None)
    some = ", ".join(one.data.subjects[0] for one in markets if one.data.subjects)
    for niche in niches:
        if market is not None and niche in market.data.subjects:
            continue
        if any(niche in one.data.subjects for one in markets):
            raise CoreError(
                f"“{niche}” is in another market than “{niches[0]}”. Plans that share one purse are of "
                "one market."
            )
        raise CoreError(f"There is no niche “{niche}”. Ids look like: {some}.")
    assert market is not None, "each of the niches was found"
    return PlannedMarket(market, run_market(market.data, settings), package)
