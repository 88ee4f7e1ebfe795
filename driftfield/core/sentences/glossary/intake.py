"""Words of the intake."""

from __future__ import annotations

from .word import Word

INTAKE = (
    Word(
        key="table",
        word="Table",
        short=(
            "An exchange table: a kind of file with fixed columns; docs/exchange.md lists them all."
        ),
    ),
    Word(
        key="rows-curves",
        word="Rows and curves",
        short=(
            "Tables with weeks are counted in curves, one per subject and measure; all others in "
            "rows."
        ),
    ),
    Word(
        key="new",
        word="New",
        short="Was not there before.",
    ),
    Word(
        key="changed",
        word="Changed",
        short="Was there with other values.",
    ),
    Word(
        key="unchanged",
        word="Unchanged",
        short="Was there already, with the same values.",
    ),
    Word(
        key="batch",
        word="Import",
        short="What was imported together, and can be undone together.",
    ),
    Word(
        key="imported-by",
        word="By",
        short="The account of this machine it was imported from.",
    ),
    Word(
        key="imported-at",
        word="When",
        short="When it was imported.",
    ),
    Word(
        key="checksum",
        word="Checksum",
        short="A fingerprint of the files (BLAKE2b): the same files have the same one.",
    ),
    Word(
        key="problem-place",
        word="Place of a problem",
        short="The file, line and column where something is wrong.",
    ),
    Word(
        key="problem",
        word="What is wrong",
        short="What was expected, what was found, and what to do.",
    ),
    Word(
        key="subject",
        word="Whose",
        short="The term, niche or listing whose figure changed.",
    ),
    Word(
        key="period-from",
        word="From",
        short="The first day of the week (month) that the figure is of.",
    ),
    Word(
        key="coverage",
        word="Coverage",
        short="Share of the weeks of which there are figures.",
        figures=("coverage",),
    ),
    Word(
        key="file-column",
        word="Column",
        short="A column of the file; below it what it is taken for.",
    ),
)
