"""A project: what all its rows hang on."""

from __future__ import annotations

from peewee import AutoField, CharField, DateField, DecimalField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .rows import Row


class Project(Row):
    """One job. ``detailing`` names the rules its bars follow; the standard ones when empty."""

    derived = frozenset({"bill_total"})

    id = AutoField()
    version = IntegerField(default=1)
    name = TextField()
    client = TextField(default="")
    currency = CharField(3, default="EUR")
    price_date = DateField()
    detailing = CharField(40, default="")
    rounding = BinaryJSONField(default=dict, index=False)
    bill_total = DecimalField(18, 2, default=0)


class ProjectRow(Row):
    """A row of a project; its version rises with every change."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    version = IntegerField(default=1)
