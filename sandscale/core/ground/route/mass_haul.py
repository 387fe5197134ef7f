"""Mass haul: what is carried how far along a route, free haul and overhaul."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ...numbers.working import Working, shown
from ...refusals import BadEntry
from ..measures import positive, sound
from ..pieces import Floats
from .quantities import RouteQuantities
from .sections import BESIDE, CUT, FILL


@dataclass(frozen=True)
class MassHaul:
    """The mass haul diagram.

    Attributes:
        chainages: k, in m.
        ordinates: k, what lies over up to each chainage, in m³ of fill: above zero it is carried onwards.
        haul: volume × distance of all that is carried, in m³·m.
        moved: what is carried, in m³.
        free: the part of the haul within the free distance, in m³·m.
        overhaul: the haul beyond it, in m³·m.
        balances: the chainages between which cut and fill balance, in m.
        left_over: at the end, in m³: above zero to cart away, below zero to bring in.
    """

    chainages: Floats
    ordinates: Floats
    haul: float
    moved: float
    free: float
    overhaul: float
    balances: tuple[float, ...]
    left_over: float
    working: Working


def mass_haul(quantities: RouteQuantities, compacted: float = 1.0, free_distance: float = 0.0) -> MassHaul:
    """The mass haul of a route's cut and fill.

    Each height of the diagram is a cubic metre carried over the chord at that height: the haul is the area
    under the diagram, the overhaul that of its chords as far as they are longer than the free distance. What
    is left over is carried to (or brought from) the end of the route.

    Args:
        quantities: with cut and fill.
        compacted: m³ in a fill per m³ of cut.
        free_distance: within which haul is not paid for, in m.

    Raises:
        BadEntry: a factor or distance is not what it can be.
    """
    if not (positive(compacted) and sound(free_distance)):
        raise BadEntry(
            "The compaction factor is above zero and the free distance not below it.", field="compacted"
        )
    along, cut = quantities.cumulative(CUT)
    fills = [quantities.cumulative(name) for name in (FILL, BESIDE)]
    chainages = np.unique(np.concatenate([along, *(places for places, _ in fills)]))
    ordinates = np.interp(chainages, along, cut) * compacted
    for places, fill in fills:
        ordinates = ordinates - np.interp(chainages, places, fill)
    haul = _chords(chainages, ordinates, 0.0)
    overhaul = _chords(chainages, ordinates, free_distance)
    zero = np.flatnonzero(ordinates[:-1] * ordinates[1:] < 0)
    crossed = (
        chainages[zero] + ordinates[zero] / (ordinates[zero] - ordinates[zero + 1]) * np.diff(chainages)[zero]
    )
    balances = tuple(
        float(c) for c in np.unique(np.concatenate([crossed, chainages[np.abs(ordinates) <= 1e-9]]))
    )
    rises = np.diff(np.concatenate([[0.0], np.abs(ordinates)]))
    moved = float(rises[rises > 0].sum()) + _hidden_rises(ordinates)
    working = Working(
        "Overhaul",
        overhaul,
        "m³·m",
        "haul − free haul",
        f"{shown(haul)} − {shown(haul - overhaul)}",
        source=f"area of the mass haul diagram; chords up to {shown(free_distance)} m are free",
    )
    return MassHaul(
        chainages, ordinates, haul, moved, haul - overhaul, overhaul, balances, float(ordinates[-1]), working
    )


def _hidden_rises(ordinates: Floats) -> float:
    """What rises from zero within a step that crosses it, which the steps' ends don't show."""
    before, after = np.abs(ordinates[:-1]), np.abs(ordinates[1:])
    crossed = ordinates[:-1] * ordinates[1:] < 0
    return float((after - np.maximum(after - before, 0))[crossed].sum())


def _chords(chainages: Floats, ordinates: Floats, free: float) -> float:
    """∫ Σ max(0, chord − free) over the heights of the diagram, above and below zero."""
    return sum(_chords_above(chainages, sign * ordinates, free) for sign in (1.0, -1.0))


def _chords_above(chainages: Floats, ordinates: Floats, free: float) -> float:
    """The same of what lies above zero. Between two heights at which the diagram has corners, each chord's
    length is linear in the height, so it is reckoned exactly."""
    heights = np.unique(np.concatenate([[0.0], ordinates[ordinates > 0]]))
    total = 0.0
    for low, high in pairwise(heights):
        total += _slice(_lengths(chainages, ordinates, low, high), high - low, free)
    return total


def _lengths(chainages: Floats, ordinates: Floats, low: float, high: float) -> tuple[Floats, Floats]:
    """The lengths of the chords just above a height and just below the next, chord by chord."""
    up = (ordinates[:-1] <= low) & (ordinates[1:] >= high)
    down = (ordinates[:-1] >= high) & (ordinates[1:] <= low)

    def at(which: np.ndarray[tuple[int], np.dtype[np.bool_]], height: float) -> Floats:
        a, b = ordinates[:-1][which], ordinates[1:][which]
        return np.asarray(chainages[:-1][which] + (height - a) / (b - a) * np.diff(chainages)[which])

    starts, ends = [at(up, height) for height in (low, high)], [at(down, height) for height in (low, high)]
    if ordinates[0] >= high:
        starts = [np.concatenate([chainages[:1], each]) for each in starts]
    if ordinates[-1] >= high:
        ends = [np.concatenate([each, chainages[-1:]]) for each in ends]
    return ends[0] - starts[0], ends[1] - starts[1]


def _slice(lengths: tuple[Floats, Floats], thickness: float, free: float) -> float:
    one, other = lengths[0] - free, lengths[1] - free
    both = np.maximum(one, 0) + np.maximum(other, 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        # Where only one end is longer than free, the part above the crossing is a triangle.
        share = np.where(one * other < 0, np.maximum(one, other) / np.abs(one - other), 1.0)
    return float((both / 2 * share * thickness).sum())
