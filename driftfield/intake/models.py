"""A batch is one import that changed something."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models


class Batch(models.Model):
    """One import. counts: by table, how many rows or curves were new, changed and unchanged."""

    made_at = models.DateTimeField(auto_now_add=True)
    source = models.CharField(max_length=500)
    sha256 = models.CharField(max_length=64)
    counts: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    notes: models.JSONField[list[str]] = models.JSONField(default=list)

    class Meta:
        ordering: ClassVar = ["-made_at", "-pk"]
        verbose_name_plural = "batches"

    @property
    def changed(self) -> bool:
        return any(c["new"] or c["changed"] for c in self.counts.values())

    @property
    def sentence(self) -> str:
        """What the import did, in a sentence."""
        if not self.changed:
            return f"{self.source}: nothing is new, nothing was changed."
        parts = [
            f"{table} {c['new']:,} new" + (f", {c['changed']:,} changed" if c["changed"] else "")
            for table, c in self.counts.items()
            if c["new"] or c["changed"]
        ]
        return f"{self.source}: {'; '.join(parts)}."
