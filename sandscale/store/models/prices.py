"""Resources and their quotes; enquiries, whom they go to and what is answered."""

from __future__ import annotations

from peewee import BooleanField, CharField, DateField, DecimalField, ForeignKeyField, IntegerField, TextField
from playhouse.postgres_ext import BinaryJSONField

from .project import ProjectRow


class Resource(ProjectRow):
    """What is bought or hired. ``density`` as typed, for what is sold by mass and used by volume;
    ``norm_low`` and ``norm_high`` what the firm expects a unit to cost, and whose norm that is; ``worked`` by
    which way its price is worked out, and the inputs that were typed."""

    derived = frozenset({"price", "findings"})

    name = TextField()
    kind = CharField(12)
    unit = CharField(8)
    basis = CharField(8, default="latest")
    chosen = IntegerField(null=True)
    density = TextField(default="")
    density_source = TextField(default="")
    norm_low = DecimalField(18, 6, null=True)
    norm_high = DecimalField(18, 6, null=True)
    norm_source = TextField(default="")
    worked = BinaryJSONField(default=dict, index=False)
    price = DecimalField(18, 6, null=True)
    findings = BinaryJSONField(default=list, index=False)


class PriceDraw(ProjectRow):
    """An input of a price that is worked out, which is another resource's price."""

    resource = ForeignKeyField(Resource, backref="draws")
    source = ForeignKeyField(Resource, backref="drawn_by")
    input = CharField(16)


class Supplier(ProjectRow):
    """Who is asked for prices."""

    name = TextField()
    email = TextField(default="")


class Enquiry(ProjectRow):
    """Resources that suppliers are asked to price; ``asked_on`` is empty until it was sent."""

    number = IntegerField()
    title = TextField(default="")
    words = TextField(default="")
    answer_by = DateField(null=True)
    asked_on = DateField(null=True)


class EnquiryLine(ProjectRow):
    """A resource that is asked for, and how much of it, in its unit."""

    enquiry = ForeignKeyField(Enquiry, backref="lines")
    resource = ForeignKeyField(Resource, backref="asked_in")
    quantity = DecimalField(18, 6)


class EnquirySupplier(ProjectRow):
    """A supplier an enquiry goes to."""

    enquiry = ForeignKeyField(Enquiry, backref="suppliers")
    supplier = ForeignKeyField(Supplier, backref="asked")


class Answer(ProjectRow):
    """What a supplier answered for a resource, as it came; ``aside`` where it was looked at and not taken."""

    enquiry = ForeignKeyField(Enquiry, backref="answers")
    supplier = ForeignKeyField(Supplier)
    resource = ForeignKeyField(Resource)
    price = DecimalField(18, 4)
    unit = TextField()
    least = DecimalField(18, 6, null=True)
    quoted_on = DateField()
    valid_to = DateField(null=True)
    source = TextField(default="")
    came_on = DateField()
    aside = BooleanField(default=False)


class Quote(ProjectRow):
    """A price for ``contains`` units of the resource; where that is empty, for what ``unit`` says it holds.
    ``least`` units are sold at least. ``answer`` is what it was taken from."""

    resource = ForeignKeyField(Resource, backref="quotes")
    supplier = TextField()
    price = DecimalField(18, 4)
    unit = TextField()
    contains = DecimalField(18, 6, null=True)
    least = DecimalField(18, 6, null=True)
    quoted_on = DateField()
    valid_to = DateField(null=True)
    source = TextField(default="")
    answer = ForeignKeyField(Answer, null=True, backref="quotes")
