"""Commands of named lists of terms."""

from __future__ import annotations

import json
from pathlib import Path

import click

from .common import guarded, guarded_reading, report, set_up


@click.command("lists", short_help="Show, keep and write out lists of terms of MARKET.")
@click.argument("market")
@click.argument("name", required=False)
@click.option(
    "--add", "terms", multiple=True, metavar="TERM", help="Add this term; may be repeated."
)
@click.option(
    "--from",
    "source",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Add the terms of this file, one a line.",
)
@click.option("--remove", is_flag=True, help="Remove the list; adding to it brings it back.")
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Write the list to this file, by its ending as CSV, XLSX or JSON.",
)
def lists(
    market: str,
    name: str | None,
    terms: tuple[str, ...],
    source: Path | None,
    remove: bool,
    out: Path | None,
) -> None:
    """Show the lists of MARKET as JSON lines, or the list called NAME, add to it and write it out.

    The total counts a likely mistyping and its right form once.

    \b
    Examples:
      bin/driftfield lists north "To try" --add "swarm lure" --add "swarm lure vial"
      bin/driftfield lists north "To try" --out to-try.xlsx
    """  # fmt: skip
    set_up()
    from dataclasses import asdict

    from driftfield.core.base import CoreError
    from driftfield.desk.actions import remove_list, save_list
    from driftfield.desk.models import WordList
    from driftfield.desk.word_lists import list_columns, rows_of, total_of
    from driftfield.exchange.lists import FORMS, write_list
    from driftfield.market.models import Market

    def work() -> None:
        one = Market.objects.filter(market_id=market, run__isnull=False).first()
        if one is None:
            raise CoreError(f"There is no analysed market “{market}”.")
        given = [*terms, *(source.read_text("utf-8").splitlines() if source else ())]
        if name is None:
            if given or remove or out:
                raise CoreError("Give the name of the list as well.")
            for each in WordList.objects.filter(market_id=market, removed_at=None):
                line = {"name": each.name, **asdict(total_of(one.run, each.terms))}
                click.echo(json.dumps(line, ensure_ascii=False))
            return
        if remove:
            remove_list(market, name)
            report(f"“{name}” removed.")
            return
        if given:
            save_list(market, name, given)
        found = WordList.objects.filter(market_id=market, name=name, removed_at=None).first()
        if found is None:
            raise CoreError(f"There is no list “{name}”.")
        rows = rows_of(one.run, found.terms)
        if out is None:
            total = asdict(total_of(one.run, found.terms))
            click.echo(json.dumps({"name": name, **total, "rows": rows}, ensure_ascii=False))
            return
        form = out.suffix[1:]
        if form not in FORMS:
            raise CoreError(f"“{out.name}” does not end in .csv, .xlsx or .json.")
        out.write_bytes(write_list(form, f"list {name}", list_columns(), rows))
        report(f"{len(rows):,} terms written to {out}.")

    guarded(work)


@click.command("listing-words", short_help="Show the words for a listing of a niche.")
@click.argument("market")
@click.argument("niche")
@click.option(
    "--length",
    default=150,
    show_default=True,
    type=click.IntRange(0, 1000),
    metavar="LETTERS",
    help="Letters that the picked words may take, with the spaces between.",
)
@click.option("--first", default="", metavar="WORDS", help="Words that come first in them.")
def words(market: str, niche: str, length: int, first: str) -> None:
    """Show what to write into a listing of NICHE, by its id, as JSON.

    Terms by the searches a year that their three leading listings leave, the words they hold with how many
    leading titles use each, and those that let most be found in the given length, none twice.

    \b
    Example:
      bin/driftfield listing-words north north-rain-gauges --length 120
    """  # fmt: skip
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.market.models import Niche
    from driftfield.readings.listing_words import words_for_listing
    from driftfield.readings.reading import reading_of

    def work() -> None:
        found = (
            Niche.objects.filter(
                market__market_id=market, niche_id=niche, market__run__isnull=False
            )
            .select_related("market__run", "category")
            .first()
        )
        reading = None if found is None else reading_of(found.market.run, found)
        if reading is None:
            raise CoreError(f"There is no analysed niche “{niche}” in market “{market}”.")
        record = words_for_listing(reading, length, first).as_record()
        click.echo(json.dumps(record, ensure_ascii=False, indent=2))

    guarded_reading(work)


COMMANDS = (lists, words)
