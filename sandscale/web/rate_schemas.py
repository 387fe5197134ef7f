"""What requests of the stages of prices and rates carry. Typed entries stay text."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..core.pricing.build_up import AddedOn, Group
from ..core.pricing.build_up import Basis as LineBasis
from ..core.pricing.columns import QuoteColumn
from ..core.pricing.quotes import Basis
from ..core.pricing.sizes import SizeColumn
from ..core.pricing.worked_out import Way
from ..core.words import RateKind
from .schemas import NO_NULL, Body, Day, Number, Source, Text, Versioned


class NewResource(Body):
    name: Text
    kind: Group
    unit: Text
    basis: Basis = "latest"


class ResourceChange(Versioned):
    name: Text = ""
    kind: Group = "material"
    unit: Text = ""
    basis: Basis = "latest"
    chosen: int | None = None
    density: Text = ""
    density_source: Text = ""
    norm_low: Number | None = None
    norm_high: Number | None = None
    norm_source: Text = ""


class WorkedChange(Versioned):
    """How a price is worked out: another way, numbers typed, resources whose prices inputs are."""

    way: Way | None = None
    inputs: dict[Text, Text] = Field(default_factory=dict)
    draws: dict[Text, int | None] = Field(default_factory=dict)


class NewQuote(Body):
    supplier: Text
    price: Number
    unit: Text = ""
    contains: Number | None = None
    least: Number | None = None
    quoted_on: Day
    valid_to: Day | None = None
    source: Text = ""


class QuoteChange(Versioned):
    supplier: Text = ""
    price: Number = Decimal(0)
    unit: Text = ""
    contains: Number | None = None
    least: Number | None = None
    quoted_on: Day = date.min
    valid_to: Day | None = None
    source: Text = ""


class QuotesPasted(Body):
    """A list of prices from the clipboard, with what its columns are where that was put right by hand;
    ``supplier`` whose list it is, where no column says."""

    text: Annotated[str, StringConstraints(max_length=4_000_000, pattern=NO_NULL)]
    columns: Annotated[list[QuoteColumn] | None, Field(max_length=60)] = None
    supplier: Text = ""


class QuotesTaken(Body):
    """Rows of a list as they were read, to be quotes."""

    rows: Annotated[list[dict[Text, Text]], Field(max_length=20_000)]


class NewSupplier(Body):
    name: Text
    email: Text = ""


class SupplierChange(Versioned):
    name: Text = ""
    email: Text = ""


class NewEnquiry(Body):
    """What is to be priced and who is asked, by their ids."""

    resources: Annotated[list[int], Field(max_length=400)]
    suppliers: Annotated[list[int], Field(max_length=100)] = Field(default_factory=list)
    title: Text = ""
    words: Text = ""
    answer_by: Day | None = None


class EnquiryChange(Versioned):
    title: Text = ""
    words: Text = ""
    answer_by: Day | None = None


class AskedFor(Body):
    resource: int


class AskedQuantity(Versioned):
    quantity: Number


class SuppliersAsked(Body):
    suppliers: Annotated[list[int], Field(max_length=100)]


class AnswerAside(Body):
    aside: bool


class NewBuildUp(Body):
    name: Text
    unit: Text = "h"
    kind: RateKind = "rate"
    heading: Text = ""
    output: Text = "1"
    hours: Text = "1"
    sized_by: Text = ""
    sized_in: Text = ""
    source: Text = ""
    year: Text = ""


class RateOfProject(Body):
    """A rate of another project."""

    project: int
    build_up: int


class SizeAsked(Body):
    """At which size a reference is read."""

    size: Text


class NewReferenceSize(Body):
    size: Text
    labour: Number | None = None
    plant: Number | None = None
    material: Number | None = None
    whole: Number | None = None


class ReferenceSizeChange(Versioned):
    size: Text = ""
    labour: Number | None = None
    plant: Number | None = None
    material: Number | None = None
    whole: Number | None = None


class BuildUpChange(Versioned):
    name: Text = ""
    unit: Text = ""
    heading: Text = ""
    output: Text = ""
    hours: Text = ""
    added: Number = Decimal(0)
    added_on: AddedOn = "cost"
    note: Text = ""
    sized_by: Text = ""
    sized_in: Text = ""
    source: Text = ""
    year: Text = ""


class NewBuildUpLine(Body):
    resource: int | None = None
    nested: int | None = None
    group: Group | Literal[""] = ""
    basis: LineBasis | Literal[""] = ""
    percent_of: Group | Literal[""] = ""
    quantity: Text = "1"
    allowance: Number = Decimal(0)
    escalation: Number = Decimal(0)
    size: Text = ""
    note: Text = ""


class BuildUpLineChange(Versioned):
    resource: int | None = None
    nested: int | None = None
    group: Group | Literal[""] = ""
    basis: LineBasis | Literal[""] = ""
    percent_of: Group | Literal[""] = ""
    quantity: Text = ""
    allowance: Number = Decimal(0)
    escalation: Number = Decimal(0)
    size: Text = ""
    note: Text = ""


class SizesPasted(Body):
    """A table of known costs as it was pasted; ``columns`` where they were put right by hand."""

    text: Source
    columns: Annotated[list[SizeColumn] | None, Field(max_length=60)] = None


class SizesTaken(Body):
    rows: Annotated[list[dict[SizeColumn, Text]], Field(max_length=500)]


class NewBand(Body):
    """A band of a banded rate; ``nested`` is the rate it takes."""

    low: Text = ""
    below: Text = ""
    nested: int | None = None
    price: Number | None = None


class BandChange(Versioned):
    low: Text = ""
    below: Text = ""
    nested: int | None = None
    price: Number | None = None


class TakenQuantity(Versioned):
    """The quantity line that is taken; none where what was typed counts again."""

    element: int | None = None
    output: Text = ""


class TakenFigure(TakenQuantity):
    """Which number of a rate takes it."""

    figure: Literal["output", "hours"]


class NewAllowance(Body):
    mark: Text
    rule: Text


class InputDrawn(Body):
    """What an input draws: how much of a resource an item takes, or a quantity line of an element."""

    resource: int | None = None
    item: int | None = None
    element: int | None = None
    output: Text = ""


class InputDraws(Versioned):
    input: Text
    draws: Annotated[list[InputDrawn], Field(max_length=500)]
