"""The market as it was loaded. Ids from the exchange tables are kept as they came."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models

from driftfield.core.base import Period
from driftfield.core.market.protected import ProtectedWord as Protected


class Market(models.Model):
    """One marketplace in one region with one currency.

    country: ISO 3166-1 code, empty where it is not known. complete_until: last day that was over when its
    figures were taken, where the package said so.
    """

    market_id = models.CharField(max_length=200, unique=True)
    name = models.CharField(max_length=500)
    currency = models.CharField(max_length=3, blank=True)
    region = models.CharField(max_length=200, blank=True)
    country = models.CharField(max_length=2, blank=True, default="")
    complete_until = models.DateField(null=True)

    def __str__(self) -> str:
        return self.name


class Category(models.Model):
    """A node of the category tree."""

    category_id = models.CharField(max_length=200, unique=True)
    parent = models.ForeignKey(
        "self", null=True, on_delete=models.SET_NULL, related_name="children"
    )
    name = models.CharField(max_length=500)

    class Meta:
        verbose_name_plural = "categories"

    def __str__(self) -> str:
        return self.name

    @property
    def path(self) -> str:
        """Under its parent, as “Growing › Bed covers”."""
        return f"{self.parent.name} › {self.name}" if self.parent else self.name


class Niche(models.Model):
    """One buyer's need. of_term: it stands for a single term that names no niche.

    name: what it is called. given_name: what the files call it, None where they do not know it.
    own: the researcher made or renamed it, see ``OwnNiche``.
    """

    market = models.ForeignKey(Market, on_delete=models.CASCADE, related_name="niches")
    niche_id = models.CharField(max_length=500)
    name = models.CharField(max_length=500)
    given_name = models.CharField(max_length=500, null=True)
    category = models.ForeignKey(Category, null=True, on_delete=models.SET_NULL)
    of_term = models.BooleanField(default=False)
    own = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market", "niche_id"], name="niche_in_market")
        ]

    def __str__(self) -> str:
        return self.name


class Term(models.Model):
    """A phrase buyers type. niche: the one it is in. given: the one the files say, see ``Placement``."""

    market = models.ForeignKey(Market, on_delete=models.CASCADE, related_name="terms")
    niche = models.ForeignKey(Niche, on_delete=models.CASCADE, related_name="terms")
    given = models.ForeignKey(Niche, on_delete=models.CASCADE, related_name="given_terms")
    term = models.CharField(max_length=500)
    branded = models.BooleanField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market", "term"], name="term_in_market")
        ]

    def __str__(self) -> str:
        return self.term


class OwnNiche(models.Model):
    """A niche that the researcher made or renamed; by ids, so that it outlives every import.

    category_id: of one that was made, empty for none.
    """

    market_id = models.CharField(max_length=200)
    niche_id = models.CharField(max_length=500)
    name = models.CharField(max_length=500)
    category_id = models.CharField(max_length=200, blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market_id", "niche_id"], name="one_own_niche")
        ]

    def __str__(self) -> str:
        return self.name


class Placement(models.Model):
    """Where a term is instead of where the files have it; by ids, so that it outlives every import.

    niche_id: empty for a term that stands alone. by_hand: no proposal moves it.
    """

    market_id = models.CharField(max_length=200)
    term = models.CharField(max_length=500)
    niche_id = models.CharField(max_length=500, blank=True)
    by_hand = models.BooleanField(default=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market_id", "term"], name="one_place_a_term")
        ]

    def __str__(self) -> str:
        return self.term


class NicheChange(models.Model):
    """One change of a market's niches by the researcher, with what it takes to undo it.

    before, after: as ``niche_changes`` writes them. into: of niches that lost all their terms, the one
    that most of them went to.
    """

    market_id = models.CharField(max_length=200)
    sentence = models.CharField(max_length=1000)
    made_at = models.DateTimeField(auto_now_add=True)
    undone_at = models.DateTimeField(null=True)
    before: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    after: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    into: models.JSONField[dict[str, str]] = models.JSONField(default=dict)

    class Meta:
        ordering: ClassVar = ["-pk"]
        indexes: ClassVar = [models.Index(fields=["market_id", "undone_at"])]

    def __str__(self) -> str:
        return self.sentence


class Brand(models.Model):
    """A brand. own_retail: the marketplace's own."""

    id = models.CharField(max_length=200, primary_key=True)
    name = models.CharField(max_length=500)
    first_seen = models.DateField(null=True)
    own_retail = models.BooleanField(null=True)

    def __str__(self) -> str:
        return self.name


class Seller(models.Model):
    """A seller. own_retail: the marketplace itself."""

    id = models.CharField(max_length=200, primary_key=True)
    name = models.CharField(max_length=500)
    first_seen = models.DateField(null=True)
    own_retail = models.BooleanField(null=True)

    def __str__(self) -> str:
        return self.name


