"""The part of the graph that is the bars: the lines of the schedule, and how they are cut."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from typing import Any

from ...core.bars.schedule import ScheduleLine, marked
from ...store.models import BarLine, BarMark, DimensionLine, Element, Project
from ..keeping.graph import After, Ids, Node, Written
from ..measure.entered import lines_of, makeup_of
from ..measure.measurers import given, measurer_of
from ..measure.nodes import ENTERED
from .cutting import CUTTING_NODE

_FIELDS = (
    "position", "mark", "label", "output", "grade", "size", "members", "each", "total", "shape", "legs",
    "outline", "cut", "length", "mass", "line", "typed", "findings",
)  # fmt: skip


def _work(_project: Project, ids: Collection[int]) -> Ids:
    """The lines of the schedule that elements give; what hasn't changed isn't written. An element that is
    gone took its lines with it."""
    there = Element.those(Element.id, ids)
    elements = [e for e in there if not measurer_of(e).slow]
    barred = [e for e in elements if e.measurer != "make-up" or makeup_of(e.project_id, e.source).bars]
    rows = lines_of(e.id for e in barred)
    entered = given(barred, rows) if barred else {}
    kept: dict[int, dict[str, BarLine]] = {each: {} for each in ids}
    for line in BarLine.those(BarLine.element, ids):
        kept[line.element_id][line.key] = line
    over: dict[int, dict[str, str]] = {}
    for mark in BarMark.those(BarMark.element, ids):
        over.setdefault(mark.element_id, {})[mark.key] = mark.mark
    moved = set(ids) - {element.id for element in there}
    for element in elements:
        bars: list[ScheduleLine] = []
        if element.id in entered:
            bars = list(measurer_of(element).measure(entered[element.id]).bars)
        if _keep(
            element, _marked(bars, over.get(element.id, {})), rows.get(element.id, []), kept[element.id]
        ):
            moved.add(element.id)
    return moved


def _marked(bars: list[ScheduleLine], over: dict[str, str]) -> list[ScheduleLine]:
    """Bars with their marks: those typed over, those typed, and the others' by rule."""
    given_ = marked(replace(line.bar, mark=over.get(line.bar.key, line.bar.mark)) for line in bars)
    return [replace(line, bar=bar) for line, bar in zip(bars, given_, strict=True)]


def _keep(
    element: Element, bars: list[ScheduleLine], rows: list[DimensionLine], kept: dict[str, BarLine]
) -> bool:
    """Write the schedule lines of an element, where they differ; tells whether any do."""
    left, changed, fresh = dict(kept), False, list[dict[str, Any]]()
    for position, line in enumerate(bars):
        fields = _fields(element, position, line, rows)
        row = left.pop(line.bar.key, None)
        if row is None:
            own = {"project": element.project_id, "element": element.id, "key": line.bar.key}
            fresh.append({**own, **fields})
        elif differ := [name for name in _FIELDS if row.__data__[name] != fields[name]]:
            columns = [BarLine._meta.fields[name] for name in differ]
            BarLine.keep(columns, [(row.id, *(fields[name] for name in differ))])
        else:
            continue
        changed = True
    if fresh:
        BarLine.insert_many(fresh).execute()
    if left:
        BarLine.delete().where(BarLine.id << [row.id for row in left.values()]).execute()
    return changed or bool(left)


def _fields(element: Element, position: int, line: ScheduleLine, rows: list[DimensionLine]) -> dict[str, Any]:
    bar, typed = line.bar, element.measurer == "typed-bars"
    return {
        "position": position, "mark": bar.mark, "label": bar.label, "output": bar.output, "grade": bar.grade,
        "size": bar.size, "members": float(bar.members), "each": float(bar.each), "total": float(line.total),
        "shape": bar.shape, "legs": [[letter, round(leg, 6)] for letter, leg in bar.legs.items()],
        "outline": [[round(x * 1000), round(y * 1000)] for x, y in line.outline],
        "cut": line.cut_length, "length": line.length, "mass": line.mass,
        "line": rows[bar.line].id if 0 <= bar.line < len(rows) else None,
        "typed": int(bar.key) if typed else None, "findings": [[f.says, f.code] for f in line.findings],
    }  # fmt: skip


NODES = (
    Node(
        name="bars",
        table=Element,
        gives=(BarLine.mass,),
        edges=(*ENTERED, Written(BarMark, through=(BarMark.element,)), After("quantities")),
        work=_work,
    ),
    CUTTING_NODE,
)
