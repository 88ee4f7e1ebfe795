"""Every address that is read, with the parameters that a market's own niches, terms and listings give."""

from collections.abc import Iterator
from urllib.parse import urlencode

from driftfield.api.urls import urlpatterns
from driftfield.core.market import BRAND, LISTING, SELLER
from driftfield.intake.models import Batch
from driftfield.market.models import Category, Listing, Market, Niche, Term
from driftfield.readings.columns import columns_of

# Addresses of one niche, with what they take besides it.
OF_NICHE = ("niche", "family", "terms", "listings", "demand", "curves", "holders", "terms-detail", "terms-file", "feedback", "costs", "coverage", "listing-words", "leads", "voices", "voices-file", "plans", "niche-own")  # fmt: skip
# Addresses that are asked once a market, with the queries tried on them.
OF_MARKET: dict[str, tuple[str, ...]] = {
    "ledger": (
        "",
        "sort=-headroom&near=yes&c=price+12..45",
        "lens=reviews%3D0.5&find=nobody",
        "of=terms&figures=words,branded&lens=reviews%3D0.5",
        "of=terms&seed=a&how=inside",
        "of=listings&figures=listing.price,sleep.state,sleep.order_by&c=price+1..90",
        "of=brands&figures=carried.listings,lorenz.gini&c=price+1..90",
        "of=sellers&figures=carried.lead_share&sort=-carried.came_52w",
    ),
    "ledger-file": ("", "as=xlsx", "as=json"),
    "readings-file": (
        "",
        "of=terms",
        "of=listings",
        "of=brands",
        "of=sellers",
        "as=xlsx",
        "as=jsonl",
        "as=parquet",
    ),
    "tables-file": ("all=yes", ""),
    "ledger-ids": (
        "",
        "of=terms&c=terms+contain+a",
        "of=categories",
        "of=listings&c=sleeper+is+Asleep",
    ),
    "ledger-points": ("", "of=terms"),
    "almanac": ("", "of=listings", "of=categories&by=category", "by=name", "by=rank&limit=1"),
    "almanac-weeks": ("", "of=listings", "c=decided+keep"),
    "almanac-file": ("", "as=xlsx", "as=json"),
    "almanac-calendar": ("", "of=listings", "of=terms"),
    "categories": ("",),
    "own-part": ("",),
    "own-part-file": ("", "as=xlsx", "as=json"),
    "watch": ("", "seen=true"),
    "watch-file": ("", "as=xlsx", "as=json"),
    "watch-feed": ("",),
    "track-record": ("", "of=terms", "of=categories"),
    "track-lines": ("", "of=categories"),
    "track-record-file": ("", "of=terms&as=xlsx", "as=json"),
    "history": ("id=nobody", "of=terms&id=nobody", "of=sellers&id=nobody&figures=drift_rate_year"),
    "condition": (
        "text=price+12..45",
        "text=cheap",
        "text=category+Growng",
        "text=",
        "text=branded+&of=terms",
    ),
    "settings": ("",),
    "onward": ("seed=a&how=inside", "seed=forcer&after=x"),
    "families": ("",),
    "catalogue-points": ("",),
    "catalogue-icicle": ("", "figure=sales.revenue_52w"),
    "catalogue": ("", "find=e&sort=-openness&figures=lorenz.gini", "c=searches+%3E%3D+1&open=g"),
    "side-by-side": ("", "row=none", "of=terms"),
    "grouping": ("", "start=3"),
    "word-lists": ("", "of=listings", "of=sellers"),
    "draw": ("", "number=7"),
    "coverage": ("",),
    "protected-words": ("",),
    "shortlist": ("", "of=terms", "of=listings", "of=brands", "of=sellers", "choice=pass"),
    "orders": ("", "with=none"),
    "orders-file": ("", "as=json"),
    "own-sellers": ("",),
    "voices-beside": ("id=l1", "of=brands&id=b1", "of=sellers&id=s1"),
    "own-goods": ("", "every=yes&listings=l1&rise=5"),
    "own-goods-file": ("every=yes&listings=l1",),
    "shortlist-file": ("", "as=xlsx"),
}
ONCE = ("rates", "markets", "sieves", "lenses", "jobs", "batches", "feed", "faults")
# Addresses that answer the same whatever was imported.
ALWAYS: dict[str, tuple[str, ...]] = {
    "schema": ("",),
    "figures": ("", "of=terms"),
    "signals": ("",),
    "glossary": ("",),
    "parts": ("",),
    "ready-lenses": ("",),
    "exchange-tables": ("",),
    "protected-words-file": ("",),
    "changes": ("", "since=2026-01-01T00:00:00%2B00:00"),
}
OF_BATCH = ("batch-coverage", "batch-revisions", "batch-revisions-file")
# Of uploads and long work, of which a market alone has none; they have tests of their own.
ELSEWHERE = {
    "uploads", "upload-layouts", "try-mapping", "uploaded-file", "job", "stop-job", "resume-job",
    "import-checked", "job-problems",
}  # fmt: skip
WRITES = {
    "undo-batch", "pull-feed", "decisions", "reason", "decide-several", "undo", "fees", "remarks",
    "shortlist-order", "planning", "language", "analyse", "niche-settings", "propose-niches",
    "take-over-niches", "make-niche", "rename-niche", "merge-niches", "move-terms", "undo-niches",
    "word-list-total", "word-list-drop", "matches", "matches-undo",
    "theme-decisions", "undo-theme", "pins", "unpin", "plan-niche", "undo-plan", "orders-cash", "watch-seen",
    "replay-past", "take-fitted-lens",
}  # fmt: skip


