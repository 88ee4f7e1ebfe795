"""Who held the lead offers on the goods of a niche."""

from __future__ import annotations

from driftfield.core.base import CoreError, Period
from driftfield.core.curves import Time
from driftfield.exchange.leads import Leads, leads_in

from .niche_data import load_niche_data
from .reading import Reading


def leads_of(reading: Reading, month: Time | None = None) -> Leads:
    """Those of a month; by default of the niche's last season, or of the last year where it has none.

    Raises CoreError where it is not known, or not at that time.
    """
    loaded = load_niche_data(reading)
    if loaded is None or loaded.members is None:
        raise CoreError("No listings are known that the buyers of this niche click.")
    figures = reading.figures
    peak = Time.of_peak(figures["peak_weeks"], Period(figures["period"]), reading.run.as_of)
    return leads_in(loaded.listings, loaded.members, 0, month or peak)
