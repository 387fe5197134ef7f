"""The tables. Every row of a project carries its project, so that access is one filter.

Typed entries (lengths, times, quantities) are kept as typed; their values are read when computed.
Columns named in ``Meta.derived`` are worked out from others: they are not logged, undone or exported.
"""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, ClassVar

from peewee import (
    AutoField,
    BlobField,
    BooleanField,
    CharField,
    DateField,
    DateTimeField,
    DecimalField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField

from .database import database


def now() -> datetime:
    """The time, in UTC without zone, as the tables keep it."""
    return datetime.now(UTC).replace(tzinfo=None)


class Row(Model):
    """Any row."""

    derived: ClassVar[frozenset[str]] = frozenset()

    class Meta:
        database = database
        legacy_table_names = False


class Person(Row):
    id = AutoField()
    name = TextField()
    email = TextField(unique=True)
    password_hash = TextField()


class Session(Row):
    """A signed-in browser: only a hash of its token is kept."""

    token_hash = CharField(64, primary_key=True)
    person = ForeignKeyField(Person, on_delete="CASCADE")
    csrf_token = CharField(64)
    expires = DateTimeField()


class SignInFailure(Row):
    """A wrong password, kept for a while so that guessing is slowed on every server."""

    id = AutoField()
    email = TextField()
    at = DateTimeField(default=now)

    class Meta:
        indexes = ((("email", "at"), False),)


class Project(Row):
    derived = frozenset({"bill_total"})

    id = AutoField()
    version = IntegerField(default=1)
    name = TextField()
    client = TextField(default="")
    currency = CharField(3, default="EUR")
    price_date = DateField()
    rounding = BinaryJSONField(default=dict, index=False)
    bill_total = DecimalField(18, 2, default=0)


class Membership(Row):
    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    person = ForeignKeyField(Person, on_delete="CASCADE")
    role = CharField(8)

    class Meta:
        indexes = ((("project", "person"), True),)


class ProjectRow(Row):
    """A row of a project; its version rises with every change."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    version = IntegerField(default=1)


class StoredFile(ProjectRow):
    name = TextField()
    media_type = TextField()
    sha256 = CharField(64)
    content = BlobField()


class Drawing(ProjectRow):
    number = TextField()
    title = TextField(default="")
    position = IntegerField()


class Revision(ProjectRow):
    drawing = ForeignKeyField(Drawing, backref="revisions")
    letter = CharField(8)
    received = DateField()
    file = ForeignKeyField(StoredFile)


class Sheet(ProjectRow):
    """One page of a revision. Sizes in sheet units (1/72 inch); the scale in metres per sheet unit."""

    revision = ForeignKeyField(Revision, backref="sheets")
    page = IntegerField()
    title = TextField(default="")
    width = DoubleField()
    height = DoubleField()
    metres_per_unit = DoubleField(null=True)
    scale_source = TextField(default="")


class Location(ProjectRow):
    name = TextField()
    position = IntegerField()


class OwnMakeUp(ProjectRow):
    """A make-up written for this project; ``source`` is its text."""

    key = CharField(40)
    source = TextField()

    class Meta:
        indexes = ((("project", "key"), True),)


class Element(ProjectRow):
    location = ForeignKeyField(Location, backref="elements")
    mark = TextField()
    description = TextField(default="")
    makeup = CharField(40)
    inputs = BinaryJSONField(default=dict, index=False)
    position = IntegerField()


class Figure(ProjectRow):
    """A shape on a sheet: ``geometry`` is {"points": …} for a count, {"outline": …, "voids": …} for an area."""

    sheet = ForeignKeyField(Sheet, backref="figures")
    element = ForeignKeyField(Element, backref="figures")
    kind = CharField(8)
    geometry = BinaryJSONField(index=False)


class DimensionLine(ProjectRow):
    element = ForeignKeyField(Element, backref="lines")
    position = IntegerField()
    times = TextField(default="")
    length = TextField(default="")
    width = TextField(default="")
    height = TextField(default="")
    deduct = BooleanField(default=False)
    note = TextField(default="")
    figure = ForeignKeyField(Figure, null=True, unique=True)


class QuantityLine(Row):
    """What an output of an element's make-up comes to; worked out, never typed."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    element = ForeignKeyField(Element, on_delete="CASCADE", backref="quantities")
    output = CharField(40)
    label = TextField()
    unit = CharField(8)
    family = CharField(16)
    net = DoubleField()
    waste = DoubleField()
    gross = DoubleField()

    class Meta:
        indexes = ((("element", "output"), True),)


class Resource(ProjectRow):
    derived = frozenset({"price"})

    name = TextField()
    kind = CharField(12)
    unit = CharField(8)
    basis = CharField(8, default="latest")
    chosen = IntegerField(null=True)
    price = DecimalField(18, 6, null=True)


class Quote(ProjectRow):
    resource = ForeignKeyField(Resource, backref="quotes")
    supplier = TextField()
    price = DecimalField(18, 4)
    unit = TextField()
    contains = DecimalField(18, 6, default=1)
    quoted_on = DateField()
    valid_to = DateField(null=True)
    source = TextField(default="")


class BuildUp(ProjectRow):
    """``output`` units are done in ``hours`` hours by the lines that work by output."""

    derived = frozenset({"rate"})

    name = TextField()
    unit = CharField(8)
    heading = TextField(default="")
    output = TextField(default="1")
    hours = TextField(default="1")
    rate = DecimalField(18, 4, null=True)


class BuildUpLine(ProjectRow):
    build_up = ForeignKeyField(BuildUp, backref="lines")
    position = IntegerField()
    group = CharField(12)
    basis = CharField(6)
    resource = ForeignKeyField(Resource, null=True)
    nested = ForeignKeyField(BuildUp, null=True, backref="used_in")
    quantity = TextField()
    allowance = DecimalField(9, 4, default=0)
    escalation = DecimalField(9, 4, default=0)


class Section(ProjectRow):
    parent = ForeignKeyField("self", null=True, backref="children")
    title = TextField()
    position = IntegerField()


class Item(ProjectRow):
    """A bill item. Its quantity comes from its links, or is typed with a reason."""

    derived = frozenset({"quantity", "rate", "amount"})

    section = ForeignKeyField(Section, backref="items")
    position = IntegerField()
    description = TextField()
    unit = CharField(8)
    typed_quantity = TextField(default="")
    typed_reason = TextField(default="")
    build_up = ForeignKeyField(BuildUp, null=True, backref="items")
    quantity = DecimalField(18, 4, default=0)
    rate = DecimalField(18, 4, null=True)
    amount = DecimalField(18, 2, default=0)


class ItemLink(ProjectRow):
    """An item's share in one quantity line, named by its element and output."""

    item = ForeignKeyField(Item, backref="links")
    element = ForeignKeyField(Element, backref="links")
    output = CharField(40)
    factor = TextField(default="1")

    class Meta:
        indexes = ((("item", "element", "output"), True),)


class Adjustment(ProjectRow):
    position = IntegerField()
    name = TextField()
    percent = DecimalField(9, 4)
    base = CharField(8)


class Change(Row):
    """One action of a person: what it was called, what it did to the bill, whether it stands."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    person = ForeignKeyField(Person, null=True)
    at = DateTimeField(default=now)
    label = TextField()
    kind = CharField(8, default="do")
    of = ForeignKeyField("self", null=True, column_name="of_id")
    state = CharField(8, default="done")
    bill_before = DecimalField(18, 2)
    bill_after = DecimalField(18, 2)


class ChangeEntry(Row):
    """One row touched by a change: what was (null: nothing) and what is (null: gone)."""

    id = AutoField()
    change = ForeignKeyField(Change, on_delete="CASCADE", backref="entries")
    table_name = TextField()
    row_id = IntegerField()
    before = BinaryJSONField(null=True, index=False)
    after = BinaryJSONField(null=True, index=False)

    class Meta:
        indexes = ((("table_name", "row_id"), False),)


# In the order rows can be written, so that what a row refers to stands before it.
PROJECT_TABLES: tuple[type[ProjectRow], ...] = (
    StoredFile, Drawing, Revision, Sheet, Location, OwnMakeUp, Element, Figure, DimensionLine, Resource, Quote,
    BuildUp, BuildUpLine, Section, Item, ItemLink, Adjustment,
)  # fmt: skip
ALL_TABLES: tuple[type[Row], ...] = (Person, Session, SignInFailure, Project, Membership, *PROJECT_TABLES, QuantityLine, Change, ChangeEntry)


def table_named(name: str) -> type[Any]:
    """The model of a table, by the name the change log keeps.

    Raises:
        KeyError: no table of a project has that name.
    """
    return {model._meta.table_name: model for model in (Project, *PROJECT_TABLES)}[name]
