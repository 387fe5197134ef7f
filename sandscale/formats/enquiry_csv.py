"""What an enquiry asks for, as CSV: a head, and a line for each resource."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from .table import as_csv

HEAD = ("Line", "Resource", "Unit", "Quantity", "Prices for", "Answer by")


def write_enquiry(
    lines: Iterable[tuple[int, str, str, Decimal]], priced_for: date, answer_by: date | None
) -> bytes:
    """The table that goes along with an enquiry's letter, in UTF-8.

    Args:
        lines: of each its number, the resource, its unit and how much of it is asked for.
        priced_for: the day the prices are to hold on.
        answer_by: the last day for answers.
    """
    days = (priced_for.isoformat(), answer_by.isoformat() if answer_by else "")
    return as_csv([HEAD, *((*line, *days) for line in lines)])
