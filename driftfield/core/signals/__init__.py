"""Signals: named rules that fired, with their evidence."""

from .evidence import Raised, explain, raise_signals
from .joint import JOINT
from .rule import Condition, Is, Signal, Tone
from .rules import SIGNALS, SIGNALS_BY_KEY, THRESHOLDS

__all__ = [
    "JOINT",
    "SIGNALS",
    "SIGNALS_BY_KEY",
    "THRESHOLDS",
    "Condition",
    "Is",
    "Raised",
    "Signal",
    "Tone",
    "explain",
    "raise_signals",
]
