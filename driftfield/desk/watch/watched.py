"""What the watch looks after: what was kept or parked, planned, put on a list, or is sold oneself."""

from __future__ import annotations

from driftfield.core.market import KINDS, KINDS_BY_KEY, NICHE, Kind
from driftfield.desk.models import Choice, Decision, Plan, WordList
from driftfield.readings.models import Run
from driftfield.readings.own_part import niches_sold_in


def watched(market_id: str) -> dict[Kind, set[str]]:
    """Ids by kind; a kind of which nothing is watched has none."""
    found: dict[Kind, set[str]] = {kind: set() for kind in KINDS}
    held = Decision.objects.filter(
        market_id=market_id, current=True, choice__in=[Choice.KEEP, Choice.PARK]
    )
    for key, subject in held.values_list("kind", "subject"):
        found[KINDS_BY_KEY[key]].add(subject)
    run = Run.objects.filter(market__market_id=market_id).first()
    if run is not None:
        found[NICHE].update(niches_sold_in(run))
    plans = Plan.objects.filter(market_id=market_id, current=True)
    found[NICHE].update(plans.exclude(state=Plan.State.DROPPED).values_list("niche_id", flat=True))
    for one in WordList.objects.filter(market_id=market_id, removed_at=None):
        found[KINDS_BY_KEY[one.kind]].update(one.terms)
    return found
