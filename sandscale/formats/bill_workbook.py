"""A client's bill of quantities as a workbook: its sheets read row by row, and the same file given back with
rates and amounts filled in.

What is given back is the file as it came, but for the cells that were filled: sheets' parts are written anew
cell by cell, and every other part is copied. Formulas stay; what they came to is left out, so that whoever
opens the file reckons them again.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from lxml import etree
from openpyxl import load_workbook
from openpyxl.utils import get_column_letter
from openpyxl.utils.cell import column_index_from_string, coordinate_from_string

from ..core.refusals import Refusal
from .levels_xlsx import BROKEN
from .table import text_of

MEDIA_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
LARGEST, LARGEST_UNPACKED = 25 * 1024 * 1024, 400 * 1024 * 1024
MOST_SHEETS, MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 60, 30_000, 40, 2_000
_MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
_RELATED = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_PACKAGE = "http://schemas.openxmlformats.org/package/2006/relationships"
# What a name stands for: a sheet, and a cell or the first of a range.
_RANGE = re.compile(
    r"(?:'(?P<quoted>(?:[^']|'')+)'|(?P<sheet>[^'!]+))!\$?(?P<column>[A-Z]{1,3})\$?(?P<row>[1-9]\d{0,6})"
    r"(?::\$?[A-Z]+\$?\d+)?"
)
_OLE = b"\xd0\xcf\x11\xe0"
Filled = Mapping[str, Mapping[tuple[int, int], Decimal]]  # by sheet; by row from 1 and column from 0


class UnreadableBill(Refusal):
    """A file that holds no bill that can be read."""


@dataclass(frozen=True)
class SheetRows:
    """A sheet of a workbook.

    Attributes:
        hidden: whether its reader doesn't see it.
        rows: those that hold anything, each with its number from 1 and the texts of its cells.
        formulas: the cells that hold one, by row and column from 0.
    """

    name: str
    hidden: bool
    rows: Sequence[tuple[int, tuple[str, ...]]]
    formulas: frozenset[tuple[int, int]] = frozenset()


def read(content: bytes, name: str) -> list[SheetRows]:
    """The sheets of a workbook.

    Args:
        content: the file.
        name: what the user calls it, for sentences.

    Raises:
        UnreadableBill: it is encrypted, holds macros, is too large, or is no workbook.
    """
    refuse_unsafe(content, name)
    try:
        values = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        formulas = load_workbook(io.BytesIO(content), read_only=True)
        if len(values.worksheets) > MOST_SHEETS:
            raise _refused(
                f"“{name}” has more than {MOST_SHEETS} sheets.", "Take out those that hold no bill."
            )
        left, found = MOST_ROWS, []
        for sheet, as_typed in zip(values.worksheets, formulas.worksheets, strict=True):
            rows = _rows(sheet, name, left)
            left -= len(rows)
            cells = frozenset(_formulas(as_typed, rows[-1][0] if rows else 0))
            found.append(SheetRows(sheet.title, sheet.sheet_state != "visible", rows, cells))
    except BROKEN:
        raise _refused(f"“{name}” is broken or no XLSX workbook.", "Save it as XLSX again.") from None
    if not any(sheet.rows for sheet in found):
        raise _refused(f"“{name}” holds no rows.", "Choose the workbook with the bill.")
    return found


def _refused(says: str, remedy: str) -> UnreadableBill:
    return UnreadableBill(says, field="file", remedy=remedy)


def refuse_unsafe(content: bytes, name: str) -> None:
    """Refuse a file that is no workbook, or one that is encrypted, too large, or holds macros.

    Raises:
        UnreadableBill: it is.
    """
    if len(content) > LARGEST:
        raise _refused(
            f"“{name}” is larger than {LARGEST // 2**20} MB.",
            "Take out pictures and sheets that hold no bill.",
        )
    if content[:4] == _OLE:
        raise _refused(
            f"“{name}” is encrypted, or of an older kind than XLSX.", "Save it as XLSX without a password."
        )
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            entries = packed.infolist()
    except BROKEN:
        raise _refused(f"“{name}” is broken or no XLSX workbook.", "Save it as XLSX.") from None
    if sum(entry.file_size for entry in entries) > LARGEST_UNPACKED:
        raise _refused(
            f"“{name}” would unpack to more than {LARGEST_UNPACKED // 2**20} MB.",
            "Send the sheet with the bill alone.",
        )
    names = {entry.filename.lower() for entry in entries}
    if len(names) != len(entries) or "xl/workbook.xml" not in names:
        raise _refused(f"“{name}” is no XLSX workbook.", "Save it as XLSX.")
    if any(each.endswith(("vbaproject.bin", "vbadata.xml")) or "/macrosheets/" in each for each in names):
        raise _refused(f"“{name}” holds macros, which are kept out.", "Save it as XLSX, without macros.")


def _rows(sheet: Any, name: str, left: int) -> list[tuple[int, tuple[str, ...]]]:
    found = []
    for number, row in enumerate(sheet.iter_rows(max_col=MOST_COLUMNS, values_only=True), start=1):
        texts = tuple(text_of(cell, LONGEST_CELL) for cell in row)
        if any(texts):
            found.append((number, texts))
        if len(found) > left:
            raise _refused(
                f"“{name}” has more than {MOST_ROWS:,} rows with something in them.",
                "Send the sheet with the bill alone, or in parts.",
            )
        if number > (found[-1][0] if found else 0) + MOST_ROWS:
            break  # rows that are only marked, without anything in them
    wide = max((at + 1 for _, texts in found for at, text in enumerate(texts) if text), default=0)
    return [(number, texts[:wide]) for number, texts in found]


def _formulas(sheet: Any, last: int) -> list[tuple[int, int]]:
    # Also below what has values: a formula that was never worked out has none.
    bounds = {"max_row": last + 1_000, "max_col": MOST_COLUMNS}
    return [
        (number, column)
        for number, row in enumerate(sheet.iter_rows(**bounds, values_only=True), start=1)
        for column, cell in enumerate(row)
        if isinstance(cell, str) and cell.startswith("=")
    ]


def fill(content: bytes, filled: Filled) -> bytes:
    """The same workbook with numbers in some of its cells; a cell that holds a formula keeps it.

    Args:
        content: the workbook, as it was read.
        filled: what to write, by the sheets' names.
    """
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(content)) as packed,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made,
    ):
        parts = _parts_of(packed)
        written = {parts[name]: cells for name, cells in filled.items() if cells and name in parts}
        for entry in packed.infolist():
            part = packed.read(entry)
            if entry.filename in written:
                part = _sheet(part, written[entry.filename])
            elif written and entry.filename in parts.values():
                part = _sheet(part, {})
            elif written and entry.filename == "xl/workbook.xml":
                part = _reckoned_when_opened(part)
            made.writestr(entry, part, zipfile.ZIP_DEFLATED if entry.file_size else zipfile.ZIP_STORED)
    return out.getvalue()


def _parse(part: bytes) -> Any:
    return etree.fromstring(part, etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False))


def _parts_of(packed: zipfile.ZipFile) -> dict[str, str]:
    """The part that holds each sheet, by the sheet's name."""
    related = {
        each.get("Id"): each.get("Target")
        for each in _parse(packed.read("xl/_rels/workbook.xml.rels")).iter(f"{{{_PACKAGE}}}Relationship")
    }
    found = {}
    for sheet in _parse(packed.read("xl/workbook.xml")).iter(f"{{{_MAIN}}}sheet"):
        target = related.get(sheet.get(f"{{{_RELATED}}}id"), "")
        found[sheet.get("name")] = target.lstrip("/") if target.startswith("/") else f"xl/{target}"
    return found


