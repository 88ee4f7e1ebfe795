"""Which database a model lives in."""

from __future__ import annotations

from typing import Any

from django.db.models import Model

WORK = "work"
# What is said of long work is written while that work holds the market's database for itself.
APPS = {"work", "django_tasks_database"}


class WorkRouter:
    """Long work and its queue have a database of their own; all else is in the market's."""

    def db_for_read(self, model: type[Model], **_hints: Any) -> str | None:
        return WORK if model._meta.app_label in APPS else None

    db_for_write = db_for_read

    def allow_migrate(self, db: str, app_label: str, **_hints: Any) -> bool:
        return (app_label in APPS) == (db == WORK)
