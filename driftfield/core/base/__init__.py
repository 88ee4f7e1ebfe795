"""What every floor stands on: errors, periods, settings, grouping, intervals and the format of numbers."""

from .discrimination import (
    Estimate,
    area_gained,
    area_under_curve,
    clustered_mean,
    clustered_share,
    count_groups,
    difference_within,
    lift,
)
from .distribution import Distribution, distribution, edges_of
from .errors import CoreError
from .exact import on_grid, row_products
from .finite import finite
from .formatting import (
    CURRENCY_SIGNS,
    FOLD,
    MINUS,
    format_change,
    format_day,
    format_interval,
    format_limit,
    format_money,
    format_number,
    format_share,
    format_signed,
    plain_number,
)
from .grouping import Groups
from .groups import (
    distinct_pairs,
    first_of_each,
    in_groups,
    is_in_order,
    joined,
    order_of,
    order_within,
    places_in,
    ratio,
    ties_in_order,
)
from .index_numbers import fisher_indices
from .intervals import correlation_interval, newcombe, wilson
from .moderated import VarianceSums, moderated
from .periods import Bools, Floats, Ints, Period, Timeline, fold_week53
from .ranks import low_ranks, mid_ranks
from .rate_ratio import RateRatio, rate_ratio
from .resampling import resampled
from .rows import assign_rows, join_rows
from .setting_groups import AT_ONCE, GROUPS, NAMES, SettingGroup
from .settings import DEFAULTS, Settings, Threshold
from .tally import Tally, to_digits

__all__ = [
    "AT_ONCE",
    "CURRENCY_SIGNS",
    "DEFAULTS",
    "FOLD",
    "GROUPS",
    "MINUS",
    "NAMES",
    "Bools",
    "CoreError",
    "Distribution",
    "Estimate",
    "Floats",
    "Groups",
    "Ints",
    "Period",
    "RateRatio",
    "SettingGroup",
    "Settings",
    "Tally",
    "Threshold",
    "Timeline",
    "VarianceSums",
    "area_gained",
    "area_under_curve",
    "assign_rows",
    "clustered_mean",
    "clustered_share",
    "correlation_interval",
    "count_groups",
    "difference_within",
    "distinct_pairs",
    "distribution",
    "edges_of",
    "finite",
    "first_of_each",
    "fisher_indices",
    "fold_week53",
    "format_change",
    "format_day",
    "format_interval",
    "format_limit",
    "format_money",
    "format_number",
    "format_share",
    "format_signed",
    "in_groups",
    "is_in_order",
    "join_rows",
    "joined",
    "lift",
    "low_ranks",
    "mid_ranks",
    "moderated",
    "newcombe",
    "on_grid",
    "order_of",
    "order_within",
    "places_in",
    "plain_number",
    "rate_ratio",
    "ratio",
    "resampled",
    "row_products",
    "ties_in_order",
    "to_digits",
    "wilson",
]
