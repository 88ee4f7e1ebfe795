"""bin/driftfield: analyse files without a database, import and export, serve."""

from __future__ import annotations

import json
import sys
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

import click

from driftfield import __version__

from . import across as across_commands
from . import catalogue as catalogue_commands
from . import data as data_commands
from . import lists as list_commands
from . import niches as niche_commands
from . import own_part as own_commands
from . import plans as plan_commands
from . import proof as proof_commands
from . import rivals as rivals_commands
from . import terms as terms_commands
from . import voices as voices_commands
from . import watch as watch_commands
from .common import (
    Progress,
    database,
    guarded,
    known_migrations,
    once,
    parse_day,
    report,
    set_up,
    start_django,
)

if TYPE_CHECKING:
    import polars as pl

    from driftfield.core.base import Bools
    from driftfield.core.market import Workings
    from driftfield.exchange.market_data import MarketInput

EPILOG = """
A FOLDER holds the exchange tables as CSV files (or XLSX, JSON lines or Parquet; or it is a zip of
them, or a single file); only term_weeks.csv is required: term, week, searches. docs/exchange.md
explains every table and column.
"""


@click.group(epilog=EPILOG, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="driftfield")
def main() -> None:
    """Driftfield: which niches of a marketplace are worth entering, and when."""


for group in (
    data_commands,
    terms_commands,
    niche_commands,
    list_commands,
    catalogue_commands,
    across_commands,
    rivals_commands,
    plan_commands,
    own_commands,
    proof_commands,
    voices_commands,
    watch_commands,
):
    for command in group.COMMANDS:
        main.add_command(command)


