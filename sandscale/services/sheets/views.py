"""What is read of drawings and their sheets."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

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
    near: int


class RevisionView(View):
    """A revision that another took the place of, with its sheets."""

    id: int
    letter: str
    received: date
    sheets: list[SheetView]


class DrawingView(View):
    """A drawing with the sheets of its latest revision, and the former ones, latest first."""

    id: int
    version: int
    number: str
    title: str
    letter: str
    file: str
    received: date
    revision: int
    sheets: list[SheetView]
    former: list[RevisionView]


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
    near: bool


class StoodFigure(View):
    """A figure as it stood on a sheet before it went over to the revision that followed."""

    mark: str
    family: str
    kind: FigureKind
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


class LayerView(View):
    """A layer of a DXF, and whether it is shown."""

    name: str
    shown: bool


class LayView(View):
    """How a sheet lies over the one it follows: moved, turned and sized as in words; ``turn`` and ``shift``
    as complex numbers, in sheet units."""

    former: int
    letter: str
    turn: Point
    shift: Point
    words: str


class SheetDetail(SheetView):
    """``content`` is ``waiting`` until the page's lines and words were read, then ``read`` or what was
    left out. ``followed`` is the revision that took the sheet's place, ``stood`` what was on it then."""

    layers: list[LayerView]
    lay: LayView | None
    followed: str
    stood: list[StoodFigure]
    shapes: list[FigureView]
    content: str
    proof: ProofView | None
    areas: list[ScaleAreaView]
    tally_at: list[float]


class NearFigure(View):
    """A figure near a change, not looked at yet."""

    id: int
    version: int
    element: int
    mark: str
    kind: FigureKind
    shows: str


class PlaceView(View):
    """A place where a sheet differs from the one it follows; its size in mm of paper."""

    id: int
    version: int
    box: list[float]
    size: float
    gone: list[list[float]]
    came: list[list[float]]
    words_gone: list[WordView]
    words_came: list[WordView]
    looked: bool
    figures: list[NearFigure]


class ChangesView(View):
    """What a sheet changed against the one it follows: places, largest first, and the figures that are to be
    looked at and lie near none that is told. ``left`` are pages of the former revision that this one
    hasn't got."""

    letter: str
    former: str
    left: list[int]
    places: list[PlaceView]
    more: int
    elsewhere: list[NearFigure]


class RevisedItem(View):
    """An item of the bill that a revision's coming moved: as it was and as it is; ``by_quantity`` is what
    its quantity moved at the rate of now, ``otherwise`` the rest. ``waits`` for figures to be looked at."""

    ref: str
    id: int | None
    section: str
    description: str
    unit: str
    quantity_before: Decimal | None
    quantity_after: Decimal | None
    rate: Decimal | None
    by_quantity: Decimal
    otherwise: Decimal
    measured_here: bool
    waits: int


class RevisedView(View):
    """What a revision did to the bill, item by item."""

    number: str
    letter: str
    former: str
    received: date
    currency: str
    before: Decimal
    after: Decimal
    here: Decimal
    elsewhere: Decimal
    near: int
    items: list[RevisedItem]
    more: int
