"""A sheet as PDF with what is measured on it: the drawing below, figures with family colour and hatch, and
the totals."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass

from pypdf import PdfReader, PdfWriter
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from ..typefaces import BOLD, MONO, SANS
from .paper import INK, fonts

Point = tuple[float, float]
# The lines and hatches of the families, as on the desk: colour, and the slope of the hatch in degrees.
LOOKS = {
    "concrete": ("#1D6670", (45,)), "formwork": ("#8A6A2F", (0,)), "bars": ("#7A3B63", (45, -45)),
    "masonry": ("#A24A2B", (0, 90)),
    "earth": ("#B86F24", (-45,)), "paving": ("#55606B", (20,)), "pipes": ("#3F5F9B", (70,)),
    "steel": ("#4B4A6E", (90,)),
}  # fmt: skip
_STEP = 7.0  # points between hatch lines


@dataclass(frozen=True)
class DrawnFigure:
    """A figure to be drawn, in sheet units: its rings or line (arcs as chords), or its points."""

    mark: str
    family: str
    shows: str
    points: Sequence[Point] = ()
    line: Sequence[Point] = ()
    rings: Sequence[Sequence[Point]] = ()


@dataclass(frozen=True)
class Total:
    """A line of the totals: element, quantity, value with its unit."""

    mark: str
    family: str
    label: str
    value: str


@dataclass(frozen=True)
class SheetDocument:
    """A page of a drawing with its figures; ``totals_at`` is their upper left corner, None for none."""

    title: str
    width: float
    height: float
    page: int
    is_picture: bool
    figures: Sequence[DrawnFigure]
    totals: Sequence[Total]
    totals_at: Point | None


def write(content: bytes, document: SheetDocument) -> bytes:
    """The page with its figures as a PDF of one page, of the drawing's own size.

    Args:
        content: the drawing's PDF, or its page as a picture.
    """
    fonts()
    drawn = io.BytesIO()
    canvas = Canvas(drawn, pagesize=(document.width, document.height), invariant=1)
    canvas.setTitle(document.title)
    if document.is_picture:
        canvas.drawImage(ImageReader(io.BytesIO(content)), 0, 0, document.width, document.height)
    for figure in document.figures:
        _figure(canvas, figure)
    if document.totals_at is not None and document.totals:
        _totals(canvas, document.totals, document.totals_at)
    canvas.showPage()
    canvas.save()
    if document.is_picture:
        return drawn.getvalue()
    return _over(content, document, drawn)


def _over(content: bytes, document: SheetDocument, drawn: io.BytesIO) -> bytes:
    """The figures laid over the drawing's own page, which stays lines and words."""
    writer = PdfWriter()
    page = writer.add_page(PdfReader(io.BytesIO(content)).pages[document.page - 1])
    page.transfer_rotation_to_content()
    box = page.cropbox
    page.merge_translated_page(PdfReader(drawn).pages[0], float(box.left), float(box.bottom))
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _figure(canvas: Canvas, figure: DrawnFigure) -> None:
    color, slopes = LOOKS.get(figure.family, LOOKS["concrete"])
    ink = HexColor(color)
    canvas.saveState()
    canvas.setStrokeColor(ink)
    canvas.setFillColor(ink)
    canvas.setLineWidth(1.4)
    if figure.points:
        for number, (x, y) in enumerate(figure.points, start=1):
            canvas.circle(x, y, 7, stroke=1, fill=0)
            _words(canvas, x, y + 10, f"{figure.mark}·{number}", ink)
    elif figure.line:
        _path(canvas, figure.line, closed=False)
        _words(canvas, *_middle(figure.line), f"{figure.mark}  {figure.shows}", ink)
    else:
        _area(canvas, figure, ink, slopes)
    canvas.restoreState()


def _area(canvas: Canvas, figure: DrawnFigure, ink: Color, slopes: Sequence[float]) -> None:
    xs, ys = [p[0] for p in figure.rings[0]], [p[1] for p in figure.rings[0]]
    canvas.saveState()
    clip = canvas.beginPath()
    for ring in figure.rings:
        clip.moveTo(*ring[0])
        for point in ring[1:]:
            clip.lineTo(*point)
        clip.close()
    canvas.clipPath(clip, stroke=0, fill=0, fillMode=0)
    canvas.setLineWidth(0.5)
    reach = math.dist((min(xs), min(ys)), (max(xs), max(ys))) / 2
    cx, cy = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    for slope in slopes:
        ux, uy = math.cos(math.radians(slope)), math.sin(math.radians(slope))
        for step in range(-int(reach / _STEP) - 1, int(reach / _STEP) + 2):
            ox, oy = cx - uy * step * _STEP, cy + ux * step * _STEP
            canvas.line(ox - ux * reach, oy - uy * reach, ox + ux * reach, oy + uy * reach)
    canvas.restoreState()
    _path(canvas, figure.rings[0], closed=True)
    canvas.setDash([5, 3])
    for ring in figure.rings[1:]:
        _path(canvas, ring, closed=True)
        _words(canvas, *_middle(ring), "ddt", ink)
    canvas.setDash()
    _words(canvas, min(xs) + 8, max(ys) - 14, f"{figure.mark}  {figure.shows}", ink)


def _path(canvas: Canvas, points: Sequence[Point], *, closed: bool) -> None:
    path = canvas.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    if closed:
        path.close()
    canvas.drawPath(path, stroke=1, fill=0)


def _middle(points: Sequence[Point]) -> Point:
    return (
        points[len(points) // 2]
        if len(points) > 2
        else ((points[0][0] + points[-1][0]) / 2, (points[0][1] + points[-1][1]) / 2)
    )


def _words(canvas: Canvas, x: float, y: float, words: str, ink: Color) -> None:
    canvas.setFont(MONO, 9)
    width = canvas.stringWidth(words, MONO, 9)
    canvas.setFillColor(HexColor("#FFFFFF"))
    canvas.rect(x - 2, y - 2, width + 4, 12, stroke=0, fill=1)
    canvas.setFillColor(ink)
    canvas.drawString(x, y, words)


def _totals(canvas: Canvas, totals: Sequence[Total], at: Point) -> None:
    wide, step = 250.0, 14.0
    x, top = at
    families = list(dict.fromkeys(total.family for total in totals))
    high = step * (len(totals) + len(families) + 1) + 10
    canvas.setFillColor(HexColor("#FFFFFF"))
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.8)
    canvas.rect(x, top - high, wide, high, stroke=1, fill=1)
    canvas.setFillColor(INK)
    canvas.setFont(BOLD, 9)
    y = top - 14
    canvas.drawString(x + 8, y, "Measured on this sheet")
    for family in families:
        y -= step
        canvas.setFillColor(HexColor(LOOKS.get(family, LOOKS["concrete"])[0]))
        canvas.setFont(BOLD, 8)
        canvas.drawString(x + 8, y, family)
        canvas.setFillColor(INK)
        for total in totals:
            if total.family != family:
                continue
            y -= step
            canvas.setFont(SANS, 8.5)
            canvas.drawString(x + 14, y, f"{total.mark}  {total.label}")
            canvas.setFont(MONO, 8.5)
            canvas.drawRightString(x + wide - 8, y, total.value)
