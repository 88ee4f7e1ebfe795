"""Invented brands and sellers."""

from __future__ import annotations

import itertools

FRONT = ["Skep", "Thrum", "Quern", "Osier", "Tallow", "Heddle", "Withy", "Marl", "Lode", "Bramling",
         "Gannet", "Sorrel"]  # fmt: skip
BACK = ["garth", "mere", "wright", "stow", "lock", "field"]
KIN = ["hithe", "combe", "ley", "thwaite", "hanger", "wick"]
TRADES = ["Supply", "Stores", "& Daughters", "Trading", "Works", "Outfitters"]
LANES = ["Fennel Lane", "Cooper's Yard", "Lower Wharf", "Chandler Row", "Ember Hill", "Ropewalk",
         "Old Maltings", "Sextant Street", "Withybed", "Gasworks Quay", "Kiln End", "Pound Lock",
         "Tithe Barn", "Lamp Black Alley", "Drover's Gate", "Orchard Rise", "Cinder Path",
         "Saltpan", "Heron Weir", "Bellfounder", "Whin Close", "Millrace"]  # fmt: skip


# They sell what others make: much the same of one brand, and a little of everything.
RESELLERS = {
    "s201": "Comb Alley Trading", "s202": "Smoker's Row Stores", "s203": "Nectar Steps Supply",
    "s204": "Skep Green Outfitters",
}  # fmt: skip
RESOLD = "Skephithe"
# Sellers who stock for the season and clear after it, year by year; the first is the one to call one's own.
SEASONAL = {
    "s205": "Lantern Yard Goods", "s206": "Stubble Field Stores", "s207": "Weir Bank Trading",
    "s208": "Quince Loft Supply",
}  # fmt: skip
OWN_SELLER, OWN_BRAND = next(iter(SEASONAL)), "Lantern Yard"


def brand_names() -> list[str]:
    """72 names; the last is the marketplace's own."""
    return [*[f + b for f, b in itertools.product(FRONT, BACK)][:71], "Quayside Own"]


def kin_names(family: str) -> list[str]:
    """Six brands that serve the niches of one family and hardly any other."""
    return [family.capitalize() + end for end in KIN]


def seller_names() -> list[str]:
    """132 names; the last is the marketplace itself."""
    names = [f"{lane} {trade}" for lane, trade in itertools.product(LANES, TRADES)]
    return [*names[:131], "Harrow Quay"]