def names_of(content: bytes) -> dict[str, tuple[str, str]]:
    """The ranges that a workbook names for all its sheets: the sheet and first cell of each."""
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        named = list(_parse(packed.read("xl/workbook.xml")).iter(f"{{{_MAIN}}}definedName"))
    found = {}
    for each in named:
        at = _RANGE.fullmatch((each.text or "").strip())
        if at and each.get("localSheetId") is None and not each.get("name", "").startswith("_xlnm."):
            sheet = (at["quoted"] or "").replace("''", "'") or at["sheet"]
            found[each.get("name")] = (sheet, f"{at['column']}{at['row']}")
    return found


def _sheet(part: bytes, cells: Mapping[tuple[int, int], Decimal]) -> bytes:
    """A sheet's part with numbers in some cells, and without what its formulas came to."""
    root = _parse(part)
    rows = {int(row.get("r")): row for row in root.iter(f"{{{_MAIN}}}row") if row.get("r")}
    for (number, column), value in sorted(cells.items()):
        if number not in rows:
            rows[number] = _new_row(root, number, rows)
        _write(rows[number], number, column, value)
    for cell in root.iter(f"{{{_MAIN}}}c"):
        came_to = cell.find(f"{{{_MAIN}}}v")
        if cell.find(f"{{{_MAIN}}}f") is not None and came_to is not None:
            cell.remove(came_to)
            cell.attrib.pop("t", None)
    return _told(root)


def _new_row(root: Any, number: int, rows: Mapping[int, Any]) -> Any:
    """A row that the sheet had nothing in, after the last of those above it."""
    row = etree.Element(f"{{{_MAIN}}}row", r=str(number))
    if above := [each for each in rows if each < number]:
        rows[max(above)].addnext(row)
    else:
        next(root.iter(f"{{{_MAIN}}}sheetData")).insert(0, row)
    return row


def _write(row: Any, number: int, column: int, value: Decimal) -> None:
    at = f"{get_column_letter(column + 1)}{number}"
    cell = next((each for each in row if each.get("r") == at), None)
    if cell is None:
        cell = etree.Element(f"{{{_MAIN}}}c", r=at)
        if row.get("s"):
            cell.set("s", row.get("s"))
        row.insert(sum(_column(each) < column for each in row), cell)
    if cell.find(f"{{{_MAIN}}}f") is not None:
        return
    for child in list(cell):
        cell.remove(child)
    cell.attrib.pop("t", None)
    etree.SubElement(cell, f"{{{_MAIN}}}v").text = f"{value:f}"


def _column(cell: Any) -> int:
    return int(column_index_from_string(coordinate_from_string(cell.get("r"))[0])) - 1


def _reckoned_when_opened(part: bytes) -> bytes:
    """The workbook's part, told to reckon its formulas when it is opened."""
    root = _parse(part)
    mode = root.find(f"{{{_MAIN}}}calcPr")
    if mode is None:
        mode = etree.Element(f"{{{_MAIN}}}calcPr")
        after = [root.find(f"{{{_MAIN}}}{name}") for name in ("definedNames", "externalReferences", "sheets")]
        place = next(each for each in after if each is not None)
        place.addnext(mode)
    mode.set("fullCalcOnLoad", "1")
    return _told(root)


def _told(root: Any) -> bytes:
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True))
