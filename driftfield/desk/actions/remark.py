"""Notes, tags and the order by hand of the niches one has an eye on."""

from __future__ import annotations

from collections.abc import Sequence

from driftfield.core.base import CoreError
from driftfield.desk.in_order import writing
from driftfield.desk.models import Decision, Remark
from driftfield.market.models import Niche

LONGEST_TAG, MOST_TAGS = 40, 12


def remark(
    market_id: str, niche_id: str, note: str | None = None, tags: Sequence[str] | None = None
) -> Remark:
    """Write a niche's note or tags; None leaves what is there.

    Tags are told apart without regard to case. Raises CoreError for a niche that neither the market
    nor any decision knows, and for tags that are none.
    """
    known = Niche.objects.filter(market__market_id=market_id, niche_id=niche_id).exists()
    # A niche may have left the market's figures; what was decided on it keeps its note.
    if not known and not Decision.objects.filter(market_id=market_id, niche_id=niche_id).exists():
        raise CoreError(f"There is no niche “{niche_id}” in market “{market_id}”.")
    wanted: dict[str, object] = {}
    if note is not None:
        wanted["note"] = note.strip()
    if tags is not None:
        wanted["tags"] = _tags(tags)
    with writing():
        made, _ = Remark.objects.update_or_create(
            market_id=market_id, niche_id=niche_id, defaults=wanted
        )
    return made


def _tags(tags: Sequence[str]) -> list[str]:
    plain = {" ".join(tag.split()).lower(): " ".join(tag.split()) for tag in tags}
    plain.pop("", None)
    if len(plain) > MOST_TAGS:
        raise CoreError(f"A niche takes {MOST_TAGS} tags; {len(plain)} came.")
    for tag in plain.values():
        if len(tag) > LONGEST_TAG or "," in tag:
            raise CoreError(f"A tag has up to {LONGEST_TAG} letters and no comma; “{tag}” came.")
    return list(plain.values())


def arrange(market_id: str, niche_ids: Sequence[str]) -> None:
    """Put a market's niches in this order by hand; what is not named loses its place.

    Raises CoreError for a niche that neither the market nor any decision knows.
    """
    wanted = list(dict.fromkeys(niche_ids))
    with writing():
        known = set(
            Niche.objects.filter(market__market_id=market_id, niche_id__in=wanted).values_list(
                "niche_id", flat=True
            )
        )
        known |= set(
            Decision.objects.filter(market_id=market_id, niche_id__in=wanted).values_list(
                "niche_id", flat=True
            )
        )
        if unknown := [one for one in wanted if one not in known]:
            raise CoreError(f"There is no niche “{unknown[0]}” in market “{market_id}”.")
        mine = Remark.objects.filter(market_id=market_id)
        mine.exclude(place=None).update(place=None)
        have = {one.niche_id: one for one in mine.filter(niche_id__in=wanted)}
        missing = [
            Remark(market_id=market_id, niche_id=niche_id, place=i)
            for i, niche_id in enumerate(wanted)
            if niche_id not in have
        ]
        for i, niche_id in enumerate(wanted):
            if niche_id in have:
                have[niche_id].place = i
        Remark.objects.bulk_update(have.values(), ["place"], batch_size=500)
        Remark.objects.bulk_create(missing)
