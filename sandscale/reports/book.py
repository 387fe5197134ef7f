"""What workbooks share: their look, the names of their sheets."""

from __future__ import annotations

import io
import re

import xlsxwriter

from ..core.numbers.ways import ways

Looks = dict[str, object]


class Book:
    """A workbook in the making; words are written as words, whatever they begin with."""

    def __init__(self) -> None:
        self.out = io.BytesIO()
        self.book = xlsxwriter.Workbook(
            self.out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
        )
        base = {"font_name": "Arial", "font_size": 10, "valign": "top"}
        formats = {
            "plain": {}, "bold": {"bold": True}, "title": {"bold": True, "font_size": 14},
            "head": {"bold": True, "bottom": 1, "text_wrap": True}, "size": {"num_format": "#,##0.000"},
            "factor": {"num_format": "0.0000"}, "number": {"num_format": "#,##0.00"},
            "sum": {"bold": True, "top": 1, "num_format": "#,##0.00"},
        }  # fmt: skip
        self.looks: Looks = {name: self.book.add_format({**base, **look}) for name, look in formats.items()}
        self._taken = set[str]()

    def sheet(self, name: str) -> xlsxwriter.worksheet.Worksheet:
        """A new sheet, called as much like a name as may be."""
        plain = re.sub(r"[\[\]:*?/\\']", " ", name).strip()[:28] or "Quantity"
        found, number = plain, 1
        while found.lower() in self._taken:
            number += 1
            found = f"{plain[:25]} {number}"
        self._taken.add(found.lower())
        return self.book.add_worksheet(found)

    def content(self) -> bytes:
        """Its bytes, each sheet as wide as a page."""
        for sheet in self.book.worksheets():
            sheet.set_paper(9)
            sheet.fit_to_pages(1, 0)
        self.book.close()
        return self.out.getvalue()


def divided(metric: str) -> str:
    """What a formula over base units is divided by for the project's unit, such as ``/27`` for yd³; nothing
    where they are the same."""
    here = ways().system
    by = here.size(here.symbol(metric))
    return "" if by == 1 else f"/{by:g}"
