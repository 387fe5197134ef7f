"""What goes out: packages that were issued, the user's own forms, and live tables."""

from __future__ import annotations

from peewee import CharField, DateField, DateTimeField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .bill import Bill
from .people import Person
from .project import Project, ProjectRow
from .rows import Row, now
from .sheets import StoredFile


class IssuedPackage(ProjectRow):
    """Documents that were issued together, in one file, with the bill as it was.

    ``contents`` is their list: of each its title, form, file name, bytes and the numbers it tells.
    ``token`` is the request's own, so that a job done twice issues once.
    """

    number = IntegerField()
    title = TextField()
    note = TextField(default="")
    recipient = TextField(default="")
    issued_by = TextField()
    issued_on = DateField()
    bill = ForeignKeyField(Bill, backref="packages")
    file = ForeignKeyField(StoredFile, backref="packages")
    token = CharField(32)
    contents = BinaryJSONField(default=list, index=False)


class OwnForm(ProjectRow):
    """A workbook of the user's own, whose cells are filled with numbers of the project."""

    name = TextField()
    file = ForeignKeyField(StoredFile, backref="forms")


class FormCell(ProjectRow):
    """A cell of a form (``Cover!C4``) or a range it names, and the number it is filled with: a reference as
    the walk knows it."""

    form = ForeignKeyField(OwnForm, backref="cells")
    place = TextField()
    ref = TextField()


class LiveTable(Row):
    """A table of a project that whoever knows its key may read: only a hash of the key is kept. It reads as
    the person who made it, for as long as they belong to the project. Neither undone nor part of a project
    file."""

    project = ForeignKeyField(Project, on_delete="CASCADE")
    person = ForeignKeyField(Person, on_delete="CASCADE")
    what = CharField(16)
    name = TextField()
    key_hash = CharField(64, unique=True)
    made = DateTimeField(default=now)
    withdrawn = DateTimeField(null=True)
    read = DateTimeField(null=True)
