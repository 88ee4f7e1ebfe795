"""What the API says of those who sell already."""

from __future__ import annotations

from rest_framework import serializers

from driftfield.api.previews import SubjectPreview
from driftfield.api.shared import serializer_of
from driftfield.core.market import LISTING, figures_of


class ListingPreview(SubjectPreview):
    """One listing close up. Its curve is what it sells; brand, seller and niche are empty for unknown."""

    brand = serializers.CharField()
    seller = serializers.CharField(help_text="Id of the seller it names.")
    vars()["figures"] = serializer_of("ListingFigures", figures_of(LISTING))()
