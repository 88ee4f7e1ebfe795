"""Commands of the watch: what changed between two looks at the same market."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import click

from .common import guarded, parse_day, report, write_rows

_KINDS = click.Choice(["niches", "terms", "categories", "listings", "brands", "sellers"])
_PATH = click.Path(path_type=Path, exists=True)


@click.command(short_help="Show what changed beyond noise between two looks at a market.")
@click.argument("before", type=_PATH)
@click.argument("after", type=_PATH)
@click.option(
    "--of",
    "kinds",
    type=_KINDS,
    multiple=True,
    default=["niches"],
    show_default=True,
    help="What is compared; may be repeated. Files of records say it themselves.",
)
@click.option(
    "--rate",
    type=float,
    default=0.05,
    show_default=True,
    help="False discovery rate: of the changes told beside facts, at most this share is chance.",
)
@click.option(
    "--before-as-of", callback=parse_day, metavar="DATE", help="Read BEFORE up to this day."
)
@click.option(
    "--after-as-of", callback=parse_day, metavar="DATE", help="Read AFTER up to this day."
)
@click.option(
    "--set", "pairs", multiple=True, metavar="KEY=VALUE", help="Change a setting; may be repeated."
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="CSV, XLSX or JSON, by the ending; else JSON lines.",
)
def changes(
    before: Path,
    after: Path,
    kinds: tuple[str, ...],
    rate: float,
    before_as_of: date | None,
    after_as_of: date | None,
    pairs: tuple[str, ...],
    out: Path | None,
) -> None:
    """Show what changed beyond noise from BEFORE to AFTER, by consequence, one JSON line each.

    Both are folders or packages of exchange tables, or files of records of bin/driftfield analyse (.jsonl).
    A line says of which niche (or what --of says) what changed, what it was and is, the interval of what it
    is, and the chance of as much where nothing changed; that is null for facts, such as a date that has
    passed. What the earlier figures could tell already is not told again. No database is used.

    \b
    Examples:
      bin/driftfield changes last-week this-week --out changes.jsonl
      bin/driftfield changes demo/harrow-quay.zip demo/harrow-quay.zip --before-as-of 2026-02-15
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.changes import COLUMNS, changes_between, read_look

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        wanted = [KINDS_BY_PLURAL[one] for one in dict.fromkeys(kinds)]
        looks = [
            read_look(path, wanted, settings, day)
            for path, day in ((before, before_as_of), (after, after_as_of))
        ]
        found, rows = changes_between(looks[0], looks[1], rate, settings)
        write_rows("changes", COLUMNS, rows, out)
        many = len(rows)
        where = "" if out is None else f"; written to {out}"
        told = "Nothing changed" if not many else f"{many:,} {'change' if many == 1 else 'changes'}"
        report(
            f"{told} from {looks[0].as_of} to {looks[1].as_of}, of {found.tested:,} comparisons "
            f"at a false discovery rate of {rate:.0%}{where}."
        )
        for number, text in (
            (len(found.came), "came"),
            (len(found.went), "are not there any more"),
        ):
            if number:
                report(f"Note: {number:,} {text}.")

    guarded(work)


COMMANDS = (changes,)
