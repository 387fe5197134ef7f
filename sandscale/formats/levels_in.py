"""Levels from a file of any kind that is read: what it holds is shown first, then taken as it was put right.

Numbers stay as the file has them; what unit they are in is said of the survey, and can be put right later.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice
from typing import Literal, get_args

import numpy as np

from ..core.findings import Finding
from ..core.ground.decided import Taken
from ..core.ground.pieces import Floats, Whole
from ..core.ground.survey import LineKind, Survey, SurveyLine
from ..core.refusals import BadEntry
from . import dxf, geojson, landxml, levels_csv, levels_xlsx
from .level_file import Columns, UnreadableLevels, bounded, columns_of, guessed, number, survey_of_rows

FileKind = Literal["text", "workbook", "dxf", "landxml", "geojson"]
ColumnRole = Literal["", "east", "north", "level", "code"]
COLUMN_ROLES: tuple[ColumnRole, ...] = get_args(ColumnRole)
PartRole = Literal["", "ground", "formation", "boundary", "breakline", "hole"]
PART_ROLES: tuple[PartRole, ...] = get_args(PartRole)
Grouping = Literal["layer", "colour"]
Decimal = Literal["", "point", "comma"]
SAMPLE = 12  # rows shown
_MOST_COLUMNS = 60
_FORMATION = re.compile(r"(?i)form|design|project|proposed|soll|plan")
_BOUNDARY = re.compile(r"(?i)bound|outline|limit|perim|grenz|rand")
_BREAK = re.compile(r"(?i)break|kante|ridge|edge|toe|crest")


@dataclass(frozen=True)
class How:
    """How a file is read; what isn't said is seen from the file.

    Attributes:
        columns: what each column is, of a text or workbook.
        header: whether its first row that holds anything names them.
        decimal: how a text writes decimals.
        sheet: of a workbook.
        by: what parts of a DXF are told apart by.
        roles: what each part of a drawing is taken for; parts not named are left out where any is named.
    """

    columns: tuple[ColumnRole, ...] = ()
    header: bool | None = None
    decimal: Decimal = ""
    sheet: str = ""
    by: Grouping = "layer"
    roles: Mapping[str, PartRole] = field(default_factory=dict)


@dataclass(frozen=True)
class Part:
    """A layer or colour of a drawing, or a surface of a LandXML file, and what it is taken for."""

    name: str
    holds: int
    role: PartRole


@dataclass(frozen=True)
class Seen:
    """What a file holds, as it would be taken.

    Attributes:
        kind: of the file.
        heads: what its header calls the columns; empty without one.
        sample: its first rows.
        columns: what each is taken for.
        decimal: how a text writes decimals.
        sheets: of a workbook, and which is read.
        parts: of a drawing.
        taken: role → levels, lines and triangles.
        findings: what couldn't be read.
        says: why nothing can be taken as it stands; empty where something can.
    """

    kind: FileKind
    heads: tuple[str, ...] = ()
    sample: tuple[tuple[str, ...], ...] = ()
    columns: tuple[ColumnRole, ...] = ()
    decimal: Decimal = ""
    sheets: tuple[str, ...] = ()
    sheet: str = ""
    parts: tuple[Part, ...] = ()
    taken: Mapping[str, Taken] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()
    says: str = ""


def kind_of(content: bytes, name: str) -> FileKind:
    """What kind of file it is, by what it holds."""
    begins = content[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    if begins[:2] == b"PK":
        return "workbook"
    if begins[:1] == b"<":
        return "landxml"
    if begins[:1] == b"{":
        return "geojson"
    if name.lower().endswith(".dxf") or re.match(rb"(999\s+[^\r\n]*\s+)*0\s+SECTION", begins):
        return "dxf"
    return "text"


def read(content: bytes, name: str, how: How) -> Seen:
    """What a file holds, and what would be taken of it.

    Args:
        content: the file.
        name: what the user calls it, for sentences.
        how: what was put right of how it is read.

    Raises:
        UnreadableLevels: it is too large, empty, broken or of no kind that is read.
    """
    bounded(content, name)
    kind = kind_of(content, name)
    if kind == "text":
        return _text(content, name, how)
    if kind == "workbook":
        return _workbook(content, name, how)
    if kind == "dxf":
        return _drawing(content, name, how)
    if kind == "landxml":
        return _landxml(content, name, how)
    found = geojson.read_levels(content, name)
    taken = {"ground": _with_faces(found.survey, found.faces)}
    return Seen("geojson", taken=taken, findings=found.findings)


def _text(content: bytes, name: str, how: How) -> Seen:
    text = levels_csv.decoded(content, name)
    separator, comma = levels_csv.seen(text)
    if how.decimal:
        comma = how.decimal == "comma"
    seen = Seen("text", decimal="comma" if comma else "point")
    return _table(seen, lambda: levels_csv.rows_of(text, separator, name), name, how, comma)


def _workbook(content: bytes, name: str, how: How) -> Seen:
    sheets, rows = levels_xlsx.sheet_rows(content, name, how.sheet)
    chosen = how.sheet or sheets[0]
    seen = Seen("workbook", sheets=tuple(sheets), sheet=chosen)
    return _table(seen, rows, name, how, False)


def _table(seen: Seen, rows: object, name: str, how: How, comma: bool) -> Seen:
    """Rows of cells: their columns, their first rows, and the levels in them."""
    again: Iterator[tuple[int, Sequence[object]]] = rows()  # type: ignore[operator]
    first = [(n, cells) for n, cells in islice(again, 200) if any(_words(c) for c in cells)]
    if not first:
        raise UnreadableLevels(f"“{name}” is empty.", field="file")
    # A sheet's rows are as wide as its widest: what is empty in all of them is no column.
    width = max(n + 1 for _, cells in first for n, cell in enumerate(cells[:_MOST_COLUMNS]) if _words(cell))
    named = columns_of(first[0][1])
    header = (
        how.header if how.header is not None else named is not None or not _any_number(first[0][1], comma)
    )
    columns = how.columns[:width] or _roles(
        named or next((g for _, cells in first if (g := guessed(cells, comma))), None), width
    )
    columns = (*columns, *("",) * (width - len(columns)))
    shown = first[1:] if header else first
    seen = replace(
        seen,
        heads=tuple(_words(c) for c in first[0][1][:width]) if header else (),
        sample=tuple(tuple(_words(c) for c in cells[:width]) for _, cells in shown[:SAMPLE]),
        columns=columns,
    )
    missing = [role for role in ("east", "north", "level") if role not in columns]
    if missing:
        says = f"No column is {' and none is '.join(missing)}."
        return replace(seen, says=f"{says} Say above which column holds what.")
    chosen = Columns(*(columns.index(role) if role in columns else -1 for role in COLUMN_ROLES[1:]))
    after = first[0][0] if header else 0
    fresh: Iterable[tuple[int, Sequence[object]]] = (
        (n, cells)
        for n, cells in rows()
        if n > after  # type: ignore[operator]
    )
    try:
        survey, findings = survey_of_rows(fresh, name, chosen, "m", "m", comma)
    except UnreadableLevels as refusal:
        return replace(seen, says=str(refusal))
    return replace(seen, taken={"ground": Taken(survey, _none())}, findings=findings)


def _words(cell: object) -> str:
    return "" if cell is None else str(cell).strip()[:60]


def _any_number(cells: Sequence[object], comma: bool) -> bool:
    return any(number(cell, comma) is not None for cell in cells)


def _roles(found: Columns | None, width: int) -> tuple[ColumnRole, ...]:
    columns: list[ColumnRole] = [""] * width
    if found is not None:
        for role, at in zip(
            COLUMN_ROLES[1:], (found.east, found.north, found.level, found.code), strict=True
        ):
            if 0 <= at < width:
                columns[at] = role
    return tuple(columns)


def _none() -> Whole:
    return np.zeros((0, 3), np.int64)


def _with_faces(survey: Survey, faces: Floats) -> Taken:
    """A survey whose file holds triangles too: their corners are levels."""
    if not len(faces):
        return Taken(survey, _none())
    corners, index = np.unique(faces.reshape(-1, 3), axis=0, return_inverse=True)
    at = len(survey.points)
    codes = (*(survey.codes or ("",) * at), *("face",) * len(corners))
    rows = survey.rows if len(survey.rows) else np.arange(1, at + 1)
    return Taken(
        replace(
            survey,
            points=np.concatenate([survey.points, corners]),
            codes=codes,
            rows=np.concatenate([rows, np.zeros(len(corners), np.int64)]),
        ),
        index.reshape(-1, 3) + at,
    )


def _drawing(content: bytes, name: str, how: How) -> Seen:
    every = dxf.read_levels(content, name, by=how.by)
    parts = tuple(
        Part(layer, holds, how.roles.get(layer, "") if how.roles else _role_of(layer))
        for layer, holds in sorted(every.layers.items())
    )
    found, taken = every, dict[str, Taken]()
    for role in ("ground", "formation"):
        lines = ("boundary", "breakline", "hole") if role == "ground" else ()
        wanted = [part.name for part in parts if part.role == role or part.role in lines]
        if not any(part.role == role for part in parts):
            continue
        if len(wanted) < len(parts):
            try:
                found = dxf.read_levels(content, name, wanted, by=how.by)
            except UnreadableLevels:
                continue
        kinds = {part.name: part.role for part in parts if part.role in lines}
        taken[role] = _with_faces(_lines_as(found.survey, kinds), found.faces)
    says = "" if taken else "No part is taken for ground or formation levels. Say below which one is."
    return Seen("dxf", parts=parts, taken=taken, findings=every.findings, says=says)


def _role_of(layer: str) -> PartRole:
    if _BOUNDARY.search(layer):
        return "boundary"
    if _FORMATION.search(layer):
        return "formation"
    return "breakline" if _BREAK.search(layer) else "ground"


def _lines_as(survey: Survey, kinds: Mapping[str, str]) -> Survey:
    """Lines of layers that are said to be something are that; their points are levels still."""
    lines = tuple(
        SurveyLine(_kind(kinds[line.layer]), line.corners, line.layer) if line.layer in kinds else line
        for line in survey.lines
    )
    return replace(survey, lines=lines)


def _kind(word: str) -> LineKind:
    kinds: dict[str, LineKind] = {"boundary": "boundary", "hole": "hole"}
    return kinds.get(word, "breakline")


def _landxml(content: bytes, name: str, how: How) -> Seen:
    found = landxml.read_landxml(content, name)
    whole = {
        **{each: Taken(survey, _none()) for each, survey in found.surveys.items()},
        **{each: _of_surface(made.points, made.triangles) for each, made in found.surfaces.items()},
    }
    parts, first = list[Part](), True
    for each, one in whole.items():
        guess: PartRole = (
            "formation" if _FORMATION.search(each) and len(whole) > 1 else "ground" if first else ""
        )
        role = how.roles.get(each, "") if how.roles else guess
        first = first and role != "ground"
        parts.append(Part(each or "points", len(one.survey.points), role))
    names = dict(zip((part.name for part in parts), whole, strict=True))
    taken = {
        role: whole[names[part.name]]
        for role in ("ground", "formation")
        for part in reversed(parts)
        if part.role == role
    }
    says = "" if taken else "No surface is taken for ground or formation. Say below which one is."
    if not whole:
        says = f"“{name}” holds no surface and no points."
    return Seen("landxml", parts=tuple(parts), taken=taken, findings=tuple(found.findings), says=says)


def _of_surface(points: Floats, triangles: Whole) -> Taken:
    return Taken(Survey(points, (), np.arange(1, len(points) + 1)), triangles)


def refuse_part(role: str) -> PartRole:
    """A role a part may have.

    Raises:
        BadEntry: it is none.
    """
    for known in PART_ROLES:
        if role == known:
            return known
    raise BadEntry(f"“{role}” is nothing a part can be.", field="roles")
