"""The command of proof: what was said on past days, held against what came."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import click

from .common import guarded, parse_day, report, write_rows


@click.command(short_help="Replay the past of FOLDER and show how far what was said held.")
@click.argument("folder", type=click.Path(path_type=Path, exists=True))
@click.option(
    "--every",
    type=click.IntRange(1, 520),
    default=13,
    show_default=True,
    help="Weeks between two days.",
)
@click.option(
    "--from",
    "since",
    callback=parse_day,
    metavar="DATE",
    help="Replay no earlier day. Default: three years before the record ends.",
)
@click.option(
    "--of",
    "plural",
    type=click.Choice(["niches", "terms", "categories"]),
    default="niches",
    show_default=True,
    help="What is judged.",
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
def backtest(
    folder: Path, every: int, since: date | None, plural: str, pairs: tuple[str, ...], as_of: date | None,
    out: Path | None,
) -> None:  # fmt: skip
    """Analyse FOLDER as it was known on earlier days and hold what was said against what came.

    A row of the record tells of forecasts, dates, drift, shapes, launches by headroom, signals or ranks:
    how far they held, with an interval, beside the obvious alternative, and from how much data. A row “lens”
    tells whether weights fitted to launches would have ranked later launches better than the default's, and
    which; rows “miss” name the worst misses, rows “limit” what the data cannot show. Of terms and
    categories nothing is told of launches, which belong to niches. Nothing later than a day touches what is
    said of it. No database is used.

    \b
    Examples:
      bin/driftfield backtest demo/harrow-quay.zip --out record.jsonl
      bin/driftfield backtest tables/ --every 26 --from 2024-06-30 --out record.csv
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.proof import COLUMNS, record_rows, replay_markets
    from driftfield.exchange.reader import read_package

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        markets, _ = assemble(read_package(folder, record_years=int(settings.record_years)), as_of)
        found = replay_markets(
            markets, settings, every=every, since=since, kind=KINDS_BY_PLURAL[plural],
            progress=lambda name, done, many: report(f"{name}: {done} of {many} days"),
        )  # fmt: skip
        rows = [row for one in found for row in record_rows(one, settings)]
        write_rows("proof", COLUMNS, rows, out)
        for one in found:
            if one.record is None:
                report(f"{one.market.market_id}: not replayed. {one.reason}")
        held = sum(row["row"] == "held" for row in rows)
        report(f"{held:,} lines{'' if out is None else f'; written to {out}'}.")

    guarded(work)


COMMANDS = (backtest,)
