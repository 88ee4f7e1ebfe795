"""A data set in parts analysed by several programs, on one machine or many (Dask distributed)."""

from .run import LeftOut, RunResult, analyse_dataset, connected

__all__ = ["LeftOut", "RunResult", "analyse_dataset", "connected"]
