"""The most clicked listings of one niche, worked out when asked for."""

from __future__ import annotations

from typing import Any

import numpy as np

from driftfield.core.members import part_weights, read_members
from driftfield.core.settings import Settings
from driftfield.market.models import Brand, Listing

from .load import load_niche
from .models import Reading


def clicked_listings(reading: Reading, most: int) -> list[dict[str, Any]]:
    """The listings with the largest shares of the niche's clicks now, with their facts as loaded.

    click_share, click_share_52w_ago: fractions of the niche's clicks in the latest weeks and a year
    ago; age_days: at the as-of. None for unknown.
    """
    run = reading.market.run
    part = load_niche(reading.niche, run.as_of)
    if part is None or part.data.observed is None:
        return []
    data, settings = part.data, Settings(**run.settings)
    assert data.observed is not None
    members = read_members(
        data.observed, part_weights(data.observed, data.searches, data.clicks), data.term_niche, 1,
        data.timeline.length, int(settings.click_weeks), data.timeline.period,
    )  # fmt: skip
    first = members.now.nonzero()[0][:most]
    keys = [part.listings[i] for i in members.listing[first].tolist()]
    facts = Listing.objects.in_bulk(keys)
    brands = dict(
        Brand.objects.filter(pk__in={one.brand for one in facts.values()}).values_list("pk", "name")
    )
    rows = []
    for key, (share, *_, before) in zip(keys, members.share[first].tolist(), strict=True):
        listing = facts[key]
        since = listing.launched_on
        rows.append(
            {
                "listing_id": listing.listing_id,
                "title": listing.title,
                "brand": brands.get(listing.brand or "", listing.brand),
                "price": listing.price,
                "rating": listing.rating,
                "reviews": listing.reviews,
                "sponsored": listing.sponsored,
                "age_days": None
                if since is None or since > run.as_of
                else (run.as_of - since).days,
                "quality": listing.quality,
                "weight_g": listing.weight_g,
                "return_rate": listing.return_rate,
                "launched_on": since,
                "attributes": listing.attributes,
                "click_share": round(share, 6),
                "click_share_52w_ago": None if np.isnan(before) else round(before, 6),
            }
        )
    return rows
