"""Centrelines, long sections and sections of routes from files: CSV and LandXML."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ....core.ground.route.imported import FORMATION, GROUND, SectionLines
from ....core.refusals import BadEntry
from ....formats.landxml import Alignment, read_landxml
from ....formats.level_file import UnreadableLevels
from ....formats.route_csv import read_corners, read_long_section
from ....formats.sections_csv import read_sections
from ....store.models import ImportedSection, Route
from ...keeping.acting import Actor
from ...keeping.recording import Recording, action, recording
from ...keeping.views import Saved
from .actions import replace_rows, route_of

MOST_SECTIONS = 20_000
_LONGEST_NAME = 60


@action
def bring_in(
    actor: Actor, element_id: int, what: str, name: str, content: bytes, alignment: str = ""
) -> Saved:
    """Take in a route's corners, levels or sections from CSV, or all a LandXML file has of it; they stand in
    place of those there were.

    Raises:
        UnreadableLevels, BadEntry: the file can't be read, or holds several alignments and none is named.
    """
    row = route_of(actor, element_id)
    if b"<LandXML" in content[:4096]:
        found = _alignment(content, name, alignment)
        with recording(actor, f"{row.element.mark}: {name} brought in") as log:
            _take_alignment(log, row, found)
        return log.saved(row)
    if what not in ("corners", "levels", "sections"):
        raise BadEntry("Corners, levels and sections are brought in.", field="what")
    with recording(actor, f"{row.element.mark}: {what} of {name} brought in") as log:
        if what == "corners":
            rows = [
                {"east": _text(e), "north": _text(n), "radius": _text(r) if r else ""}
                for e, n, r in read_corners(content, name)
            ]
            replace_rows(log, row, "corners", rows)
            log.update(row, figure=None, line=[])
        elif what == "levels":
            _take_levels(log, row, read_long_section(content, name))
        else:
            sections, findings = read_sections(content, name)
            if findings:
                raise UnreadableLevels(findings[0].says, field="file", remedy="Put that right in the file.")
            _take_sections(log, row, sections)
    return log.saved(row)


@action
def drop_sections(actor: Actor, element_id: int) -> Saved:
    """Take out the sections that came from elsewhere; the route is built by its typical sections again."""
    row = route_of(actor, element_id)
    with recording(actor, f"{row.element.mark}: sections from elsewhere taken out") as log:
        for each in row.imported:
            log.delete(each)
        log.update(row, from_top="")
    return log.saved(row)


def _text(value: float) -> str:
    return f"{value:.6f}".rstrip("0").rstrip(".")


def _alignment(content: bytes, name: str, wanted: str) -> Alignment:
    found = read_landxml(content, name).alignments
    if not found:
        raise UnreadableLevels(
            f"“{name}” holds no alignment.", field="file", remedy="Export the route to it."
        )
    if wanted in found:
        return found[wanted]
    if len(found) > 1:
        raise BadEntry(
            f"“{name}” holds {len(found)} alignments: {', '.join(list(found)[:8])}.", field="alignment",
            remedy="Say which one.",
        )  # fmt: skip
    return next(iter(found.values()))


def _take_alignment(log: Recording, row: Route, found: Alignment) -> None:
    line = [
        [*e.start, e.direction, e.length, e.curvature, e.end_curvature] for e in found.centreline.elements
    ]
    log.update(row, figure=None, line=line, begins=_text(found.centreline.begin))
    if found.long_section is not None:
        _take_levels(log, row, list(found.long_section.points))
    if found.sections:
        _take_sections(log, row, found.sections)


def _take_levels(log: Recording, row: Route, points: Sequence[tuple[float, float, float]]) -> None:
    rows = [{"chainage": _text(c), "level": _text(z), "curve": _text(v) if v else ""} for c, z, v in points]
    replace_rows(log, row, "levels", rows)


def _take_sections(log: Recording, row: Route, sections: Sequence[SectionLines]) -> None:
    if len(sections) > MOST_SECTIONS:
        raise BadEntry(
            f"A route has {MOST_SECTIONS} sections at most; here are {len(sections)}.", field="file"
        )
    for each in row.imported:
        log.delete(each)
    for section in sections:
        lines = {name[:_LONGEST_NAME]: np.round(line, 6).tolist() for name, line in section.lines.items()}
        log.insert(ImportedSection, route=row.id, chainage=section.chainage, lines=lines)
    log.update(row, from_top="; ".join(_from_top(sections)))


def _from_top(sections: Sequence[SectionLines]) -> list[str]:
    """The names of their lines from the top down, by their mean levels."""
    levels = dict[str, list[float]]()
    for section in sections:
        for name, line in section.lines.items():
            if name != GROUND:
                levels.setdefault(name[:_LONGEST_NAME], []).append(float(line[:, 1].mean()))
    ordered = sorted(levels, key=lambda name: -sum(levels[name]) / len(levels[name]))
    return [name for name in ordered if name != FORMATION] + [name for name in ordered if name == FORMATION]
