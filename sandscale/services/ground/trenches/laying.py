"""Runs laid along lines that are drawn on the plan or on a sheet, and at one fall."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from typing import Any

from ....core.numbers.entry import kept, read_entry
from ....core.refusals import BadEntry
from ....store.models import Figure, TrenchKind, TrenchNetwork, TrenchNode, TrenchRun
from ...keeping.acting import Actor, find
from ...keeping.recording import Recording, action, recording
from ...keeping.views import Saved
from ..on_sheets import on_ground
from .actions import after, network_of, next_name

_AT_NODE = 0.05  # m within which a corner drawn is of a node there is


@action
def draw_runs(
    actor: Actor, element_id: int, corners: Sequence[Sequence[float]], kind: int | None = None
) -> Saved:
    """Runs along a line drawn on the plan: a node at each corner where there is none yet, a run between.

    Raises:
        BadEntry: the line has one corner only.
    """
    row = network_of(actor, element_id)
    chosen = find(TrenchKind, actor, kind).id if kind is not None else None
    with recording(actor, f"{row.element.mark}: {max(len(corners) - 1, 0)} runs drawn") as log:
        _lay_runs(log, row, corners, chosen)
    return log.saved(row)


def lay_along(log: Recording, row: TrenchNetwork, figure: Figure) -> None:
    """Runs along a line drawn on a sheet, where that lies on the ground.

    Raises:
        BadEntry: it isn't known where the sheet lies, or the line has an arc.
    """
    _lay_runs(log, row, _corners_of(figure, figure.geometry), None)


def follow(log: Recording, row: TrenchNetwork, figure: Figure, geometry: Mapping[str, Any]) -> None:
    """Move the nodes at the corners of a line that was drawn on a sheet along with it; where it has got more
    corners or fewer, runs are laid where there are none yet.

    Args:
        geometry: of the line from now on.

    Raises:
        BadEntry: it has got an arc.
    """
    old, new = _corners_of(figure, figure.geometry), _corners_of(figure, geometry)
    if len(old) != len(new):
        return _lay_runs(log, row, new, None, anew=False)
    nodes = TrenchNode.those(TrenchNode.network, [row.id], TrenchNode.position, TrenchNode.id)
    moved = [(was, now) for was, now in zip(old, new, strict=True) if was != now]
    for node, place in [(_node_at(nodes, *was), now) for was, now in moved]:
        if node is not None:
            log.update(node, **_typed_place(*place))


def _corners_of(figure: Figure, geometry: Mapping[str, Any]) -> list[tuple[float, float]]:
    corners = geometry["corners"]
    if geometry.get("closed") or any(len(corner) > 2 and corner[2] for corner in corners):
        raise BadEntry(
            "A trench goes straight from corner to corner and is open.", field="points",
            remedy="Draw it without arcs.",
        )  # fmt: skip
    return [(float(east), float(north)) for east, north in on_ground(figure.sheet, corners)]


def _typed_place(east: float, north: float) -> dict[str, str]:
    return {"east": f"{east:.3f}", "north": f"{north:.3f}"}


def _lay_runs(
    log: Recording,
    row: TrenchNetwork,
    corners: Sequence[Sequence[float]],
    kind: int | None,
    *,
    anew: bool = True,
) -> None:
    """Nodes at corners where there are none yet, and runs between, of the kind of the last run.

    Args:
        kind: of the runs instead.
        anew: whether a run is laid where there is one already.
    """
    nodes = TrenchNode.those(TrenchNode.network, [row.id], TrenchNode.position, TrenchNode.id)
    runs = TrenchRun.those(TrenchRun.network, [row.id], TrenchRun.position, TrenchRun.id)
    if kind is None:
        kinds = TrenchKind.those(TrenchKind.project, [row.project_id], TrenchKind.position, TrenchKind.id)
        kind = runs[-1].kind_id if runs else kinds[0].id if kinds else None
    names = list[str]()
    for east, north in corners:
        there = _node_at(nodes, east, north)
        if there is None:
            place = _typed_place(east, north)
            there = log.insert(
                TrenchNode, network=row.id, position=after(nodes), name=next_name(nodes), **place
            )
            nodes.append(there)
        if not names or names[-1] != there.name:
            names.append(there.name)
    if len(names) < 2:
        raise BadEntry("A run goes from one place to another.", field="corners")
    known = set() if anew else {frozenset((run.begins, run.ends)) for run in runs}
    for begins, ends in itertools.pairwise(names):
        if frozenset((begins, ends)) not in known:
            run = log.insert(
                TrenchRun, network=row.id, position=after(runs), begins=begins, ends=ends, kind=kind
            )
            runs.append(run)


def _node_at(nodes: Sequence[TrenchNode], east: float, north: float) -> TrenchNode | None:
    for node in nodes:
        if node.east.strip() and node.north.strip():
            place = read_entry(node.east, "m"), read_entry(node.north, "m")
            if math.dist(place, (east, north)) <= _AT_NODE:
                return node
    return None


@action
def grade_runs(actor: Actor, element_id: int, run_ids: Sequence[int], first: str, last: str) -> Saved:
    """Lay runs that follow one another at one fall, from an invert at the beginning to one at the end.

    Raises:
        BadEntry: an invert can't be read, the runs don't follow one another, or a node has no place.
    """
    row = network_of(actor, element_id)
    runs = [find(TrenchRun, actor, each) for each in dict.fromkeys(run_ids)]
    nodes = {node.name: node for node in TrenchNode.those(TrenchNode.network, [row.id])}
    if any(run.network_id != row.id for run in runs):
        raise BadEntry(f"Not all of these runs are of {row.element.mark}.", field="runs")
    if not runs or any(a.ends != b.begins for a, b in itertools.pairwise(runs)):
        raise BadEntry("These runs don't follow one another.", field="runs")
    begin, end = (
        read_entry(kept(text, "m", field=field), "m", field=field)
        for text, field in ((first, "first"), (last, "last"))
    )
    places = [runs[0].begins, *(run.ends for run in runs)]
    at = [0.0]
    for a, b in itertools.pairwise(places):
        at.append(at[-1] + _apart(nodes.get(a), nodes.get(b)))
    levels = [begin + (end - begin) * each / at[-1] for each in at]
    with recording(actor, f"{row.element.mark}: {len(runs)} runs at one fall") as log:
        for run, (a, b) in zip(runs, itertools.pairwise(levels), strict=True):
            log.update(run, invert_begins=f"{a:.3f}", invert_ends=f"{b:.3f}")
    return log.saved(row)


def _apart(one: TrenchNode | None, other: TrenchNode | None) -> float:
    if one is None or other is None or not (one.east and one.north and other.east and other.north):
        raise BadEntry("A node of these runs has no place yet.", field="runs")
    ends = [(read_entry(node.east, "m"), read_entry(node.north, "m")) for node in (one, other)]
    return max(math.dist(*ends), 1e-9)
