"""Long sections and mass haul diagrams on pages."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ..typefaces import BOLD, MONO, SANS
from .drawing import POINT, label, runs, scale_for, stroke
from .measured import length, unit, volume
from .paper import BOTTOM, INK, LEADING, LEFT, QUIET, RIGHT, RULE, SIZE, TOP, Pages, shortened
from .works import Along, Haul, LineKind

LINES: dict[LineKind, tuple[object, float, tuple[float, ...]]] = {
    "ground": (INK, 0.9, ()), "formation": (HexColor("#1D6670"), 0.8, (3, 1.5)),
    "finished": (HexColor("#1D6670"), 1.0, ()), "invert": (HexColor("#1D6670"), 1.0, ()),
    "crown": (HexColor("#1D6670"), 0.5, ()), "bottom": (HexColor("#1D6670"), 0.6, (3, 1.5)),
}  # fmt: skip
_STATION = 28.0  # points that levels under a long section stand apart
_STRIPS, _COARSEST = 3, 2_500  # long sections on a page, and the coarsest scale before they go on in another


def draw_along(pages: Pages, along: Along) -> None:
    """A long section in strips below one another, with the levels of its lines under each."""
    known = [places for _, places in along.lines if len(places)]
    if not known:
        return
    begin = min(float(places[0, 0]) for places in known)
    end = max(float(places[-1, 0]) for places in known)
    wide, each_high = RIGHT - LEFT - 60, (TOP - BOTTOM - 22) / _STRIPS
    scale = min(scale_for(max(end - begin, 1.0), wide), _COARSEST)
    reach = wide * POINT * scale
    number = max(math.ceil((end - begin) / reach - 1e-9), 1)
    strips = [(begin + n * reach, min(begin + (n + 1) * reach, end)) for n in range(number)]
    room = (each_high - 40 - 9 * len(along.lines)) * POINT
    rises = [_reach_of(along, *strip) for strip in strips]
    up = min(scale_for(max(*(high - low for low, high in rises), 0.5), room / POINT), scale)
    for n, (strip, (low, _)) in enumerate(zip(strips, rises, strict=True)):
        if n % _STRIPS == 0:
            pages.turn()
            title = f"{along.title}, lengths 1:{scale:g}, heights 1:{up:g}"
            label(pages.canvas, LEFT, TOP - 10, shortened(title, BOLD, SIZE, RIGHT - LEFT), BOLD)
        bottom = TOP - 18 - each_high * (n % _STRIPS + 1)
        _strip(pages.canvas, along, strip, low, (scale, up), (bottom, each_high))
        pages.y = bottom


def _reach_of(along: Along, begin: float, end: float) -> tuple[float, float]:
    levels = [
        float(level)
        for _, places in along.lines
        for at, level in places
        if begin - 1e-6 <= at <= end + 1e-6 and np.isfinite(level)
    ]
    levels += [
        float(np.interp(each, places[:, 0], places[:, 1]))
        for _, places in along.lines
        for each in (begin, end)
        if len(places) and np.isfinite(places[:, 1]).all()
    ]
    return (math.floor(min(levels) * 2) / 2, max(levels)) if levels else (0.0, 1.0)


def _strip(
    canvas: Canvas,
    along: Along,
    strip: tuple[float, float],
    low: float,
    scales: tuple[float, float],
    place: tuple[float, float],
) -> None:
    (begin, end), (bottom, high) = strip, place
    across, rise = 1 / (scales[0] * POINT), 1 / (scales[1] * POINT)
    left, datum = LEFT + 52, bottom + 16 + 9 * len(along.lines)

    def frame(at: Sequence[float]) -> tuple[float, float]:
        return float(left + (at[0] - begin) * across), float(datum + (at[1] - low) * rise)

    right = frame((end, low))[0]
    canvas.saveState()
    path = canvas.beginPath()
    path.rect(left - 0.5, datum - 1, right - left + 1, high)
    canvas.clipPath(path, stroke=0, fill=0)
    for kind, places in along.lines:
        color, width, dash = LINES[kind]
        for part in runs(places[:, 0], places[:, 1]):
            stroke(canvas, frame, part, color, width, dash)
    canvas.restoreState()
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.5)
    canvas.line(left, datum, right, datum)
    label(canvas, LEFT, datum + 2, f"datum {length(low, 1)}", MONO, 6.5, QUIET)
    rows = ["chainage", *(kind for kind, _ in along.lines)]
    for n, name in enumerate(rows):
        label(canvas, LEFT, datum - 9 * (n + 1), name, SANS, 6.5, QUIET)
    taken, last_named = list[float](), -1e9
    for at, name in along.marks:
        x = frame((at, low))[0]
        if begin - 1e-6 <= at <= end + 1e-6 and name and x > last_named + 2:
            canvas.setStrokeColor(QUIET)
            canvas.setLineWidth(0.3)
            canvas.line(x, datum, x, bottom + high - 14)
            label(canvas, x + 2, bottom + high - 13, name, SANS, 6.5)
            last_named = x + pdfmetrics.stringWidth(name, SANS, 6.5)
    for at in _stations(along, begin, end):
        x = frame((at, low))[0]
        if any(abs(x - other) < _STATION for other in taken):
            continue
        taken.append(x)
        canvas.setFont(MONO, 6.2)
        canvas.setFillColor(INK)
        canvas.drawCentredString(x, datum - 9, length(at))
        for n, (_, places) in enumerate(along.lines, start=2):
            level = np.interp(at, places[:, 0], places[:, 1], left=np.nan, right=np.nan)
            if np.isfinite(level):
                canvas.drawCentredString(x, datum - 9 * n, length(float(level)))


def _stations(along: Along, begin: float, end: float) -> list[float]:
    """Where levels are told, what matters most first: the ends, the marks, round chainages between."""
    step = next(s for s in (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 1e9) if (end - begin) / s <= 14)
    marks = [at for at, _ in sorted(along.marks, key=lambda mark: not mark[1]) if begin < at < end]
    return [begin, end, *marks, *(np.arange(math.ceil(begin / step), end / step) * step).tolist()]


def draw_haul(pages: Pages, haul: Haul) -> None:
    high = 190.0
    pages.room((high + 40) / LEADING)
    pages.y -= 8
    pages.words("Mass haul: what lies over up to each chainage, above the line carried onwards", bold=True)
    pages.words(haul.told, color=QUIET)
    canvas, top = pages.canvas, pages.y
    wide = RIGHT - LEFT - 60
    begin, end = float(haul.chainages[0]), float(haul.chainages[-1])
    low, most = min(float(haul.ordinates.min()), 0.0), max(float(haul.ordinates.max()), 0.0)

    def frame(at: Sequence[float]) -> tuple[float, float]:
        x = LEFT + 60 + (at[0] - begin) / max(end - begin, 1e-9) * wide
        return float(x), float(top - high + 14 + (at[1] - low) / max(most - low, 1e-9) * (high - 24))

    stroke(canvas, frame, np.array([[begin, 0.0], [end, 0.0]]), INK, 0.6)
    stroke(canvas, frame, np.stack([haul.chainages, haul.ordinates], axis=1), HexColor("#1D6670"), 1.1)
    for level in {low, 0.0, most}:
        y = frame((begin, level))[1]
        label(canvas, LEFT, y - 2, f"{volume(level)} {unit('m³')}", MONO, 6.5, QUIET)
    for at in np.linspace(begin, end, 6):
        canvas.setFont(MONO, 6.5)
        canvas.setFillColor(QUIET)
        canvas.drawCentredString(frame((at, 0))[0], top - high, length(float(at)))
    pages.y = top - high - 10
