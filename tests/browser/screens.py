"""Every screen of the application, and what can be pointed at on it."""

from collections.abc import Iterator
from urllib.parse import urlencode

from playwright.sync_api import Page

from driftfield.core.market import BRAND, CATEGORY, LISTING, NICHE, SELLER, TERM
from driftfield.market.models import Market
from driftfield.readings.columns import columns_of


def screens(niches: int | None = None) -> Iterator[str]:
    """Addresses of all screens, those of a niche once for each niche, or for so many of each market."""
    for market in Market.objects.filter(run__isnull=False):
        own = {"market": market.market_id}
        ids = columns_of(market.run, NICHE).ids
        for path in (
            "/field", "/skim", "/shortlist", "/intake", "/coverage", "/brief", "/faults", "/settings",
            "/families", "/grouping", "/lists", "/protected", "/catalogue", "/across", "/almanac",
            "/orders", "/watch", "/track-record",
        ):  # fmt: skip
            yield f"{path}?{urlencode(own)}"
        yield f"/field?{urlencode({**own, 'view': 'chart'})}"
        yield f"/almanac?{urlencode({**own, 'view': 'list'})}"
        yield f"/almanac?{urlencode({**own, 'of': LISTING.plural})}"
        yield f"/rivals?{urlencode(own)}"
        yield f"/rivals?{urlencode({**own, 'c': 'sleeper is Asleep', 'sort': '-sleep.strong_4w'})}"
        yield f"/shortlist?{urlencode({**own, 'of': LISTING.plural})}"
        yield f"/skim?{urlencode({**own, 'of': LISTING.plural})}"
        listings = columns_of(market.run, LISTING).ids[:3]
        yield from (f"/listing?{urlencode({**own, 'listing': one})}" for one in listings)
        if len(listings) > 1:
            side = [*own.items(), ("of", LISTING.plural), *(("listing", one) for one in listings)]
            yield f"/compare?{urlencode(side)}"
        for kind in (BRAND, SELLER):
            yield f"/rivals/{kind.plural}?{urlencode(own)}"
            yield from (
                f"{path}?{urlencode({**own, 'of': kind.plural})}"
                for path in ("/shortlist", "/skim")
            )
            for one in columns_of(market.run, kind).ids[:2]:
                yield f"/{kind.key}?{urlencode({**own, kind.key: one})}"
        sellers = "\n".join(columns_of(market.run, SELLER).ids[:3])
        yield f"/rivals/together?{urlencode(own)}"
        yield f"/rivals/own?{urlencode(own)}"
        yield f"/lists?{urlencode({**own, 'of': SELLER.plural})}"
        for what in ("listings", "brands") if sellers else ():
            yield f"/rivals/together?{urlencode({**own, 'sellers': sellers, 'what': what})}"
        terms = columns_of(market.run, TERM).ids
        yield f"/terms?{urlencode(own)}"
        yield f"/terms?{urlencode({**own, 'word': terms[0]})}"
        yield f"/terms?{urlencode({**own, 'view': 'chart'})}"
        of_terms = {**own, "of": TERM.plural}
        yield from (f"{path}?{urlencode(of_terms)}" for path in ("/skim", "/shortlist"))
        yield f"/compare?{urlencode([*of_terms.items(), *(('term', one) for one in terms[:6])])}"
        yield f"/compare?{urlencode([*own.items(), *(('niche', one) for one in ids[:6])])}"
        yield f"/catalogue?{urlencode({**own, 'view': 'chart'})}"
        yield f"/shortlist?{urlencode({**own, 'of': CATEGORY.plural})}"
        named = [("category", one) for one in columns_of(market.run, CATEGORY).ids[:6]]
        for path in ("/compare", "/brief", "/across"):
            yield f"{path}?{urlencode([*own.items(), ('of', CATEGORY.plural), *named])}"
        for niche in ids[:niches]:
            yield f"/field?{urlencode({**own, 'niche': niche})}"
            yield f"/dossier?{urlencode({**own, 'niche': niche})}"
            yield f"/across?{urlencode({**own, 'niche': niche})}"
            yield f"/plan?{urlencode({**own, 'niche': niche})}"


def point_at_charts(page: Page) -> int:
    """Move the pointer over every chart, so that each of its tips is shown; how many charts there are."""
    charts = page.locator("figure.frame [role=img]")
    for at in range(charts.count()):
        chart = charts.nth(at)
        chart.scroll_into_view_if_needed()
        box = chart.bounding_box()
        if box is None:
            continue
        left, right = (box["x"] + box["width"] * across for across in (0.05, 0.95))
        for down in (0.25, 0.5, 0.75):
            y = box["y"] + box["height"] * down
            page.mouse.move(left, y)
            page.mouse.move(right, y, steps=18)
    return charts.count()
