"""A project: what all its rows hang on."""

from __future__ import annotations

from peewee import (
    AutoField,
    BigIntegerField,
    CharField,
    DateField,
    DecimalField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField

from ...core.numbers.ways import WORKING_DAY
from .rows import Row


class Project(Row):
    """One job. ``detailing`` names the rules its bars follow; the standard ones when empty. ``numbers`` is
    one written as the project writes them; empty where it hasn't said. ``working_day`` is in hours. How many
    rows it holds, and bytes of files, is counted as they come and go."""

    derived = frozenset({"bill_total", "rows_held", "bytes_held"})

    id = AutoField()
    version = IntegerField(default=1)
    name = TextField()
    client = TextField(default="")
    currency = CharField(3, default="EUR")
    price_date = DateField()
    detailing = CharField(40, default="")
    unit_system = CharField(8, default="metric")
    numbers = CharField(8, default="")
    working_day = DoubleField(default=WORKING_DAY)
    rounding = BinaryJSONField(default=dict, index=False)
    bill_total = DecimalField(18, 2, default=0)
    rows_held = IntegerField(default=0)
    bytes_held = BigIntegerField(default=0)


class ProjectRow(Row):
    """A row of a project; its version rises with every change."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    version = IntegerField(default=1)
