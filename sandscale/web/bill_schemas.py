"""The bodies of requests about bills, trials, orders and what goes out."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from ..core.measurers.measurer import Split
from ..core.pricing.bill import ItemKind
from ..core.pricing.bill_columns import BillColumn
from ..core.pricing.merging import Choice
from ..core.pricing.shares import GROUPED_BY, GroupedBy
from .schemas import Body, Number, Text, Versioned, Window


class NewSection(Body):
    title: Text
    parent: int | None = None
    bill: int | None = None


class NewItem(Body):
    section: int
    kind: ItemKind = "measured"
    description: Text
    unit: Text = "nr"
    typed_quantity: Text = ""
    typed_reason: Text = ""
    typed_amount: Text = ""
    typed_rate: Text = ""
    rate_reason: Text = ""
    number: Text = ""
    note: Text = ""
    client_text: Text = ""
    build_up: int | None = None
    after: int | None = None


class ItemOfBlock(Body):
    """An item of a block: an existing one with its version, or a new one; only the fields named are written.
    ``rate`` is the name of a rate, or a number."""

    item: int | None = None
    version: int = 0
    kind: ItemKind = "measured"
    description: Text = ""
    unit: Text = ""
    typed_quantity: Text = ""
    typed_amount: Text = ""
    rate: Text = ""
    number: Text = ""
    size: Text = ""


class ItemBlock(Body):
    section: int
    items: Annotated[list[ItemOfBlock], Field(min_length=1, max_length=5_000)]


class ItemChange(Versioned):
    section: int = 0
    kind: ItemKind = "measured"
    description: Text = ""
    unit: Text = ""
    typed_quantity: Text = ""
    typed_reason: Text = ""
    typed_amount: Text = ""
    typed_rate: Text = ""
    rate_reason: Text = ""
    number: Text = ""
    note: Text = ""
    client_text: Text = ""
    build_up: int | None = None
    size: Text = ""


class NewPart(Body):
    """A rate that an item's is to be composed with."""

    build_up: int
    factor: Text = "1"
    size: Text = ""


class PartChange(Versioned):
    factor: Text = ""
    size: Text = ""


class BillAsked(Body):
    """Which bill; the project's own when none is named."""

    bill: int | None = None


class BillWindow(Window):
    """A window of the items of a bill; of the project's own when none is named."""

    bill: int | None = None


class BillChange(Versioned):
    title: Text = ""
    period: Text = ""


class NewIssued(Body):
    title: Text
    dated: date


class Comparing(Body):
    """Two bills to be held against one another."""

    before: int
    after: int


class ReportAsked(Body):
    """What a bill is reported by, separated by commas; which adjustments count, and whether subcontract
    does."""

    by: Text
    bill: int | None = None
    adjustments: Text = ""
    subcontract: bool = True

    def tables(self) -> list[GroupedBy]:
        return [each for each in GROUPED_BY if each in self.by.split(",")]

    def chosen(self) -> list[int]:
        return [int(each) for each in self.adjustments.split(",") if each.strip().isdecimal()]


class Merging(Body):
    """A bill to be brought into another: where its sections go (none: a new one), what is taken where both
    have an item otherwise."""

    into: int
    sections: Annotated[dict[int, int | None], Field(max_length=2_000, default_factory=dict)]
    choices: Annotated[dict[int, Choice], Field(max_length=20_000, default_factory=dict)]


class NewOrder(Body):
    """Resources to be ordered, in how many deliveries."""

    resources: Annotated[list[int], Field(min_length=1, max_length=2_000)]
    deliveries: Annotated[int, Field(ge=1, le=200)] = 1


class OrderChange(Versioned):
    supplier: Text = ""
    note: Text = ""


class NewOrderLine(Body):
    resource: int
    number: Text = "1"


class OrderLineChange(Versioned):
    number: Text = ""
    sold_by: Text = ""
    contains: Number = Decimal(1)
    price: Number | None = None
    due: date | None = None


class NewDelivery(Body):
    number: Text
    came_on: date


class Matches(Body):
    """For each item of a bill the one it is priced as."""

    taken: Annotated[dict[int, int], Field(max_length=20_000)]


class BillLayout(Body):
    """The sheets of a client's workbook that are taken in, and what their columns are where they were put
    right by hand."""

    sheets: Annotated[
        dict[Annotated[str, Field(max_length=60)], list[BillColumn] | None], Field(max_length=60)
    ]


class NewLink(Body):
    element: int
    output: Text
    factor: Text = "1"
    split: Split | Literal[""] = ""
    part: Text = ""


class AdjustmentChange(Versioned):
    name: Text = ""
    percent: Text = ""
    base: Text = ""


class NewAdjustment(Body):
    name: Text
    percent: Text = "0"
    base: Text = "running"
    bill: int | None = None


class ItemMove(Body):
    section: int
    before: int | None = None


class SectionMove(Body):
    parent: int | None = None
    before: int | None = None


class NewPackage(Body):
    """A package to be issued: the forms of each document, by its key."""

    title: Text
    documents: Annotated[
        dict[
            Annotated[str, Field(max_length=40)],
            Annotated[list[Annotated[str, Field(max_length=8)]], Field(max_length=8)],
        ],
        Field(max_length=400),
    ]
    recipient: Text = ""
    note: Text = ""


class FormChange(Versioned):
    name: Text


class TiedCell(Body):
    place: Text
    ref: Text


class NewLiveTable(Body):
    what: Text
    name: Text = ""


class NeedsAsked(Body):
    by: Literal["section", "stage"]


class RefAsked(Body):
    ref: Text


class TriedValue(Body):
    """Another value for a field of the row that a reference names."""

    ref: Text
    field: Text
    value: Text


class TriedValues(Body):
    values: Annotated[list[TriedValue], Field(min_length=1, max_length=200)]


class NewTrial(Body):
    name: Text
    values: Annotated[list[TriedValue], Field(max_length=200, default_factory=list)]


class TrialRenamed(Versioned):
    name: Text


class OneOfTrial(Body):
    value: int | None = None


class TrialKept(Body):
    over: bool = False
