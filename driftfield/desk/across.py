"""One subject in every market that has it, in one money at the rates that were set."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from driftfield.core.base import Floats, Timeline
from driftfield.core.economics import Rate, rate_between
from driftfield.core.market import (
    CATEGORY,
    NICHE,
    Across,
    Demand,
    InMarket,
    Kind,
    figures_of,
    lay_across,
)
from driftfield.market.models import Market, Niche, Term
from driftfield.readings.catalogue import CategoryReading
from driftfield.readings.columns import columns_of
from driftfield.readings.linked import niche_of
from driftfield.readings.preview import curve_of
from driftfield.readings.reading import Reading, SubjectReading, TermReading
from driftfield.readings.store import read_rows

from .matches import Member, members_of
from .rates import current_rates


def across(kind: Kind, market: Market, subject: str, into: str = "") -> tuple[Across, list[Rate]]:
    """A subject in all markets, the one asked for first, and the rate of each market's money.

    ``into``: the currency of amounts, by default the market's. The market has the subject.
    """
    members = members_of(kind, market, subject)
    into = into or market.currency
    known = current_rates()
    rates = [rate_between(one.market.currency, into, known) for one in members]
    markets = [_in_market(kind, one, rate) for one, rate in zip(members, rates, strict=True)]
    return lay_across(kind, markets, into, market.run.made_with), rates


def _in_market(kind: Kind, one: Member, rate: Rate) -> InMarket:
    figures, found = _read(kind, one)
    demand = None
    if found is not None:
        timeline, values = found
        counts = figures.get("basis", "counts") == "counts"
        demand = Demand.read(values, timeline, counts, one.market.run.made_with)
    return InMarket(
        one.market.market_id, one.market.name, one.id, one.name, one.how, one.market.currency,
        rate.rate, figures, demand,
    )  # fmt: skip


def _read(kind: Kind, one: Member) -> tuple[Mapping[str, Any], tuple[Timeline, Floats] | None]:
    """Its figures by key, and its curve."""
    if kind == CATEGORY:
        reading = CategoryReading(one.market.run, one.place)
        return reading.figures, reading.curve("searches")
    found = _reading(kind, one)
    if found is None:  # Its terms were taken out since the market was analysed.
        return read_rows(one.market.run, kind, figures_of(kind), [one.place])[0], None
    return found.figures, curve_of(found)


def _reading(kind: Kind, one: Member) -> SubjectReading | None:
    run, key = one.market.run, int(columns_of(one.market.run, kind).keys[one.place])
    if kind == NICHE:
        linked = run.linked
        niche = niche_of(one.market, one.id) if linked else Niche.objects.filter(pk=key).first()
        return None if niche is None else Reading(run, kind, one.place, niche)
    term = Term.objects.filter(pk=key).first()
    return None if term is None else TermReading(run, kind, one.place, term)
