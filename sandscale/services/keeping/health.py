"""Whether all that the application needs is there."""

from __future__ import annotations

from ...store.database import database, pending_migrations
from .jobs import waiting
from .views import HealthView

SIGN_OF_LIFE = "SELECT count(*) FROM procrastinate_workers WHERE last_heartbeat > now() - interval '1 minute'"


def health() -> HealthView:
    """How the database and the workers are; asked on an open connection."""
    behind = pending_migrations()
    workers = 0 if behind else database.execute_sql(SIGN_OF_LIFE).fetchone()[0]
    return HealthView(
        well=not behind and workers > 0, migrations_to_run=len(behind), workers=workers,
        jobs_waiting=0 if behind else waiting(),
    )  # fmt: skip
