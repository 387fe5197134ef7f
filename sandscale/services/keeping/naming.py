"""What people call things: without blanks around it, and no two of a kind alike in a project."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from peewee import fn

from ...core.refusals import BadEntry
from ...store.models import ProjectRow


def stripped(fields: Mapping[str, Any]) -> dict[str, Any]:
    """What was typed, without blanks around it."""
    return {name: value.strip() if isinstance(value, str) else value for name, value in fields.items()}


def refuse_twin(project_id: int, table: type[ProjectRow], called: str, name: str, own: int = 0) -> None:
    """Refuse a name that another row of a table has in the project, written large or small.

    Raises:
        BadEntry: there is one; the sentence says what it is ``called``.
    """
    alike = (table.project == project_id) & (fn.LOWER(table.name) == name.lower()) & (table.id != own)
    if table.select().where(alike).exists():
        raise BadEntry(f"There is a {called} “{name}” already.", field="name")
