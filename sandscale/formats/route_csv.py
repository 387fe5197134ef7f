"""Centrelines and long sections as CSV: corners with their radii; chainages with their levels."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from .level_file import FARTHEST, UnreadableLevels, number
from .levels_csv import decoded, rows_of

_SEPARATORS = (";", "\t", "|", ",", " ")
_CORNER = (("e", "east", "easting", "x"), ("n", "north", "northing", "y"), ("r", "radius"))
_LEVEL = (
    ("chainage", "ch", "station", "sta"),
    ("level", "elevation", "elev", "z", "rl", "height"),
    ("curve", "vertical curve", "vc", "l", "length"),
)
_MOST_ROWS = 2_000


def read_corners(content: bytes, name: str) -> list[tuple[float, float, float]]:
    """Corners as (east, north, radius), in m; a radius that isn't there is 0.

    Raises:
        UnreadableLevels: it is no text, or a row is no corner.
    """
    return _read(content, name, _CORNER, "an easting and a northing")


def read_long_section(content: bytes, name: str) -> list[tuple[float, float, float]]:
    """Points as (chainage, level, length of the vertical curve), in m.

    Raises:
        UnreadableLevels: it is no text, a row is no point, or chainages go back.
    """
    rows = _read(content, name, _LEVEL, "a chainage and a level")
    for before, after in pairwise(rows):
        if after[0] <= before[0]:
            raise UnreadableLevels(
                f"“{name}” goes back: chainage {after[0]:g} stands after {before[0]:g}.",
                field="file", remedy="Put its rows in order.",
            )  # fmt: skip
    return rows


def _read(
    content: bytes, name: str, heads: Sequence[Sequence[str]], called: str
) -> list[tuple[float, float, float]]:
    text = decoded(content, name)
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    separator = next(
        (s for s in _SEPARATORS if lines and all(s in line.strip() for line in lines[:20])), ","
    )  # fmt: skip
    order, found = [0, 1, 2], list[tuple[float, float, float]]()
    for row, cells in rows_of(text, separator, name):
        plain = [cell.strip().lower() for cell in cells]
        if not any(plain):
            continue
        named = [next((at for at, cell in enumerate(plain) if cell in names), -1) for names in heads]
        if not found and min(named[:2]) >= 0:
            order = named
            continue
        values = [_number(cells, at, separator) for at in order]
        if values[0] is None or values[1] is None or not _known(*values):
            raise UnreadableLevels(
                f"Row {row} of “{name}” isn't {called}: “{separator.join(cells)[:60]}”.",
                field="file", remedy="Put that row right, or take it out.",
            )  # fmt: skip
        found.append((values[0], values[1], values[2] or 0.0))
        if len(found) > _MOST_ROWS:
            raise UnreadableLevels(f"“{name}” has more than {_MOST_ROWS} rows.", field="file")
    if len(found) < 2:
        raise UnreadableLevels(
            f"“{name}” holds {len(found) or 'no'} row that is {called}; two at least are needed.",
            field="file",
        )
    return found


def _number(cells: Sequence[str], at: int, separator: str) -> float | None:
    if not 0 <= at < len(cells):
        return None
    cell = cells[at].strip()
    return number(cell, separator != "," and "." not in cell)


def _known(*values: float | None) -> bool:
    return all(value is None or abs(value) <= FARTHEST for value in values)
