"""What can be done with readings; each use case is a file."""

from .analyse_market import analyse_all, analyse_market, stale
from .rank_market import Ranked, rank_market

__all__ = ["Ranked", "analyse_all", "analyse_market", "rank_market", "stale"]
