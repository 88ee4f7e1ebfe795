"""The signals and what they mean together. To add one: an object here and a test beside it."""

from __future__ import annotations

from .rule import Is, Joint, Signal, Tone, above, below, thresholds_of
from .thresholds import (
    BRAND_WORDS,
    FEW_BRANDS,
    FEW_PURCHASES,
    GONE_SHARE,
    LAG_WEEKS,
    LAUNCHES_FAIL,
    LAUNCHES_WORK,
    LEAD_CONTESTED,
    NOBODY_NEW,
    OFFERS_GROWTH,
    OFFERS_LEAD,
    ORDER_SOON,
    OUT_OF_STOCK,
    OWN_RETAIL,
    PRICE_ANSWER,
    PRICE_DROP,
    PRICE_DROP_SHARE,
    RETURNS_MANY,
    RETURNS_RATIO,
    SEASON_RISE,
    SPONSORED_MANY,
    SPONSORED_RISE,
    UNITS_PER_REVIEW,
    WEAK_PAGES,
    WILLING,
)

CHANCE, CAUTION, NOTE = Tone.CHANCE, Tone.CAUTION, Tone.NOTE
P, B, E, R = "competition_parts.", "barriers.", "entry.", "pressure."

SIGNALS: tuple[Signal, ...] = (
    # Demand against what is offered
    Signal(
        "clicks_without_purchases", "Many clicks, few purchases", NOTE,
        (below("click_purchase_high", FEW_PURCHASES, of="usual.click_purchase_rate"),
         above("clicks_52w", 1.0, of="usual.clicks")),
        "{clicks_52w|whole} clicks a year end in a purchase {click_purchase_rate|rate} of the time; the "
        "market's usual rate is {usual.click_purchase_rate|rate}.",
        "What buyers complain of, and how many of the clicks are sponsored.",
    ),
    Signal(
        "searches_without_purchases", "Many searches, few purchases", NOTE,
        (below("purchase_rate_high", FEW_PURCHASES, of="usual.purchase_rate"),
         above("searches_52w", 1.0, of="usual.searches")),
        "{purchase_rate|rate} of {searches_52w|whole} searches a year end in a purchase; the market's "
        "usual rate is {usual.purchase_rate|rate}.",
        "What the terms ask for that the listings do not offer.",
    ),
    Signal(
        "few_but_willing", "Few who search, many who buy", CHANCE,
        (above("purchase_rate_low", WILLING, of="usual.purchase_rate"),
         below("searches_52w", 1.0, of="usual.searches")),
        "{purchase_rate|rate} of {searches_52w|whole} searches a year end in a purchase, at least "
        "{purchase_rate_low|rate}; the market's usual rate is {usual.purchase_rate|rate}.",
        "Which listings they buy, and at what price.",
    ),
    Signal(
        "brand_words", "Brand words carry the volume", CAUTION,
        (above("branded_share", BRAND_WORDS),),
        "{branded_share|share} of the searches name a brand; {open_searches_52w|whole} a year do not.",
        "The terms without a brand: they alone can be taken.",
    ),
    # Prices
    Signal(
        "waits_for_discounts", "Demand that waits for discounts", CAUTION,
        (below("price_answer.correlation", PRICE_ANSWER), below("price_answer.high", -0.1)),
        "Its purchase rate rises when the price falls: rank correlation {price_answer.correlation|signed} "
        "({price_answer.low|signed} to {price_answer.high|signed}) over {price_answer.changes|whole} changes.",
        "The margin at the lowest price of the last 52 weeks.",
    ),
    Signal(
        "prices_fall", "Prices fall across the niche", CAUTION,
        (below(R + "price_change", PRICE_DROP), above(R + "price_falling", PRICE_DROP_SHARE)),
        "The median price went {pressure.price_change|change} in 26 weeks; it fell for "
        "{pressure.price_falling|share} of the listings.",
        "Who began, and the margin if it goes on.",
    ),
    Signal(
        "offers_outrun_units", "Sellers pile in faster than sales", CAUTION,
        (above(R + "offers_lead", OFFERS_LEAD), above(R + "offers_change", OFFERS_GROWTH)),
        "Offers went {pressure.offers_change|change} in a year, units {pressure.units_change|change}.",
        "Prices of the last weeks: a price war announces itself so.",
    ),
    Signal(
        "lead_contested", "Lead offers change hands", CAUTION,
        (above(R + "lead_changes", LEAD_CONTESTED),),
        "In {pressure.lead_changes|share} of the steps of half a year the lead offer changed its seller.",
        "Whether sellers undercut one another on the same listings.",
    ),
    # Calendar
    Signal(
        "rises_by_season", "Rising only by season", CAUTION,
        (above("growth_13w.season", SEASON_RISE), above("growth_13w.raw", SEASON_RISE),
         below("growth_13w.drift_low", 0.0), below("drift_low", 0.0)),
        "Of {growth_13w.raw|change} in 13 weeks the calendar makes {growth_13w.season|change}; the drift part, "
        "{growth_13w.drift|change}, may be none ({growth_13w.drift_low|change} to "
        "{growth_13w.drift_high|change}).",
        "The same weeks a year before.",
    ),
    Signal(
        "rises_underneath", "Rising under a falling season", CHANCE,
        (above("growth_13w.drift_low", 0.03), below("growth_13w.raw", 0.0)),
        "It went {growth_13w.raw|change} in 13 weeks, but the calendar alone makes {growth_13w.season|change}: "
        "the drift part is {growth_13w.drift|change}, at least {growth_13w.drift_low|change}.",
        "Whether the drift holds over 26 and 52 weeks.",
    ),
    Signal(
        "order_now", "Order-by date is near", NOTE,
        (below("order_in_days", ORDER_SOON), Is("shape_family", "seasonal")),
        "The next order-by date is in {order_in_days|whole} days, for the rise that follows.",
        "What the first order must be.",
    ),
    Signal(
        "searches_lead", "Searches run ahead of purchases", NOTE,
        (above("purchase_lag.weeks", LAG_WEEKS), above("purchase_lag.low", 0.0)),
        "Purchases trail searches by {purchase_lag.weeks|number} weeks ({purchase_lag.low|number} to "
        "{purchase_lag.high|number}).",
        "When to be listed: with the searches, not with the purchases.",
    ),
    # Who holds it
    Signal(
        "one_brand", "One brand holds it", CAUTION,
        (above(P + "top_brand_share", "brand_dominant"),),
        "One brand takes {competition_parts.top_brand_share|share} of the clicks.",
        "What its buyers complain of; whether it sells by brand words.",
    ),
    Signal(
        "few_brands", "Few brands, year after year", CAUTION,
        (below(P + "effective_brands", FEW_BRANDS), below(P + "effective_brands_52w_ago", FEW_BRANDS)),
        "The clicks are held as by {competition_parts.effective_brands|number} equal brands, a year ago as by "
        "{competition_parts.effective_brands_52w_ago|number}.",
        "Whether launches of other brands came to anything.",
    ),
    Signal(
        "top_three_hold", "Three listings hold it", CAUTION,
        (above(P + "top3_share", "top3_closed"),),
        "The three most clicked listings take {competition_parts.top3_share|share} of the clicks.",
        "Their reviews, age and price.",
    ),
    Signal(
        "room_at_the_top", "Room at the top", CHANCE,
        (below(P + "top3_share_high", "top3_open"),),
        "The three most clicked listings take {competition_parts.top3_share|share} of the clicks, at most "
        "{competition_parts.top3_share_high|share}.",
        "What the many small ones have in common.",
    ),
    Signal(
        "field_opens", "The field opens", CHANCE,
        (above(P + "effective_listings", 1.0, of=P + "effective_listings_52w_ago"), Is("field", "Opening")),
        "Clicks spread as over {competition_parts.effective_listings|number} equal listings, a year ago as "
        "over {competition_parts.effective_listings_52w_ago|number}.",
        "Who came in, and at what price.",
    ),
    Signal(
        "field_closes", "The field closes", CAUTION,
        (below(P + "effective_listings", 1.0, of=P + "effective_listings_52w_ago"), Is("field", "Closing")),
        "Clicks spread as over {competition_parts.effective_listings|number} equal listings, a year ago as "
        "over {competition_parts.effective_listings_52w_ago|number}.",
        "Which listings took the others' clicks.",
    ),
    Signal(
        "strong_one_gone", "A strong listing is gone", CHANCE,
        (above("sales.gone", GONE_SHARE),),
        "A listing that took {sales.gone|share} of the clicks a year ago takes none now.",
        "Why it went, and who takes its clicks in the coming season.",
    ),
    Signal(
        "own_retail", "The marketplace sells here itself", CAUTION,
        (above(B + "own_retail", OWN_RETAIL),),
        "The marketplace's own listings take {barriers.own_retail|share} of the clicks.",
        "Its prices: it can hold them longer than you.",
    ),
    Signal(
        "sponsored_rises", "Clicks are bought more and more", CAUTION,
        (above(B + "sponsored_clicks", SPONSORED_RISE, of=B + "sponsored_clicks_52w_ago"),
         above(B + "sponsored_clicks", SPONSORED_MANY)),
        "Sponsored listings take {barriers.sponsored_clicks|share} of the clicks; a year ago the same ones "
        "took {barriers.sponsored_clicks_52w_ago|share}.",
        "What a click costs.",
    ),
    # Barriers
    Signal(
        "few_reviews", "Few reviews to stand beside", CHANCE,
        (below("review_barrier", "review_limit"),),
        "The ten most clicked listings have {review_barrier|whole} reviews in the median; under 75 hardly "
        "compete, under 150 can be approached.",
        "How fast a newcomer gathers reviews: units a review.",
    ),
    Signal(
        "weak_pages", "Weak pages", CHANCE,
        (below(B + "quality", WEAK_PAGES),),
        "The ten most clicked pages reach {barriers.quality|whole} of 100 in the median.",
        "What their pictures and texts leave out.",
    ),
    Signal(
        "out_of_stock", "Often out of stock", CHANCE,
        (above(B + "out_of_stock", OUT_OF_STOCK),),
        "Its listings were without stock {barriers.out_of_stock|share} of the time.",
        "Whether supply is hard to get, or was misjudged.",
    ),
    Signal(
        "returns_high", "Much is sent back", CAUTION,
        (above(B + "return_ratio", RETURNS_RATIO), above(B + "return_rate", RETURNS_MANY)),
        "{barriers.return_rate|share} of the units come back, {barriers.return_ratio|number} times what is "
        "usual in its category.",
        "The reasons given: a fault that can be avoided is a chance.",
    ),
    # Entry
    Signal(
        "launches_fail", "Launches fail", CAUTION,
        (below(E + "success_high", LAUNCHES_FAIL),),
        "{entry.successes|whole} of {entry.judged|whole} launches of a year reached the bar of "
        "{entry.bar|number} in four weeks: a success rate of at most {entry.success_high|share}.",
        "What they did unlike the listings that sell.",
    ),
    Signal(
        "launches_work", "Launches work", CHANCE,
        (above(E + "success_low", LAUNCHES_WORK),),
        "{entry.successes|whole} of {entry.judged|whole} launches of a year reached the bar of "
        "{entry.bar|number} in four weeks: a success rate of at least {entry.success_low|share}.",
        "How the newest winners differ in price and page.",
    ),
    Signal(
        "nobody_new", "Nobody new", NOTE,
        (above(E + "newest_days", NOBODY_NEW), above("searches_52w", 1.0, of="usual.searches")),
        "The latest launch is {entry.newest_days|whole} days old, for {searches_52w|whole} searches a year; "
        "usual in the market are {usual.searches|whole}.",
        "Whether something keeps sellers out: patents, supply, a brand.",
    ),
    Signal(
        "reviews_outrun_sales", "Reviews come too fast", CAUTION,
        (below(E + "units_per_review", UNITS_PER_REVIEW),),
        "{entry.units_per_review|number} units were sold for each new review; ten or more are healthy.",
        "Whether reviews are asked for by other means.",
    ),
    # Money
    Signal(
        "reaches_target", "The median listing reaches the target", CHANCE,
        (above("target.multiple", 1.0),),
        "The median listing makes {sales.listing_revenue|whole} a year, {target.multiple|number} times the "
        "target of {@target_income|whole}.",
        "What is left of it after costs.",
    ),
)  # fmt: skip
SIGNALS_BY_KEY = {rule.key: rule for rule in SIGNALS}

