"""What every row is."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import ClassVar

from peewee import Model

from ..database import database


def now() -> datetime:
    """The time, in UTC without zone, as the tables keep it."""
    return datetime.now(UTC).replace(tzinfo=None)


class Row(Model):
    """Any row."""

    derived: ClassVar[frozenset[str]] = frozenset()

    class Meta:
        database = database
        legacy_table_names = False
