"""Several orders in words."""

from datetime import date, timedelta
from unittest import TestCase

from driftfield.core.economics import MonthOfUnits, Outcome
from driftfield.core.sentences import outcome_sentence
from driftfield.core.sentences.orders import quiet_sentences


class CameOfIt(TestCase):
    def test_hindsight_is_not_called_a_plan(self) -> None:
        """Made after the goods were on sale, a plan rests on what it is held against."""
        monday = date(2026, 1, 5)
        found = Outcome(monday, date(2026, 1, 25), 6, 15, 30, 60)
        before = outcome_sentence(found, monday - timedelta(days=1))
        self.assertIn("planned were 30, 15 to 60 in eight draws of ten: less than planned.", before)
        after = outcome_sentence(found, date(2026, 2, 4))
        self.assertIn("the plan gives, with figures to 4 Feb 2026, 30, 15 to 60", after)
        self.assertNotIn("planned", after)


class Quiet(TestCase):
    def test_months_in_a_row_are_one(self) -> None:
        quiet = {1, 2, 3, 6}
        months = [MonthOfUnits(date(2026, at, 1), 1.0, at in quiet) for at in range(1, 13)]
        (told,) = quiet_sentences(months)
        self.assertIn("sells in January 2026 to March 2026 and June 2026.", told)
