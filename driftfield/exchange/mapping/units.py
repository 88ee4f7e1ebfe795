"""Units in which files give what the exchange tables want in one."""

from __future__ import annotations

from driftfield.exchange.tables import Column

# Factors to the unit of the exchange tables. Pound and inch are those of the international yard and pound
# agreement of 1959 (NIST Special Publication 811, appendix B.8), both exact.
MASS = {"g": 1.0, "kg": 1000.0, "oz": 28.349523125, "lb": 453.59237}
LENGTH = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
SHARE = {"fraction": 1.0, "percent": 0.01}
MONEY = {"the currency": 1.0, "hundredths": 0.01}
COUNT = {"ones": 1.0, "thousands": 1000.0, "millions": 1_000_000.0}
OF_HUNDRED = {"of 100": 1.0, "fraction": 100.0}
OF_FIVE = {"of 5": 1.0, "of 10": 0.5, "percent": 0.05}
PLAIN: dict[str, float] = {}

OF_COLUMN: dict[str, dict[str, float]] = {
    "weight_g": MASS,
    **dict.fromkeys(("length_mm", "width_mm", "height_mm"), LENGTH),
    **dict.fromkeys(("click_share", "purchase_share", "return_rate", "in_stock"), SHARE),
    **dict.fromkeys(("price", "revenue"), MONEY),
    **dict.fromkeys(
        ("searches", "impressions", "clicks", "purchases", "units", "mentions", "reviews"), COUNT
    ),
    **dict.fromkeys(("index", "quality"), OF_HUNDRED),
    "rating": OF_FIVE,
}


def units_of(column: Column) -> dict[str, float]:
    """What the column's figures may be given in, with the factor to its own unit, which comes first."""
    return OF_COLUMN.get(column.name, PLAIN) if column.numeric else PLAIN
