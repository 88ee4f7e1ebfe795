"""bin/driftfield: analyse files without a database, import and export, serve."""

from __future__ import annotations

import json
from pathlib import Path

import click

from driftfield import __version__

from . import across as across_commands
from . import analyse as analyse_commands
from . import catalogue as catalogue_commands
from . import data as data_commands
from . import dataset as dataset_commands
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
    report,
    set_up,
    start_django,
)

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
    analyse_commands,
    data_commands,
    dataset_commands,
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
