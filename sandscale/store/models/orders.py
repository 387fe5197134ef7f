"""What is ordered of suppliers, when it is due, and what came."""

from __future__ import annotations

from peewee import DateField, DecimalField, ForeignKeyField, IntegerField, TextField

from .prices import Quote, Resource
from .project import ProjectRow


class PurchaseOrder(ProjectRow):
    """What is ordered together of a supplier; ``ordered_on`` is empty while it is being made."""

    number = IntegerField()
    supplier = TextField()
    note = TextField(default="")
    ordered_on = DateField(null=True)


class OrderLine(ProjectRow):
    """So many packs of a resource, as they are sold: ``contains`` units of it in one, for ``price``."""

    order = ForeignKeyField(PurchaseOrder, backref="lines")
    position = IntegerField()
    resource = ForeignKeyField(Resource, backref="order_lines")
    quote = ForeignKeyField(Quote, null=True, backref="order_lines")
    sold_by = TextField()
    contains = DecimalField(18, 6)
    price = DecimalField(18, 4, null=True)
    number = TextField()
    due = DateField(null=True)


class Delivery(ProjectRow):
    """How many packs of an order's line came on a day."""

    line = ForeignKeyField(OrderLine, backref="deliveries")
    number = TextField()
    came_on = DateField()
