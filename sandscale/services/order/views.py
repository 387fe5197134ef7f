"""What is read of what is to be bought, and of orders."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from ...core.pricing.build_up import Group
from ...core.pricing.orders import OrderState
from ..keeping.views import View


class BuyView(View):
    """A resource that the bill needs: net, with waste, what that costs by its price; how it is bought:
    ``packs`` still to order of ``contains`` each, of whom, for how much; and what is ordered and came of it,
    in its unit."""

    resource: int
    name: str
    kind: Group
    unit: str
    net: Decimal
    gross: Decimal
    money: Decimal
    sold_by: str
    contains: Decimal
    supplier: str
    quote: int | None
    pack_price: Decimal | None
    packs: Decimal
    cost: Decimal | None
    being_ordered: Decimal
    ordered: Decimal
    delivered: Decimal
    due: date | None
    state: OrderState
    says: str


class OrderBrief(View):
    """An order in a list; ``state`` is where its least advanced line stands, empty while it is being made."""

    id: int
    number: int
    supplier: str
    ordered_on: date | None
    cost: Decimal
    lines: int
    state: str


class OrderingView(View):
    """What the bill needs, and the orders there are; hours of labour and plant together; ``unexplained`` is
    the items' money that is in no resource."""

    resources: list[BuyView]
    orders: list[OrderBrief]
    labour_hours: Decimal
    plant_hours: Decimal
    unexplained: Decimal


class CameView(View):
    id: int
    version: int
    number: str
    came_on: date


class OrderLineView(View):
    """A line of an order: so many packs; ``holds`` is what they hold in the resource's unit."""

    id: int
    version: int
    resource: int
    name: str
    unit: str
    sold_by: str
    contains: Decimal
    price: Decimal | None
    number: str
    packs: Decimal
    holds: Decimal
    cost: Decimal | None
    due: date | None
    came: Decimal
    deliveries: list[CameView]
    state: str


class OrderView(View):
    id: int
    version: int
    number: int
    supplier: str
    email: str
    note: str
    ordered_on: date | None
    cost: Decimal
    lines: list[OrderLineView]


class ItemNeed(View):
    """How much of a resource an item of the bill takes."""

    id: int
    ref: str
    section: str
    description: str
    quantity: Decimal
    unit: str
    net: Decimal
    gross: Decimal
    money: Decimal


class GroupNeed(View):
    """How much of a resource a section or stage takes."""

    resource: int
    name: str
    kind: Group
    unit: str
    net: Decimal
    gross: Decimal
    money: Decimal


class NeedGroup(View):
    """What a section or stage takes."""

    name: str
    money: Decimal
    rows: list[GroupNeed]


class OrderedElements(View):
    """Elements whose materials are all ordered, and those for which something is missing."""

    ordered: list[int]
    missing: list[int]
