"""Triangles between points, Delaunay as far as breaklines allow; every breakline is a chain of edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pythoncdt
import shapely

from ..findings import Finding
from ..refusals import BadShape
from .pieces import Floats, Whole, edges_of, once

_ON_LINE = 5e-4  # m within which a point is on a breakline
_LEVELS_APART = 0.01  # m by which breaklines, or a point on one, may disagree before it is found
_SHARPEST = 1e-10  # least double area over longest side squared: less is a line, not a triangle
_ROUNDS = 4


@dataclass(frozen=True)
class Triangulation:
    """Points joined to triangles.

    Attributes:
        points: n × 3; the points given, then one for each crossing of breaklines.
        triangles: m × 3, corners turning left.
        edges: k × 2, the pieces of the breaklines.
        findings: breaklines that cross at different levels, and points on them that lie at another level.
    """

    points: Floats
    triangles: Whole
    edges: Whole
    findings: tuple[Finding, ...]


def triangulate(points: Floats, edges: Whole) -> Triangulation:
    """The constrained Delaunay triangulation of points in plan.

    Args:
        points: n × 3, no two at one place.
        edges: k × 2, the breaklines as pairs of points; they are split at their crossings and at the points
            on them.

    Raises:
        BadShape: fewer than three points, all on one line, or breaklines too tangled to be kept apart.
    """
    if len(points) < 3:
        raise BadShape(
            "A surface needs at least three levels; there "
            f"{'is' if len(points) == 1 else 'are'} {len(points)}.",
            field="levels",
        )
    points, pieces, findings = _noded(points, edges) if len(edges) else (points, edges, [])
    work = pythoncdt.Triangulation(
        pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.NOT_ALLOWED, 0.0
    )
    # Whole metres are taken off, so that the places stay what they were to the last digit.
    plan = np.ascontiguousarray(points[:, :2] - np.floor(points[:, :2].min(axis=0)))
    try:
        # NumPy's types know the buffer protocol from Python 3.12 on.
        work.insert_vertices(plan)  # type: ignore[call-overload]
        if len(pieces):
            work.insert_edges(np.ascontiguousarray(pieces, dtype=np.uintc))  # type: ignore[call-overload]
    except RuntimeError:
        raise BadShape(
            "Breaklines cross one another within a millimetre of their corners.",
            field="breaklines",
            remedy="Join them in a corner.",
        ) from None
    work.erase_super_triangle()
    triangles = _without_rim_slivers(plan, work.triangles_array()["vertices"].astype(np.int64))
    if not len(triangles):
        raise BadShape(
            "The levels lie on one line, so there is no surface between them.",
            field="levels",
            remedy="Add levels to its side.",
        )
    return Triangulation(points, triangles, pieces, tuple(findings))


def _without_rim_slivers(plan: Floats, triangles: Whole) -> Whole:
    """Triangles without those along the rim that are lines. Inside, they stay: they join the edges on both
    their sides."""
    a, b, c = (plan[triangles[:, corner]] for corner in range(3))
    u, v, w = b - a, c - a, c - b
    longest = np.maximum.reduce([(side**2).sum(axis=1) for side in (u, v, w)])
    thin = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] <= _SHARPEST * longest
    while thin.any():
        number = len(plan)
        rim = once(edges_of(triangles))
        keys = edges_of(triangles).reshape(3, -1, 2)
        on_rim = np.isin(keys[:, :, 0] * number + keys[:, :, 1], rim[:, 0] * number + rim[:, 1]).any(axis=0)
        if not (thin & on_rim).any():
            break
        triangles, thin = triangles[~(thin & on_rim)], thin[~(thin & on_rim)]
    return triangles


def _noded(points: Floats, edges: Whole) -> tuple[Floats, Whole, list[Finding]]:
    """Points and breaklines that meet only in points, new ones where they crossed; and what disagreed."""
    findings = list[Finding]()
    for _ in range(_ROUNDS):
        edges, on = _split_at_points(points, edges)
        findings += on
        points, edges, crossed = _split_at_crossings(points, edges)
        findings += crossed
        if not _crossings(points, edges)[0].size and not _on_lines(points, edges)[0].size:
            break
    return points, edges, findings


def _on_lines(points: Floats, edges: Whole) -> tuple[Whole, Whole, Floats]:
    """Points on breaklines, not at their ends: the edge, the point, and the share of the edge's length."""
    lines = shapely.linestrings(points[edges][:, :, :2])
    edge, point = shapely.STRtree(shapely.points(points[:, :2])).query(
        lines, predicate="dwithin", distance=_ON_LINE
    )
    inner = (edges[edge] != point[:, None]).all(axis=1)
    edge, point = edge[inner], point[inner]
    start, along = points[edges[edge, 0], :2], points[edges[edge, 1], :2] - points[edges[edge, 0], :2]
    share = ((points[point, :2] - start) * along).sum(axis=1) / (along**2).sum(axis=1)
    between = (share > 0) & (share < 1)
    return edge[between], point[between], share[between]


