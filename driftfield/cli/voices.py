"""The command about what buyers say."""

from __future__ import annotations

from pathlib import Path

import click

from .common import guarded, report, write_rows


@click.command(short_help="Show the themes of what buyers wrote in FOLDER.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option(
    "--niche", default="", metavar="NICHE", help="Only texts about this niche, by its id."
)
@click.option(
    "--language",
    default="english",
    show_default=True,
    help="Language of texts that do not say theirs; bin/driftfield seed --help lists those there are.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="CSV, XLSX or JSON, by the ending; else JSON lines.",
)
def voices(folder: Path, niche: str, language: str, out: Path | None) -> None:
    """Show what buyers praise and complain of, niche by niche, most said first, one JSON line each.

    The table voices has the texts: reviews, notes on returns, comments and questions. What tells who somebody
    is is blanked before anything is read. A theme is what sentences say with the same words in the same
    company, in one tone; each has its share with an interval, by how many stars it moves a rating, whether it
    is said more than a year ago, the listings it is about, and the sentences that say it best. No database is
    used.

    \b
    Example:
      bin/driftfield voices FOLDER --out themes.jsonl
    """  # fmt: skip
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.voices import COLUMNS, find_themes

    def work() -> None:
        found = find_themes(read_package(folder, demand=False), niche, language.lower())
        write_rows("themes", COLUMNS, found.rows, out)
        copies = f", and {found.copies:,} copies that count once" if found.copies else ""
        many = f"{len(found.rows):,} {'theme' if len(found.rows) == 1 else 'themes'}"
        texts = f"{found.texts:,} {'text' if found.texts == 1 else 'texts'}"
        report(f"{many} of {texts}{copies}{'' if out is None else f'; written to {out}'}.")

    guarded(work)


COMMANDS = (voices,)
