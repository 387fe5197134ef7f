"""What the documents of bars are made from: the schedule as it stands, its sums, and the cutting plans."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..core.bars.schedule import SizeTotal


@dataclass(frozen=True)
class BarRow:
    """A line of the schedule: numbers as they stand, legs by letter in mm, the outline in mm."""

    member: str
    mark: str
    grade: str
    size: str
    members: float
    each: float
    total: float
    cut: float
    mass: float
    shape: str
    legs: Mapping[str, float]
    outline: Sequence[Sequence[float]]
    revision: str = ""
    findings: Sequence[str] = ()


@dataclass(frozen=True)
class SumRow:
    """The mass in kg of a member's or a location's bars, by size."""

    name: str
    masses: Sequence[float]
    ratio: float | None = None
    band: Sequence[float] | None = None


@dataclass(frozen=True)
class PatternRow:
    """One way to cut a bar: stock length, cut lengths with their numbers, times, what is left; in m."""

    stock: float
    cuts: Sequence[tuple[float, int]]
    times: int
    offcut: float
    kept: bool


@dataclass(frozen=True)
class PlanBlock:
    """How the bars of a size are cut in a cutting."""

    cutting: str
    size: str
    patterns: Sequence[PatternRow]
    order: Sequence[tuple[float, int]]
    demand: float
    bought: float
    bound: float
    proven: bool
    too_long: Sequence[tuple[float, int]]
    fresh: bool

    @property
    def waste(self) -> float:
        """What is bought and not used, in percent of what is used."""
        return (self.bought / self.demand - 1) * 100 if self.demand else 0.0


@dataclass(frozen=True)
class BarsDocument:
    """All that the documents of bars tell."""

    project: str
    client: str
    rules: str
    revision: str
    rows: Sequence[BarRow]
    sizes: Sequence[SizeTotal]
    grades: Mapping[str, str]
    members: Sequence[SumRow]
    locations: Sequence[SumRow]
    plans: Sequence[PlanBlock]

    @property
    def letters(self) -> list[str]:
        """The letters of all legs there are, A to E at least."""
        there = {letter for row in self.rows for letter in row.legs} | set("ABCDE")
        return [letter for letter in "ABCDEFGHIJKLR" if letter in there]
