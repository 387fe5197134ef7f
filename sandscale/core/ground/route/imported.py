"""Sections brought in as lines of offsets and levels, layer by layer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ...findings import Finding
from ...refusals import BadEntry
from ..areas import Trapezia, trapezia
from ..pieces import Floats
from .quantities import AreaRow
from .sections import CUT, EARTH, FILL

GROUND, FORMATION = "ground", "formation"


@dataclass(frozen=True)
class SectionLines:
    """The lines of one section.

    Attributes:
        chainage: in m.
        lines: name → k × 2, offsets that rise and levels, in m.
    """

    chainage: float
    lines: Mapping[str, Floats]


def areas_of(
    sections: Sequence[SectionLines], order: Sequence[str]
) -> tuple[list[AreaRow], tuple[Finding, ...]]:
    """The areas of each section: of each layer from its own line down to the next line below that the section
    has, and of cut and fill between the lines named ground and formation.

    Args:
        sections: in any order of chainages.
        order: the names of the lines from the top down; the last is only a bottom.

    Raises:
        BadEntry: fewer than two lines are named, or two sections have one chainage.
    """
    if len(order) < 2 and not {GROUND, FORMATION} & {name for section in sections for name in section.lines}:
        raise BadEntry("Layers lie between two lines: name their lines from the top down.", field="order")
    if taken := [name for name in order if name.lower() in EARTH]:
        raise BadEntry(f"A layer can't be called “{taken[0]}”: that is earthwork.", field="order")
    ordered = sorted(sections, key=lambda section: section.chainage)
    if any(a.chainage == b.chainage for a, b in pairwise(ordered)):
        raise BadEntry("Two sections have one chainage.", field="chainage")
    rows, findings = list[AreaRow](), _not_ordered(ordered, order)
    for at, section in enumerate(ordered):
        areas, middles = dict[str, float](), dict[str, float]()
        present = [name for name in order if name in section.lines]
        for upper, lower in pairwise(present):
            between = _between(section, at, upper, lower, findings)
            if between.below > 1e-6:
                says = (
                    f"At chainage {section.chainage:g} the line of {lower} lies above {upper} by "
                    f"{between.below:.3f} m²; that part is not counted."
                )
                findings.append(Finding(says, at, upper, wrong=True, code="line-apart"))
            areas[upper], middles[upper] = between.above, between.middle
        if {GROUND, FORMATION} <= set(section.lines):
            between = _between(section, at, FORMATION, GROUND, findings)
            areas |= {CUT: between.below, FILL: between.above}
            middles |= {CUT: between.middle_below, FILL: between.middle}
        rows.append(AreaRow(section.chainage, areas, middles))
    return rows, tuple(findings)


def _not_ordered(sections: Sequence[SectionLines], order: Sequence[str]) -> list[Finding]:
    """Lines that no layer goes by."""
    lines = dict.fromkeys(name for section in sections for name in section.lines)
    return [
        Finding(
            f"The line {name} isn't in the order of layers and is not counted.",
            field=name,
            wrong=True,
            code="line-unknown",
        )
        for name in lines
        if name not in (*order, GROUND, FORMATION)
    ]


def _between(section: SectionLines, at: int, upper: str, lower: str, findings: list[Finding]) -> Trapezia:
    """What lies between two lines, as wide as the upper is; where the lower ends short of it, that is put
    to the findings."""
    top, bottom = section.lines[upper], section.lines[lower]
    low, high = max(top[0, 0], bottom[0, 0]), min(top[-1, 0], bottom[-1, 0])
    short = top[-1, 0] - top[0, 0] - max(high - low, 0.0)
    if short > 1e-6:
        says = (
            f"At chainage {section.chainage:g} the line of {lower} ends {short:.2f} m short of "
            f"{upper}; what lies beyond is not counted."
        )
        findings.append(Finding(says, at, lower, wrong=True, code="line-short"))
    marks = np.unique(np.concatenate([top[:, 0], bottom[:, 0]]))
    marks = marks[(marks >= low) & (marks <= high)]
    return trapezia(marks, np.interp(marks, *top.T) - np.interp(marks, *bottom.T))
