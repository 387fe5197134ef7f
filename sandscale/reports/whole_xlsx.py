"""The whole job as a workbook: a row for each quantity, a column for each work or part, summed live."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from xlsxwriter.utility import xl_rowcol_to_cell as cell

from .book import Book

_HEAD = 2


class Summed(Protocol):
    """A quantity of several works, in its unit: what falls to each column, and the whole."""

    name: str
    unit: str
    values: list[float]
    whole: float


def write(title: str, heads: Sequence[str], rows: Sequence[Summed]) -> bytes:
    """The workbook's bytes."""
    book = Book()
    sheet, looks = book.sheet("Whole job"), book.looks
    sheet.write_string(0, 0, title, looks["title"])
    for column, word in enumerate(("Quantity", "Unit", *heads, "Whole")):
        sheet.write_string(_HEAD, column, word, looks["head"])
    for at, row in enumerate(rows, start=_HEAD + 1):
        sheet.write_string(at, 0, row.name, looks["plain"])
        sheet.write_string(at, 1, row.unit, looks["plain"])
        for column, value in enumerate(row.values, start=2):
            if value:
                sheet.write_number(at, column, value, looks["number"])
        reach = f"{cell(at, 2)}:{cell(at, len(heads) + 1)}"
        sheet.write_formula(at, len(heads) + 2, f"=SUM({reach})", looks["sum"], row.whole)
    sheet.freeze_panes(_HEAD + 1, 2)
    sheet.set_column(0, 0, 40)
    sheet.set_column(1, len(heads) + 2, 13)
    return book.content()
