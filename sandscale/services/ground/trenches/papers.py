"""What papers tell of a network of trenches."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from ....core.ground.haulage import Soil
from ....core.ground.pieces import Floats
from ....core.ground.trench.drawn import shapes_of
from ....core.ground.trench.network import Network
from ....core.ground.trench.run import RunQuantities
from ....core.measurers.trench import lines_of
from ....core.measurers.trench_along import GIVEN, SpanRow, spans_of
from ....core.numbers.systems import METRIC
from ....core.refusals import Refusal
from ....reports import trench_xlsx
from ....reports.measured import sized, unit
from ....reports.works import (
    Across,
    Along,
    ChainageTable,
    Chosen,
    LineKind,
    PlanLine,
    TableColumn,
    WorkDocument,
    at_chainage,
)
from ....store.models import Project
from ...keeping.acting import Actor
from ...keeping.jobs import Progress
from ..told import lines_told
from .actions import network_of
from .entered import Entered, node_of
from .reading import EVERY, long_view, ways_of

MOST_SECTIONS = 1_500
_ACROSS = {"m³": "m²", "m²": "m", "m": ""}
_LINES: dict[str, LineKind] = {
    "ground": "ground", "bottom": "bottom", "invert": "invert", "crown": "crown"
}  # fmt: skip
Spans = Mapping[str, tuple[str, Sequence[SpanRow]]]


def document_of(actor: Actor, element_id: int, chosen: Chosen, progress: Progress) -> WorkDocument:
    """A network with what was chosen of it, as it is now.

    Raises:
        BadEntry: it can't be reckoned.
    """
    row = network_of(actor, element_id)
    entered, project = Entered(row), Project.get_by_id(actor.project_id)
    net, _ = entered.made()
    parts, findings = chosen.parts, [says for _, says, *_ in row.element.findings]
    across = list(_across(net, progress)) if "sections" in parts else []
    if len(across) == MOST_SECTIONS:
        findings = [*findings, f"Only the first {MOST_SECTIONS} sections are drawn."]
    return WorkDocument(
        project=project.name, client=project.client, title=title_of(actor, element_id),
        told=[("Entered", entered.note())], lines=lines_told(element_id),
        findings=findings if "findings" in parts else None,
        tables=list(tables_of(net, chosen)) if "tables" in parts else [],
        plan=list(_plan(net, entered)) if "plan" in parts else [],
        places=[(n.x, n.y, n.name) for n in map(node_of, entered.nodes) if math.isfinite(n.x + n.y)]
        if "plan" in parts
        else [],
        along=list(_along(actor, element_id, entered)) if "long" in parts else [], across=across,
        per_page=chosen.per_page,
    )  # fmt: skip


def title_of(actor: Actor, element_id: int) -> str:
    """What a network is called."""
    element = network_of(actor, element_id).element
    return f"Trenches {element.mark} {element.description}".strip()


def workbook(actor: Actor, element_id: int, chosen: Chosen) -> bytes:
    """A network as a workbook with live formulas, span by span."""
    entered = Entered(network_of(actor, element_id))
    net, _ = entered.made()
    told = [("Entered", entered.note())]
    spans = _spans(net, chosen)
    return trench_xlsx.write(title_of(actor, element_id), told, lines_told(element_id), spans)


def tables_of(net: Network, chosen: Chosen) -> Iterator[ChainageTable]:
    """Span by span, one for each quantity; or run by run, the quantities side by side."""
    spans = _spans(net, chosen)
    if chosen.together:
        return iter([_by_run(net, spans)])
    return (_of(label, *each) for label, each in spans.items())


def _spans(net: Network, chosen: Chosen) -> Spans:
    """By their labels those quantities that are told by chainage, each with its metric unit."""
    rows = spans_of(net)
    return {
        line.label: (line.unit, rows[line.output])
        for line in lines_of(net, Soil(), METRIC)
        if line.output in rows and chosen.named(line.label)
    }


def _of(label: str, metric: str, rows: Sequence[SpanRow]) -> ChainageTable:
    across, amounts = _ACROSS[metric], [row.amount for row in rows]
    begins, middles, ends = zip(*(row.sizes for row in rows), strict=True)
    told = [row.rule != GIVEN for row in rows]
    columns = [
        TableColumn("Run or pit", "", [row.where for row in rows]),
        *(
            TableColumn(head, "m", [end if t else None for end, t in zip(own, told, strict=True)])
            for head, own in (("from", [row.begin for row in rows]), ("to", [row.end for row in rows]))
            if any(told)
        ),
        *(
            TableColumn(head, across, sizes, 3)
            for head, sizes in (("at from", begins), ("middle", middles), ("at to", ends))
            if any(size is not None for size in sizes)
        ),
        TableColumn("between", metric, amounts, 2, sum(amounts)),
        TableColumn("up to here", metric, np.cumsum(amounts).tolist()),
    ]
    return ChainageTable(f"{label}, {unit(metric)}", columns, held=3 if any(told) else 1)


def _by_run(net: Network, spans: Spans) -> ChainageTable:
    wheres = [run.run.name for run in net.runs]
    wheres += [pit.node.name for pit in net.pits if pit.node.name not in wheres]
    kinds = {run.run.name: run.run.kind.name for run in net.runs}
    columns = [
        TableColumn("Run or pit", "", wheres), TableColumn("Kind", "", [kinds.get(w, "") for w in wheres])
    ]  # fmt: skip
    for label, (metric, rows) in spans.items():
        sums = dict[str, float]()
        for row in rows:
            sums[row.where] = sums.get(row.where, 0.0) + row.amount
        columns.append(TableColumn(label, metric, [sums.get(w) for w in wheres], 2, sum(sums.values())))
    return ChainageTable("Quantities by run", columns, held=1)


def _plan(net: Network, entered: Entered) -> Iterator[PlanLine]:
    places = {node.name: (node.x, node.y) for node in map(node_of, entered.nodes)}
    for run in net.runs:
        yield PlanLine("trench", np.array([places[run.run.start], places[run.run.end]]))


def _along(actor: Actor, element_id: int, entered: Entered) -> Iterator[Along]:
    for way in ways_of(entered.runs):
        try:
            seen = long_view(actor, element_id, way[0])
        except Refusal:
            continue
        lines = [(_LINES[line.key], np.array(line.places, dtype=float)) for line in seen.lines]
        ends = f"{seen.nodes[0].name} to {seen.nodes[-1].name}"
        marks = [(node.chainage, node.name) for node in seen.nodes]
        yield Along(f"Long section {ends}", lines, marks)


def _across(net: Network, progress: Progress) -> Iterator[Across]:
    number = 0
    for at, run in enumerate(net.runs):
        progress(at / len(net.runs))
        for chainage in _stations(run):
            if number == MOST_SECTIONS:
                return
            number += 1
            yield _section(run, chainage)


def _stations(run: RunQuantities) -> list[float]:
    """At its ends and every so many metres between."""
    first, last = float(run.chainages[0]), float(run.chainages[-1])
    between = np.arange(math.floor(first / EVERY) + 1, math.ceil(last / EVERY)) * EVERY
    return [first, *between.tolist(), last]


def _section(run: RunQuantities, chainage: float) -> Across:
    depth = float(np.interp(chainage, run.chainages, run.depths))
    ground = float(np.interp(chainage, run.chainages, run.ground))
    kind, floor = run.run.kind, ground - depth
    shapes = shapes_of(kind, run.bottom, depth, floor)
    half = max((float(np.abs(ring[:, 0]).max()) for s in shapes for ring in s.rings), default=0.5) * 1.3
    lines: list[tuple[LineKind, Floats]] = [("ground", np.array([[-half, ground], [half, ground]]))]
    if kind.pipe is not None:
        middle = np.array([0.0, floor + kind.bed + kind.pipe.outside / 2])
        turn = np.linspace(0, 2 * math.pi, 49)
        circle = np.stack([np.cos(turn), np.sin(turn)], axis=1)
        lines += [("invert", middle + circle * size / 2) for size in (kind.pipe.outside, kind.pipe.bore)]
    return Across(f"{run.run.name} {at_chainage(chainage)}", shapes, lines)


def table_of(actor: Actor, element_id: int, chosen: Chosen) -> ChainageTable:
    """Every span of every quantity in one table."""
    net, _ = Entered(network_of(actor, element_id)).made()
    every = [(label, metric, row) for label, (metric, rows) in _spans(net, chosen).items() for row in rows]
    sizes = [
        [None if (size := row.sizes[n]) is None else sized(size, _ACROSS[metric]) for _, metric, row in every]
        for n in range(3)
    ]
    columns = [
        TableColumn("Quantity", "", [label for label, _, _ in every]),
        TableColumn("Run or pit", "", [row.where for *_, row in every]),
        TableColumn("from", "m", [row.begin for *_, row in every]),
        TableColumn("to", "m", [row.end for *_, row in every]),
        *(
            TableColumn(head, "", own)
            for head, own in zip(("at from", "middle", "at to"), sizes, strict=True)
        ),
        TableColumn("between", "", [sized(row.amount, metric) for _, metric, row in every]),
        TableColumn("unit", "", [unit(metric) for _, metric, _ in every]),
    ]
    return ChainageTable("Trenches", columns, held=4)
