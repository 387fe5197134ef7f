"""A surface: ground or formation levels as triangles, with breaklines and a boundary."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely import Polygon
from shapely.validation import explain_validity

from ..findings import Finding
from ..refusals import BadEntry, BadShape
from .measures import known, positive
from .pieces import EMPTY, Floats, Pieces, Region, Whole, edges_of, least, once, pieces, welded
from .triangulation import triangulate

Line = Sequence[Sequence[float]]
_MOST_CONTOURS = 2_000
_LEVELS_APART = 1e-3  # m
_NEAR = 1e-5  # m within which an edge lies on a breakline


@dataclass(frozen=True)
class Contour:
    """A line of one level.

    Attributes:
        level: in m.
        line: n × 2, closed when its ends are one.
    """

    level: float
    line: Floats


@dataclass(frozen=True)
class Profile:
    """Levels along a line in plan.

    Attributes:
        chainages: from the line's start, in m, at its corners, wherever it crosses an edge of the surface,
            and in gaps of it.
        plan: n × 2.
        levels: n; NaN where the line is off the surface.
    """

    chainages: Floats
    plan: Floats
    levels: Floats


@dataclass(frozen=True)
class Surface:
    """Triangles between levels.

    Attributes:
        points: n × 3, east, north, level.
        triangles: m × 3, corners turning left.
        edges: k × 2, the pieces of its breaklines.
        findings: what was wrong with what it was made from.
    """

    points: Floats
    triangles: Whole
    edges: Whole
    findings: tuple[Finding, ...] = ()

    @cached_property
    def pieces(self) -> Pieces:
        """Its triangles, with their ``level``."""
        return pieces(self.points[self.triangles][:, :, :2], level=self.points[self.triangles][:, :, 2])

    def named(self, name: str) -> Pieces:
        """Its triangles, with their level under another name."""
        return Pieces(self.pieces.plan, (name,), self.pieces.values, self.pieces.of, self.pieces)

    @property
    def plan_area(self) -> float:
        """In m²."""
        return self.pieces.area

    @cached_property
    def gradients(self) -> Floats:
        """How much each triangle rises per m to the east and to the north, m × 2; 0 where it is too thin
        to tell."""
        upright = np.where(self._normals[:, 2:] == 0, np.inf, self._normals[:, 2:])
        return np.asarray(-self._normals[:, :2] / upright)

    @cached_property
    def _normals(self) -> Floats:
        a, b, c = (self.points[self.triangles[:, corner]] for corner in range(3))
        return np.asarray(np.cross(b - a, c - a))

    @property
    def true_area(self) -> float:
        """On the slope, in m²."""
        return float(np.sqrt((self._normals**2).sum(axis=1)).sum() / 2)

    @property
    def slopes(self) -> Floats:
        """The steepest slope of each triangle as rise over run."""
        return np.hypot(self.gradients[:, 0], self.gradients[:, 1])

    @property
    def falls_to(self) -> Floats:
        """The bearing each triangle falls to, in degrees from north clockwise; 0 where it is level."""
        east, north = -self.gradients[:, 0], -self.gradients[:, 1]
        return np.degrees(np.arctan2(east, north)) % 360

    @property
    def lowest(self) -> float:
        """The lowest level, in m."""
        return float(self.points[self.triangles, 2].min())

    @property
    def highest(self) -> float:
        """The highest level, in m."""
        return float(self.points[self.triangles, 2].max())

    @cached_property
    def outline(self) -> Region:
        """What it covers in plan."""
        rim = shapely.linestrings(self.points[once(edges_of(self.triangles))][:, :, :2])
        faces = shapely.get_parts(shapely.polygonize(rim))
        if len(faces) == 1:  # without a hole there is nothing to ask
            only: Region = faces[0]
            return only
        inside = faces[np.isfinite(self.levels_at(shapely.get_coordinates(shapely.point_on_surface(faces))))]
        made: Region = shapely.union_all(inside) if len(inside) else EMPTY
        return made

    def levels_at(self, places: Floats) -> Floats:
        """The levels at places in plan (k × 2), in m; NaN off the surface."""
        return np.asarray(self.pieces.values_at(np.asarray(places, dtype=float))[:, 0])

    def contour_levels(self, interval: float) -> Floats:
        """The levels of its contours.

        Raises:
            BadEntry: the interval is not above zero, or so small that there would be thousands.
        """
        if not positive(interval):
            raise BadEntry("Contours need an interval above zero.", field="interval")
        first, last = np.ceil(self.lowest / interval - 1e-9), np.floor(self.highest / interval + 1e-9)
        if last - first > _MOST_CONTOURS:
            raise BadEntry(
                f"An interval of {interval:g} m makes {last - first:,.0f} contours.",
                field="interval",
                remedy="Choose a larger one.",
            )
        return np.asarray(np.arange(first, last + 1) * interval)

    def contours(self, interval: float) -> list[Contour]:
        """Its contours, lowest first, each as long as it goes on.

        Raises:
            BadEntry: see :meth:`contour_levels`.
        """
        level = self.pieces["level"]
        return [
            Contour(float(height), line)
            for height in self.contour_levels(interval)
            for line in zero_lines(self.pieces, level - height)
        ]

    def profile(self, line: Line) -> Profile:
        """Its levels along a line of two or more corners in plan.

        Raises:
            BadShape: the line has no length.
        """
        corners = np.asarray(line, dtype=float)[:, :2]
        steps = np.hypot(*np.diff(corners, axis=0).T) if len(corners) > 1 else np.zeros(0)
        if not steps.sum() > 0:
            raise BadShape("A profile needs a line with a length.", field="line")
        parts = self.profiles(corners[:-1], corners[1:])
        begins = np.concatenate([[0.0], np.cumsum(steps)[:-1]])
        along = np.concatenate([part.chainages + begin for part, begin in zip(parts, begins, strict=True)])
        first = np.diff(along, prepend=-1) > 1e-9
        plan = np.concatenate([part.plan for part in parts])
        levels = np.concatenate([part.levels for part in parts])
        return Profile(along[first], plan[first], levels[first])

    def profiles(self, starts: Floats, ends: Floats) -> list[Profile]:
        """Its levels along straight lines, each from a place to another (k × 2); nothing along one without a
        length."""
        lengths = np.hypot(*(ends - starts).T)
        which, shares = self._edge_crossings(starts, ends)
        along = shares * lengths[which]
        apart = (np.diff(along, prepend=-1) > 1e-9) | (np.diff(which, prepend=-1) != 0)
        apart &= lengths[which] > 0
        which, along, shares = which[apart], along[apart], shares[apart]
        places = starts[which] + shares[:, None] * (ends - starts)[which]
        # Between two edges there may be a hole: what isn't known halfway isn't known.
        halfway = (places[:-1] + places[1:]) / 2
        levels = self.levels_at(np.concatenate([places, halfway]))
        gap = np.flatnonzero(np.isnan(levels[len(places) :]) & (which[:-1] == which[1:]))
        along = np.insert(along, gap + 1, (along[gap] + along[gap + 1]) / 2)
        levels = np.insert(levels[: len(places)], gap + 1, np.nan)
        places, which = (
            np.insert(places, gap + 1, halfway[gap], axis=0),
            np.insert(which, gap + 1, which[gap]),
        )
        cuts = np.searchsorted(which, np.arange(1, len(starts)))
        return [
            Profile(*parts)
            for parts in zip(
                np.split(along, cuts), np.split(places, cuts), np.split(levels, cuts), strict=True
            )
        ]

    def _edge_crossings(self, starts: Floats, ends: Floats) -> tuple[Whole, Floats]:
        """Where straight lines meet edges: which line, and the share of its length, rising, with 0 and 1."""
        number, parts = len(starts), self._parts_of(starts, ends)
        steps = np.linspace(0, 1, parts + 1)[:, None]
        marks = starts[:, None] + steps * (ends - starts)[:, None]
        low, high = np.minimum(marks[:, :-1], marks[:, 1:]), np.maximum(marks[:, :-1], marks[:, 1:])
        boxes = shapely.box(
            low[..., 0].ravel(), low[..., 1].ravel(), high[..., 0].ravel(), high[..., 1].ravel()
        )
        box, piece = self.pieces.tree.query(boxes)
        pairs = np.unique((box // parts).astype(np.int64) * len(self.triangles) + piece)
        line, near = np.divmod(pairs, len(self.triangles))
        plan = self.pieces.plan[near]
        side = np.concatenate(
            [np.stack([plan[:, a], plan[:, b]], axis=1) for a, b in ((0, 1), (1, 2), (2, 0))]
        )
        line = np.tile(line, 3)
        along, edge = (ends - starts)[line], side[:, 1] - side[:, 0]
        away = side[:, 0] - starts[line]
        across = along[:, 0] * edge[:, 1] - along[:, 1] * edge[:, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            share = (away[:, 0] * edge[:, 1] - away[:, 1] * edge[:, 0]) / across
            on_edge = (away[:, 0] * along[:, 1] - away[:, 1] * along[:, 0]) / across
        met = (across != 0) & (on_edge >= -1e-9) & (on_edge <= 1 + 1e-9) & (share > 0) & (share < 1)
        every = np.arange(number)
        which = np.concatenate([every, every, line[met]])
        shares = np.concatenate([np.zeros(number), np.ones(number), share[met]])
        order = np.lexsort((shares, which))
        return which[order], shares[order]

    def _parts_of(self, starts: Floats, ends: Floats) -> int:
        """In how many parts lines are searched, so that a part's box holds few triangles."""
        size = np.sqrt(self.plan_area / len(self.triangles)) * 4
        return int(np.clip(np.abs(ends - starts).max() / size, 1, 2_000))

    def bounded(self, region: Region) -> Surface:
        """The part inside a region in plan; its levels stay as they are, to the very edge."""
        inner = self.pieces.within(region)
        if not len(inner):
            raise BadShape(
                "The boundary holds none of the surface.",
                field="boundary",
                remedy="Check that both have the same coordinates.",
            )
        _, index = welded(inner.plan.reshape(-1, 2))
        points = np.zeros((index.max() + 1, 3))
        points[index] = np.concatenate([inner.plan, inner["level"][:, :, None]], axis=2).reshape(-1, 3)
        triangles = index.reshape(-1, 3)
        turned = _left(points, triangles)
        kept = (
            (turned[:, 0] != turned[:, 1]) & (turned[:, 1] != turned[:, 2]) & (turned[:, 2] != turned[:, 0])
        )
        lines = (
            shapely.intersection(shapely.linestrings(self.points[self.edges][:, :, :2]), region)
            if len(self.edges)
            else np.array([])
        )
        return Surface(points, turned[kept], _edges_on(points, turned[kept], lines), self.findings)


