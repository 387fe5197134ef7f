"""What jobs do for bills: write reports and comparisons, and price a client's workbook."""

from __future__ import annotations

from ..keeping.jobs import Work
from .papers import compared_of, exchanged_of, given_back_of, report_of

KINDS: dict[str, Work] = {
    "bill_report": report_of, "bill_compared": compared_of, "bill_given_back": given_back_of,
    "bill_exchange": exchanged_of,
}  # fmt: skip
