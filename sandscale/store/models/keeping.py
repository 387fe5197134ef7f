"""Jobs and the change log."""

from __future__ import annotations

from peewee import (
    AutoField,
    BlobField,
    CharField,
    DateTimeField,
    DecimalField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField

from .people import Person
from .project import Project
from .rows import Row, now


class Job(Row):
    """Long work, done off the request: how far it is, from 0 to 1, how often it was begun, and what it
    made."""

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
    tries = IntegerField(default=0)


class Change(Row):
    """One action of a person (none once they have gone), or figures handed in by slow work (``kind`` is
    then ``worked``): what it was called, what it did to the bill, whether it stands; ``moved`` are the ids of
    what it moved, by node (``moved_by`` reads them)."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE", index=False)
    person = ForeignKeyField(Person, null=True, on_delete="SET NULL")
    at = DateTimeField(default=now)
    label = TextField()
    kind = CharField(8, default="do")
    of = ForeignKeyField("self", null=True, column_name="of_id")
    state = CharField(8, default="done")
    bill_before = DecimalField(18, 2)
    bill_after = DecimalField(18, 2)
    moved = BinaryJSONField(default=dict, index=False)

    class Meta:
        indexes = ((("project", "id"), False),)


class Telling(Row):
    """What a change moved, as its writer's tab was told; kept a short while, for colleagues' tabs."""

    change = ForeignKeyField(Change, primary_key=True, on_delete="CASCADE")
    body = TextField()
    at = DateTimeField(default=now)


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


class BeingWorkedOut(Row):
    """A derived figure whose slow work isn't done: which row of which node, and what the work was asked
    with."""

    id = AutoField()
    project = ForeignKeyField(Project, on_delete="CASCADE")
    node = TextField()
    row_id = IntegerField()
    fingerprint = CharField(64)
    job = ForeignKeyField(Job, on_delete="CASCADE")
    since = DateTimeField(default=now)

    class Meta:
        indexes = ((("node", "row_id"), True),)