@main.command(short_help="Analyse FOLDER without a database; one record per niche.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option(
    "--as-of",
    callback=parse_day,
    metavar="DATE",
    help="Read nothing later than this day. Default: the last complete period in the data.",
)
@click.option(
    "--planning-date",
    callback=parse_day,
    metavar="DATE",
    help="Plan dates from this day: when an order would be placed. Default: the as-of.",
)
@click.option(
    "--of",
    "kinds",
    type=click.Choice(["niches", "terms", "categories", "listings", "brands", "sellers"]),
    default="niches",
    show_default=True,
    help="What each record describes.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="File to write; default is standard output.",
)
@click.option(
    "--format",
    "format_",
    type=click.Choice(["jsonl", "csv", "xlsx", "parquet"]),
    help="Default: by the file's ending, else jsonl.",
)
@click.option(
    "--set",
    "pairs",
    multiple=True,
    metavar="KEY=VALUE",
    help="Change a setting, as in --set drift_rate=0.1; may be repeated. docs/method.md lists them.",
)
@click.option(
    "--lens",
    "lens_name",
    default="Default",
    show_default=True,
    metavar="NAME",
    help="Rank by a ready lens: First product, Season specialist, Brand to build or Reseller; categories by "
    "First steps or Proven by newcomers.",
)
@click.option(
    "--weight",
    "weights",
    multiple=True,
    metavar="PART=NUMBER",
    help="Change a weight of the lens, as in --weight reviews=0.4; may be repeated. docs/method.md "
    "lists the parts; balance=0.6 gives demand more of the headroom.",
)
@click.option(
    "--category",
    metavar="CATEGORY",
    help="Rank only the niches of this category and those below it, among themselves, and write no others.",
)
@click.option(
    "--top",
    "questions",
    multiple=True,
    metavar="QUESTION",
    help="Write only niches whose most clicked listings satisfy this, as in --top '4 of 10 reviews < 120'; "
    "may be repeated.",
)
@click.option(
    "--sieve",
    "conditions",
    multiple=True,
    metavar="TEXT",
    help="Write only what passes this condition, as in --sieve 'price 15-40' or --sieve 'not seasonal'; may "
    "be repeated: all must hold. bin/driftfield condition shows how a text is read.",
)
@click.option(
    "--terms",
    "terms_out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Also write the figures of every term to this CSV file.",
)
@click.option(
    "--mapping",
    "mapping_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="How to read files of other layouts: the output of bin/driftfield mapping.",
)
@click.option(
    "--verdict",
    is_flag=True,
    help="Add the verdict and the evidence of its signals to each record.",
)
def analyse(
    folder: Path,
    as_of: date | None,
    planning_date: date | None,
    kinds: str,
    out: Path | None,
    format_: str | None,
    pairs: tuple[str, ...],
    lens_name: str,
    weights: tuple[str, ...],
    category: str | None,
    questions: tuple[str, ...],
    conditions: tuple[str, ...],
    terms_out: Path | None,
    mapping_file: Path | None,
    verdict: bool,
) -> None:
    """Analyse the exchange tables in FOLDER and write one record a niche, or what --of says.

    No database is used. The records are described in schemas/reading.schema.json, and in term, category,
    listing, brand and seller.schema.json. They come best rank first, categories by searches, listings, brands
    and sellers by units; an unknown figure is null. A seller's units are those of the weeks in which it held
    the lead offer.

    \b
    Example:
      bin/driftfield analyse demo/harrow-quay.zip --out readings.csv
    """  # fmt: skip
    import numpy as np

    from driftfield.core.base import DEFAULTS, CoreError
    from driftfield.core.market import (
        BY_CLICKS,
        CATEGORY,
        KINDS_BY_PLURAL,
        NICHE,
        SELLING,
        TERM,
        check_planning,
        default_lens,
        ready_lenses,
    )
    from driftfield.core.ranking import lens_named
    from driftfield.core.sieve import Condition, Top, sift
    from driftfield.core.signals import THRESHOLDS
    from driftfield.core.supply import TopQuestion
    from driftfield.exchange.analysed import read_kind, read_niches, read_terms_of
    from driftfield.exchange.categories import population, subtree
    from driftfield.exchange.mapping import Agreed, read_document
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.readings import FORMATS, readings_frame, write_readings
    from driftfield.exchange.sieved import FileColumns, read_sieve
    from driftfield.exchange.sleepers import without_listings
    from driftfield.exchange.terms import write_terms

    kind = KINDS_BY_PLURAL[kinds]

    def work() -> int:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        lens = lens_named(lens_name, ready_lenses(kind, settings)).with_pairs(weights)
        if kind == CATEGORY:
            settings, lens = lens.put_into(settings), default_lens(NICHE, settings)
        asked = [Condition(Top(TopQuestion.parse(text))) for text in questions]
        sieve, searched = read_sieve(conditions, kind)
        sieve += asked
        for words in searched:
            report(f"Note: “{words}” is no condition; names and search terms are searched for it.")
        mappings = read_document(mapping_file) if mapping_file else {}
        agreed = Agreed({layout: mapping for layout, (_, mapping) in mappings.items()})
        package = read_package(folder, agreed=agreed, record_years=int(settings.record_years))
        markets, notes = assemble(package, as_of)
        if planning_date is not None and markets:
            check_planning(planning_date, max(one.data.timeline.end for one in markets))
        for note in [*package.notes, *notes]:
            report(f"Note: {note}")

        of_terms: list[tuple[MarketInput, Workings]] = []

        lone = len(markets) == 1

        def read(market: MarketInput, within: Bools | None) -> Workings | None:
            progress = Progress(f"Analysing {market.market_id}")
            niches = read_niches(
                market, settings, lens=lens, within=within if kind == NICHE else None,
                planning=planning_date, progress=progress,
            )  # fmt: skip
            done = read_kind(
                kind, market, niches, lone=lone, lens=lens, within=within,
                planning=planning_date, progress=progress,
            )  # fmt: skip
            if terms_out is not None:
                terms = done if kind == TERM else None
                terms = terms or read_terms_of(
                    market, niches, lens=lens, planning=planning_date, progress=progress
                )
                of_terms.append((market, terms))
            return done

        def frame_of(market: MarketInput) -> pl.DataFrame | None:
            within = None
            if category is not None and kind in BY_CLICKS:
                within = population(package, market, category)
                if kind == TERM:
                    within = within[market.data.term_subject]
            done = read(market, within)
            if done is None:
                return None
            if category is not None and kind not in BY_CLICKS:
                wanted = subtree(package, category)
                named = market.identity(done)["category_id"]
                within = np.array([one in wanted for one in named], dtype=bool)
            frame = readings_frame(
                kind, market.identity(done), done.figures,
                sentences=settings if verdict else None, currency=market.currency,
            )  # fmt: skip
            marks = within
            if sieve:
                passing = sift(sieve, FileColumns(kind, done, market, package)).passes
                marks = passing if marks is None else marks & passing
            if marks is None:
                return frame
            chosen = np.array(done.data.subjects, dtype=object)[marks].tolist()
            return frame.filter(frame[kind.subject].is_in(chosen))

        frames = [frame for market in markets if (frame := frame_of(market)) is not None]
        if not frames:
            raise CoreError(
                without_listings(markets, kind)
                if kind in SELLING
                else "There are no categories to read. Give a categories table, and the category_id of niches "
                "or listings."
            )
        if terms_out is not None:
            write_terms(of_terms, terms_out)
        currencies = {market.currency for market in markets}
        # The curves are not needed any more, and the records take as much memory.
        markets.clear()
        of_terms.clear()
        package.frames.clear()
        package.counts = None
        ending = out.suffix[1:] if out is not None else ""
        form = format_ or (ending if ending in FORMATS else "jsonl")
        write_readings(
            kind, frames, out if out is not None else sys.stdout.buffer, form,
            currency=currencies.pop() if len(currencies) == 1 else "",
        )  # fmt: skip
        return sum(frame.height for frame in frames)

    count = guarded(work)
    if out is not None:
        report(f"{kind.many(count)} written to {out}.")


