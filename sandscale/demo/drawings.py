"""The demonstration's drawings, as real PDFs: a foundation plan at 1:100 with a sheet of sections at 1:20,
and the access road's plan at 1:250."""

from __future__ import annotations

import io
import math
from collections.abc import Callable
from itertools import pairwise

import ezdxf
import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas

from ..core.ground.route.centreline import through
from . import site
from .plan import (
    BEAM,
    BEAM_WIDTH,
    COLUMN,
    FOOTINGS,
    GRID_X,
    GRID_Y,
    LARGER,
    LARGER_SIZE,
    MM,
    MOVED,
    SECTION_SCALE,
    SHEET,
    SLAB,
    SLAB_THICK,
    SUMP,
    Footing,
    Point,
    Ring,
    on_sheet,
    ring_on_sheet,
    square,
)

INK, QUIET, EARTH = HexColor("#23211D"), HexColor("#8A847A"), HexColor("#C9B79A")
Place = Callable[[Point], Point]  # from m to sheet units
_LAYERS = {
    "Boundary": (138, 132, 122), "Buildings": (35, 33, 29), "Road": (122, 96, 56),
    "Rising main": (29, 102, 112), "Chambers": (122, 59, 99), "Words": (35, 33, 29),
    "Setting out": (160, 150, 130),
}  # fmt: skip
_WORDS = (
    ("Platform", (2470, 5157)), ("Rising main PE DN 200", (2460, 5208.5)), ("Access road", (2440, 5192)),
)  # fmt: skip
NOTES = (
    "All dimensions in millimetres, levels in metres.",
    "Concrete C30/37, blinding 50 thick with 100 projection.",
    "Cover to bars in contact with ground 50.",
    "Bars high yield, shape 21 bobs 350 high, both ways in the bottom.",
    "Ground slab 200 thick on membrane; sump formed before the slab is cast.",
    "Formation to be seen by the engineer before blinding.",
)


def foundation_drawing(letter: str = "A") -> bytes:
    """The PDF: page 1 the foundation plan, page 2 the sections. Revision B has two larger footings, a moved
    one, no sump, and the larger size written."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=SHEET, pageCompression=1, invariant=1)
    canvas.setTitle("Ferrin Weir Pumping Station, foundations")
    canvas.setAuthor("Sandhall Civil")
    _plan(canvas, letter)
    canvas.showPage()
    _sections(canvas, letter)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


SITE_SCALE, SITE_ORIGIN = 250, (20.0, 95.0)  # mm on the paper: the site's south-west corner


def on_site_sheet(place: Point) -> Point:
    """A place of the site in sheet units of the road's plan."""
    across, up = place[0] - site.WEST, place[1] - site.SOUTH
    return (
        (SITE_ORIGIN[0] + across * 1000 / SITE_SCALE) * MM,
        (SITE_ORIGIN[1] + up * 1000 / SITE_SCALE) * MM,
    )


