"""What papers tell of a route."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from ....core.ground.pieces import Floats
from ....core.ground.route.reckoned import Reckoned
from ....core.numbers.working import shown
from ....core.refusals import BadEntry, Refusal
from ....reports import route_xlsx
from ....reports.measured import length, sized, unit, volume
from ....reports.works import (
    Across,
    Along,
    ChainageTable,
    Chosen,
    Haul,
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
from .actions import route_of
from .along import columns_of, haul_view, long_view, sections_of
from .entered import Entered, last_made
from .reading import plan_view

_ACROSS = {"m³": "m²", "m²": "m", "m": "nr"}
_AT_ONCE = 40  # sections between two signs of progress


def document_of(actor: Actor, element_id: int, chosen: Chosen, progress: Progress) -> WorkDocument:
    """A route with what was chosen of it, as it last came out.

    Raises:
        BadEntry: it was never worked out.
    """
    row = route_of(actor, element_id)
    entered, made, project = Entered(row), last_made(element_id), Project.get_by_id(actor.project_id)
    parts = chosen.parts
    plan = plan_view(actor, element_id) if "plan" in parts and not entered.imported else None
    return WorkDocument(
        project=project.name, client=project.client, title=title_of(actor, element_id),
        told=[("Reckoned", entered.note())], lines=lines_told(element_id),
        findings=[says for _, says, *_ in row.element.findings] if "findings" in parts else None,
        tables=list(tables_of(made, chosen)) if "tables" in parts else [],
        plan=[PlanLine(each.kind, np.array(each.places)) for each in plan.lines] if plan else [],
        places=[
            (tick[0], tick[1], length(at, 0))
            for tick, at in zip(plan.ticks, plan.chainages, strict=True)
        ] if plan else [],
        along=_along(actor, element_id) if "long" in parts and not entered.imported else [],
        haul=_haul(actor, element_id) if "haul" in parts else None,
        across=list(_across(entered, made, progress)) if "sections" in parts else [],
        per_page=chosen.per_page,
    )  # fmt: skip


def title_of(actor: Actor, element_id: int) -> str:
    """What a route is called."""
    element = route_of(actor, element_id).element
    return f"Route {element.mark} {element.description}".strip()


def workbook(actor: Actor, element_id: int, chosen: Chosen) -> bytes:
    """A route as a workbook with live formulas by chainage."""
    note = Entered(route_of(actor, element_id)).note()
    return route_xlsx.write(title_of(actor, element_id), last_made(element_id), chosen.names, note)


def tables_of(made: Reckoned, chosen: Chosen) -> Iterator[ChainageTable]:
    """By chainage: one for each quantity, or all side by side in one."""
    along = TableColumn("chainage", "m", made.quantities.chainages.tolist(), 2)
    every = [(each, *rest) for each, (_, *rest) in zip(made.told, columns_of(made), strict=True)]
    beside = list[TableColumn]()
    for gathered, metric, sizes, steps in every:
        if not chosen.named(gathered.name):
            continue
        total = float(np.nansum(steps))
        amounts = _known(steps)
        if chosen.together:
            across = TableColumn(gathered.name, _ACROSS[metric], sizes.tolist(), 3)
            beside += [across, TableColumn(gathered.name, metric, amounts, 2, total)]
            continue
        own = [along, TableColumn("here", _ACROSS[metric], sizes.tolist(), 3)]
        if made.quantities.curved and len(gathered.parts) == 1:
            factors = made.factors(gathered.kind, gathered.parts[0])
            own.append(TableColumn("1 + e / R", "", factors.tolist(), 4))
        running = np.nancumsum(steps).tolist()
        own += [TableColumn("between", metric, amounts, 2, total), TableColumn("up to here", metric, running)]
        yield ChainageTable(f"{gathered.name[:1].upper()}{gathered.name[1:]}, {unit(metric)}", own)
    if beside:
        yield ChainageTable("Quantities by chainage", [along, *beside])


def _known(steps: Floats) -> list[float | None]:
    return [None if step != step else step for step in steps.tolist()]


def _along(actor: Actor, element_id: int) -> list[Along]:
    seen = long_view(actor, element_id)
    ground = [[at, np.nan if level is None else level] for at, level in seen.ground]
    given: list[tuple[LineKind, Sequence[Sequence[float | None]]]] = [
        ("ground", ground), ("finished", seen.line)
    ]  # fmt: skip
    lines = [(kind, np.array(line, dtype=float)) for kind, line in given if line]
    marks = [(each.chainage, each.name) for each in seen.changes]
    marks += [(each.chainage, "") for each in seen.points]
    return [Along("Long section along the centreline", lines, sorted(marks))]


def _haul(actor: Actor, element_id: int) -> Haul | None:
    try:
        seen = haul_view(actor, element_id)
    except Refusal:
        return None
    if not seen.chainages:
        return None
    m3, m = unit("m³"), unit("m")

    def carried(value: float) -> str:
        return shown(sized(sized(value, "m³"), "m"), 0, 0)

    over = "left over at the end" if seen.left_over >= 0 else "brought in at the end"
    told = (
        f"Carried {volume(seen.moved)} {m3}; haul {carried(seen.haul)} {m3}·{m}, of it "
        f"{carried(seen.overhaul)} {m3}·{m} beyond {length(seen.free_distance, 0)} {m}; "
        f"{volume(abs(seen.left_over))} {m3} {over}."
    )
    return Haul(np.array(seen.chainages), np.array(seen.ordinates), told)


def _across(entered: Entered, made: Reckoned, progress: Progress) -> Iterator[Across]:
    along = made.quantities.chainages
    for begin in range(0, len(along), _AT_ONCE):
        progress(begin / len(along))
        for _, each in sections_of(entered, made, along[begin : begin + _AT_ONCE], begin):
            lines: list[tuple[LineKind, Floats]] = [
                ("ground", each.ground), ("formation", each.formation), ("finished", each.finished)
            ]  # fmt: skip
            where = f"{at_chainage(each.chainage)}  {each.typical}".strip()
            yield Across(where[:1].upper() + where[1:], each.shapes, [line for line in lines if len(line[1])])


def table_of(actor: Actor, element_id: int, chosen: Chosen) -> ChainageTable:
    """The quantities side by side in one table by chainage.

    Raises:
        BadEntry: none of those chosen is there.
    """
    row = route_of(actor, element_id)
    made = next(tables_of(last_made(element_id), replace(chosen, together=True)), None)
    if made is None:
        raise BadEntry(f"{row.element.mark} has none of the quantities chosen.", field="names")
    return made
