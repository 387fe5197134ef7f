"""Ordering: what is still to be bought gathered into orders, sent, and delivered."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from peewee import fn

from ...core.numbers.entry import kept, read_entry
from ...core.pricing.orders import packs
from ...core.refusals import BadEntry, Refusal
from ...settings import mail
from ...store.models import Delivery, OrderLine, Project, PurchaseOrder, Quote, Resource, Supplier, now
from ..bill.reading import own_bill
from ..keeping import jobs
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.recording import Recording, action, in_words, recording
from ..keeping.views import Saved
from .explosion import Takes, exploded, together
from .reading import Ordered, number_of, ordered_of, sold_of

LETTER = "order_letter"  # the job that sends one
MOST_LINES, MOST_PACKS = 400, 10**7
NOBODY = "Supplier to be chosen"


@action
def order_resources(actor: Actor, resource_ids: Iterable[int], deliveries: int = 1) -> Saved:
    """Orders of what is still to be bought of some resources, one for each supplier whose quotes price them;
    in whole packs, rounded up once, or in each of several deliveries.

    Raises:
        Refusal: nothing of them is still to be ordered.
    """
    project = Project.get_by_id(actor.project_id)
    rows = [find(Resource, actor, each) for each in dict.fromkeys(resource_ids)]
    taken, ordered = together(exploded(project, own_bill(project.id).id)), ordered_of(project.id)
    by_supplier: dict[str, list[dict[str, Any]]] = {}
    for row in rows:
        sold = sold_of(row, Quote.those(Quote.resource, [row.id], Quote.id), project)
        there = ordered.get(row.id, Ordered())
        left = taken.get(row.id, Takes()).gross - there.ordered - there.making
        if count := packs(left, sold.contains, deliveries):
            by_supplier.setdefault(sold.supplier or NOBODY, []).append(
                {
                    "resource": row.id, "quote": sold.quote, "sold_by": sold.sold_by, "price": sold.price,
                    "contains": sold.contains, "number": f"{count.normalize():f}",
                }
            )  # fmt: skip
    if not by_supplier:
        raise Refusal("Nothing of that is still to be ordered.", remedy="Choose something that is.")
    with recording(actor, f"{'Orders' if len(by_supplier) > 1 else 'Order'} made") as log:
        made = [_new_order(log, supplier, lines) for supplier, lines in by_supplier.items()]
    return log.saved(made[0])


def _new_order(log: Recording, supplier: str, lines: list[dict[str, Any]]) -> PurchaseOrder:
    last = PurchaseOrder.select(fn.MAX(PurchaseOrder.number)).where(PurchaseOrder.project == log.project.id)
    row = log.insert(PurchaseOrder, number=(last.scalar() or 0) + 1, supplier=supplier)
    log.insert_all(OrderLine, [{"order": row.id, "position": at, **line} for at, line in enumerate(lines)])
    return row


@action
def change_order(actor: Actor, order_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Say of whom an order is, or note something on it.

    Raises:
        BadEntry: it is of nobody.
        InUse: it is to be of somebody else, and was sent.
    """
    row = find(PurchaseOrder, actor, order_id)
    fields = {name: text.strip() for name, text in fields.items()}
    if fields.get("supplier") == "":
        raise BadEntry("An order is of somebody.", field="supplier")
    if fields.get("supplier", row.supplier) != row.supplier:
        _making(row)
    check_version(row, version, fields)
    with recording(actor, f"Order {row.number}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def send_order(actor: Actor, order_id: int) -> Saved:
    """Count an order as ordered from today; with a letter, where its supplier has an address and letters go
    out.

    Raises:
        InUse: it was ordered.
        Refusal: it orders nothing, or of nobody.
    """
    row = find(PurchaseOrder, actor, order_id)
    if row.ordered_on is not None:
        raise InUse(f"Order {row.number} was sent on {row.ordered_on:%d %b %Y}.", remedy="Make another.")
    if not row.lines.exists():
        raise Refusal(f"Order {row.number} orders nothing.", remedy="Delete it, or make another.")
    if row.supplier == NOBODY:
        raise Refusal(
            f"Order {row.number} has no supplier yet.",
            field="supplier",
            remedy="Say whose it is, then send it.",
        )
    supplier = Supplier.get_or_none((Supplier.project == actor.project_id) & (Supplier.name == row.supplier))
    with recording(actor, f"Order {row.number} sent to {row.supplier}") as log:
        log.update(row, ordered_on=now().date())
        if supplier is not None and supplier.email and mail():
            jobs.begin(actor, LETTER, {"order": row.id, "supplier": supplier.id})
    return log.saved(row)


@action
def delete_order(actor: Actor, order_id: int) -> Saved:
    """Take an order back, with its lines.

    Raises:
        InUse: something of it came.
    """
    row = find(PurchaseOrder, actor, order_id)
    lines = list(row.lines)
    if Delivery.those(Delivery.line, [line.id for line in lines]):
        raise InUse(f"Something of order {row.number} came already.", remedy="Take the deliveries out first.")
    with recording(actor, f"Order {row.number} taken back") as log:
        log.delete_all(lines)
        log.delete(row)
    return log.saved()


@action
def add_line(actor: Actor, order_id: int, resource_id: int, number: str = "1") -> Saved:
    """Another line of an order, as its resource is sold.

    Raises:
        BadEntry: it is for nothing or less.
        InUse: the order was sent.
    """
    row, resource = _making(find(PurchaseOrder, actor, order_id)), find(Resource, actor, resource_id)
    project = Project.get_by_id(actor.project_id)
    sold = sold_of(resource, Quote.those(Quote.resource, [resource.id], Quote.id), project)
    if row.lines.count() >= MOST_LINES:
        raise BadEntry(f"An order has up to {MOST_LINES} lines.", field="resource")
    fields = checked_line({"number": number})
    with recording(actor, f"Order {row.number}: {resource.name}") as log:
        made = log.insert(
            OrderLine, order=row.id, position=row.lines.count(), resource=resource.id, quote=sold.quote,
            sold_by=sold.sold_by, contains=sold.contains, price=sold.price, **fields,
        )  # fmt: skip
    return log.saved(made)


def _making(order: PurchaseOrder) -> PurchaseOrder:
    if order.ordered_on is not None:
        raise InUse(f"Order {order.number} was sent and stays as it is.", remedy="Make another for the rest.")
    return order


@action
def change_line(actor: Actor, line_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change how many packs a line orders, how they are sold or for what, or when they are due; once it is
    sent the day only.

    Raises:
        BadEntry: it is for nothing or less, or a pack holds nothing.
        InUse: the order was sent.
    """
    row = find(OrderLine, actor, line_id)
    fields = checked_line(fields)
    if fields.keys() - {"due"}:
        _making(row.order)
    check_version(row, version, fields)
    with recording(actor, f"Order {row.order.number}, {row.resource.name}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


def checked_line(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed of a line of an order, as it is kept.

    Raises:
        BadEntry: a value doesn't fit.
    """
    checked = dict(fields)
    if "number" in checked:
        checked["number"] = checked_number(checked["number"])
    if "sold_by" in checked:
        checked["sold_by"] = checked["sold_by"].strip()
        if not checked["sold_by"]:
            raise BadEntry("Say how it is sold.", field="sold_by")
    if checked.get("contains", Decimal(1)) <= 0:
        raise BadEntry("A pack holds more than nothing.", field="contains")
    if (price := checked.get("price")) is not None and price < 0:
        raise BadEntry("A price isn't below zero.", field="price")
    return checked


def checked_number(text: str) -> str:
    """How many packs, as they are kept.

    Raises:
        BadEntry: it can't be read, is nothing or less, or more than can be.
    """
    number = kept(text, "", field="number")
    if not 0 < read_entry(number, "", field="number") <= MOST_PACKS:
        raise BadEntry(
            f"“{text.strip()}” packs can't be ordered.", field="number", remedy="Type more than nothing."
        )
    return number


@action
def delete_line(actor: Actor, line_id: int) -> Saved:
    """Take a line out of an order that is being made.

    Raises:
        InUse: the order was sent.
    """
    row = find(OrderLine, actor, line_id)
    _making(row.order)
    with recording(actor, f"Order {row.order.number}: without {row.resource.name}") as log:
        log.delete(row)
    return log.saved()


@action
def add_delivery(actor: Actor, line_id: int, number: str, came_on: date) -> Saved:
    """Note that so many packs of a line came.

    Raises:
        BadEntry: it is for nothing, more than is ordered, or on a day before the order or to come.
        Refusal: the order wasn't sent.
    """
    row = find(OrderLine, actor, line_id)
    order = row.order
    if order.ordered_on is None:
        raise Refusal(f"Order {order.number} wasn't sent yet.", remedy="Send it first.")
    number = checked_number(number)
    came = sum((number_of(each.number) for each in row.deliveries), Decimal(0))
    if came + number_of(number) > number_of(row.number):
        left = number_of(row.number) - came
        raise BadEntry(
            f"Only {left.normalize():f} of {row.resource.name} are still to come.", field="number",
            remedy="Type what came of this order.",
        )  # fmt: skip
    if not order.ordered_on <= came_on <= now().date() + timedelta(days=1):
        raise BadEntry(
            f"It can't have come on {came_on:%d %b %Y}.", field="came_on",
            remedy="Type a day since it was ordered.",
        )  # fmt: skip
    with recording(actor, f"Order {order.number}: {number} of {row.resource.name} came") as log:
        made = log.insert(Delivery, line=row.id, number=number, came_on=came_on)
    return log.saved(made)


@action
def delete_delivery(actor: Actor, delivery_id: int) -> Saved:
    """Take back that something came."""
    row = find(Delivery, actor, delivery_id)
    with recording(actor, f"Order {row.line.order.number}: a delivery taken back") as log:
        log.delete(row)
    return log.saved()
