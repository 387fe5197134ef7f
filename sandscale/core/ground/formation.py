"""Formations: what the ground is brought to. A level, a plane, a platform with batters run out to the
ground, another surface."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Protocol

import numpy as np
import shapely

from ..findings import Finding
from ..refusals import BadEntry, BadShape
from .measures import known, sound
from .pieces import Floats, Pieces, Region, joined, none, overlay, pieces, united
from .surface import Line, Surface, ring_region, surface

_NOTHING = 1e-6  # m²
_MOST_BENCHES = 1_000
_TURN = 1e-9
_SHARPEST = 2e-4  # of 1 + the cosine of a turn: about a degree from turning back


@dataclass(frozen=True)
class Shaped:
    """A formation laid against the ground.

    Attributes:
        pieces: with ``ground`` and ``formation`` levels.
        region: what they cover in plan.
        findings: where it couldn't be laid.
    """

    pieces: Pieces
    region: Region
    findings: tuple[Finding, ...] = ()


class Formation(Protocol):
    """What the ground is brought to."""

    def against(self, ground: Surface) -> Shaped:
        """Where it lies and at what levels, given the ground."""
        ...


@dataclass(frozen=True)
class Plane:
    """A level or a plane.

    Attributes:
        level: at ``at``, in m.
        east: rise per m to the east.
        north: rise per m to the north.
        at: the place the level is given for.
        outline: the ring it is laid in; the whole ground where there is none.
    """

    level: float
    east: float = 0.0
    north: float = 0.0
    at: tuple[float, float] = (0.0, 0.0)
    outline: Line | None = None

    def levels(self, places: Floats) -> Floats:
        """Its levels at places (… × 2)."""
        return np.asarray(
            self.level
            + (places[..., 0] - self.at[0]) * self.east
            + (places[..., 1] - self.at[1]) * self.north
        )

    def against(self, ground: Surface) -> Shaped:
        """See :class:`Formation`."""
        if not known(self.level, self.east, self.north, *self.at):
            raise BadEntry("A formation needs a level and grades that are numbers.", field="level")
        laid = ground.named("ground")
        if self.outline is None:
            return Shaped(laid.with_value("formation", self.levels(laid.plan)), ground.outline)
        region = ring_region(self.outline, "outline of the formation")
        laid = laid.within(region)
        covered = shapely.intersection(region, ground.outline)
        return Shaped(
            laid.with_value("formation", self.levels(laid.plan)),
            covered,
            _uncovered(covered, region.area, "formation"),
        )


@dataclass(frozen=True)
class ToSurface:
    """A second surface as formation, in an outline where there is one."""

    formation: Surface
    outline: Line | None = None

    def against(self, ground: Surface) -> Shaped:
        """See :class:`Formation`."""
        laid = overlay(ground.named("ground"), self.formation.named("formation"))
        covered = shapely.intersection(ground.outline, self.formation.outline)
        if self.outline is None:
            return Shaped(
                laid,
                covered,
                (*self.formation.findings, *_uncovered(covered, self.formation.plan_area, "formation")),
            )
        region = ring_region(self.outline, "outline of the formation")
        covered = shapely.intersection(covered, region)
        return Shaped(
            laid.within(region),
            covered,
            (*self.formation.findings, *_uncovered(covered, region.area, "formation")),
        )


@dataclass(frozen=True)
class Batter:
    """How sides are sloped.

    Attributes:
        run: horizontal to 1 vertical; 0 is upright.
        bench_height: a bench after each so many m of height; none where it is 0.
        bench_width: in m.
    """

    run: float
    bench_height: float = 0.0
    bench_width: float = 0.0

    def profile(self, height: float) -> list[tuple[float, float]]:
        """(distance, height) from the edge outwards until a height is reached; the last slope ends a little
        above it.

        Raises:
            BadEntry: a value is below zero, or benches without a height.
        """
        if not sound(self.run, self.bench_height, self.bench_width):
            raise BadEntry("A batter or its benches are missing or below zero.", field="batter")
        if self.bench_width and not self.bench_height:
            raise BadEntry("Benches need a height between them.", field="bench_height")
        if self.bench_width and height > self.bench_height * _MOST_BENCHES:
            raise BadEntry(
                f"Benches every {self.bench_height:g} m make more than {_MOST_BENCHES} over {height:.0f} m.",
                field="bench_height",
            )
        corners, reached = [(0.0, 0.0)], 0.0
        while reached < height:
            rise = (
                min(self.bench_height, height - reached + 1.0) if self.bench_width else height - reached + 1.0
            )
            corners.append((corners[-1][0] + rise * self.run, reached + rise))
            reached += rise
            if self.bench_width and reached < height:
                corners.append((corners[-1][0] + self.bench_width, reached))
        return corners


@dataclass(frozen=True)
class Platform:
    """A platform or pit in an outline, with batters from its edges to the ground.

    Slopes are measured square to each edge; at outer corners the batters meet in a mitre, at inner corners
    the nearer of the two counts.

    Attributes:
        outline: a ring of corners with levels (x, y, level).
        cut: the batter where the ground is above the edge.
        fill: the batter where it is below.
    """

    outline: Line
    cut: Batter = Batter(0.0)
    fill: Batter = Batter(0.0)

    def against(self, ground: Surface) -> Shaped:
        """See :class:`Formation`."""
        region = ring_region(self.outline, "outline of the platform")
        ring = _left_ring(self.outline)
        floor = overlay(surface(ring, boundary=ring.tolist()).named("formation"), ground.named("ground"))
        parts, covered = [floor], [shapely.intersection(region, ground.outline)]
        findings = list(_uncovered(covered[0], region.area, "platform"))
        for batter, sign, word in ((self.cut, 1.0, "cut"), (self.fill, -1.0, "fill")):
            side = self._side(ring, region, batter, sign, ground)
            parts.append(side)
            covered.append(side.footprint)
            findings += _runs_out(side.footprint, ground, word)
        return Shaped(joined(*parts).only("ground", "formation"), united(covered), tuple(findings))

    def _side(self, ring: Floats, region: Region, batter: Batter, sign: float, ground: Surface) -> Pieces:
        """The batters in cut (sign 1) or in fill (−1), as far as the ground."""
        height = ground.highest - ring[:, 2].min() if sign > 0 else ring[:, 2].max() - ground.lowest
        profile = batter.profile(max(height, 0.0))
        if height <= 0 or profile[-1][0] == 0:
            return none("formation", "ground")
        slopes = _slopes(ring, profile, sign)
        shaped = overlay(slopes.beyond(region), ground.named("ground"))
        above, below = shaped.split(shaped["ground"] - shaped["formation"])
        return (above if sign > 0 else below).touching(region)


def on_plane(outline: Line, plane: Plane) -> list[tuple[float, float, float]]:
    """An outline in plan with the levels of a plane at its corners."""
    levels = plane.levels(np.asarray([corner[:2] for corner in outline], dtype=float))
    return [(corner[0], corner[1], float(level)) for corner, level in zip(outline, levels, strict=True)]


def _left_ring(outline: Line) -> Floats:
    ring = np.asarray(outline, dtype=float)
    if ring.shape[1] < 3 or not known(ring):
        raise BadShape("The outline of a platform needs a place and a level at each corner.", field="outline")
    if np.array_equal(ring[0, :2], ring[-1, :2]):
        ring = ring[:-1]
    ring = ring[np.hypot(*(ring[:, :2] - np.roll(ring[:, :2], 1, axis=0)).T) > 0]
    return np.asarray(ring if shapely.is_ccw(shapely.linearrings(ring[:, :2])) else ring[::-1])


def _slopes(ring: Floats, profile: Sequence[tuple[float, float]], sign: float) -> Pieces:
    """The batters all round a ring that turns left, each as far as the profile goes; where several lie over
    one another, the one dug lower (sign 1) or filled higher (−1)."""
    reach = profile[-1][0]
    ends = np.roll(ring, -1, axis=0)
    along = (ends - ring)[:, :2] / np.hypot(*(ends - ring)[:, :2].T)[:, None]
    outward = np.stack([along[:, 1], -along[:, 0]], axis=1)
    parts = []
    for at in range(len(ring)):
        parts.append(_strip(ring[at], ends[at], outward[at], profile, sign))
        nxt = (at + 1) % len(ring)
        turn = along[at, 0] * along[nxt, 1] - along[at, 1] * along[nxt, 0]
        if turn > _TURN:
            parts.append(
                _corner(ring[at], ends[at], ends[nxt], outward[at], outward[nxt], profile, sign, reach)
            )
    laid = parts[0]
    for part in parts[1:]:
        laid = _over_one_another(laid, part, sign)
    return laid


def _strip(
    start: Floats, end: Floats, outward: Floats, profile: Sequence[tuple[float, float]], sign: float
) -> Pieces:
    """The batter outside one edge."""
    triangles = []
    for (near, low), (far, high) in pairwise(profile):
        a, b = (np.append(point[:2] + outward * near, point[2] + sign * low) for point in (start, end))
        d, c = (np.append(point[:2] + outward * far, point[2] + sign * high) for point in (start, end))
        triangles += [(a, b, c), (a, c, d)]
    corners = np.array(triangles)
    return pieces(corners[:, :, :2], formation=corners[:, :, 2]).picked(_has_area(corners))


def _has_area(corners: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    u, v = corners[:, 1, :2] - corners[:, 0, :2], corners[:, 2, :2] - corners[:, 0, :2]
    return np.asarray(np.abs(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]) > 1e-12)


def _corner(
    before: Floats,
    at: Floats,
    after: Floats,
    first: Floats,
    second: Floats,
    profile: Sequence[tuple[float, float]],
    sign: float,
    reach: float,
) -> Pieces:
    """The mitre outside an outer corner: the batters of both edges carried on until they meet."""
    if 1 + first @ second < _SHARPEST:
        raise BadShape(
            f"The outline of the platform turns back on itself at {at[0]:.2f}, {at[1]:.2f}.",
            field="outline",
            remedy="Blunt that corner.",
        )
    mitre = (first + second) / (1 + first @ second)
    kite = np.array([at[:2], at[:2] + reach * first, at[:2] + reach * mitre, at[:2] + reach * second])
    wedge = pieces(np.array([kite[[0, 1, 2]], kite[[0, 2, 3]]]))
    on = np.hypot(*(mitre - first)) * reach * 1.001 + 1e-3
    one = _strip(at, _carried_on(before, at, on), first, profile, sign)
    other = _strip(_carried_on(after, at, on), at, second, profile, sign)
    both = overlay(overlay(wedge, one), _renamed(other, "other"))
    # At an outer corner the bank is the farther of the two planes: higher in cut, lower in fill.
    chosen = (
        both.higher("formation", "other", "formation")
        if sign > 0
        else both.lower("formation", "other", "formation")
    )
    return chosen.only("formation")


def _carried_on(start: Floats, end: Floats, length: float) -> Floats:
    """The point a length beyond the end of an edge, in plan, on the edge's own fall."""
    step = end - start
    return np.asarray(end + step * (length / np.hypot(*step[:2])))


