"""What is read of routes: typical sections and how they look, routes, sections, tables, mass haul."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import numpy as np

from ....core.findings import Finding
from ....core.ground.drawn import ring_area
from ....core.ground.route.document import LENGTHS, PART_LENGTHS, TypicalDocument, typical_of
from ....core.ground.route.reckoned import EARTH, Reckoned
from ....core.ground.route.sections import Route
from ....core.ground.route.typical import finished_line, side_of
from ....core.numbers.entry import as_typed
from ....core.refusals import Refusal
from ....store.models import Element, Figure, Item, ItemLink, QuantityLine, QuantityPart, Sheet, Survey
from ....store.models import TypicalSection as TypicalRow
from ...keeping.acting import Actor, find
from ..reading.overview import route_briefs
from .actions import ROWS, Rows, route_of
from .entered import Entered, last_made
from .typicals import typical_kept
from .views import (
    GatheredView,
    PlanLine,
    RouteLine,
    RoutePlan,
    RouteRow,
    RouteShape,
    RouteView,
    RunChoice,
    SplitPart,
    TypicalDrawn,
    TypicalView,
)

MOST_DRAWN = 4_000  # places of a line on the plan


def typical_view(actor: Actor, typical_id: int) -> TypicalView:
    """A typical section as it is typed here."""
    row = find(TypicalRow, actor, typical_id)
    used = {change.route_id for change in row.changes}
    return TypicalView(
        id=row.id, version=row.version, name=row.name, document=_typed(row.document),
        shelf=row.shelf, shelf_number=row.shelf_number, used=len(used),
    )  # fmt: skip


def _typed(document: Mapping[str, Any]) -> dict[str, Any]:
    """A document's entries in the units of the project."""
    made = {**document}
    for name in LENGTHS:
        made[name] = as_typed(made[name], "m")
    for part, names in PART_LENGTHS.items():
        made[part] = [{**each, **{n: as_typed(each[n], "m") for n in names}} for each in made[part]]
    return made


def typical_drawn(_actor: Actor, given: Mapping[str, Any]) -> TypicalDrawn:
    """How a typical section looks while it is typed; nothing is kept. One that can't be says why."""
    try:
        typical = typical_of(TypicalDocument(**typical_kept(given)))
    except Refusal as refusal:
        return TypicalDrawn(says=str(refusal), field=refusal.field, shapes=[], finished=[], formation=[])
    sides = side_of(typical.left, typical.layers), side_of(typical.right, typical.layers)
    shapes = []
    for layer in typical.layers:
        rings = [
            [[mirror * x, z] for x, z in part]
            for side, mirror in zip(sides, (-1, 1), strict=True)
            for part in side.layers[layer.name]
        ]
        area = sum(ring_area(ring) for ring in rings)
        shapes.append(RouteShape(name=layer.name, rings=rings, area=area))
    formation = [[-x, z] for x, z in reversed(sides[0].formation)]
    return TypicalDrawn(
        says="", field="", shapes=shapes, finished=[[x, z] for x, z in finished_line(typical)],
        formation=formation + [[x, z] for x, z in sides[1].formation],
    )  # fmt: skip


def route_view(actor: Actor, element_id: int) -> RouteView:
    """A route with its tables, and what it last came to."""
    row = route_of(actor, element_id)
    element, entered = row.element, Entered(row)
    made = made_now(element_id)
    says = _row_sentences(entered, made.findings if made else ())
    told = {sentence for by_row in says.values() for sentence in by_row.values()}
    linked = ItemLink.select(ItemLink.id).join(Item).where(ItemLink.element == element_id).exists()
    line_names = dict.fromkeys(name for each in entered.imported for name in each.lines)
    tables = {part: _rows(ROWS[part], getattr(entered, part), says.get(part, {})) for part in ROWS}
    return RouteView(
        **route_briefs([element])[0].model_dump(), route=row.id, route_version=row.version,
        ground=row.ground_id, figure=row.figure_id, from_file=bool(row.line), rule=row.rule,
        curved=row.curved, bulking=row.bulking, compacted=row.compacted, from_top=row.from_top,
        lorry=as_typed(row.lorry, "m³"), begins=as_typed(row.begins, "m"),
        interval=as_typed(row.interval, "m"), free=as_typed(row.free, "m"),
        imported=len(entered.imported), line_names=list(line_names), **tables,
        gathered=[
            GatheredView(name=g.name, kind=g.kind, parts=list(g.parts), own=g.own)
            for g in (made.gathered if made else ())
        ],
        layers=[n for n in (made.quantities.names if made else ()) if n not in EARTH],
        chainages=made.quantities.chainages.round(4).tolist() if made else [],
        lines=_lines(element_id), says=[s for _, s, *_ in element.findings if s not in told],
        bounds=_bounds(entered), made=entered.print[:16], billed=linked,
        stretched=bool(made and made.stretches), staged=any(e.stage for e in entered.stretches),
    )  # fmt: skip


