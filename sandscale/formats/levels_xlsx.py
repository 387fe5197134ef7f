"""Levels from a worksheet."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Callable, Iterator, Sequence
from xml.etree.ElementTree import ParseError

from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from ..core.findings import Finding
from ..core.ground.survey import Survey
from .level_file import Columns, UnreadableLevels, bounded, survey_of_rows

LARGEST_UNPACKED = 1_000 * 1024 * 1024
_MOST_COLUMNS = 60
# What openpyxl and what it stands on raise over a broken file.
BROKEN = (
    InvalidFileException, zipfile.BadZipFile, zlib.error, ParseError, LookupError, ValueError, TypeError,
    AttributeError, EOFError, OSError, RuntimeError,
)  # fmt: skip


def read_levels(
    content: bytes,
    name: str,
    *,
    sheet: str = "",
    columns: Columns | None = None,
    unit: str = "m",
    level_unit: str = "m",
) -> tuple[Survey, tuple[Finding, ...]]:
    """Levels from a sheet of a workbook.

    Args:
        content: the file.
        name: what the user calls it, for sentences.
        sheet: its name; the first that holds anything where it is empty.
        columns: which hold what; told from a header, or as E, N, Z, code, where it is None.
        unit: of east and north.
        level_unit: of the levels.

    Raises:
        UnreadableLevels: it is no workbook, would unpack too large, or holds no levels.
    """
    _, rows = sheet_rows(content, name, sheet)
    try:
        return survey_of_rows(rows(), name, columns, unit, level_unit, False)
    except BROKEN:
        raise UnreadableLevels(
            f"“{name}” is broken or no XLSX workbook.",
            field="file",
            remedy="Save it as XLSX again, or as CSV.",
        ) from None


def sheet_rows(
    content: bytes, name: str, sheet: str = ""
) -> tuple[list[str], Callable[[], Iterator[tuple[int, Sequence[object]]]]]:
    """The names of a workbook's sheets, the one that is read first, and what gives its rows, as often as it
    is asked.

    Raises:
        UnreadableLevels: it is no workbook, would unpack too large, or has no such sheet.
    """
    bounded(content, name)
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > LARGEST_UNPACKED:
                raise UnreadableLevels(
                    f"“{name}” would unpack to more than {LARGEST_UNPACKED // 2**20} MB.",
                    field="file",
                    remedy="Save its levels as CSV.",
                )
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        if sheet and sheet not in book.sheetnames:
            raise UnreadableLevels(
                f"“{name}” has no sheet “{sheet}”.",
                field="sheet",
                remedy=f"It has {', '.join(book.sheetnames[:10])}.",
            )
        chosen = (
            book[sheet]
            if sheet
            else next(
                (each for each in book.worksheets if each.max_row is None or each.max_row > 1),
                book.worksheets[0],
            )
        )
        others = [each for each in book.sheetnames if each != chosen.title]
        return [chosen.title, *others], lambda: _rows(chosen)
    except BROKEN:
        raise UnreadableLevels(
            f"“{name}” is broken or no XLSX workbook.",
            field="file",
            remedy="Save it as XLSX again, or as CSV.",
        ) from None


def _rows(sheet: object) -> Iterator[tuple[int, Sequence[object]]]:
    yield from enumerate(sheet.iter_rows(max_col=_MOST_COLUMNS, values_only=True), start=1)  # type: ignore[attr-defined]
