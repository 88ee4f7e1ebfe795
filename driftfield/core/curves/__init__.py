"""One curve: alignment, decomposition, season profile, shape, drift, growth, forecast and dates."""

from .align import GroupSums, bridge, group_sums, sum_by_group
from .beside import SeasonsBeside, read_seasons_beside
from .detail import CurveDetail, curve_detail, curve_forecast
from .drift import Drift
from .feasts import FEAST_NAMES, FEASTS, NO_FEAST, feast_dates, feasts_between
from .forecast import Sums
from .growth import GrowthSplit, growth_split
from .interest import Interest, agreement, mean_curves
from .lead import Lead, read_lead
from .pooling import LEAST_SPREAD, Prior, SeasonSums, borrowed_share, category_prior
from .profile import months_of_weeks
from .purchase_lag import Lag, read_lag
from .reading import AHEAD, HORIZONS, CurveReadings, drift_line, forecast_curves, read_curves
from .recent import Recent, apart, recent_move
from .season_calendar import SeasonCalendar, season_calendar, weekly_levels
from .season_dates import Planned, SeasonPlan, join_plans, plan_seasons, slot_date
from .shape import FAMILY, Shape
from .times import Time

__all__ = [
    "AHEAD",
    "FAMILY",
    "FEASTS",
    "FEAST_NAMES",
    "HORIZONS",
    "LEAST_SPREAD",
    "NO_FEAST",
    "CurveDetail",
    "CurveReadings",
    "Drift",
    "GroupSums",
    "GrowthSplit",
    "Interest",
    "Lag",
    "Lead",
    "Planned",
    "Prior",
    "Recent",
    "SeasonCalendar",
    "SeasonPlan",
    "SeasonSums",
    "SeasonsBeside",
    "Shape",
    "Sums",
    "Time",
    "agreement",
    "apart",
    "borrowed_share",
    "bridge",
    "category_prior",
    "curve_detail",
    "curve_forecast",
    "drift_line",
    "feast_dates",
    "feasts_between",
    "forecast_curves",
    "group_sums",
    "growth_split",
    "join_plans",
    "mean_curves",
    "months_of_weeks",
    "plan_seasons",
    "read_curves",
    "read_lag",
    "read_lead",
    "read_seasons_beside",
    "recent_move",
    "season_calendar",
    "slot_date",
    "sum_by_group",
    "weekly_levels",
]
