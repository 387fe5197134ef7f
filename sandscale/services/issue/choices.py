"""The documents that a package can hold, as the project has them: each in the forms it is written in."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ...core.numbers.working import shown
from ...store.models import BarLine, DimensionLine, Drawing, Element, Figure, QuantityLine, Revision, Sheet
from ..bars.reading import schedule_view
from ..bill.reading import bill_outline, own_bill
from ..keeping.acting import Actor
from ..sheets.reading import totals
from .views import Told

WORKS = {"earthwork": "Proof of earthworks", "trench": "Trenches", "route": "Route"}
_Writes = Mapping[
    str, tuple[str, dict[str, Any]]
]  # by form the kind of job that writes it, and its arguments


@dataclass(frozen=True)
class Document:
    """A document of the project: which it is, what it is called, and how each of its forms is written."""

    key: str
    title: str
    writes: _Writes


def documents(actor: Actor) -> list[Document]:
    """Every document that there is something for."""
    found = [
        Document(
            "bill", "Bill of quantities",
            {"xlsx": ("bill_xlsx", {}), "pdf": ("bill_pdf", {}), "X84": ("bill_exchange", {})},
        )
    ]  # fmt: skip
    elements = list(Element.select().where(Element.project == actor.project_id))
    if DimensionLine.select().where(DimensionLine.project == actor.project_id).exists():
        found.append(Document("dimensions", "Dimension sheets", {"pdf": ("dimensions_pdf", {})}))
    if BarLine.select().where(BarLine.project == actor.project_id).exists():
        forms = {form: (f"bars_{form}", dict[str, Any]()) for form in ("pdf", "xlsx", "csv")}
        found.append(Document("bars", "Bar schedule", {**forms, "abs": ("bars_bvbs", {})}))
    found += _sheets(actor)
    works = sorted((e for e in elements if e.measurer in WORKS), key=lambda e: (e.position, e.id))
    found += [_work(element) for element in works]
    if works:
        whole = {form: ("ground_paper", {"file": form}) for form in ("pdf", "xlsx", "csv")}
        found.append(Document("whole", "Ground works of the whole job", whole))
    return found


def _sheets(actor: Actor) -> Iterable[Document]:
    query = (
        Sheet.select(Sheet, Revision, Drawing).join(Revision).join(Drawing)
        .where((Sheet.project == actor.project_id) & (Sheet.id << Figure.select(Figure.sheet)))
        .order_by(Drawing.number, Sheet.page, Sheet.id)
    )  # fmt: skip
    for sheet in query:
        name = f"Sheet {sheet.revision.drawing.number}{_letter(sheet)} p. {sheet.page}, measured"
        yield Document(f"sheet:{sheet.id}", name, {"pdf": ("sheet_pdf", {"sheet": sheet.id})})


def _letter(sheet: Sheet) -> str:
    return f" {sheet.revision.letter}" if sheet.revision.letter else ""


def _work(element: Element) -> Document:
    name, of = f"{WORKS[element.measurer]} {element.mark}", {"element": element.id}
    if element.measurer == "earthwork":  # one file holds all its forms
        return Document(
            f"work:{element.id}", name, dict.fromkeys(("pdf", "xlsx", "dxf"), ("ground_proof", of))
        )
    forms = ("pdf", "xlsx", "csv", "dxf")
    return Document(f"work:{element.id}", name, {f: ("ground_paper", {**of, "file": f}) for f in forms})


def told(actor: Actor, key: str) -> list[Told]:
    """The numbers that a document tells, by which two issues of it are held against one another."""
    kind, _, row = key.partition(":")
    if kind == "bill":
        bill = bill_outline(actor, own_bill(actor.project_id).id)
        return [
            Told(name="items", value=shown(bill.items_total, 2, 2), unit=bill.currency),
            Told(name="total", value=shown(bill.total, 2, 2), unit=bill.currency),
        ]
    if kind == "bars":
        return [
            Told(name=f"size {s.size}", value=shown(s.mass, 1, 1), unit="kg")
            for s in schedule_view(actor).sizes
        ]
    if kind == "sheet":
        return [
            Told(name=f"{t.mark} {t.label}", value=shown(t.net, 2, 2), unit=t.unit)
            for t in totals(Sheet.get_by_id(int(row)))
        ]
    if kind == "work":
        lines = QuantityLine.those(QuantityLine.element, [int(row)], QuantityLine.position)
        return [Told(name=q.label, value=shown(q.gross, 2, 2), unit=q.unit) for q in lines if q.gross]
    if kind == "dimensions":
        lines_ = DimensionLine.select().where(DimensionLine.project == actor.project_id).count()
        return [Told(name="dimension lines", value=shown(lines_, 0), unit="")]
    return []
