"""What the commands share: progress, errors said plainly, the database made ready."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

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


def say(text: str) -> None:
    click.echo(text, err=True)


class _Failure(click.ClickException):
    def show(self, file: object = None) -> None:
        say(self.message)


def guarded(work: Callable[[], T]) -> T:
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


def set_up() -> None:
    """Set Django up; the database's schema is brought up to date first, and a copy kept before that."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    import django
    from django.conf import settings
    from django.core.management import call_command

    django.setup()
    known, applied = migrations()
    work = Path(str(settings.DATABASES["work"]["NAME"]))
    if not known - applied and work.exists():
        return
    # A database that has seen none is new: there is nothing to keep of it.
    if applied:
        from driftfield.keeping import keep_before

        kept = guarded(lambda: keep_before(database(), "update"))
        say(f"The database is brought up to date; as it was it is kept in {kept}.")
    for alias in ("default", "work"):
        call_command("migrate", database=alias, verbosity=0, interactive=False)


def database() -> Path:
    from django.conf import settings

    return Path(str(settings.DATABASES["default"]["NAME"]))


def migrations() -> tuple[set[tuple[str, str]], set[tuple[str, str]]]:
    """Those this program knows, and those the database has seen."""
    from django.db import connection
    from django.db.migrations.loader import MigrationLoader

    loader = MigrationLoader(connection)
    return set(loader.disk_migrations), set(loader.applied_migrations)
