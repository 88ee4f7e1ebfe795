"""The command of own part: how much of the growth of one's own sales was the market's."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import click

from .common import guarded, parse_day, report, write_rows


@click.command(short_help="Show whether own sales in FOLDER grew with the market or against it.")
@click.argument("folder", type=click.Path(path_type=Path, exists=True))
@click.option("--niche", metavar="ID", default="", help="One niche, with all that is told of it.")
@click.option(
    "--all",
    "every",
    is_flag=True,
    help="All comparisons, curves, terms and listings, as JSON; without it a row for each niche.",
)
@click.option(
    "--set", "pairs", multiple=True, metavar="KEY=VALUE", help="Change a setting; may be repeated."
)
@click.option(
    "--as-of",
    callback=parse_day,
    metavar="DATE",
    help="Read nothing later than this day. Default: the last complete period in the data.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="CSV, XLSX or JSON, by the ending; else JSON lines.",
)
def ownpart(
    folder: Path, niche: str, every: bool, pairs: tuple[str, ...], as_of: date | None, out: Path | None
) -> None:  # fmt: skip
    """Show how own sales moved in each niche, split exactly into season, market and share, one JSON line each.

    The table own_sales says what you sold, with a niche_id, or with a listing_id whose niches are told by
    clicks. A line compares the last 13 weeks with the same a year before, or with the 13 before where that is
    not known; --niche and --all tell 4, 13, 26 and 52 weeks, and which terms and listings took what was lost.
    No database is used.

    \b
    Examples:
      bin/driftfield ownpart demo/harrow-quay.zip
      bin/driftfield ownpart demo/harrow-quay.zip --niche north-soil-block-makers --out part.json
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.own_part import COLUMNS, find_own_part, headline_row
    from driftfield.exchange.reader import read_package

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        markets, _ = assemble(read_package(folder, record_years=int(settings.record_years)), as_of)
        records, totals = find_own_part(markets, settings, niche)
        if niche or every:
            write_rows("own part", list(records[0]), records, _nested(out))
        else:
            rows = [headline_row(one, one["market_id"], one["name"]) for one in records]
            write_rows("own part", COLUMNS, rows, out)
        many = len(records)
        report(
            f"{many:,} {'niche' if many == 1 else 'niches'} with own sales"
            f"{'' if out is None else f'; written to {out}'}."
        )
        for one in totals:
            report(f"{one['market_id']}: {one['sentence']}")

    guarded(work)


def _nested(out: Path | None) -> Path | None:
    """Where records within records go. Raises BadParameter for forms that hold none."""
    if out is not None and out.suffix.lower() in (".csv", ".xlsx"):
        raise click.BadParameter(
            f"{out.name}: a table cannot hold all that is told; write it as JSON, or leave out --all and "
            "--niche."
        )
    return out


COMMANDS = (ownpart,)
