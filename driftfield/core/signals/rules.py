"""The signals. To add one: an object here and a test beside it."""

from __future__ import annotations

from .joint import JOINT
from .rule import Is, Signal, Tone, above, below, thresholds_of
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
        key="clicks_without_purchases",
        name="Many clicks, few purchases",
        tone=NOTE,
        when=(
            below("click_purchase_high", FEW_PURCHASES, of="usual.click_purchase_rate"),
            above("clicks_52w", 1.0, of="usual.clicks"),
        ),
        sentence=(
            "{clicks_52w|whole} clicks a year end in a purchase {click_purchase_rate|rate} of the "
            "time; the market's usual rate is {usual.click_purchase_rate|rate}."
        ),
        look="What buyers complain of, and how many of the clicks are sponsored.",
    ),
    Signal(
        key="searches_without_purchases",
        name="Many searches, few purchases",
        tone=NOTE,
        when=(
            below("purchase_rate_high", FEW_PURCHASES, of="usual.purchase_rate"),
            above("searches_52w", 1.0, of="usual.searches"),
        ),
        sentence=(
            "{purchase_rate|rate} of {searches_52w|whole} searches a year end in a purchase; the "
            "market's usual rate is {usual.purchase_rate|rate}."
        ),
        look="What the terms ask for that the listings do not offer.",
    ),
    Signal(
        key="few_but_willing",
        name="Few searches, many purchases",
        tone=CHANCE,
        when=(
            above("purchase_rate_low", WILLING, of="usual.purchase_rate"),
            below("searches_52w", 1.0, of="usual.searches"),
        ),
        sentence=(
            "{purchase_rate|rate} of {searches_52w|whole} searches a year end in a purchase, at "
            "least {purchase_rate_low|rate}; the market's usual rate is "
            "{usual.purchase_rate|rate}."
        ),
        look="Which listings they buy, and at what price.",
    ),
    Signal(
        key="brand_words",
        name="Brand words carry the volume",
        tone=CAUTION,
        when=(above("branded_share", BRAND_WORDS),),
        sentence=(
            "{branded_share|share} of the searches name a brand; {open_searches_52w|whole} a year name neither "
            "a brand nor a protected word."
        ),
        look="The terms without a brand: they alone can be taken.",
    ),
    # Prices
    Signal(
        key="waits_for_discounts",
        name="Demand waits for discounts",
        tone=CAUTION,
        when=(below("price_answer.correlation", PRICE_ANSWER), below("price_answer.high", -0.1)),
        sentence=(
            "Its purchase rate rises when the price falls: rank correlation "
            "{price_answer.correlation|signed} ({price_answer.low|signed} to "
            "{price_answer.high|signed}) over {price_answer.changes|whole} changes."
        ),
        look="The margin at the lowest price of the last 52 weeks.",
    ),
    Signal(
        key="prices_fall",
        name="Prices fall across its listings",
        tone=CAUTION,
        when=(below(R + "price_change", PRICE_DROP), above(R + "price_falling", PRICE_DROP_SHARE)),
        sentence=(
            "Median price: {pressure.price_change|change} in 26 weeks; it fell for "
            "{pressure.price_falling|share} of the listings."
        ),
        look="Who began, and the margin if it goes on.",
    ),
    Signal(
        key="offers_outrun_units",
        name="Offers grow faster than sales",
        tone=CAUTION,
        when=(above(R + "offers_lead", OFFERS_LEAD), above(R + "offers_change", OFFERS_GROWTH)),
        sentence="Offers: {pressure.offers_change|change} in a year; units: {pressure.units_change|change}.",
        look="Prices of the last weeks: a price war announces itself so.",
    ),
    Signal(
        key="lead_contested",
        name="Lead offers change hands",
        tone=CAUTION,
        when=(above(R + "lead_changes", LEAD_CONTESTED),),
        sentence=(
            "In {pressure.lead_changes|share} of the steps of half a year the lead offer changed "
            "its seller."
        ),
        look="Whether sellers undercut one another on the same listings.",
    ),
    # Calendar
    Signal(
        key="rises_by_season",
        name="Rising only with the season",
        tone=CAUTION,
        when=(
            above("growth_13w.season", SEASON_RISE),
            above("growth_13w.raw", SEASON_RISE),
            # Nothing that is read of these weeks without the calendar may have grown for sure.
            below("growth_13w.drift_low", 0.0),
            below("growth_yoy.drift_low", 0.0),
            below("drift_low", 0.0),
        ),
        sentence=(
            "Over 13 weeks {growth_13w.raw|change}, by the season alone {growth_13w.season|change}. The rest, "
            "{growth_13w.drift|change}, may be none ({growth_13w.drift_low|limit} to "
            "{growth_13w.drift_high|limit}); against the same weeks a year ago it has not grown for sure "
            "either ({growth_yoy.drift_low|limit} to {growth_yoy.drift_high|limit})."
        ),
        look="The same weeks a year before.",
    ),
    Signal(
        key="rises_underneath",
        name="Rising beneath a falling season",
        tone=CHANCE,
        when=(above("growth_13w.drift_low", 0.03), below("growth_13w.raw", 0.0)),
        sentence=(
            "Over 13 weeks {growth_13w.raw|change}, by the season alone {growth_13w.season|change}: the rest "
            "is drift, {growth_13w.drift|change}, at least {growth_13w.drift_low|limit}."
        ),
        look="Whether the drift holds over 26 and 52 weeks.",
    ),
    Signal(
        key="order_now",
        name="Order-by date is near",
        tone=NOTE,
        when=(below("order_in_days", ORDER_SOON), Is("shape_family", "seasonal")),
        sentence="The next order-by date is in {order_in_days|whole} days, for the rise that follows.",
        look="What the first order must be.",
    ),
    Signal(
        key="searches_lead",
        name="Searches run ahead of purchases",
        tone=NOTE,
        when=(above("purchase_lag.weeks", LAG_WEEKS), above("purchase_lag.low", 0.0)),
        sentence=(
            "Purchases trail searches by {purchase_lag.weeks|number} weeks "
            "({purchase_lag.low|number} to {purchase_lag.high|number})."
        ),
        look="When to be listed: with the searches, not with the purchases.",
    ),
    # Who holds it
    Signal(
        key="one_brand",
        name="One brand dominates",
        tone=CAUTION,
        when=(above(P + "top_brand_share", "brand_dominant"),),
        sentence="One brand takes {competition_parts.top_brand_share|share} of the clicks.",
        look="What its buyers complain of; whether it sells by brand words.",
    ),
    Signal(
        key="few_brands",
        name="Few brands, year after year",
        tone=CAUTION,
        when=(
            below(P + "effective_brands", FEW_BRANDS),
            below(P + "effective_brands_52w_ago", FEW_BRANDS),
        ),
        sentence=(
            "The clicks are held as by {competition_parts.effective_brands|number} equal brands, "
            "a year ago as by {competition_parts.effective_brands_52w_ago|number}."
        ),
        look="Whether launches of other brands came to anything.",
    ),
    Signal(
        key="top_three_hold",
        name="Three listings dominate",
        tone=CAUTION,
        when=(above(P + "top3_share", "top3_closed"),),
        sentence="The three most clicked listings take {competition_parts.top3_share|share} of the clicks.",
        look="Their reviews, age and price.",
    ),
    Signal(
        key="room_at_the_top",
        name="Room at the top",
        tone=CHANCE,
        when=(below(P + "top3_share_high", "top3_open"),),
        sentence=(
            "The three most clicked listings take {competition_parts.top3_share|share} of the "
            "clicks, at most {competition_parts.top3_share_high|share}."
        ),
        look="What the many small ones have in common.",
    ),
    Signal(
        key="field_opens",
        name="The field is opening",
        tone=CHANCE,
        when=(
            above(P + "effective_listings", 1.0, of=P + "effective_listings_52w_ago"),
            Is("field", "Opening"),
        ),
        sentence=(
            "Clicks spread as over {competition_parts.effective_listings|number} equal listings, "
            "a year ago as over {competition_parts.effective_listings_52w_ago|number}."
        ),
        look="Who came in, and at what price.",
    ),
    Signal(
        key="field_closes",
        name="The field is closing",
        tone=CAUTION,
        when=(
            below(P + "effective_listings", 1.0, of=P + "effective_listings_52w_ago"),
            Is("field", "Closing"),
        ),
        sentence=(
            "Clicks spread as over {competition_parts.effective_listings|number} equal listings, "
            "a year ago as over {competition_parts.effective_listings_52w_ago|number}."
        ),
        look="Which listings took the others' clicks.",
    ),
    Signal(
        key="strong_one_gone",
        name="A strong listing is gone",
        tone=CHANCE,
        when=(above("sales.gone", GONE_SHARE),),
        sentence="A listing that took {sales.gone|share} of the clicks a year ago takes none now.",
        look="Why it went, and who takes its clicks in the coming season.",
    ),
    Signal(
        key="own_retail",
        name="The marketplace sells here itself",
        tone=CAUTION,
        when=(above(B + "own_retail", OWN_RETAIL),),
        sentence="The marketplace's own listings take {barriers.own_retail|share} of the clicks.",
        look="Its prices: it can hold them longer than you.",
    ),
    Signal(
        key="sponsored_rises",
        name="Sponsored listings gain clicks",
        tone=CAUTION,
        when=(
            above(B + "sponsored_clicks", SPONSORED_RISE, of=B + "sponsored_clicks_52w_ago"),
            above(B + "sponsored_clicks", SPONSORED_MANY),
        ),
        sentence=(
            "Listings that are sponsored now take {barriers.sponsored_clicks|share} of the clicks; the same "
            "listings took {barriers.sponsored_clicks_52w_ago|share} a year ago. Whether they were "
            "sponsored then is not known."
        ),
        look="What a click costs.",
    ),
    # Barriers
    Signal(
        key="few_reviews",
        name="Low review barrier",
        tone=CHANCE,
        when=(below("review_barrier", "review_limit"),),
        sentence=(
            "The ten most clicked listings have {review_barrier|whole} reviews in the median; "
            "under 75 hardly compete, under 150 can be approached."
        ),
        look="How fast a newcomer gathers reviews: units a review.",
    ),
    Signal(
        key="weak_pages",
        name="Weak listing pages",
        tone=CHANCE,
        when=(below(B + "quality", WEAK_PAGES),),
        sentence="The ten most clicked pages reach {barriers.quality|whole} of 100 in the median.",
        look="What their pictures and texts leave out.",
    ),
    Signal(
        key="out_of_stock",
        name="Often out of stock",
        tone=CHANCE,
        when=(above(B + "out_of_stock", OUT_OF_STOCK),),
        sentence="Its listings were without stock {barriers.out_of_stock|share} of the time.",
        look="Whether supply is hard to get, or was misjudged.",
    ),
    Signal(
        key="returns_high",
        name="High return rate",
        tone=CAUTION,
        when=(above(B + "return_ratio", RETURNS_RATIO), above(B + "return_rate", RETURNS_MANY)),
        sentence=(
            "{barriers.return_rate|share} of the units come back, {barriers.return_ratio|number} "
            "times what is usual in its category."
        ),
        look="The reasons given: a fault that can be avoided is a chance.",
    ),
    # Entry
    Signal(
        key="launches_fail",
        name="Launches fail",
        tone=CAUTION,
        when=(below(E + "success_high", LAUNCHES_FAIL),),
        sentence=(
            "{entry.successes|whole} of {entry.judged|whole} launches of a year reached the bar "
            "of {entry.bar|number} in four average weeks: a success rate of at most "
            "{entry.success_high|share}."
        ),
        look="What they did unlike the listings that sell.",
    ),
    Signal(
        key="launches_work",
        name="Launches work",
        tone=CHANCE,
        when=(above(E + "success_low", LAUNCHES_WORK),),
        sentence=(
            "{entry.successes|whole} of {entry.judged|whole} launches of a year reached the bar "
            "of {entry.bar|number} in four average weeks: a success rate of at least "
            "{entry.success_low|share}."
        ),
        look="How the newest winners differ in price and page.",
    ),
    Signal(
        key="nobody_new",
        name="No newcomers",
        tone=NOTE,
        when=(
            above(E + "newest_days", NOBODY_NEW),
            above("searches_52w", 1.0, of="usual.searches"),
        ),
        sentence=(
            "The latest launch is {entry.newest_days|whole} days old, for {searches_52w|whole} "
            "searches a year; usual in the market are {usual.searches|whole}."
        ),
        look="Whether something keeps sellers out: patents, supply, a brand.",
    ),
    Signal(
        key="reviews_outrun_sales",
        name="Reviews outrun sales",
        tone=CAUTION,
        when=(below(E + "units_per_review", UNITS_PER_REVIEW),),
        sentence=(
            "{entry.units_per_review|number} units were sold for each new review; ten or more are "
            "healthy."
        ),
        look="Whether reviews are asked for by other means.",
    ),
    # Money
    Signal(
        key="reaches_target",
        name="The median listing reaches the target",
        tone=CHANCE,
        when=(above("target.multiple", 1.0),),
        sentence=(
            "The median listing makes {sales.listing_revenue|money} a year, "
            "{target.multiple|number} times the target of {@target_income|money}."
        ),
        look="What is left of it after costs.",
    ),
)
SIGNALS_BY_KEY = {rule.key: rule for rule in SIGNALS}

THRESHOLDS = tuple(
    dict.fromkeys(
        [
            *(threshold for rule in SIGNALS for threshold in rule.thresholds),
            *(threshold for joint in JOINT for threshold in thresholds_of(joint.when)),
        ]
    )
)
