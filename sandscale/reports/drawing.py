"""Drawing on paper: ground to a scale of round numbers, its lines, hatches and scale bar."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from reportlab.lib.colors import Color
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from ..core.ground.pieces import Floats
from ..typefaces import BOLD, SANS
from .measured import length, unit
from .paper import BOTTOM, INK, LEFT, RIGHT, SIZE

Placing = Callable[[Sequence[float]], tuple[float, float]]
SCALES = (
    10, 20, 25, 50, 100, 125, 150, 200, 250, 300, 400, 500, 750, 1000, 1250, 1500, 2000, 2500, 5000, 10000,
    20000, 50000,
)  # fmt: skip
POINT = 0.0254 / 72  # m of paper to a point


class Frame:
    """A part of the page in which ground is drawn to a scale of round numbers."""

    def __init__(
        self, bounds: Sequence[float], left: float, bottom: float, width: float, height: float
    ) -> None:
        west, south, east, north = bounds
        needed = max((east - west) / (width * POINT), (north - south) / (height * POINT), 1e-9)
        self.ratio = next((each for each in SCALES if each >= needed), math.ceil(needed / 1e4) * 10_000)
        self.size = 1 / (self.ratio * POINT)
        self.left = left + (width - (east - west) * self.size) / 2
        self.bottom = bottom + (height - (north - south) * self.size) / 2
        self.west, self.south = west, south

    def __call__(self, place: Sequence[float]) -> tuple[float, float]:
        x = self.left + (place[0] - self.west) * self.size
        return float(x), float(self.bottom + (place[1] - self.south) * self.size)


def scale_for(metres: float, points: float) -> float:
    """The first scale of round numbers by which so many metres fit into so many points."""
    return next((each for each in SCALES if each >= metres / (points * POINT)), float(SCALES[-1]))


def stroke(
    canvas: Canvas,
    frame: Placing,
    corners: Floats,
    color: Color,
    width: float,
    dash: tuple[float, ...] = (),
) -> None:
    canvas.setStrokeColor(color)
    canvas.setLineWidth(width)
    canvas.setDash(*((list(dash),) if dash else ([],)))
    path = canvas.beginPath()
    path.moveTo(*frame(corners[0]))
    for corner in corners[1:]:
        path.lineTo(*frame(corner))
    canvas.drawPath(path)
    canvas.setDash([])


def label(
    canvas: Canvas, x: float, y: float, words: str, font: str = SANS, size: float = SIZE, color: Color = INK
) -> None:
    canvas.setFont(font, size)
    canvas.setFillColor(color)
    canvas.drawString(x, y, words)


def runs(offsets: Floats, levels: Floats) -> Iterable[Floats]:
    known = np.isfinite(offsets) & np.isfinite(levels)
    for part in np.split(np.arange(len(offsets)), np.flatnonzero(~known)):
        kept = part[known[part]]
        if len(kept) > 1:
            yield np.column_stack([offsets[kept], levels[kept]])


def scale_bar(canvas: Canvas, frame: Frame) -> None:
    """A length of round metres at the foot of the page, and north, which is up."""
    metres = next(
        each
        for each in (5000, 2000, 1000, 500, 200, 100, 50, 20, 10, 5, 2, 1, 0.5, 0.2, 0.1, 0.05)
        if each * frame.size < 160
    )
    x, y = LEFT, BOTTOM + 8
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.8)
    canvas.line(x, y, x + metres * frame.size, y)
    for end in (x, x + metres * frame.size):
        canvas.line(end, y - 2, end, y + 2)
    label(canvas, x + metres * frame.size + 5, y - 3, f"{length(metres, 1)} {unit('m')}", SANS, 7)
    top = RIGHT - 8
    canvas.line(top, y - 4, top, y + 12)
    canvas.line(top, y + 12, top - 3, y + 6)
    canvas.line(top, y + 12, top + 3, y + 6)
    label(canvas, top - 2.5, y + 14, "N", BOLD, 7)


@dataclass(frozen=True)
class Hatch:
    """How a part is shaded: its ground, and lines at angles (in degrees), so many points apart."""

    ground: Color
    ink: Color
    angles: tuple[float, ...] = ()
    apart: float = 4.0


def hatched(
    canvas: Canvas, frame: Placing, rings: Sequence[Floats], hatch: Hatch, *, outlined: bool = True
) -> None:
    """Shade what lies inside an odd number of outlines."""
    path = canvas.beginPath()
    corners = list[tuple[float, float]]()
    for ring in rings:
        places = [frame(corner) for corner in ring]
        corners += places
        path.moveTo(*places[0])
        for place in places[1:]:
            path.lineTo(*place)
        path.close()
    if not corners:
        return
    canvas.saveState()
    canvas.setFillColor(hatch.ground)
    canvas.setStrokeColor(hatch.ink)
    canvas.setLineWidth(0.3)
    canvas.drawPath(path, stroke=outlined, fill=1, fillMode=FILL_EVEN_ODD)
    canvas.clipPath(path, stroke=0, fill=0, fillMode=FILL_EVEN_ODD)
    middle = np.array([(max(v) + min(v)) / 2 for v in zip(*corners, strict=True)])
    reach = max(math.dist(middle, corner) for corner in corners)
    strokes = canvas.beginPath()
    for angle in hatch.angles:
        turn = math.radians(angle)
        along = np.array([math.cos(turn), math.sin(turn)])
        across = np.array([-along[1], along[0]])
        # From the page's corner, so that parts side by side go on in one hatch.
        first = math.ceil((float(middle @ across) - reach) / hatch.apart)
        for n in range(first, math.floor((float(middle @ across) + reach) / hatch.apart) + 1):
            at = across * n * hatch.apart + along * float(middle @ along)
            strokes.moveTo(*(at - along * reach))
            strokes.lineTo(*(at + along * reach))
    canvas.drawPath(strokes)
    canvas.restoreState()
