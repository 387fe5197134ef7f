"""The proof of an earthwork as PDF: its numbers, the level plan with squares and volumes, every section with
its area, area sheet, volume sheet, what was found and decided."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

import numpy as np
import shapely
from reportlab.lib.colors import Color, HexColor
from reportlab.pdfgen.canvas import Canvas

from ..core.ground.earthwork import CrossSection
from ..core.ground.pieces import Floats, Region
from ..core.measurers.earthwork import METHOD_WORDS
from ..core.numbers.working import shown
from ..typefaces import BOLD, MONO, SANS
from .drawing import POINT, SCALES, Frame, Placing, label, runs, scale_bar, stroke
from .earthwork import EarthDocument
from .measured import area, length, unit, volume
from .paper import BOTTOM, INK, LEFT, QUIET, RIGHT, RULE, TOP, Column, Heading, Pages, Progress, shortened

CUT, FILL = HexColor("#B86F24"), HexColor("#1D6670")
CUT_TINT, FILL_TINT = Color(0.965, 0.902, 0.824), Color(0.851, 0.914, 0.914)
GROUND_LINE, CONTOUR = HexColor("#23211D"), HexColor("#C9BFA9")
_MOST_TEXTS = 1_200


def write(document: EarthDocument, progress: Progress) -> bytes:
    """The document's bytes."""
    heading = Heading(document.project, document.client, f"Earthwork {document.title}", "Proof of volumes")
    pages = Pages(heading, _PAIR)
    _numbers(pages, document)
    if "findings" in document.parts:
        _findings(pages, document)
    progress(0.1)
    if "plan" in document.parts:
        _plan(pages, document)
    progress(0.25)
    if "sections" in document.parts:
        _sections(pages, document, progress)
    if "areas" in document.parts:
        _areas(pages, document)
    if "volumes" in document.parts:
        _volumes(pages, document)
    if "squares" in document.parts:
        _squares(pages, document)
    progress(1.0)
    return pages.finish()


_PAIR = (Column("", LEFT, 190), Column("", LEFT + 200, 230), Column("", LEFT + 440, 71, True))


def _numbers(pages: Pages, document: EarthDocument) -> None:
    made, m3, m2 = document.reckoned, unit("m³"), unit("m²")
    for what, how in document.told:
        pages.row((what, how, ""))
    _under(pages, "Dug, by class", m3)
    for share in made.shares:
        pages.row((share.name, f"over {area(share.area)} {m2}", volume(share.volume)))
    for share in made.shares:
        for words, value in share.bands:
            pages.row((f"{share.name}, {words}", "by depth below stripped ground", volume(value)))
        for words, value in share.stages:
            pages.row((f"{share.name}, {words}", "by stage", volume(value)))
    _under(pages, "Fill", m3)
    pages.row(("Fill", METHOD_WORDS[made.method], volume(made.fill)))
    for words, value in made.fill_stages:
        pages.row((f"Fill, {words}", "by stage", volume(value)))
    _under(pages, "Methods side by side, between stripped ground and formation", f"cut, fill {m3}")
    for each in made.methods:
        told = each.says or f"cut {volume(each.cut)}, fill {volume(each.fill)}"
        billed = "billed" if each.name == made.method else ""
        pages.row((METHOD_WORDS[each.name].capitalize(), told, billed), bold=bool(billed))
    _under(pages, "What becomes of it", m3)
    haul = made.haul
    for words, key in (
        ("Used for the fill, in place", "reused"), ("Carted away, in place", "exported"),
        ("Carted away, loose", "exported_loose"), ("Brought in, loose", "imported_loose"),
    ):  # fmt: skip
        pages.row((words, "", volume(haul[key])))
    for words, key in (("Loads away", "export_loads"), ("Loads in", "import_loads")):
        if haul[key]:
            pages.row((words, "", shown(haul[key], 0)))
    _under(pages, "Areas", m2)
    for words, square in (
        ("Formation in plan", made.floor), ("Slopes, true area", made.slopes), ("Footprint", made.footprint)
    ):  # fmt: skip
        pages.row((words, "", area(square)))


def _under(pages: Pages, words: str, right: str) -> None:
    pages.row((words, "", right), bold=True, above=9)


