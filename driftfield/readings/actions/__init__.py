"""What can be done with readings; each use case is a file."""

from .analyse_market import analyse_all, analyse_market, stale

__all__ = ["analyse_all", "analyse_market", "stale"]
