"""Proof: the market's own past as the judge of what is said of it."""

from .dates import EITHER_SIDE
from .fitted_lens import FittedLens, fit_lens
from .kept import KeptDays, way_of
from .known_then import known_on
from .launched import SCORES
from .lines import LEAST, Held
from .record import Miss, TrackRecord, track_record
from .replay import BACK, EVERY, RECORD, Memory, Then, days_to_replay, first_known, replay

__all__ = [
    "BACK",
    "EITHER_SIDE",
    "EVERY",
    "LEAST",
    "RECORD",
    "SCORES",
    "FittedLens",
    "Held",
    "KeptDays",
    "Memory",
    "Miss",
    "Then",
    "TrackRecord",
    "days_to_replay",
    "first_known",
    "fit_lens",
    "known_on",
    "replay",
    "track_record",
    "way_of",
]
