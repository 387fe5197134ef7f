"""Levels as surveyed, before a surface is made of them: what looks wrong is found here and never dropped
silently."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from ..findings import Finding
from ..refusals import BadEntry
from .pieces import Floats, Whole
from .surface import Line, Surface, ring_region, surface

LineKind = Literal["breakline", "boundary", "hole", "contour"]
Kind = Literal["missing", "zero", "duplicate", "conflict", "spike", "outside", "swapped", "units"]
_SAME_PLACE, _SAME_LEVEL = 1e-3, 1e-3  # m
_NEIGHBOURS = 8
_AT_ONCE = 50_000  # points whose neighbours are looked at together
_SAMPLE = 20_000
_SPIKE, _LEAST_SPIKE = 8.0, 0.25  # times the usual roughness; m
_CREST = 3.0  # times as far off as a neighbour that stands off as well
_STEEP = 5.0  # median rise over run from neighbour to neighbour that no site has
_HIGHEST = 9_000.0  # m; no ground is higher
_UNITS = (("mm", 0.001), ("cm", 0.01), ("feet", 0.3048), ("inches", 0.0254), ("km", 1000.0))


@dataclass(frozen=True)
class SurveyLine:
    """A line of a survey.

    Attributes:
        kind: what it is for.
        corners: k × 3, NaN levels where they aren't known.
        layer: of the file it came from.
    """

    kind: LineKind
    corners: Floats
    layer: str = ""


@dataclass(frozen=True)
class Survey:
    """Levels as they came.

    Attributes:
        points: n × 3, east, north, level in m; NaN where a level is missing.
        codes: n, what each point is of; empty where it isn't told.
        rows: n, the row or entity of the file each came from, from 1.
        lines: breaklines, boundaries, contours.
    """

    points: Floats
    codes: tuple[str, ...] = ()
    rows: Whole = field(default_factory=lambda: np.zeros(0, np.int64))
    lines: tuple[SurveyLine, ...] = ()

    def scaled(self, plan: float, level: float) -> Survey:
        """The same survey with other units, as factors to m."""
        by = np.array([plan, plan, level])
        return replace(
            self,
            points=self.points * by,
            lines=tuple(replace(line, corners=line.corners * by) for line in self.lines),
        )

    def surface(self, checked: Checked | None = None) -> Surface:
        """The surface through its usable levels, with its breaklines, boundary and holes.

        Its findings say what was left out: doubtful levels, and lines that can't be used.

        Raises:
            BadShape: too few levels, or a ring that crosses itself.
        """
        looked = checked or check(self)
        kept = self.points[looked.usable]
        chains = [line for line in self.lines if line.kind in ("breakline", "contour")]
        known = [line for line in chains if np.isfinite(line.corners).all()]
        rings = {
            kind: [_ring(line) for line in self.lines if line.kind == kind] for kind in ("boundary", "hole")
        }
        made = surface(
            kept,
            [line.corners.tolist() for line in known],
            rings["boundary"][0] if rings["boundary"] else None,
            rings["hole"],
        )
        findings = [*looked.findings, *made.findings]
        if len(known) < len(chains):
            findings.append(
                Finding(
                    f"Breaklines with a corner that has no level: {len(chains) - len(known)}, left out.",
                    field="breaklines",
                    wrong=True,
                    code="no-level",
                )
            )
        if len(rings["boundary"]) > 1:
            findings.append(
                Finding(
                    f"Boundaries: {len(rings['boundary'])}. The first is taken.",
                    field="boundary",
                    wrong=True,
                    code="boundaries",
                )
            )
        return replace(made, findings=tuple(findings))


@dataclass(frozen=True)
class Doubt:
    """Something about levels that looks wrong.

    Attributes:
        kind: of it.
        which: the points in doubt, by their place in the survey; empty when it is about all.
        finding: in words, with the first row.
    """

    kind: Kind
    which: Whole
    finding: Finding


@dataclass(frozen=True)
class Checked:
    """What a survey's levels were found to be.

    Attributes:
        usable: n, whether a point goes into a surface: it has a level, and is the first at its place.
        doubts: by kind.
    """

    usable: NDArray[np.bool_]
    doubts: tuple[Doubt, ...]

    @property
    def findings(self) -> tuple[Finding, ...]:
        """In words."""
        return tuple(doubt.finding for doubt in self.doubts)


def check(survey: Survey, boundary: Line | None = None) -> Checked:
    """Look through levels before they are used.

    Args:
        survey: the levels.
        boundary: a ring they should lie in; the survey's own where there is none.
    """
    points = survey.points
    own = next((_ring(line) for line in survey.lines if line.kind == "boundary"), None)
    ring = boundary if boundary is not None else own
    doubts, usable = list[Doubt](), np.asarray(np.isfinite(points).all(axis=1))
    told = _Telling(survey, doubts)
    told("missing", np.flatnonzero(~usable), "No level: {n}, left out, the first in row {row}.", wrong=True)
    known = np.flatnonzero(usable)
    if not len(known):
        return Checked(usable, tuple(doubts))
    told(
        "zero",
        known[_odd_zeros(points[known, 2])],
        "A level of 0, far from the others: {n}, the first in row {row}. Check whether it was left empty.",
    )
    usable &= _duplicates(points, known, told)
    kept = np.flatnonzero(usable)
    told(
        "spike",
        kept[_spikes(points[kept])],
        "Out of line with all neighbours: {n}, the first in row {row} ({place}). Check, or leave out.",
    )
    if ring is not None:
        _against_ring(points, kept, ring, told)
    _measures(points[kept], told)
    return Checked(usable, tuple(doubts))


class _Telling:
    """Puts doubts into words."""

    def __init__(self, survey: Survey, doubts: list[Doubt]) -> None:
        self.survey, self.doubts = survey, doubts

    def __call__(
        self, kind: Kind, which: Whole, says: str, *, wrong: bool = False, always: bool = False
    ) -> None:
        if not len(which) and not always:
            return
        rows = self.survey.rows
        first = int(which[0]) if len(which) else 0
        row = int(rows[first]) if len(rows) else first + 1
        place = ", ".join(f"{value:.2f}" for value in self.survey.points[first])
        number = f"{len(which):,} points".replace(",", "\u00a0") if len(which) != 1 else "1 point"
        self.doubts.append(
            Doubt(
                kind,
                which,
                Finding(
                    says.format(n=number, row=row, place=place),
                    row - 1 if len(which) else -1,
                    kind,
                    wrong,
                    code=kind,
                ),
            )
        )


def _odd_zeros(levels: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Levels of exactly 0 where the others lie well away from it."""
    others = levels[levels != 0]
    if len(others) < 3:
        return np.zeros(len(levels), bool)
    low, high = np.percentile(others, [1, 99])
    apart = max(high - low, 1.0)
    return np.asarray((levels == 0) & ((low > apart) | (high < -apart)))


