"""Commands of the catalogue."""

from __future__ import annotations

import json

import click

from .common import guarded_reading, set_up


@click.command(short_help="Show a category at a glance.")
@click.argument("market")
@click.argument("category")
def category(market: str, category: str) -> None:
    """Show CATEGORY of MARKET, both by their ids, as JSON: what its page in the Catalogue shows.

    Its verdict and figures, its last weeks with the season's part, how the figures of its niches are spread,
    who sells, at what prices, what is wanted, what leads, what is new, and what comes back. For every category
    of files see bin/driftfield analyse FOLDER --of categories.

    \b
    Example:
      bin/driftfield category north north-bees-hive-ware
    """  # fmt: skip
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.market.models import Market
    from driftfield.readings.catalogue import as_record, category_reading

    def work() -> None:
        found = (
            Market.objects.filter(market_id=market, run__isnull=False).select_related("run").first()
        )
        reading = None if found is None else category_reading(found.run, category)
        if reading is None:
            raise CoreError(f"There is no analysed category “{category}” in market “{market}”.")
        click.echo(json.dumps(as_record(reading), ensure_ascii=False, indent=2))

    guarded_reading(work)


COMMANDS = (category,)
