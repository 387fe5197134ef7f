"""What is read of trenches. Lengths in m, volumes in m³, entries as typed."""

from __future__ import annotations

from typing import Any

from ...keeping.views import View
from ..views import NetworkBrief


class SectionShape(View):
    """A part of a trench in section: outlines of (offset, level), and its area in m²."""

    key: str
    name: str
    rings: list[list[list[float]]]
    area: float


class KindView(View):
    """A kind of trench, its entries as they are typed here."""

    id: int
    version: int
    name: str
    document: dict[str, Any]
    shelf: int | None
    shelf_number: int | None
    runs: int


class KindDrawn(View):
    """A kind of trench in section at a depth, its bottom at 0; ``says`` why it can't be drawn."""

    says: str
    field: str
    depth: float
    bottom: float
    shapes: list[SectionShape]
    pipe: list[float]


class NodeView(View):
    """A node as typed, and where it lies: ``level`` of the ground, ``invert`` the lowest that meets it."""

    id: int
    version: int
    name: str
    east: str
    north: str
    ground: str
    manhole: str
    wall: str
    base: str
    space: str
    x: float | None
    y: float | None
    level: float | None
    invert: float | None


class RunView(View):
    """A run as typed, and what it comes to; nothing where it can't be reckoned."""

    id: int
    version: int
    begins: str
    ends: str
    invert_begins: str
    invert_ends: str
    kind: int | None
    stage: str
    ground: str
    length: float | None
    fall: float | None
    least: float | None
    deepest: float | None
    cover: float | None
    dug: float | None
    says: list[str]


class LineOut(View):
    """A quantity of the network, in its unit."""

    output: str
    label: str
    net: float
    gross: float
    unit: str


class NetworkView(NetworkBrief):
    """A network: what was entered, and what it comes to. ``ways`` are runs that follow one another."""

    network: int
    network_version: int
    ground: int | None
    bands: str
    bulking: str
    compacted: str
    lorry: str
    nodes: list[NodeView]
    runs: list[RunView]
    lines: list[LineOut]
    ways: list[list[int]]
    says: list[str]
    bounds: list[float]
    made: str
    billed: bool


class LongNode(View):
    """A node along a long section."""

    name: str
    chainage: float
    ground: float | None
    inverts: list[float]
    manhole: bool


class LongRun(View):
    """A run along a long section."""

    id: int
    name: str
    kind: str
    begins: float
    ends: float
    fall: float


class NamedLine(View):
    """A line of places (chainage, level)."""

    key: str
    places: list[list[float]]


class LongView(View):
    """A long section along runs that follow one another."""

    lines: list[NamedLine]
    nodes: list[LongNode]
    runs: list[LongRun]
    length: float


class TrenchSectionView(View):
    """A section across a run; ``pipe`` is the level of its middle, its outside and its inside radius."""

    run: int
    name: str
    chainage: float
    stations: list[float]
    at: int
    ground: float
    depth: float
    bottom: float
    shapes: list[SectionShape]
    pipe: list[float]