def _duplicates(points: Floats, known: Whole, told: _Telling) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which points are the first at their place; what repeats one is told, apart where its level differs."""
    cells = np.round(points[known, :2] / _SAME_PLACE)
    order = np.lexsort((known, cells[:, 1], cells[:, 0]))
    ordered = cells[order]
    again = np.concatenate([[False], (ordered[1:] == ordered[:-1]).all(axis=1)])
    first = known[order][np.maximum.accumulate(np.where(again, 0, np.arange(len(order))))]
    repeated = known[order][again]
    differs = np.abs(points[repeated, 2] - points[first[again], 2]) > _SAME_LEVEL
    told(
        "duplicate",
        np.sort(repeated[~differs]),
        "At the place and level of one before: {n}, left out, the first in row {row}.",
    )
    says = "At the place of one before but at another level: {n}, left out, the first in row {row} ({place})."
    told("conflict", np.sort(repeated[differs]), says, wrong=True)
    usable = np.ones(len(points), bool)
    usable[repeated] = False
    return usable


def _spikes(points: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Levels that stand off the plane through their neighbours many times farther than the ground there is
    rough."""
    found = np.zeros(len(points), bool)
    number = min(_NEIGHBOURS, len(points) - 1)
    if number < 4:
        return found
    tree = cKDTree(points[:, :2])
    off = np.zeros(len(points))
    for some in np.array_split(np.arange(len(points)), len(points) // _AT_ONCE + 1):
        off[some] = _off_plane(points, tree, some, number, 1)[0]
    usual = np.median(np.abs(off))
    doubtful = np.flatnonzero(np.abs(off) > max(_LEAST_SPIKE, 2 * usual))
    for some in np.array_split(doubtful, len(doubtful) // _AT_ONCE + 1):
        off[some], rough = _off_plane(points, tree, some, number, 4)
        found[some] = np.abs(off[some]) > np.maximum(_SPIKE * np.maximum(rough, usual) * 1.4826, _LEAST_SPIKE)
    # Along a crest or a foot some neighbours stand off as the point does, to the same side: then it is no
    # spike.
    standing = np.flatnonzero(found)
    around = min(2 * number, len(points) - 1)
    _, near = tree.query(points[standing, :2], around + 1)
    beside = near[:, 1:].reshape(len(standing), around)
    alike = found[beside] & (off[beside] / off[standing, None] > 1 / _CREST)
    found[standing[alike.sum(axis=1) > 1]] = False
    return found


def _off_plane(points: Floats, tree: cKDTree, some: Whole, number: int, rounds: int) -> tuple[Floats, Floats]:
    """How far some points are above the plane through their neighbours, and how far off the neighbours
    themselves are (their median).

    The plane is fitted by least squares, reweighted in more rounds towards least absolute residuals, so that
    a spike among the neighbours of a good point doesn't make that one look bad."""
    _, near = tree.query(points[some, :2], number + 1, workers=-1)
    away = points[near[:, 1:]] - points[some, None]
    size = np.sqrt((away[:, :, :2] ** 2).sum(axis=2).mean(axis=1))
    design = np.concatenate([np.ones((*away.shape[:2], 1)), away[:, :, :2] / size[:, None, None]], axis=2)
    heights, weights = away[:, :, 2], np.ones(away.shape[:2])
    ridge = np.diag([0.0, 1e-6, 1e-6])  # neighbours on one line leave the slope across it open
    plane, residuals = np.zeros((len(some), 3)), np.zeros(away.shape[:2])
    for _ in range(rounds):
        weighted = design * weights[:, :, None]
        normal = weighted.transpose(0, 2, 1) @ design + ridge
        plane = np.linalg.solve(normal, weighted.transpose(0, 2, 1) @ heights[:, :, None])[:, :, 0]
        residuals = np.abs(heights - np.einsum("nki,ni->nk", design, plane))
        weights = 1 / np.maximum(residuals, 1e-3)
    return -plane[:, 0], np.median(residuals, axis=1)


def _against_ring(points: Floats, kept: Whole, ring: Line, told: _Telling) -> None:
    region = ring_region(ring, "boundary")
    plan = points[kept, :2]
    inside = _inside(region, plan)
    if inside.mean() < 0.5:
        if _inside(region, plan[:, ::-1]).mean() > max(0.5, inside.mean()):
            says = "East and north look swapped: the levels lie in the boundary the other way round."
            told("swapped", kept[:0], says, wrong=True, always=True)
            return
        bounds = np.array(region.bounds)
        extent, wanted = np.ptp(plan, axis=0).max(), np.ptp(bounds.reshape(2, 2), axis=0).max()
        for unit, factor in _UNITS:
            if _inside(region, plan * factor).mean() > 0.5 and extent * factor > wanted / 3:
                says = (
                    f"The levels lie in the boundary when their coordinates are read as {unit}; "
                    f"they look to be in {unit}, not m."
                )
                told("units", kept[:0], says, wrong=True, always=True)
                return
        if (plan.max(axis=0) < bounds[:2]).any() or (plan.min(axis=0) > bounds[2:]).any():
            says = "Outside the boundary: all, {n}. Check that both have the same coordinates."
            told("outside", kept, says, wrong=True)
            return
    told(
        "outside",
        kept[~inside],
        "Outside the boundary, where the surface ends: {n}, the first in row {row} ({place}).",
    )


def _inside(region: object, plan: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    shapely.prepare(region)
    return np.asarray(shapely.intersects_xy(region, plan[:, 0], plan[:, 1]))


def _measures(points: Floats, told: _Telling) -> None:
    """Columns that can't be what they are taken for."""
    if len(points) < 4:
        return
    none = np.zeros(0, np.int64)
    east, north, level = np.diff(np.percentile(points, [1, 99], axis=0), axis=0)[
        0
    ]  # a spike says nothing about its column
    some = points[:: len(points) // _SAMPLE + 1]
    distance, near = cKDTree(points[:, :2]).query(some[:, :2], 2)
    with np.errstate(divide="ignore", invalid="ignore"):
        steep = np.median(np.abs(points[near[:, 1], 2] - some[:, 2]) / distance[:, 1])
    if level > max(east, north) or (level > min(east, north) and steep > _STEEP):
        says = (
            f"Levels vary by {level:,.1f} m over {east:,.1f} × {north:,.1f} m in plan: columns look "
            "swapped, or the levels are in another unit."
        )
        told("swapped", none, says, wrong=True, always=True)
    elif steep > _STEEP or np.abs(np.median(points[:, 2])) > _HIGHEST:
        says = (
            f"Levels about {np.median(points[:, 2]):,.0f} m that rise {steep:.1f} m per m from point "
            "to point look to be in mm or feet, not m."
        )
        told("units", none, says, wrong=True, always=True)


def unit_factor(unit: str) -> float:
    """How many m a unit of levels or coordinates is.

    Raises:
        BadEntry: it isn't one that is known.
    """
    known = {"m": 1.0, "ft": 0.3048, "in": 0.0254, "us-ft": 1200 / 3937, **dict(_UNITS)}
    if unit not in known:
        raise BadEntry(
            f"“{unit}” is not a unit of levels.", field="unit", remedy=f"Use one of {', '.join(known)}."
        )
    return known[unit]


def joined_surveys(surveys: Sequence[Survey]) -> Survey:
    """Surveys as one, in order."""
    return Survey(
        np.concatenate([survey.points for survey in surveys]),
        tuple(code for survey in surveys for code in (survey.codes or ("",) * len(survey.points))),
        np.concatenate(
            [survey.rows if len(survey.rows) else np.arange(1, len(survey.points) + 1) for survey in surveys]
        ),
        tuple(line for survey in surveys for line in survey.lines),
    )


def _ring(line: SurveyLine) -> list[list[float]]:
    corners = line.corners if np.isfinite(line.corners[:, 2]).all() else line.corners[:, :2]
    found: list[list[float]] = corners.tolist()
    return found
