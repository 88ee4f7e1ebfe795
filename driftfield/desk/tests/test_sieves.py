"""Sieves by name."""

from importlib import import_module

from django.test import TestCase

from driftfield.core.base import CoreError
from driftfield.core.sieve import parse_sieve
from driftfield.desk.actions import remove_sieve, save_sieve, save_sieves
from driftfield.desk.models import Sieve
from driftfield.desk.starting import STARTING


class Sieves(TestCase):
    def test_are_kept_as_they_are_read_and_replaced_by_name(self) -> None:
        save_sieve("Cheap  and open", ["Price under 20", "~searches over 8k"])
        self.assertEqual(Sieve.objects.get().name, "Cheap and open")
        self.assertEqual(Sieve.objects.get().conditions, ["price ..20", "~searches 8000.."])
        save_sieve("Cheap and open", ["price ..15"])
        self.assertEqual(Sieve.objects.get().conditions, ["price ..15"])

    def test_a_removed_one_is_not_lost(self) -> None:
        save_sieve("Mine", ["price ..15"])
        remove_sieve("Mine")
        self.assertEqual(Sieve.objects.filter(removed_at=None).count(), 0)
        self.assertEqual(Sieve.objects.get(name="Mine").conditions, ["price ..15"])
        save_sieve("Mine", Sieve.objects.get(name="Mine").conditions)
        self.assertEqual(Sieve.objects.filter(removed_at=None).count(), 1)

    def test_several_are_saved_together_or_not_at_all(self) -> None:
        with self.assertRaisesRegex(CoreError, "Sieve “B”: .* None was saved"):
            save_sieves([("A", ["price ..15"]), ("B", ["cheap"])])
        self.assertFalse(Sieve.objects.exists())

    def test_what_it_refuses(self) -> None:
        for name, conditions, expected in (
            (" ", ["price ..15"], "needs a name"), ("X", [], "no condition to save"),
            ("a first product", ["price ..15"], "comes with Driftfield"), ("X", ["cheap"], "is not a condition"),
        ):  # fmt: skip
            with self.assertRaisesRegex(CoreError, expected):
                save_sieve(name, conditions)
        with self.assertRaisesRegex(CoreError, "no sieve “Y”"):
            remove_sieve("Y")

    def test_changes_that_were_kept_as_parts_are_kept_in_percent(self) -> None:
        migration = import_module("driftfield.desk.migrations.0002_conditions_in_percent")
        for before, after in (
            ("drift 1.5..", "drift 150%.."), ("~drift -1..2", "~drift -100%..200%"), ("drift 0.08..", "drift 0.08.."),
            ("price 12..45", "price 12..45"), ("offers in a year ..3", "offers in a year ..300%"),
            ("shape = Seasonal", "shape = Seasonal"), ("terms hold 1..2", "terms hold 1..2"),
        ):  # fmt: skip
            self.assertEqual(migration.in_percent(before), after)
            if not before.startswith(("~drift", "drift 1", "offers")):
                self.assertEqual(len(parse_sieve([after])), 1)

    def test_the_starting_ones_are_conditions(self) -> None:
        for one in STARTING:
            self.assertEqual(len(parse_sieve(one.conditions)), len(one.conditions), one.name)
