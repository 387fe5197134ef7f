"""Drawings, their sheets and what they hold."""

from __future__ import annotations

from peewee import (
    AutoField,
    BlobField,
    CharField,
    DateField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField

from .project import ProjectRow
from .rows import Row


class StoredFile(ProjectRow):
    name = TextField()
    media_type = TextField()
    sha256 = CharField(64)
    content = BlobField()


class Drawing(ProjectRow):
    number = TextField()
    title = TextField(default="")
    position = IntegerField()


class Revision(ProjectRow):
    drawing = ForeignKeyField(Drawing, backref="revisions")
    letter = CharField(8)
    received = DateField()
    file = ForeignKeyField(StoredFile)


class Sheet(ProjectRow):
    """One page of a revision. Sizes in sheet units (1/72 inch); the scale in metres per sheet unit.

    ``metres_per_unit_y`` is set where a scan is stretched; ``proof`` is a second known length and its picks;
    ``tally_at`` is where the totals stand on the sheet, empty when they don't.
    """

    revision = ForeignKeyField(Revision, backref="sheets")
    page = IntegerField()
    title = TextField(default="")
    width = DoubleField()
    height = DoubleField()
    metres_per_unit = DoubleField(null=True)
    metres_per_unit_y = DoubleField(null=True)
    scale_source = TextField(default="")
    proof = BinaryJSONField(default=dict, index=False)
    tally_at = BinaryJSONField(default=list, index=False)


class ScaleArea(ProjectRow):
    """A part of a sheet at a scale of its own; ``ring`` in sheet units."""

    sheet = ForeignKeyField(Sheet, backref="scale_areas")
    ring = BinaryJSONField(index=False)
    metres_per_unit = DoubleField()
    scale_source = TextField(default="")


class PageContent(Row):
    """What a page of a file was read to hold: its line work (float32 x1 y1 x2 y2 each) and words; worked
    out, never typed."""

    id = AutoField()
    file = ForeignKeyField(StoredFile, on_delete="CASCADE")
    page = IntegerField()
    segments = BlobField()
    words = BinaryJSONField(index=False)
    said = TextField(default="")

    class Meta:
        indexes = ((("file", "page"), True),)
