"""What must hold of prices from a project file."""

from __future__ import annotations

from typing import Any

from ...core.refusals import Refusal
from ...store.models import Quote, Resource
from ..keeping.proving import refuse_empty, refuse_twins
from .actions import checked_quote, checked_resource


def _resource(row: dict[str, Any]) -> None:
    if checked_resource(row) != row:
        raise Refusal("It is no resource that could be typed.")


def _quote(row: dict[str, Any]) -> None:
    refuse_empty(row, "supplier")
    checked_quote(row, row)


RULES = {"resource": _resource, "quote": _quote}


def prove(project_id: int) -> None:
    """No two resources have one name, and each chooses among its own quotes.

    Raises:
        Refusal: something doesn't hold.
    """
    refuse_twins(Resource, project_id, Resource.name)
    astray = Resource.select(Resource.name).join(Quote, on=(Quote.id == Resource.chosen)).where(
        (Resource.project == project_id) & (Quote.resource != Resource.id)
    )  # fmt: skip
    for row in astray:
        raise Refusal(f"{row.name} chooses a quote for another resource.")
