"""Words of listings, clicks and competition."""

from __future__ import annotations

from .word import Word

COMPETITION = (
    Word(
        key="click-share",
        word="Clicks",
        short="Share of the clicks after the niche’s terms that go to it, in the latest weeks.",
    ),
    Word(
        key="a-year-ago",
        word="A year ago",
        short="The same share in the same weeks of the year before.",
    ),
    Word(
        key="together",
        word="Together",
        short="Its share and those of all above it, added up.",
    ),
    Word(
        key="purchase-share",
        word="Purchases",
        short="Share of the purchases after the term that are of this listing.",
    ),
    Word(
        key="units-curve",
        word="Units, 2 years",
        short="Units sold over the last two years, each listing on its own scale.",
    ),
    Word(
        key="attribute",
        word="Attribute",
        short="A property of listings, such as colour or size, from attr_ columns.",
    ),
    Word(
        key="attribute-listings",
        word="Listings",
        short="How many of the clicked listings have this value.",
    ),
    Word(
        key="attribute-units",
        word="Units a year",
        short="What the listings with this value sell in a year.",
    ),
    Word(
        key="launches-worked",
        word="Worked",
        short="The median of launches that reached the bar of success, in season.",
    ),
    Word(
        key="launches-others",
        word="Others",
        short="The median of launches that did not reach it.",
    ),
    Word(
        key="breadth",
        word="Click breadth",
        short="The fewest listings that together take 80% of the clicks.",
        more="Few means that a handful of pages take nearly everything.",
        figures=("competition_parts.click_breadth",),
    ),
    Word(
        key="balance",
        word="Competition · demand",
        short=(
            "Two indices, 0 to 100: the bar to the left is competition, the one to the right "
            "demand."
        ),
        figures=(
            "competition",
            "demand",
        ),
    ),
    Word(
        key="headroom",
        word="Headroom",
        short=(
            "Demand relative to competition, 0 to 100, as the lens weighs them; it ranks the field."
        ),
        figures=("headroom",),
    ),
    Word(
        key="rank",
        word="Rank",
        short="Place by headroom under the lens that is named beside it.",
        figures=("rank",),
    ),
    Word(
        key="rank-band",
        word="Rank band",
        short=(
            "Where the rank lies in 90 of 100 cases when the lens’s weights are shaken: a wide "
            "band means that the rank hangs on the weights."
        ),
        figures=(
            "rank_low",
            "rank_high",
        ),
    ),
    Word(
        key="frontier",
        word="Diamond ◆",
        short="On the frontier: no other niche has both more demand and less competition.",
        figures=("frontier",),
    ),
    Word(
        key="high-under-all",
        word="Ring ◎",
        short="High under every ready lens: it ranks well whatever the purpose.",
        figures=("high_under_all",),
    ),
    Word(
        key="lens",
        word="Lens",
        short=(
            "A set of weights: what counts how much in headroom, or in openness and settledness. "
            "Choose one for your purpose or set your own."
        ),
    ),
)
