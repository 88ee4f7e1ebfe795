"""What a row can stand for. Every kind has figures, a ledger, a sieve and a curve."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """One kind of subject.

    key: how the store and addresses name it. name, plural: as in a sentence; the command line takes
    the plural. subject: the field of a record that says which one it is. identity: all fields of a
    record that come before its figures, each with what it says; optional: those of them that may be unknown.
    size: the figure by which rows come, most first, where nothing else decides. curve: what its curve counts.
    """

    key: str
    name: str
    plural: str
    subject: str
    identity: tuple[tuple[str, str], ...]
    optional: frozenset[str] = frozenset()
    size: str = "searches_52w"
    curve: str = "searches"

    @property
    def fields(self) -> tuple[str, ...]:
        """Names of the fields of its identity."""
        return tuple(name for name, _ in self.identity)

    def many(self, number: int) -> str:
        """A number of them, as in “1 niche” and “2,700 terms”."""
        return f"{number:,} {self.name if number == 1 else self.plural}"


_MARKET = "The market it belongs to."
NICHE = Kind(
    key="niche",
    name="niche",
    plural="niches",
    subject="niche_id",
    identity=(
        ("market_id", _MARKET),
        ("niche_id", "The niche; for a term without a niche, the term itself."),
        ("name", "The niche's name; for a term without a niche, the term."),
    ),
)
TERM = Kind(
    key="term",
    name="term",
    plural="terms",
    subject="term",
    identity=(
        ("market_id", _MARKET),
        ("term", "The term."),
        ("niche_id", "The niche it belongs to; for a term without a niche, the term itself."),
    ),
)
CATEGORY = Kind(
    key="category",
    name="category",
    plural="categories",
    subject="category_id",
    identity=(
        ("market_id", _MARKET),
        ("category_id", "The category."),
        ("name", "Its name."),
        ("parent_id", "The category above it; null at the top of the tree."),
    ),
    optional=frozenset({"parent_id"}),
)
LISTING = Kind(
    key="listing",
    name="listing",
    plural="listings",
    subject="listing_id",
    identity=(
        ("market_id", _MARKET),
        ("listing_id", "The listing."),
        ("name", "Its title; its id where it has none."),
        ("brand", "Its brand; null for unknown."),
        ("seller_id", "The seller it names; null for none."),
        (
            "category_id",
            "Its category; where it names none, that of the niche below; null for none.",
        ),
        ("niche_id", "The niche that brings most of its clicks; null where nobody clicks it."),
    ),
    optional=frozenset({"brand", "seller_id", "category_id", "niche_id"}),
    size="sales.units_52w",
    curve="units",
)

_MAINLY = "The category most of its units come from; null for none."
BRAND = Kind(
    key="brand",
    name="brand",
    plural="brands",
    subject="brand",
    identity=(
        ("market_id", _MARKET),
        ("brand", "The brand, by its id."),
        ("name", "Its name; its id where it has none."),
        ("category_id", _MAINLY),
    ),
    optional=frozenset({"category_id"}),
    size="sales.units_52w",
    curve="units",
)
SELLER = Kind(
    key="seller",
    name="seller",
    plural="sellers",
    subject="seller_id",
    identity=(
        ("market_id", _MARKET),
        ("seller_id", "The seller."),
        ("name", "Its name; its id where it has none."),
        ("category_id", _MAINLY),
    ),
    optional=frozenset({"category_id"}),
    size="sales.units_52w",
    curve="units",
)

KINDS = (NICHE, TERM, CATEGORY, LISTING, BRAND, SELLER)
# Those whose listings are the ones clicked after their terms.
BY_CLICKS = (NICHE, TERM)
# Those that terms lie in, and listings.
OF_TERMS = (NICHE, TERM, CATEGORY)
# Those that listings belong to.
HOLDERS = (BRAND, SELLER)
# Those with sales of their own, on the step of the listings' history.
SELLING = (LISTING, *HOLDERS)
# Those that lists are kept of.
LISTED = (TERM, *SELLING)
KINDS_BY_KEY = {kind.key: kind for kind in KINDS}
# As the command line and addresses name them.
KINDS_BY_PLURAL = {kind.plural: kind for kind in KINDS}
