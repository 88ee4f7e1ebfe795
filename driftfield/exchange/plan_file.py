"""A plan's inputs from JSON, each checked where it stands, with what is assumed where nothing is given."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from driftfield.core.base import CoreError
from driftfield.core.economics import (
    PEAK_MONTHS,
    Goods,
    OwnFigure,
    Part,
    PlanInputs,
    PriceBreak,
    Quote,
    Selling,
    ShareDraws,
    Sold,
    Way,
    own_share,
)
from driftfield.core.market import (
    NicheOutlook,
    ShownSeason,
    share_of_newcomers,
)

from .given import MOST, Given, read_json

_CALLED = {"resold": "share of returns resold"}
COVER_WEEKS = 13  # Three months of first order; common practice, no source.
LONGEST_COVER = 104
SERVICE = 0.9  # Of what sells all year, where none is asked; our choice.
MOST_DRAWS = 20_000
MM3 = 1e-9


@dataclass(slots=True)
class Read:
    """Inputs as they were read.

    share_from: how the share of the niche was told. listing: what the goods are sold as, empty for not said.
    season: that is ordered for; all_year: whether the niche
    has none. assumed: what nobody gave; from_market: what the market told instead.
    """

    name: str
    inputs: PlanInputs
    share: ShareDraws
    share_from: str
    season: ShownSeason | None
    all_year: bool
    listing: str = ""
    assumed: list[str] = field(default_factory=list)
    from_market: list[str] = field(default_factory=list)


def read_document(path: Path) -> list[dict[str, Any]]:
    """The plans of a file: the one it describes, and its alternatives laid over it. Raises CoreError."""
    found = read_json(path)
    others = found.pop("alternatives", None) or []
    if not isinstance(others, list) or not all(isinstance(one, dict) for one in others):
        raise CoreError("alternatives: expected a list of objects in braces.")
    return [found, *({**found, **one} for one in others)]


def day_of(document: Mapping[str, Any], default: date) -> date:
    """The day a document orders on; what is wrong with it is said where it is read."""
    try:
        return date.fromisoformat(document["ordered"])
    except (KeyError, TypeError, ValueError):
        return default


def read_inputs(
    document: Mapping[str, Any],
    market: NicheOutlook,
    ordered: date,
    matched: Mapping[str, float] | None = None,
    sold: Callable[[str], Sequence[Sold]] = lambda _: (),
) -> Read:
    """Inputs of a plan for a niche.

    Parameters
    ----------
    document : mapping
        As schemas/plan.schema.json describes it.
    market : NicheOutlook
        What the market tells of the niche.
    ordered : date
        The day of ordering where the document names none.
    matched : mapping, optional
        The share of the niche's units that each of its listings has, by id.
    sold : callable
        What one sold oneself of a listing, or in the niche where none is named.

    Raises
    ------
    CoreError
        Names the field, what was expected, and what came.
    """
    given = Given(dict(document), "")
    assumed: list[str] = []
    told: list[str] = []
    day = given.day("ordered") or ordered
    quote = _quote(given.part("quote"))
    if quote.assumed:
        assumed.append(f"quote “{quote.name}”")
    parts = _transport(given.parts("transport"), assumed)
    selling = _selling(given.part("selling"), market, assumed, told)
    goods = _goods(given.part("product"), market, assumed, told)
    lead = quote.making_days + min(part.way.days for part in parts)
    coming = market.season(day, lead)
    season, until = _until(given, coming, day + timedelta(days=lead))
    all_year = coming is None
    leftover = given.part("leftover")
    # What sells all year is not cleared after its first months: it is sold on.
    kind = leftover.text("do", "carry" if all_year else "clear")
    if kind not in ("clear", "carry", "nothing"):
        raise CoreError(f"leftover.do: expected clear, carry or nothing; got “{kind}”.")
    if not given.has("leftover"):
        assumed.append("what leftovers bring")
    at = leftover.number("at", 0, 1)
    service = given.number("service", 0.5, 0.999)
    if service is None and all_year and not given.has("quantity"):
        service = SERVICE
        assumed.append(f"service level {SERVICE:.0%}")
    share, share_from = _share(given, market, matched or {}, sold)
    inputs = PlanInputs(
        ordered=day, until=until, quote=quote, parts=parts, selling=selling, goods=goods, service=service,
        leftover=kind, clear_at=_or(at, 0.4), clear_most=0.5 if at is None else 0.9,  # type: ignore[arg-type]
        carry_weeks=leftover.whole("weeks", 1, 260) or (COVER_WEEKS if all_year else 52),
        capital=_or(leftover.number("capital", 0, 1), 0.1),
        budget=given.number("budget"), quantity=given.whole("quantity", 1), own=_own(given),
        draws=given.whole("draws", 100, MOST_DRAWS) or 10_000, seed=given.whole("seed") or 1,
    )  # fmt: skip
    leftover.done()
    name, listing = given.text("name", "Plan"), given.text("sold_as")
    given.done()
    return Read(name, inputs, share, share_from, season, all_year, listing, assumed, told)


def _or(value: float | None, default: float) -> float:
    return default if value is None else value


def _quote(given: Given) -> Quote:
    breaks = given.parts("breaks")
    if not breaks:
        raise CoreError(
            "quote.breaks: what a unit costs is needed, as in [{“units”: 1, “cost”: 4.5}, "
            "{“units”: 500, “cost”: 4.1}]."
        )
    found = []
    for one in breaks:
        units, cost = one.whole("units", 1), one.number("cost")
        if units is None or cost is None:
            raise CoreError(f"{one.where}: units and cost are needed.")
        found.append(PriceBreak(units, cost))
        one.done()
    made = Quote(
        given.text("name", "Quote"), tuple(found), minimum=given.whole("minimum", 1) or 1,
        carton=given.whole("carton", 1) or 1, making_days=_whole_or(given, "making_days", 30),
        deposit=_or(given.number("deposit", 0, 1), 0.3), balance_days=_whole_or(given, "balance_days", 0),
        valid_until=given.day("valid_until"), source=given.text("source"), day=given.day("day"),
        assumed=given.flag("assumed", False),
    )  # fmt: skip
    given.done()
    return made


def _whole_or(given: Given, name: str, default: int) -> int:
    value = given.whole(name, 0, 730)
    return default if value is None else value


def _transport(given: list[Given], assumed: list[str]) -> tuple[Part, ...]:
    if not given:
        raise CoreError(
            "transport: one way at least is needed, with its days, as in [{“name”: “sea”, “days”: 47}]."
        )
    found = []
    for one in given:
        days = one.whole("days", 0, 730)
        if days is None:
            raise CoreError(f"{one.where}.days: days from dispatch to being on sale are needed.")
        way = Way(
            one.text("name", "way"), days, per_kg=_or(one.number("per_kg"), 0),
            per_m3=_or(one.number("per_m3"), 0), per_unit=_or(one.number("per_unit"), 0),
            fixed=_or(one.number("fixed"), 0), source=one.text("source"), day=one.day("day"),
            assumed=one.flag("assumed", False),
        )  # fmt: skip
        if way.assumed:
            assumed.append(f"freight by {way.name}")
        share = one.number("share", 0, 1)
        found.append(Part(way, _or(share, 1.0 if len(given) == 1 else 0.0)))
        one.done()
    if abs(sum(part.share for part in found) - 1) > 1e-6:
        raise CoreError(
            "transport: the shares that go each way add up to 1; got "
            f"{' + '.join(f'{part.share:g}' for part in found)}."
        )
    return tuple(found)


def _sources(given: Given) -> None:
    """Where inputs come from and of which day: kept with them and written out, nothing is worked out of it."""
    given.text("source")
    given.day("day")


def _selling(given: Given, market: NicheOutlook, assumed: list[str], told: list[str]) -> Selling:
    _sources(given)

    def number(name: str, default: float, low: float = 0.0, high: float = 1.0) -> float:
        value = given.number(name, low, high)
        if value is None:
            assumed.append(_CALLED.get(name, name))
        return _or(value, default)

    price = given.number("price", 0.01)
    if price is None:
        if not market.price > 0:
            raise CoreError("selling.price: the market tells no price; give one.")
        price = market.price
        told.append("price")
    returned = given.number("returned", 0, 1)
    if returned is None:
        known = market.returned == market.returned
        (told if known else assumed).append("returns")
        returned = market.returned if known else 0.05
    advertising = given.numbers("advertising", 0, 1)
    if advertising is None:
        assumed.append("advertising")
    low = given.number("price_low", 0.01)
    if low is None and market.price_low > 0:
        low = market.price_low
        told.append("lowest price")
    error = given.number("price_error", 0, 1)
    if error is None:
        error = market.price_error if market.price_error == market.price_error else 0.05
        (told if market.price_error == market.price_error else assumed).append("price error")
    made = Selling(
        price=price, tax=_or(given.number("tax", 0, 1), 0.0), tax_included=given.flag("tax_included", True),
        commission=number("commission", 0.15), handling=number("handling", 3.0, 0, MOST), returned=returned,
        resold=number("resold", 0.5), storage=number("storage", 0.0, 0, MOST),
        storage_peak=given.number("storage_peak"), peak_months=_months(given),
        prices=given.numbers("prices", 0.01, 100) or (1.0,), advertising=advertising or (0.1,),
        price_error=error, price_low=low, payout_weeks=_whole_or(given, "payout_weeks", 2),
        tax_every=given.whole("tax_every", 1, 52) or 13, tax_after=_whole_or(given, "tax_after", 5),
    )  # fmt: skip
    given.done()
    return made


def _months(given: Given) -> tuple[int, ...]:
    found = given.numbers("peak_months", 1, 12)
    if found is not None and any(month != int(month) for month in found):
        raise CoreError(
            "selling.peak_months: expected months by their numbers, as in [10, 11, 12]."
        )
    return PEAK_MONTHS if found is None else tuple(int(month) for month in found)


def _goods(given: Given, market: NicheOutlook, assumed: list[str], told: list[str]) -> Goods:
    _sources(given)
    grams = given.number("weight_g")
    kg = 0.0 if grams is None else grams / 1000
    if grams is None:
        known = market.kg == market.kg
        kg = market.kg if known else 0.0
        (told if known else assumed).append("weight")
    sides = [given.number(f"{side}_mm") for side in ("length", "width", "height")]
    m3 = 0.0
    if all(side is not None for side in sides):
        m3 = math.prod(side or 0.0 for side in sides) * MM3
    duty = given.number("duty", 0, 1)
    if duty is None:
        assumed.append("duty")
    made = Goods(kg, m3, _or(duty, 0.0), _or(given.number("import_tax", 0, 1), 0.0))
    given.done()
    return made


def _own(given: Given) -> OwnFigure | None:
    if not given.has("own_figure"):
        given.raw("own_figure")
        return None
    own = given.part("own_figure")
    named = ("units_a_day", "searches_now", "searches_then", "days")
    values = [own.number(name) for name in named]
    quantity = own.number("quantity")
    own.done()
    if any(value is None for value in values):
        raise CoreError(f"own_figure: {', '.join(named)} are needed.")
    a_day, now, then, days = (value or 0.0 for value in values)
    return OwnFigure(a_day, now, then, days, quantity)


def _share(
    given: Given,
    market: NicheOutlook,
    matched: Mapping[str, float],
    sold: Callable[[str], Sequence[Sold]],
) -> tuple[ShareDraws, str]:
    wanted = given.raw("units")
    if wanted is None or wanted == "newcomers":
        if market.newcomers is None:
            raise CoreError(
                "units: when listings were launched, or what they sold, is not known here, so newcomers tell "
                "nothing. Give a listing to be matched, or a share."
            )
        return share_of_newcomers(market.newcomers), "newcomers"
    own = Given(wanted, "units")
    listing, share = own.text("listing"), own.number("share", 1e-6, 1)
    mine = own.text("own") if own.has("own") else None
    own.raw("own")
    own.done()
    if mine is not None:
        told = f"your sales of {mine}" if mine else "your sales in this niche"
        return own_share(sold(mine), market.past.between), told
    if share is not None:
        return ShareDraws.fixed(share), "a share that you gave"
    if listing not in matched or not matched[listing] > 0:
        raise CoreError(
            f"units.listing: “{listing}” sells nothing in this niche that is known. Give another, or a share."
        )
    return ShareDraws.fixed(matched[listing]), f"listing {listing}"


def _until(
    given: Given, coming: ShownSeason | None, on_sale: date
) -> tuple[ShownSeason | None, date]:
    """The season that is ordered for, and the last day that is sold for."""
    wanted, season = given.raw("for"), coming
    if wanted is None:
        if season is not None:
            return season, season.end
        return None, on_sale + timedelta(weeks=COVER_WEEKS, days=-1)
    if wanted == "season":
        if season is None:
            raise CoreError("for: this niche has no season to order for; give weeks, or until.")
        return season, season.end
    own = Given(wanted, "for")
    weeks, until = own.whole("weeks", 1, LONGEST_COVER), own.day("until")
    own.done()
    if (weeks is None) == (until is None):
        raise CoreError("for: expected “season”, {“weeks”: 13} or {“until”: “2026-12-31”}.")
    return None, until or on_sale + timedelta(weeks=weeks or 0, days=-1)
