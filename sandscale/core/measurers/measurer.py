"""The protocol of measurers, and what they give.

Bill, walk, checks, workbook and reports know this and never ask what made a quantity line.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal, Protocol, TypeVar

from ..bars.schedule import ScheduleLine
from ..findings import Finding
from ..numbers.working import Working

Split = Literal["stage", "stretch", "band", "layer", "kind"]
G_contra = TypeVar("G_contra", contravariant=True)
_TOLERANCE = 1e-9


@dataclass(frozen=True)
class Part:
    """A part of a quantity line: by which split, its name there, and what falls to it, in the line's unit."""

    split: Split
    name: str
    net: float
    gross: float


@dataclass(frozen=True)
class QuantityLine:
    """One output of an element.

    Attributes:
        output: its key within the element.
        net: unrounded, in ``unit``; ``gross`` is net with ``waste`` percent.
        item: the words of the bill item it goes into; empty for a material, which is bought and not billed.
        section: the title of that item's section.
        pack: how it is bought, in words.
        parts: by stage, stretch, band or layer; those of one split add up to the whole.
        always: whether it is shown also when it comes to nothing.
    """

    output: str
    label: str
    unit: str
    family: str
    net: float
    waste: float = 0.0
    gross: float = 0.0
    item: str = ""
    section: str = ""
    pack: str = ""
    parts: tuple[Part, ...] = ()
    always: bool = True


@dataclass(frozen=True)
class Measured:
    """What a measurer makes of an element.

    Attributes:
        quantities: its outputs, the same ones whatever was entered.
        headline: the output that stands for the element in lists.
        findings: what looks wrong.
        squared: for each dimension line, what it gives to the headline; empty where there are no lines.
        counted: for each dimension line, whether it counts.
        bars: what stands in the bending schedule; those without a mark get one by rule.
    """

    quantities: tuple[QuantityLine, ...]
    headline: str
    findings: tuple[Finding, ...] = ()
    squared: Sequence[float] = field(default=())
    counted: Sequence[bool] = field(default=())
    bars: tuple[ScheduleLine, ...] = ()


class Measurer(Protocol[G_contra]):
    """Turns what was entered for an element into quantity lines, with working and findings.

    Attributes:
        key: what elements know it by.
        slow: whether it is worked out by a job rather than at once.
    """

    key: str
    slow: bool

    def measure(self, given: G_contra) -> Measured:
        """The quantity lines of an element.

        Raises:
            Refusal: what was entered can't be read.
        """
        ...

    def working(self, given: G_contra, output: str, name: str) -> Working:
        """How one output came about; ``name`` is what to call the number."""
        ...

    def bar_working(self, given: G_contra, key: str, name: str) -> Working:
        """How the cut length of one of its bars came about, and how many there are; ``name`` is what to call
        it.

        Raises:
            BadEntry: it has no such bar.
        """
        ...

    def needs(self, given: G_contra) -> tuple[str, ...]:
        """The dimensions each of its lines must have; empty where it takes none."""
        ...


def uneven(line: QuantityLine) -> Iterable[str]:
    """The splits of a quantity line whose parts don't add up to it."""
    for split in dict.fromkeys(part.split for part in line.parts):
        mine = [part for part in line.parts if part.split == split]
        for whole, parts in ((line.net, [p.net for p in mine]), (line.gross, [p.gross for p in mine])):
            if not math.isclose(whole, math.fsum(parts), rel_tol=_TOLERANCE, abs_tol=_TOLERANCE):
                yield split
                break
