"""The part of the graph that is the measure: what elements come to."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from typing import Any

from ...core.checks.bar_mass import bar_masses
from ...core.figures.shapes import overlaps
from ...core.findings import Finding
from ...core.measurers.measurer import Measured, QuantityLine, uneven
from ...store.models import (
    DimensionLine,
    Element,
    Figure,
    OwnDetailing,
    OwnMakeUp,
    Project,
    QuantityPart,
    ScaleArea,
    Sheet,
    TypedBar,
)
from ...store.models import QuantityLine as QuantityRow
from ..keeping.graph import After, Differing, Ids, Node, Slow, Written, ids_in
from .draws import AMONG, WRITTEN, refuse_ring
from .entered import lines_of, read_source
from .measurers import entered_edges, given, known, measurer_of
from .measuring import as_area, astray

KEPT = ("label", "unit", "family", "net", "waste", "gross", "item", "section", "pack", "always")
PARTED = ("output", "split", "part", "net", "gross")


@dataclass
class _Kept:
    """What is kept of an element: its rows as they were before."""

    element: Element
    rows: list[DimensionLine]
    lines: dict[str, QuantityRow]
    parts: list[tuple[Any, ...]]


def _kept(elements: Sequence[Element]) -> list[_Kept]:
    wanted = [element.id for element in elements]
    rows, lines, parts = (
        lines_of(wanted),
        dict[int, dict[str, QuantityRow]](),
        dict[int, list[tuple[Any, ...]]](),
    )
    for line in QuantityRow.those(QuantityRow.element, wanted):
        lines.setdefault(line.element_id, {})[line.output] = line
    for part in QuantityPart.those(QuantityPart.element, wanted, QuantityPart.id):
        parts.setdefault(part.element_id, []).append(tuple(part.__data__[name] for name in PARTED))
    return [_Kept(e, rows[e.id], lines.get(e.id, {}), parts.get(e.id, [])) for e in elements]


def _measure(_project: Project, ids: Collection[int]) -> Ids:
    """Quantity lines and findings of elements; those that are slow are worked out by jobs, or fresh."""
    there = Element.those(Element.id, ids)
    slow = {e.id for e in there if measurer_of(e).slow}  # what is kept of these holds again
    kept = _kept([e for e in there if e.id not in slow])
    entered = given([each.element for each in kept], {each.element.id: each.rows for each in kept})
    return slow | {
        k.element.id for k in kept if _keep(k, measurer_of(k.element).measure(entered[k.element.id]))
    }


def _keep(kept: _Kept, measured: Measured) -> bool:
    """Write what an element came to, where it differs; tells whether anything does."""
    findings = _findings(kept.rows, measured)
    if findings != kept.element.findings:
        Element.keep([Element.findings], [(kept.element.id, findings)])
    changed = _keep_lines(kept, measured)
    return _keep_parts(kept, measured.quantities) or changed or findings != kept.element.findings


def _findings(lines: list[DimensionLine], measured: Measured) -> list[list[Any]]:
    """What looks wrong, as (line id or 0, sentence, whether a quantity is wrong by it, code, numbers)."""
    found = [_kept_finding(f, lines[f.line].id if 0 <= f.line < len(lines) else 0) for f in measured.findings]
    drawn = [line for line in lines if line.figure_id]
    found += [
        [line.id, said, True, "astray", []]
        for line in drawn
        if (said := astray(line.figure, line.figure.sheet))
    ]
    by_sheet: dict[int, list[DimensionLine]] = {}
    for line in drawn:
        if line.figure.kind == "area" and not line.deduct:
            by_sheet.setdefault(line.figure.sheet_id, []).append(line)
    for together in by_sheet.values():
        areas = [as_area(line.figure) for line in together]
        found += [_kept_finding(f, together[other].id) for _, other, f in overlaps(areas)]
    for quantity in measured.quantities:
        says = f"{quantity.label} by {{}} doesn't add up to the whole."
        found += [[0, says.format(split), True, "uneven", []] for split in uneven(quantity)]
    return found


def _kept_finding(finding: Finding, line_id: int) -> list[Any]:
    return [line_id, finding.says, finding.wrong, finding.code, [float(number) for number in finding.numbers]]


def _keep_lines(kept: _Kept, measured: Measured) -> bool:
    element, left = kept.element, dict(kept.lines)
    changed = False
    differing: list[Differing] = []
    fresh: list[dict[str, Any]] = []
    for position, quantity in enumerate(measured.quantities):
        fields = {name: getattr(quantity, name) for name in KEPT}
        fields |= {"position": position, "headline": quantity.output == measured.headline}
        row = left.pop(quantity.output, None)
        if row is None:
            own = {"project": element.project_id, "element": element.id, "output": quantity.output}
            fresh.append({**own, **fields})
        elif any(row.__data__[name] != value for name, value in fields.items()):
            differing.append((row.id, *fields.values()))
        else:
            continue
        changed = True
    columns = [QuantityRow._meta.fields[name] for name in (*KEPT, "position", "headline")]
    QuantityRow.keep(columns, differing)
    if fresh:
        QuantityRow.insert_many(fresh).execute()
    if left:
        QuantityRow.delete().where(QuantityRow.id << [row.id for row in left.values()]).execute()
    return changed or bool(left)


def _keep_parts(kept: _Kept, quantities: Sequence[QuantityLine]) -> bool:
    now = [(q.output, part.split, part.name, part.net, part.gross) for q in quantities for part in q.parts]
    if kept.parts == now:
        return False
    QuantityPart.delete().where(QuantityPart.element == kept.element.id).execute()
    own = {"project": kept.element.project_id, "element": kept.element.id}
    rows = [{**own, **dict(zip(PARTED, row, strict=True))} for row in now]
    if rows:
        QuantityPart.insert_many(rows).execute()
    return True


def _slow(ids: Ids) -> Ids:
    """Those that take long, unless what is kept of them is what they come to now."""
    slow = [e for e in Element.those(Element.id, ids) if measurer_of(e).slow]
    return {e.id for e in slow if not _is_fresh(e)}


def _is_fresh(element: Element) -> bool:
    fresh = known()[element.measurer].fresh
    return fresh is not None and fresh(element.id, _print(element))


def _print(element: Element) -> str:
    entered = given([element])[element.id]
    told = getattr(entered, "print", None) or repr(entered)
    return hashlib.sha256(repr((element.measurer, told)).encode()).hexdigest()


def _fingerprint(element_id: int) -> str:
    return _print(Element.get_by_id(element_id))


def _reckon(element_id: int, progress: Callable[[float], None]) -> Measured:
    element = Element.get_by_id(element_id)
    entered, reckon = given([element])[element_id], known()[element.measurer].reckon
    return reckon(entered, progress) if reckon else measurer_of(element).measure(entered)


def _hand_in(element_id: int, measured: Measured) -> None:
    (kept,) = _kept([Element.get_by_id(element_id)])
    _keep(kept, measured)
    _keep_more(kept.element, measured)


def _give_up(element_id: int, says: str) -> None:
    QuantityRow.delete().where(QuantityRow.element == element_id).execute()
    QuantityPart.delete().where(QuantityPart.element == element_id).execute()
    Element.update(findings=[[0, says, True, "given-up", []]]).where(Element.id == element_id).execute()
    _keep_more(Element.get_by_id(element_id), None)


def _keep_more(element: Element, measured: Measured | None) -> None:
    if keep := known()[element.measurer].keep:
        keep(element, _print(element), measured)


def _prove(_project: Project, ids: Collection[int]) -> Ids:
    """What is read and proved of make-ups of a project's own, so that no list reads them again."""
    moved = Ids()
    for own in OwnMakeUp.select().where(OwnMakeUp.id << list(ids)):
        makeup = read_source(own.source)
        found = [[f.says, f.code, [float(n) for n in f.numbers]] for f in bar_masses(makeup)]
        kept = {"kind": makeup.document.kind, "name": makeup.name, "about": makeup.about, "findings": found}
        if any(getattr(own, name) != value for name, value in kept.items()):
            OwnMakeUp.update(**kept).where(OwnMakeUp.id == own.id).execute()
            moved.add(own.id)
    return moved


