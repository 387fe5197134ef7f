"""What is read of routes. Lengths and levels in m, areas in m², volumes in m³, entries as typed."""

from __future__ import annotations

from typing import Any, Literal

from ...keeping.views import View
from ..views import RouteBrief


class TypicalView(View):
    """A typical section, its entries as they are typed here; how many routes are built like it."""

    id: int
    version: int
    name: str
    document: dict[str, Any]
    shelf: int | None
    shelf_number: int | None
    used: int


class RouteShape(View):
    """A part of a section across a route: outlines of (offset, level), and its area in m². ``name`` is a
    layer's, or cut or fill."""

    name: str
    rings: list[list[list[float]]]
    area: float


class TypicalDrawn(View):
    """A typical section as it looks, the centreline at 0; ``says`` why it can't be drawn."""

    says: str
    field: str
    shapes: list[RouteShape]
    finished: list[list[float]]
    formation: list[list[float]]


class RouteRow(View):
    """A row of one of a route's tables, its entries by column as typed; ``typical`` where it names one."""

    id: int
    version: int
    cells: dict[str, str]
    typical: int | None
    says: str


class RunChoice(View):
    """A run measured on a sheet that a centreline can go along."""

    figure: int
    name: str
    sheet: str


class SplitPart(View):
    """What falls to one part of a split, such as a stretch."""

    split: str
    part: str
    net: float


class RouteLine(View):
    """A quantity of a route, in its unit; with what falls to each stretch, and the layers gathered."""

    output: str
    label: str
    net: float
    gross: float
    unit: str
    parts: list[SplitPart]


class GatheredView(View):
    """What a named quantity gathers; ``kind`` says by what it is counted."""

    name: str
    kind: Literal["layer", "edge", "strip"]
    parts: list[str]
    own: bool


class RouteView(RouteBrief):
    """A route: what was entered, and what it comes to."""

    route: int
    route_version: int
    ground: int | None
    figure: int | None
    from_file: bool
    begins: str
    interval: str
    rule: str
    curved: bool
    free: str
    bulking: str
    compacted: str
    lorry: str
    from_top: str
    imported: int
    line_names: list[str]
    corners: list[RouteRow]
    levels: list[RouteRow]
    changes: list[RouteRow]
    stretches: list[RouteRow]
    named: list[RouteRow]
    gathered: list[GatheredView]
    layers: list[str]
    chainages: list[float]
    lines: list[RouteLine]
    says: list[str]
    bounds: list[float]
    made: str
    billed: bool
    stretched: bool
    staged: bool


class PlanLine(View):
    """A line on the plan: the centreline, an edge, where it meets the ground, a section."""

    kind: Literal["centreline", "edge", "daylight"]
    places: list[list[float]]


class RoutePlan(View):
    """A route on the plan."""

    lines: list[PlanLine]
    ticks: list[list[float]]
    chainages: list[float]


class RouteSection(View):
    """A section across a route: what is shaded, and its lines as (offset, level)."""

    at: int
    chainage: float
    typical: str
    level: float | None
    ground: list[list[float]]
    formation: list[list[float]]
    finished: list[list[float]]
    shapes: list[RouteShape]


class RouteSections(View):
    """Sections from one place in the row of chainages on."""

    first: int
    sections: list[RouteSection]


class RouteTable(View):
    """Areas at sections, volumes from the one before, and running sums, a column of numbers for each name;
    nothing where a volume is told at the next section."""

    first: int
    whole: int
    keys: list[str]
    names: list[str]
    units: list[str]
    chainages: list[float]
    typicals: list[str]
    areas: list[list[float | None]]
    volumes: list[list[float | None]]
    running: list[list[float]]
    totals: list[float]


class LongMark(View):
    """A place along a long section: a point of it, or where a typical section begins."""

    chainage: float
    level: float
    name: str


class RouteLong(View):
    """A long section: the ground and the route's levels along it."""

    ground: list[list[float | None]]
    line: list[list[float]]
    points: list[LongMark]
    changes: list[LongMark]
    begins: float
    ends: float


class HaulView(View):
    """A mass haul diagram: what lies over up to each chainage, in m³ of fill."""

    chainages: list[float]
    ordinates: list[float]
    balances: list[float]
    haul: float
    free: float
    overhaul: float
    moved: float
    left_over: float
    free_distance: float
