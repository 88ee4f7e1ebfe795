"""What is said of one subject in several markets."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

from driftfield.core.base import MINUS, Period
from driftfield.core.market import Across, Apart, Demand, InMarket, Line
from driftfield.core.market.side_by_side import easier

from .record import plain

UNKNOWN = "Seasons and leads cannot be compared: one of the two has no curve."
HALF_A_YEAR = 22  # Weeks from which on earlier may as well be later.
OPPOSITE = -0.3  # Correlation of two years from which on one sells when the other rests.


@dataclass(frozen=True, slots=True)
class AcrossSaid:
    """What is said of a subject in several markets: where competition is lower; and of each other market
    against the first how its season lies, and which moves first."""

    competition: str
    seasons: list[str]
    lead: list[str]


def across_said(found: Across) -> AcrossSaid:
    """Say what several markets mean for one subject."""
    names = _names(found.markets)
    seasons, lead = [], []
    for name, other, apart in zip(names[1:], found.markets[1:], found.apart, strict=True):
        first = found.markets[0].demand
        if apart is None or first is None or other.demand is None:
            seasons.append(UNKNOWN)
            lead.append("")
            continue
        demands = first, other.demand
        seasons.append(seasons_sentence(names[0], name, demands, apart))
        lead.append(lead_sentence(names[0], name, demands, apart))
    return AcrossSaid(competition_sentence(names, found.lines), seasons, lead)


def _names(markets: Sequence[InMarket]) -> list[str]:
    """What the markets are called; with their ids where two are called the same."""
    many = Counter(one.market for one in markets)
    return [
        one.market if many[one.market] == 1 else f"{one.market} ({one.market_id})"
        for one in markets
    ]


def across_record(found: Across) -> dict[str, Any]:
    """A subject in several markets as JSON takes it; unknown is None."""
    said = across_said(found)
    return {
        "of": found.kind.plural,
        "currency": found.into,
        "markets": [
            {
                "market_id": one.market_id, "market": one.market, found.kind.subject: one.id,
                "name": one.name, "how": one.how, "currency": one.currency, "rate": one.rate,
            }
            for one in found.markets
        ],
        "figures": [
            {
                "figure": line.figure.key,
                "apart": line.apart,
                "values": [plain(line.figure, cell.value) for cell in line.cells],
                "low": [_rounded(cell.low) for cell in line.cells],
                "high": [_rounded(cell.high) for cell in line.cells],
                "best": [cell.best for cell in line.cells],
            }
            for line in found.lines
        ],
        "competition": said.competition,
        "against": [
            {
                "market_id": one.market_id,
                "seasons": None if apart is None or apart.seasons is None else _plain(asdict(apart.seasons)),
                "lead": None if apart is None or apart.lead is None else _plain(asdict(apart.lead)),
                "sentences": [text for text in (seasons, lead) if text],
            }
            for one, apart, seasons, lead in zip(
                found.markets[1:], found.apart, said.seasons, said.lead, strict=True
            )
        ],
    }  # fmt: skip


def _plain(values: dict[str, Any]) -> dict[str, Any]:
    return {key: _rounded(value) for key, value in values.items()}


def _rounded(value: float | None) -> float | None:
    return round(value, 4) if isinstance(value, float) else value


def seasons_sentence(first: str, second: str, demands: tuple[Demand, Demand], apart: Apart) -> str:
    """How the season in the second market lies against that in the first; both by name."""
    without = [name for name, one in zip((first, second), demands, strict=True) if not one.seasonal]
    if len(without) == 2:
        return "Neither market shows a clear season."
    if without:
        return f"{without[0]} shows no clear season, so the two cannot be compared."
    if not apart.one_period or demands[0].timeline.period is Period.MONTH:
        return "The timing of the seasons cannot be compared on monthly data."
    found = apart.seasons
    if found is None:
        return (
            "The timing of the seasons cannot be compared: "
            "the markets share under three full years."
        )
    opposite = (
        f" {second} sells while {first} is quiet (correlation {_signed(found.correlation)})."
        if found.correlation <= OPPOSITE
        else ""
    )
    if found.weeks is None or found.low is None or found.high is None:
        if not found.one_form:
            return f"The two seasons differ in shape, so no shift can be given.{opposite}"
        return f"The two seasons look alike, but the years disagree on the shift.{opposite}"
    low, high = sorted((abs(found.low), abs(found.high)))
    within = f"({low:.1f} to {high:.1f}; {found.years} years of data)"
    if found.low <= 0 <= found.high:
        return (
            f"No clear difference in timing: the season in {second} is {_signed(found.weeks)} weeks later "
            f"({_signed(found.low)} to {_signed(found.high)}; {found.years} years of data).{opposite}"
        )
    if abs(found.weeks) >= HALF_A_YEAR:
        return (
            f"The seasons are half a year apart: {abs(found.weeks):.1f} weeks {within}.{opposite}"
        )
    when = "later" if found.weeks > 0 else "earlier"
    return (
        f"The season in {second} comes {abs(found.weeks):.1f} weeks {when} than in {first} "
        f"{within}.{opposite}"
    )


def lead_sentence(first: str, second: str, demands: tuple[Demand, Demand], apart: Apart) -> str:
    """Which of two markets moves first once their seasons are taken out; both by name."""
    if not apart.one_period:
        return "Which market moves first is unknown: one has weekly data, the other monthly."
    found, period = apart.lead, demands[0].timeline.period
    if found is None:
        return "Which market moves first is unknown: they share under two years without a gap."
    if not found.beyond_chance:
        return (
            "Which market moves first is unknown: apart from their seasons they move no more alike than chance "
            "would have it."
        )
    if found.low is None or found.high is None or found.periods is None:
        return "Apart from their seasons the markets move alike, but the lag cannot be determined."
    unit, data = period.value, f"{found.read} {period.value}s of data"
    if found.ahead == 0:
        return (
            f"Apart from their seasons the markets move alike and neither leads: {second} follows by "
            f"{_whole(found.periods)} {unit}s ({_whole(found.low)} to {_whole(found.high)}; {data})."
        )
    leads, follows = (first, second) if found.ahead > 0 else (second, first)
    low, high = sorted((abs(found.low), abs(found.high)))
    many = abs(found.periods)
    return (
        f"Apart from their seasons {leads} moved first: {follows} followed {many} "
        f"{unit}{'' if many == 1 else 's'} later ({low} to {high}; {data})."
    )


def competition_sentence(names: Sequence[str], lines: Sequence[Line]) -> str:
    """In which market competition is lower, by how many figures; ``names`` of the markets."""
    found = easier(lines)
    if not found.known:
        return "Competition cannot be compared: no figure of it is known in two markets."
    parts = [
        f"{many} {'favours' if many == 1 else 'favour'} {name}"
        for name, many in sorted(zip(names, found.favoured, strict=True), key=lambda one: -one[1])
        if many
    ]
    if neither := found.known - sum(found.favoured):
        parts.append(f"{neither} {'shows' if neither == 1 else 'show'} no clear difference")
    of = "the one comparable figure" if found.known == 1 else f"{found.known} comparable figures"
    return f"Competition: of {of}, {', '.join(parts)}."


def _signed(value: float) -> str:
    shown = f"{abs(value):.1f}"
    return shown if value >= 0 or shown == "0.0" else f"{MINUS}{shown}"


def _whole(value: int) -> str:
    return f"{MINUS}{-value}" if value < 0 else f"{value}"
