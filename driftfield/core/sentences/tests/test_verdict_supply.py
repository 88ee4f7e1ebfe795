"""Sentences of who holds a niche and of what its buyers type."""

from typing import Any
from unittest import TestCase

from driftfield.core.market import NICHE, figures_of
from driftfield.core.sentences.supply import what_buyers_type, who_holds


def figures(**known: Any) -> dict[str, Any]:
    """A record in which all is unknown but what is given, keys with _ for the first dot."""
    record: dict[str, Any] = {figure.key: None for figure in figures_of(NICHE)}
    for name, value in known.items():
        matching = [key for key in record if key.replace(".", "_") == name]
        assert matching, name
        record[matching[0]] = value
    return record


def term(words: str, searches: float, rate: float | None = None) -> dict[str, Any]:
    bought = None if rate is None else searches * rate
    return {"term": words, "searches_52w": searches, "purchase_rate": rate, "purchases_52w": bought}


class WhoHolds(TestCase):
    def test_facts_of_the_trade_decide_the_words(self) -> None:
        """Common practice, no source: 15% for three leaves room and 90% does not; half for one brand
        dominates; under 75 reviews is hardly competitive, under 150 approachable."""
        for known, expected in (
            ({"competition_parts_top3_share": 0.15}, "Nobody dominates: the three most clicked take 15%"),
            ({"competition_parts_top3_share": 0.9}, "A few listings dominate: the three most clicked take 90%"),
            ({"competition_parts_top3_share": 0.5}, "Some listings are ahead"),
            ({"competition_parts_top_brand_share": 0.51}, "One brand dominates, with 51% of the clicks."),
            ({"competition_parts_top_brand_share": 0.2}, "The first brand takes 20%."),
            ({"review_barrier": 74}, "The top ten have 74 reviews in the middle: hardly a barrier."),
            ({"review_barrier": 149}, "within reach."),
            ({"review_barrier": 481}, "The top ten have 481 reviews in the middle: a head start to make up."),
            ({"entry_launches_52w": 0}, "Nobody has launched here within a year."),
        ):  # fmt: skip
            self.assertIn(expected, " ".join(who_holds(figures(**known))))

    def test_what_is_not_accounted_for_is_not_decided(self) -> None:
        """A tenth known of the three most clicked says little where seven tenths of the clicks are not."""
        for most, expected in (
            (
                0.7,
                "Not proven that anyone does: the three most clicked take 10% to 70% of the clicks",
            ),
            (0.4, "Some listings are ahead: the three most clicked take 10% to 40% of the clicks"),
            (0.2, "Nobody dominates: the three most clicked take 10% to 20% of the clicks"),
        ):
            known = figures(
                competition_parts_top3_share=0.1, competition_parts_top3_share_high=most
            )
            self.assertIn(expected, who_holds(known)[0])

    def test_a_brand_that_dominates_comes_first(self) -> None:
        known = figures(competition_parts_top3_share=0.5, competition_parts_top_brand_share=0.7)
        self.assertEqual(who_holds(known)[0], "One brand dominates, with 70% of the clicks.")

    def test_newcomers_are_told_with_their_interval_and_fields_with_their_change(self) -> None:
        answer = who_holds(
            figures(
                competition_parts_top3_share=0.24, competition_parts_click_breadth=14, field="Opening",
                competition_parts_effective_listings=10.2, competition_parts_effective_listings_52w_ago=6.6,
                entry_launches_52w=4, entry_judged=4, entry_successes=2, entry_success_low=0.18,
                entry_success_high=0.82, pressure_price_change=-0.12, pressure_price_falling=0.6,
            )
        )  # fmt: skip
        self.assertEqual(
            answer,
            [
                "Nobody dominates: the three most clicked take 24% of the clicks, and 14 take four fifths; "
                "it has opened within a year, from 6.6 equal listings to 10.2.",
                "4 launched within a year; of 4 that can be judged 2 reached the bar, the season taken out "
                "(18% to 82% would in the long run).",
                "Prices in 26 weeks: −12%; 60% of the listings became cheaper.",
            ],
        )

    def test_nothing_known_names_what_would_bring_it(self) -> None:
        self.assertEqual(
            who_holds(figures()),
            ["Not known: term_clicks and listings would tell who takes the clicks."],
        )


class WhatBuyersType(TestCase):
    def test_the_first_term_brand_words_and_room(self) -> None:
        answer = what_buyers_type(
            figures(branded_share=0.12, competition_parts_open_terms=0.6, purchase_rate=0.03),
            [term("rhubarb forcer", 600, 0.03), term("clay forcer", 300), term("tall forcer", 100)],
        )
        self.assertEqual(
            answer,
            [
                "Mostly “rhubarb forcer”: 60% of the searches, of 3 terms.",
                "Brand words are in 12% of the searches.",
                "60% of the searches go to terms that are not dominated by three listings.",
            ],
        )

    def test_a_willing_term_needs_enough_purchases_and_a_clear_lead(self) -> None:
        usual = figures(purchase_rate=0.03)
        for rate, searches, named in (
            (0.06, 1_000, True),
            (0.06, 400, False),
            (0.035, 2_000, False),
        ):
            terms = [term("rhubarb forcer", 20_000, 0.028), term("lidded forcer", searches, rate)]
            found = " ".join(what_buyers_type(usual, terms))
            self.assertEqual(
                "“lidded forcer” converts best: 6.0% of its searches end in a purchase" in found,
                named,
            )

    def test_one_term_and_none(self) -> None:
        self.assertEqual(
            what_buyers_type(figures(), [term("net float", 90)]),
            ["One term, “net float”."],
        )
        for nothing in ([], [term("net float", 0)]):
            answer = what_buyers_type(figures(), nothing)
            self.assertEqual(
                answer, ["Not known: term_weeks would tell how often its terms are typed."]
            )