def _renamed(some: Pieces, name: str) -> Pieces:
    return Pieces(some.plan, (name,), some.values, some.of)


def _over_one_another(laid: Pieces, part: Pieces, sign: float) -> Pieces:
    common = overlay(laid, _renamed(part, "other"))
    if common.area <= _NOTHING:
        return joined(laid, part)
    shared = common.footprint
    best = (
        common.lower("formation", "other", "formation")
        if sign > 0
        else common.higher("formation", "other", "formation")
    )
    return joined(laid.beyond(shared), part.beyond(shared), best.only("formation"))


def _uncovered(laid: Region, whole: float, what: str) -> tuple[Finding, ...]:
    short = whole - laid.area
    if short <= _NOTHING + 1e-9 * whole:
        return ()
    return (
        Finding(
            f"{short:.2f} m² of the {what} lie where there are no ground levels and are not counted.",
            field="levels",
            wrong=True,
            code="ground-unknown",
        ),
    )


def _runs_out(side: Region, ground: Surface, word: str) -> list[Finding]:
    edge = shapely.intersection(side, ground.outline.boundary.buffer(1e-6))
    if edge.area <= 1e-9:
        return []
    place = shapely.point_on_surface(edge)
    return [
        Finding(
            f"The batter in {word} comes to the edge of the levels at {place.x:.2f}, "
            f"{place.y:.2f} before it meets the ground; "
            "what lies beyond is not counted. Survey farther out, or steepen the batter.",
            field="batter",
            wrong=True,
            code="batter-open",
        )
    ]
