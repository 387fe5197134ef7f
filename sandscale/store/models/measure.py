"""Elements, what is entered for them, and what they come to."""

from __future__ import annotations

from peewee import AutoField, BooleanField, CharField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .project import Project, ProjectRow
from .rows import Row
from .sheets import Sheet

# What is typed into a dimension line.
LINE_SIZES = ("length", "width", "height")
LINE_ENTRIES = ("times", *LINE_SIZES)
LINE_FIELDS = (*LINE_ENTRIES, "deduct", "note")


class Location(ProjectRow):
    name = TextField()
    position = IntegerField()


class OwnMakeUp(ProjectRow):
    """A make-up written for this project, or taken from a shelf at a number; ``source`` is its text.

    What was read and proved of it is kept: its kind (make-up or allowance), its name, what it is about, and
    what looks wrong with its bars, as (sentence, code, numbers).
    """

    derived = frozenset({"kind", "name", "about", "findings"})

    key = CharField(40)
    source = TextField()
    shelf = IntegerField(null=True)
    shelf_number = IntegerField(null=True)
    kind = CharField(12, default="make-up")
    name = TextField(default="")
    about = TextField(default="")
    findings = BinaryJSONField(default=list, index=False)

    class Meta:
        indexes = ((("project", "key"), True),)


class Element(ProjectRow):
    """A named thing to be built. ``measurer`` turns what was entered into quantity lines, and ``source`` is
    what it goes by: for a make-up its key. ``detailing`` names rules of its own for its bars; the project's
    when empty.

    ``findings`` are what looks wrong with it, as (line id or 0, sentence, whether a quantity is wrong by it,
    code, numbers).
    """

    derived = frozenset({"findings"})

    location = ForeignKeyField(Location, backref="elements")
    mark = TextField()
    description = TextField(default="")
    measurer = CharField(16, default="make-up")
    source = CharField(40)
    detailing = CharField(40, default="")
    inputs = BinaryJSONField(default=dict, index=False)
    position = IntegerField()
    findings = BinaryJSONField(default=list, index=False)


class Figure(ProjectRow):
    """A shape on a sheet: ``geometry`` is {"points": …} for a count, {"corners": …, "closed": …} for a run,
    {"outline": …, "voids": …, "depths": …} for an area. ``near`` where its drawing changed close to it, until
    someone has looked at it."""

    sheet = ForeignKeyField(Sheet, backref="figures")
    element = ForeignKeyField(Element, backref="figures")
    kind = CharField(8)
    geometry = BinaryJSONField(index=False)
    near = BooleanField(default=False)


class DimensionLine(ProjectRow):
    """A line of an element's dimension sheet: typed, from a figure, or taken from an output of another
    element, which it then follows."""

    element = ForeignKeyField(Element, backref="lines")
    position = IntegerField()
    times = TextField(default="")
    length = TextField(default="")
    width = TextField(default="")
    height = TextField(default="")
    deduct = BooleanField(default=False)
    note = TextField(default="")
    figure = ForeignKeyField(Figure, null=True, unique=True)
    taken_from = ForeignKeyField(Element, null=True, backref="taken_by")
    taken_output = CharField(40, default="")


class QuantityLine(Row):
    """One output of an element: what its measurer makes of what was entered; worked out, never typed."""

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
    position = IntegerField()
    headline = BooleanField()
    item = TextField()
    section = TextField()
    pack = TextField()
    always = BooleanField()

    class Meta:
        indexes = ((("element", "output"), True),)


class QuantityPart(Row):
    """A part of a quantity line by ``split`` (stage, stretch, band, layer or kind); a split's parts add up to
    the whole."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    element = ForeignKeyField(Element, on_delete="CASCADE", backref="parts")
    output = CharField(40)
    split = CharField(8)
    part = TextField()
    net = DoubleField()
    gross = DoubleField()

    class Meta:
        indexes = ((("element", "output", "split", "part"), True),)