@main.command(short_help="Show how typed conditions are understood.")
@click.argument("texts", nargs=-1, required=True, metavar="TEXT …")
@click.option(
    "--currency",
    default="",
    metavar="CODE",
    help="Currency of the market the prices are meant for, as in GBP.",
)
@click.option(
    "--of",
    "kinds",
    type=click.Choice(["niches", "terms", "categories", "listings", "brands", "sellers"]),
    default="niches",
    show_default=True,
    help="What it is asked of.",
)
@click.pass_context
def condition(context: click.Context, texts: tuple[str, ...], currency: str, kinds: str) -> None:
    """Show how each TEXT is understood as a condition of a sieve, one JSON line per text.

    A line has the text, the condition as it stands in an address, and its sentence; or the problem and what
    may have been meant. The exit code is 1 if any text is not understood.

    \b
    Example:
      bin/driftfield condition 'price 15-40' 'not seasonal' 'reviews below 150 in 5 of the top 10'
    """  # fmt: skip
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.core.sieve import read_condition

    kind = KINDS_BY_PLURAL[kinds]
    found = [read_condition(text, currency.upper(), kind=kind) for text in texts]
    for one in found:
        click.echo(json.dumps(one, ensure_ascii=False))
    if any("problem" in one for one in found):
        context.exit(1)


@main.command(short_help="Copy the database to FILE, also while it is in use.")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--replace", is_flag=True, help="Overwrite FILE if it exists.")
def backup(file: Path, replace: bool) -> None:
    """Copy the whole database, figures and decisions, to FILE and check the copy.

    The application may be in use meanwhile.
    """
    set_up()
    from driftfield.keeping import back_up

    size = guarded(lambda: back_up(database(), file, replace=replace))
    report(f"{size / 1e6:,.1f} MB kept in {file}.")


@main.command(short_help="Replace the database by the copy in FILE.")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
def restore(file: Path) -> None:
    """Replace the database by the copy in FILE; the present one is kept beside it.

    FILE is checked first: if it is damaged or was not made by Driftfield, nothing changes. Open pages
    show the restored state once they are reloaded.
    """
    # The present database is not looked at: it may be what is damaged.
    guarded(start_django)
    from driftfield.keeping import restore as put_back

    before = guarded(lambda: put_back(file, database(), known_migrations()))
    kept = f" The database as it was before is in {before}." if before else ""
    report(f"{file} is restored.{kept}")
    set_up()


@main.command()
@click.option("--port", default=8000, show_default=True, type=click.IntRange(1, 65535))
@click.option(
    "--load",
    "packages",
    type=click.Path(path_type=Path),
    multiple=True,
    help="Import this first if nothing has been imported yet; may be repeated, the earliest first.",
)
@click.option(
    "--plans",
    "plans_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Keep the plans of this file with the first of them; see bin/driftfield orders.",
)
def serve(port: int, packages: tuple[Path, ...], plans_file: Path | None) -> None:
    """Serve the application on 127.0.0.1."""
    from driftfield.serving import check_port, serve_on

    guarded(lambda: check_port(port))
    set_up()
    from driftfield.desk.actions import analyse_all_and_watch, keep_several
    from driftfield.exchange.plans_file import read_several
    from driftfield.home import data_folder, turn
    from driftfield.market.models import Market, Niche

    def keep_plans(file: Path) -> None:
        several = read_several(file)
        of = Niche.objects.select_related("market__run").filter(niche_id=several.plans[0].niche)
        for niche in of:
            keep_several(niche.market, several)

    def get_ready() -> None:
        with turn(data_folder(), "start", once("Another start is under way; waiting for it …")):
            for place, package in enumerate([] if Market.objects.exists() else packages):
                report(f"Loading {package.name}; this takes about half a minute …")
                data_commands.load_package(package)
                # Kept with the first, so that the watch tells what the others change about them.
                if place == 0 and plans_file is not None:
                    keep_plans(plans_file)
            # Readings that were dropped, for their columns changed, or made by another method are made anew.
            for run in analyse_all_and_watch(only_stale=True, progress=Progress("Analysing")):
                report(run.sentence)

    guarded(get_ready)
    guarded(lambda: serve_on(port))
