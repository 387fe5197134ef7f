"""Cross-sections of a route: its typical sections set out along it and run out to the ground."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import pairwise

import numpy as np

from ...findings import Finding
from ...numbers.working import Working, shown
from ...refusals import BadEntry
from ..areas import Trapezia, trapezia
from ..formation import Batter
from ..measures import known, positive, sound
from ..pieces import Floats
from ..surface import Profile, Surface
from .centreline import Centreline, LongSection
from .typical import Point, Side, TypicalSection, side_of

CUT, FILL, TOPSOIL, BESIDE = "cut", "fill", "topsoil strip", "fill beside layers"
EARTH = (CUT, FILL, TOPSOIL, BESIDE)
# What has a width along a route: strips, those counted by length, the tops of layers, what is trimmed.
STRIP, EDGE, TOP, TRIMMED = "strip", "edge", "top", "trimmed"
FORMATION, SLOPES = "formation", "slopes"
Extents = Mapping[tuple[str, str], tuple[float, float]]
_FIRST_REACH, _MOST_REACH = 20.0, 640.0
_MOST_SECTIONS = 50_000
_BESIDE = 3.0  # m of ground told beyond a section
_CLOSE = 0.001  # m: nearer to an end there is no section of its own
_NEAR = 0.01  # m by which a long section may fall short unsaid
_MOST_KEPT = 60_000  # lines of ground across


@dataclass(frozen=True)
class Change:
    """Where a typical section begins.

    Attributes:
        chainage: in m.
        typical: from there on.
        taper: over how many m the one before goes over into it.
    """

    chainage: float
    typical: TypicalSection
    taper: float = 0.0

    def __post_init__(self) -> None:
        if not (known(self.chainage) and sound(self.taper)):
            raise BadEntry(
                f"The chainage at which {self.typical.name} begins, or its taper, is missing or can't be.",
                field="typical",
            )


@dataclass(frozen=True)
class Route:
    """A centreline with its levels and what is built along it."""

    centreline: Centreline
    long_section: LongSection
    changes: tuple[Change, ...]

    def __post_init__(self) -> None:
        if not self.changes or [c.chainage for c in self.changes] != sorted(
            {c.chainage for c in self.changes}
        ):
            raise BadEntry(
                "A route needs typical sections, the chainages they begin at rising.", field="typical"
            )

    def typical_at(self, chainage: float, *, before: bool = False) -> TypicalSection | None:
        """The typical section at a chainage; at a change without a taper the one before it, when asked
        for."""
        begun = [
            change
            for change in self.changes
            if change.chainage < chainage - 1e-9 or (not before and change.chainage <= chainage + 1e-9)
        ]
        if not begun:
            return None
        change = begun[-1]
        into = chainage - change.chainage
        if len(begun) > 1 and change.taper and into < change.taper:
            return begun[-2].typical.blended(change.typical, into / change.taper)
        return change.typical

    def chainages(self, interval: float, more: Sequence[float] = ()) -> Floats:
        """The chainages of sections: at an interval, at every change, and at more.

        Raises:
            BadEntry: the interval is not above zero, or makes too many sections.
        """
        begin, end = self.centreline.begin, self.centreline.end
        if not positive(interval) or (end - begin) / interval > _MOST_SECTIONS:
            raise BadEntry(
                f"Sections every {interval:g} m can't be made here.",
                field="interval",
                remedy=f"Type an interval for up to {_MOST_SECTIONS} sections.",
            )
        even = np.arange(math.ceil(begin / interval), math.floor(end / interval) + 1) * interval
        turns = [
            place for change in self.changes for place in (change.chainage, change.chainage + change.taper)
        ]
        inner = np.concatenate([even, self.centreline.changes, self.long_section.changes, turns, more])
        # What lies at an end but for rounding is no section beside it.
        inner = inner[(inner > begin + _CLOSE) & (inner < end - _CLOSE)]
        every = np.sort(np.concatenate([[begin, end], inner]))
        return np.asarray(every[np.diff(every, prepend=-np.inf) > 1e-6])


@dataclass(frozen=True)
class Section:
    """A cross-section.

    Attributes:
        chainage: in m.
        typical: the name of the typical section.
        level: of the centreline, in m.
        curvature: of the centreline, in 1/m, above zero to the left.
        surveyed: k × 2, offsets (to the right above zero) and levels of all the ground that was looked at.
        formation: the same, from daylight to daylight; steps are upright.
        sides: of its typical section.
        areas: name → m²: cut, fill, the topsoil strip, and each layer.
        middles: name → the offset of the middle of that area, in m.
        extents: how wide each part of it is, and the edges that are counted by their length.
        between: the trapezia of cut and fill.
        topsoil: how deep it is stripped, in m.
    """

    chainage: float
    typical: str
    level: float
    curvature: float
    surveyed: Floats
    formation: Floats
    sides: tuple[Side, Side]
    areas: Mapping[str, float]
    middles: Mapping[str, float]
    extents: Extents
    between: Trapezia
    topsoil: float

    @cached_property
    def ground(self) -> Floats:
        """k × 2, offsets and levels, a little beyond where it meets the ground."""
        left, right = self.daylight
        return _clipped(self.surveyed, left - _BESIDE, right + _BESIDE)

    @cached_property
    def layers(self) -> dict[str, list[list[Point]]]:
        """name → its outlines."""
        shapes = dict[str, list[list[Point]]]()
        for side, mirror in zip(self.sides, (-1.0, 1.0), strict=True):
            for name, parts in side.layers.items():
                outlines = [[(mirror * x, self.level + z) for x, z in part] for part in parts]
                shapes.setdefault(name, []).extend(outlines)
        return {name: outlines for name, outlines in shapes.items() if outlines}

    def working(self, name: str) -> Working:
        """The arithmetic of one of its areas."""
        if name in (CUT, FILL):
            return self.between.working(name.capitalize(), below=name == FILL)
        parts = []
        for outline in self.layers.get(name, []):
            (x1, top), (x2, _), _, (_, bottom) = outline
            figures = f"{shown(abs(x2 - x1), 3)} × {shown(top - bottom, 3)}"
            parts.append(
                Working(
                    f"{shown(x1)} to {shown(x2)}",
                    abs(x2 - x1) * (top - bottom),
                    "m²",
                    "width × thickness",
                    figures,
                )
            )
        if name == TOPSOIL:
            left, right = self.daylight
            parts.append(
                Working(
                    "Over the whole width",
                    self.areas[name],
                    "m²",
                    "width × depth",
                    f"{shown(right - left, 3)} × {shown(self.topsoil, 3)}",
                )
            )
        return Working(
            f"{name.capitalize()} at {shown(self.chainage)}",
            self.areas.get(name, 0.0),
            "m²",
            "Σ of its parts",
            parts=tuple(parts),
        )

    @property
    def daylight(self) -> tuple[float, float]:
        """The offsets at which it meets the ground, in m."""
        return float(self.formation[0, 0]), float(self.formation[-1, 0])


def cross_sections(
    route: Route, ground: Surface | GroundAcross, chainages: Sequence[float] | Floats
) -> tuple[list[Section], tuple[Finding, ...]]:
    """The sections at chainages; two where one typical section ends and another begins.

    Returns:
        The sections, and what was found: no ground, batters that don't meet it, no typical section, no
        levels.
    """
    along = np.asarray(chainages, dtype=float)
    places, directions, curvatures = route.centreline.at(along)
    levels = route.long_section.levels(along)
    made, findings = list[Section](), list[Finding]()
    surveyed = ground if isinstance(ground, GroundAcross) else GroundAcross(ground)
    widest = max(side.edge[0] for each in route.changes for side in _built(each.typical).sides)
    lines = surveyed.at(places, directions, widest + _FIRST_REACH)
    first, last = route.long_section.points[0][0], route.long_section.points[-1][0]
    if len(along) and (along.min() < first - _NEAR or along.max() > last + _NEAR):
        findings.append(
            Finding(
                f"The long section is given from {first:g} to {last:g} only; "
                "beyond, its last straights go on.",
                field="long_section",
                code="long-section-short",
            )
        )
    for at, chainage in enumerate(along):
        across = lines[at]
        wanted = [route.typical_at(float(chainage), before=True), route.typical_at(float(chainage))]
        if wanted[0] is not wanted[1] and wanted[0] and wanted[1] and wanted[0].built_like(wanted[1]):
            wanted[1] = wanted[0]  # where a taper begins they are one
        for typical in dict.fromkeys(wanted[1:] if at == 0 or wanted[0] == wanted[1] else wanted):
            if typical is None:
                if wanted[1] is None:
                    findings.append(
                        Finding(
                            "No typical section is given at {where}; nothing is counted there.",
                            at,
                            "typical",
                            wrong=True,
                            code="typical-missing",
                        )
                    )
                continue
            section = _section(
                typical, float(chainage), float(levels[at]), float(curvatures[at]), across, at, findings
            )
            if section:
                made.append(section)
    return made, _together(findings, along)


def _together(findings: Sequence[Finding], along: Floats) -> tuple[Finding, ...]:
    """What was found at sections that follow one another is told once, with their chainages."""
    runs = dict[str, list[list[Finding]]]()
    for each in findings:
        same = runs.setdefault(each.says, [])
        if same and each.line <= same[-1][-1].line + 1:
            same[-1].append(each)
        else:
            same.append([each])
    told = []
    for run in (run for same in runs.values() for run in same):
        first, last = along[max(run[0].line, 0)], along[max(run[-1].line, 0)]
        where = f"chainage {first:.2f}" if first == last else f"chainages {first:.2f} to {last:.2f}"
        told.append(replace(run[0], says=run[0].says.replace("{where}", where)))
    return tuple(told)


class GroundAcross:
    """The ground across a route, surveyed at each chainage once: it is the same whatever is built on it."""

    def __init__(self, surface: Surface) -> None:
        self.surface, self.lines = surface, dict[tuple[float, float, float], _Across]()

    def at(self, places: Floats, directions: Floats, reach: float) -> list[_Across]:
        """At places of the centreline (k × 2) that runs in directions there, to a reach on both sides at
        least."""
        if len(self.lines) + len(places) > _MOST_KEPT:
            self.lines.clear()
        keys = [(x, y, turn) for (x, y), turn in zip(places.tolist(), directions.tolist(), strict=True)]
        for key in keys:
            if key not in self.lines:
                self.lines[key] = _Across(self.surface, np.array(key[:2]), key[2])
        found = [self.lines[key] for key in keys]
        short = [each for each in found if each.reach < reach]
        if short:
            middle, right = np.array([each.place for each in short]), np.array([each.right for each in short])
            profiles = self.surface.profiles(middle - reach * right, middle + reach * right)
            for each, profile in zip(short, profiles, strict=True):
                each.keep(profile, reach)
        return found


class _Across:
    """The ground across the route at a chainage, surveyed as far as it is asked for."""

    def __init__(self, ground: Surface, place: Floats, direction: float) -> None:
        self.surface, self.place = ground, place
        self.right = np.array([math.sin(direction), -math.cos(direction)])
        self.reach, self.line, self.gap = 0.0, np.zeros((0, 2)), False
        self.sides: tuple[tuple[list[float], list[float]], ...] = (([], []), ([], []))

    def to(self, reach: float) -> Floats:
        """Offsets and levels to a reach on both sides, as far as there is ground."""
        if reach > self.reach:
            ends = self.place - reach * self.right, self.place + reach * self.right
            self.keep(self.surface.profile([end.tolist() for end in ends]), reach)
        return self.line

    def side(self, mirror: float) -> tuple[list[float], list[float]]:
        """Offsets, outwards to the right (1) or to the left (−1), and levels."""
        return self.sides[mirror > 0]

    def keep(self, profile: Profile, reach: float) -> None:
        """Keep what was surveyed to a reach on both sides."""
        there = np.isfinite(profile.levels)
        inner = np.flatnonzero(there)
        self.gap = bool(len(inner)) and not there[inner[0] : inner[-1] + 1].all()
        self.line = np.stack([profile.chainages[there] - reach, profile.levels[there]], axis=1)
        self.reach = reach
        offsets, levels = self.line[:, 0].tolist(), self.line[:, 1].tolist()
        self.sides = (([-x for x in reversed(offsets)], levels[::-1]), (offsets, levels))


@dataclass(frozen=True)
class _Built:
    """What is the same in every section of a typical one: its sides, the areas of its layers with their
    middles, and its extents."""

    sides: tuple[Side, Side]
    areas: Mapping[str, float]
    middles: Mapping[str, float]
    extents: Extents


@lru_cache(maxsize=256)
def _built(typical: TypicalSection) -> _Built:
    sides = side_of(typical.left, typical.layers), side_of(typical.right, typical.layers)
    areas, middles = _layers(sides)
    beside = [
        (side.beside[0], mirror * side.beside[1]) for side, mirror in zip(sides, (-1.0, 1.0), strict=True)
    ]
    if any(area for area, _ in beside):
        areas[BESIDE], middles[BESIDE] = sum(area for area, _ in beside), _middle(beside)
    return _Built(sides, areas, middles, _extents(typical, sides))


def _section(
    typical: TypicalSection,
    chainage: float,
    level: float,
    curvature: float,
    across: _Across,
    line: int,
    findings: list[Finding],
) -> Section | None:
    built = _built(typical)
    sides = built.sides
    reach = max(side.edge[0] for side in sides) + _FIRST_REACH
    ground = across.to(reach)
    if len(ground) < 2 or ground[0, 0] > -sides[0].edge[0] or ground[-1, 0] < sides[1].edge[0]:
        findings.append(
            Finding(
                "The ground isn't known over the whole width at {where}; no section is made there.",
                line,
                "ground",
                wrong=True,
                code="ground-unknown",
            )
        )
        return None
    halves = []
    for side, mirror in zip(sides, (-1.0, 1.0), strict=True):
        half, met = _to_ground(side, typical, level, mirror, across)
        if not met:
            word = "left" if mirror < 0 else "right"
            findings.append(
                Finding(
                    f"The {word} batter at {{where}} doesn't meet the ground as far as it is known; "
                    "it ends there.",
                    line,
                    "ground",
                    wrong=True,
                    code="batter-open",
                )
            )
        halves.append(half)
    ground = across.line
    if across.gap:
        findings.append(
            Finding(
                "The ground has a gap in the section at {where}; a straight line is taken over it.",
                line,
                "ground",
                code="ground-gap",
            )
        )
    formation = np.array([*((-x, z) for x, z in reversed(halves[0])), *halves[1]])
    stripped = ground[:, 1] - typical.topsoil
    dug = []
    for half, side, mirror in zip(halves, sides, (-1.0, 1.0), strict=True):
        offsets, levels = across.side(mirror)
        dug.append(_dug(half, side.edge[0], offsets, [level - typical.topsoil for level in levels]))
    earth = np.array([*((-x, z) for x, z in reversed(dug[0])), *dug[1]])
    between = _between(earth, ground[:, 0], stripped)
    extents = {**built.extents, (TRIMMED, SLOPES): _slopes(sides, halves)}
    left, right = formation[0, 0], formation[-1, 0]
    areas = {**built.areas, CUT: between.above, FILL: between.below}
    middles = {**built.middles, CUT: between.middle, FILL: between.middle_below}
    if typical.topsoil:
        areas[TOPSOIL], middles[TOPSOIL] = typical.topsoil * (right - left), (left + right) / 2
    return Section(
        chainage,
        typical.name,
        level,
        curvature,
        ground,
        formation,
        sides,
        areas,
        middles,
        extents,
        between,
        typical.topsoil,
    )


def _extents(typical: TypicalSection, sides: tuple[Side, Side]) -> dict[tuple[str, str], tuple[float, float]]:
    """What of a typical section has a width or a length along the route, with the offset of its middle: the
    strips, those counted by length, the tops of layers, the formation to be trimmed."""
    linear = {strip.name for strip in (*typical.left, *typical.right) if strip.linear}
    found = dict[tuple[str, str], list[tuple[float, float]]]()
    for side, mirror in zip(sides, (-1.0, 1.0), strict=True):
        for name, begin, end in side.strips:
            key, size = (EDGE, 1.0) if name in linear else (STRIP, end - begin)
            if end > begin:
                found.setdefault((key, name), []).append((size, mirror * (begin + end) / 2))
        for name, parts in side.layers.items():
            for (begin, _), (end, _), *_ in parts:
                found.setdefault((TOP, name), []).append((end - begin, mirror * (begin + end) / 2))
        found.setdefault((TRIMMED, FORMATION), []).append((side.edge[0], mirror * side.edge[0] / 2))
    return {key: (sum(size for size, _ in each), _middle(each)) for key, each in found.items()}


def _slopes(sides: tuple[Side, Side], halves: Sequence[Sequence[Point]]) -> tuple[float, float]:
    """How long the sides beyond the edges are, and the offset of their middle."""
    parts = []
    for side, half, mirror in zip(sides, halves, (-1.0, 1.0), strict=True):
        edge = side.edge[0]
        outside = [point for point in half if point[0] >= edge - 1e-9]
        sizes = sum(math.dist(a, b) for a, b in pairwise(outside))
        parts.append((sizes, mirror * (edge + half[-1][0]) / 2))
    return sum(size for size, _ in parts), _middle(parts)


def _middle(parts: Sequence[tuple[float, float]]) -> float:
    whole = sum(size for size, _ in parts)
    return sum(size * at for size, at in parts) / whole if whole else 0.0


def _clipped(line: Floats, low: float, high: float) -> Floats:
    """A line between two offsets, as far as it goes."""
    low, high = max(low, line[0, 0]), min(high, line[-1, 0])
    inner = line[(line[:, 0] > low) & (line[:, 0] < high)]
    ends = np.array([[x, np.interp(x, line[:, 0], line[:, 1])] for x in (low, high)])
    return np.concatenate([ends[:1], inner, ends[1:]])


def _to_ground(
    side: Side, typical: TypicalSection, level: float, mirror: float, across: _Across
) -> tuple[list[Point], bool]:
    """One side of the formation out to the ground, offsets outwards, and whether it meets it."""
    built = [(x, level + z) for x, z in side.formation]
    edge = (side.edge[0], level + side.edge[1])
    if built[-1] != edge:
        built.append(edge)
    reach = side.edge[0] + _FIRST_REACH
    while True:
        across.to(reach)
        offsets, levels = across.side(mirror)
        height = max(max(levels) - edge[1], edge[1] - min(levels))
        path = _path(edge, typical, _level(offsets, levels, edge[0]) > edge[1], height)
        end = _meeting(path, offsets, levels)
        if end is not None:
            return [*built, *(point for point in path[1:] if point[0] < end[0] - 1e-9), end], True
        last = offsets[-1]
        if reach >= _MOST_REACH or last < reach - 1e-6:
            # The ground ends first: so does the batter.
            inside = [point for point in path[1:] if point[0] < last]
            before, after = (
                [edge, *inside][-1],
                next((point for point in path if point[0] >= last), path[-1]),
            )
            share = (last - before[0]) / (after[0] - before[0]) if after[0] > before[0] else 0.0
            return [*built, *inside, (last, before[1] + share * (after[1] - before[1]))], False
        reach = min(2 * reach, _MOST_REACH)


def _level(offsets: Sequence[float], levels: Sequence[float], offset: float) -> float:
    """The level of a line at an offset; beyond its ends that of the end."""
    after = bisect_right(offsets, offset)
    if after == 0 or after == len(offsets):
        return levels[max(after - 1, 0)]
    begin, end = offsets[after - 1], offsets[after]
    return levels[after - 1] + (levels[after] - levels[after - 1]) * (offset - begin) / (end - begin)


def _dug(half: list[Point], edge: float, offsets: list[float], stripped: list[float]) -> list[Point]:
    """One side of a cutting as far as it is dug: what rises above the stripped ground beyond the edge went
    with the strip, and is neither cut nor fill. A bank is left as it is."""
    built = [point for point in half if point[0] <= edge + 1e-9]
    if not built or half[-1][1] <= built[-1][1]:
        return half
    for (x1, z1), (x2, z2) in pairwise([built[-1], *half[len(built) :]]):
        inner = offsets[bisect_right(offsets, x1) : bisect_left(offsets, x2)]
        marks = [x1, *inner, x2]
        upright = x2 - x1 <= 1e-12
        bank = [z1, z2] if upright else [z1 + (z2 - z1) * (mark - x1) / (x2 - x1) for mark in marks]
        ground = [_level(offsets, stripped, mark) for mark in marks]
        if bank[0] > ground[0]:
            built.append((x1, ground[0]))
        for at in range(1, len(bank)):
            before, now = bank[at - 1] - ground[at - 1], bank[at] - ground[at]
            if before * now < 0:
                share = before / (before - now)
                x = marks[at - 1] + share * (marks[at] - marks[at - 1])
                built.append((x, ground[at - 1] + share * (ground[at] - ground[at - 1])))
            built.append((marks[at], min(bank[at], ground[at])))
    return built


def _path(edge: Point, typical: TypicalSection, in_cut: bool, height: float) -> list[Point]:
    """From the edge outwards: the ditch in cut, then the batter, farther than the ground is high."""
    path, ditch = [edge], typical.ditch
    batter: Batter = typical.cut if in_cut else typical.fill
    if in_cut and ditch:
        x, z = edge
        for dx, dz in (
            (ditch.depth * ditch.inner, -ditch.depth),
            (ditch.bottom, 0.0),
            (ditch.depth * ditch.outer, ditch.depth),
        ):
            x, z = x + dx, z + dz
            path.append((x, z))
    x, z = path[-1]
    sign = 1.0 if in_cut else -1.0
    return path + [(x + along, z + sign * up) for along, up in batter.profile(height + 1.0)[1:]]


def _meeting(path: Sequence[Point], offsets: list[float], levels: list[float]) -> Point | None:
    """Where a path first meets the ground, beyond its start; None where it doesn't."""
    x0, z0 = path[0]
    start = _level(offsets, levels, x0) - z0
    if abs(start) <= 1e-9:
        return path[0]
    if path[-1][0] - x0 <= 1e-9:
        return (x0, _level(offsets, levels, x0))
    sign = math.copysign(1, start)
    # Of an upright part, its far end.
    corners = [a for a, b in pairwise(path) if b[0] > a[0]]
    corners.append(path[-1])
    before, x_before = (_level(offsets, levels, corners[0][0]) - corners[0][1]) * sign, corners[0][0]
    if before <= 0:
        return path[0]
    for (x1, z1), (x2, z2) in pairwise(corners):
        for x in (*offsets[bisect_right(offsets, x1) : bisect_left(offsets, x2)], x2):
            if x > offsets[-1] + 1e-9:
                return None
            over = (_level(offsets, levels, x) - (z1 + (z2 - z1) * (x - x1) / (x2 - x1))) * sign
            if over <= 0:
                share = before / (before - over)
                met = x_before + share * (x - x_before)
                return met, _level(offsets, levels, met)
            before, x_before = over, x
    return None


