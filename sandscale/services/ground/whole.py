"""The earthworks, trenches and routes of a project summed as one job."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ...core.ground.papers import SummedBy
from ...store.models import Element, QuantityLine, QuantityPart
from ..keeping.acting import Actor
from ..keeping.one_reading import one_reading
from ..keeping.slow import being_worked_out
from .actions.billing import MEASURED
from .views import WholeRow, WholeView


def whole_view(actor: Actor, by: SummedBy) -> WholeView:
    """Quantities that go into the bill, those of one name and unit summed over all works: by work, by stage,
    or by stretch, each work's own under its mark. What falls to no part stands in a column of its own."""
    with one_reading():
        works = list(
            Element.select()
            .where((Element.project == actor.project_id) & (Element.measurer << MEASURED))
            .order_by(Element.position, Element.id)
        )
        ids = [work.id for work in works]
        lines = QuantityLine.those(QuantityLine.element, ids, QuantityLine.element, QuantityLine.position)
        parts = QuantityPart.those(QuantityPart.element, ids, QuantityPart.id)
        waiting = being_worked_out("quantities", ids)
    marks = {work.id: work.mark for work in works}
    shares = _shares(lines, parts, marks, by)
    heads = list(marks.values()) if by == "work" else list(dict.fromkeys(h for _, h, _ in shares if h))
    if by != "work" and any(not head for _, head, _ in shares):
        heads.append("")
    rows = dict[tuple[str, str], WholeRow]()
    for line, head, value in shares:
        key = (line.item.lower(), line.unit)
        row = rows.get(key)
        if row is None:
            row = rows[key] = WholeRow(
                name=line.item, unit=line.unit, values=[0.0] * len(heads), whole=0.0, refs=[]
            )
        row.values[heads.index(head)] += value
        row.whole += value
        ref = f"quantity:{line.element_id}:{line.output}"
        if ref not in row.refs:
            row.refs.append(ref)
    return WholeView(
        by=by, heads=heads, rows=list(rows.values()), works=len(works),
        waiting=[marks[each] for each in ids if each in waiting],
    )  # fmt: skip


def _shares(
    lines: Iterable[QuantityLine], parts: Iterable[QuantityPart], marks: Mapping[int, str], by: SummedBy
) -> list[tuple[QuantityLine, str, float]]:
    """What falls to each part, by the head of its column; what falls to none under an empty one."""
    split = dict[tuple[int, str], list[QuantityPart]]()
    for part in parts:
        if part.split == by:
            split.setdefault((part.element_id, part.output), []).append(part)
    found = list[tuple[QuantityLine, str, float]]()
    for line in lines:
        if not line.item or not line.net:
            continue
        own = split.get((line.element_id, line.output), [])
        if by == "work":
            found.append((line, marks[line.element_id], line.net))
        elif not own:
            found.append((line, "", line.net))
        for part in own:
            none = part.part.startswith("in no ")
            head = "" if none else part.part if by == "stage" else f"{marks[line.element_id]} {part.part}"
            found.append((line, head, part.net))
    return found
