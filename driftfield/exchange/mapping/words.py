"""Names by which the columns of the exchange tables go elsewhere: common practice, no source.

Each entry is a set of words; a column's name that holds all of them, in any order, may be that column.
Words are compared without case, plural s and punctuation. The more of a name an entry explains, the
better it fits.
"""

from __future__ import annotations

import re
from functools import cache, lru_cache

from driftfield.exchange.tables import Table

NAMES: dict[str, tuple[str, ...]] = {
    "term": (
        "term", "search term", "search query", "query", "keyword", "phrase", "search phrase",
        "suchbegriff", "suchbegriffe", "requête", "mot clé", "palabra clave",
    ),
    "week": (
        "week", "date", "week start", "week of", "week beginning", "week commencing", "week starting",
        "week ending", "week end", "start date", "reporting date", "period", "month", "day", "datum", "woche",
        "semaine", "fecha",
    ),
    "searches": (
        "search", "search volume", "search count", "search frequency", "query volume", "volume",
        "weekly search", "monthly search", "suchvolumen", "volumen", "suchanfrage",
        "suchanfragen", "recherche",
    ),
    "impressions": ("impression", "impression count", "total impression", "times shown", "impressionen"),
    "clicks": ("click", "click count", "total click", "klick", "clic"),
    "purchases": ("purchase", "order", "ordered", "unit ordered", "conversion", "purchase count",
        "total order", "kauf", "käufe", "bestellung"),
    "index": ("index", "interest", "relative interest", "popularity"),
    "listing_id": (
        "listing", "listing id", "product id", "item id", "product code", "item number", "item code", "sku",
        "article number", "artikelnummer",
    ),
    "click_share": ("click share", "share click", "click percent", "klickanteil"),
    "purchase_share": ("purchase share", "conversion share", "order share", "share purchase"),
    "title": ("title", "product title", "listing title", "item name", "product name", "titel", "titre"),
    "brand": ("brand", "brand name", "make", "manufacturer", "marke", "marque"),
    "seller_id": ("seller", "seller id", "merchant", "merchant id", "shop", "shop id", "verkäufer"),
    "lead_seller_id": ("lead seller", "lead offer", "main seller", "default seller"),
    "category_id": ("category", "category id", "category path", "kategorie", "catégorie"),
    "parent_id": ("parent", "parent id", "parent category"),
    "price": ("price", "unit price", "list price", "selling price", "average price", "preis", "prix", "precio"),
    "rating": ("rating", "star", "average rating", "review rating", "bewertung"),
    "reviews": ("review", "review count", "number review", "rating count", "bewertungen"),
    "launched_on": (
        "launch", "launch date", "first available", "date first available", "listed since", "listed on",
        "available since", "release date",
    ),
    "weight_g": ("weight", "item weight", "package weight", "gewicht", "poids"),
    "length_mm": ("length", "item length", "package length", "länge", "longueur"),
    "width_mm": ("width", "item width", "package width", "breite", "largeur"),
    "height_mm": ("height", "item height", "package height", "höhe", "hauteur"),
    "quality": ("quality", "listing quality", "quality score", "content score"),
    "sponsored": ("sponsored", "advertised", "promoted", "ad"),
    "return_rate": ("return rate", "return percent", "refund rate", "retourenquote"),
    "tags": ("tag", "listing tag", "backend keyword"),
    "units": ("unit", "unit sold", "unit sale", "unit ordered", "ordered", "item sold", "sale", "sold",
        "quantity", "stück", "absatz"),
    "sales_rank": ("sale rank", "rank", "sales position", "best seller rank"),
    "offers": ("offer", "offer count", "number offer", "seller count"),
    "in_stock": ("in stock", "availability", "stock share", "buyable"),
    "revenue": ("revenue", "turnover", "sale value", "income", "umsatz"),
    "niche_id": ("niche", "niche id", "segment", "segment id", "need", "group", "cluster"),
    "branded": ("branded", "brand term", "contains brand"),
    "market_id": ("market", "market id", "marketplace"),
    "currency": ("currency", "currency code", "währung"),
    "region": ("region", "land"),
    "country": ("country", "country code"),
    "id": ("id",),
    "name": ("name",),
    "first_seen": ("first seen", "since", "from", "seen since", "start date"),
    "fulfilment": ("fulfillment", "fulfilled by", "shipped by", "sent by"),
    "last_seen": ("last seen", "until", "seen until", "end date"),
    "own_retail": ("own retail", "marketplace itself", "first party"),
    "kind": ("kind", "type", "source"),
    "theme": ("theme", "topic", "reason", "subject", "aspect", "thema"),
    "tone": ("tone", "sentiment", "mood"),
    "word": ("word", "protected word", "trademark", "wortmarke"),
    "match": ("match", "match type"),
    "note": ("note", "remark", "comment"),
    "mentions": ("mention", "count", "mention count", "number", "frequency"),
}  # fmt: skip
# What a column of names or ids may be called only in the table that is about such things.
OF_TABLE: dict[tuple[str, str], tuple[str, ...]] = {
    ("niches", "name"): ("niche", "niche name", "segment name"),
    ("niches", "niche_id"): ("id",),
    ("brands", "id"): ("brand id", "brand"),
    ("brands", "name"): ("brand name", "brand"),
    ("sellers", "id"): ("seller id", "merchant id", "shop id", "seller"),
    ("sellers", "name"): ("seller name", "shop name", "seller", "shop"),
    ("categories", "category_id"): ("id",),
    ("categories", "name"): ("category name", "category"),
    ("markets", "market_id"): ("id",),
    ("markets", "name"): ("market name", "market"),
    ("listings", "listing_id"): ("id", "item", "product"),
    ("listings", "title"): ("name", "product", "item", "description"),
    ("interest", "index"): ("search interest", "value", "score"),
}
# Words of measures that no figure of searches goes by: such a column is never taken for them unasked.
OTHER_MEASURES = {
    "impression", "view", "pageview", "visit", "session", "click", "purchase", "order", "ordered", "unit",
    "sale", "revenue", "turnover", "price", "cost", "bid", "rank", "position", "share", "rate", "ctr",
    "cpc", "percent", "competition", "difficulty", "score", "rating", "review", "stock", "result", "year",
    "id",
}  # fmt: skip
PERCENT = {"percent", "percentage", "pct"}
# What says in which unit figures are, or how they were counted, and not what they are.
IGNORED = {
    "k", "thousand", "mio", "mn", "million", "avg", "est", "estimated", "of", "the", "in", "per", "by",
    "for", "a", "and", "total", "no", "nr", "anzahl",
}  # fmt: skip


