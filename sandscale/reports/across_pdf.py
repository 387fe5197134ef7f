"""Sections across on pages, each part in a hatch of its own."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ..typefaces import BOLD, MONO, SANS
from .along_pdf import LINES
from .drawing import POINT, Hatch, Placing, hatched, label, scale_for, stroke
from .measured import length, unit
from .paper import BOTTOM, LEFT, QUIET, RIGHT, RULE, TOP, Pages, Progress, shortened, wrapped
from .works import Across, WorkDocument

_CUT = Hatch(HexColor("#F6E6D2"), HexColor("#B86F24"), (45,), 3.2)
_FILL = Hatch(HexColor("#D9E9E9"), HexColor("#1D6670"), (135,), 3.2)
_BACKFILL = Hatch(HexColor("#F3EADB"), HexColor("#A08A63"), (25, 155), 5.0)
_DUG = Hatch(HexColor("#FFFFFF"), HexColor("#B86F24"))
_LAYERS = (
    Hatch(HexColor("#8D857A"), HexColor("#4C463E"), (45,), 2.0),
    Hatch(HexColor("#BDB5A8"), HexColor("#5F584E"), (90,), 2.4),
    Hatch(HexColor("#E6DCC2"), HexColor("#7D7054"), (0,), 2.4),
    Hatch(HexColor("#EFE3C8"), HexColor("#7D7054"), (45, 135), 3.6),
    Hatch(HexColor("#DFE7E4"), HexColor("#57706A"), (60,), 3.0),
    Hatch(HexColor("#D8D3CC"), HexColor("#5F584E"), (0, 90), 3.6),
    Hatch(HexColor("#ECDFE7"), HexColor("#7A5B70"), (120,), 3.0),
    Hatch(HexColor("#E3EAD3"), HexColor("#5C6E3D"), (30, 150), 4.2),
)
_OWN = {"cut": _CUT, "fill": _FILL, "dug": _DUG, "backfill": _BACKFILL}


def _hatches_of(across: Sequence[Across]) -> dict[str, Hatch]:
    """The hatch of each part, layers in the order in which they are first there."""
    names = dict.fromkeys(shape.name for each in across for shape in each.shapes)
    layers = [name for name in names if name not in _OWN]
    found = {name: _LAYERS[n % len(_LAYERS)] for n, name in enumerate(layers)}
    return {name: _OWN.get(name) or found[name] for name in names}


def draw_across(pages: Pages, document: WorkDocument, progress: Progress) -> None:
    """Every section, so many to a page, all to one scale of lengths and one of heights."""
    hatches = _hatches_of(document.across)
    each_high = (TOP - BOTTOM - 36) / document.per_page
    bounds = [_bounds(each) for each in document.across]
    wide = max(b[2] - b[0] for b in bounds)
    rise = max(max(b[3] - b[1] for b in bounds), 0.2)
    along = scale_for(wide, RIGHT - LEFT - 62)
    up = min(scale_for(rise, each_high - 46), along)
    for number, (each, bound) in enumerate(zip(document.across, bounds, strict=True)):
        if number % document.per_page == 0:
            pages.turn()
            words = f"Sections, lengths 1:{along:g}, heights 1:{up:g}"
            label(pages.canvas, LEFT, TOP - 10, words, BOLD)
            _legend(pages.canvas, hatches)
        bottom = TOP - 32 - each_high * (number % document.per_page + 1)
        _section(pages.canvas, each, bound, hatches, (along, up), (bottom, each_high))
        progress(0.4 + 0.6 * number / len(document.across))
    pages.y = BOTTOM


def _bounds(across: Across) -> tuple[float, float, float, float]:
    every = [places for _, places in across.lines if len(places)]
    every += [ring for shape in across.shapes for ring in shape.rings if len(ring)]
    if not every:
        return (0.0, 0.0, 1.0, 1.0)
    places = np.concatenate(every)
    low, high = places.min(axis=0), places.max(axis=0)
    return float(low[0]), math.floor(float(low[1]) * 2) / 2, float(high[0]), float(high[1])


def _legend(canvas: Canvas, hatches: dict[str, Hatch]) -> None:
    x, y = LEFT, TOP - 26
    for name, hatch in hatches.items():
        words = shortened(name, SANS, 7, 90)
        wide = 18 + pdfmetrics.stringWidth(words, SANS, 7) + 8
        if x + wide > RIGHT:
            break
        box = np.array([[x, y], [x + 14, y], [x + 14, y + 8], [x, y + 8]])
        hatched(canvas, lambda at: (float(at[0]), float(at[1])), [box], hatch)
        label(canvas, x + 17, y + 1, words, SANS, 7)
        x += wide


def _section(
    canvas: Canvas,
    across: Across,
    bound: tuple[float, float, float, float],
    hatches: dict[str, Hatch],
    scales: tuple[float, float],
    place: tuple[float, float],
) -> None:
    (bottom, high), (west, low, east, _) = place, bound
    wide, rise = 1 / (scales[0] * POINT), 1 / (scales[1] * POINT)
    left = LEFT + 56 + (RIGHT - LEFT - 60 - (east - west) * wide) / 2
    frame: Placing = lambda at: (  # noqa: E731
        float(left + (at[0] - west) * wide),
        float(bottom + 10 + (at[1] - low) * rise),
    )
    for shape in across.shapes:
        # Cut and fill are many trapezia side by side, which aren't ruled apart.
        hatched(canvas, frame, shape.rings, hatches[shape.name], outlined=shape.name not in ("cut", "fill"))
    for kind, places in across.lines:
        color, width, dash = LINES[kind]
        if len(places) > 1:
            stroke(canvas, frame, places, color, width, dash)
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.5)
    canvas.line(LEFT, bottom + 2, RIGHT, bottom + 2)
    base = frame((west, low))[1]
    canvas.line(LEFT + 50, base, frame((east, low))[0], base)
    label(canvas, LEFT, base - 2, f"{length(low)} {unit('m')}", MONO, 6.5, QUIET)
    middle = frame((0.0, low))[0]
    canvas.setStrokeColor(QUIET)
    canvas.setDash([6, 2, 1, 2])
    canvas.line(middle, base, middle, bottom + high - 30)
    canvas.setDash([])
    label(canvas, LEFT, bottom + high - 10, shortened(across.title, BOLD, 8, 190), BOLD, 8)
    for n, line in enumerate(wrapped(f"{unit('m²')}:  {across.told}", SANS, 7, RIGHT - LEFT - 200)[:3]):
        label(canvas, LEFT + 200, bottom + high - 9 - 8.5 * n, line, SANS, 7, QUIET)
