"""Cut and fill by the trade's grid methods: squares, and sections along the rows of a grid."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .areas import Rule, Trapezia, Volume, trapezia, volume
from .cut_and_fill import CutFill
from .measures import known, positive
from .pieces import Floats, Region, triangles_of
from .surface import Line
from .table import Table, table

_MOST_CELLS = 1_000_000
# Shares of a spacing: how far a corner may lie off a straight outline, and how near to a row it needs none.
_ON_LINE, _BESIDE = 0.01, 0.1
_SNAPPED = 1e-6  # of a spacing: a footprint may be so much larger than its shape
_BESIDE_LINE = 1e-6  # m: what lies so near a line lies on it
_HAIR = 1e-9  # so far inside, as a share, levels are read: where they break, each side has its own


@dataclass(frozen=True)
class Cells:
    """Cut and fill by squares.

    Attributes:
        outlines: of each cell, clipped at the edge.
        areas: of each in m².
        ground: the mean of its corners' ground levels, in m.
        formation: the mean of its corners' formation levels, in m.
    """

    outlines: tuple[Region, ...]
    areas: Floats
    ground: Floats
    formation: Floats

    @property
    def volumes(self) -> Floats:
        """Of each cell in m³, cut above zero, fill below."""
        return (self.ground - self.formation) * self.areas

    @property
    def cut(self) -> float:
        """In m³."""
        return float(self.volumes[self.volumes > 0].sum())

    @property
    def fill(self) -> float:
        """In m³."""
        return abs(float(self.volumes[self.volumes < 0].sum()))

    @property
    def table(self) -> Table:
        """A row for each cell, fill below zero."""
        places = shapely.get_coordinates(shapely.point_on_surface(np.array(self.outlines)))
        return table(
            "Cut less fill",
            ("east", "m", places[:, 0]),
            ("north", "m", places[:, 1]),
            ("mean ground", "m", self.ground),
            ("mean formation", "m", self.formation),
            ("area", "m²", self.areas),
            ("volume", "m³", self.volumes),
        )

    def block(self, at: int) -> Working:
        """The arithmetic of one cell."""
        place = shapely.point_on_surface(self.outlines[at])
        height = self.ground[at] - self.formation[at]
        upper, lower = max(self.ground[at], self.formation[at]), min(self.ground[at], self.formation[at])
        return Working(
            f"{'Cut' if height >= 0 else 'Fill'} of the square at {place.x:.2f}, {place.y:.2f}",
            abs(float(self.volumes[at])),
            "m³",
            "(mean ground − mean formation) × area"
            if height >= 0
            else "(mean formation − mean ground) × area",
            f"({shown(float(upper), 3)} − {shown(float(lower), 3)}) × {shown(float(self.areas[at]))}",
        )


@dataclass(frozen=True)
class Row:
    """A section along a row of the grid.

    Attributes:
        chainage: across the rows, in m.
        plan: k × 2, its points.
        offsets: k, along the row, in m; NaN between parts that don't hang together.
        ground: k, in m.
        formation: k, in m.
        area: what lies between them.
    """

    chainage: float
    plan: Floats
    offsets: Floats
    ground: Floats
    formation: Floats
    area: Trapezia


@dataclass(frozen=True)
class Rows:
    """Cut and fill by sections along the rows of a grid."""

    sections: tuple[Row, ...]
    cut_volume: Volume
    fill_volume: Volume

    @property
    def area_table(self) -> Table:
        """A row for each section: its chainage and areas, cut less fill last."""
        cut, fill = (
            np.array([getattr(row.area, side) for row in self.sections]) for side in ("above", "below")
        )
        chainages = np.array([row.chainage for row in self.sections])
        return table(
            "Areas",
            ("chainage", "m", chainages),
            ("cut", "m²", cut),
            ("fill", "m²", fill),
            ("cut less fill", "m²", cut - fill),
        )

    @property
    def cut(self) -> float:
        """In m³."""
        return self.cut_volume.total

    @property
    def fill(self) -> float:
        """In m³."""
        return self.fill_volume.total


def typed_squares(ground: Floats, formation: Floats | float, spacing: float) -> Cells:
    """Cut and fill by squares from levels read off a square grid.

    Args:
        ground: rows × columns of levels; row 0 is at y = 0 and rows go up.
        formation: levels in the same order, or one for all.
        spacing: of the grid, in m.
    """
    levels, formed = _checked(ground, formation, spacing)
    rows, columns = levels.shape
    x, y = np.meshgrid(np.arange(columns - 1) * spacing, np.arange(rows - 1) * spacing)
    outlines = shapely.box(x, y, x + spacing, y + spacing).ravel()
    corners = [
        (levels[i : rows - 1 + i, j : columns - 1 + j], formed[i : rows - 1 + i, j : columns - 1 + j])
        for i in (0, 1)
        for j in (0, 1)
    ]
    means = [np.mean([pair[which] for pair in corners], axis=0).ravel() for which in (0, 1)]
    return Cells(tuple(outlines), np.full(len(outlines), spacing**2), means[0], means[1])


def typed_rows(ground: Floats, formation: Floats | float, spacing: float, rule: Rule = "mean area") -> Rows:
    """Cut and fill by sections along the rows of levels read off a square grid (see
    :func:`typed_squares`)."""
    levels, formed = _checked(ground, formation, spacing)
    offsets = np.arange(levels.shape[1], dtype=np.float64) * spacing
    sections = []
    for at, (line, floor) in enumerate(zip(levels, formed, strict=True)):
        plan = np.column_stack([offsets, np.full(len(offsets), at * spacing)])
        sections.append(Row(at * spacing, plan, offsets, line, floor, trapezia(offsets, line - floor)))
    return _rows(sections, rule)


def squares(earth: CutFill, spacing: float, angle: float = 0.0) -> Cells:
    """Cut and fill by squares laid over the footprint, cells clipped at its edge.

    Args:
        earth: ground and formation.
        spacing: of the grid, in m.
        angle: of its rows to the east, in degrees to the left.

    Raises:
        BadEntry: the spacing is not above zero or makes too many cells.
    """
    region, turned = _laid(earth.footprint, spacing, angle)
    left, low, right, high = region.bounds
    columns, rows = (
        math.ceil((right - left) / spacing - _SNAPPED),
        math.ceil((high - low) / spacing - _SNAPPED),
    )
    x, y = np.meshgrid(left + np.arange(columns) * spacing, low + np.arange(rows) * spacing)
    boxes = shapely.box(x, y, x + spacing, y + spacing).ravel()
    # The outline may run a hair inside the grid's own lines: such a square is whole all the same.
    around = shapely.buffer(region, _BESIDE_LINE, join_style="mitre")
    shapely.prepare([region, around])
    whole = shapely.covers(around, boxes)
    part = np.flatnonzero(shapely.intersects(region, boxes) & ~whole)
    clipped = shapely.intersection(boxes[part], region)
    clipped = clipped[shapely.area(clipped) > 1e-9]
    corners = shapely.get_coordinates(boxes[whole]).reshape(-1, 5, 2)[:, :4]
    ground, formation = (level.mean(axis=1) for level in _inside(corners, earth, turned))
    # What the pieces left along a straight edge is no corner of a square.
    edge = [_clipped_means(shapely.simplify(clipped, _BESIDE_LINE), earth, turned)] if len(clipped) else []
    outlines = shapely.transform(np.concatenate([boxes[whole], clipped]), turned)
    areas = np.concatenate([np.full(int(whole.sum()), spacing**2), shapely.area(clipped)])
    ground, formation = (
        np.concatenate([first, *(means[at] for means in edge)])
        for at, first in enumerate((ground, formation))
    )
    if len(lost := np.flatnonzero(np.isnan(ground - formation))):
        place = shapely.point_on_surface(outlines[lost[0]])
        raise BadEntry(f"A level is missing in the square at {place.x:.2f}, {place.y:.2f}.", field="level")
    return Cells(tuple(outlines), areas, ground, formation)


def rows(
    earth: CutFill,
    spacing: float,
    rule: Rule = "mean area",
    angle: float = 0.0,
    breaks: Sequence[Line] = (),
) -> Rows:
    """Cut and fill by sections along rows laid over the footprint; the first and the last lie at its ends,
    and more where its outline turns between two rows, so that what lies there isn't cut off.

    Args:
        earth: ground and formation.
        spacing: of rows, and of levels along a row, in m.
        rule: how volumes between sections are reckoned.
        angle: of the rows to the east, in degrees to the left.
        breaks: rings at which the formation or a class breaks; where a row meets one, it has the levels
            of both sides.

    Raises:
        BadEntry: the spacing is not above zero or makes too many cells.
    """
    region, turned = _laid(earth.footprint, spacing, angle)
    rings = [shapely.linestrings([*ring, ring[0]]) for ring in (_plan(ring) for ring in breaks)]
    broken = shapely.transform(shapely.union_all(rings), _into(angle)) if rings else None
    left, low, right, high = region.bounds
    along = _chainages(region, spacing, rule)
    hair = min(spacing * _HAIR, (high - low) / 2)  # a row along a break is of what lies after it
    sections = []
    for chainage, y in zip(along, np.minimum(along + hair, high - hair), strict=True):
        cut = shapely.intersection(shapely.linestrings([(left - 1, y), (right + 1, y)]), region)
        offsets = _row_offsets(cut, left, spacing, broken)
        plan = turned(np.column_stack([offsets, np.full(len(offsets), y)]))
        ground, formation = earth.levels_at(plan)
        sections.append(
            Row(
                float(chainage - low),
                plan,
                offsets - left,
                ground,
                formation,
                trapezia(offsets - left, ground - formation),
            )
        )
    return _rows(sections, rule)


def _chainages(region: Region, spacing: float, rule: Rule) -> Floats:
    """Where rows lie: on the grid, at both ends of the footprint, and at its corners between; by the
    prismoidal rule in the middle of a stretch too that has no equal beside it, or a corner at its end."""
    _, low, _, high = region.bounds
    along = np.append(low + np.arange(math.ceil((high - low) / spacing - _SNAPPED)) * spacing, high)
    corners = np.unique(shapely.get_coordinates(shapely.simplify(region, spacing * _ON_LINE))[:, 1])
    apart = spacing * _BESIDE
    for corner in corners:
        at = np.searchsorted(along, corner)
        if all(abs(along[n] - corner) > apart for n in (at - 1, at) if 0 <= n < len(along)):
            along = np.insert(along, at, corner)
    if rule != "prismoidal":
        return along
    found, at = [float(along[0])], 0
    while at + 1 < len(along):
        here, there = along[at], along[at + 1]
        equal = at + 2 < len(along) and abs(along[at + 2] - 2 * there + here) <= spacing * _SNAPPED
        paired = equal and np.abs(corners - there).min() > apart
        found += [there, along[at + 2]] if paired else [(here + there) / 2, there]
        at += 2 if paired else 1
    return np.array(found)


def _rows(sections: Sequence[Row], rule: Rule) -> Rows:
    chainages = [section.chainage for section in sections]
    return Rows(
        tuple(sections),
        volume(chainages, [section.area.above for section in sections], rule),
        volume(chainages, [section.area.below for section in sections], rule),
    )


def _plan(ring: Line) -> list[tuple[float, float]]:
    return [(corner[0], corner[1]) for corner in ring]


def _met(cut: Region, broken: Region | None) -> Floats:
    """Where a row meets lines."""
    if broken is None:
        return np.zeros(0)
    return np.asarray(shapely.get_coordinates(shapely.intersection(cut, broken))[:, 0])


def _row_offsets(cut: Region, left: float, spacing: float, broken: Region | None) -> Floats:
    """The points of a row: the ends of each part of it, the grid between them, and both sides of
    lines at which levels break; NaN from part to part."""
    found, met = list[Floats](), _met(cut, broken)
    for part in shapely.get_parts(cut):
        ends = shapely.get_coordinates(part)[:, 0]
        if not len(ends):
            continue
        low, high = ends.min(), ends.max()
        inner = (
            left
            + np.arange(math.ceil((low - left) / spacing), math.floor((high - left) / spacing) + 1) * spacing
        )
        inner = np.concatenate([inner, met - spacing * _HAIR, met + spacing * _HAIR])
        found += [
            np.unique(np.concatenate([[low], inner[(inner > low) & (inner < high)], [high]])),
            np.array([np.nan]),
        ]
    return np.concatenate(found[:-1]) if found else np.zeros(0)


def _clipped_means(
    clipped: np.ndarray[tuple[int], np.dtype[np.object_]], earth: CutFill, turned: Callable[[Floats], Floats]
) -> tuple[Floats, Floats]:
    """Mean levels over clipped cells: of the corners of the triangles in them, each with its area's
    weight."""
    corners, which = triangles_of(clipped)
    u, v = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    area = np.abs(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]) / 2
    whole = np.bincount(which, area, len(clipped))
    means = []
    for level in _inside(corners, earth, turned):
        means.append(np.bincount(which, level.mean(axis=1) * area, len(clipped)) / whole)
    return means[0], means[1]


def _inside(corners: Floats, earth: CutFill, turned: Callable[[Floats], Floats]) -> list[Floats]:
    """Ground and formation just inside the corners of shapes, of shape (shapes, corners)."""
    inner = corners + (corners.mean(axis=1, keepdims=True) - corners) * _HAIR
    return [level.reshape(corners.shape[:2]) for level in earth.levels_at(turned(inner.reshape(-1, 2)))]


def _laid(footprint: Region, spacing: float, angle: float) -> tuple[Region, Callable[[Floats], Floats]]:
    """The footprint turned so that the grid's rows run along x, and the way back."""
    if not positive(spacing):
        raise BadEntry("A grid needs a spacing above zero.", field="spacing")
    if footprint.is_empty:
        raise BadEntry(
            "There is nothing to lay a grid over: the ground and the formation don't meet in plan.",
            field="formation",
        )
    if not known(angle):
        raise BadEntry("The angle of a grid is missing.", field="angle")
    region = shapely.transform(footprint, _into(angle)) if angle else footprint
    left, low, right, high = region.bounds
    if (right - left) * (high - low) / spacing**2 > _MOST_CELLS:
        raise BadEntry(
            f"A grid of {spacing:g} m makes more than {_MOST_CELLS:,} cells here.",
            field="spacing",
            remedy="Choose a larger one.",
        )
    return region, _into(-angle) if angle else (lambda places: places)


def _into(angle: float) -> Callable[[Floats], Floats]:
    """Places turned so that rows at an angle run along x."""
    turn = math.radians(angle)
    matrix = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    return lambda places: places @ matrix.T


def _checked(ground: Floats, formation: Floats | float, spacing: float) -> tuple[Floats, Floats]:
    levels = np.asarray(ground, dtype=float)
    if levels.ndim != 2 or min(levels.shape) < 2 or not known(levels, formation):
        raise BadEntry(
            "A grid needs two rows and two columns of levels at least, and none missing.", field="ground"
        )
    if not positive(spacing):
        raise BadEntry("A grid needs a spacing above zero.", field="spacing")
    return levels, np.full(levels.shape, formation, dtype=float)
