"""Drawings, their sheets and what they hold."""

from __future__ import annotations

from peewee import (
    AutoField,
    BlobField,
    BooleanField,
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
    sha256 = CharField(64, index=True)
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
    ``tally_at`` is where the totals stand on the sheet, empty when they don't; ``hidden`` are the layers that
    aren't shown. ``follows`` is the sheet of the former revision that this one was laid over, and ``lay``
    how: {"turn": [re, im], "shift": [re, im], "share": …, "by": lines, picks or paper, "places": how many
    differ}. ``stood`` are the figures of a sheet that was followed, as they stood on it: [mark, family, kind,
    points, closed, voids, shows] each.
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
    hidden = BinaryJSONField(default=list, index=False)
    follows = ForeignKeyField("self", null=True, backref="followed_by")
    lay = BinaryJSONField(default=dict, index=False)
    stood = BinaryJSONField(default=list, index=False)


class ScaleArea(ProjectRow):
    """A part of a sheet at a scale of its own; ``ring`` in sheet units."""

    sheet = ForeignKeyField(Sheet, backref="scale_areas")
    ring = BinaryJSONField(index=False)
    metres_per_unit = DoubleField()
    scale_source = TextField(default="")


class ChangedPlace(ProjectRow):
    """A place where a sheet differs from the one it follows: its box, the lines (x1, y1, x2, y2) and words
    (text, left, bottom, width, height) that went and came, in sheet units; ``size`` their length.
    ``looked`` once someone has looked at it."""

    sheet = ForeignKeyField(Sheet, backref="places")
    box = BinaryJSONField(index=False)
    size = DoubleField()
    gone = BinaryJSONField(index=False)
    came = BinaryJSONField(index=False)
    words_gone = BinaryJSONField(index=False)
    words_came = BinaryJSONField(index=False)
    looked = BooleanField(default=False)


class PageContent(Row):
    """What a page of a file was read to hold: its line work (float32 x1 y1 x2 y2 each) and words; worked
    out, never typed. Of a DXF also the page drawn as a PDF, its layers (name, whether the file shows it), and
    the number of the layer that each line lies on (uint16); a word's layer is its sixth part."""

    id = AutoField()
    file = ForeignKeyField(StoredFile, on_delete="CASCADE")
    page = IntegerField()
    segments = BlobField()
    words = BinaryJSONField(index=False)
    said = TextField(default="")
    drawn = BlobField(null=True)
    layers = BinaryJSONField(default=list, index=False)
    segment_layers = BlobField(default=b"")

    class Meta:
        indexes = ((("file", "page"), True),)
