"""Numbers as people write them."""

from __future__ import annotations

import re
from collections.abc import Sequence

import polars as pl

# In a column of figures these say that nothing is known.
NOTHING = ("-", "–", "—", "n/a", "na", "n.a.", "null", "none", "nan", "unknown", "#n/a")
SIGNS = "£€$¥"
# Signs between thousands that look like the one that was named.
ALIKE = {" ": "[ \u00a0\u202f\u2009]", "'": "['’]", ".": r"\.", ",": ",", "": ""}
YES_NO = {"yes": "1", "y": "1", "true": "1", "no": "0", "n": "0", "false": "0"}


def pattern(decimal: str, grouping: str, *, percent: bool) -> str:
    """What a number written like this looks like, as a regular expression for the whole cell.

    A group of thousands never begins with a nought: “0.125” is no 125.
    """
    mark = re.escape(decimal)
    whole = r"\d+"
    if grouping:
        whole = rf"(?:[1-9]\d{{0,2}}(?:{ALIKE[grouping]}\d{{3}})+|\d+)"
    tail = r"\s?%?" if percent else ""
    money = rf"(?:[A-Z]{{3}}\s?|[{SIGNS}]\s?)?"
    after = rf"(?:\s?[A-Z]{{3}}|\s?[{SIGNS}])?"
    return rf"^[-−+]?{money}(?:{whole}(?:{mark}\d*)?|{mark}\d+)(?:[eE][-+]?\d+)?{after}{tail}$"


def plain_numbers(
    text: pl.Series, decimal: str, grouping: str, *, percent: bool = False
) -> tuple[pl.Series, pl.Series]:
    """Cells as 1234.5, and which of them are not written as said; those stay as they are."""
    bare = text.str.strip_chars()
    bare = bare.set(bare.str.to_lowercase().is_in([*NOTHING, ""]).fill_null(False), None)
    good = bare.str.contains(pattern(decimal, grouping, percent=percent))
    made = bare.str.replace_all(rf"[{SIGNS}%\s+\u00a0\u202f\u2009]|[A-Z]{{3}}", "")
    if grouping:
        made = made.str.replace_all(ALIKE[grouping], "")
    made = made.str.replace(decimal, ".", literal=True).str.replace("−", "-", literal=True)
    return made.zip_with(good.fill_null(True), bare), ~good.fill_null(True)


def plain_flags(text: pl.Series) -> pl.Series:
    """Yes and no as 1 and 0; all else as it is."""
    small = text.str.strip_chars().str.to_lowercase()
    return small.replace(YES_NO) if small.is_in(list(YES_NO)).any() else text


def writing_of(cells: Sequence[str], separator: str) -> tuple[str, str, str]:
    """Decimal sign and sign between thousands by the look of many figures, with a doubt where there is one.

    ``separator`` of the file decides what the figures leave open: where cells are parted by semicolons,
    commas are mostly decimal signs.
    """
    comma = point = 0
    open_to_both = ""
    grouping = ""
    for cell in cells:
        bare = re.sub(rf"[{SIGNS}%A-Z]", "", cell).strip().lstrip("-−+")
        if re.fullmatch(r"\d{1,3}(\.\d{3})+,\d+", bare) or re.fullmatch(r"\d+(\.\d{3}){2,}", bare):
            comma, grouping = comma + 2, "."
        elif re.fullmatch(r"\d{1,3}(,\d{3})+\.\d+", bare) or re.fullmatch(r"\d+(,\d{3}){2,}", bare):
            point, grouping = point + 2, ","
        elif re.fullmatch(r"\d{1,3}([ \u00a0\u202f\u2009]\d{3})+([.,]\d+)?", bare):
            grouping = " "
            comma += "," in bare
            point += "." in bare
        elif re.fullmatch(r"\d{1,3}(['’]\d{3})+([.,]\d+)?", bare):
            grouping = "'"
            comma += "," in bare
            point += "." in bare
        elif re.fullmatch(r"[1-9]\d{0,2}[.,]\d{3}", bare):
            open_to_both = bare
        elif re.fullmatch(r"\d*,\d+", bare):
            comma += 1
        elif re.fullmatch(r"\d*\.\d+", bare):
            point += 1
    if comma != point:
        decimal = "," if comma > point else "."
    elif open_to_both:
        decimal = "," if ("," in open_to_both) == (separator == ";") else "."
    else:
        decimal = "," if separator == ";" and any("," in cell for cell in cells) else "."
    if not open_to_both:
        return decimal, grouping, ""
    other = "." if decimal == "," else ","
    if other in open_to_both:
        grouping = grouping or other
    sure = comma != point
    value = (
        open_to_both.replace(other, "") if other in open_to_both else open_to_both.replace(",", ".")
    )
    return decimal, grouping, "" if sure else f"“{open_to_both}” is read as {value}."