def surface(
    levels: Floats, breaklines: Sequence[Line] = (), boundary: Line | None = None, holes: Sequence[Line] = ()
) -> Surface:
    """A surface through levels.

    Args:
        levels: n × 3, east, north, level in m. Of levels at one place the first is taken.
        breaklines: lines of corners (x, y, level); each becomes a chain of edges.
        boundary: a ring of corners (x, y) or (x, y, level); only what is inside counts. With levels it is a
            breakline too.
        holes: rings inside the boundary that don't count.

    Raises:
        BadShape: too few levels, a value that is not a number, or a ring that crosses itself.
    """
    lines = [_with_levels(line) for line in breaklines]
    rings = [*([boundary] if boundary is not None else []), *holes]
    lines += [_closed(_with_levels(ring)) for ring in rings if np.shape(ring)[1] > 2]
    given = np.asarray(levels, dtype=float).reshape(-1, 3)
    every = np.concatenate([given, *lines]) if lines else given
    if not known(every):
        raise BadShape(
            "A level has a coordinate that is not a number, or beyond all size.",
            field="levels",
            remedy="Check the levels before the surface is made.",
        )
    points, index = _unique(every)
    edges, at = [], len(given)
    for line in lines:
        own = index[at : at + len(line)]
        edges.append(np.stack([own[:-1], own[1:]], axis=1))
        at += len(line)
    pairs = np.unique(np.sort(np.concatenate(edges), axis=1), axis=0) if edges else np.zeros((0, 2), np.int64)
    made = triangulate(points, pairs[pairs[:, 0] != pairs[:, 1]])
    whole = Surface(
        made.points,
        made.triangles,
        made.edges,
        (*_disagreeing(every, points[index], len(given)), *made.findings),
    )
    if boundary is None and not holes:
        return whole
    outer = ring_region(boundary, "boundary") if boundary is not None else whole.outline
    for hole in holes:
        outer = shapely.difference(outer, ring_region(hole, "hole"))
    return whole.bounded(outer)


