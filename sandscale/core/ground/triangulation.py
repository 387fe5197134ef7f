"""Triangles between points, Delaunay as far as breaklines allow; every breakline is a chain of edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pythoncdt

from ..findings import Finding
from ..refusals import BadShape
from .pieces import Floats, Whole

_LEVELS_APART = 0.01  # m by which crossing breaklines may disagree before it is found
_SHARPEST = 1e-10  # least double area over longest side squared: less is a line, not a triangle


@dataclass(frozen=True)
class Triangulation:
    """Points joined to triangles.

    Attributes:
        points: n × 3; the points given, then one for each crossing of breaklines.
        triangles: m × 3, corners turning left.
        edges: k × 2, the pieces of the breaklines.
        findings: breaklines that cross at different levels.
    """

    points: Floats
    triangles: Whole
    edges: Whole
    findings: tuple[Finding, ...]


def triangulate(points: Floats, edges: Whole) -> Triangulation:
    """The constrained Delaunay triangulation of points in plan.

    Args:
        points: n × 3, no two at one place.
        edges: k × 2, the breaklines as pairs of points.

    Raises:
        BadShape: fewer than three points, or all on one line.
    """
    if len(points) < 3:
        raise BadShape(f"A surface needs at least three levels; there {'is' if len(points) == 1 else 'are'} {len(points)}.", field="levels")
    origin = points[:, :2].mean(axis=0)
    work = pythoncdt.Triangulation(pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.TRY_RESOLVE, 0.0)
    # NumPy's types know the buffer protocol from Python 3.12 on.
    work.insert_vertices(np.ascontiguousarray(points[:, :2] - origin))  # type: ignore[call-overload]
    if len(edges):
        work.insert_edges(np.ascontiguousarray(edges, dtype=np.uintc))  # type: ignore[call-overload]
    work.erase_super_triangle()
    triangles = work.triangles_array()["vertices"].astype(np.int64)
    vertices = work.vertices_array()
    pieces = np.array([(edge.v1, edge.v2) for edge in work.fixed_edges_iter()], dtype=np.int64).reshape(-1, 2) if len(edges) else np.zeros((0, 2), np.int64)
    plan = np.stack([vertices["x"], vertices["y"]], axis=1)
    crossings = plan[len(points) :] + origin
    everything, findings = points, list[Finding]()
    if len(crossings):
        levels, findings = _crossing_levels(crossings, points, work, len(points))
        everything = np.concatenate([points, np.column_stack([crossings, levels])])
    kept = triangles[_areal(plan, triangles)]
    if not len(kept):
        raise BadShape("The levels lie on one line, so there is no surface between them.", field="levels", remedy="Add levels to its side.")
    return Triangulation(everything, kept, pieces, tuple(findings))


def _areal(plan: Floats, triangles: Whole) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    a, b, c = (plan[triangles[:, corner]] for corner in range(3))
    u, v, w = b - a, c - a, c - b
    longest = np.maximum.reduce([(side**2).sum(axis=1) for side in (u, v, w)])
    return np.asarray(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] > _SHARPEST * longest)


def _crossing_levels(crossings: Floats, points: Floats, work: pythoncdt.Triangulation, first: int) -> tuple[Floats, list[Finding]]:
    """The level where breaklines cross: the mean of what each has there, and what is wrong where they disagree."""
    lines: dict[int, set[tuple[int, int]]] = {}
    for piece, originals in work.piece_to_originals_iter():
        for vertex in (piece.v1, piece.v2):
            if vertex >= first:
                lines.setdefault(vertex, set()).update((edge.v1, edge.v2) for edge in originals)
    levels, findings = np.zeros(len(crossings)), []
    for vertex, crossing in enumerate(crossings, start=first):
        own = []
        for start, end in lines[vertex]:
            a, b = points[start], points[end]
            along = b[:2] - a[:2]
            own.append(a[2] + (b[2] - a[2]) * float((crossing - a[:2]) @ along / (along @ along)))
        levels[vertex - first] = np.mean(own)
        if max(own) - min(own) > _LEVELS_APART:
            findings.append(
                Finding(
                    f"Two breaklines cross at {crossing[0]:.2f}, {crossing[1]:.2f} at levels {min(own):.2f} and {max(own):.2f}; "
                    "their mean is taken. Correct the levels of one of them.",
                    field="breaklines",
                    wrong=True,
                )
            )
    return levels, findings