def _findings(pages: Pages, document: EarthDocument) -> None:
    pages.room(6)
    pages.words("What was found, and what was decided about it", bold=True, size=10)
    for says in document.findings or ["Nothing looks wrong."]:
        pages.words(says)
    for says in document.decided:
        pages.words(says, color=QUIET)


def _plan(pages: Pages, document: EarthDocument) -> None:
    pages.columns = ()
    pages.turn()
    canvas, footprint = pages.canvas, document.work.footprint
    margin = max(footprint.bounds[2] - footprint.bounds[0], footprint.bounds[3] - footprint.bounds[1]) * 0.05
    bounds = shapely.bounds(footprint.buffer(margin, join_style="mitre")).tolist()
    frame = Frame(bounds, LEFT, BOTTOM + 24, RIGHT - LEFT, TOP - BOTTOM - 48)
    seen = shapely.box(*bounds)
    label(
        canvas,
        LEFT,
        TOP - 12,
        f"Level plan with squares and volumes, 1:{frame.ratio}",
        BOLD,
    )
    earth = document.work.between
    for some, tint in ((earth.cut_pieces, CUT_TINT), (earth.fill_pieces, FILL_TINT)):
        _fill_pieces(canvas, frame, some.plan, tint)
    for contour in document.contours:
        for part in _parts(shapely.intersection(shapely.linestrings(contour.line), seen)):
            stroke(canvas, frame, part, CONTOUR, 0.4)
    for outline in document.cells.outlines:
        for part in shapely.get_parts(shapely.get_exterior_ring(shapely.get_parts(outline))):
            stroke(canvas, frame, shapely.get_coordinates(part), QUIET, 0.3)
    _square_texts(canvas, frame, document)
    for line in document.zero_lines:
        stroke(canvas, frame, line, INK, 1.0, (4, 2))
    for name, ring in document.rings:
        corners = np.array([corner[:2] for corner in (*ring, ring[0])], dtype=float)
        stroke(canvas, frame, corners, INK, 0.9)
        top = corners[corners[:, 1].argmax()]
        x, y = frame(top)
        label(canvas, x + 2, y + 3, name, SANS, 6.5)
    for part in shapely.get_parts(footprint):
        stroke(canvas, frame, shapely.get_coordinates(part.exterior), QUIET, 0.5, (1, 2))
    _scale_bar(canvas, frame)
    pages.y = BOTTOM + 10


def _fill_pieces(canvas: Canvas, frame: Frame, plan: Floats, tint: Color) -> None:
    canvas.setFillColor(tint)
    canvas.setStrokeColor(tint)
    canvas.setLineWidth(0.2)
    path = canvas.beginPath()
    for a, b, c in plan:
        path.moveTo(*frame(a))
        path.lineTo(*frame(b))
        path.lineTo(*frame(c))
        path.close()
    canvas.drawPath(path, stroke=1, fill=1)


def _square_texts(canvas: Canvas, frame: Frame, document: EarthDocument) -> None:
    """Ground over formation, and the volume, in each square that has room."""
    cells = document.cells
    wide = math.sqrt(float(np.max(cells.areas, initial=0.0))) * frame.size
    if wide < 20 or len(cells.outlines) > _MOST_TEXTS:
        return
    size = min(5.5, wide / 8)
    middles = shapely.get_coordinates(shapely.point_on_surface(np.array(cells.outlines)))
    for middle, ground, formation, cube in zip(
        middles, cells.ground, cells.formation, cells.volumes, strict=True
    ):
        x, y = frame(middle)
        for down, words, color in (
            (0.4, length(float(ground)), INK), (-0.7, length(float(formation)), QUIET),
            (-1.9, volume(abs(float(cube))), CUT if cube >= 0 else FILL),
        ):  # fmt: skip
            canvas.setFont(MONO, size)
            canvas.setFillColor(color)
            canvas.drawCentredString(x, y + down * size, words)


def _parts(shape: Region) -> Iterable[Floats]:
    for part in shapely.get_parts(shape):
        if part.geom_type == "LineString" and not part.is_empty:
            yield shapely.get_coordinates(part)


