"""Build-ups and their lines."""

from __future__ import annotations

from peewee import CharField, DecimalField, ForeignKeyField, IntegerField, TextField

from .measure import Element
from .prices import Resource
from .project import ProjectRow


class BuildUp(ProjectRow):
    """``output`` units are done in ``hours`` hours by the lines that work by output.

    A gang is a build-up of one hour of labour and plant working together; where it is drawn on, its lines
    count each in their own group. ``takes`` is what its lines take for its units; ``cost`` is what that comes
    to unrounded, which other rates draw on; ``rate`` is that with ``added`` percent of the cost or the price
    (``added_on``), as the bill shows it.

    A reference is a table of known costs by size: what its sizes are (``sized_by``: thickness) and in which
    unit, with its source and year. It comes to nothing by itself; lines that draw on it say at which size. So
    does a banded rate, which items draw on as well.

    ``output_taken`` and ``hours_taken`` are elements whose quantity lines of those keys stand for the output
    and its hours."""

    derived = frozenset({"takes", "cost", "rate"})

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
    takes = TextField(null=True)
    cost = DecimalField(28, 12, null=True)
    rate = DecimalField(18, 4, null=True)
    output_taken = ForeignKeyField(Element, null=True, backref="outputs_of")
    output_key = CharField(40, default="")
    hours_taken = ForeignKeyField(Element, null=True, backref="hours_of")
    hours_key = CharField(40, default="")


class BuildUpLine(ProjectRow):
    """``taken`` is an element whose quantity line of that key stands for the quantity, which is then kept as
    it was typed before."""

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
    taken = ForeignKeyField(Element, null=True, backref="rate_lines")
    taken_key = CharField(40, default="")


class ReferenceSize(ProjectRow):
    """What a reference tells at a size: money per unit, of its parts or as a whole."""

    build_up = ForeignKeyField(BuildUp, backref="sizes")
    size = TextField()
    labour = DecimalField(18, 6, null=True)
    plant = DecimalField(18, 6, null=True)
    material = DecimalField(18, 6, null=True)
    whole = DecimalField(18, 6, null=True)


class RateBand(ProjectRow):
    """What a banded rate costs from a limit up to, and not at, another, as typed; empty where it has no end
    there. ``nested`` is the rate it takes; where there is none, ``price`` is money per unit."""

    build_up = ForeignKeyField(BuildUp, backref="bands")
    low = TextField(default="")
    below = TextField(default="")
    nested = ForeignKeyField(BuildUp, null=True, backref="banded_in")
    price = DecimalField(18, 6, null=True)
