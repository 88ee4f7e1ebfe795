"""What signals mean together, or with a figure beside them."""

from __future__ import annotations

from .rule import Joint, above, below
from .thresholds import SPONSORED_MANY

JOINT: tuple[Joint, ...] = (
    Joint(
        signal="clicks_without_purchases",
        when=(above("barriers.sponsored_clicks", SPONSORED_MANY),),
        sentence=(
            "Sponsored listings take {barriers.sponsored_clicks|share} of the clicks, so bought "
            "clicks are likelier than a need not met."
        ),
    ),
    Joint(
        signal="clicks_without_purchases",
        when=(below("barriers.sponsored_clicks", SPONSORED_MANY),),
        sentence=(
            "Sponsored listings take only {barriers.sponsored_clicks|share} of the clicks, so a "
            "need not met is likelier than bought clicks."
        ),
    ),
    Joint(
        signal="offers_outrun_units",
        when=(),
        sentence="Prices fall already: the price war has begun.",
        beside=("prices_fall",),
    ),
    Joint(
        signal="one_brand",
        when=(),
        sentence="Buyers ask for brands by name: what is left for others is small.",
        beside=("brand_words",),
    ),
    Joint(
        signal="few_reviews",
        when=(),
        sentence="But its launches fail: what keeps newcomers out is not reviews.",
        beside=("launches_fail",),
    ),
    Joint(
        signal="launches_work",
        when=(),
        sentence="And the field opens: newcomers take clicks from those who were there.",
        beside=("field_opens",),
    ),
    Joint(
        signal="order_now",
        when=(),
        sentence="The rise to come is the calendar's, not growth.",
        beside=("rises_by_season",),
    ),
)
