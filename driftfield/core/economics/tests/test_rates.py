"""Exchange rates that were set, read in either direction."""

from datetime import date
from unittest import TestCase

from driftfield.core.economics import Rate, rate_between

DAY = date(2026, 5, 20)
KNOWN = [Rate("EUR", "GBP", 0.8, DAY), Rate("USD", "GBP", 0.75, DAY)]


class Between(TestCase):
    def test_a_rate_is_read_in_either_direction_with_its_day(self) -> None:
        self.assertEqual(rate_between("EUR", "GBP", KNOWN), KNOWN[0])
        self.assertEqual(rate_between("GBP", "EUR", KNOWN), Rate("GBP", "EUR", 1.25, DAY))

    def test_a_currency_is_itself_and_what_was_not_set_is_unknown(self) -> None:
        self.assertEqual(rate_between("EUR", "EUR", []).rate, 1)
        # Not by way of a third currency: nobody set that rate, and its day would be two days.
        self.assertIsNone(rate_between("EUR", "USD", KNOWN).rate)

    def test_the_rate_that_was_set_goes_before_one_turned_round(self) -> None:
        both = [Rate("GBP", "EUR", 1.1, DAY), *KNOWN]
        self.assertEqual(rate_between("EUR", "GBP", both).rate, 0.8)
