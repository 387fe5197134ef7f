"""What must hold of orders from a project file."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.refusals import Refusal
from ...store.models import Delivery, OrderLine, PurchaseOrder
from ..keeping.proving import refuse_empty
from .actions import checked_line, checked_number
from .reading import number_of


def _order(row: dict[str, Any]) -> None:
    refuse_empty(row, "supplier")


def _line(row: dict[str, Any]) -> None:
    if checked_line(row) != row:
        raise Refusal("It is no line of an order that could be typed.")


def _delivery(row: dict[str, Any]) -> None:
    if checked_number(row["number"]) != row["number"]:
        raise Refusal("So many can't have come.")


RULES = {"purchase_order": _order, "order_line": _line, "delivery": _delivery}


def prove(project_id: int) -> None:
    """Of an order that wasn't sent nothing came, and of none more than it orders.

    Raises:
        Refusal: something doesn't hold.
    """
    lines = {line.id: line for line in OrderLine.those(OrderLine.project, [project_id])}
    sent = PurchaseOrder.those(PurchaseOrder.project, [project_id])
    ordered = {row.id for row in sent if row.ordered_on is not None}
    came: dict[int, Decimal] = {}
    for row in Delivery.those(Delivery.line, list(lines)):
        came[row.line_id] = came.get(row.line_id, Decimal(0)) + number_of(row.number)
    for line, number in came.items():
        if lines[line].order_id not in ordered or number > number_of(lines[line].number):
            raise Refusal("More came of an order than it orders.")
