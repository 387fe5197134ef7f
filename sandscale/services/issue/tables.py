"""The tables of a project that can be read live: each as columns, as it stands now."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from ...reports.works import ChainageTable, TableColumn
from ...store.models import Element, Location, QuantityLine, Quote, Resource
from ..bars.documents import every
from ..bill.reading import bill_view
from ..ground.papers import whole_table
from ..ground.whole import whole_view
from ..keeping.acting import Actor
from ..order.papers import needs_table
from ..order.reading import ordering_view
from ..prices.reading import resource_views

_Cell = float | str | None


@dataclass(frozen=True)
class LiveKind:
    """A table: what it is called, and what makes it."""

    title: str
    make: Callable[[Actor], ChainageTable]


def _table(name: str, heads: Iterable[str], rows: Iterable[Iterable[object]]) -> ChainageTable:
    columns = list(zip(*rows, strict=True)) or [() for _ in heads]
    return ChainageTable(
        name,
        [TableColumn(head, "", [_cell(v) for v in c]) for head, c in zip(heads, columns, strict=True)],
    )


def _cell(value: object) -> _Cell:
    if value is None or isinstance(value, str):
        return value
    return float(value) if isinstance(value, Decimal | float | int) else str(value)


def _bill(actor: Actor) -> ChainageTable:
    bill = bill_view(actor)
    heads = ("Section", "Section title", "Item", "Description", "Unit", "Quantity", "Rate", "Amount", "Note")
    rows = [
        (s.ref, s.title, i.ref, i.description, i.unit, i.quantity, i.rate, i.amount, i.note)
        for s in bill.sections
        for i in s.items
    ]
    return _table("Bill", heads, rows)


def _quantities(actor: Actor) -> ChainageTable:
    mine = Element.project == actor.project_id
    query = Element.select(Element, Location).join(Location).where(mine)
    elements = {row.id: row for row in query.order_by(Location.position, Element.position, Element.id)}
    lines: dict[int, list[QuantityLine]] = {}
    for line in QuantityLine.those(QuantityLine.element, list(elements), QuantityLine.position):
        lines.setdefault(line.element_id, []).append(line)
    heads = ("Location", "Mark", "Element", "Quantity", "Family", "Unit", "Net", "Waste %", "Gross")
    rows = [
        (e.location.name, e.mark, e.description, q.label, q.family, q.unit, q.net, q.waste * 100, q.gross)
        for e in elements.values()
        for q in lines.get(e.id, ())
    ]
    return _table("Quantities", heads, rows)


def _bars(actor: Actor) -> ChainageTable:
    heads = ("Member", "Mark", "Size", "Nr of", "In each", "Total", "Length m", "Code", "kg", "Rev")
    rows = [
        (b.member, b.mark, b.size, b.members, b.each, b.total, b.cut, b.shape, b.mass, b.revision)
        for b in every(actor)
    ]
    return _table("Bars", heads, rows)


def _prices(actor: Actor) -> ChainageTable:
    resources = Resource.those(Resource.project, [actor.project_id], Resource.kind, Resource.name)
    used = {q.id: q for q in Quote.those(Quote.resource, [row.id for row in resources])}
    heads = ("Resource", "Kind", "Unit", "Price", "Basis", "Supplier", "Quoted on", "Sold by")
    rows = []
    for view in resource_views(actor, resources):
        quote = next((used[q.id] for q in view.quotes if q.used), None)
        of = (quote.supplier, quote.quoted_on.isoformat(), quote.unit) if quote else ("", "", "")
        rows.append((view.name, view.kind, view.unit, view.price, view.basis, *of))
    return _table("Prices", heads, rows)


def _to_buy(actor: Actor) -> ChainageTable:
    rows = ordering_view(actor).resources
    table = needs_table("What to buy", rows)
    return ChainageTable(table.name, [TableColumn("Kind", "", [row.kind for row in rows]), *table.columns])


def _works(actor: Actor) -> ChainageTable:
    return whole_table(whole_view(actor, "work"))


TABLES: Mapping[str, LiveKind] = {
    "bill": LiveKind("The bill, item by item", _bill),
    "quantities": LiveKind("What elements come to", _quantities),
    "bars": LiveKind("The bar schedule", _bars),
    "prices": LiveKind("Prices and the quotes they are of", _prices),
    "to-buy": LiveKind("What to buy, and how it stands", _to_buy),
    "works": LiveKind("Ground works of the whole job", _works),
}
