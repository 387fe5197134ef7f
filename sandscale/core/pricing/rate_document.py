"""A rate with all it draws on, as a shelf keeps it: lines, the rates and gangs within, resources by name."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from ..documents import from_text
from ..numbers.formula import refuse_deeper
from ..refusals import BadFormula
from ..words import RateKind
from .build_up import GROUPS, AddedOn, Basis, Group

LARGEST_RATE = 1_000_000  # characters
DEEPEST = 60
Name = Annotated[
    str, StringConstraints(max_length=200, strip_whitespace=True, min_length=1, pattern=r"^[^\x00]*$")
]
Words = Annotated[str, StringConstraints(max_length=500, pattern=r"^[^\x00]*$")]
Symbol = Annotated[str, StringConstraints(max_length=8)]
Share = Annotated[Decimal, Field(gt=-101, le=1000, allow_inf_nan=False)]
Money = Annotated[Decimal, Field(ge=0, lt=Decimal("1e9"), allow_inf_nan=False)]


class _Data(BaseModel):
    model_config = ConfigDict(extra="forbid")


class DrawnResource(_Data):
    """A resource, by what it is matched."""

    name: Name
    kind: Group
    unit: Symbol


class LineDocument(_Data):
    """A line: of a resource, of another rate by its name, or a percentage."""

    resource: DrawnResource | None = None
    rate: Name | None = None
    group: Group
    basis: Basis
    percent_of: Words = ""
    quantity: Words
    allowance: Share = Decimal(0)
    escalation: Share = Decimal(0)
    size: Words = ""
    note: Words = ""

    @model_validator(mode="after")
    def _draws(self) -> LineDocument:
        if (self.resource is not None) + (self.rate is not None) != (self.basis != "percent"):
            raise ValueError("a line draws on one resource or rate, or is a percentage")
        if self.percent_of not in ("", *GROUPS):
            raise ValueError("a percentage is taken of a group")
        return self


class SizeDocument(_Data):
    """What a reference tells at a size."""

    size: Words
    labour: Money | None = None
    plant: Money | None = None
    material: Money | None = None
    whole: Money | None = None


class BandDocument(_Data):
    """A band of a banded rate: of another rate by its name, or with a cost of its own."""

    low: Words = ""
    below: Words = ""
    rate: Name | None = None
    price: Money | None = None


class RateDocument(_Data):
    """A rate, a gang, a reference or a banded rate."""

    name: Name
    unit: Symbol
    kind: RateKind = "rate"
    heading: Words = ""
    output: Words = "1"
    hours: Words = "1"
    added: Share = Decimal(0)
    added_on: AddedOn = "cost"
    note: Words = ""
    sized_by: Words = ""
    sized_in: Symbol = ""
    source: Words = ""
    year: Words = ""
    lines: Annotated[list[LineDocument], Field(max_length=500)] = []
    sizes: Annotated[list[SizeDocument], Field(max_length=500)] = []
    bands: Annotated[list[BandDocument], Field(max_length=500)] = []

    @property
    def draws_on(self) -> list[str]:
        """The names of the rates that its lines and bands draw on, in small letters."""
        drawn = [line.rate for line in self.lines] + [band.rate for band in self.bands]
        return [name.lower() for name in drawn if name]


class RatesDocument(_Data):
    """A rate, which is the first, with those it draws on; ``currency`` is that of the costs told in it, empty
    where it was kept before that was told."""

    currency: Annotated[str, StringConstraints(max_length=3)] = ""
    rates: Annotated[list[RateDocument], Field(min_length=1, max_length=500)]

    @property
    def tells_costs(self) -> bool:
        """Whether money stands in it, as known costs or as those of bands."""
        return any(each.sizes or any(band.price is not None for band in each.bands) for each in self.rates)


def read_rate(source: str) -> RatesDocument:
    """A rate from its text, as a shelf keeps it.

    Raises:
        BadFormula: it is none, two rates have one name, one isn't there, or they nest in a ring.
    """
    made = from_text(RatesDocument, source, "rate", LARGEST_RATE)
    names = {each.name.lower() for each in made.rates}
    if len(names) < len(made.rates):
        raise BadFormula("Two rates in it have one name.", field="source")
    uses = {each.name.lower(): each.draws_on for each in made.rates}
    for name, drawn in uses.items():
        for each in drawn:
            if each not in names:
                raise BadFormula(f"“{name}” draws on “{each}”, which isn't there.", field="source")
    refuse_deeper(uses, "Rates", DEEPEST)
    return made
