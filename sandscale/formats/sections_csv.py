"""Sections as CSV, a row for each point of a line: chainage, layer, offset, level. Read and written."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

import numpy as np

from ..core.findings import Finding
from ..core.ground.route.imported import SectionLines
from .level_file import FARTHEST, MOST_LEVELS, Told, UnreadableLevels, number
from .levels_csv import decoded, rows_of, separator_of

_HEADER = {
    "chainage": ("chainage", "ch", "station", "sta"),
    "layer": ("layer", "line", "surface", "name"),
    "offset": ("offset", "dist", "distance", "x"),
    "level": ("level", "elevation", "z", "rl", "height"),
}


def read_sections(content: bytes, name: str) -> tuple[list[SectionLines], tuple[Finding, ...]]:
    """Sections from CSV with columns in any order where a header names them, else chainage, layer, offset,
    level; in m.

    Returns:
        The sections by chainage, and the rows that couldn't be read, and the lines of a single point.

    Raises:
        UnreadableLevels: it is no text, or no row could be read.
    """
    text = decoded(content, name)
    separator = separator_of([line for line in text[:20_000].splitlines() if line.strip()][:50] or [","])
    order, found, told, rows = [0, 1, 2, 3], dict[float, dict[str, list[tuple[float, float]]]](), Told(), 0
    for row, cells in rows_of(text, separator, name):
        plain = [cell.strip().lower() for cell in cells]
        named = [
            next((at for at, cell in enumerate(plain) if cell in names), -1) for names in _HEADER.values()
        ]
        if min(named) >= 0:
            order = named
            continue
        values = [cells[at].strip() if at < len(cells) else "" for at in order]
        chainage, offset, level = (
            number(values[at], separator != ",") if "." not in values[at] else number(values[at])
            for at in (0, 2, 3)
        )
        if (
            chainage is None
            or offset is None
            or level is None
            or not values[1]
            or max(abs(chainage), abs(offset), abs(level)) > FARTHEST
        ):
            told.row(row, "isn't a chainage, a layer, an offset and a level")
            continue
        found.setdefault(chainage, {}).setdefault(values[1], []).append((offset, level))
        rows += 1
        if rows > MOST_LEVELS:
            raise UnreadableLevels(
                f"“{name}” has more than {MOST_LEVELS:,} points.", field="file", remedy="Split it."
            )
    sections = [
        SectionLines(chainage, _lines(chainage, lines, told)) for chainage, lines in sorted(found.items())
    ]
    if not any(section.lines for section in sections):
        raise UnreadableLevels(
            f"No row of “{name}” could be read as chainage, layer, offset, level.", field="columns"
        )
    return [section for section in sections if section.lines], told.findings()


def _lines(chainage: float, lines: dict[str, list[tuple[float, float]]], told: Told) -> dict[str, np.ndarray]:
    made = {}
    for layer, points in lines.items():
        corners = np.array(sorted(points, key=lambda point: point[0]))
        if np.ptp(corners[:, 0]) > 0:
            made[layer] = corners
        else:
            told.add(
                f"{layer} has no width at chainage {chainage:g}; it is left out there.",
                field=layer,
                wrong=True,
            )
    return made


def write_sections(sections: Sequence[SectionLines]) -> bytes:
    """Sections as CSV, in m."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["chainage", "layer", "offset", "level"])
    for section in sections:
        for layer, corners in section.lines.items():
            writer.writerows(
                [repr(float(section.chainage)), layer, repr(float(x)), repr(float(z))] for x, z in corners
            )
    return out.getvalue().encode()
