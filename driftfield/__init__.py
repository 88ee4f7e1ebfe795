"""Driftfield: which niches of a marketplace are worth entering, and when."""

__version__ = "0.1.0"
