"""What can be done with readings; each use case is a file."""

from .analyse_market import analyse_all, analyse_market, stale
from .plan_market import choose_planning

__all__ = ["analyse_all", "analyse_market", "choose_planning", "stale"]
