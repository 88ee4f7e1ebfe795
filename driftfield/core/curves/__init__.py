"""One curve: alignment, decomposition, season profile, shape, drift, growth, forecast and dates."""

from .align import bridge, sum_by_group
from .detail import CurveDetail, curve_detail
from .feasts import FEAST_NAMES, FEASTS, feast_dates, feasts_between
from .growth import GrowthSplit
from .interest import Interest, agreement, mean_curves
from .pooling import LEAST_SPREAD, Prior, borrowed_share, category_prior
from .purchase_lag import Lag, read_lag
from .reading import HORIZONS, CurveReadings, drift_line, forecast_curves, read_curves
from .seasons import Call, SeasonDates, next_call, season_dates, slot_date
from .shape import FAMILY, Shape

__all__ = [
    "FAMILY",
    "FEASTS",
    "FEAST_NAMES",
    "HORIZONS",
    "LEAST_SPREAD",
    "Call",
    "CurveDetail",
    "CurveReadings",
    "GrowthSplit",
    "Interest",
    "Lag",
    "Prior",
    "SeasonDates",
    "Shape",
    "agreement",
    "borrowed_share",
    "bridge",
    "category_prior",
    "curve_detail",
    "drift_line",
    "feast_dates",
    "feasts_between",
    "forecast_curves",
    "mean_curves",
    "next_call",
    "read_curves",
    "read_lag",
    "season_dates",
    "slot_date",
    "sum_by_group",
]
