"""bin/driftfield: analyse files without a database, import and export, serve."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

import click

from driftfield import __version__

if TYPE_CHECKING:
    import polars as pl

    from driftfield.exchange.market_data import MarketInput

T = TypeVar("T")

EPILOG = """
A FOLDER holds the exchange tables as CSV files (or XLSX, JSON lines or Parquet; or it is a zip of
them, or a single file); only term_weeks.csv is required: term, week, searches. docs/exchange.md
explains every table and column.
"""


class Progress:
    """A line on standard error for work that takes over two seconds, rewritten in place."""

    def __init__(self, label: str) -> None:
        self.label = label
        self.started = self.shown = time.monotonic()

    def __call__(self, done: int, whole: int) -> None:
        now = time.monotonic()
        if not whole or now - self.started < 2 or (now - self.shown < 0.5 and done < whole):
            return
        self.shown = now
        left = (now - self.started) * (whole - done) / max(done, 1)
        click.echo(
            f"\r{self.label}: {done:,} of {whole:,}, about {left:.0f} s left ", err=True, nl=False
        )
        if done >= whole:
            click.echo(err=True)


def _say(text: str) -> None:
    click.echo(text, err=True)


class _Failure(click.ClickException):
    def show(self, file: object = None) -> None:
        _say(self.message)


def _guarded(work: Callable[[], T]) -> T:
    """Domain errors become their own text and exit code 1, without a traceback."""
    from driftfield.core.errors import CoreError
    from driftfield.exchange.problems import ExchangeError

    try:
        return work()
    except (CoreError, ExchangeError) as error:
        raise _Failure(str(error)) from None
    except OSError as error:
        raise _Failure(f"{error.filename or 'File'}: {error.strerror}.") from None
    except Exception as error:
        # Django is not imported for work without a database, so its error is told by its text.
        if "database is locked" not in str(error):
            raise
        raise _Failure(
            "Other work holds the database. Nothing was changed; try again when it is done."
        ) from None


def _day(_: click.Context, __: click.Parameter, text: str | None) -> date | None:
    if text is None:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise click.BadParameter(f"“{text}” is not a date; write it as 2026-11-15.") from None


@click.group(epilog=EPILOG, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="driftfield")
def main() -> None:
    """Driftfield: which niches of a marketplace are worth entering, and when."""


@main.command()
@click.argument("folder", type=click.Path(path_type=Path))
@click.option(
    "--as-of",
    callback=_day,
    metavar="DATE",
    help="Read nothing later than this day. Default: the last complete period in the data.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="File to write; default is standard output.",
)
@click.option(
    "--format",
    "format_",
    type=click.Choice(["jsonl", "csv"]),
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
    help="Write only niches whose most clicked listings say yes, as in --top '4 of 10 reviews < 120'; "
    "may be repeated.",
)
@click.option(
    "--terms",
    "terms_out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Write the figures of every term to this CSV file too.",
)
@click.option(
    "--verdict", is_flag=True, help="Add the sentences of verdict and signals to each record."
)
def analyse(
    folder: Path,
    as_of: date | None,
    out: Path | None,
    format_: str | None,
    pairs: tuple[str, ...],
    weights: tuple[str, ...],
    category: str | None,
    questions: tuple[str, ...],
    terms_out: Path | None,
    verdict: bool,
) -> None:
    """Read the exchange tables in FOLDER and write one record a niche, best rank first.

    No database is used. schemas/reading.schema.json describes the record; unknown is null.

    \b
    Example:
      bin/driftfield analyse demo/harrow-quay.zip --out readings.csv
    """  # fmt: skip
    from driftfield.core.analysis import work_through
    from driftfield.core.lens import DEFAULT_LENS
    from driftfield.core.settings import DEFAULTS
    from driftfield.core.top_listings import TopQuestion
    from driftfield.exchange.categories import population
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.readings import niches_that_answer, readings_frame, write_readings
    from driftfield.exchange.terms import write_terms

    def work() -> int:
        settings = DEFAULTS.with_pairs(pairs)
        lens = DEFAULT_LENS.with_pairs(weights)
        asked = [TopQuestion.parse(text) for text in questions]
        package = read_package(folder)
        markets, notes = assemble(package, as_of)
        for note in [*package.notes, *notes]:
            _say(f"Note: {note}")

        def frame_of(market: MarketInput) -> pl.DataFrame:
            progress = Progress(f"Reading {market.market_id}")
            within = None if category is None else population(package, market, category)
            done = work_through(
                market.data, settings, lens=lens, population=within, progress=progress
            )
            frame = readings_frame(
                market.market_id, market.data.niches, market.niche_names, done.figures,
                said=settings if verdict else None,
            )  # fmt: skip
            kept = niches_that_answer(done, market.data.niches, asked)
            if within is not None:
                chosen = [n for n, i in zip(market.data.niches, within, strict=True) if i]
                frame = frame.filter(frame["niche_id"].is_in(chosen))
            return frame if kept is None else frame.filter(frame["niche_id"].is_in(kept))

        frames = [frame_of(market) for market in markets]
        if terms_out is not None:
            write_terms(markets, settings, terms_out)
        # The curves are not needed any more, and the records take as much memory.
        markets.clear()
        package.frames.clear()
        package.counts = None
        form = format_ or ("csv" if out is not None and out.suffix == ".csv" else "jsonl")
        write_readings(frames, out if out is not None else sys.stdout.buffer, form)
        return sum(frame.height for frame in frames)

    count = _guarded(work)
    if out is not None:
        _say(f"{count:,} niches written to {out}.")


def _django() -> None:
    """Set Django up; the database's schema is brought up to date first, and a copy kept before that."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    import django
    from django.conf import settings
    from django.core.management import call_command

    django.setup()
    known, applied = _migrations()
    work = Path(str(settings.DATABASES["work"]["NAME"]))
    if not known - applied and work.exists():
        return
    # A database that has seen none is new: there is nothing to keep of it.
    if applied:
        from driftfield.keeping import keep_before

        database = _database()
        kept = _guarded(lambda: keep_before(database, "update"))
        _say(f"The database is brought up to date; as it was it is kept in {kept}.")
    for alias in ("default", "work"):
        call_command("migrate", database=alias, verbosity=0, interactive=False)


