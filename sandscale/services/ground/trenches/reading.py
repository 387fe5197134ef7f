"""What is read of trenches: kinds and how they look, networks, long sections, sections across."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from ....core.ground.trench.document import LENGTHS, PART_LENGTHS, KindDocument, kind_of
from ....core.ground.trench.drawn import shapes_of
from ....core.ground.trench.kind import DUG, TrenchKind
from ....core.ground.trench.network import Network
from ....core.ground.trench.run import RunQuantities
from ....core.measurers.trench import slug
from ....core.numbers.entry import as_typed, read_entry
from ....core.refusals import BadEntry, Refusal
from ....store.models import (
    Item,
    ItemLink,
    QuantityLine,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
)
from ....store.models import TrenchKind as KindRow
from ...keeping.acting import Actor, Missing, find
from ..reading.overview import network_briefs
from ..surfaces import surface_now
from .actions import NODE_LENGTHS, kind_kept, network_of
from .entered import Entered, node_of
from .views import (
    KindDrawn,
    KindView,
    LineOut,
    LongNode,
    LongRun,
    LongView,
    NamedLine,
    NetworkView,
    NodeView,
    RunView,
    SectionShape,
    TrenchSectionView,
)

EVERY = 10.0  # m between sections looked at
MOST_SHOWN = 400  # sections of a run
SHOWN_DEPTH = 1.8  # m: how deep a kind is drawn that isn't deeper by itself


def kind_view(actor: Actor, kind_id: int) -> KindView:
    """A kind of trench as it is typed here."""
    row = find(KindRow, actor, kind_id)
    return KindView(
        id=row.id, version=row.version, name=row.name, document=_typed(row.document),
        shelf=row.shelf, shelf_number=row.shelf_number, runs=row.runs.count(),
    )  # fmt: skip


def _typed(document: Mapping[str, Any]) -> dict[str, Any]:
    """A document's entries in the units of the project."""
    made = {**document}
    for name in LENGTHS:
        made[name] = as_typed(made[name], "m")
    for part, names in PART_LENGTHS.items():
        made[part] = [{**each, **{n: as_typed(each[n], "m") for n in names}} for each in made.get(part, ())]
    return made


def kind_drawn(_actor: Actor, given: Mapping[str, Any], depth: float) -> KindDrawn:
    """How a kind looks while it is typed; nothing is kept. One that can't be says why.

    Args:
        depth: at which it is drawn, in m; as deep as its layers need where 0.
    """
    try:
        kind = kind_of(KindDocument(**kind_kept(given)))
    except Refusal as refusal:
        return KindDrawn(says=str(refusal), field=refusal.field, depth=0, bottom=0, shapes=[], pipe=[])
    least = max([*kind.tops, kind.bed + (kind.pipe.outside if kind.pipe else 0.0)]) + kind.restored + 0.3
    deep = min(depth, 50.0) if depth > 0 else max(least, SHOWN_DEPTH)
    bottom = kind.bottom(deep)
    return KindDrawn(
        says="",
        field="",
        depth=deep,
        bottom=bottom,
        shapes=_shapes(kind, bottom, deep, 0.0),
        pipe=_pipe(kind, 0.0),
    )


def _shapes(kind: TrenchKind, bottom: float, depth: float, floor: float) -> list[SectionShape]:
    return [
        SectionShape(
            key=slug(each.name), name=each.name, area=each.area,
            rings=[np.round(ring, 4).tolist() for ring in each.rings],
        )
        for each in shapes_of(kind, bottom, depth, floor)
    ]  # fmt: skip


def _pipe(kind: TrenchKind, floor: float) -> list[float]:
    if kind.pipe is None:
        return []
    outside = kind.pipe.outside / 2
    return [floor + kind.bed + outside, outside, kind.pipe.bore / 2]


