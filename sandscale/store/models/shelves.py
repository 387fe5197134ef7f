"""Shelves, and the documents on them."""

from __future__ import annotations

from peewee import AutoField, CharField, DateTimeField, ForeignKeyField, IntegerField, TextField

from .people import Person
from .rows import Row, now


class Shelf(Row):
    """A named collection of make-ups, tables and rules, shared by the people who belong to it."""

    id = AutoField()
    name = TextField()
    about = TextField(default="")


class ShelfMember(Row):
    id = AutoField()
    shelf = ForeignKeyField(Shelf, on_delete="CASCADE", backref="members")
    person = ForeignKeyField(Person, on_delete="CASCADE")

    class Meta:
        indexes = ((("shelf", "person"), True),)


class ShelfDocument(Row):
    """A document of a kind (see :mod:`sandscale.core.shelf`) on a shelf at a number; a later number takes
    the place of an earlier one, which stays. ``name`` and ``about`` are its text's."""

    id = AutoField()
    shelf = ForeignKeyField(Shelf, on_delete="CASCADE", backref="documents")
    kind = CharField(16)
    key = CharField(40)
    number = IntegerField()
    source = TextField()
    name = TextField(default="")
    about = TextField(default="")
    person = ForeignKeyField(Person, null=True, on_delete="SET NULL")
    at = DateTimeField(default=now)

    class Meta:
        indexes = ((("shelf", "kind", "key", "number"), True),)
