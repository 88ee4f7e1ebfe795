"""Keep, park or pass a subject, or several of a kind at once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import uuid4

from driftfield.core.market import FIGURES_BY_KEY, NICHE, Kind
from driftfield.desk.models import Choice, Decision
from driftfield.desk.remembered import remember, remembered_figures
from driftfield.desk.subjects import Subject, figures_of_subjects, no_such, subjects_of
from driftfield.desk.write_queue import writing


def decide(
    market_id: str, subject: str, choice: Choice, reason: str = "", *, kind: Kind = NICHE
) -> Decision:
    """Record a decision with what is known now; the one before it stays in the record.

    Raises CoreError for no such subject.
    """
    return decide_all(market_id, [subject], choice, reason, kind=kind)[0]


def decide_all(
    market_id: str,
    subjects: Sequence[str],
    choice: Choice,
    reason: str = "",
    *,
    kind: Kind = NICHE,
) -> list[Decision]:
    """Record the same decision for several subjects of a kind: all of them, or none.

    One undo takes all of them back. Raises CoreError for no such subject.
    """
    wanted = list(dict.fromkeys(subjects))
    known = subjects_of(market_id, kind, wanted)
    for subject in wanted:
        if subject not in known:
            raise no_such(kind, subject, market_id)
    figures = [FIGURES_BY_KEY["as_of"], *remembered_figures(kind)]
    found = figures_of_subjects(market_id, kind, known, figures)
    with writing():
        mine = Decision.objects.filter(market_id=market_id, kind=kind.key, subject__in=wanted)
        mine.filter(current=True).update(current=False)
        batch = uuid4()
        return Decision.objects.bulk_create(
            Decision(
                market_id=market_id,
                kind=kind.key,
                subject=subject,
                choice=choice,
                reason=reason,
                batch=batch,
                **_what_is_known(kind, known[subject], found.get(subject)),
            )
            for subject in wanted
        )


def _what_is_known(kind: Kind, subject: Subject, figures: dict[str, Any] | None) -> dict[str, Any]:
    return {
        "name": subject.name,
        "category": subject.category,
        "as_of": figures and figures["as_of"],
        "figures": remember(kind, figures) if figures else {},
    }
