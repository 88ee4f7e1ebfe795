"""What an upgrade does with readings that were made before."""

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase


class Upgrade(TransactionTestCase):
    def test_old_readings_go_so_that_they_are_made_anew(self) -> None:
        executor = MigrationExecutor(connection)
        executor.migrate([("readings", "0001_initial")])
        old = executor.loader.project_state([("readings", "0001_initial")]).apps
        market = old.get_model("market", "Market").objects.create(market_id="m", name="M")
        niche = old.get_model("market", "Niche").objects.create(
            market=market, niche_id="n", name="N"
        )
        old.get_model("readings", "Run").objects.create(
            market=market, as_of="2026-05-17", period="week", niches=1
        )
        old.get_model("readings", "Reading").objects.create(niche=niche, market=market)

        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        new = executor.loader.project_state(executor.loader.graph.leaf_nodes()).apps
        self.assertFalse(new.get_model("readings", "Run").objects.exists())
        self.assertFalse(new.get_model("readings", "Reading").objects.exists())
        self.assertTrue(new.get_model("market", "Niche").objects.filter(niche_id="n").exists())