def routes() -> dict[str, str]:
    """Route of each address by its name."""
    return {pattern.name: f"/api/{pattern.pattern}" for pattern in urlpatterns}


def unnamed() -> set[str]:
    """Addresses that this list forgets."""
    named = {
        *OF_NICHE,
        *OF_MARKET,
        *ONCE,
        *ALWAYS,
        *OF_BATCH,
        *ELSEWHERE,
        *WRITES,
        "distribution",
        "listing-history",
        "destinations",
        "voice-sentences",
        "word-list",
        "word-list-file",
        "chosen-family",
        "category",
        "category-sold",
        "category-ranges",
        "category-curves",
        "across",
        "matched",
        "proposed-matches",
        "term",
        "related",
        "listing",
        "listing-page",
        "brand",
        "brand-page",
        "seller",
        "seller-page",
        "together",
        "together-file",
        "plan-file",
    }
    return set(routes()) - named


def fixed_addresses() -> Iterator[str]:
    """Addresses that are asked of no market."""
    for name, queries in ALWAYS.items():
        yield from (f"{routes()[name]}?{query}" for query in queries)


def addresses(*, brief: bool = False, forms: bool = True) -> Iterator[str]:
    """Addresses to ask of all markets that were analysed; ``brief``: of their first niches, and no more
    than once of what is the same for all. ``forms``: files in every form they can be written in."""
    route = routes()
    yield from () if brief else (route[name] for name in ONCE)
    for name in OF_BATCH:
        for pk in Batch.objects.values_list("pk", flat=True):
            yield route[name].replace("<int:pk>", str(pk))
    for market in Market.objects.filter(run__isnull=False):
        own = {"market": market.market_id}
        for name, queries in OF_MARKET.items():
            asked = [one for one in queries if forms or not one.startswith("as=")]
            asked = asked[:1] if brief else asked
            yield from (f"{route[name]}?{urlencode(own)}&{query}" for query in asked)
        for category in Category.objects.values_list("category_id", flat=True):
            yield f"{route['coverage']}?{urlencode({**own, 'category': category})}"
            for name in ("category", "category-sold", "category-ranges", "category-curves"):
                yield f"{route[name]}?{urlencode({**own, 'category': category})}"
            yield f"{route['across']}?{urlencode({**own, 'of': 'categories', 'row': category})}"
        for other in Market.objects.filter(run__isnull=False).exclude(pk=market.pk)[:1]:
            for name in ("matched", "proposed-matches"):
                yield f"{route[name]}?{urlencode({**own, 'other': other.market_id})}"
        for listing in columns_of(market.run, LISTING).ids[:3]:
            for name in ("listing", "listing-page"):
                yield f"{route[name]}?{urlencode({**own, 'listing': listing})}"
        for kind in (BRAND, SELLER):
            for one in columns_of(market.run, kind).ids[:3]:
                for more in ({}, {"when": "ever"}, {"only": "asleep"}):
                    query = urlencode({**own, kind.key: one, **more})
                    yield f"{route[f'{kind.key}-page']}?{query}"
                yield f"{route[kind.key]}?{urlencode({**own, kind.key: one})}"
        if some := columns_of(market.run, SELLER).ids[:3]:
            for what in ("listings", "dropped", "brands", "categories"):
                query = urlencode({**own, "sellers": "\n".join(some), "what": what, "least": 1})
                yield f"{route['together']}?{query}"
                yield f"{route['together-file']}?{query}"
        listings = Listing.objects.order_by("pk").values_list("listing_id", flat=True)[:3]
        for niche in Niche.objects.filter(market=market)[: 1 if brief else None]:
            of_niche = {**own, "niche": niche.niche_id}
            for name in OF_NICHE:
                yield f"{route[name]}?{urlencode(of_niche)}"
            yield f"{route['curves']}?{urlencode({**of_niche, 'season': 'out'})}"
            yield f"{route['across']}?{urlencode({**own, 'row': niche.niche_id})}"
            theme = urlencode({**of_niche, "theme": "complaint/crack+lid"})
            yield f"{route['voice-sentences']}?{theme}"
            for listing in listings:
                yield f"{route['listing-history']}?{urlencode({**of_niche, 'listing': listing})}"
            for term in Term.objects.filter(niche=niche).values_list("term", flat=True)[:2]:
                yield f"{route['destinations']}?{urlencode({**of_niche, 'term': term})}"
                yield f"{route['term']}?{urlencode({**own, 'term': term})}"
                yield f"{route['related']}?{urlencode({**own, 'term': term})}"
                yield f"{route['related']}?{urlencode({**own, 'term': term, 'words': 'with'})}"
