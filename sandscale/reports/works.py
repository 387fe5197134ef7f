"""What papers of trenches and routes tell: quantities, tables by chainage, sections along and across, plan.
Lengths in m, areas in m², volumes in m³, whatever the documents are written in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

from ..core.ground.drawn import Shape
from ..core.ground.papers import PAPER_PARTS, PaperPart
from ..core.ground.pieces import Floats
from ..core.numbers.working import shown
from .measured import length, sized, unit

LineKind = Literal["ground", "formation", "finished", "bottom", "invert", "crown"]
PlanKind = Literal["centreline", "edge", "trench"]


@dataclass(frozen=True)
class Chosen:
    """What a paper is to tell.

    Attributes:
        parts: of it.
        names: of the quantities whose tables it holds; all where empty.
        together: whether tables stand in one, their columns side by side.
        per_page: how many sections stand on a page.
    """

    parts: frozenset[PaperPart] = frozenset(PAPER_PARTS)
    names: tuple[str, ...] = ()
    together: bool = False
    per_page: int = 4

    def named(self, name: str) -> bool:
        """Whether a quantity's table is wanted."""
        return not self.names or name in self.names


@dataclass(frozen=True)
class QuantityTold:
    """A quantity in the project's unit; ``parts`` are (split, part, net)."""

    label: str
    net: float
    gross: float
    unit: str
    parts: Sequence[tuple[str, str, float]] = ()


@dataclass(frozen=True)
class TableColumn:
    """A column of a table by chainage.

    Attributes:
        head: of it.
        metric: the unit of its values; empty where they are words or factors.
        values: a row each; None where there is nothing to tell.
        places: decimals shown.
        total: at its foot, where it has one.
        units: of its values, row by row, where they differ.
    """

    head: str
    metric: str
    values: Sequence[float | str | None]
    places: int = 2
    total: float | None = None
    units: Sequence[str] = ()

    @property
    def words(self) -> bool:
        """Whether it holds words."""
        return any(isinstance(value, str) for value in self.values)

    @property
    def title(self) -> str:
        """Its head with its unit."""
        return f"{self.head} {unit(self.metric)}".strip() if self.metric else self.head

    def cell(self, value: float | str | None, here: str = "") -> str:
        """A value as it is told; a number of things is whole."""
        if value is None or isinstance(value, str):
            return value or ""
        return shown(self.size(value), 0 if "nr" in (here, self.metric) else self.places, self.places)

    def size(self, value: float) -> float:
        """A value in the project's unit."""
        return sized(value, self.metric) if self.metric else value

    def cells(self) -> Iterator[str]:
        """Its values as they are told, row by row."""
        if not self.units:
            return (self.cell(value) for value in self.values)
        return (self.cell(value, here) for value, here in zip(self.values, self.units, strict=True))


@dataclass(frozen=True)
class ChainageTable:
    """A table by chainage; the first ``held`` columns say where, and stand in each part of it."""

    name: str
    columns: Sequence[TableColumn]
    held: int = 1

    def rows(self) -> Iterator[list[float | str | None]]:
        """Its heads, and what stands under them in the project's units."""
        yield [column.title for column in self.columns]
        for row in zip(*(column.values for column in self.columns), strict=True):
            yield [
                value if value is None or isinstance(value, str) else column.size(value)
                for column, value in zip(self.columns, row, strict=True)
            ]


@dataclass(frozen=True)
class Across:
    """A section across.

    Attributes:
        title: where it is.
        shapes: what is shaded.
        lines: (kind, k × 2 of offset and level).
    """

    title: str
    shapes: Sequence[Shape]
    lines: Sequence[tuple[LineKind, Floats]]

    @property
    def told(self) -> str:
        """Its areas."""
        return "; ".join(f"{s.name} {shown(sized(s.area, 'm²'), 3, 3)}" for s in self.shapes if s.area)


@dataclass(frozen=True)
class Along:
    """A long section.

    Attributes:
        title: of what.
        lines: (kind, k × 2 of chainage and level; not a number where nothing is known).
        marks: (chainage, what is there).
    """

    title: str
    lines: Sequence[tuple[LineKind, Floats]]
    marks: Sequence[tuple[float, str]]


@dataclass(frozen=True)
class Haul:
    """A mass haul diagram: what lies over up to each chainage, in m³, and what is said of it."""

    chainages: Floats
    ordinates: Floats
    told: str


@dataclass(frozen=True)
class PlanLine:
    """A line on the plan, k × 2."""

    kind: PlanKind
    places: Floats


@dataclass(frozen=True)
class WorkDocument:
    """A trench network or a route, with what was chosen to be told of it.

    Attributes:
        project, client, title: whose it is.
        told: (what, how) of what it goes by.
        lines: its quantities.
        findings: what was found; None where that isn't told.
        tables: by chainage.
        along: its long sections.
        haul: its mass haul diagram.
        across: its sections.
        plan: its lines on the plan.
        places: (east, north, name) on the plan.
        per_page: how many sections stand on a page.
    """

    project: str
    client: str
    title: str
    told: Sequence[tuple[str, str]]
    lines: Sequence[QuantityTold]
    findings: Sequence[str] | None = None
    tables: Sequence[ChainageTable] = ()
    along: Sequence[Along] = ()
    haul: Haul | None = None
    across: Sequence[Across] = ()
    plan: Sequence[PlanLine] = ()
    places: Sequence[tuple[float, float, str]] = field(default=())
    per_page: int = 4


def at_chainage(chainage: float) -> str:
    """Where a section is, in words."""
    return f"at {length(chainage)} {unit('m')}"
