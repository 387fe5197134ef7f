"""The order stage: what the bill needs, what to buy, orders and deliveries."""

from __future__ import annotations

from typing import Any

from flask import g
from pydantic import RootModel

from ..services.keeping.views import Saved
from ..services.order import actions, grouped, reading
from ..services.order.views import ItemNeed, NeedGroup, OrderedElements, OrderingView, OrderView
from .api import answers, api, stage, writes
from .bill_schemas import NeedsAsked, NewDelivery, NewOrder, NewOrderLine, OrderChange, OrderLineChange

blueprint = stage("order")


class ItemNeeds(RootModel[list[ItemNeed]]):
    """The items that take a resource."""


class NeedGroups(RootModel[list[NeedGroup]]):
    """What the bill needs, by groups."""


@blueprint.get("/orders")
@api.validate(resp=answers(OrderingView))
def ordering() -> OrderingView:
    """What the bill needs of each resource, and the orders there are."""
    return reading.ordering_view(g.actor)


@blueprint.get("/orders/needs/<int:resource>")
@api.validate(resp=answers(ItemNeeds))
def needs(resource: int) -> Any:
    """The items of the bill that take a resource."""
    return ItemNeeds(reading.item_needs(g.actor, resource))


@blueprint.get("/orders/needs")
@api.validate(query=NeedsAsked, resp=answers(NeedGroups))
def grouped_needs(query: NeedsAsked) -> Any:
    """What the bill needs by section or by stage."""
    return NeedGroups(grouped.needed_by(g.actor, query.by))


@blueprint.get("/orders/elements")
@api.validate(resp=answers(OrderedElements))
def elements() -> OrderedElements:
    """Which elements' materials are ordered."""
    return grouped.ordered_elements(g.actor)


@blueprint.post("/orders")
@writes
def order(json: NewOrder) -> Saved:
    """Make orders of what is still to be bought of some resources."""
    return actions.order_resources(g.actor, json.resources, json.deliveries)


@blueprint.get("/orders/<int:order_id>")
@api.validate(resp=answers(OrderView))
def one(order_id: int) -> OrderView:
    """An order."""
    return reading.order_view(g.actor, order_id)


@blueprint.patch("/orders/<int:order_id>")
@writes
def change(order_id: int, json: OrderChange) -> Saved:
    """Change an order's supplier or note."""
    return actions.change_order(g.actor, order_id, json.version, json.given())


@blueprint.post("/orders/<int:order_id>/send")
@writes
def send(order_id: int) -> Saved:
    """Send an order."""
    return actions.send_order(g.actor, order_id)


@blueprint.delete("/orders/<int:order_id>")
@writes
def delete(order_id: int) -> Saved:
    """Take an order back."""
    return actions.delete_order(g.actor, order_id)


@blueprint.post("/orders/<int:order_id>/lines")
@writes
def add_line(order_id: int, json: NewOrderLine) -> Saved:
    """Add a line to an order."""
    return actions.add_line(g.actor, order_id, json.resource, json.number)


@blueprint.patch("/order-lines/<int:order_line>")
@writes
def change_line(order_line: int, json: OrderLineChange) -> Saved:
    """Change a line of an order."""
    return actions.change_line(g.actor, order_line, json.version, json.given())


@blueprint.delete("/order-lines/<int:order_line>")
@writes
def delete_line(order_line: int) -> Saved:
    """Take a line out of an order."""
    return actions.delete_line(g.actor, order_line)


@blueprint.post("/order-lines/<int:order_line>/deliveries")
@writes
def add_delivery(order_line: int, json: NewDelivery) -> Saved:
    """Note that something came."""
    return actions.add_delivery(g.actor, order_line, json.number, json.came_on)


@blueprint.delete("/deliveries/<int:delivery>")
@writes
def delete_delivery(delivery: int) -> Saved:
    """Take back that something came."""
    return actions.delete_delivery(g.actor, delivery)