def _of_makeup(project_id: int, keys: list[str]) -> Ids:
    mine = (Element.project == project_id) & (Element.measurer == "make-up") & (Element.source << keys)
    return ids_in(Element.select(Element.id).where(mine))


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(
        Element.select(Element.id).where((Element.project == project_id) & (Element.detailing == ""))
    )


def _following(project_id: int, keys: list[str]) -> Ids:
    """Elements that follow some of a project's own detailing rules."""
    own = Element.detailing << keys
    if Project.get_by_id(project_id).detailing in keys:
        own |= Element.detailing == ""
    return ids_in(Element.select(Element.id).where((Element.project == project_id) & own))


# What an element is worked out from; whatever else is worked out from that has the same edges.
ENTERED = (
    Written(
        Element,
        # Findings of bars tell the mark.
        (
            Element.measurer,
            Element.source,
            Element.inputs,
            Element.detailing,
            Element.description,
            Element.mark,
        ),
    ),
    Written(DimensionLine, through=(DimensionLine.element,)),
    Written(Figure, (Figure.sheet, Figure.element, Figure.kind, Figure.geometry), through=(Figure.element,)),
    Written(
        Sheet,
        (Sheet.metres_per_unit, Sheet.metres_per_unit_y, Sheet.width, Sheet.height),
        through=(Figure.sheet, Figure.element),
    ),
    Written(ScaleArea, through=(ScaleArea.sheet, Figure.sheet, Figure.element)),
    Written(OwnMakeUp, (OwnMakeUp.key, OwnMakeUp.source), found=_of_makeup),
    Written(Project, (Project.detailing, Project.unit_system), found=_of_project),
    Written(TypedBar, through=(TypedBar.element,)),
    Written(OwnDetailing, (OwnDetailing.key, OwnDetailing.source), found=_following),
)
_EDGES = (*ENTERED, *entered_edges(), *WRITTEN)
NODES = (
    Node(
        name="make-ups",
        table=OwnMakeUp,
        gives=(OwnMakeUp.kind, OwnMakeUp.name, OwnMakeUp.about, OwnMakeUp.findings),
        edges=(Written(OwnMakeUp, (OwnMakeUp.source,)),),
        work=_prove,
    ),
    Node(
        name="quantities",
        table=Element,
        gives=(Element.findings, QuantityRow.net, QuantityPart.net),
        edges=(
            *_EDGES,
            After("quantities", through=(DimensionLine.taken_from, DimensionLine.element)),
            *AMONG,
        ),
        work=_measure,
        refuse_ring=refuse_ring,
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