def made_now(element_id: int) -> Reckoned | None:
    try:
        return last_made(element_id)
    except Refusal:
        return None


def _row_sentences(entered: Entered, findings: Iterable[Finding]) -> dict[str, dict[int, str]]:
    """Findings that are of one row of a table, by the table and the row's place."""
    found = dict[str, dict[int, str]]()
    of = {"stretch": "stretches", "typical": "changes"}
    names = [each.name for each in entered.named]
    for each in findings:
        part, at = of.get(each.field, ""), each.line
        if each.field in names:
            part, at = "named", names.index(each.field)
        elif part == "changes" and each.code != "no-typical":
            continue
        if part and at >= 0:
            rows = found.setdefault(part, {})
            rows[at] = f"{rows[at]} {each.says}" if at in rows else each.says
    return found


def _rows(of: Rows, rows: Sequence[Any], says: Mapping[int, str]) -> list[RouteRow]:
    return [
        RouteRow(
            id=row.id, version=row.version, typical=getattr(row, "typical_id", None), says=says.get(at, ""),
            cells={
                name: as_typed(getattr(row, name), "m") if name in of.lengths else getattr(row, name)
                for name in of.fields
            },
        )
        for at, row in enumerate(rows)
    ]  # fmt: skip


def _lines(element_id: int) -> list[RouteLine]:
    quantities = QuantityLine.those(QuantityLine.element, [element_id], QuantityLine.position)
    parts = dict[str, list[SplitPart]]()
    for part in QuantityPart.those(QuantityPart.element, [element_id], QuantityPart.id):
        one = SplitPart(split=part.split, part=part.part, net=part.net)
        parts.setdefault(part.output, []).append(one)
    return [
        RouteLine(
            output=q.output, label=q.label, net=q.net, gross=q.gross, unit=q.unit,
            parts=parts.get(q.output, []),
        )
        for q in quantities
    ]  # fmt: skip


def _bounds(entered: Entered) -> list[float]:
    try:
        line = entered.centreline()
    except Refusal:
        return []
    places, _, _ = line.at(np.linspace(line.begin, line.end, 200))
    return [float(each) for each in (*places.min(axis=0), *places.max(axis=0))]


def runs_view(actor: Actor, _element_id: int) -> list[RunChoice]:
    """The open runs on sheets whose place on the ground is known."""
    known = [
        survey.sheet_id
        for survey in Survey.those(Survey.project, [actor.project_id])
        if survey.sheet_id is not None and len(survey.known) == 2
    ]
    found = []
    for figure in Figure.select().where((Figure.sheet << known) & (Figure.kind == "run")).order_by(Figure.id):
        if not figure.geometry.get("closed"):
            sheet: Sheet = figure.sheet
            element: Element = figure.element
            found.append(
                RunChoice(
                    figure=figure.id, name=f"{element.mark} {element.description}".strip(),
                    sheet=f"{sheet.revision.drawing.number}, page {sheet.page}",
                )
            )  # fmt: skip
    return found


def plan_view(actor: Actor, element_id: int) -> RoutePlan:
    """A route on the plan: its centreline, the edges of what is built, where that meets the ground.

    Raises:
        BadEntry: it has no centreline.
    """
    entered = Entered(route_of(actor, element_id))
    line = entered.centreline()
    made = made_now(element_id)
    number = min(MOST_DRAWN, max(int((line.end - line.begin) / 2), 2))
    every = np.unique(np.concatenate([line.changes, np.linspace(line.begin, line.end, number)]))
    places, _, _ = line.at(every)
    lines = [PlanLine(kind="centreline", places=places.round(3).tolist())]
    if made is None:
        return RoutePlan(lines=lines, ticks=[], chainages=[])
    along = made.quantities.chainages
    along = along[(along >= line.begin) & (along <= line.end)]
    at, directions, _ = line.at(along)
    right = np.stack([np.sin(directions), -np.cos(directions)], axis=1)
    try:
        route, _ = entered.way()
        for mirror in (-1.0, 1.0):
            wide = np.array([_width(route, float(c), mirror) for c in every])
            edge = line.offset_places(every, mirror * wide)
            lines.append(PlanLine(kind="edge", places=edge.round(3).tolist()))
    except Refusal:
        pass
    ticks = [[*place, *unit] for place, unit in zip(at.tolist(), right.tolist(), strict=True)]
    return RoutePlan(
        lines=lines, ticks=[[round(v, 4) for v in tick] for tick in ticks], chainages=along.tolist()
    )


def _width(route: Route, chainage: float, mirror: float) -> float:
    typical = route.typical_at(chainage)
    strips = () if typical is None else typical.left if mirror < 0 else typical.right
    return sum(strip.width for strip in strips)
