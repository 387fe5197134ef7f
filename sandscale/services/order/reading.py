"""What the bill needs of each resource, how it is bought, and how that stands; orders and their lines."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import exact
from ...core.numbers.written import written
from ...core.pricing.build_up import GROUPS
from ...core.pricing.orders import Standing, packs
from ...store.models import (
    Delivery,
    Item,
    OrderLine,
    Project,
    PurchaseOrder,
    Quote,
    Resource,
    Section,
    Supplier,
    now,
)
from ..bill.reading import own_bill, refs_of
from ..keeping.acting import Actor, find
from ..prices.reading import price_of, usable
from .explosion import Takes, exploded, together
from .views import BuyView, CameView, ItemNeed, OrderBrief, OrderingView, OrderLineView, OrderView

HOURS, MOST_ITEMS = "h", 1_000
_SHOWN, _CENT = Decimal("0.0001"), Decimal("0.01")


@dataclass(frozen=True)
class Sold:
    """How a resource is bought: as it is sold, how much is in one, of whom and for how much."""

    sold_by: str
    contains: Decimal
    supplier: str = ""
    quote: int | None = None
    price: Decimal | None = None


def sold_of(resource: Resource, quotes: Iterable[Quote], project: Project) -> Sold:
    """How a resource is bought: by the quote its price is made of, the cheapest where there are several; by
    its own unit where it has none."""
    rows = {row.id: row for row in quotes}
    price = price_of(resource, rows.values(), project)
    found = list(price.used) or usable(resource, rows.values())[0]
    if not found:
        return Sold(resource.unit, Decimal(1), price=resource.price)
    best = min(found, key=lambda quote: quote.per_unit)
    row = rows[best.reference]
    return Sold(row.unit, best.contains, row.supplier, row.id, row.price)


@dataclass(frozen=True)
class Ordered:
    """What of a resource is ordered, and what came of it, in its unit; and what is being ordered still."""

    making: Decimal = Decimal(0)
    ordered: Decimal = Decimal(0)
    came: Decimal = Decimal(0)
    due: date | None = None


def number_of(text: str) -> Decimal:
    """How many packs, as they were typed."""
    return exact(read_entry(text, "", field="number"))


def ordered_of(project_id: int) -> dict[int, Ordered]:
    """What is ordered of each resource."""
    orders = {row.id: row for row in PurchaseOrder.those(PurchaseOrder.project, [project_id])}
    lines = OrderLine.those(OrderLine.project, [project_id], OrderLine.id)
    came = _came(lines)
    found: dict[int, Ordered] = {}
    for line in lines:
        before = found.get(line.resource_id, Ordered())
        holds = number_of(line.number) * line.contains
        if orders[line.order_id].ordered_on is None:
            found[line.resource_id] = Ordered(before.making + holds, before.ordered, before.came, before.due)
            continue
        arrived = came.get(line.id, Decimal(0)) * line.contains
        waits = line.due if arrived < holds else None
        due = min(filter(None, (before.due, waits)), default=None)
        found[line.resource_id] = Ordered(before.making, before.ordered + holds, before.came + arrived, due)
    return found


def _came(lines: Iterable[OrderLine]) -> dict[int, Decimal]:
    """How many packs came of each line."""
    found: dict[int, Decimal] = {}
    for row in Delivery.those(Delivery.line, [line.id for line in lines]):
        found[row.line_id] = found.get(row.line_id, Decimal(0)) + number_of(row.number)
    return found


def ordering_view(actor: Actor) -> OrderingView:
    """The own bill exploded into resources, what to buy of each, and the orders there are."""
    project = Project.get_by_id(actor.project_id)
    of_items = exploded(project, own_bill(project.id).id)
    taken, ordered = together(of_items), ordered_of(project.id)
    wanted = set(taken) | set(ordered)
    rows = sorted(
        Resource.those(Resource.id, wanted), key=lambda row: (GROUPS.index(row.kind), row.name.lower())
    )
    quotes: dict[int, list[Quote]] = {}
    for quote in Quote.those(Quote.resource, wanted, Quote.id):
        quotes.setdefault(quote.resource_id, []).append(quote)
    today = now().date()
    views = [
        _buy_view(
            row, taken.get(row.id, Takes()), sold_of(row, quotes.get(row.id, []), project),
            ordered.get(row.id, Ordered()), today,
        )
        for row in rows
    ]  # fmt: skip
    hours = {
        kind: sum((v.gross for v in views if v.kind == kind and v.unit == HOURS), Decimal(0))
        for kind in ("labour", "plant")
    }
    money = sum((view.money for view in views), Decimal(0))
    return OrderingView(
        resources=views, orders=_briefs(project.id, today), labour_hours=hours["labour"],
        plant_hours=hours["plant"], unexplained=_items_total(project.id) - money,
    )  # fmt: skip


def _items_total(project_id: int) -> Decimal:
    sections = Section.those(Section.bill, [own_bill(project_id).id])
    return sum((section.items_total for section in sections), Decimal(0))


def _buy_view(row: Resource, takes: Takes, sold: Sold, ordered: Ordered, today: date) -> BuyView:
    standing = Standing(takes.gross, ordered.ordered, ordered.came, ordered.due)
    count = packs(max(standing.left - ordered.making, Decimal(0)), sold.contains)
    says = ""
    if standing.outgrown:
        says = (
            f"The bill needs more than is ordered: {written(f'{standing.left:.2f}')} {row.unit} are missing."
        )
    return BuyView(
        resource=row.id, name=row.name, kind=row.kind, unit=row.unit, net=takes.net.quantize(_SHOWN),
        gross=takes.gross.quantize(_SHOWN), money=takes.money.quantize(_CENT), sold_by=sold.sold_by,
        contains=sold.contains, supplier=sold.supplier, quote=sold.quote, pack_price=sold.price, packs=count,
        cost=None if sold.price is None else (sold.price * count).quantize(_CENT),
        being_ordered=ordered.making, ordered=ordered.ordered, delivered=ordered.came, due=ordered.due,
        state=standing.state(today), says=says,
    )  # fmt: skip


def _briefs(project_id: int, today: date) -> list[OrderBrief]:
    rows = PurchaseOrder.those(PurchaseOrder.project, [project_id], PurchaseOrder.number)
    lines: dict[int, list[OrderLine]] = {}
    for line in OrderLine.those(OrderLine.order, [row.id for row in rows], OrderLine.position):
        lines.setdefault(line.order_id, []).append(line)
    came = _came([line for own in lines.values() for line in own])
    return [
        OrderBrief(
            id=row.id, number=row.number, supplier=row.supplier, ordered_on=row.ordered_on,
            cost=_cost(lines.get(row.id, [])), lines=len(lines.get(row.id, [])),
            state=_least(
                line_state(row, line, came.get(line.id, Decimal(0)), today) for line in lines.get(row.id, [])
            ),
        )
        for row in rows
    ]  # fmt: skip


_ADVANCE = ("", "late", "ordered", "part delivered", "delivered")


def _least(states: Iterable[str]) -> str:
    return min(states, key=_ADVANCE.index, default="")


def line_state(order: PurchaseOrder, line: OrderLine, came: Decimal, today: date) -> str:
    """Where a line of an order stands; empty while the order is being made."""
    if order.ordered_on is None:
        return ""
    return Standing(Decimal(0), number_of(line.number), came, line.due).state(today)


def _cost(lines: Iterable[OrderLine]) -> Decimal:
    return sum((line.price * number_of(line.number) for line in lines if line.price), Decimal(0)).quantize(
        _CENT
    )


def order_view(actor: Actor, order_id: int) -> OrderView:
    """An order with its lines and what came of each."""
    row = find(PurchaseOrder, actor, order_id)
    lines = OrderLine.those(OrderLine.order, [row.id], OrderLine.position, OrderLine.id)
    resources = {each.id: each for each in Resource.those(Resource.id, {line.resource_id for line in lines})}
    deliveries: dict[int, list[Delivery]] = {}
    for each in Delivery.those(Delivery.line, [line.id for line in lines], Delivery.came_on, Delivery.id):
        deliveries.setdefault(each.line_id, []).append(each)
    supplier = Supplier.get_or_none((Supplier.project == actor.project_id) & (Supplier.name == row.supplier))
    today = now().date()
    return OrderView(
        id=row.id, version=row.version, number=row.number, supplier=row.supplier,
        email=supplier.email if supplier else "", note=row.note, ordered_on=row.ordered_on, cost=_cost(lines),
        lines=[
            _line_view(row, line, resources[line.resource_id], deliveries.get(line.id, []), today)
            for line in lines
        ],
    )  # fmt: skip


def _line_view(
    order: PurchaseOrder, line: OrderLine, resource: Resource, deliveries: list[Delivery], today: date
) -> OrderLineView:
    count = number_of(line.number)
    came = sum((number_of(each.number) for each in deliveries), Decimal(0))
    return OrderLineView(
        id=line.id, version=line.version, resource=resource.id, name=resource.name, unit=resource.unit,
        sold_by=line.sold_by, contains=line.contains, price=line.price, number=written(line.number),
        packs=count, holds=count * line.contains,
        cost=None if line.price is None else (line.price * count).quantize(_CENT), due=line.due, came=came,
        deliveries=[
            CameView(id=d.id, version=d.version, number=written(d.number), came_on=d.came_on)
            for d in deliveries
        ],
        state=line_state(order, line, came, today),
    )  # fmt: skip


def item_needs(actor: Actor, resource_id: int) -> list[ItemNeed]:
    """The items of the own bill that take a resource, with how much each does."""
    resource = find(Resource, actor, resource_id)
    project = Project.get_by_id(actor.project_id)
    of_items = exploded(project, own_bill(project.id).id)
    return _needs_of({item: own[resource.id] for item, own in of_items.items() if resource.id in own})


def _needs_of(of_items: Mapping[int, Takes]) -> list[ItemNeed]:
    items = Item.those(Item.id, list(of_items)[:MOST_ITEMS], Item.section, Item.position, Item.id)
    refs = refs_of(items)
    titles = {row.id: row.title for row in Section.those(Section.id, {item.section_id for item in items})}
    return [
        ItemNeed(
            id=item.id, ref=refs[item.id], section=titles[item.section_id], description=item.description,
            quantity=item.quantity, unit=item.unit, net=of_items[item.id].net.quantize(_SHOWN),
            gross=of_items[item.id].gross.quantize(_SHOWN), money=of_items[item.id].money.quantize(_CENT),
        )
        for item in items
    ]  # fmt: skip
