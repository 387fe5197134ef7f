"""What the inputs of allowances draw from the project."""

from __future__ import annotations

from peewee import CharField, ForeignKeyField

from .bill import Item
from .measure import Element
from .prices import Resource
from .project import ProjectRow


class InputDraw(ProjectRow):
    """An input of an element that is drawn: how much of a resource an item takes, by its rate; or a quantity
    line of another element. Several of one input add up."""

    element = ForeignKeyField(Element, backref="drawn")
    input = CharField(40)
    resource = ForeignKeyField(Resource, null=True)
    item = ForeignKeyField(Item, null=True)
    taken = ForeignKeyField(Element, null=True)
    taken_key = CharField(40, default="")
