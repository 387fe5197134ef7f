"""Levels as CSV or any text in columns: read with columns in any order, with or without a header; and
written."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Iterable, Iterator

import numpy as np

from ..core.findings import Finding
from ..core.ground.survey import Survey
from .level_file import Columns, UnreadableLevels, bounded, number, survey_of_rows

_SEPARATORS = (";", "\t", "|", ",", " ")
_LONGEST_CELL = 10_000


def read_levels(
    content: bytes,
    name: str,
    *,
    columns: Columns | None = None,
    unit: str = "m",
    level_unit: str = "m",
    decimal_comma: bool | None = None,
) -> tuple[Survey, tuple[Finding, ...]]:
    """Levels from text in columns.

    Args:
        content: the file.
        name: what the user calls it, for sentences.
        columns: which hold what; told from a header, or as E, N, Z, code, where it is None.
        unit: of east and north.
        level_unit: of the levels.
        decimal_comma: whether decimals stand after a comma; seen from the first rows where it is None.

    Raises:
        UnreadableLevels: it is too large, no text, or holds no levels.
    """
    text = decoded(content, name)
    separator, comma = seen(text)
    if decimal_comma is not None:
        comma = decimal_comma
    return survey_of_rows(rows_of(text, separator, name), name, columns, unit, level_unit, comma)


def decoded(content: bytes, name: str) -> str:
    """A text file's text, in UTF-8, UTF-16 with a mark, or Windows' Latin.

    Raises:
        UnreadableLevels: it is too large, empty or no text.
    """
    bounded(content, name)
    encodings = ("utf-16",) if content[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252")
    for encoding in encodings:
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\0" not in text:
            return text
    raise UnreadableLevels(f"“{name}” is no text.", field="file", remedy="Save it as CSV.")


def rows_of(text: str, separator: str, name: str) -> Iterator[tuple[int, list[str]]]:
    """The rows of a text with their numbers, from 1; lines that begin with # are remarks."""
    lines = io.StringIO(text, newline="")
    if separator == " ":
        for row, line in enumerate(lines, start=1):
            if not line.startswith("#"):
                yield row, line.split()
        return
    csv.field_size_limit(_LONGEST_CELL)
    reader = csv.reader(lines, delimiter=separator)
    try:
        for cells in reader:
            if cells and not cells[0].startswith("#"):
                yield reader.line_num, cells
    except csv.Error:
        raise UnreadableLevels(
            f"Row {reader.line_num} of “{name}” can't be read as columns.",
            field="file",
            remedy="Save it as CSV again.",
        ) from None


def separator_of(lines: Iterable[str]) -> str:
    """What stands between the columns of a text: the sign that splits most of its first lines into equally
    many cells."""
    best, score = ",", 0.0
    taken = list(lines)
    for separator in _SEPARATORS:
        numbers = Counter(len(line.split(separator if separator != " " else None)) for line in taken)
        number_of_cells, times = numbers.most_common(1)[0]
        if number_of_cells >= 3 and times / len(taken) > score + 1e-9:
            best, score = separator, times / len(taken)
    return best


def seen(text: str) -> tuple[str, bool]:
    """What stands between columns, and whether decimals stand after a comma."""
    lines = [line for line in text[:20_000].splitlines() if line.strip() and not line.startswith("#")][
        :50
    ] or [","]
    separator = separator_of(lines)
    cells = [
        cell.strip().strip('"')
        for line in lines
        for cell in (line.split(separator) if separator != " " else line.split())
    ]
    if separator == ",":
        return separator, False
    commas = sum("," in cell and "." not in cell and number(cell, True) is not None for cell in cells)
    points = sum("." in cell and number(cell) is not None for cell in cells)
    return separator, commas > points


def write_levels(survey: Survey) -> bytes:
    """Levels as CSV: E, N, Z and code, in m, a missing level empty. Numbers keep all their digits."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["E", "N", "Z", "code"])
    codes = survey.codes or ("",) * len(survey.points)
    for (east, north, level), code in zip(survey.points.tolist(), codes, strict=True):
        # A code that begins like a formula would be worked out by a spreadsheet.
        writer.writerow(
            [
                repr(east),
                repr(north),
                repr(level) if np.isfinite(level) else "",
                f"'{code}" if code[:1] in ("=", "+", "-", "@") else code,
            ]
        )
    return out.getvalue().encode()