JOINT: tuple[Joint, ...] = (
    Joint(
        "clicks_without_purchases", (above(B + "sponsored_clicks", SPONSORED_MANY),),
        "Sponsored listings take {barriers.sponsored_clicks|share} of the clicks, so bought clicks are "
        "likelier than a need not met.",
    ),
    Joint(
        "clicks_without_purchases", (below(B + "sponsored_clicks", SPONSORED_MANY),),
        "Sponsored listings take only {barriers.sponsored_clicks|share} of the clicks, so a need not met is "
        "likelier than bought clicks.",
    ),
    Joint(
        "offers_outrun_units", (), "Prices fall already: the price war has begun.", ("prices_fall",),
    ),
    Joint(
        "one_brand", (), "Buyers ask for brands by name: what is left for others is small.",
        ("brand_words",),
    ),
    Joint(
        "few_reviews", (), "But its launches fail: what keeps newcomers out is not reviews.",
        ("launches_fail",),
    ),
    Joint(
        "launches_work", (), "And the field opens: newcomers take clicks from those who were there.",
        ("field_opens",),
    ),
    Joint(
        "order_now", (), "The rise to come is the calendar's, not growth.", ("rises_by_season",),
    ),
)  # fmt: skip

THRESHOLDS = tuple(
    dict.fromkeys(
        [
            *(threshold for rule in SIGNALS for threshold in rule.thresholds),
            *(threshold for joint in JOINT for threshold in thresholds_of(joint.when)),
        ]
    )
)
