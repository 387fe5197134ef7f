"""Resources and their quotes."""

from __future__ import annotations

from peewee import CharField, DateField, DecimalField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .project import ProjectRow


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
