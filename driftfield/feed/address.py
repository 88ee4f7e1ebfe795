"""Where a feed may be: on this machine, unless the settings allow more."""

from __future__ import annotations

import ipaddress
import socket
from urllib.parse import urlsplit

from .errors import FeedError


def check_address(address: str, *, anywhere: bool = False) -> str:
    """The address without a slash at its end.

    Raises FeedError where it is none, and where it leads to another machine, unless ``anywhere``.
    """
    parts = urlsplit(address)
    if parts.scheme not in {"http", "https"} or not parts.hostname or parts.query or parts.fragment:
        raise FeedError(
            f"“{address}” is no address of a feed; write it like http://127.0.0.1:8765."
        )
    if parts.username or parts.password:
        raise FeedError(
            "The address of a feed holds no name or password; they are settings of their own."
        )
    if not anywhere and not _loopback(parts.hostname):
        raise FeedError(
            f"{parts.hostname} is not this machine. Set DRIFTFIELD_FEED_ANYWHERE=1 to ask a feed elsewhere."
        )
    return address.rstrip("/")


def _loopback(host: str) -> bool:
    try:
        found = {entry[4][0] for entry in socket.getaddrinfo(host, None)}
    except OSError:
        return False
    return all(ipaddress.ip_address(one).is_loopback for one in found)
