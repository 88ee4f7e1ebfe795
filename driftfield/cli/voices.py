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
    "--of",
    type=click.Choice(["themes", "questions", "wishes", "returns"]),
    default="themes",
    show_default=True,
    help="What to show; returns: what notes on returns say was not as promised.",
)
@click.option(
    "--decisions",
    type=click.Path(path_type=Path, exists=True, dir_okay=False),
    help="JSON lines with what was decided on themes: act, theme, and what the act takes.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="CSV, XLSX or JSON, by the ending; else JSON lines.",
)
def voices(
    folder: Path, niche: str, language: str, of: str, decisions: Path | None, out: Path | None
) -> None:
    """Show what buyers praise and complain of, niche by niche, most said first, one JSON line each.

    The table voices has the texts: reviews, notes on returns, comments and questions. What tells who somebody
    is is blanked before anything is read. A theme is what sentences say with the same words in the same
    company, in one tone; each has its share with an interval, by how many stars it moves a rating, whether it
    is said more than a year ago, the listings it is about, and the sentences that say it best. With --decisions
    themes are decided on: acts are rename (name), merge (into), split (name, words), tone (tone), hide, own
    (name, words) and remedy (text); a theme is named as it is called at that point. No database is used.

    \b
    Example:
      bin/driftfield voices FOLDER --out themes.jsonl
      bin/driftfield voices FOLDER --of wishes --niche NICHE
      echo '{"act": "own", "name": "fit", "words": ["does not fit", "too small"]}' > mine.jsonl
      bin/driftfield voices FOLDER --decisions mine.jsonl
    """  # fmt: skip
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.theme_lines import read_theme_lines
    from driftfield.exchange.voices import OF, find_voices

    def work() -> None:
        lines = read_theme_lines(decisions) if decisions else []
        package = read_package(folder, demand=False)
        found = find_voices(package, of, niche, language.lower(), lines)
        write_rows(of, OF[of], found.rows, out)
        copies = f", and {found.copies:,} copies that count once" if found.copies else ""
        one = {
            "themes": "theme",
            "questions": "question",
            "wishes": "wish",
            "returns": "broken promise",
        }[of]
        several = {"wishes": "wishes"}.get(of, f"{one}s")
        many = f"{len(found.rows):,} {one if len(found.rows) == 1 else several}"
        texts = f"{found.texts:,} {'text' if found.texts == 1 else 'texts'}"
        report(f"{many} of {texts}{copies}{'' if out is None else f'; written to {out}'}.")
        for name, left in found.unread.items():
            which = "1 text is" if left == 1 else f"{left:,} texts are"
            report(f"{which} in “{name}” and not read: there is no stemmer for it.")

    guarded(work)


COMMANDS = (voices,)
