"""Bills, with their sections, items and adjustments."""

from __future__ import annotations

from peewee import CharField, DateField, DecimalField, ForeignKeyField, IntegerField, TextField

from .measure import Element
from .project import ProjectRow
from .rates import BuildUp


class Bill(ProjectRow):
    """A bill of quantities: the project's own, one received from a client, or one as it was issued, which
    stays."""

    derived = frozenset({"total"})

    kind = CharField(8, default="own")
    title = TextField()
    position = IntegerField(default=0)
    dated = DateField(null=True)
    total = DecimalField(18, 2, default=0)


class Section(ProjectRow):
    """``items_total`` is the sum of its own items, ``set_aside`` that of the provisional and prime cost
    sums among them."""

    derived = frozenset({"items_total", "set_aside"})

    bill = ForeignKeyField(Bill, backref="sections")
    parent = ForeignKeyField("self", null=True, backref="children")
    title = TextField()
    position = IntegerField()
    items_total = DecimalField(18, 2, default=0)
    set_aside = DecimalField(18, 2, default=0)


class Item(ProjectRow):
    """A bill item. Its quantity comes from its links, or is typed with a reason; a sum's amount is typed.

    ``size`` is what picks the band of a banded rate.
    ``number`` and ``client_text`` are the client's own, where the item came with a bill received.
    """

    derived = frozenset({"quantity", "rate", "amount"})

    section = ForeignKeyField(Section, backref="items")
    position = IntegerField()
    kind = CharField(12, default="measured")
    description = TextField()
    unit = CharField(8)
    typed_quantity = TextField(default="")
    typed_reason = TextField(default="")
    typed_amount = TextField(default="")
    typed_rate = TextField(default="")
    number = TextField(default="")
    client_text = TextField(default="")
    build_up = ForeignKeyField(BuildUp, null=True, backref="items")
    size = TextField(default="")
    quantity = DecimalField(18, 4, default=0)
    rate = DecimalField(18, 4, null=True)
    amount = DecimalField(18, 2, default=0)


class ItemLink(ProjectRow):
    """An item's share in one quantity line, named by its element and output; or in one part of it."""

    item = ForeignKeyField(Item, backref="links")
    element = ForeignKeyField(Element, backref="links")
    output = CharField(40)
    split = CharField(8, default="")
    part = TextField(default="")
    factor = TextField(default="1")

    class Meta:
        indexes = ((("item", "element", "output", "split", "part"), True),)


class Adjustment(ProjectRow):
    """A percentage at the foot of a bill."""

    bill = ForeignKeyField(Bill, backref="adjustments")
    position = IntegerField()
    name = TextField()
    percent = DecimalField(9, 4)
    base = TextField()
