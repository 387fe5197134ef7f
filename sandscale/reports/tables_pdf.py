"""Tables by chainage on pages: split over them, and set side by side."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ..typefaces import BOLD, MONO, MONO_BOLD, SANS
from .paper import BOTTOM, INK, LEADING, LEFT, QUIET, RIGHT, RULE, SIZE, Pages, shortened
from .works import ChainageTable, TableColumn

_GAP, _FEW = 18.0, 14  # points between blocks; rows that aren't set in blocks


def set_table(pages: Pages, table: ChainageTable) -> None:
    """A table split over pages: columns that don't fit beside one another follow in another part, a narrow
    table goes on in a block beside itself."""
    held, rest = table.columns[: table.held], table.columns[table.held :]
    parts = list(_side_by_side(held, rest))
    for number, columns in enumerate(parts, start=1):
        part = f", part {number} of {len(parts)}" if len(parts) > 1 else ""
        _part(pages, f"{table.name}{part}", columns)


def _side_by_side(
    held: Sequence[TableColumn], rest: Sequence[TableColumn]
) -> Iterator[Sequence[TableColumn]]:
    room = RIGHT - LEFT - sum(_wide(column) for column in held)
    taken, columns = 0.0, list[TableColumn]()
    for column in rest:
        wide = _wide(column)
        if columns and taken + wide > room:
            yield [*held, *columns]
            taken, columns = 0.0, []
        columns.append(column)
        taken += wide
    yield [*held, *columns]


def _wide(column: TableColumn) -> float:
    cells = [*column.cells(), *([column.cell(column.total)] if column.total is not None else [])]
    longest = max(cells, key=len, default="")
    head = pdfmetrics.stringWidth(column.title, SANS, 7.5)
    if column.words:
        longest_words = max((pdfmetrics.stringWidth(cell, SANS, SIZE) for cell in cells), default=0.0)
        return float(min(max(head, longest_words), 220.0)) + 9
    return float(max(head, pdfmetrics.stringWidth(longest, MONO_BOLD, SIZE))) + 9


def _part(pages: Pages, title: str, columns: Sequence[TableColumn]) -> None:
    rows = list(zip(*(column.cells() for column in columns), strict=True))
    wides = [_wide(column) for column in columns]
    beside = max(int((RIGHT - LEFT + _GAP) // (sum(wides) + _GAP)), 1) if len(rows) > _FEW else 1
    pages.room(min(len(rows), 8) + 5)
    pages.y -= 8
    pages.words(title, bold=True, size=10)
    at = 0
    title = f"{title}, continued"
    while at < len(rows):
        room = int((pages.y - BOTTOM) / LEADING) - 2  # for its heads, and for the whole
        if room < 4:
            pages.turn()
            pages.words(title, bold=True, size=10)
            continue
        high = min(room, math.ceil((len(rows) - at) / beside))
        top = pages.y
        for block in range(beside):
            left = LEFT + block * (sum(wides) + _GAP)
            if at < len(rows):
                _block(pages.canvas, columns, wides, rows[at : at + high], left, top)
            at += high
        pages.y = top - (high + 1) * LEADING - 2
    if any(column.total is not None for column in columns):
        pages.room(1.5)
        cells = [
            "whole" if n == 0 else column.cell(column.total) if column.total is not None else ""
            for n, column in enumerate(columns)
        ]
        pages.canvas.setStrokeColor(INK)
        pages.canvas.line(LEFT, pages.y, LEFT + sum(wides), pages.y)
        _row(pages.canvas, columns, wides, cells, LEFT, pages.y - SIZE - 1, True)
        pages.y -= LEADING + 4


def _block(
    canvas: Canvas,
    columns: Sequence[TableColumn],
    wides: Sequence[float],
    rows: Sequence[Sequence[str]],
    left: float,
    top: float,
) -> None:
    canvas.setFillColor(QUIET)
    canvas.setFont(SANS, 7.5)
    x = left
    for column, wide in zip(columns, wides, strict=True):
        if column.words:
            canvas.drawString(x, top - 8, column.title)
        else:
            canvas.drawRightString(x + wide - 3, top - 8, column.title)
        x += wide
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.6)
    canvas.line(left, top - LEADING, x, top - LEADING)
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.4)
    for n, cells in enumerate(rows):
        base = top - LEADING * (n + 1)
        _row(canvas, columns, wides, cells, left, base - SIZE, False)
        canvas.line(left, base - LEADING + 0.5, x, base - LEADING + 0.5)


def _row(
    canvas: Canvas,
    columns: Sequence[TableColumn],
    wides: Sequence[float],
    cells: Sequence[str],
    left: float,
    base: float,
    bold: bool,
) -> None:
    canvas.setFillColor(INK)
    x = left
    for column, wide, cell in zip(columns, wides, cells, strict=True):
        if column.words or cell == "whole":
            font = BOLD if bold else SANS
            canvas.setFont(font, SIZE)
            canvas.drawString(x, base, shortened(cell, font, SIZE, wide - 4))
        else:
            canvas.setFont(MONO_BOLD if bold else MONO, SIZE)
            canvas.drawRightString(x + wide - 3, base, cell)
        x += wide
