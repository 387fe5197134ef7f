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
    """One page of a revision. Sizes in sheet units (1/72 inch); the scale in metres per sheet unit.

    ``metres_per_unit_y`` is set where a scan is stretched; ``proof`` is a second known length and its picks;
    ``tally_at`` is where the totals stand on the sheet, empty when they don't.
    """

    revision = ForeignKeyField(Revision, backref="sheets")
    page = IntegerField()
    title = TextField(default="")
    width = DoubleField()
    height = DoubleField()
    metres_per_unit = DoubleField(null=True)
    metres_per_unit_y = DoubleField(null=True)
    scale_source = TextField(default="")
    proof = BinaryJSONField(default=dict, index=False)
    tally_at = BinaryJSONField(default=list, index=False)


class ScaleArea(ProjectRow):
    """A part of a sheet at a scale of its own; ``ring`` in sheet units."""

    sheet = ForeignKeyField(Sheet, backref="scale_areas")
    ring = BinaryJSONField(index=False)
    metres_per_unit = DoubleField()
    scale_source = TextField(default="")


class PageContent(Row):
    """What a page of a file was read to hold: its line work (float32 x1 y1 x2 y2 each) and words; worked
    out, never typed."""

    id = AutoField()
    file = ForeignKeyField(StoredFile, on_delete="CASCADE")
    page = IntegerField()
    segments = BlobField()
    words = BinaryJSONField(index=False)
    said = TextField(default="")

    class Meta:
        indexes = ((("file", "page"), True),)


class Location(ProjectRow):
    name = TextField()
    position = IntegerField()


class OwnMakeUp(ProjectRow):
    """A make-up written for this project, or taken from a shelf at a number; ``source`` is its text."""

    key = CharField(40)
    source = TextField()
    shelf = IntegerField(null=True)
    shelf_number = IntegerField(null=True)

    class Meta:
        indexes = ((("project", "key"), True),)


class Element(ProjectRow):
    """``findings`` are what looks wrong with its lines, as (line id, sentence, whether a quantity is wrong
    by it)."""

    derived = frozenset({"findings"})

    location = ForeignKeyField(Location, backref="elements")
    mark = TextField()
    description = TextField(default="")
    makeup = CharField(40)
    inputs = BinaryJSONField(default=dict, index=False)
    position = IntegerField()
    findings = BinaryJSONField(default=list, index=False)


class Figure(ProjectRow):
    """A shape on a sheet: ``geometry`` is {"points": …} for a count, {"corners": …, "closed": …} for a run,
    {"outline": …, "voids": …, "depths": …} for an area."""

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
    derived = frozenset({"price", "findings"})

    name = TextField()
    kind = CharField(12)
    unit = CharField(8)
    basis = CharField(8, default="latest")
    chosen = IntegerField(null=True)
    price = DecimalField(18, 6, null=True)
    findings = BinaryJSONField(default=list, index=False)


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
    """``output`` units are done in ``hours`` hours by the lines that work by output.

    A gang is a build-up of one hour of labour and plant working together; where it is drawn on, its lines
    count each
    in their own group.
    """

    derived = frozenset({"rate"})

    name = TextField()
    unit = CharField(8)
    heading = TextField(default="")
    output = TextField(default="1")
    hours = TextField(default="1")
    kind = CharField(8, default="rate")
    rate = DecimalField(18, 4, null=True)


class BuildUpLine(ProjectRow):
    build_up = ForeignKeyField(BuildUp, backref="lines")
    position = IntegerField()
    group = CharField(12)
    basis = CharField(8)
    percent_of = CharField(12, default="")
    resource = ForeignKeyField(Resource, null=True)
    nested = ForeignKeyField(BuildUp, null=True, backref="used_in")
    quantity = TextField()
    allowance = DecimalField(9, 4, default=0)
    escalation = DecimalField(9, 4, default=0)


class Section(ProjectRow):
    """``items_total`` is the sum of its own items, ``set_aside`` that of the provisional and prime cost
    sums among them."""

    derived = frozenset({"items_total", "set_aside"})

    parent = ForeignKeyField("self", null=True, backref="children")
    title = TextField()
    position = IntegerField()
    items_total = DecimalField(18, 2, default=0)
    set_aside = DecimalField(18, 2, default=0)


class Item(ProjectRow):
    """A bill item. Its quantity comes from its links, or is typed with a reason; a sum's amount is typed."""

    derived = frozenset({"quantity", "rate", "amount"})

    section = ForeignKeyField(Section, backref="items")
    position = IntegerField()
    kind = CharField(12, default="measured")
    description = TextField()
    unit = CharField(8)
    typed_quantity = TextField(default="")
    typed_reason = TextField(default="")
    typed_amount = TextField(default="")
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
    base = TextField()


class Shelf(Row):
    """A named collection of make-ups, shared by the people who belong to it."""

    id = AutoField()
    name = TextField()
    about = TextField(default="")


class ShelfMember(Row):
    id = AutoField()
    shelf = ForeignKeyField(Shelf, on_delete="CASCADE", backref="members")
    person = ForeignKeyField(Person, on_delete="CASCADE")

    class Meta:
        indexes = ((("shelf", "person"), True),)


class ShelfMakeUp(Row):
    """A make-up on a shelf at a number; a later number takes the place of an earlier one, which stays."""

    id = AutoField()
    shelf = ForeignKeyField(Shelf, on_delete="CASCADE", backref="makeups")
    key = CharField(40)
    number = IntegerField()
    source = TextField()
    person = ForeignKeyField(Person, null=True)
    at = DateTimeField(default=now)

    class Meta:
        indexes = ((("shelf", "key", "number"), True),)


class Invitation(Row):
    """A place in a project kept for someone who has no account yet: only a hash of its token is kept."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    email = TextField()
    role = CharField(8)
    token_hash = CharField(64, unique=True)
    expires = DateTimeField()


class Job(Row):
    """Long work, done off the request; ``done`` runs from 0 to 1, ``beat`` is the last sign of life of its
    worker."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    person = ForeignKeyField(Person, null=True, on_delete="CASCADE")
    kind = CharField(24)
    arguments = BinaryJSONField(default=dict, index=False)
    state = CharField(8, default="waiting", index=True)
    done = DoubleField(default=0)
    said = TextField(default="")
    result = BlobField(null=True)
    result_name = TextField(default="")
    made = DateTimeField(default=now)
    beat = DateTimeField(null=True)


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
    StoredFile, Drawing, Revision, Sheet, ScaleArea, Location, OwnMakeUp, Element, Figure, DimensionLine,
    Resource, Quote,
    BuildUp, BuildUpLine, Section, Item, ItemLink, Adjustment,
)  # fmt: skip
ALL_TABLES: tuple[type[Row], ...] = (
    Person, Session, SignInFailure, Project, Membership, *PROJECT_TABLES, QuantityLine, Change, ChangeEntry,
    PageContent,
    Shelf, ShelfMember, ShelfMakeUp, Invitation, Job,
)  # fmt: skip


def table_named(name: str) -> type[Any]:
    """The model of a table, by the name the change log keeps.

    Raises:
        KeyError: no table of a project has that name.
    """
    return {model._meta.table_name: model for model in (Project, *PROJECT_TABLES)}[name]
