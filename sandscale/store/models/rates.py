"""Build-ups and their lines."""

from __future__ import annotations

from peewee import CharField, DecimalField, ForeignKeyField, IntegerField, TextField

from .prices import Resource
from .project import ProjectRow


class BuildUp(ProjectRow):
    """``output`` units are done in ``hours`` hours by the lines that work by output.

    A gang is a build-up of one hour of labour and plant working together; where it is drawn on, its lines
    count each in their own group. ``cost`` is what it comes to unrounded, which other rates draw on;
    ``rate`` is that with ``added`` percent of the cost or the price (``added_on``), as the bill shows it.

    A reference is a table of known costs by size: what its sizes are (``sized_by``: thickness) and in which
    unit, with its source and year. It comes to nothing by itself; lines that draw on it say at which size."""

    derived = frozenset({"cost", "rate"})

    name = TextField()
    unit = CharField(8)
    heading = TextField(default="")
    output = TextField(default="1")
    hours = TextField(default="1")
    kind = CharField(12, default="rate")
    added = DecimalField(9, 4, default=0)
    added_on = CharField(8, default="cost")
    note = TextField(default="")
    sized_by = TextField(default="")
    sized_in = CharField(8, default="")
    source = TextField(default="")
    year = TextField(default="")
    cost = DecimalField(28, 12, null=True)
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
    size = TextField(default="")
    note = TextField(default="")


class ReferenceSize(ProjectRow):
    """What a reference tells at a size: money per unit, of its parts or as a whole."""

    build_up = ForeignKeyField(BuildUp, backref="sizes")
    size = TextField()
    labour = DecimalField(18, 6, null=True)
    plant = DecimalField(18, 6, null=True)
    material = DecimalField(18, 6, null=True)
    whole = DecimalField(18, 6, null=True)
