"""Commands that come from below: niches made of terms, and searches from a word; files in, files out."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

import click

from .common import guarded, report

Command = TypeVar("Command", bound=Callable[..., Any])


def language_option(said: str) -> Callable[[Command], Command]:
    """The language whose endings are taken off words."""
    return click.option(
        "--language", default="english", show_default=True, metavar="NAME", help=said
    )


@click.command(short_help="Make niches of the terms in FOLDER that have none.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option(
    "--out",
    required=True,
    type=click.Path(path_type=Path, file_okay=False),
    help="New folder for terms.csv and niches.csv.",
)
@click.option("--anew", is_flag=True, help="Ignore the niches that are there and group all terms.")
@language_option("Language of the terms, whose endings are taken off words.")
@click.option(
    "--report",
    "report_file",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Also write a CSV file with a row per niche: terms, searches, quality.",
)
@click.option(
    "--random-seed", "seed", default=1, show_default=True, help="The same number groups the same."
)
def group(
    folder: Path, out: Path, anew: bool, language: str, report_file: Path | None, seed: int
) -> None:
    """Group the terms in FOLDER into niches by the listings their buyers click, or by the words they share.

    Terms that have a niche keep it. No database is used; what is written can be imported after FOLDER, or
    changed by hand before.

    \b
    Example:
      bin/driftfield group downloads --out grouped --report niches-found.csv
    """  # fmt: skip
    from driftfield.core.market import NICHE, TERM
    from driftfield.exchange.groups import group_package, write_groups
    from driftfield.exchange.reader import read_package

    def work() -> None:
        found = group_package(read_package(folder), anew=anew, language=language.lower(), seed=seed)
        write_groups(found, out, report_file)
        for note in found.notes:
            report(note)
        report(
            f"{TERM.many(found.terms.height)} and {NICHE.many(found.niches.height)} written to {out}."
        )

    guarded(work)


@click.command(short_help="Search the terms in FOLDER from a word.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.argument("words", nargs=-1, metavar="[WORD …]")
@click.option("--market", metavar="ID", help="Which market, where there are several.")
@click.option(
    "--how",
    default="all",
    show_default=True,
    metavar="HOW",
    help="all or any of the words, the phrase, or begins, ends or inside: with these letters.",
)
@click.option("--also", default="", metavar="WORDS", help="Words that terms must have as well.")
@click.option(
    "--without", default="", metavar="WORDS", help="Leave out terms with one of these words."
)
@click.option(
    "--exact", is_flag=True, help="Endings and diacritics count: forcer does not find forcers."
)
@language_option("Language of the terms.")
@click.option(
    "--draw",
    type=click.IntRange(0),
    metavar="NUMBER",
    help="Draw the word at random; the same number draws the same.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Also write the terms that are found to this CSV file.",
)
def seed(
    folder: Path,
    words: tuple[str, ...],
    market: str | None,
    how: str,
    also: str,
    without: str,
    exact: bool,
    language: str,
    draw: int | None,
    out: Path | None,
) -> None:
    """Search the terms in FOLDER from a word or a phrase, and show how buyers go on from it, as JSON.

    How many terms have it and how much they are searched; the words typed after and before it, by their
    first letter; the words found beside it. Growth is that of the last 52 weeks over the 52 before.

    \b
    Examples:
      bin/driftfield seed demo/harrow-quay.zip --market north rhubarb
      bin/driftfield seed demo/harrow-quay.zip --market north --draw 7
    """  # fmt: skip
    from driftfield.core.base import CoreError
    from driftfield.core.market.seeds import Seed
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.seeds import market_terms, seed_record, write_found

    def work() -> None:
        if bool(words) == (draw is not None):
            raise CoreError("Give the words to search for, or --draw NUMBER to draw one.")
        given = (
            None
            if draw is not None
            else Seed.read(" ".join(words), how, without, exact=exact, also=also)
        )
        terms = market_terms(read_package(folder), market, language.lower())
        wanted = given or Seed.read(
            terms.index.draw(draw or 0), how, without, exact=exact, also=also
        )
        click.echo(json.dumps(seed_record(terms, wanted), ensure_ascii=False, indent=2))
        if out is not None:
            write_found(terms, terms.index.find(wanted), out)

    guarded(work)


@click.command(short_help="Show the terms related to one, whatever they are called.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.argument("term")
@click.option("--market", metavar="ID", help="Which market, where there are several.")
@click.option("--most", default=20, show_default=True, type=click.IntRange(1, 1000), metavar="N")
@click.option("--with-words", is_flag=True, help="Terms that have a word of it as well.")
@language_option("Language of the terms.")
def related(
    folder: Path, term: str, market: str | None, most: int, with_words: bool, language: str
) -> None:
    """Show the terms whose buyers click the same listings as those of TERM, as JSON.

    Strength is the cosine of their shares of clicks, 0 to 1; shared is how many listings both lead to. A term
    without clicks is compared by its words instead, and "by" says so.

    \b
    Example:
      bin/driftfield related demo/harrow-quay.zip "rhubarb forcer" --market north
    """  # fmt: skip
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.seeds import market_terms, related_record

    def work() -> None:
        terms = market_terms(read_package(folder), market, language.lower())
        found = related_record(terms, term, most=most, apart=not with_words)
        click.echo(json.dumps(found, ensure_ascii=False, indent=2))

    guarded(work)


@click.command(short_help="Show the niches in FOLDER that one brand could serve together.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option(
    "--set",
    "pairs",
    multiple=True,
    metavar="KEY=VALUE",
    help="Change a setting, as in --set brand_goods=4; may be repeated.",
)
@language_option("Language of the niches' names.")
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="JSON file to write; default is standard output.",
)
def families(folder: Path, pairs: tuple[str, ...], language: str, out: Path | None) -> None:
    """Show families: niches that the same brands and sellers carry beyond chance, or the same buyers click, or
    that go by the same words in one category. One JSON record each, with whether it is enough for a brand.

    \b
    Example:
      bin/driftfield families demo/harrow-quay.zip --set brand_searches_low=5000
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.exchange.families import family_records
    from driftfield.exchange.reader import read_package

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs)
        found = family_records(read_package(folder), settings, language.lower())
        text = json.dumps(found, ensure_ascii=False, indent=2)
        if out is None:
            click.echo(text)
        else:
            out.write_text(f"{text}\n", "utf-8")
            report(f"{len(found)} families written to {out}.")

    guarded(work)


COMMANDS: tuple[click.Command, ...] = (group, seed, related, families)
