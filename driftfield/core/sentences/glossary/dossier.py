"""Words of complaints and money, as the dossier has them."""

from __future__ import annotations

from .word import Word

DOSSIER = (
    # Complaints.
    Word(
        key="theme",
        word="Theme",
        short="What reviews, questions or returns are about, from the feedback table.",
    ),
    Word(
        key="theme-share",
        word="Share",
        short=(
            "Share of what was said or returned that is about this theme, with its 90% interval."
            " The tick is what is usual in the category."
        ),
    ),
    Word(
        key="usual",
        word="Usual",
        short="The same share over the whole category.",
    ),
    Word(
        key="mentions",
        word="Mentions",
        short="How often it was mentioned.",
    ),
    Word(
        key="complaints",
        word="Complaints",
        short="How many complaints and returns of this listing were counted.",
    ),
    Word(
        key="most-often",
        word="Most often",
        short="The theme that stands out most among the listing’s complaints.",
    ),
    Word(
        key="in-the-niche",
        word="In the niche",
        short="The same theme’s share over all listings of the niche.",
    ),
    # Money.
    Word(
        key="size-class",
        word="Class",
        short="A size class of the marketplace’s handling fees; the fees are yours to enter.",
    ),
    Word(
        key="class-weight",
        word="Up to g",
        short="The heaviest a product of this class may be.",
    ),
    Word(
        key="class-size",
        word="Up to mm",
        short="The longest side a product of this class may have.",
    ),
    Word(
        key="class-fee",
        word="Fee",
        short="What the marketplace charges for handling one of this class.",
    ),
    Word(
        key="at-the-price",
        word="At the price",
        short="What one unit earns and costs at the price you would ask.",
    ),
    Word(
        key="at-the-lowest",
        word="At the lowest of 52 weeks",
        short="The same at the lowest price that occurred within a year.",
    ),
    Word(
        key="waterfall",
        word="Per unit",
        short="From the price, cost by cost, down to what is left of one unit.",
    ),
    Word(
        key="assumed",
        word="Assumed",
        short="Not known and not entered: a usual value stands in. Enter your own to replace it.",
    ),
)
