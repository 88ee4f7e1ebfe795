"""Text that a spreadsheet would run: it gets an apostrophe before it, and is text again.

What a buyer, a seller or a maker of files typed may begin like a formula. In every CSV that is made for a
spreadsheet such text is led by an apostrophe; in XLSX it is written as text, marked as quoted. Exchange
tables must come back as they went out, so they are written as they are unless the guarded form is asked
for. By OWASP, CSV Injection: cells that begin with =, +, −, @, tab, carriage return or line feed, or with
the wide forms of the first four, which spreadsheets of some languages take for the same.
"""

from __future__ import annotations

import polars as pl

RISKY = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")
_FIRST = f"^([{''.join(RISKY).replace('-', chr(92) + '-')}])"


def harmless(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(RISKY) else text


def guarded(frame: pl.DataFrame) -> pl.DataFrame:
    """The same table with every text made harmless, the names of its columns included."""
    texts = pl.col(pl.String).str.replace(_FIRST, "'$1")
    return frame.with_columns(texts).rename({name: harmless(name) for name in frame.columns})