def _scale_bar(canvas: Canvas, frame: Frame) -> None:
    x, y = LEFT, BOTTOM + 8
    scale_bar(canvas, frame)
    for at, (told, color) in enumerate(
        (("cut", CUT), ("fill", FILL), ("in a square: ground, formation, volume", QUIET))
    ):
        label(canvas, x + 210 + (0, 30, 60)[at], y - 3, told, SANS, 7, color)


def _sections(pages: Pages, document: EarthDocument, progress: Progress) -> None:
    """Every section, so many to a page, all to one scale of lengths and one of heights."""
    sections = [each for each in document.sections if np.isfinite(each.offsets).sum() > 1]
    if not sections:
        return
    pages.columns = ()
    each_high = (TOP - BOTTOM - 20) / document.per_page
    rise = max(max(float(np.nanmax([_rise(s) for s in sections])), 0.2), 1e-9)
    wide = max(float(np.nanmax(s.offsets) - np.nanmin(s.offsets)) for s in sections)
    along = next((r for r in SCALES if r >= wide / ((RIGHT - LEFT - 70) * POINT)), SCALES[-1])
    up = next((r for r in SCALES if r >= rise / ((each_high - 44) * POINT)), SCALES[-1])
    up = min(up, along)
    for number, section in enumerate(sections):
        if number % document.per_page == 0:
            pages.turn()
            label(pages.canvas, LEFT, TOP - 10, f"Sections, lengths 1:{along}, heights 1:{up}", BOLD)
        bottom = TOP - 16 - each_high * (number % document.per_page + 1)
        _section(pages.canvas, section, document, bottom, each_high, along, up)
        progress(0.25 + 0.6 * number / len(sections))
    pages.y = BOTTOM + 10


def _rise(section: CrossSection) -> float:
    levels = np.concatenate(list(section.lines.values()))
    return float(np.nanmax(levels) - np.nanmin(levels)) if np.isfinite(levels).any() else 0.0


def _section(
    canvas: Canvas,
    section: CrossSection,
    document: EarthDocument,
    bottom: float,
    high: float,
    along: float,
    up: float,
) -> None:
    across, rise = 1 / (along * POINT), 1 / (up * POINT)
    levels = np.concatenate(list(section.lines.values()))
    low = float(np.floor(np.nanmin(levels) * 2) / 2)
    left = LEFT + 46

    def frame(place: Sequence[float]) -> tuple[float, float]:
        return float(left + place[0] * across), float(bottom + 20 + (place[1] - low) * rise)

    start = float(np.nanmin(section.offsets))
    offsets = section.offsets - start
    ground, formation = section.lines["ground"], section.lines["formation"]
    stripped = section.lines.get(document.work.stripped, ground)
    bottoms = [section.lines[key] for key in document.work.dig.classes]
    _between(canvas, frame, offsets, stripped, np.fmin(stripped, formation), CUT_TINT)
    if bottoms:
        _between(canvas, frame, offsets, formation, np.fmin(bottoms[-1], formation), FILL_TINT)
    for key, values in section.lines.items():
        color, width = (
            (GROUND_LINE, 1.0) if key == "ground" else (FILL, 1.0) if key == "formation" else (QUIET, 0.4)
        )
        for part in runs(offsets, values):
            stroke(canvas, frame, part, color, width, () if key in ("ground", "formation") else (2, 1))
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.5)
    canvas.line(LEFT, bottom + 4, RIGHT, bottom + 4)
    x, y = frame((0, low))
    canvas.line(x - 3, y, x + float(np.nanmax(offsets)) * across, y)
    label(canvas, LEFT, y - 2, f"{length(low)} {unit('m')}", MONO, 6.5, QUIET)
    top = bottom + high - 12
    title = f"{section.name}, at {length(section.chainage)} {unit('m')}"
    label(canvas, LEFT, top, shortened(title, BOLD, 8, 190), BOLD, 8)
    areas = f"cut {area(section.cut)} {unit('m²')}   fill {area(section.fill)} {unit('m²')}"
    label(canvas, LEFT + 200, top, areas, MONO, 8)
    ends = " to ".join(f"{length(e)} / {length(n)}" for e, n in section.ends)
    label(canvas, left, bottom + 8, f"E / N {ends}", MONO, 6, QUIET)
    last = f"{length(float(np.nanmax(offsets)))} {unit('m')} long"
    canvas.setFont(MONO, 6)
    canvas.drawRightString(RIGHT, bottom + 8, last)


