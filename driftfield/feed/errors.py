"""What can be wrong with a feed."""

from driftfield.core.base import CoreError


class FeedError(CoreError):
    """The feed cannot be used as it is; what had come before stays."""


class CursorGoneError(Exception):
    """The feed does not know a cursor any more; its pages are asked for from the beginning."""


class EndlessError(FeedError):
    """A list whose pages never end."""