def network_view(actor: Actor, element_id: int) -> NetworkView:
    """A network with its nodes and runs, and what it comes to as far as it can be reckoned."""
    row = network_of(actor, element_id)
    element, entered = row.element, Entered(row)
    net = _net(entered)
    by_row = _by_row(entered, net)
    says: dict[int, list[str]] = {}
    for each in net.findings if net is not None else ():
        says.setdefault(each.line, []).append(each.says)
    told = {sentence for sentences in says.values() for sentence in sentences}
    general = [sentence for _, sentence, *_ in element.findings if sentence not in told]
    quantities = QuantityLine.those(QuantityLine.element, [element_id], QuantityLine.position)
    linked = ItemLink.select(ItemLink.id).join(Item).where(ItemLink.element == element_id).exists()
    nodes = _nodes(row, entered)
    places = np.array([[n.x, n.y] for n in nodes if n.x is not None and n.y is not None])
    return NetworkView(
        **network_briefs([element])[0].model_dump(), network=row.id, network_version=row.version,
        ground=row.ground_id, bulking=row.bulking, compacted=row.compacted, lorry=as_typed(row.lorry, "m³"),
        bands="; ".join(as_typed(each.strip(), "m") for each in row.bands.split(";")),
        nodes=nodes,
        runs=[_run(each, by_row.get(at), says.get(at, [])) for at, each in enumerate(entered.runs)],
        lines=[
            LineOut(output=q.output, label=q.label, net=q.net, gross=q.gross, unit=q.unit) for q in quantities
        ],
        ways=ways_of(entered.runs), says=[*says.get(-1, []), *general],
        made=entered.print[:16], billed=linked,
        bounds=[*places.min(axis=0), *places.max(axis=0)] if len(places) else [],
    )  # fmt: skip


def _net(entered: Entered) -> Network | None:
    try:
        return entered.made()[0]
    except Refusal:
        return None


def _by_row(entered: Entered, net: Network | None) -> dict[int, RunQuantities]:
    """What runs come to, by the places of their rows."""
    return dict(zip(entered.places_in(net), net.runs, strict=True)) if net is not None else {}


def _run(row: TrenchRun, made: RunQuantities | None, says: list[str]) -> RunView:
    pipe = made.run.kind.pipe if made is not None else None
    return RunView(
        id=row.id, version=row.version, begins=row.begins, ends=row.ends,
        invert_begins=as_typed(row.invert_begins, "m"), invert_ends=as_typed(row.invert_ends, "m"),
        kind=row.kind_id, stage=row.stage, ground=row.ground,
        length=made.length if made else None, fall=made.fall if made and pipe else None,
        least=float(made.depths.min()) if made else None, deepest=float(made.depths.max()) if made else None,
        cover=float(made.depths.min()) - made.run.kind.bed - pipe.outside if made and pipe else None,
        dug=made.volumes[DUG] if made else None, says=says,
    )  # fmt: skip


def _nodes(row: TrenchNetwork, entered: Entered) -> list[NodeView]:
    ground = None
    if row.ground_id is not None:
        try:
            ground = surface_now(row.ground_id)
        except Refusal:
            ground = None
    read = [node_of(each) for each in entered.nodes]
    places = np.array([[node.x, node.y] for node in read]).reshape(-1, 2)
    levels = ground.levels_at(places) if ground is not None and len(places) else np.full(len(places), np.nan)
    inverts: dict[str, float] = {}
    for run in entered.runs:
        for name, text in ((run.begins, run.invert_begins), (run.ends, run.invert_ends)):
            if text.strip():
                inverts[name] = min(inverts.get(name, math.inf), read_entry(text, "m"))
    return [
        _node(each, node.x, node.y, node.ground if node.ground is not None else float(level), inverts)
        for each, node, level in zip(entered.nodes, read, levels, strict=True)
    ]


def _node(row: TrenchNode, x: float, y: float, level: float, inverts: Mapping[str, float]) -> NodeView:
    typed = {name: as_typed(getattr(row, name), "m") for name in NODE_LENGTHS}
    return NodeView(
        id=row.id, version=row.version, name=row.name, manhole=row.manhole, **typed,
        x=_or_none(x), y=_or_none(y), level=_or_none(level), invert=inverts.get(row.name),
    )  # fmt: skip


def _or_none(value: float) -> float | None:
    return value if math.isfinite(value) else None


def ways_of(runs: Sequence[TrenchRun]) -> list[list[int]]:
    """Runs that follow one another, each once: a way goes on where the next run begins where one ends."""
    left = {run.id: run for run in runs}
    ends = {run.ends for run in runs}
    found = list[list[int]]()
    # A way begins where no run ends; what is left goes round.
    for first in [*(run for run in runs if run.begins not in ends), *runs]:
        if first.id not in left:
            continue
        way, here = [left.pop(first.id)], first
        while (after := next((run for run in left.values() if run.begins == here.ends), None)) is not None:
            way.append(left.pop(after.id))
            here = after
        found.append([run.id for run in way])
    return found


