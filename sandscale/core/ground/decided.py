"""What was decided about levels that look wrong, and the levels as they are used after it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from ..findings import Finding
from ..refusals import BadShape
from .pieces import Floats, Whole, edges_of
from .surface import Line, Surface, of_triangles, ring_region, surface
from .survey import Kind, Survey, SurveyLine, check

Does = Literal["keep", "leave out", "put right"]
DOES: tuple[Does, ...] = get_args(Does)
# Until these are decided a volume may be wrong; the others are told, and left as they are found.
TO_DECIDE: tuple[Kind, ...] = ("missing", "zero", "conflict", "spike", "swapped", "units")
CALLED: dict[Kind, str] = {
    "missing": "No level",
    "zero": "Level of 0",
    "duplicate": "Repeated",
    "conflict": "Two levels at one place",
    "spike": "Out of line",
    "outside": "Outside the boundary",
    "swapped": "Columns swapped",
    "units": "Another unit",
}
_SAME_PLACE = 1e-3  # m


@dataclass(frozen=True)
class Decision:
    """What was decided about levels in doubt.

    Attributes:
        kind: of the doubt; empty for a level that was put right without one.
        at: the level's place in the survey; all of the kind where it is None.
        does: what becomes of them.
        level: what one was put right to, in m.
    """

    kind: str
    at: int | None
    does: Does
    level: float = float("nan")


@dataclass(frozen=True)
class Doubted:
    """A doubt, with what is still open of it.

    Attributes:
        kind: of it.
        which: the levels in doubt, by their place in the survey; empty where it is about all.
        undecided: those nobody has decided about; of a doubt about all, one place (0) until it is decided.
        says: the doubt in words.
    """

    kind: Kind
    which: Whole
    undecided: Whole
    says: str


@dataclass(frozen=True)
class Looked:
    """A survey looked through, with what was decided.

    Attributes:
        survey: its levels, those put right at what they were put to.
        usable: n, whether a level goes into a surface.
        doubts: by kind.
        told: what was decided, in words.
    """

    survey: Survey
    usable: NDArray[np.bool_]
    doubts: tuple[Doubted, ...]
    told: tuple[str, ...]

    @property
    def undecided(self) -> int:
        """How many doubts nobody has decided about."""
        return sum(len(doubt.undecided) for doubt in self.doubts)

    @property
    def used(self) -> Survey:
        """The levels that go into a surface, with all lines."""
        return replace(
            self.survey,
            points=self.survey.points[self.usable],
            codes=tuple(code for code, kept in zip(self.survey.codes, self.usable, strict=True) if kept)
            if self.survey.codes
            else (),
            rows=self.survey.rows[self.usable] if len(self.survey.rows) else self.survey.rows,
        )


def looked_through(
    survey: Survey, decisions: Sequence[Decision] = (), boundary: Line | None = None
) -> Looked:
    """Look through a survey, and keep to what was decided about its levels.

    Args:
        survey: the levels as they came, in m.
        decisions: about single levels, and about kinds; the former go before the latter.
        boundary: see :func:`.survey.check`.
    """
    points = survey.points.copy()
    single = {d.at: d for d in decisions if d.at is not None and 0 <= d.at < len(points)}
    by_kind = {d.kind: d for d in decisions if d.at is None}
    for at, decision in single.items():
        if decision.does == "put right":
            points[at, 2] = decision.level
    now = replace(survey, points=points)
    checked = check(now, boundary)
    usable, doubts = checked.usable.copy(), list[Doubted]()
    for doubt in checked.doubts:
        general = by_kind.get(doubt.kind)
        if not len(doubt.which):
            undecided = np.zeros(0 if general else 1, np.int64)
        else:
            decided = np.array([general is not None or int(at) in single for at in doubt.which])
            undecided = doubt.which[~decided]
            for at in doubt.which.tolist():
                own = single.get(at, general)
                if own is not None:
                    _act(usable, points, at, own, doubt.kind)
        if doubt.kind not in TO_DECIDE:
            undecided = undecided[:0]
        doubts.append(Doubted(doubt.kind, doubt.which, undecided, doubt.finding.says))
    for at, decision in single.items():
        if decision.does == "leave out":
            usable[at] = False
    return Looked(now, usable, tuple(doubts), _told(decisions, doubts))


def _act(usable: NDArray[np.bool_], points: Floats, at: int, decision: Decision, kind: Kind) -> None:
    if decision.does == "leave out" or not np.isfinite(points[at]).all():
        usable[at] = False
    elif decision.does == "keep" and kind == "conflict" and decision.at is not None:
        # Of two levels at one place the one that was kept counts.
        same = np.abs(points[:, :2] - points[at, :2]).max(axis=1) <= _SAME_PLACE
        usable[same] = False
        usable[at] = True


def _told(decisions: Sequence[Decision], doubts: Sequence[Doubted]) -> tuple[str, ...]:
    """What was decided, in words: by kind, how many in each way."""
    said = []
    numbers = {doubt.kind: doubt for doubt in doubts}
    for kind in dict.fromkeys(d.kind for d in decisions):
        mine = [d for d in decisions if d.kind == kind]
        ways = []
        for does in DOES:
            number = sum(d.does == does for d in mine if d.at is not None)
            whole = next((d for d in mine if d.at is None and d.does == does), None)
            if number:
                ways.append(f"{number} {_DONE[does]}")
            if whole is not None:
                doubt = numbers.get(whole.kind)  # type: ignore[call-overload]
                single = {d.at for d in mine if d.at is not None}
                count = sum(int(at) not in single for at in doubt.which) if doubt is not None else 0
                ways.append(
                    f"all {count} {'others ' if single else ''}{_DONE[does]}" if count else _DONE[does]
                )
        said.append(f"{CALLED.get(kind, 'Levels typed over')}: {', '.join(ways)}.")  # type: ignore[call-overload]
    return tuple(said)


_DONE: dict[Does, str] = {"keep": "kept", "leave out": "left out", "put right": "put right"}


@dataclass(frozen=True)
class Taken:
    """A survey with the triangles it came with.

    Attributes:
        survey: its levels and lines.
        triangles: m × 3, between its levels; none where it came as levels.
    """

    survey: Survey
    triangles: Whole


def surface_of(parts: Sequence[tuple[Looked, Whole]], lines: Sequence[SurveyLine] = ()) -> Surface:
    """The surface through the usable levels of surveys, with their lines and some drawn for it.

    A survey that came as triangles keeps them: alone as they are, among others as breaklines.

    Args:
        parts: each survey with its triangles.
        lines: breaklines, boundaries and holes beside those of the surveys.

    Raises:
        BadShape: too few levels, or a ring that crosses itself or holds none of them.
    """
    if not parts:
        raise BadShape("No survey is chosen for this surface.", field="surveys", remedy="Choose one.")
    every = [*(line for looked, _ in parts for line in looked.survey.lines), *lines]
    # A boundary drawn for the surface goes before those that came with levels.
    rings = {kind: [line.corners for line in every if line.kind == kind] for kind in ("boundary", "hole")}
    findings = _lines_left_out(every, rings["boundary"])
    chains = [
        line.corners.tolist()
        for line in every
        if line.kind in ("breakline", "contour") and np.isfinite(line.corners).all()
    ]
    boundary = _ring(rings["boundary"][-1]) if rings["boundary"] else None
    holes = [_ring(ring) for ring in rings["hole"]]
    if len(parts) == 1 and len(parts[0][1]) and not chains:
        made = _as_it_came(*parts[0], boundary, holes)
    else:
        points = np.concatenate([looked.survey.points[looked.usable] for looked, _ in parts])
        chains += [edge for looked, triangles in parts for edge in _sides(looked, triangles)]
        made = surface(points, chains, boundary, holes)
        findings += _told_twice([looked for looked, _ in parts])
    return replace(made, findings=(*findings, *made.findings))


def _ring(corners: Floats) -> list[list[float]]:
    found: list[list[float]] = (corners if np.isfinite(corners[:, 2]).all() else corners[:, :2]).tolist()
    return found


def _as_it_came(looked: Looked, triangles: Whole, boundary: Line | None, holes: Sequence[Line]) -> Surface:
    kept = triangles[looked.usable[triangles].all(axis=1)]
    made = of_triangles(looked.survey.points, kept)
    if boundary is None and not holes:
        return made
    outer = ring_region(boundary, "boundary") if boundary is not None else made.outline
    for hole in holes:
        outer = outer - ring_region(hole, "hole")
    return made.bounded(outer)


def _sides(looked: Looked, triangles: Whole) -> list[list[list[float]]]:
    if not len(triangles):
        return []
    kept = triangles[looked.usable[triangles].all(axis=1)]
    pairs = np.unique(edges_of(kept), axis=0)
    found: list[list[list[float]]] = looked.survey.points[pairs].tolist()
    return found


def _lines_left_out(lines: Sequence[SurveyLine], boundaries: Sequence[Floats]) -> list[Finding]:
    found = list[Finding]()
    unknown = sum(
        line.kind in ("breakline", "contour") and not np.isfinite(line.corners).all() for line in lines
    )
    if unknown:
        says = f"Breaklines with a corner that has no level: {unknown}, left out."
        found.append(Finding(says, field="breaklines", wrong=True, code="no-level"))
    if len(boundaries) > 1:
        says = f"Boundaries: {len(boundaries)}. The last is taken."
        found.append(Finding(says, field="boundary", wrong=True, code="boundaries"))
    return found


def _told_twice(parts: Sequence[Looked]) -> list[Finding]:
    """Levels of one survey that lie where another has one at another level: the earlier survey's counts."""
    if len(parts) < 2:
        return []
    points = np.concatenate([looked.survey.points[looked.usable] for looked in parts])
    of = np.repeat(np.arange(len(parts)), [int(looked.usable.sum()) for looked in parts])
    cells = np.round(points[:, :2] / _SAME_PLACE)
    order = np.lexsort((of, cells[:, 1], cells[:, 0]))
    again = np.concatenate([[False], (np.diff(cells[order], axis=0) == 0).all(axis=1)])
    off = np.abs(np.diff(points[order, 2], prepend=points[order[0], 2])) > _SAME_PLACE
    number = int((again & off).sum())
    if not number:
        return []
    says = f"Where two surveys have a level at one place, {number} differ; the earlier survey's counts."
    return [Finding(says, field="surveys", wrong=True, code="surveys-differ")]
