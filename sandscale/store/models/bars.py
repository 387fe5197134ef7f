"""Bars: rules of detailing, typed bars, the schedule and its issues, and how bars are cut."""

from __future__ import annotations

from peewee import CharField, DateField, DoubleField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .measure import Element
from .project import Project, ProjectRow
from .rows import Row


class OwnDetailing(ProjectRow):
    """A set of detailing rules written for this project, or taken from a shelf at a number; ``source`` is its
    text."""

    key = CharField(40)
    name = TextField()
    source = TextField()
    shelf = IntegerField(null=True)
    shelf_number = IntegerField(null=True)

    class Meta:
        indexes = ((("project", "key"), True),)


class TypedBar(ProjectRow):
    """Bars of one mark as an engineer's schedule has them, of an element of typed bars. Entries are kept as
    typed: ``legs`` by letter, bare numbers in mm; ``corners`` of a shape of one's own in mm; ``mass`` per
    metre, where it was told."""

    element = ForeignKeyField(Element, backref="typed_bars")
    position = IntegerField()
    mark = TextField(default="")
    size = CharField(8)
    members = TextField(default="1")
    each = TextField(default="1")
    shape = CharField(2, default="00")
    legs = BinaryJSONField(default=dict, index=False)
    corners = BinaryJSONField(default=list, index=False)
    mass = TextField(default="")
    note = TextField(default="")


class BarMark(ProjectRow):
    """A mark that was typed over the one by rule; ``key`` is the bar's among those of its element."""

    element = ForeignKeyField(Element, backref="bar_marks")
    key = CharField(48)
    mark = TextField()

    class Meta:
        indexes = ((("element", "key"), True),)


class BarIssue(ProjectRow):
    """The schedule as it was issued under a revision letter: ``rows`` by member and mark, each with the
    letter of its last change."""

    letter = CharField(4)
    issued = DateField()
    by = TextField(default="")
    rows = BinaryJSONField(default=dict, index=False)


class Cutting(ProjectRow):
    """Which bars are cut together, and from what: ``stock`` lengths and what a cut takes as typed, those of
    the rules where nothing is. All members, unless some are named."""

    name = TextField()
    position = IntegerField()
    stock = TextField(default="")
    blade = TextField(default="")


class CutMember(ProjectRow):
    """An element whose bars a cutting is of."""

    cutting = ForeignKeyField(Cutting, backref="chosen")
    element = ForeignKeyField(Element, backref="cut_in")

    class Meta:
        indexes = ((("cutting", "element"), True),)


class OffCut(ProjectRow):
    """Pieces kept from before, which a cutting uses first."""

    cutting = ForeignKeyField(Cutting, backref="offcuts")
    size = CharField(8)
    length = TextField()
    number = TextField(default="1")


class BarLine(Row):
    """A line of the bending schedule, worked out: bars of one mark in an element. ``key`` is the bar's among
    those of its element; ``legs`` are (letter, size) in m, ``outline`` is in mm; ``typed`` is the typed bar
    it is of, ``line`` the first dimension line it comes from. ``findings`` are (sentence, code)."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    element = ForeignKeyField(Element, on_delete="CASCADE", backref="bars")
    position = IntegerField()
    key = CharField(48)
    mark = TextField()
    label = TextField()
    output = CharField(40)
    grade = CharField(2)
    size = CharField(8)
    members = DoubleField()
    each = DoubleField()
    total = DoubleField()
    shape = CharField(2)
    legs = BinaryJSONField(default=list, index=False)
    outline = BinaryJSONField(default=list, index=False)
    cut = DoubleField()
    length = DoubleField()
    mass = DoubleField()
    line = IntegerField(null=True)
    typed = IntegerField(null=True)
    findings = BinaryJSONField(default=list, index=False)

    class Meta:
        indexes = ((("element", "key"), True), (("project", "element"), False))


class CutPlan(Row):
    """How the bars of one size are cut, worked out: ``plan`` as the core gives it, of a demand whose print is
    kept so that what hasn't changed isn't cut anew."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    cutting = ForeignKeyField(Cutting, on_delete="CASCADE", backref="plans")
    size = CharField(8)
    fingerprint = CharField(64)
    plan = BinaryJSONField(default=dict, index=False)

    class Meta:
        indexes = ((("cutting", "size"), True),)
