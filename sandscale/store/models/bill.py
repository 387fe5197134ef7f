"""Bills, with their sections, items and adjustments."""

from __future__ import annotations

from peewee import BooleanField, CharField, DateField, DecimalField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .measure import Element
from .project import ProjectRow
from .rates import BuildUp
from .sheets import Revision, StoredFile


class Bill(ProjectRow):
    """A bill of quantities: the project's own, one received from a client, or one as it was issued, which
    stays.

    ``currency`` is its own; empty where it is the project's. ``period`` is how long the work takes, for
    time-related charges, such as ``26 weeks``.
    ``revision`` is the drawing's revision that it was kept before, to tell what that one moved.
    ``file`` is the client's workbook it was read from, ``layout`` which of its columns is what, by sheet.
    """

    derived = frozenset({"total"})

    kind = CharField(8, default="own")
    title = TextField()
    position = IntegerField(default=0)
    dated = DateField(null=True)
    currency = CharField(3, default="")
    period = TextField(default="")
    file = ForeignKeyField(StoredFile, null=True, backref="bills")
    layout = BinaryJSONField(default=dict, index=False)
    revision = ForeignKeyField(Revision, null=True, backref="bills")
    total = DecimalField(18, 2, default=0)


class Section(ProjectRow):
    """``items_total`` is the sum of its own items; of that ``set_aside`` are the provisional and prime cost
    sums, ``composite_total`` what is priced by several rates, ``preliminary_total`` the fixed and
    time-related charges. ``items_held`` is how many they are. ``number`` is the client's own."""

    derived = frozenset({"items_held", "items_total", "set_aside", "composite_total", "preliminary_total"})

    bill = ForeignKeyField(Bill, backref="sections")
    parent = ForeignKeyField("self", null=True, backref="children")
    title = TextField()
    position = IntegerField()
    number = TextField(default="")
    items_held = IntegerField(default=0)
    items_total = DecimalField(18, 2, default=0)
    set_aside = DecimalField(18, 2, default=0)
    composite_total = DecimalField(18, 2, default=0)
    preliminary_total = DecimalField(18, 2, default=0)


class Item(ProjectRow):
    """A bill item. Its quantity comes from its links, or is typed with a reason; a sum's amount is typed. Its
    rate is typed with a reason, or composed of its parts, or is a build-up's.

    ``size`` is what a banded or a reference rate is read at.
    ``number`` is its own where it isn't numbered by its place; ``client_text`` is the client's, and ``place``
    where it stands in their workbook (sheet and row), where the item came with a bill received.
    ``composite``: it was priced by several rates when its bill was issued.
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
    rate_reason = TextField(default="")
    note = TextField(default="")
    number = TextField(default="")
    client_text = TextField(default="")
    place = TextField(default="")
    build_up = ForeignKeyField(BuildUp, null=True, backref="items")
    size = TextField(default="")
    composite = BooleanField(default=False)
    quantity = DecimalField(18, 4, default=0)
    rate = DecimalField(18, 4, null=True)
    amount = DecimalField(18, 2, default=0)


class RatePart(ProjectRow):
    """One of the rates that an item's rate is composed of; ``factor`` is how many of its units one unit of
    the item takes, ``size`` what a banded or a reference rate is read at."""

    item = ForeignKeyField(Item, backref="parts")
    position = IntegerField()
    build_up = ForeignKeyField(BuildUp, backref="composing")
    factor = TextField()
    size = TextField(default="")


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
