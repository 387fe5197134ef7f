"""What every reader of levels keeps to: limits, how a file is refused, how its rows become a survey."""

from __future__ import annotations

import re
import sys
from array import array
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..core.findings import Finding
from ..core.ground.pieces import Floats
from ..core.ground.survey import Survey, unit_factor
from ..core.refusals import Refusal

LARGEST_FILE = 200 * 1024 * 1024
MOST_LEVELS = 3_000_000
MOST_FINDINGS = 50  # told one by one; the rest are counted
FARTHEST = 1e8  # m; no coordinate of any grid is larger

# Column names as they are met, without case, points and brackets.
_NAMES = {
    "east": (
        "e",
        "east",
        "easting",
        "eastings",
        "x",
        "xcoord",
        "xm",
        "y (east)",
        "rechtswert",
        "este",
        "est",
    ),
    "north": ("n", "north", "northing", "northings", "y", "ycoord", "ym", "hochwert", "norte", "nord"),
    "level": (
        "z",
        "level",
        "levels",
        "elevation",
        "elev",
        "height",
        "h",
        "rl",
        "zcoord",
        "zm",
        "hoehe",
        "höhe",
        "cota",
        "kote",
        "reducedlevel",
    ),
    "code": ("code", "codes", "desc", "description", "feature", "remark", "remarks", "note", "layer", "type"),
    "point": ("point", "pointno", "pt", "ptno", "no", "nr", "id", "name", "number", "pno", "station"),
}
_PLAIN = re.compile(r"-?\d+(\.\d+)?").fullmatch  # most are; they are read without looking farther
_NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?")


class UnreadableLevels(Refusal):
    """A file that can't be taken in as levels."""


@dataclass(frozen=True)
class FileLevels:
    """What a drawing holds of levels.

    Attributes:
        survey: points, and polylines as breaklines.
        faces: n × 3 × 3, the triangles of its surfaces.
        findings: what couldn't be read, and what looks odd.
        layers: layer → entities of levels in it, of all layers.
    """

    survey: Survey
    faces: Floats
    findings: tuple[Finding, ...] = ()
    layers: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True)
class Columns:
    """Which column holds what, from 0; −1 where none does."""

    east: int
    north: int
    level: int
    code: int = -1


def bounded(content: bytes, name: str) -> bytes:
    """A file's content, if it isn't too large or empty.

    Raises:
        UnreadableLevels: it is.
    """
    if len(content) > LARGEST_FILE:
        raise UnreadableLevels(
            f"“{name}” is larger than {LARGEST_FILE // 2**20} MB.",
            field="file",
            remedy="Split it, or thin it out.",
        )
    if not content.strip():
        raise UnreadableLevels(f"“{name}” is empty.", field="file")
    return content


def number(text: object, decimal_comma: bool = False) -> float | None:
    """A number as a survey file writes it; None where it is none. Thousands may be set apart by blanks or
    apostrophes."""
    if isinstance(text, str) and not decimal_comma and _PLAIN(text):
        return float(text)
    if isinstance(text, int | float) and not isinstance(text, bool):
        return float(text)
    if not isinstance(text, str):
        return None
    written = re.sub(r"(?<=\d)[ \u00a0\u202f'’](?=\d{3})", "", text.strip()).replace("−", "-")
    if decimal_comma or ("," in written and "." not in written):
        written = written.replace(".", "").replace(",", ".")
    elif "," in written:
        written = (
            written.replace(",", "")
            if written.rfind(",") < written.rfind(".")
            else written.replace(".", "").replace(",", ".")
        )
    if not _NUMBER.fullmatch(written):
        return None
    return float(written)


def columns_of(header: Sequence[object]) -> Columns | None:
    """The columns a header names; None where it doesn't name east, north and level."""
    plain = [
        re.sub(r"\(.*?\)|\[.*?\]|[^a-zäöü]", "", str(cell).lower()) if cell is not None else ""
        for cell in header
    ]
    found = {
        what: next((at for at, cell in enumerate(plain) if cell in names), -1)
        for what, names in _NAMES.items()
    }
    if min(found["east"], found["north"], found["level"]) < 0:
        return None
    return Columns(found["east"], found["north"], found["level"], found["code"])


