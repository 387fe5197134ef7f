"""What must hold of a project file's own fields."""

from __future__ import annotations

from typing import Any

from ...core.refusals import Refusal
from .actions import checked


def _project(row: dict[str, Any]) -> None:
    if checked(dict(row)) != row:
        raise Refusal("It is no project that could be typed.")


RULES = {"project": _project}


def prove(_project_id: int) -> None:
    """All that must hold of a project's own fields is in its row."""
