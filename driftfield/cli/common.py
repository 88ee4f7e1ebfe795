"""What the commands share: progress, errors said plainly, the database made ready."""

from __future__ import annotations

import errno
import json
import logging
import os
import sys
import time
import traceback
from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path
from typing import Any, TypeVar

import click

T = TypeVar("T")


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


def report(text: str) -> None:
    click.echo(text, err=True)


class _Failure(click.ClickException):
    def show(self, file: object = None) -> None:
        report(self.message)


def guarded(work: Callable[[], T]) -> T:
    """Domain errors become their own text and exit code 1, without a traceback."""
    from driftfield.core.base import CoreError
    from driftfield.exchange.problems import ExchangeError
    from driftfield.home import explain

    try:
        return work()
    except (CoreError, ExchangeError) as error:
        raise _Failure(str(error)) from None
    except click.ClickException:
        raise
    except BrokenPipeError:
        raise SystemExit(1) from None  # Who reads the output has gone.
    except OSError as error:
        raise _Failure(_file_error(error)) from None
    except Exception as error:
        raise _Failure(explain(error) or _fault(error)) from None


def guarded_reading(work: Callable[[], T]) -> T:
    """``guarded``; what is read of the database is of one moment."""
    from driftfield.market.moments import one_moment

    def inside() -> T:
        with one_moment():
            return work()

    return guarded(inside)


def _file_error(error: OSError) -> str:
    message = f"{error.filename or 'File'}: {error.strerror or error}."
    remedies = {
        errno.ENOSPC: " The disk is full; free some space and try again.",
        errno.EACCES: " Let your account read and write there, or choose another place.",
        errno.EROFS: " It cannot be written to; choose another place.",
    }
    return message + remedies.get(error.errno or 0, "")


def _fault(error: Exception) -> str:
    """A fault noted with its traceback; a sentence that says where."""
    from driftfield.home import data_folder
    from driftfield.logs import configure, log_file, note_fault, surroundings

    folder = data_folder()
    message = f"A fault in the program ({type(error).__name__}: {error})."
    try:
        if not logging.getLogger().handlers:  # Work without a database sets nothing up.
            configure(folder, "command")
        noted = note_fault(error, f"bin/driftfield {' '.join(sys.argv[1:2])}")
    except OSError:
        traceback.print_exception(error)
        return f"{message} {surroundings()}. It could not be noted in {folder}; please report what is above."
    return f"{message} It is noted as {noted} in {log_file(folder)}. Nothing was left half done."


def set_up() -> None:
    """Set Django up; the database's schema is brought up to date first, and a copy kept before that.

    Ends the program with a sentence where the data folder or what is in it cannot be used.
    """
    guarded(_set_up)


def start_django() -> None:
    """Django alone, without a look at its databases."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    os.environ.setdefault("DRIFTFIELD_PROGRAM", "command")
    from driftfield.home import data_folder, make_ready

    make_ready(data_folder())
    import django

    django.setup()


def _set_up() -> None:
    from driftfield.core.base import CoreError
    from driftfield.home import check_databases, data_folder, turn
    from driftfield.renewal import is_earlier

    start_django()
    with turn(
        data_folder(), "setup", once("Another program sets the database up; waiting for it …")
    ):
        check_databases(data_folder(), report)
        if is_earlier(database()):
            raise CoreError(
                f"{database()} was made by an earlier version. Update it with bin/driftfield renew: "
                "figures, decisions and notes are kept, and so is the present file, in backups/."
            )
        _bring_up_to_date()


def once(text: str) -> Callable[[], None]:
    """Says a text the first time it is called."""
    told: list[str] = []

    def tell() -> None:
        if not told:
            told.append(text)
            report(text)

    return tell


def _bring_up_to_date() -> None:
    from django.core.management import call_command

    known, applied = migrations()
    _, of_work = migrations("work")
    if not known - applied and not known - of_work:
        return
    # A database that has seen none is new: there is nothing to keep of it.
    if applied and known - applied:
        from driftfield.keeping import keep_before

        kept = guarded(lambda: keep_before(database(), "update"))
        report(f"The database is brought up to date; as it was it is kept in {kept}.")
    for alias in ("default", "work"):
        call_command("migrate", database=alias, verbosity=0, interactive=False)


def database() -> Path:
    from django.conf import settings

    return Path(str(settings.DATABASES["default"]["NAME"]))


def migrations(alias: str = "default") -> tuple[set[tuple[str, str]], set[tuple[str, str]]]:
    """Those this program knows, and those the database has seen."""
    from django.db import connections
    from django.db.migrations.loader import MigrationLoader

    loader = MigrationLoader(connections[alias])
    return set(loader.disk_migrations), set(loader.applied_migrations)


def known_migrations() -> set[tuple[str, str]]:
    """Those this program knows; no database is asked."""
    from django.db.migrations.loader import MigrationLoader

    return set(MigrationLoader(None).disk_migrations)


def write_rows(
    title: str, columns: Sequence[str], rows: Sequence[dict[str, Any]], out: Path | None
) -> None:
    """Rows under the names of their fields: CSV, XLSX or JSON by the file's ending, else JSON lines."""
    from driftfield.exchange.lists import FORMS, named_columns, write_list

    form = "" if out is None else out.suffix[1:].lower()
    if out is not None and form in FORMS:
        out.write_bytes(write_list(form, title, named_columns(columns), rows))
        return
    with click.open_file("-" if out is None else str(out), "w", encoding="utf-8") as file:
        file.writelines(f"{json.dumps(row, ensure_ascii=False)}\n" for row in rows)


def parse_day(_: click.Context, __: click.Parameter, text: str | None) -> date | None:
    """A day as an option has it."""
    if text is None:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise click.BadParameter(f"“{text}” is not a date; write it as 2026-11-15.") from None
