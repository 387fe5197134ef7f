"""What must hold of prices from a project file."""

from __future__ import annotations

from typing import Any

from ...core.numbers.formula import refuse_deeper
from ...core.refusals import Refusal
from ...store.models import Quote, Resource, Supplier
from ..keeping.proving import refuse_empty, refuse_twins
from .actions import checked_quote, checked_resource
from .enquiries import check_asked, checked_enquiry, checked_supplier
from .working_out import DEEPEST, check_draw, checked_worked, drawing


def _resource(row: dict[str, Any]) -> None:
    if checked_resource(row) != row or checked_worked(row["worked"]) != row["worked"]:
        raise Refusal("It is no resource that could be typed.")


def _quote(row: dict[str, Any]) -> None:
    refuse_empty(row, "supplier")
    checked_quote(row, row, None)


def _supplier(row: dict[str, Any]) -> None:
    if checked_supplier(row) != row:
        raise Refusal("It is no supplier that could be typed.")


def _enquiry(row: dict[str, Any]) -> None:
    if row["number"] < 1 or checked_enquiry(row) != row:
        raise Refusal("It is no enquiry that could be made.")


def _enquiry_line(row: dict[str, Any]) -> None:
    check_asked(row["quantity"])


def _answer(row: dict[str, Any]) -> None:
    checked_quote(row, {**row, "supplier": "any", "contains": 1}, None)


def _draw(row: dict[str, Any]) -> None:
    check_draw(row["input"])


RULES = {
    "price_draw": _draw,
    "resource": _resource, "quote": _quote, "supplier": _supplier, "enquiry": _enquiry,
    "enquiry_line": _enquiry_line, "answer": _answer,
}  # fmt: skip


def prove(project_id: int) -> None:
    """No two resources have one name, and each chooses among its own quotes.

    Raises:
        Refusal: something doesn't hold.
    """
    refuse_twins(Resource, project_id, Resource.name)
    refuse_twins(Supplier, project_id, Supplier.name)
    refuse_deeper(drawing(project_id), "Prices", DEEPEST)
    astray = Resource.select(Resource.name).join(Quote, on=(Quote.id == Resource.chosen)).where(
        (Resource.project == project_id) & (Quote.resource != Resource.id)
    )  # fmt: skip
    for row in astray:
        raise Refusal(f"{row.name} chooses a quote for another resource.")