def of_faces(faces: Floats) -> Surface:
    """A surface from triangles as they are (n × 3 × 3), corners at one place joined.

    Raises:
        BadShape: no triangle has an area in plan.
    """
    corners, index = np.unique(np.asarray(faces, dtype=float).reshape(-1, 3), axis=0, return_inverse=True)
    return of_triangles(corners, index.reshape(-1, 3))


def of_triangles(points: Floats, triangles: Whole) -> Surface:
    """A surface from points and triangles between them (n × 3 indexes); those without an area in plan are
    left out and told.

    Raises:
        BadShape: none has one, or a corner is no place that can be.
    """
    if not known(points):
        raise BadShape("A corner of the faces has a coordinate that is missing or can't be.", field="faces")
    turned = _left(points, triangles)
    a, b, c = (points[turned[:, corner], :2] for corner in range(3))
    u, v = b - a, c - a
    kept = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] > 1e-12
    if not kept.any():
        raise BadShape("None of the faces has an area in plan.", field="faces")
    flat = int((~kept).sum())
    findings = (
        (
            Finding(
                f"{flat} faces are upright or have no area in plan and are left out.",
                field="faces",
                code="faces-flat",
            ),
        )
        if flat
        else ()
    )
    return Surface(points, turned[kept], np.zeros((0, 2), np.int64), findings)


