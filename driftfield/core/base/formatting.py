"""Numbers in words a merchant reads."""

from __future__ import annotations

from datetime import date

import numpy as np

MINUS = "−"


FOLD = 5  # From so many times as much on a change is told as a multiple.
NOTHING = 100  # From so many times on what was there before, or is left, is almost nothing.


def format_change(change: float) -> str:
    """A change as a merchant reads it: percent, from five-fold on a multiple; “unchanged” for none."""
    if abs(change) < 0.005:
        return "unchanged"
    if change <= 1 / NOTHING - 1:
        return "to almost nothing"
    return f"to 1/{1 / (1 + change):.0f}" if change < 1 / FOLD - 1 else format_limit(change)


def format_limit(change: float) -> str:
    """The same as an end of an interval: 0% where it rounds to nothing, falls in percent."""
    if change >= NOTHING - 1:
        return "from almost nothing"
    if change >= FOLD - 1:
        return f"{change + 1:.0f}-fold"
    # By what is left after rounding, so that nothing is called +0%.
    sign = "" if abs(change) < 0.005 else "+" if change > 0 else MINUS
    return f"{sign}{abs(change):.0%}"


def format_interval(low: float, high: float) -> str:
    """An interval of a change, as in “−3% to +12%”."""
    return f"{format_limit(low)} to {format_limit(high)}"


def format_share(share: float) -> str:
    """A fraction in percent, with a decimal where it is small."""
    return f"{share:.1%}" if 0 < share < 0.095 else f"{share:.0%}"


def format_number(value: float) -> str:
    """A number with its thousands apart; decimals only where they matter."""
    if abs(value) >= 100 or value == round(value):
        return f"{value:,.0f}"
    return f"{value:,.1f}" if abs(value) >= 10 else f"{value:.2g}"


# Signs of currencies by their ISO 4217 codes; others are written with their code.
CURRENCY_SIGNS = {"GBP": "£", "EUR": "€", "USD": "$", "JPY": "¥", "INR": "₹"}


def format_day(day: date) -> str:
    """A day as in “8 May 2026”."""
    return f"{day.day} {day:%b %Y}"


def format_money(value: float, currency: str, *, whole: bool = False) -> str:
    """An amount with its currency's sign, or its code where it has none; ``whole``: without cents."""
    amount = f"{abs(value):,.0f}" if whole else f"{abs(value):,.2f}"
    # By what is left after rounding, so that nothing is called −0.00.
    minus = MINUS if value < 0 and amount.strip("0.,") else ""
    sign = CURRENCY_SIGNS.get(currency)
    if sign:
        return f"{minus}{sign}{amount}"
    return f"{currency} {minus}{amount}".strip()


def format_signed(value: float) -> str:
    """A number to two decimals with a true minus."""
    return f"{value:.2f}".replace("-", MINUS)


def plain_number(value: float) -> str:
    """A number in full, without an exponent: as it is typed, and read back as the same number."""
    return str(np.format_float_positional(value, trim="-"))
