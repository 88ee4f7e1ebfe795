"""The declaration of how exchange tables are kept: every table has its entry, and the entry fits it."""

from django.test import SimpleTestCase

from driftfield.exchange.tables import tables
from driftfield.intake.stored import CURVES, MODELS, OF_CURVES, ROWS, STORED
from driftfield.market.models import Listing, Market, Niche, PackedCurve, Term


class Declared(SimpleTestCase):
    def test_every_exchange_table_is_kept_in_the_order_of_the_tables(self) -> None:
        self.assertEqual(list(dict.fromkeys(one.name for one in STORED)), list(tables()))
        for one in CURVES:
            named = [column for column in one.table.key if column not in one.table.one_of]
            self.assertEqual({*one.keys, "week"} - {*one.table.one_of}, {*named}, one.name)

    def test_a_table_of_figures_by_period_is_kept_as_curves_and_no_other(self) -> None:
        dated = {name for name, table in tables().items() if "week" in table.key and table.measures}
        self.assertEqual(OF_CURVES | {"feedback"}, dated)
        self.assertTrue(all(issubclass(one.model, PackedCurve) for one in CURVES))

    def test_ids_that_other_tables_name_are_known(self) -> None:
        for table in tables().values():
            for reference in table.references:
                kept = ROWS.get(reference.table)
                if kept is not None and kept.identity:
                    self.assertEqual(kept.identity, reference.target, table.name)

    def test_what_hangs_on_something_is_taken_out_before_it(self) -> None:
        place = {model: at for at, model in enumerate(MODELS)}
        for model in MODELS:
            for field in model._meta.get_fields():
                other = getattr(field, "related_model", None)
                if getattr(field, "many_to_one", False) and other in place and other is not model:
                    self.assertLess(
                        place[model], place[other], f"{model.__name__} hangs on {other}"
                    )
        self.assertLess(place[Term], place[Niche])
        self.assertLess(place[Listing], place[Market])
