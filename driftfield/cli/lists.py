"""Commands of named lists of terms."""

from __future__ import annotations

import json
from pathlib import Path

import click

from .common import guarded, guarded_reading, report, set_up


@click.command("lists", short_help="Show, keep and write out lists of MARKET.")
@click.argument("market")
@click.argument("name", required=False)
@click.option(
    "--of",
    "kinds",
    type=click.Choice(["terms", "listings", "brands", "sellers"]),
    default="terms",
    show_default=True,
    help="What the lists are of.",
)
@click.option(
    "--add", "terms", multiple=True, metavar="TERM", help="Add this term, or id; may be repeated."
)
@click.option(
    "--from",
    "source",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Add the terms of this file, one a line; or ids of another kind, in any form.",
)
@click.option("--note", help="Note this on the list.")
@click.option("--remove", is_flag=True, help="Remove the list; adding to it brings it back.")
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Write the list to this file, by its ending as CSV, XLSX or JSON.",
)
def lists(
    market: str,
    name: str | None,
    kinds: str,
    terms: tuple[str, ...],
    source: Path | None,
    note: str | None,
    remove: bool,
    out: Path | None,
) -> None:
    """Show the lists of MARKET as JSON lines, or the list called NAME, add to it and write it out.

    Of terms the total counts a likely mistyping and its right form once.

    \b
    Examples:
      bin/driftfield lists north "To try" --add "swarm lure" --add "swarm lure vial"
      bin/driftfield lists north "To try" --out to-try.xlsx
      bin/driftfield lists north "From the supplier" --of listings --from pasted.txt --out known.csv
    """  # fmt: skip
    set_up()
    from dataclasses import asdict

    from driftfield.core.base import CoreError
    from driftfield.core.market import KINDS_BY_PLURAL, TERM
    from driftfield.desk.actions import note_list, remove_list, save_list
    from driftfield.desk.models import WordList
    from driftfield.desk.word_lists import as_file, total_of
    from driftfield.exchange.lists import FORMS, write_list
    from driftfield.exchange.pasted import pasted_ids
    from driftfield.market.models import Market
    from driftfield.readings.columns import columns_of

    kind = KINDS_BY_PLURAL[kinds]

    def work() -> None:
        one = Market.objects.filter(market_id=market, run__isnull=False).first()
        if one is None:
            raise CoreError(f"There is no analysed market “{market}”.")
        given, text = [*terms], "" if source is None else source.read_text("utf-8-sig")
        if kind == TERM:
            given += text.splitlines()
        else:
            pasted = pasted_ids(text, columns_of(one.run, kind).places)
            given += pasted.ids
            for piece in pasted.unknown:
                report(f"Note: “{piece}” is no {kind.name} here and is left out.")
        if name is None:
            if given or remove or out or note:
                raise CoreError("Give the name of the list as well.")
            for each in WordList.objects.filter(market_id=market, kind=kind.key, removed_at=None):
                line = {"name": each.name, **asdict(total_of(one.run, each.terms, kind))}
                click.echo(json.dumps(line, ensure_ascii=False))
            return
        if remove:
            remove_list(market, name, kind=kind)
            report(f"“{name}” removed.")
            return
        if given:
            save_list(market, name, given, kind=kind)
        if note is not None:
            note_list(market, name, note, kind=kind)
        found = WordList.objects.filter(
            market_id=market, kind=kind.key, name=name, removed_at=None
        ).first()
        if found is None:
            raise CoreError(f"There is no list “{name}”.")
        columns, rows = as_file(one.run, found.terms, kind)
        if out is None:
            line = {
                "name": name,
                "note": found.note,
                **asdict(total_of(one.run, found.terms, kind)),
            }
            click.echo(json.dumps({**line, "rows": rows}, ensure_ascii=False, default=str))
            return
        form = out.suffix[1:]
        if form not in FORMS:
            raise CoreError(f"“{out.name}” does not end in .csv, .xlsx or .json.")
        out.write_bytes(write_list(form, f"list {name}", columns, rows))
        report(f"{kind.many(len(rows))} written to {out}.")

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
