"""What an enquiry asks for, as CSV: a head, and a line for each resource."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from datetime import date

from .table import safe

HEAD = ("Line", "Resource", "Unit", "Quantity", "Prices for", "Answer by")


def write_enquiry(
    lines: Iterable[tuple[int, str, str, str]], priced_for: date, answer_by: date | None
) -> bytes:
    """The table that goes along with an enquiry's letter, in UTF-8.

    Args:
        lines: of each its number, the resource, its unit and how much of it is asked for.
        priced_for: the day the prices are to hold on.
        answer_by: the last day for answers.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEAD)
    for line in lines:
        writer.writerow(
            [*map(safe, line), priced_for.isoformat(), answer_by.isoformat() if answer_by else ""]
        )
    return out.getvalue().encode("utf-8-sig")
