"""Words of the Field and of the shortlist."""

from __future__ import annotations

from .word import Word

FIELD = (
    # The ledger and its conditions.
    Word(
        key="sieve",
        word="Sieve",
        short="A set of conditions; what meets all of them passes. Saved sieves have a name.",
    ),
    Word(
        key="condition",
        word="Condition",
        short=(
            "What is asked of each niche, as in “price 15 to 40”. Click it to change it, switch "
            "it off or remove it."
        ),
        more="Conditions can be joined by “or” and negated with “not”. Unknown never passes.",
    ),
    Word(
        key="removes",
        word="−16",
        short="How many niches this condition alone removes: they meet all the others.",
    ),
    Word(
        key="near-miss",
        word="Near miss",
        short="Fails one condition only, and that by no more than a tenth of its bound.",
    ),
    Word(
        key="passes",
        word="… of … pass",
        short="How many niches meet all conditions that are switched on, of all in the market.",
    ),
    Word(
        key="decision",
        word="Keep, park, pass",
        short="Your decision: keep it, park it for later, or pass. Keys k, p and x; u undoes.",
    ),
    Word(
        key="marked",
        word="Marked",
        short="Chosen with Space, to decide on, export or set side by side together.",
    ),
    Word(
        key="working",
        word="Working",
        short="How each figure was worked out, step by step, with its source.",
    ),
    Word(
        key="chart-area",
        word="Equal headroom",
        short="Along a line headroom is the same; further up and to the left there is more.",
    ),
    # Terms from a word.
    Word(
        key="seed",
        word="Seed",
        short="The word or phrase a search from below starts with.",
        more=(
            "Endings and diacritics do not matter unless you ask for the exact spelling. Each word you add "
            "narrows it; click one in the path to go back to it."
        ),
    ),
    Word(
        key="niches-from-terms",
        word="Niches from terms",
        short=(
            "Terms after which buyers click the same listings are one need; terms without clicks go by the "
            "words they share."
        ),
        more=(
            "Communities of the graph of shared clicks, as fine as they stay the same when a tenth of the "
            "terms is missing. What is made or changed by hand stays, whatever is imported or proposed later."
        ),
    ),
    Word(
        key="grouping-quality",
        word="Quality of a niche",
        short=(
            "How far its terms stand out from those of the nearest other niche: 1 wholly, 0 not at all, "
            "below 0 they fit better there."
        ),
        more="The silhouette of its terms (Rousseeuw 1987), by clicks or, where there are none, by words.",
    ),
    Word(
        key="reach",
        word="Reach",
        short=(
            "Searches a year of a term that do not go to its three leading listings: what a newcomer could "
            "reach."
        ),
        more=(
            "Searches × (1 − share of clicks of the top three); terms with brand or protected words are left "
            "out, and a mistyping counts with its right form. That it is what a newcomer gets is an assumption."
        ),
    ),
    Word(
        key="leaders-use",
        word="Used by leaders",
        short="How many of the ten most clicked listings have the word in their title or tags.",
    ),
    Word(
        key="list-total",
        word="Searches of a list",
        short="Searches of its terms in the last 52 weeks, together.",
        more=(
            "A term that is likely a mistyping of another one in the list is left out: who mistypes often "
            "types again."
        ),
    ),
    Word(
        key="seed-volume",
        word="Terms · searches · on the year before",
        short=(
            "How many terms the seed finds, their searches in the last 52 weeks, and these against the "
            "52 weeks before."
        ),
        more=(
            "A whole year against a whole year, so that the season cancels; unchanged where counting noise "
            "explains it."
        ),
    ),
    Word(
        key="going-on",
        word="By letter",
        short="What buyers type after the seed, or before it, by its letter; the higher, the more searches.",
        more=(
            "▲ and ▼ mark 8% or more on the year before; what counting noise explains is unchanged. Choose a "
            "letter to narrow, then the next one."
        ),
    ),
    Word(
        key="family",
        word="Family",
        short="Niches that one brand could serve together.",
        more=(
            "Tied by brands or sellers that carry both more often than chance (hypergeometric, false "
            "discovery rate of 5%), by buyers who click listings of both, or by words in one category, the "
            "weakest tie."
        ),
    ),
    Word(
        key="family-ties",
        word="Tied by",
        short="What ties a niche to others of its family.",
    ),
    Word(
        key="monthly-searches",
        word="Searches a month",
        short="Those of the last 52 weeks ÷ 12; of a Fad only what lasts of them.",
    ),
    Word(
        key="enough",
        word="Enough for a brand",
        short="A usual measure: three to five goods, each with 10,000 to 50,000 searches a month.",
        more="Common practice, no source; its numbers are settings. It says nothing of margins or rivals.",
    ),
    Word(
        key="term-language",
        word="Language of the terms",
        short="Whose endings are taken off words, so that “forcers” finds “forcer”.",
        more="Of the market. Where terms of two languages are mixed, choose the one more of them are in.",
    ),
    Word(
        key="same-buyers",
        word="The same buyers",
        short=(
            "Terms after which buyers click the same listings, most alike first; with other words, unless "
            "these are asked for too."
        ),
        more=(
            "Alike is the cosine of two terms' shares of clicks over a year: 100% where they are divided "
            "among the same listings in the same way. Where a term's clicks are not known, shared words "
            "stand in."
        ),
    ),
    Word(
        key="same-season",
        word="The same season",
        short=(
            "Terms of its category, in other niches, whose year runs alike: something to sell to the same "
            "people at the same time."
        ),
        more="Alike is the correlation of two season profiles; told from 80% on, our choice.",
    ),
    Word(
        key="words-beside",
        word="Words beside it",
        short="Other words in the same terms; the larger, the more searches. Choose one to narrow.",
    ),
    Word(
        key="drawn-word",
        word="A word at random",
        short="Draws a word; the more terms contain it, the likelier.",
        more="The address keeps its number, which draws it again.",
    ),
    # The shortlist.
    Word(
        key="place",
        word="Place",
        short="Your own order; drag a row or use Shift and the arrow keys.",
    ),
    Word(
        key="decided",
        word="Decided",
        short="When the decision was made, and up to when the figures went then.",
    ),
    Word(
        key="why",
        word="Why · note",
        short="The reason you gave with the decision, and your note.",
    ),
    Word(
        key="then",
        word="Then",
        short="As it was known when you decided.",
    ),
    Word(
        key="now",
        word="Now",
        short="As it is known today; what differs beyond noise is marked.",
    ),
    Word(
        key="figure",
        word="Figure",
        short="A value that was worked out for each niche; its working says how.",
    ),
    Word(
        key="here",
        word="Here",
        short="The value of this niche.",
    ),
    Word(
        key="how",
        word="How it is worked out",
        short="The formula, in words.",
    ),
    Word(
        key="source",
        word="Source",
        short="Who published the method, or that it is Driftfield’s own definition.",
    ),
)
