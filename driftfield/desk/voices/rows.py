"""The themes of a niche as rows of a list, under the columns of the command ``voices``."""

from __future__ import annotations

from typing import Any

from .told import NicheThemes


def theme_rows(niche_id: str, found: NicheThemes) -> list[dict[str, Any]]:
    """Themes after the researcher's decisions, those most say first; what is hidden is left out."""
    return [
        {
            "niche_id": niche_id, "language": found.language, "theme": one.name, "tone": one.tone,
            "texts": one.texts, "of": found.texts, "share": one.share, "low": one.low, "high": one.high,
            "stars": one.stars, "late": one.late, "early": one.early, "grown": one.grown or "",
            "listings": one.listings, "most_of": [own.listing_id for own in one.most], "notes": one.notes,
            "returned": one.returned, "remedy": one.remedy or None,
            "sentences": [each.said for each in one.sentences],
        }
        for one in found.themes
        if not one.hidden
    ]  # fmt: skip
