"""The part of the graph that is the measure: what elements come to."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import Any

from ...core.figures.shapes import overlaps
from ...core.measurers.measurer import Measured, QuantityLine, uneven
from ...store.models import (
    DimensionLine,
    Element,
    Figure,
    OwnMakeUp,
    Project,
    QuantityPart,
    ScaleArea,
    Sheet,
)
from ...store.models import QuantityLine as QuantityRow
from ..keeping.graph import Ids, Node, Slow, Written, ids_in
from .entered import lines_of
from .measurers import given, known, measurer_of
from .measuring import as_area, astray

KEPT = ("label", "unit", "family", "net", "waste", "gross", "item", "section", "pack", "always")


def _measure(_project_id: int, ids: Ids) -> Ids:
    """Quantity lines and findings of elements."""
    elements = list(Element.select().where(Element.id << list(ids))) if ids else []
    entered = given(elements)
    return {e.id for e in elements if _keep(e, measurer_of(e).measure(entered[e.id]))}


def _keep(element: Element, measured: Measured) -> bool:
    """Write what an element came to, where it differs; tells whether anything does."""
    findings = _findings(element, measured)
    if findings != element.findings:
        Element.update(findings=findings).where(Element.id == element.id).execute()
    changed = _keep_lines(element, measured)
    return _keep_parts(element, measured.quantities) or changed or findings != element.findings


def _findings(element: Element, measured: Measured) -> list[list[Any]]:
    """What looks wrong, as (line id or 0, sentence, whether a quantity is wrong by it)."""
    lines = lines_of([element.id])[element.id]
    found = [
        [lines[f.line].id if 0 <= f.line < len(lines) else 0, f.says, f.wrong] for f in measured.findings
    ]
    drawn = [line for line in lines if line.figure_id]
    found += [[line.id, said, True] for line in drawn if (said := astray(line.figure, line.figure.sheet))]
    by_sheet: dict[int, list[DimensionLine]] = {}
    for line in drawn:
        if line.figure.kind == "area" and not line.deduct:
            by_sheet.setdefault(line.figure.sheet_id, []).append(line)
    for together in by_sheet.values():
        areas = [as_area(line.figure) for line in together]
        found += [[together[other].id, f.says, f.wrong] for _, other, f in overlaps(areas)]
    for quantity in measured.quantities:
        says = "{} by {} doesn't add up to the whole."
        found += [[0, says.format(quantity.label, split), True] for split in uneven(quantity)]
    return found


def _keep_lines(element: Element, measured: Measured) -> bool:
    kept = {q.output: q for q in QuantityRow.select().where(QuantityRow.element == element.id)}
    changed = False
    for position, quantity in enumerate(measured.quantities):
        fields = {name: getattr(quantity, name) for name in KEPT}
        fields |= {"position": position, "headline": quantity.output == measured.headline}
        row = kept.pop(quantity.output, None)
        if row is None:
            own = {"project": element.project_id, "element": element.id, "output": quantity.output}
            QuantityRow.create(**own, **fields)
        elif any(row.__data__[name] != value for name, value in fields.items()):
            QuantityRow.update(**fields).where(QuantityRow.id == row.id).execute()
        else:
            continue
        changed = True
    if kept:
        QuantityRow.delete().where(QuantityRow.id << [row.id for row in kept.values()]).execute()
    return changed or bool(kept)


def _keep_parts(element: Element, quantities: Sequence[QuantityLine]) -> bool:
    of = QuantityPart.element == element.id
    columns = (
        QuantityPart.output,
        QuantityPart.split,
        QuantityPart.part,
        QuantityPart.net,
        QuantityPart.gross,
    )
    kept = set(QuantityPart.select(*columns).where(of).tuples())
    now = {(q.output, part.split, part.name, part.net, part.gross) for q in quantities for part in q.parts}
    if kept == now:
        return False
    QuantityPart.delete().where(of).execute()
    rows = [dict(zip((column.name for column in columns), row, strict=True)) for row in sorted(now)]
    if rows:
        own = {"project": element.project_id, "element": element.id}
        QuantityPart.insert_many([{**own, **row} for row in rows]).execute()
    return True


def _slow(ids: Ids) -> Ids:
    keys = [key for key, entry in known().items() if entry.measurer.slow]
    if not keys or not ids:
        return set()
    return ids_in(Element.select(Element.id).where((Element.id << list(ids)) & (Element.measurer << keys)))


def _fingerprint(element_id: int) -> str:
    element = Element.get_by_id(element_id)
    return hashlib.sha256(repr((element.measurer, given([element])[element_id])).encode()).hexdigest()


def _reckon(element_id: int) -> Measured:
    element = Element.get_by_id(element_id)
    return measurer_of(element).measure(given([element])[element_id])


def _hand_in(element_id: int, measured: Measured) -> None:
    _keep(Element.get_by_id(element_id), measured)


def _give_up(element_id: int, says: str) -> None:
    QuantityRow.delete().where(QuantityRow.element == element_id).execute()
    QuantityPart.delete().where(QuantityPart.element == element_id).execute()
    Element.update(findings=[[0, says, True]]).where(Element.id == element_id).execute()


def _of_makeup(project_id: int, keys: list[str]) -> Ids:
    mine = (Element.project == project_id) & (Element.measurer == "make-up") & (Element.source << keys)
    return ids_in(Element.select(Element.id).where(mine))


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(
        Element.select(Element.id).where((Element.project == project_id) & (Element.detailing == ""))
    )


NODES = (
    Node(
        name="quantities",
        table=Element,
        gives=(Element.findings, QuantityRow.net, QuantityPart.net),
        edges=(
            Written(Element, (Element.measurer, Element.source, Element.inputs, Element.detailing)),
            Written(DimensionLine, through=(DimensionLine.element,)),
            Written(Figure, through=(Figure.element,)),
            Written(
                Sheet,
                (Sheet.metres_per_unit, Sheet.metres_per_unit_y, Sheet.width, Sheet.height),
                through=(Figure.sheet, Figure.element),
            ),
            Written(ScaleArea, through=(ScaleArea.sheet, Figure.sheet, Figure.element)),
            Written(OwnMakeUp, (OwnMakeUp.key, OwnMakeUp.source), found=_of_makeup),
            Written(Project, (Project.detailing,), found=_of_project),
        ),
        work=_measure,
        within=(DimensionLine.taken_from, DimensionLine.element),
        slow=Slow(
            which=_slow,
            fingerprint=_fingerprint,
            reckon=_reckon,
            hand_in=_hand_in,
            give_up=_give_up,
            called=lambda element_id: str(Element.get_by_id(element_id).mark),
        ),
    ),
)
