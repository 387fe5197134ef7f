"""What is read of drawings and their sheets."""

from __future__ import annotations

from datetime import date

from ...core.words import FigureKind
from ..keeping.views import View

Point = list[float]  # x, y in sheet units; a third number is the bulge of the arc to the next corner


class SheetView(View):
    id: int
    version: int
    drawing: int
    number: str
    letter: str
    tile_key: str
    page: int
    title: str
    width: float
    height: float
    metres_per_unit: float | None
    ratio: float | None
    ratio_up: float | None
    scale: str
    scale_source: str
    figures: int


class DrawingView(View):
    id: int
    version: int
    number: str
    title: str
    letter: str
    file: str
    received: date
    sheets: list[SheetView]


class FigureView(View):
    id: int
    version: int
    sheet: int
    kind: FigureKind
    element: int
    mark: str
    line: int | None
    family: str
    points: list[Point]
    closed: bool
    voids: list[list[Point]]
    shows: str


class ProofView(View):
    """A second known length of a sheet: what it is, what the scale makes of it, and how far off that is."""

    first: Point
    second: Point
    known: float
    measured: float
    off: float
    finding: str


class ScaleAreaView(View):
    id: int
    version: int
    ring: list[Point]
    scale: str
    scale_source: str


class SheetTotal(View):
    """A quantity of an element measured on the sheet."""

    element: int
    mark: str
    family: str
    label: str
    net: float
    unit: str


class WordView(View):
    """Words on a sheet and their box: left, bottom, right, top in sheet units."""

    text: str
    box: list[float]


class SheetDetail(SheetView):
    """``content`` is ``waiting`` until the page's lines and words were read, then ``read`` or what was
    left out."""

    shapes: list[FigureView]
    content: str
    proof: ProofView | None
    areas: list[ScaleAreaView]
    tally_at: list[float]
