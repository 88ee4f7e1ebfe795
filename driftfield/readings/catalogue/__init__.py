"""The catalogue: a run's categories as a tree, and one of them at a glance."""

from .curves import KEYS, category_curves
from .found import CategoryReading, category_reading
from .icicle import ADDITIVE, Icicle, read_icicle
from .ranges import RANGES, Range, niches_in, ranges_of
from .record import as_record
from .returned import Returned, returned
from .sold import SoldOverview, sold_overview
from .tree import TreeRow, TreeSlice, read_tree
from .window import Window, windows_of

__all__ = [
    "ADDITIVE",
    "KEYS",
    "RANGES",
    "CategoryReading",
    "Icicle",
    "Range",
    "Returned",
    "SoldOverview",
    "TreeRow",
    "TreeSlice",
    "Window",
    "as_record",
    "category_curves",
    "category_reading",
    "niches_in",
    "ranges_of",
    "read_icicle",
    "read_tree",
    "returned",
    "sold_overview",
    "windows_of",
]
