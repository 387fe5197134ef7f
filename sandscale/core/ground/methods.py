"""The methods of reckoning cut and fill side by side, each with its difference from the exact one."""

from __future__ import annotations

from dataclasses import dataclass

from .areas import Rule
from .contour_areas import ContourAreas, contour_areas
from .cut_and_fill import CutFill
from .grid import Cells, Rows, rows, squares


@dataclass(frozen=True)
class Method:
    """What one method makes of the work.

    Attributes:
        name: in words.
        result: with its blocks, sections or slices.
        cut: in m³.
        fill: in m³.
        cut_off: how much more cut than the exact method finds, in m³.
        fill_off: the same of fill.
    """

    name: str
    result: CutFill | Cells | Rows | ContourAreas
    cut: float
    fill: float
    cut_off: float
    fill_off: float


def side_by_side(
    earth: CutFill, spacing: float, interval: float, rule: Rule = "mean area", angle: float = 0.0
) -> tuple[Method, ...]:
    """Cut and fill by all four methods, the exact one first.

    Args:
        earth: ground and formation.
        spacing: of the grid, in m.
        interval: between contours, in m.
        rule: how volumes between sections and contours are reckoned.
        angle: of the grid's rows to the east, in degrees to the left.
    """
    found: tuple[tuple[str, CutFill | Cells | Rows | ContourAreas], ...] = (
        ("exact", earth),
        ("square grid", squares(earth, spacing, angle)),
        ("grid sections", rows(earth, spacing, rule, angle)),
        ("contour areas", contour_areas(earth, interval, rule)),
    )
    return tuple(
        Method(name, result, result.cut, result.fill, result.cut - earth.cut, result.fill - earth.fill)
        for name, result in found
    )
