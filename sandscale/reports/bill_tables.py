"""Tables of a bill, as PDF and as a workbook: by what it is grouped, and held against another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from xlsxwriter.utility import xl_rowcol_to_cell as cell

from .book import Book
from .paper import Heading, Pages
from .tables_pdf import set_table
from .works import ChainageTable


@dataclass(frozen=True)
class BillTables:
    """What the documents are written from.

    Attributes:
        project: its name.
        client: who it is for.
        title: what the document is.
        note: the currency, and what is told of all of it.
        tables: each with its columns; those of numbers may have a total.
        along: columns of numbers whose sum stands in the column after them, by their first and last place.
    """

    project: str
    client: str
    title: str
    note: str
    tables: Sequence[ChainageTable]
    along: tuple[int, int] | None = None


def pdf(document: BillTables) -> bytes:
    """The document's bytes."""
    heading = Heading(document.project, document.client, document.title, document.note)
    pages = Pages(heading, ())
    for table in document.tables:
        set_table(pages, table)
    return pages.finish()


def xlsx(document: BillTables) -> bytes:
    """The workbook's bytes: a sheet for each table, its totals live."""
    book = Book()
    for table in document.tables:
        _sheet(book, document, table)
    return book.content()


def _sheet(book: Book, document: BillTables, table: ChainageTable) -> None:
    sheet, looks = book.sheet(table.name), book.looks
    sheet.write_string(0, 0, f"{document.project}: {document.title}, {table.name}", looks["title"])
    sheet.write_string(1, 0, document.note, looks["plain"])
    for at, column in enumerate(table.columns):
        sheet.write_string(3, at, column.title, looks["head"])
        sheet.set_column(at, at, 46 if column.words and at else 14 if not column.words else 26)
        for row, value in enumerate(column.values, start=4):
            if isinstance(value, str):
                sheet.write_string(row, at, value, looks["plain"])
            elif value is not None and document.along and at == document.along[1] + 1:
                reach = f"{cell(row, document.along[0])}:{cell(row, document.along[1])}"
                sheet.write_formula(row, at, f"=SUM({reach})", looks["number"], value)
            elif value is not None:
                sheet.write_number(row, at, value, looks["number"])
        if column.total is not None:
            last = 4 + len(column.values)
            reach = f"{cell(4, at)}:{cell(max(last - 1, 4), at)}"
            sheet.write_formula(last, at, f"=SUM({reach})", looks["sum"], column.total)
    sheet.freeze_panes(4, 1)