def long_view(actor: Actor, element_id: int, run_id: int) -> LongView:
    """The long section of the way a run is on.

    Raises:
        BadEntry: none of its runs can be reckoned.
    """
    row = network_of(actor, element_id)
    entered = Entered(row)
    by_row = _by_row(entered, _net(entered))
    rows = {run.id: at for at, run in enumerate(entered.runs)}
    way = next((way for way in ways_of(entered.runs) if run_id in way), None)
    if way is None:
        raise Missing("There is no such run.")
    lines: dict[str, list[list[float]]] = {"ground": [], "bottom": [], "invert": [], "crown": []}
    runs, nodes, begins = list[LongRun](), list[LongNode](), 0.0
    levels = {node.name: node.level for node in _nodes(row, entered)}
    manholes = {node.name for node in entered.nodes if node.manhole.strip()}

    def node(name: str, chainage: float) -> LongNode:
        ground, manhole = levels.get(name), name in manholes
        return LongNode(name=name, chainage=chainage, ground=ground, inverts=[], manhole=manhole)

    for each in way:
        made = by_row.get(rows[each])
        if made is None:
            continue
        ends = begins + _whole(made, entered)
        shift = begins
        for key, places in made.long_section.items():
            lines[key] += [[shift + float(at), float(level)] for at, level in places]
        start, end = made.run.start, made.run.end
        if not nodes or nodes[-1].name != start:
            nodes.append(node(start, begins))
        nodes[-1].inverts.append(made.run.start_invert)
        nodes.append(node(end, ends))
        nodes[-1].inverts.append(made.run.end_invert)
        runs.append(
            LongRun(
                id=each, name=made.run.name, kind=made.run.kind.name, begins=begins, ends=ends, fall=made.fall
            )
        )
        begins = ends
    if not runs:
        raise BadEntry("None of these runs can be reckoned yet.", field="runs")
    return LongView(
        lines=[NamedLine(key=key, places=places) for key, places in lines.items() if places], nodes=nodes,
        runs=runs, length=begins,
    )  # fmt: skip


def _whole(made: RunQuantities, entered: Entered) -> float:
    """From node to node, in m."""
    nodes = {
        node.name: node_of(node) for node in entered.nodes if node.name in (made.run.start, made.run.end)
    }
    start, end = nodes[made.run.start], nodes[made.run.end]
    return math.dist((start.x, start.y), (end.x, end.y))


def section_view(actor: Actor, element_id: int, run_id: int, at: int) -> TrenchSectionView:
    """A section across a run: at its ends, where its depth changes its law, and every so many metres.

    Raises:
        Missing: there is no such run, or it can't be reckoned.
    """
    row = network_of(actor, element_id)
    entered = Entered(row)
    place = next((n for n, run in enumerate(entered.runs) if run.id == run_id), None)
    made = _by_row(entered, _net(entered)).get(place if place is not None else -1)
    if made is None:
        raise Missing("This run can't be reckoned yet.")
    stations = _stations(made)
    here = min(max(at, 0), len(stations) - 1)
    chainage = stations[here]
    depth = float(np.interp(chainage, made.chainages, made.depths))
    ground = float(np.interp(chainage, made.chainages, made.ground))
    kind = made.run.kind
    return TrenchSectionView(
        run=run_id, name=made.run.name, chainage=chainage, stations=stations, at=here, ground=ground,
        depth=depth, bottom=made.bottom, shapes=_shapes(kind, made.bottom, depth, ground - depth),
        pipe=_pipe(kind, ground - depth),
    )  # fmt: skip


def _stations(made: RunQuantities) -> list[float]:
    first, last = float(made.chainages[0]), float(made.chainages[-1])
    every = max(EVERY, (last - first) / (MOST_SHOWN / 2))
    grid = np.arange(math.ceil(first / every), math.floor(last / every) + 1) * every
    found = np.unique(np.round(np.concatenate([made.chainages[:MOST_SHOWN], grid, [first, last]]), 3))
    kept = [float(found[0])]
    for before, each in pairwise(found):
        if each - before > 1e-3:
            kept.append(float(each))
    return [min(max(each, first), last) for each in kept]
