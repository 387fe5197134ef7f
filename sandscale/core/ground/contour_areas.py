"""Cut and fill by contour areas: the areas within lines of equal height, and the slices between them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..refusals import BadEntry
from .areas import Rule, Volume, volume
from .cut_and_fill import CutFill, depth
from .measures import positive
from .pieces import Floats, Pieces
from .surface import zero_lines

_MOST_SLICES = 2_000


@dataclass(frozen=True)
class Slices:
    """One side of the work by slices.

    Attributes:
        heights: the height of each line over (or depth under) the formation, in m; the last is the highest
            point.
        areas: what each encloses in plan, in m².
        slices: the volume between them.
        lines: for each height but the last, the lines themselves; for height zero, those between cut and
            fill.
    """

    heights: Floats
    areas: Floats
    slices: Volume
    lines: tuple[list[Floats], ...]


@dataclass(frozen=True)
class ContourAreas:
    """Cut and fill by contour areas."""

    cut_slices: Slices
    fill_slices: Slices

    @property
    def cut(self) -> float:
        """In m³."""
        return self.cut_slices.slices.total

    @property
    def fill(self) -> float:
        """In m³."""
        return self.fill_slices.slices.total


def contour_areas(earth: CutFill, interval: float, rule: Rule = "mean area") -> ContourAreas:
    """Cut and fill by the areas within contours of the height between ground and formation.

    For a level formation these are the ground's own contours.

    Args:
        earth: ground and formation.
        interval: between contours, in m.
        rule: how volumes between areas are reckoned.

    Raises:
        BadEntry: the interval is not above zero or makes too many slices.
    """
    if not positive(interval):
        raise BadEntry("Contours need an interval above zero.", field="interval")
    cut, fill = earth.cut_pieces, earth.fill_pieces
    zero = earth.zero_lines
    return ContourAreas(
        _slices(cut, depth(cut), zero, interval, rule), _slices(fill, -depth(fill), zero, interval, rule)
    )


def area_above(some: Pieces, heights: Floats, level: float) -> float:
    """The plan area in m² where a linear height (n × 3) is above a level."""
    low, middle, high = np.sort(heights, axis=1).T
    with np.errstate(divide="ignore", invalid="ignore"):
        upper = (high - level) ** 2 / ((high - low) * (high - middle))
        lower = 1 - (level - low) ** 2 / ((high - low) * (middle - low))
    share = np.where(level >= high, 0.0, np.where(level <= low, 1.0, np.where(level >= middle, upper, lower)))
    return float((some.areas * share).sum())


def _slices(some: Pieces, heights: Floats, zero: list[Floats], interval: float, rule: Rule) -> Slices:
    top = float(heights.max(initial=0.0))
    number = int(np.ceil(top / interval - 1e-9))
    if number < 1:
        return Slices(np.zeros(0), np.zeros(0), Volume(()), ())
    if number > _MOST_SLICES:
        raise BadEntry(
            f"An interval of {interval:g} m makes {number:,} slices.",
            field="interval",
            remedy="Choose a larger one.",
        )
    levels = np.append(np.arange(number) * interval, top)
    areas = np.array([area_above(some, heights, level) for level in levels])
    # At the top there may be a flat as well as a point: what is level there has the area just under it.
    areas[-1] = area_above(some, heights, top * (1 - 1e-9))
    return Slices(
        levels,
        areas,
        volume(levels, areas, rule),
        (zero, *(zero_lines(some, heights - level) for level in levels[1:-1])),
    )