def ring_region(ring: Line, what: str) -> Polygon:
    """The inside of a ring in plan.

    Raises:
        BadShape: it has fewer than three corners, or crosses itself.
    """
    corners = np.asarray([point[:2] for point in ring], dtype=float)
    if not known(corners):
        raise BadShape(f"A corner of the {what} has no place that can be.", field=what)
    if len(np.unique(corners, axis=0)) < 3:
        raise BadShape(f"The {what} has fewer than three corners.", field=what)
    polygon = Polygon(corners)
    if not polygon.is_valid or polygon.area == 0:
        why = explain_validity(polygon)
        place = why[why.find("[") + 1 : why.find("]")].split() if "[" in why else []
        at = f" at {float(place[0]):.2f}, {float(place[1]):.2f}" if len(place) == 2 else ""
        raise BadShape(f"The {what} crosses itself{at}.", field=what, remedy="Move one of its corners.")
    return polygon


def zero_lines(cut: Pieces, height: Floats) -> list[Floats]:
    """The lines on which a linear height (n × 3) over pieces is zero, each as long as it goes on."""
    # A corner at zero counts as above, so that a line through it is drawn once.
    crossed = np.flatnonzero((least(height) < 0) & (least(-height) <= 0))
    if not len(crossed):
        return []
    up = height[crossed] >= 0
    lone = np.where(up.sum(axis=1) == 1, up.argmax(axis=1), up.argmin(axis=1))
    ends = []
    for step in (1, 2):
        other = (lone + step) % 3
        p, q = cut.plan[crossed, lone], cut.plan[crossed, other]
        hp, hq = height[crossed, lone], height[crossed, other]
        # Both neighbours reckon an edge from the same end, so that their ends are the same number.
        swap = (p[:, 0] > q[:, 0]) | ((p[:, 0] == q[:, 0]) & (p[:, 1] > q[:, 1]))
        p, q = np.where(swap[:, None], q, p), np.where(swap[:, None], p, q)
        hp, hq = np.where(swap, hq, hp), np.where(swap, hp, hq)
        ends.append(p + (hp / (hp - hq))[:, None] * (q - p))
    parts = np.stack(ends, axis=1)
    parts = parts[(parts[:, 0] != parts[:, 1]).any(axis=1)]
    if not len(parts):
        return []
    merged = shapely.get_parts(shapely.line_merge(shapely.multilinestrings(shapely.linestrings(parts))))
    return [shapely.get_coordinates(line) for line in merged]


def _disagreeing(every: Floats, taken: Floats, number: int) -> tuple[Finding, ...]:
    """Corners of breaklines that lie on a level that differs from theirs."""
    off = np.flatnonzero(np.abs(every[number:, 2] - taken[number:, 2]) > _LEVELS_APART) + number
    if not len(off):
        return ()
    x, y, z = every[off[0]]
    says = (
        f"Corners of breaklines that lie on a different level: {len(off)}, the first at {x:.2f}, "
        f"{y:.2f} ({z:.2f} on {taken[off[0], 2]:.2f}), which is taken."
    )
    return (Finding(says, field="breaklines", wrong=True, code="breaklines-touch"),)


def _with_levels(line: Line) -> Floats:
    corners = np.asarray(line, dtype=float)
    if corners.ndim != 2 or corners.shape[1] < 3:
        raise BadShape("A breakline needs a level at each corner.", field="breaklines")
    return corners[:, :3]


def _closed(ring: Floats) -> Floats:
    return ring if np.array_equal(ring[0], ring[-1]) else np.concatenate([ring, ring[:1]])


def _unique(points: Floats) -> tuple[Floats, Whole]:
    """Points without those at a place already taken, and which of them each of the given is now."""
    _, first, index = np.unique(points[:, :2], axis=0, return_index=True, return_inverse=True)
    order = np.argsort(first, kind="stable")
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    return points[first[order]], np.asarray(rank[index.reshape(-1)])


def _left(points: Floats, triangles: Whole) -> Whole:
    a, b, c = (points[triangles[:, corner], :2] for corner in range(3))
    u, v = b - a, c - a
    right = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] < 0
    return np.asarray(np.where(right[:, None], triangles[:, ::-1], triangles))


def _edges_on(points: Floats, triangles: Whole, lines: np.ndarray[tuple[int], np.dtype[np.object_]]) -> Whole:
    """The edges of triangles that lie on lines."""
    if not len(lines):
        return np.zeros((0, 2), np.int64)
    sides = np.unique(edges_of(triangles), axis=0)
    near = shapely.union_all(lines).buffer(_NEAR)
    shapely.prepare(near)
    return np.asarray(sides[shapely.covers(near, shapely.linestrings(points[sides][:, :, :2]))])
