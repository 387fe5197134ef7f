"""A network of trenches as a workbook with live formulas: a sheet for each quantity, span by span."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from xlsxwriter.utility import xl_rowcol_to_cell as cell

from ..core.measurers.trench_along import GIVEN, LENGTH, MEAN, PRISMOID, SpanRow
from .book import Book, divided
from .measured import sized, unit
from .works import QuantityTold

_HEAD = 2  # the row the columns' heads stand in
_ACROSS = {"m³": "m²", "m²": "m", "m": ""}


def write(
    title: str,
    told: Sequence[tuple[str, str]],
    lines: Sequence[QuantityTold],
    spans: Mapping[str, tuple[str, Sequence[SpanRow]]],
) -> bytes:
    """The workbook's bytes, in the project's units.

    Args:
        title: of the network.
        told: (what, how) of what it goes by.
        lines: its quantities.
        spans: (metric unit, rows) of those that are told by chainage, by their labels.
    """
    book = Book()
    summary, looks = book.sheet("Summary"), book.looks
    summary.write_string(0, 0, title, looks["title"])
    row = 1
    for what, how in told:
        summary.write_string(row, 0, f"{what}: {how}", looks["plain"])
        row += 1
    for column, word in enumerate(("Quantity", "Unit", "Net", "Gross")):
        summary.write_string(row, column, word, looks["head"])
    for each in lines:
        row += 1
        summary.write_string(row, 0, each.label, looks["plain"])
        summary.write_string(row, 1, each.unit, looks["plain"])
        if each.label in spans:
            metric, rows = spans[each.label]
            whole = _sheet(book, each.label, metric, rows)
            summary.write_formula(row, 2, f"={whole}", looks["number"], each.net)
        else:
            summary.write_number(row, 2, each.net, looks["number"])
        if each.gross != each.net:
            summary.write_number(row, 3, each.gross, looks["number"])
    summary.set_column(0, 0, 38)
    summary.set_column(1, 3, 13)
    return book.content()


def _sheet(book: Book, label: str, metric: str, rows: Sequence[SpanRow]) -> str:
    """One quantity; gives where its whole stands."""
    sheet, looks = book.sheet(label), book.looks
    sheet.write_string(0, 0, label, looks["title"])
    of, here, m = unit(_ACROSS[metric]), unit(metric), unit("m")
    heads = ("Run or pit", f"from {m}", f"to {m}", f"at from {of}", f"middle {of}", f"at to {of}", here)
    for column, word in enumerate((*heads, f"up to here {here}")):
        sheet.write_string(_HEAD, column, word.strip(), looks["head"])
    sheet.freeze_panes(_HEAD + 1, 1)
    sheet.set_column(0, 0, 20)
    sheet.set_column(1, 7, 13)
    running, first = 0.0, _HEAD + 1
    for at, each in enumerate(rows, start=first):
        sheet.write_string(at, 0, each.where, looks["plain"])
        if each.rule != GIVEN:
            sheet.write_number(at, 1, sized(each.begin, "m"), looks["size"])
            sheet.write_number(at, 2, sized(each.end, "m"), looks["size"])
        for column, size in enumerate(each.sizes, start=3):
            if size is not None:
                sheet.write_number(at, column, sized(size, _ACROSS[metric]), looks["size"])
        amount = sized(each.amount, metric)
        running += amount
        formula = _formula(each, at, metric)
        if formula:
            sheet.write_formula(at, 6, formula, looks["number"], amount)
        else:
            sheet.write_number(at, 6, amount, looks["number"])
        before = f"{cell(at - 1, 7)}+" if at > first else ""
        sheet.write_formula(at, 7, f"={before}{cell(at, 6)}", looks["number"], running)
    last = first + len(rows)
    sheet.write_string(last, 0, "Whole", looks["sum"])
    sheet.write_formula(last, 6, f"=SUM({cell(first, 6)}:{cell(last - 1, 6)})", looks["sum"], running)
    return f"'{sheet.get_name()}'!{cell(last, 6, row_abs=True, col_abs=True)}"


def _formula(each: SpanRow, at: int, metric: str) -> str:
    if each.rule == GIVEN:
        return ""
    length, (a, middle, b) = f"({cell(at, 2)}-{cell(at, 1)})", (cell(at, c) for c in (3, 4, 5))
    told = {
        PRISMOID: f"={length}/6*({a}+4*{middle}+{b})", MEAN: f"={length}/2*({a}+{b})",
        LENGTH: f"={length}",
    }.get(each.rule, f"={length}*{middle}")  # fmt: skip
    return f"{told}{divided(metric)}"
