"""Bringing a database up to date: its tables, and then what is worked out from what they hold."""

from __future__ import annotations

from ...store.database import connected, database, migrate
from ...store.models import Project
from .graph import settle_afresh


def upgrade() -> list[str]:
    """Migrate the database and, where anything was migrated, work every project out anew; gives the
    migrations run.

    A project whose figures can't be worked out any more keeps those it had.
    """
    done = migrate()
    if done:
        with connected():
            for project in Project.select(Project.id):
                with database.atomic():
                    settle_afresh(project.id)
    return done