def _between(
    canvas: Canvas,
    frame: Placing,
    offsets: Floats,
    upper: Floats,
    lower: Floats,
    tint: Color,
) -> None:
    """Shade between two lines where the upper one lies higher."""
    canvas.setFillColor(tint)
    for n in range(len(offsets) - 1):
        x = offsets[n : n + 2]
        top, base = upper[n : n + 2], lower[n : n + 2]
        if not (np.isfinite(x).all() and np.isfinite(top).all() and np.isfinite(base).all()):
            continue
        if (top - base).max() <= 0:
            continue
        path = canvas.beginPath()
        path.moveTo(*frame((x[0], top[0])))
        for place in ((x[1], top[1]), (x[1], base[1]), (x[0], base[0])):
            path.lineTo(*frame(place))
        path.close()
        canvas.drawPath(path, stroke=0, fill=1)


def _areas(pages: Pages, document: EarthDocument) -> None:
    m, m2 = unit("m"), unit("m²")
    pages.go_on(
        (
            Column("Area sheet", LEFT, 130), Column(f"at {m}", LEFT + 140, 70, True),
            Column(f"cut {m2}", LEFT + 220, 90, True), Column(f"fill {m2}", LEFT + 320, 90, True),
        )
    )  # fmt: skip
    for each in document.sections:
        pages.row((each.name, length(each.chainage), area(each.cut), area(each.fill)))


def _volumes(pages: Pages, document: EarthDocument) -> None:
    m, m2, m3 = unit("m"), unit("m²"), unit("m³")
    for side, made, words in (
        ("cut", document.rows.cut_volume, "Volume sheet, cut"),
        ("fill", document.rows.fill_volume, "Volume sheet, fill"),
    ):  # fmt: skip
        pages.go_on(
            (
                Column(words, LEFT, 110), Column(f"from {m}", LEFT + 110, 50, True),
                Column(f"to {m}", LEFT + 166, 50, True), Column(f"areas {m2}", LEFT + 226, 150),
                Column(f"{side} {m3}", LEFT + 380, 60, True), Column(f"in all {m3}", LEFT + 446, 65, True),
            )
        )  # fmt: skip
        total = 0.0
        for span in made.spans:
            total += span.volume
            areas = " / ".join(area(each) for each in span.areas)
            pages.row(
                (span.rule, length(span.begin), length(span.end), areas, volume(span.volume), volume(total))
            )
        pages.row(("Total", "", "", "", volume(made.total), ""), bold=True)


def _squares(pages: Pages, document: EarthDocument) -> None:
    m, m2, m3 = unit("m"), unit("m²"), unit("m³")
    pages.go_on(
        (
            Column("Squares", LEFT, 36), Column(f"E {m}", LEFT + 36, 62, True),
            Column(f"N {m}", LEFT + 102, 66, True),
            Column("ground", LEFT + 172, 54, True), Column("formation", LEFT + 230, 54, True),
            Column(f"area {m2}", LEFT + 288, 56, True), Column(f"cut {m3}", LEFT + 350, 74, True),
            Column(f"fill {m3}", LEFT + 432, 79, True),
        )
    )  # fmt: skip
    cells = document.cells
    places = shapely.get_coordinates(shapely.point_on_surface(np.array(cells.outlines)))
    for at, (east, north) in enumerate(places):
        cube = float(cells.volumes[at])
        pages.row(
            (
                str(at + 1), length(east), length(north), length(float(cells.ground[at]), 3),
                length(float(cells.formation[at]), 3), area(float(cells.areas[at])),
                volume(cube) if cube > 0 else "", volume(-cube) if cube < 0 else "",
            )
        )  # fmt: skip
    pages.row(
        ("Total", "", "", "", "", area(float(cells.areas.sum())), volume(cells.cut), volume(cells.fill)),
        bold=True,
    )
