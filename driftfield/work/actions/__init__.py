"""What can be asked of long work; each use case is a file."""

from .resume import resume
from .start import start, start_replay
from .stop import stop

__all__ = ["resume", "start", "start_replay", "stop"]
