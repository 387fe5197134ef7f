"""What is read of prices."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from ...core.pricing.build_up import Group
from ...core.pricing.quotes import Basis, Validity
from ...core.pricing.worked_out import Way
from ..keeping.views import View


class QuoteView(View):
    """A quote. ``contains`` is typed, ``holds`` what counts: that, or what its unit says; where neither
    tells, ``says`` why it isn't used."""

    id: int
    version: int
    supplier: str
    price: Decimal
    unit: str
    contains: Decimal | None
    holds: Decimal | None
    least: Decimal | None
    per_unit: Decimal | None
    quoted_on: date
    valid_to: date | None
    source: str
    answer: int | None
    used: bool
    validity: Validity
    says: str


class WorkedInput(View):
    """An input of a price that is worked out; ``unit`` with ``money`` for the currency, ``source`` the
    resource whose price it is, ``drawn``."""

    key: str
    label: str
    unit: str
    value: str
    needed: bool
    draws: bool
    source: int | None
    drawn: Decimal | None


class WorkedView(View):
    way: Way
    inputs: list[WorkedInput]


class ResourceView(View):
    id: int
    version: int
    name: str
    kind: Group
    unit: str
    basis: Basis
    chosen: int | None
    density: str
    density_source: str
    norm_low: Decimal | None
    norm_high: Decimal | None
    norm_source: str
    worked: WorkedView | None
    price: Decimal | None
    quotes: list[QuoteView]
    findings: list[str]
    used_in: int


class SupplierView(View):
    id: int
    version: int
    name: str
    email: str


class EnquiryBrief(View):
    """An enquiry; ``waited`` is how many prices were asked for and not answered, ``late`` whether the day for
    them is past."""

    id: int
    number: int
    title: str
    asked_on: date | None
    answer_by: date | None
    waited: int
    late: bool


class EnquiryLineView(View):
    """A resource that is asked for; ``needed`` is what the bill needs of it now."""

    id: int
    version: int
    resource: int
    name: str
    unit: str
    quantity: Decimal
    needed: Decimal


class AskedSupplier(View):
    """Who is asked, and what they still owe an answer for."""

    supplier: int
    name: str
    email: str
    waited: list[str]


class AnswerView(View):
    """What a supplier answered for a resource; ``quote`` where it was taken in."""

    id: int
    line: int
    resource: int
    name: str
    used_in: str
    supplier: str
    price: Decimal
    unit: str
    per_unit: Decimal | None
    least: Decimal | None
    quoted_on: date
    valid_to: date | None
    came_on: date
    source: str
    aside: bool
    quote: int | None
    says: str


class EnquiryView(EnquiryBrief):
    version: int
    words: str
    lines: list[EnquiryLineView]
    suppliers: list[AskedSupplier]
    answers: list[AnswerView]


class NeedView(View):
    """An item of the bill, and how much of a resource it needs, in the resource's unit."""

    id: int
    ref: str
    description: str
    quantity: Decimal
    unit: str
    needs: Decimal