def road_drawing() -> bytes:
    """The PDF of the access road's plan at 1:250, with the grid it lies on."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=SHEET, pageCompression=1, invariant=1)
    canvas.setTitle("Ferrin Weir Pumping Station, access road")
    canvas.setAuthor("Sandhall Civil")
    _frame(canvas, "Access road, plan", "FW-C-201", "1:250", "1 of 1")
    for east in range(2420, 2560, 40):
        for north in range(5110, 5220, 50):
            _cross(canvas, (float(east), float(north)))
    line = through(site.ROAD, site.ROAD_RADII)
    along = np.linspace(0, line.end, 241)
    for offset, width, dash in ((0.0, 0.9, [14, 3, 3, 3]), (-2.75, 1.2, []), (2.75, 1.2, [])):
        canvas.setDash(dash)
        places = line.offset_places(along, np.full(len(along), offset)).tolist()
        _lines(canvas, [(on_site_sheet(a), on_site_sheet(b)) for a, b in pairwise(places)], width)
    canvas.setDash()
    for outline in (site.PLATFORM, site.CHAMBER):
        _ring(canvas, [on_site_sheet(corner) for corner in outline], 0.8)
    for chainage in range(0, 241, 20):
        ends = line.offset_places(np.full(2, float(chainage)), np.array([-1.2, 1.2])).tolist()
        _lines(canvas, [(on_site_sheet(tuple(ends[0])), on_site_sheet(tuple(ends[1])))], 0.6)
        beside = line.offset_places(np.array([float(chainage)]), np.array([4.0]))[0].tolist()
        x, y = on_site_sheet(tuple(beside))
        _text(canvas, x, y, f"{chainage}", 8, middle=True)
    x, y = on_site_sheet((2476.0, 5157.0))
    _text(canvas, x, y, "Platform 42.60", 10, middle=True)
    x, y = on_site_sheet((2418.0, 5206.0))
    _text(canvas, x, y, "Gate", 10)
    x, y = on_site_sheet((2520.0, 5196.0))
    _text(canvas, x, y, "R 25, widened 0.60 inside", 9)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def services_drawing() -> bytes:
    """The DXF of the services as they are laid out, in m on the site's grid: each kind on a layer, what it
    was set out by on one that is off."""
    document = ezdxf.new("R2010", units=6, setup=True)
    for name, colour in _LAYERS.items():
        document.layers.add(name).rgb = colour
    document.layers.get("Setting out").off()
    space = document.modelspace()
    for layer, rings in (("Boundary", [site.BOUNDARY]), ("Buildings", [site.PLATFORM, site.CHAMBER])):
        for ring in rings:
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": layer})
    line = through(site.ROAD, site.ROAD_RADII)
    along = np.linspace(0, line.end, 121)
    for offset in (-2.75, 0.0, 2.75):
        looks = {"layer": "Road", "linetype": "CENTER"} if offset == 0 else {"layer": "Road"}
        space.add_lwpolyline(
            line.offset_places(along, np.full(len(along), offset)).tolist(), dxfattribs=looks
        )
    main = [(east, north) for _, east, north, _ in site.MAIN]
    space.add_lwpolyline(main, dxfattribs={"layer": "Rising main", "linetype": "DASHED"})
    chamber = document.blocks.new("chamber")
    chamber.add_circle((0, 0), 0.6)
    chamber.add_line((-0.6, 0), (0.6, 0))
    chamber.add_line((0, -0.6), (0, 0.6))
    for name, east, north, manhole in site.MAIN:
        if manhole:
            space.add_blockref("chamber", (east, north), {"layer": "Chambers"})
        looks = {"layer": "Words", "insert": (east + 1.2, north + 1.2)}
        space.add_text(name, height=1.6, dxfattribs=looks)
        space.add_line(site.ROAD[0], (east, north), {"layer": "Setting out"})
    for words, place in _WORDS:
        space.add_text(words, height=2.0, dxfattribs={"layer": "Words", "insert": place})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _cross(canvas: Canvas, place: Point) -> None:
    x, y = on_site_sheet(place)
    canvas.setStrokeColor(QUIET)
    _lines(canvas, [((x - 8, y), (x + 8, y)), ((x, y - 8), (x, y + 8))], 0.6)
    canvas.setStrokeColor(INK)
    _text(canvas, x + 3, y + 3, f"E {place[0]:.0f}  N {place[1]:.0f}", 7)


def _plan(canvas: Canvas, letter: str) -> None:
    is_first = letter == "A"
    _frame(canvas, "Pump house, foundation plan", "FW-S-101", "1:100", "1 of 2", letter)
    _ring(canvas, ring_on_sheet(SLAB), 1.6)
    canvas.setDash(8, 3)
    for side in (-BEAM_WIDTH / 2, BEAM_WIDTH / 2):
        (left, low), (right, high) = BEAM[0], BEAM[2]
        _ring(
            canvas,
            ring_on_sheet(
                [
                    (left - side, low - side),
                    (right + side, low - side),
                    (right + side, high + side),
                    (left - side, high + side),
                ]
            ),
            0.8,
        )
    canvas.setDash()
    x, y = on_sheet((4.5, 0.45))
    _text(canvas, x, y, "GB1  400 × 600", 8, middle=True)
    if is_first:
        _sump(canvas)
    _grid(canvas)
    for footing in FOOTINGS:
        for crossing, (x, y) in zip(footing.at, footing.centres(), strict=True):
            east, north = (0.0, 0.0) if is_first else MOVED.get(crossing, (0.0, 0.0))
            size = footing.length if is_first or crossing not in LARGER else LARGER_SIZE
            _footing(canvas, footing.mark, (x + east, y + north), size)
    x, y = on_sheet((4.5, 10.6))
    _text(canvas, x, y, "GS1  ground slab 200 thick", 8, middle=True)
    _dimensions(canvas, is_first)
    _schedule(canvas, 560 * MM, 400 * MM)
    _notes(canvas, 560 * MM, 330 * MM)


def _sump(canvas: Canvas) -> None:
    corners = ring_on_sheet(SUMP)
    _ring(canvas, corners, 1.2)
    _lines(canvas, [(corners[0], corners[2]), (corners[1], corners[3])], 0.4)
    x, y = on_sheet((13.5, 8.7))
    _text(canvas, x, y, "Sump 3600 × 2400", 8, middle=True)


def _footing(canvas: Canvas, mark: str, centre: Point, size: float) -> None:
    canvas.setDash(5, 3)
    _ring(canvas, ring_on_sheet(square(centre, size, size)), 1.1)
    canvas.setDash()
    _ring(canvas, ring_on_sheet(square(centre, COLUMN, COLUMN)), 1.4)
    x, y = on_sheet((centre[0] + size / 2 + 0.12, centre[1] + size / 2 + 0.12))
    _text(canvas, x, y, mark, 9, bold=True)


def _grid(canvas: Canvas) -> None:
    canvas.setStrokeColor(QUIET)
    for name, x in GRID_X.items():
        bottom, top = on_sheet((x, -3.2)), on_sheet((x, 17.6))
        canvas.setDash([12, 3, 2, 3])
        _lines(canvas, [(bottom, top)], 0.5)
        canvas.setDash()
        _bubble(canvas, (top[0], top[1] + 12), name)
    for name, y in GRID_Y.items():
        left, right = on_sheet((-3.2, y)), on_sheet((30.2, y))
        canvas.setDash([12, 3, 2, 3])
        _lines(canvas, [(left, right)], 0.5)
        canvas.setDash()
        _bubble(canvas, (left[0] - 12, left[1]), name)
    canvas.setStrokeColor(INK)


def _bubble(canvas: Canvas, centre: Point, name: str) -> None:
    canvas.setLineWidth(0.8)
    canvas.circle(*centre, 12, stroke=1, fill=0)
    _text(canvas, centre[0], centre[1] - 4, name, 11, middle=True)


def _dimensions(canvas: Canvas, is_first: bool) -> None:
    xs, ys = list(GRID_X.values()), list(GRID_Y.values())
    for a, b in pairwise(xs):
        _dimension(canvas, (a, 16.2), (b, 16.2), f"{(b - a) * 1000:.0f}")
    for a, b in pairwise(ys):
        _dimension(canvas, (-1.8, a), (-1.8, b), f"{(b - a) * 1000:.0f}")
    for footing in FOOTINGS[1:]:
        x, y = footing.centres()[0]
        size = footing.length if is_first else LARGER_SIZE
        _dimension(canvas, (x - size / 2, y - 1.5), (x + size / 2, y - 1.5), f"{size * 1000:.0f}")


def _dimension(canvas: Canvas, start: Point, end: Point, words: str) -> None:
    (x1, y1), (x2, y2) = on_sheet(start), on_sheet(end)
    _lines(canvas, [((x1, y1), (x2, y2))], 0.4)
    for x, y in ((x1, y1), (x2, y2)):
        _lines(canvas, [((x - 3, y - 3), (x + 3, y + 3))], 0.9)
    canvas.saveState()
    canvas.translate((x1 + x2) / 2, (y1 + y2) / 2)
    canvas.rotate(math.degrees(math.atan2(y2 - y1, x2 - x1)))
    _text(canvas, 0, 4, words, 8, middle=True)
    canvas.restoreState()


def _schedule(canvas: Canvas, x: float, y: float) -> None:
    _text(canvas, x, y + 10 * MM, "Footing schedule", 12, bold=True)
    rows = [("Mark", "Nr", "Length", "Width", "Depth", "Bars"), *(_schedule_row(f) for f in FOOTINGS)]
    widths = [22, 16, 26, 26, 26, 60]
    for number, row in enumerate(rows):
        at, top = x, y - number * 8 * MM
        for words, width in zip(row, widths, strict=True):
            canvas.setLineWidth(0.6)
            canvas.rect(at, top - 2.5 * MM, width * MM, 8 * MM, stroke=1, fill=0)
            _text(canvas, at + 2 * MM, top, words, 9, bold=number == 0)
            at += width * MM


def _schedule_row(f: Footing) -> tuple[str, ...]:
    return (f.mark, str(len(f.at)), *(f"{size * 1000:.0f}" for size in (f.length, f.width, f.depth)), f.bars)


def _notes(canvas: Canvas, x: float, y: float) -> None:
    _text(canvas, x, y, "Notes", 12, bold=True)
    for number, note in enumerate(NOTES, start=1):
        _text(canvas, x, y - number * 7 * MM, f"{number}.  {note}", 9)


def _sections(canvas: Canvas, letter: str) -> None:
    _frame(canvas, "Pump house, sections", "FW-S-101", "1:20", "2 of 2", letter)

    def place(origin: Point) -> Place:
        return lambda p: (
            (origin[0] + p[0] * 1000 / SECTION_SCALE) * MM,
            (origin[1] + p[1] * 1000 / SECTION_SCALE) * MM,
        )

    pad = FOOTINGS[1]
    _section_of_pad(canvas, place((120, 280)), pad.length, pad.depth)
    _text(canvas, 165 * MM, 225 * MM, "Section A, pad footing PF2, 1:20", 12, middle=True, bold=True)
    at = place((380, 320))
    slab: Ring = [(0, 0), (4.2, 0), (4.2, -1.1), (4.4, -1.1), (4.4, SLAB_THICK), (0, SLAB_THICK)]
    _ring(canvas, [at(p) for p in slab], 1.4)
    _lines(canvas, [(at((0, -0.05)), at((4.15, -0.05)))], 0.5)
    _text(
        canvas, 485 * MM, 225 * MM, "Section B, ground slab GS1 at the sump, 1:20", 12, middle=True, bold=True
    )


def _section_of_pad(canvas: Canvas, to: Place, length: float, depth: float) -> None:
    canvas.setFillColor(EARTH)
    x, y = to((-0.1, -0.05))
    x2, y2 = to((length + 0.1, 0))
    canvas.rect(x, y, x2 - x, y2 - y, stroke=1, fill=1)
    canvas.setFillColor(INK)
    corners = [(0, 0), (length, 0), (length, depth), (0, depth)]
    _ring(canvas, [to(p) for p in corners], 1.6)
    middle = length / 2
    for side in (-0.2, 0.2):
        _lines(canvas, [(to((middle + side, depth)), to((middle + side, depth + 1.2)))], 1.2)
    cover = 0.05
    bar = [(cover, cover + 0.35), (cover, cover), (length - cover, cover), (length - cover, cover + 0.35)]
    _lines(canvas, [(to(a), to(b)) for a, b in pairwise(bar)], 2.0)
    number = 13
    for index in range(number):
        cx, cy = to((cover + 0.008 + index * (length - 2 * cover - 0.016) / (number - 1), cover + 0.024))
        canvas.circle(cx, cy, 0.008 * 1000 / SECTION_SCALE * MM, stroke=0, fill=1)
    x, y = to((length + 0.2, depth / 2))
    _text(canvas, x, y, f"{depth * 1000:.0f} deep", 10)
    x, y = to((middle, -0.2))
    _text(canvas, x, y, f"{length * 1000:.0f}", 10, middle=True)


def _frame(canvas: Canvas, title: str, number: str, scale: str, page: str, letter: str = "A") -> None:
    width, height = SHEET
    canvas.setStrokeColor(INK)
    canvas.setFillColor(INK)
    canvas.setLineWidth(1.6)
    canvas.rect(10 * MM, 10 * MM, width - 20 * MM, height - 20 * MM)
    left, bottom, wide = width - 200 * MM, 10 * MM, 190 * MM
    canvas.rect(left, bottom, wide, 70 * MM)
    for up in (18, 36, 52):
        _lines(canvas, [((left, bottom + up * MM), (left + wide, bottom + up * MM))], 0.8)
    _text(canvas, left + 5 * MM, bottom + 58 * MM, "Ferrin Weir Pumping Station", 18, bold=True)
    _text(canvas, left + 5 * MM, bottom + 42 * MM, "Marl Valley Water Board", 12)
    _text(canvas, left + 5 * MM, bottom + 24 * MM, title, 14, bold=True)
    for offset, label, words in (
        (5, "Drawing", number),
        (65, "Scale at A1", scale),
        (115, "Revision", letter),
        (150, "Sheet", page),
    ):
        _text(canvas, left + offset * MM, bottom + 12 * MM, label, 7)
        _text(canvas, left + offset * MM, bottom + 4 * MM, words, 12, bold=True)


def _ring(canvas: Canvas, points: Ring, width: float) -> None:
    canvas.setLineWidth(width)
    path = canvas.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    path.close()
    canvas.drawPath(path, stroke=1, fill=0)


def _lines(canvas: Canvas, segments: list[tuple[Point, Point]], width: float) -> None:
    canvas.setLineWidth(width)
    canvas.lines([(*a, *b) for a, b in segments])


def _text(
    canvas: Canvas, x: float, y: float, words: str, size: float, *, middle: bool = False, bold: bool = False
) -> None:
    canvas.setFont("Helvetica-Bold" if bold else "Helvetica", size)
    (canvas.drawCentredString if middle else canvas.drawString)(x, y, words)