def _split_at_points(points: Floats, edges: Whole) -> tuple[Whole, list[Finding]]:
    edge, point, share = _on_lines(points, edges)
    if not len(edge):
        return edges, []
    levels = points[edges[edge, 0], 2] * (1 - share) + points[edges[edge, 1], 2] * share
    off = np.flatnonzero(np.abs(points[point, 2] - levels) > _LEVELS_APART)
    findings = []
    if len(off):
        x, y, z = points[point[off[0]]]
        first = f"the first at {x:.2f}, {y:.2f} ({z:.2f}, the breakline at {levels[off[0]]:.2f})"
        says = (
            f"Levels on a breakline that lie higher or lower than it: {len(off)}, "
            f"{first}. The breakline goes through them."
        )
        findings = [Finding(says, field="breaklines", wrong=True, code="breaklines-touch")]
    return _split(edges, edge, point, share), findings


def _crossings(points: Floats, edges: Whole) -> tuple[Whole, Whole, Floats, Floats]:
    """Pairs of breaklines that cross between their ends, and the shares of both at which they do."""
    lines = shapely.linestrings(points[edges][:, :, :2])
    one, other = shapely.STRtree(lines).query(lines, predicate="intersects")
    apart = (one < other) & (edges[one][:, :, None] != edges[other][:, None, :]).all(axis=(1, 2))
    one, other = one[apart], other[apart]
    p, q = points[edges[one, 0], :2], points[edges[other, 0], :2]
    u, v = points[edges[one, 1], :2] - p, points[edges[other, 1], :2] - q
    across, away = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0], q - p
    with np.errstate(divide="ignore", invalid="ignore"):
        first = (away[:, 0] * v[:, 1] - away[:, 1] * v[:, 0]) / across
        second = (away[:, 0] * u[:, 1] - away[:, 1] * u[:, 0]) / across
    met = (across != 0) & (first > 0) & (first < 1) & (second > 0) & (second < 1)
    return one[met], other[met], first[met], second[met]


def _split_at_crossings(points: Floats, edges: Whole) -> tuple[Floats, Whole, list[Finding]]:
    one, other, first, second = _crossings(points, edges)
    if not len(one):
        return points, edges, []
    own = points[edges[one, 0]] + first[:, None] * (points[edges[one, 1]] - points[edges[one, 0]])
    levels = points[edges[other, 0], 2] * (1 - second) + points[edges[other, 1], 2] * second
    findings = [
        Finding(
            f"Two breaklines cross at {x:.2f}, {y:.2f} at levels {min(z, level):.2f} "
            f"and {max(z, level):.2f}; "
            "their mean is taken. Correct the levels of one of them.",
            field="breaklines",
            wrong=True,
            code="breaklines-cross",
        )
        for (x, y, z), level in zip(own, levels, strict=True)
        if abs(z - level) > _LEVELS_APART
    ]
    fresh = np.column_stack([own[:, :2], (own[:, 2] + levels) / 2])
    _, at, index = np.unique(fresh[:, :2], axis=0, return_index=True, return_inverse=True)
    number = len(points) + index.reshape(-1)
    split = _split(
        edges, np.concatenate([one, other]), np.concatenate([number, number]), np.concatenate([first, second])
    )
    return np.concatenate([points, fresh[at]]), split, findings


def _split(edges: Whole, edge: Whole, point: Whole, share: Floats) -> Whole:
    """Edges cut at points that lie at shares of them."""
    order = np.lexsort((share, edge))
    edge, point = edge[order], point[order]
    first, last = np.diff(edge, prepend=-1) != 0, np.diff(edge, append=-1) != 0
    before = np.where(first, edges[edge, 0], np.roll(point, 1))
    parts = [np.stack([before, point], axis=1), np.stack([point[last], edges[edge[last], 1]], axis=1)]
    whole = np.ones(len(edges), bool)
    whole[edge] = False
    cut = np.sort(np.concatenate([edges[whole], *parts]), axis=1)
    return np.unique(cut[cut[:, 0] != cut[:, 1]], axis=0)
