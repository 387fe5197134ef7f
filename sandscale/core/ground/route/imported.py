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
from .sections import CUT, FILL

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


def areas_of(sections: Sequence[SectionLines], order: Sequence[str]) -> tuple[list[AreaRow], tuple[Finding, ...]]:
    """The areas of each section: of each layer from its own line down to the next line below that the section has, and
    of cut and fill between the lines named ground and formation.

    Args:
        sections: in any order of chainages.
        order: the names of the lines from the top down; the last is only a bottom.

    Raises:
        BadEntry: fewer than two lines are named, or two sections have one chainage.
    """
    if len(order) < 2 and not {GROUND, FORMATION} & {name for section in sections for name in section.lines}:
        raise BadEntry("Layers lie between two lines: name their lines from the top down.", field="order")
    ordered = sorted(sections, key=lambda section: section.chainage)
    if any(a.chainage == b.chainage for a, b in pairwise(ordered)):
        raise BadEntry("Two sections have one chainage.", field="chainage")
    rows, findings = list[AreaRow](), list[Finding]()
    for at, section in enumerate(ordered):
        areas, middles = dict[str, float](), dict[str, float]()
        present = [name for name in order if name in section.lines]
        for upper, lower in pairwise(present):
            between = _between(section.lines[upper], section.lines[lower])
            if between.below > 1e-6:
                says = f"At chainage {section.chainage:g} the line of {lower} lies above {upper} by {between.below:.3f} m²; that part is not counted."
                findings.append(Finding(says, at, upper, wrong=True))
            areas[upper], middles[upper] = between.above, between.middle
        if {GROUND, FORMATION} <= set(section.lines):
            between = _between(section.lines[GROUND], section.lines[FORMATION])
            areas |= {CUT: between.above, FILL: between.below}
            middles |= {CUT: between.middle, FILL: between.middle_below}
        rows.append(AreaRow(section.chainage, areas, middles))
    return rows, tuple(findings)


def _between(upper: Floats, lower: Floats) -> Trapezia:
    low, high = max(upper[0, 0], lower[0, 0]), min(upper[-1, 0], lower[-1, 0])
    marks = np.unique(np.concatenate([upper[:, 0], lower[:, 0]]))
    marks = marks[(marks >= low) & (marks <= high)]
    return trapezia(marks, np.interp(marks, *upper.T) - np.interp(marks, *lower.T))
