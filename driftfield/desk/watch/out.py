"""A digest as it goes out: as plain text, as rows of a list, and as an Atom feed (RFC 4287)."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping
from datetime import UTC, date, datetime, time
from typing import Any
from urllib.parse import urlencode

from django.utils.feedgenerator import Atom1Feed

from driftfield.core.base import format_day

ATOM_TYPE = "application/atom+xml; charset=utf-8"
LIST_COLUMNS = (
    "of", "subject", "name", "aspect", "label", "since", "then", "now", "low", "high", "chance", "sentence",
    "told_as_of", "seen_at",
)  # fmt: skip
# All entries of all markets hang on this one; a number of our own, so that no other feed has the same ids.
_SPACE = uuid.UUID("7b0f4f0e-3d3f-5d0a-9a44-6c1d5b9a2f10")


def digest_rows(digest: Mapping[str, Any]) -> list[dict[str, Any]]:
    """The changes of a digest as rows of ``LIST_COLUMNS``, what is new under sieves after them."""
    rows = [{name: one.get(name) for name in LIST_COLUMNS} for one in digest["changes"]]
    for sieve in digest["sieves"]:
        for side, text in (("came", "newly passes"), ("went", "no longer passes")):
            for one in sieve[side]:
                why = f" ({'; '.join(one['why'])})" if one["why"] else ""
                rows.append(
                    dict.fromkeys(LIST_COLUMNS)
                    | {
                        "of": sieve["of"], "subject": one["id"], "name": one["name"], "aspect": "sieve",
                        "label": sieve["name"], "sentence": f"{text} “{sieve['name']}”{why}",
                        "told_as_of": sieve["told_as_of"], "seen_at": sieve["seen_at"],
                    }
                )  # fmt: skip
    return rows


def digest_text(digest: Mapping[str, Any], url: str = "") -> str:
    """A digest as plain text, to be mailed or printed."""
    lines = [f"{digest['market']}, as of {format_day(digest['as_of'])}", ""]
    if digest["changes"]:
        lines.append("What changed")
        lines += [f"- {one['name']}: {one['sentence']}" for one in digest["changes"]]
        lines.append("")
    if digest["due"]:
        lines.append("Order-by dates in the next four weeks")
        lines += [f"- {format_day(one['day'])}: {one['name']}" for one in digest["due"]]
        lines.append("")
    for sieve in digest["sieves"]:
        lines.append(f"{sieve['name']}: {sieve['sentence']}")
        for side, sign in (("came", "+"), ("went", "−")):
            lines += [f"  {sign} {one['name']}" for one in sieve[side]]
        lines.append("")
    lines += digest["sentences"]
    if url:
        lines += ["", url]
    return "\n".join(lines) + "\n"


def digest_feed(digest: Mapping[str, Any], base: str, link_of: Callable[[str, str], str]) -> str:
    """A digest as an Atom feed: an entry for each change, with an id that stays when it is told again.

    base: address of the application. link_of: address of a subject's page, from its kind's plural and its id.
    """
    market_id = digest["market_id"]
    page = f"{base}/watch?{urlencode({'market': market_id})}"
    feed = Atom1Feed(
        title=_clean(f"{digest['market']}: what changed"),
        link=page,
        description=None,
        feed_guid=_id(market_id),
        language="en-GB",
    )
    for one in digest["changes"]:
        moment = _moment(one["told_as_of"])
        feed.add_item(
            title=_clean(f"{one['name']}: {one['label'].lower()}"),
            link=link_of(one["of"], one["subject"]),
            description=_clean(one["sentence"]),
            unique_id=_id(market_id, one["key"], one["told_as_of"]),
            pubdate=moment,
            updateddate=moment,
            categories=[one["aspect"]],
        )
    for sieve in digest["sieves"]:
        moment = _moment(sieve["told_as_of"])
        feed.add_item(
            title=_clean(f"{sieve['name']}: {sieve['sentence']}"),
            link=page,
            description=_clean("; ".join(one["name"] for one in [*sieve["came"], *sieve["went"]])),
            unique_id=_id(market_id, "sieve", sieve["name"], sieve["told_as_of"]),
            pubdate=moment,
            updateddate=moment,
            categories=["sieve"],
        )
    return str(feed.writeString("utf-8"))


def _clean(text: str) -> str:
    """Without the control characters that XML 1.0 does not have."""
    return "".join(one for one in text if one in "\t\n\r" or one >= " ")


def _id(*parts: object) -> str:
    return uuid.uuid5(_SPACE, "\n".join(map(str, parts))).urn


def _moment(day: date) -> datetime:
    return datetime.combine(day, time(), UTC)