def _between(formation: Floats, offsets: Floats, levels: Floats) -> Trapezia:
    """The trapezia between the ground and a formation with upright steps."""
    begins, ends = formation[:-1], formation[1:]
    wide = ends[:, 0] - begins[:, 0]
    firsts = np.searchsorted(offsets, begins[:, 0], side="right")
    lasts = np.searchsorted(offsets, ends[:, 0], side="left")
    xs, built = list[float](), list[float]()
    inner = offsets.tolist()
    for (x1, z1), (x2, z2), width, first, last in zip(
        begins.tolist(), ends.tolist(), wide.tolist(), firsts.tolist(), lasts.tolist(), strict=True
    ):
        if width <= 1e-12:
            continue
        marks = [x1, *inner[first:last], x2]
        xs += marks
        built += [z1 + (z2 - z1) * (mark - x1) / width for mark in marks]
    if not xs:
        return trapezia(np.zeros(1), np.zeros(1))
    places = np.array(xs)
    return trapezia(places, np.interp(places, offsets, levels) - np.array(built))


def _layers(sides: tuple[Side, Side]) -> tuple[dict[str, float], dict[str, float]]:
    """The area of each layer, and the offset of its middle."""
    areas, moments = dict[str, float](), dict[str, float]()
    for side, mirror in zip(sides, (-1.0, 1.0), strict=True):
        for name, parts in side.layers.items():
            for (begin, top), (end, _), _, (_, bottom) in parts:
                area = (end - begin) * (top - bottom)
                areas[name] = areas.get(name, 0.0) + area
                moments[name] = moments.get(name, 0.0) + area * mirror * (begin + end) / 2
            areas.setdefault(name, 0.0)
    return areas, {name: moments.get(name, 0.0) / area if area else 0.0 for name, area in areas.items()}