@lru_cache(maxsize=4096)  # Each name is held against every column of every table.
def words_of(name: str) -> tuple[str, ...]:
    """The words of a column's name: small, without plural s; a percent sign is a word."""
    spaced = name.replace("%", " percent ").replace("#", " number ")
    # “searchTerm” is two words.
    cut = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", spaced)
    letters = "".join(c if c.isalnum() else " " for c in cut.casefold())
    return tuple(_bare(word) for word in letters.split())


def _bare(word: str) -> str:
    if word in PERCENT:
        return "percent"
    if len(word) > 4 and word.endswith(("ches", "shes", "xes")):
        return word[:-2]  # Searches, inches, boxes.
    return word[:-1] if len(word) > 3 and word.endswith("s") and not word.endswith("ss") else word


def fit(name: str, table: Table, column: str) -> float:
    """How well a name says that it is ``column`` of ``table``: 1 for its own name, 0 for not at all."""
    if name.casefold().strip() == column:
        return 1.0
    words = words_of(name)
    if words == words_of(column):
        return 0.97
    bag = {word for word in words if word not in IGNORED} or set(words)
    if column == "searches" and bag & OTHER_MEASURES:
        return 0.0
    fitting = [len(wanted) for wanted in _entries(table.name, column) if wanted <= bag]
    return 0.4 + 0.55 * max(fitting) / len(bag) if fitting else 0.0


@cache
def _entries(table: str, column: str) -> tuple[frozenset[str], ...]:
    """The sets of words by which a column goes."""
    entries = (*NAMES.get(column, ()), *OF_TABLE.get((table, column), ()))
    found = (frozenset(words_of(entry)) - IGNORED for entry in entries)
    return tuple(words for words in found if words)
