"""Numbers in words a merchant reads."""

from __future__ import annotations

import numpy as np

MINUS = "−"


def format_change(change: float) -> str:
    """A change in words a merchant reads: percent, beyond a tenfold a factor, never a monster."""
    if change >= 99:
        return "from near zero"
    if change >= 9:
        return f"×{change + 1:.0f}"
    if change <= -0.99:
        return "to almost nothing"
    if change <= -0.9:
        return f"÷{1 / (1 + change):.0f}"
    # By what is left after rounding, so that nothing is called +0%.
    sign = "±" if abs(change) < 0.005 else "+" if change > 0 else MINUS
    return f"{sign}{abs(change):.0%}"


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
