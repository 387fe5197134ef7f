"""Trials: other values put down under a name, to see what they would do."""

from __future__ import annotations

from peewee import CharField, ForeignKeyField, IntegerField, TextField

from .project import ProjectRow


class Trial(ProjectRow):
    """Several other values that are tried together."""

    name = TextField()


class TrialChange(ProjectRow):
    """Another value for a field of the row that ``ref`` names (``line:3``), written plainly; ``was`` is what
    stood there when it was put down."""

    trial = ForeignKeyField(Trial, backref="changes")
    position = IntegerField()
    ref = TextField()
    field = CharField(40)
    value = TextField()
    was = TextField()