def guessed(row: Sequence[object], decimal_comma: bool) -> Columns | None:
    """The columns of a row without a header: east, north, level, after a point number where there is one.

    A first column counts as a point number when it is no number, or a whole one before three numbers that
    aren't all whole.
    """
    values = [number(cell, decimal_comma) for cell in row]
    numeric = [value is not None for value in values]
    counted = (
        len(values) > 3
        and all(numeric[:4])
        and values[0] % 1 == 0
        and any(value % 1 for value in values[1:4])
    )
    start = 1 if numeric[:1] == [False] or counted else 0
    if len(numeric) < start + 3 or not all(numeric[start : start + 2]):
        return None
    return Columns(start, start + 1, start + 2, start + 3 if len(row) > start + 3 else -1)


def survey_of_rows(
    rows: Iterable[tuple[int, Sequence[object]]],
    name: str,
    columns: Columns | None,
    unit: str,
    level_unit: str,
    decimal_comma: bool,
) -> tuple[Survey, tuple[Finding, ...]]:
    """A survey from rows of cells, and what couldn't be read of them.

    Args:
        rows: (row number in the file, cells).
        name: of the file, for sentences.
        columns: which hold what; told from a header or the first row of numbers where it is None.
        unit: of east and north.
        level_unit: of the levels.
        decimal_comma: whether decimals stand after a comma.

    Raises:
        UnreadableLevels: no row holds levels, or there are too many.
    """
    values, numbers, codes = array("d"), array("q"), list[str]()
    told = Told()
    for row, cells in rows:
        if columns is None:
            if _blank(cells):
                continue
            columns = columns_of(cells)
            if columns is not None:
                continue
            columns = guessed(cells, decimal_comma)
            if columns is None:
                told.row(row, "holds no levels yet")
                continue
        place = _place(cells, columns, decimal_comma)
        if isinstance(place, str):
            if (
                not _blank(cells) and columns_of(cells) is None
            ):  # a header may stand above rows whose columns were chosen
                told.row(row, place)
            continue
        values.extend(place)
        numbers.append(row)
        code = cells[columns.code] if 0 <= columns.code < len(cells) else None
        codes.append("" if code is None else sys.intern(str(code).strip()))
        if len(numbers) > MOST_LEVELS:
            raise UnreadableLevels(
                f"“{name}” has more than {MOST_LEVELS:,} levels.",
                field="file",
                remedy="Split it, or thin it out.",
            )
    if not numbers:
        raise UnreadableLevels(
            f"No row of “{name}” could be read as east, north and level.",
            field="columns",
            remedy="Choose the columns, and how decimals are written.",
        )
    factor = np.array([unit_factor(unit), unit_factor(unit), unit_factor(level_unit)])
    points = np.frombuffer(values, dtype=float).reshape(-1, 3) * factor
    return Survey(points, tuple(codes), np.frombuffer(numbers, dtype=np.int64).copy()), told.findings()


def _blank(cells: Sequence[object]) -> bool:
    return all(cell is None or (isinstance(cell, str) and not cell.strip()) for cell in cells)


def _place(
    cells: Sequence[object], columns: Columns, decimal_comma: bool
) -> tuple[float, float, float] | str:
    """East, north and level of a row, the level NaN where it is empty; or why it can't be read."""
    found = []
    for what, at in (("east", columns.east), ("north", columns.north), ("level", columns.level)):
        cell = cells[at] if 0 <= at < len(cells) else None
        value = number(cell, decimal_comma)
        if value is None and what == "level" and (cell is None or str(cell).strip() in ("", "-", "–")):
            value = float("nan")
        if value is None:
            return (
                f"has no number for {what}"
                if cell is None or not str(cell).strip()
                else f"“{str(cell).strip()[:30]}” is no number for {what}"
            )
        if abs(value) > FARTHEST:
            return f"{value:g} is too large for {what}"
        found.append(value)
    return found[0], found[1], found[2]


class Told:
    """What is wrong with a file: the first findings one by one, the others counted, so that none goes
    unsaid."""

    def __init__(self) -> None:
        self.first: list[Finding] = []
        self.more = 0

    def add(self, says: str, line: int = -1, field: str = "", *, wrong: bool = False) -> None:
        """Tell one, at a line of the file (from 0)."""
        if len(self.first) < MOST_FINDINGS:
            self.first.append(Finding(says, line, field, wrong, code=f"{field or 'file'}-wrong"))
        else:
            self.more += 1

    def row(self, row: int, why: str) -> None:
        """Tell of a row (from 1) that is left out."""
        self.add(f"Row {row} {why}; it is left out.", row - 1, "row")

    def findings(self) -> tuple[Finding, ...]:
        """All that was told, and how many more there are."""
        return (
            (
                *self.first,
                Finding(
                    f"{self.more} more like these, which are not told one by one.", wrong=True, code="untold"
                ),
            )
            if self.more
            else tuple(self.first)
        )
