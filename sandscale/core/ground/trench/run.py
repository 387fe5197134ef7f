"""A trench from node to node: where its depth and its section change, and the volumes between."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from ...findings import Finding
from ...numbers.working import Working, shown
from ...refusals import BadEntry
from ..measures import known
from ..pieces import Floats
from ..surface import Surface
from ..table import Table, table
from .kind import BACKFILL, DUG, PIPE, Pipe, Reinstatement, TrenchKind
from .node import Node


@dataclass(frozen=True)
class Run:
    """A trench from node to node.

    Attributes:
        start, end: names of nodes.
        start_invert, end_invert: of the pipe (or the top of the bed where there is none), in m.
        kind: how it is dug and filled.
        ground: (chainage, level) of the ground between the nodes, where there is no surface.
        stage: it is dug in; none where it is empty.
    """

    start: str
    end: str
    start_invert: float
    end_invert: float
    kind: TrenchKind
    ground: Sequence[tuple[float, float]] = ()
    stage: str = ""

    @property
    def name(self) -> str:
        """Such as MH1–MH2."""
        return f"{self.start}–{self.end}"


@dataclass(frozen=True)
class RunQuantities:
    """What a run comes to.

    Attributes:
        run: the run.
        chainages: k, where its depth or its section changes its law, from its start node, in m.
        ground: k, in m.
        inverts: k, in m.
        depths: k, from the ground to the trench bottom, in m.
        bottom: the width of the bottom, in m.
        pipe_length: laid, between the inside faces of manholes, in m.
        areas: name → k, k − 1 (at the middles between) areas in m².
        limits: of the depth bands, in m.
    """

    run: Run
    chainages: Floats
    ground: Floats
    inverts: Floats
    depths: Floats
    bottom: float
    pipe_length: float
    areas: Mapping[str, tuple[Floats, Floats]]
    limits: Sequence[float]

    def spans(self, name: str) -> Floats:
        """The volume of something between chainages, in m³. Its area is a square law of the depth and the
        depth a straight one of the chainage, so L/6 (A1 + 4 A middle + A2) is exact."""
        at, middle = self.areas[name]
        return np.asarray(np.diff(self.chainages) / 6 * (at[:-1] + 4 * middle + at[1:]))

    @cached_property
    def volumes(self) -> dict[str, float]:
        """Of each thing, in m³: dug, pipe, the layers, backfill."""
        return {name: float(self.spans(name).sum()) for name in self.areas}

    @property
    def length(self) -> float:
        """Of trench, between the pits at its ends, in m."""
        return float(self.chainages[-1] - self.chainages[0])

    @property
    def fall(self) -> float:
        """Of the pipe, per m; below zero where it rises."""
        rise = self.inverts[-1] - self.inverts[0]
        return -float(rise / (self.chainages[-1] - self.chainages[0]))

    @property
    def sides_area(self) -> float:
        """Of both its sides, measured upright, in m²."""
        return float((self.depths[:-1] + self.depths[1:]) @ np.diff(self.chainages))

    @property
    def dug_bands(self) -> list[tuple[float, float, float]]:
        """What is dug by depth below the ground: (from, to, m³)."""
        ends = [*self.limits, math.inf]
        below = [self._dug_below(limit) for limit in self.limits]
        return [
            (low, high, volume - rest)
            for low, high, volume, rest in zip(ends, ends[1:], below, [*below[1:], 0.0], strict=False)
            if volume > 0
        ]

    @property
    def length_bands(self) -> list[tuple[float, float, float]]:
        """The length of trench by its depth: (over, not over, m)."""
        middles, lengths = (self.depths[:-1] + self.depths[1:]) / 2, np.diff(self.chainages)
        ends = [*self.limits, math.inf]
        found = [
            (low, high, float(lengths[(middles > low) & (middles <= high)].sum()))
            for low, high in pairwise(ends)
        ]
        return [band for band in found if band[2] > 0]

    def _dug_below(self, limit: float) -> float:
        under = self.depths - limit
        a, middle, b = (
            self.run.kind.area(self.bottom, each)
            for each in (under[:-1], (under[:-1] + under[1:]) / 2, under[1:])
        )
        return float((np.diff(self.chainages) / 6 * (a + 4 * middle + b)).sum())

    def surface_area(self, layer: Reinstatement) -> float:
        """The area a reinstatement is put back on, in m²."""
        middles = (self.depths[:-1] + self.depths[1:]) / 2  # within a span the sides keep to one law
        widths = self.bottom + 2 * self.run.kind.sides.spread(middles) + 2 * layer.overlap
        return float((widths * np.diff(self.chainages))[middles > 0].sum())

    def section(self, chainage: float) -> dict[str, list[tuple[float, float]]]:
        """A cross-section as outlines of (offset, level): what is dug, each layer as its upper line, and the
        pipe's circle.

        Raises:
            BadEntry: the chainage is off the run.
        """
        if not self.chainages[0] <= chainage <= self.chainages[-1]:
            raise BadEntry(f"Chainage {chainage:g} is not on run {self.run.name}.", field="chainage")
        kind = self.run.kind
        depth = float(np.interp(chainage, self.chainages, self.depths))
        floor = float(np.interp(chainage, self.chainages, self.ground)) - depth
        drawn = {DUG: [(x, floor + y) for x, y in kind.sides.outline(self.bottom, depth)]}
        room, top = depth - kind.restored, depth
        heights = [
            (layer.name, min(up, room)) for layer, up in zip(kind.surrounds, kind.tops, strict=True)
        ] + [(BACKFILL, room)]
        for layer in kind.reinstatements:
            heights.append((layer.name, top))
            top -= layer.thickness
        for name, height in heights:
            half = self.bottom / 2 + float(
                kind.sides.spread(np.array(max(height - 1e-6, 0)))
            )  # below a bench, where there is one
            drawn[name] = [(-half, floor + height), (half, floor + height)]
        if kind.pipe:
            middle, radius = floor + kind.bed + kind.pipe.outside / 2, kind.pipe.outside / 2
            drawn[PIPE] = [
                (radius * math.cos(turn), middle + radius * math.sin(turn))
                for turn in np.linspace(0, 2 * math.pi, 49)
            ]
        return drawn

    @property
    def long_section(self) -> dict[str, Floats]:
        """Lines to be drawn, each k × 2, chainage and level: ground, bottom, and the pipe's invert and
        crown."""
        lines = {"ground": self.ground, "bottom": self.ground - self.depths, "invert": self.inverts}
        if pipe := self.run.kind.pipe:
            lines["crown"] = self.inverts + pipe.bore
        return {name: np.column_stack([self.chainages, levels]) for name, levels in lines.items()}

    def table(self, name: str) -> Table:
        """The volume of something, a row for each span."""
        at, middle = self.areas[name]
        return table(
            name,
            ("from", "m", self.chainages[:-1]),
            ("to", "m", self.chainages[1:]),
            ("depth from", "m", self.depths[:-1]),
            ("depth to", "m", self.depths[1:]),
            ("area from", "m²", at[:-1]),
            ("area middle", "m²", middle),
            ("area to", "m²", at[1:]),
            ("volume", "m³", self.spans(name)),
        )

    def working(self, name: str) -> Working:
        """The arithmetic of a volume, a part for each span."""
        at, middle = self.areas[name]
        parts = tuple(
            Working(
                f"{shown(float(a))} to {shown(float(b))}",
                float(volume),
                "m³",
                "L / 6 × (A1 + 4 × A middle + A2)",
                f"{shown(float(b - a))} / 6 × ({shown(float(at[n]), 3)} + 4 × {shown(float(middle[n]), 3)} "
                f"+ {shown(float(at[n + 1]), 3)})",
                source=f"depths {shown(float(self.depths[n]))} and {shown(float(self.depths[n + 1]))} "
                f"m, bottom {shown(self.bottom)} m",
            )
            for n, (a, b, volume) in enumerate(
                zip(self.chainages, self.chainages[1:], self.spans(name), strict=False)
            )
        )
        return Working(
            f"{name.capitalize()}, {self.run.name}", self.volumes[name], "m³", "Σ of the spans", parts=parts
        )


def quantities_of(
    run: Run,
    line: int,
    nodes: Mapping[str, Node],
    ground: Surface | None,
    limits: Sequence[float],
    findings: list[Finding],
) -> RunQuantities:
    """What a run comes to; what looks wrong with it is put to the findings, under its line.

    Raises:
        BadEntry: a node isn't known or has no level, or the pits at its ends leave no trench between them.
    """
    for name in (run.start, run.end):
        if name not in nodes:
            raise BadEntry(
                f"Run {run.name} names node {name}, which there isn't.",
                field="nodes",
                remedy="Add the node or correct the name.",
            )
    start, end = nodes[run.start], nodes[run.end]
    if not known(run.start_invert, run.end_invert, start.x, start.y, end.x, end.y):
        raise BadEntry(
            f"An invert of run {run.name}, or the place of one of its nodes, is missing.", field="runs"
        )
    length = math.hypot(end.x - start.x, end.y - start.y)
    first, last = (node.manhole.pit_half if node.manhole else 0.0 for node in (start, end))
    if not length > first + last:
        raise BadEntry(
            f"Run {run.name} is {length:.2f} m long: nothing is left of it between its ends.", field="runs"
        )
    along, levels = _ground(run, line, start, end, length, ground, findings)
    along_all = np.unique(
        np.concatenate([[first, length - last], along[(along > first) & (along < length - last)]])
    )
    fall = (run.end_invert - run.start_invert) / length
    floor = run.kind.below_invert

    def depths_at(places: Floats) -> Floats:
        return np.asarray(np.interp(places, along, levels) - (run.start_invert + fall * places) + floor)

    depths = depths_at(along_all)
    deepest = float(depths.max())
    breaks = {
        *run.kind.breaks(deepest),
        *limits,
        *(limit + height for limit in limits for height in run.kind.sides.breaks(deepest)),
        0.0,
    }
    chainages = _with_breaks(along_all, depths, sorted(breaks))
    depths = depths_at(chainages)
    _check_run(run, line, chainages, depths, -fall, findings)
    depths = np.maximum(depths, 0)
    bottom = run.kind.bottom(deepest)
    at, middle = (_inner_areas(run.kind, bottom, depths, inner) for inner in (False, True))
    inner_ends = sum(node.manhole.length / 2 for node in (start, end) if node.manhole)
    return RunQuantities(
        run,
        chainages,
        np.interp(chainages, along, levels),
        run.start_invert + fall * chainages,
        depths,
        bottom,
        length - inner_ends if run.kind.pipe else 0.0,
        {name: (at[name], middle[name]) for name in at},
        limits,
    )


def _inner_areas(kind: TrenchKind, bottom: float, depths: Floats, inner: bool) -> dict[str, Floats]:
    return kind.areas(bottom, (depths[:-1] + depths[1:]) / 2 if inner else depths)


def _with_breaks(along: Floats, depths: Floats, breaks: Sequence[float]) -> Floats:
    """Chainages with those at which the depth passes a break."""
    found = [along]
    for (a, b), (h1, h2) in zip(pairwise(along), pairwise(depths), strict=True):
        passed = np.array([limit for limit in breaks if min(h1, h2) < limit < max(h1, h2)])
        if len(passed):
            found.append(a + (passed - h1) / (h2 - h1) * (b - a))
    return np.unique(np.concatenate(found))


def _ground(
    run: Run,
    line: int,
    start: Node,
    end: Node,
    length: float,
    ground: Surface | None,
    findings: list[Finding],
) -> tuple[Floats, Floats]:
    """Chainages and ground levels along a run."""
    if ground is not None and not run.ground:
        profile = ground.profile([(start.x, start.y), (end.x, end.y)])
        along, levels = profile.chainages.copy(), profile.levels.copy()
    else:
        between = sorted(run.ground)
        if any(not 0 <= chainage <= length for chainage, _ in between):
            raise BadEntry(
                f"Ground levels of run {run.name} lie beyond its {length:.2f} m.",
                field="ground",
                remedy="Count chainages from its start node.",
            )
        along = np.array([0.0, *(chainage for chainage, _ in between), length])
        levels = np.array([np.nan, *(level for _, level in between), np.nan])
    for at, node in ((0, start), (-1, end)):
        if node.ground is not None:
            levels[at] = node.ground
    unknown = ~np.isfinite(levels)
    if not known(levels[~unknown]):
        raise BadEntry(f"A ground level of run {run.name} is beyond all size.", field="ground")
    if unknown[0] or unknown[-1]:
        raise BadEntry(
            f"The ground level at an end of run {run.name} is not known.",
            field="ground",
            remedy="Type the level of its node, or survey it.",
        )
    if unknown.any():
        findings.append(
            Finding(
                f"Run {run.name} goes off the ground levels between {along[unknown][0]:.2f} and "
                f"{along[unknown][-1]:.2f}; a straight line is taken there.",
                line,
                "ground",
                code="ground-unknown",
            )
        )
    return along[~unknown], levels[~unknown]


def _check_run(
    run: Run, line: int, chainages: Floats, depths: Floats, fall: float, findings: list[Finding]
) -> None:
    if (depths <= 0).any():
        findings.append(
            Finding(
                f"Run {run.name} comes out of the ground at {chainages[depths <= 0][0]:.2f}: "
                "its bottom is above it.",
                line,
                "invert",
                wrong=True,
                code="above-ground",
            )
        )
    needed = (
        max([*run.kind.tops, run.kind.bed + (run.kind.pipe.outside if run.kind.pipe else 0.0)])
        + run.kind.restored
    )
    shallow = (depths > 0) & (depths < needed - 1e-9)
    if shallow.any():
        place = chainages[shallow][0]
        findings.append(
            Finding(
                f"Run {run.name} is too shallow at {place:.2f} for all its layers "
                f"({needed:.2f} m); the ground cuts them off.",
                line,
                "invert",
                wrong=True,
                code="too-shallow",
                numbers=(needed,),
            )
        )
    if run.kind.pipe:
        _check_pipe(run, run.kind.pipe, line, chainages, depths, fall, findings)


def _check_pipe(
    run: Run,
    pipe: Pipe,
    line: int,
    chainages: Floats,
    depths: Floats,
    fall: float,
    findings: list[Finding],
) -> None:
    cover = depths - run.kind.bed - pipe.outside
    bare = (depths > 0) & (cover < run.kind.cover - 1e-9)
    if bare.any():
        findings.append(
            Finding(
                f"Run {run.name} has {cover[bare].min():.2f} m of cover at "
                f"{chainages[bare][cover[bare].argmin()]:.2f}; "
                f"{run.kind.name} asks for {run.kind.cover:.2f} m.",
                line, "invert", code="cover", numbers=(run.kind.cover,),
            )
        )  # fmt: skip
    rise = run.end_invert - run.start_invert
    if run.kind.pumped:
        return
    if rise > 0:
        says = f"Run {run.name} rises by {rise:.3f} m from {run.start} to {run.end}."
        findings.append(Finding(says, line, "invert", code="back-falling"))
        return
    for limit, word, wrong in (
        (run.kind.flattest, "flatter", fall < run.kind.flattest - 1e-9),
        (run.kind.steepest, "steeper", 0 < run.kind.steepest < fall - 1e-9),
    ):
        if wrong:
            says = (
                f"Run {run.name} falls by {abs(fall) * 100:.2f} %, {word} than the {limit * 100:.2f} % "
                f"of {run.kind.name}."
            )
            findings.append(Finding(says, line, "invert", code=f"too-{word}", numbers=(limit,)))
