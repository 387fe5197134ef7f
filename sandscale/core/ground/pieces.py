"""Triangles in plan with linear values at their corners: what surfaces are cut into to be measured.

Every exact volume comes from here. Two surfaces laid over one another are cut into pieces on each of which
both are planes; a piece is then cut where one crosses the other, and volume = plan area × mean of the three
corner heights is exact."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TypeAlias

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from shapely import MultiPolygon, Polygon, STRtree

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
Region: TypeAlias = Polygon | MultiPolygon

_LEAST_AREA = 1e-14  # m²: what cutting leaves of triangles that only touch
_PAIRS_AT_ONCE = 16_000
_WELD = 1e-6  # m within which corners are one
_TOUCH = 2e-6
_THIN = 1e-9  # m: a piece less wide tells no level well; what lies on it lies on its neighbours too
_SNAP = 1e-8
EMPTY = Polygon()


@dataclass(frozen=True)
class Pieces:
    """Triangles in plan, with named values that are linear on each.

    Attributes:
        plan: n × 3 × 2, east and north of each corner.
        names: what the values are, such as ``ground`` and ``formation``.
        values: n × 3 × len(names).
        of: n, which triangle of its surface each was cut from.
        like: pieces of the same plan, whose boxes and tree are used.
    """

    plan: Floats
    names: tuple[str, ...]
    values: Floats
    of: Whole
    like: Pieces | None = None

    def __len__(self) -> int:
        return len(self.plan)

    def __getitem__(self, name: str) -> Floats:
        """A named value at the corners, n × 3."""
        return self.values[:, :, self.names.index(name)]

    @cached_property
    def areas(self) -> Floats:
        """Plan area of each in m²."""
        return np.asarray(np.abs(_twice_area(self.plan)) / 2, dtype=float)

    @property
    def area(self) -> float:
        """Plan area of all in m²."""
        return float(self.areas.sum())

    def volumes(self, height: Floats) -> Floats:
        """Volume under a height that is linear on each piece (n × 3, in m): plan area × mean of its
        corners, in m³."""
        return np.asarray(self.areas * height.mean(axis=1))

    def picked(self, which: NDArray[np.bool_] | Whole) -> Pieces:
        """Some of them, by mask or index."""
        # Taking rows by index is quicker than by mask.
        at = np.flatnonzero(which) if which.dtype == bool else which
        return Pieces(self.plan.take(at, axis=0), self.names, self.values.take(at, axis=0), self.of.take(at))

    def with_value(self, name: str, corners: Floats) -> Pieces:
        """The same pieces with one value more (n × 3), or another in its place."""
        if name in self.names:
            values = self.values.copy()
            values[:, :, self.names.index(name)] = corners
            return Pieces(self.plan, self.names, values, self.of)
        return Pieces(
            self.plan,
            (*self.names, name),
            np.concatenate([self.values, corners[:, :, None]], axis=2),
            self.of,
        )

    def only(self, *names: str) -> Pieces:
        """The same pieces with these values only, in this order."""
        if names == self.names:
            return self
        return replace(
            self, names=names, values=self.values[:, :, [self.names.index(name) for name in names]]
        )

    def split(self, height: Floats) -> tuple[Pieces, Pieces]:
        """The parts where a linear height (n × 3) is above zero, and those where it is below; none of what
        is level at zero."""
        low, high = least(height), -least(-height)
        astride = (low < 0) & (high > 0)
        crossed, over = self.picked(astride), height[astride]
        above = joined(self.picked((low >= 0) & (high > 0)), crossed._cut_above(over))
        below = joined(self.picked((high <= 0) & (low < 0)), crossed._cut_above(-over))
        return above, below

    def _cut_above(self, height: Floats) -> Pieces:
        """The parts where a height that changes sign on each is above zero."""
        corners = np.concatenate([self.plan, self.values], axis=2)
        cut, of = _above(corners, height)
        plan, values = cut[:, :, :2], cut[:, :, 2:]
        return Pieces(plan, self.names, values, self.of[of])._without_slivers()

    def lower(self, one: str, other: str, name: str) -> Pieces:
        """The same plan, cut so that the lower of two values is one of them on each piece, with it under a
        name."""
        return self._chosen(one, other, name, 1)

    def higher(self, one: str, other: str, name: str) -> Pieces:
        """The same of the higher of two values."""
        return self._chosen(one, other, name, -1)

    def _chosen(self, one: str, other: str, name: str, sign: int) -> Pieces:
        over = sign * (self[one] - self[other])
        level = self.picked((over == 0).all(axis=1))
        above, below = self.split(over)
        return joined(
            above.with_value(name, above[other]),
            below.with_value(name, below[one]),
            level.with_value(name, level[one]),
        )

    def _without_slivers(self) -> Pieces:
        return self.picked(self.areas > _LEAST_AREA)

    @cached_property
    def boxes(self) -> NDArray[np.object_]:
        """Round each, in plan."""
        if self.like is not None:
            return self.like.boxes
        x, y = self.plan[:, :, 0], self.plan[:, :, 1]
        return np.asarray(shapely.box(least(x), least(y), -least(-x), -least(-y)))

    @cached_property
    def tree(self) -> STRtree:
        """Their boxes, to be searched."""
        return STRtree(self.boxes) if self.like is None else self.like.tree

    def values_at(self, places: Floats) -> Floats:
        """The values at places (k × 2) as k × len(names); NaN where no piece lies."""
        found = np.full((len(places), len(self.names)), np.nan)
        if len(self) == 0 or len(places) == 0:
            return found
        at, piece = self._near(places)
        plan = self.plan[piece]
        weights = _weights(plan, places[at])
        heights = np.abs(_twice_area(plan))[:, None] / _sides(plan)  # of each corner over its side
        depth = least(weights * heights)
        # A place on an edge may lie a hair outside both sides of it: the side it lies deepest in, in m, is
        # taken.
        order = np.lexsort((-depth, at))
        at, piece, depth, weights = at[order], piece[order], depth[order], np.maximum(weights[order], 0)
        first = np.flatnonzero(np.diff(at, prepend=-1))
        good = first[depth[first] >= -_TOUCH]
        shares = weights[good] / weights[good].sum(axis=1, keepdims=True)
        found[at[good]] = np.einsum("nc,ncv->nv", shares, self.values[piece[good]])
        return found

    def _near(self, places: Floats) -> tuple[Whole, Whole]:
        """Which places may lie on which pieces, those too thin to tell a level left out."""
        known = np.flatnonzero(np.isfinite(places).all(axis=1))
        x, y = places[known].T
        at, piece = self.tree.query(shapely.box(x - _TOUCH, y - _TOUCH, x + _TOUCH, y + _TOUCH))
        plan = self.plan[piece]
        longest_side = -least(-_sides(plan))
        wide = np.abs(_twice_area(plan)) > _THIN * longest_side
        return known[at[wide]], piece[wide]

    def within(self, region: Region) -> Pieces:
        """The parts inside a region in plan."""
        return self._by_region(region, inside=True)

    def beyond(self, region: Region) -> Pieces:
        """The parts outside a region in plan."""
        return self._by_region(region, inside=False)

    def _by_region(self, region: Region, *, inside: bool) -> Pieces:
        near = self._in_box(*region.bounds)
        shapely.prepare(region)
        shapes = shapely.polygons(self.plan[near])
        wholly_in, apart = shapely.covers(region, shapes), shapely.disjoint(region, shapes)
        wholly_out = np.ones(len(self), bool)
        wholly_out[near[~apart]] = False
        kept = self.picked(near[wholly_in] if inside else wholly_out)
        met = ~wholly_in & ~apart
        crossing = near[met]
        cut = (shapely.intersection if inside else shapely.difference)(shapes[met], region)
        corners, which = triangles_of(cut)
        parent = self.picked(crossing[which])
        weights = _weights(parent.plan[:, None], corners)
        part = Pieces(corners, self.names, np.einsum("npc,ncv->npv", weights, parent.values), parent.of)
        return joined(kept, part._without_slivers())

    def _in_box(self, west: float, south: float, east: float, north: float) -> Whole:
        """Those whose boxes meet a box: without a tree, which of millions takes gigabytes."""
        x, y = self.plan[:, :, 0], self.plan[:, :, 1]
        across = (least(x) <= east) & (-least(-x) >= west)
        return np.flatnonzero(across & (least(y) <= north) & (-least(-y) >= south))

    @cached_property
    def footprint(self) -> Region:
        """The plan they cover together."""
        return united(shapely.polygons(self.plan))

    def touching(self, region: Region) -> Pieces:
        """Those that hang together with a region: reached from it over corners that they share."""
        corners, index = welded(self.plan.reshape(-1, 2))
        triangles = index.reshape(-1, 3)
        start, end = np.concatenate([triangles[:, :2], triangles[:, 1:]]).T
        _, part = connected_components(
            coo_matrix((np.ones(len(start), bool), (start, end)), shape=(len(corners), len(corners))),
            directed=False,
        )
        near = region.buffer(_TOUCH)
        shapely.prepare(near)
        reached = np.unique(part[shapely.intersects_xy(near, corners)])
        return self.picked(np.isin(part[triangles[:, 0]], reached))


def united(shapes: Sequence[Region] | NDArray[np.object_]) -> Region:
    """Regions as one. Snapped to a hundredth of a micrometre: without, GEOS was seen to lose parts among
    slivers."""
    return shapely.union_all(shapes, grid_size=_SNAP) if len(shapes) else EMPTY


def welded(places: Floats) -> tuple[Floats, Whole]:
    """Places (n × 2) without those within a millionth of a metre of another, and which of them each of the
    given is now."""
    if not len(places):
        return places, np.zeros(0, np.int64)
    east, north = np.round((places - places[0]) / _WELD).astype(np.int64).T
    # One number for both coordinates, since sorting rows of two is many times slower: their ranks, so that no
    # two places ever share one.
    column, row = (np.unique(each, return_inverse=True)[1] for each in (east, north))
    _, first, index = np.unique(column * (row.max() + 1) + row, return_index=True, return_inverse=True)
    return places[first], index


def edges_of(triangles: Whole) -> Whole:
    """The three sides of each triangle (n × 3), the lesser corner first: 3n × 2."""
    return np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]), axis=1)


def once(edges: Whole) -> Whole:
    """The edges that are there once: the rim."""
    number = edges.max(initial=0) + 1
    keys, times = np.unique(edges[:, 0] * number + edges[:, 1], return_counts=True)
    rim = keys[times == 1]
    return np.stack([rim // number, rim % number], axis=1)


def joined(*parts: Pieces) -> Pieces:
    """Pieces of the same values as one."""
    names = parts[0].names
    parts = tuple(part for part in parts if len(part)) or parts[:1]
    if len(parts) == 1:
        return parts[0].only(*names)
    return Pieces(
        np.concatenate([part.plan for part in parts]),
        names,
        np.concatenate([part.only(*names).values for part in parts]),
        np.concatenate([part.of for part in parts]),
    )


def pieces(plan: Floats, **values: Floats) -> Pieces:
    """Pieces from corners in plan (n × 3 × 2) and values at them (each n × 3)."""
    stacked = (
        np.stack([np.asarray(each, dtype=float) for each in values.values()], axis=2)
        if values
        else np.zeros((len(plan), 3, 0))
    )
    return Pieces(np.asarray(plan, dtype=float), tuple(values), stacked, np.arange(len(plan)))


def none(*names: str) -> Pieces:
    """No pieces."""
    return Pieces(np.zeros((0, 3, 2)), names, np.zeros((0, 3, len(names))), np.zeros(0, dtype=np.int64))


def overlay(first: Pieces, second: Pieces) -> Pieces:
    """The parts that lie in both, with the values of both; ``of`` is the first's.

    The names of the two must differ.
    """
    names = (*first.names, *second.names)
    if not len(first) or not len(second):
        return none(*names)
    # Close to the origin, products of coordinates keep their digits.
    origin = first.plan[0, 0].copy()
    a, b = first.plan - origin, _turned_left(second.plan - origin)
    a_planes, b_planes = _Planes(first, origin), _Planes(second, origin)
    sides = [_left_of(b[:, side], b[:, (side + 1) % 3]) for side in range(3)]

    def common(pair: tuple[Whole, Whole]) -> Pieces:
        one, other = pair
        cut, index = a.take(one, axis=0), np.arange(len(one))
        for side in sides:
            line = side.take(other.take(index), axis=0)
            cut, kept = _above(cut, line[:, :1] * cut[:, :, 0] + line[:, 1:2] * cut[:, :, 1] + line[:, 2:])
            index = index.take(kept)
        big = np.flatnonzero(np.abs(_twice_area(cut)) > 2 * _LEAST_AREA)
        cut, i, j = cut.take(big, axis=0), one.take(index.take(big)), other.take(index.take(big))
        return Pieces(
            cut + origin, names, np.concatenate([a_planes(cut, i), b_planes(cut, j)], axis=2), first.of[i]
        )

    # NumPy works outside the interpreter's lock, so threads share the cores.
    with ThreadPoolExecutor() as crew:
        return joined(none(*names), *crew.map(common, _pairs(first, second)))


class _Planes:
    """The values of pieces as planes: quick to tell at many places of each."""

    def __init__(self, some: Pieces, origin: Floats) -> None:
        corner = some.plan[:, 0] - origin
        u, v = some.plan[:, 1] - some.plan[:, 0], some.plan[:, 2] - some.plan[:, 0]
        du, dv = (some.values[:, at] - some.values[:, 0] for at in (1, 2))
        with np.errstate(divide="ignore", invalid="ignore"):
            east = (du * v[:, 1:] - dv * u[:, 1:]) / _twice_area(some.plan)[:, None]
            north = (dv * u[:, :1] - du * v[:, :1]) / _twice_area(some.plan)[:, None]
        # Told from the piece's own corner, so that steep slivers keep their digits.
        self.at, self.number = (
            np.concatenate([corner, some.values[:, 0], east, north], axis=1),
            len(some.names),
        )

    def __call__(self, places: Floats, which: Whole) -> Floats:
        own, k = self.at.take(which, axis=0), self.number
        x, y = places[:, :, 0] - own[:, :1], places[:, :, 1] - own[:, 1:2]
        found = np.empty((*x.shape, k))
        for at in range(k):
            found[:, :, at] = (
                own[:, 2 + at, None] + x * own[:, 2 + k + at, None] + y * own[:, 2 + 2 * k + at, None]
            )
        return found


def _pairs(first: Pieces, second: Pieces) -> Iterator[tuple[Whole, Whole]]:
    """Which pieces of the two may meet, some at a time."""
    one, other = second.tree.query(first.boxes)
    for begin in range(0, len(one), _PAIRS_AT_ONCE):
        yield one[begin : begin + _PAIRS_AT_ONCE], other[begin : begin + _PAIRS_AT_ONCE]


def triangles_of(shapes: NDArray[np.object_]) -> tuple[Floats, Whole]:
    """Polygons of any kind as triangles (n × 3 × 2), and which polygon each is of."""
    parts, which = shapely.get_parts(shapes, return_index=True)
    # Collections hold polygons beside the lines they touch in.
    nested, of = shapely.get_parts(parts, return_index=True)
    which = which[of]
    areal = (shapely.get_type_id(nested) == 3) & (shapely.area(nested) > _LEAST_AREA)
    cut = shapely.constrained_delaunay_triangles(nested[areal])
    triangles, index = shapely.get_parts(cut, return_index=True)
    corners = shapely.get_coordinates(triangles).reshape(-1, 4, 2)[:, :3]
    return corners, which[areal][index]


def _above(corners: Floats, height: Floats) -> tuple[Floats, Whole]:
    """The parts of triangles (n × 3 × any) where a height at their corners (n × 3) is above zero, and
    which each is of."""
    low, high = least(height), -least(-height)
    whole, crossed = np.flatnonzero((low >= 0) & (high > 0)), np.flatnonzero((low < 0) & (high > 0))
    up = [each[crossed] >= 0 for each in height.T]
    alone_up = up[0].astype(np.int8) + up[1] + up[2] == 1
    # The corner that stands alone on its side. Where it is up, a tip is left of the triangle; else a
    # quadrangle
    # is, as two triangles. Tips come first.
    lone = np.where(up[0] == alone_up, 0, np.where(up[1] == alone_up, 1, 2))
    order = np.argsort(~alone_up, kind="stable")
    crossed, lone, tips = crossed[order], lone[order], int(alone_up.sum())
    flat, heights = corners.reshape(-1, corners.shape[2]), height.reshape(-1)
    # The lone corner p and the two after it, each with its height; and where the sides from p cross zero.
    around = [crossed * 3 + (lone + step) % 3 for step in range(3)]
    p, q, r = ((flat.take(at, axis=0), heights.take(at)) for at in around)
    pq, pr = _crossing(p, q), _crossing(p, r)
    ends = np.cumsum([len(whole), tips, len(crossed) - tips, len(crossed) - tips])
    cut = np.empty((int(ends[-1]), 3, corners.shape[2]))
    cut[: ends[0]] = corners.take(whole, axis=0)
    for begin, end, own, parts in (
        (ends[0], ends[1], slice(0, tips), (p[0], pq, pr)),
        (ends[1], ends[2], slice(tips, None), (pq, q[0], r[0])),
        (ends[2], ends[3], slice(tips, None), (pq, r[0], pr)),
    ):
        for corner, part in enumerate(parts):
            cut[begin:end, corner] = part[own]
    return cut, np.concatenate([whole, crossed, crossed[tips:]])


def least(height: Floats) -> Floats:
    """The least of each row of three; column by column, since reducing rows of three is slow."""
    return np.asarray(np.minimum(np.minimum(height[:, 0], height[:, 1]), height[:, 2]))


def _crossing(p: tuple[Floats, Floats], q: tuple[Floats, Floats]) -> Floats:
    """Where the height is zero between two corners on either side of it."""
    share = p[1] / (p[1] - q[1])
    crossing: Floats = p[0] + share[:, None] * (q[0] - p[0])
    return crossing


def _left_of(start: Floats, end: Floats) -> Floats:
    """The line from start to end (each n × 2) as a, b, c: a·x + b·y + c is above zero to its left."""
    a, b = start[:, 1] - end[:, 1], end[:, 0] - start[:, 0]
    return np.stack([a, b, -(a * start[:, 0] + b * start[:, 1])], axis=1)


def _twice_area(plan: Floats) -> Floats:
    u, v = plan[:, 1] - plan[:, 0], plan[:, 2] - plan[:, 0]
    return np.asarray(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0], dtype=float)


def _sides(plan: Floats) -> Floats:
    """The lengths of the sides opposite each corner, n × 3."""
    return np.stack([np.hypot(*(plan[:, (c + 2) % 3] - plan[:, (c + 1) % 3]).T) for c in range(3)], axis=1)


def _turned_left(plan: Floats) -> Floats:
    """Triangles with their corners in the order that turns left."""
    return np.where(_twice_area(plan)[:, None, None] < 0, plan[:, ::-1], plan)


def _weights(plan: Floats, places: Floats) -> Floats:
    """The shares of the three corners (… × 3 × 2) in places (… × 2): they sum to 1 and are all above zero
    inside."""
    a, b, c = plan[..., 0, :], plan[..., 1, :], plan[..., 2, :]
    u, v, w = b - a, c - a, places - a
    whole = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        second = (w[..., 0] * v[..., 1] - w[..., 1] * v[..., 0]) / whole
        third = (u[..., 0] * w[..., 1] - u[..., 1] * w[..., 0]) / whole
    weights = np.stack([1 - second - third, second, third], axis=-1)
    return np.nan_to_num(weights, nan=-1.0, posinf=-1.0, neginf=-1.0)
