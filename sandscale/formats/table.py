"""The rows of a table: text in columns, as a CSV file or the clipboard has it, or a worksheet; out as CSV.

Numbers stand as the project writes them: those of a worksheet, which have no writing of their own, and those
that go out.
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable
from decimal import Decimal

from openpyxl import load_workbook

from ..core.numbers.ways import ways
from ..core.numbers.written import written
from ..core.refusals import Refusal
from .levels_csv import decoded, rows_of, seen
from .levels_xlsx import BROKEN

LARGEST, LARGEST_UNPACKED = 4 * 1024 * 1024, 64 * 1024 * 1024
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 20_002, 60, 500
Cell = str | float | Decimal | None


class UnreadableTable(Refusal):
    """A file that holds no rows."""


def cells(content: bytes, name: str, most: int = MOST_ROWS) -> list[list[str]]:
    """The rows of a table as texts, without its empty ones.

    Args:
        content: the file; a workbook is told by how it begins.
        name: what the user calls it, for sentences.
        most: rows, heads among them.

    Raises:
        UnreadableTable: it is empty, too large, or neither text in columns nor a workbook.
    """
    if len(content) > LARGEST:
        says = f"“{name}” is larger than {LARGEST // 2**20} MB."
        raise UnreadableTable(says, field="file", remedy="Take it in part by part.")
    rows = (_workbook if content[:4] == b"PK\x03\x04" else _text)(content, name, most)
    if not rows:
        raise UnreadableTable(
            f"“{name}” holds no rows.", field="file", remedy="Choose the file with the rows."
        )
    return rows


def _text(content: bytes, name: str, most: int) -> list[list[str]]:
    try:
        text = decoded(content, name)
        separator, _ = seen(text)
        return _bounded(rows_of(text, separator, name), name, most)
    except UnreadableTable:
        raise
    except Refusal as refusal:
        raise UnreadableTable(refusal.sentence, field="file", remedy=refusal.remedy) from None


def _workbook(content: bytes, name: str, most: int) -> list[list[str]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > LARGEST_UNPACKED:
                says = f"“{name}” would unpack to more than {LARGEST_UNPACKED // 2**20} MB."
                raise UnreadableTable(says, field="file", remedy="Save the sheet as CSV.")
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        for sheet in book.worksheets:
            rows = enumerate(sheet.iter_rows(max_col=MOST_COLUMNS, values_only=True), start=1)
            if found := _bounded(rows, name, most):
                return found
        return []
    except BROKEN:
        says = f"“{name}” is broken or no XLSX workbook."
        raise UnreadableTable(says, field="file", remedy="Save it as XLSX again, or as CSV.") from None


def _bounded(rows: Iterable[tuple[int, Iterable[object]]], name: str, most: int) -> list[list[str]]:
    found: list[list[str]] = []
    for _, row in rows:
        texts = [text_of(cell) for cell in row][:MOST_COLUMNS]
        if any(texts):
            found.append(texts)
        if len(found) > most:
            says = f"“{name}” has more than {most - 2} rows."
            raise UnreadableTable(says, field="file", remedy="Take it in part by part.")
    return found


def text_of(cell: object, longest: int = LONGEST_CELL) -> str:
    """A cell of a worksheet as somebody in the project would have typed it."""
    if cell is None or isinstance(cell, bool):
        return ""
    return _number(cell) if isinstance(cell, float | int) else str(cell).strip()[:longest]


def _number(value: float | Decimal) -> str:
    """A number with all digits it is known by, without a power of ten."""
    exact = Decimal(f"{value:.12g}") if isinstance(value, float) else Decimal(value)
    return written(f"{exact.normalize():f}") if exact.is_finite() else ""


def as_csv(rows: Iterable[Iterable[Cell]]) -> bytes:
    """Rows as CSV in UTF-8: with a decimal comma its columns are set apart by semicolons; words that begin
    like a formula stay words in a spreadsheet."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n", delimiter=";" if ways().decimal == "," else ",")
    writer.writerows([_cell(each) for each in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


def _cell(cell: Cell) -> str:
    if cell is None:
        return ""
    if not isinstance(cell, str):
        return _number(cell)
    return f"'{cell}" if cell[:1] in ("=", "+", "-", "@", "\t") else cell