def _database() -> Path:
    from django.conf import settings

    return Path(str(settings.DATABASES["default"]["NAME"]))


def _migrations() -> tuple[set[tuple[str, str]], set[tuple[str, str]]]:
    """Those this program knows, and those the database has seen."""
    from django.db import connection
    from django.db.migrations.loader import MigrationLoader

    loader = MigrationLoader(connection)
    return set(loader.disk_migrations), set(loader.applied_migrations)


@main.command("import")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--check", is_flag=True, help="Say what an import would do, and change nothing.")
@click.option("--no-analysis", is_flag=True, help="Leave the readings as they are; see renew.")
def import_(folder: Path, check: bool, no_analysis: bool) -> None:
    """Import the exchange tables in FOLDER into the database and analyse what changed.

    All of it or nothing. The same files again change nothing; later weeks extend the curves, and
    a week that comes again replaces the one that is there. Decisions stay.
    """
    _django()
    _load(folder, check=check, analyse=not no_analysis)


@main.command()
def renew() -> None:
    """Analyse all that is loaded anew."""
    _django()
    from driftfield.readings.actions import analyse_all

    def work() -> None:
        for run in analyse_all(progress=Progress("Analysing")):
            _say(run.sentence)

    _guarded(work)


@main.command("undo-import")
def undo_import() -> None:
    """Take the latest import back, and analyse what is left; decisions stay.

    The database as it was before is kept beside it.
    """
    _django()
    from driftfield.intake.actions import undo_batch
    from driftfield.keeping import keep_before
    from driftfield.readings.actions import analyse_all

    def work() -> None:
        batch = undo_batch(lambda: keep_before(_database(), "undo"))
        _say(f"{batch.source} of {batch.made_at:%d %b %Y, %H:%M} is taken back.")
        for run in analyse_all(progress=Progress("Analysing")):
            _say(run.sentence)

    _guarded(work)


def _load(folder: Path, *, check: bool = False, analyse: bool = True) -> None:
    """Import, and analyse what changed."""
    from driftfield.intake.actions import import_folder
    from driftfield.readings.actions import analyse_all

    def work() -> None:
        progress = Progress("Importing")
        batch = import_folder(
            folder, dry_run=check, heed=lambda _, done, whole: progress(done, whole)
        )
        for note in batch.notes:
            _say(f"Note: {note}")
        _say(batch.sentence)
        if check:
            _say("This was a check; nothing was changed.")
        if check or not analyse:
            return
        for run in analyse_all(only_stale=True, progress=Progress("Analysing")):
            _say(run.sentence)

    _guarded(work)


@main.command()
@click.argument("folder", type=click.Path(path_type=Path, file_okay=False))
def export(folder: Path) -> None:
    """Write everything in the database to FOLDER as exchange tables with a datapackage.json."""
    _django()
    from driftfield.intake.actions import export_folder

    for line in _guarded(lambda: export_folder(folder)):
        _say(line)


@main.command()
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--replace", is_flag=True, help="Write over FILE where it exists.")
def backup(file: Path, replace: bool) -> None:
    """Write the whole database to FILE, checked, while it is in use: figures, decisions and all."""
    _django()
    from driftfield.keeping import back_up

    size = _guarded(lambda: back_up(_database(), file, replace=replace))
    _say(f"{size / 1e6:,.1f} MB kept in {file}.")


@main.command()
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
def restore(file: Path) -> None:
    """Put the database kept in FILE in the place of the present one, which is kept beside it.

    FILE is checked first; a damaged or foreign one changes nothing. Pages that are open show the
    restored state when they are loaded again.
    """
    _django()
    from django.db import connections

    from driftfield.keeping import restore as put_back

    known, _ = _migrations()
    connections.close_all()
    before = _guarded(lambda: put_back(file, _database(), known))
    _django()
    kept = f" As it was before it is kept in {before}." if before else ""
    _say(f"{file} is in place.{kept}")


@main.command()
@click.option("--port", default=8000, show_default=True, type=click.IntRange(1, 65535))
@click.option(
    "--load", type=click.Path(path_type=Path), help="Import this first when nothing is loaded."
)
def serve(port: int, load: Path | None) -> None:
    """Serve the application on 127.0.0.1."""
    from driftfield.serving import check_port, serve_on

    _guarded(lambda: check_port(port))
    _django()
    from driftfield.market.models import Market

    if load is not None and not Market.objects.exists():
        _say(f"Loading {load.name}; this takes about half a minute …")
        _load(load)
    from driftfield.readings.actions import analyse_all

    def catch_up() -> None:
        # Readings are dropped when their columns change, and made anew here.
        for run in analyse_all(only_stale=True, progress=Progress("Analysing")):
            _say(run.sentence)

    _guarded(catch_up)
    _guarded(lambda: serve_on(port))