class Listing(models.Model):
    """One product page; prices in the market's currency, lengths in mm, weight in g.

    brand and seller are ids that may or may not stand in the tables of brands and sellers.
    """

    listing_id = models.CharField(max_length=200, unique=True)
    title = models.CharField(max_length=2000)
    brand = models.CharField(max_length=200, null=True)
    seller_id = models.CharField(max_length=200, null=True)
    category = models.ForeignKey(Category, null=True, on_delete=models.SET_NULL)
    price = models.FloatField(null=True)
    rating = models.FloatField(null=True)
    reviews = models.FloatField(null=True)
    launched_on = models.DateField(null=True)
    weight_g = models.FloatField(null=True)
    length_mm = models.FloatField(null=True)
    width_mm = models.FloatField(null=True)
    height_mm = models.FloatField(null=True)
    quality = models.FloatField(null=True)
    sponsored = models.BooleanField(null=True)
    return_rate = models.FloatField(null=True)
    tags = models.CharField(max_length=2000, null=True)
    attributes = models.JSONField(default=dict)

    def __str__(self) -> str:
        return self.title


class Offer(models.Model):
    """Which seller offered which listing, and when; last_seen is null while it stands.

    fulfilment: “marketplace” or “seller”, whoever stores and sends it; null for unknown.
    """

    seller_id = models.CharField(max_length=200)
    listing = models.ForeignKey(Listing, on_delete=models.CASCADE, related_name="offers")
    first_seen = models.DateField()
    last_seen = models.DateField(null=True)
    fulfilment = models.CharField(max_length=20, null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["seller_id", "listing", "first_seen"], name="one_offer")
        ]


class Feedback(models.Model):
    """What reviews and returns of a listing say, counted by theme."""

    listing = models.ForeignKey(Listing, on_delete=models.CASCADE, related_name="feedback")
    kind = models.CharField(max_length=20)
    theme = models.CharField(max_length=500)
    tone = models.CharField(max_length=20)
    week = models.DateField(null=True)
    mentions = models.FloatField()

    class Meta:
        indexes: ClassVar = [models.Index(fields=["listing", "kind", "tone"])]


class Voice(models.Model):
    """What a buyer wrote, with what tells who it was blanked.

    niche_id, term: as the files have them; they outlive what they name. language: null for the market's own.
    """

    voice_id = models.CharField(max_length=200, unique=True)
    kind = models.CharField(max_length=20)
    text = models.TextField()
    rating = models.FloatField(null=True)
    day = models.DateField(null=True)
    listing = models.ForeignKey(Listing, on_delete=models.CASCADE, null=True, related_name="voices")
    niche_id = models.CharField(max_length=500, null=True)
    term = models.CharField(max_length=500, null=True)
    language = models.CharField(max_length=40, null=True)
    helpful = models.FloatField(null=True)

    def __str__(self) -> str:
        return self.voice_id


class ProtectedWord(models.Model):
    """A word one must not sell under, in every market. match: null is exact."""

    word = models.CharField(max_length=200, unique=True)
    match = models.CharField(max_length=8, null=True)
    note = models.CharField(max_length=2000, null=True)

    class Meta:
        ordering: ClassVar = ["word"]

    def __str__(self) -> str:
        return self.word

    @property
    def as_read(self) -> Protected:
        """As the core reads it."""
        return Protected(self.word, self.match == "contains")


class PackedCurve(models.Model):
    """A measure over time in one row: ``values`` is little-endian float32, NaN for absent.

    first: running number of the first period (``Period.number``). The step is ``period``.
    """

    PERIODS: ClassVar = [(p.value, p.value) for p in Period]

    measure = models.CharField(max_length=20)
    period = models.CharField(max_length=5, choices=PERIODS)
    first = models.IntegerField()
    values = models.BinaryField()

    class Meta:
        abstract = True


class TermCurve(PackedCurve):
    """searches, clicks, purchases or index of a term."""

    subject = models.ForeignKey(Term, on_delete=models.CASCADE, related_name="curves")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["measure", "subject"], name="one_term_curve")
        ]


class LeadSeller(models.Model):
    """A seller that held a lead offer once, so that curves can hold a number.

    seller_id: an id that may or may not stand in the table of sellers.
    """

    seller_id = models.CharField(max_length=200, unique=True)

    def __str__(self) -> str:
        return self.seller_id


class ListingCurve(PackedCurve):
    """A column of listing_weeks; lead_seller is the key of the ``LeadSeller`` that held the lead offer."""

    subject = models.ForeignKey(Listing, on_delete=models.CASCADE, related_name="curves")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["measure", "subject"], name="one_listing_curve")
        ]


class ClickCurve(PackedCurve):
    """click_share or purchase_share of a listing after a term."""

    subject = models.ForeignKey(Term, on_delete=models.CASCADE, related_name="click_curves")
    listing = models.ForeignKey(Listing, on_delete=models.CASCADE, related_name="click_curves")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["measure", "subject", "listing"], name="one_click_curve"
            )
        ]


class SalesCurve(PackedCurve):
    """units or revenue of the researcher's own sales in a niche."""

    subject = models.ForeignKey(Niche, on_delete=models.CASCADE, related_name="sales_curves")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["measure", "subject"], name="one_sales_curve")
        ]


class ListingSalesCurve(PackedCurve):
    """units or revenue of the researcher's own sales of a listing."""

    subject = models.ForeignKey(Listing, on_delete=models.CASCADE, related_name="sales_curves")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["measure", "subject"], name="one_listing_sales_curve")
        ]
