"""A resource's price from its dated quotes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from statistics import median
from typing import Literal

from ..findings import Finding
from ..numbers.rounding import within_size
from ..numbers.working import shown

Validity = Literal["valid", "lapsed", "not yet"]
Basis = Literal["latest", "lowest", "mean", "median", "chosen", "norm", "worked"]
BASES: dict[Basis, str] = {
    "latest": "latest valid quote",
    "lowest": "lowest valid quote",
    "mean": "mean of valid quotes",
    "median": "median of valid quotes",
    "chosen": "chosen quote",
    "norm": "own norm",
    "worked": "worked out",
}
OUTLYING = Decimal("0.25")  # of the median, above which a quote is a finding
NORM_MISSED = Decimal("0.10")  # of a norm of one price, above which a quote is outside it


@dataclass(frozen=True)
class Quote:
    """What a supplier asks for a resource.

    Attributes:
        reference: what the caller knows it by.
        supplier: who quoted.
        price: money for ``contains`` units of the resource.
        contains: how many resource units one quoted unit holds: 25 for a bag of 25 kg.
        quoted_on: its date.
        valid_to: the last day it holds; None when it has no end.
        least: how many quoted units are sold at least; None where it doesn't say.
    """

    reference: int
    supplier: str
    price: Decimal
    contains: Decimal
    quoted_on: date
    valid_to: date | None = None
    least: Decimal | None = None

    @property
    def per_unit(self) -> Decimal:
        """Money for one unit of the resource, unrounded."""
        return self.price / self.contains

    def validity(self, on: date) -> Validity:
        """Whether it holds on a day: not yet before its date, and lapsed after its last day."""
        if on < self.quoted_on:
            return "not yet"
        return "valid" if self.valid_to is None or on <= self.valid_to else "lapsed"

    def valid(self, on: date) -> bool:
        """Whether it holds on a day."""
        return self.validity(on) == "valid"


@dataclass(frozen=True)
class Norm:
    """What the firm expects a unit of a resource to cost.

    Attributes:
        low: money for one unit, or the least of a range.
        high: the most of it; None where it is one price.
        source: whose norm it is.
    """

    low: Decimal
    high: Decimal | None = None
    source: str = ""

    @property
    def price(self) -> Decimal:
        """What it prices by: the middle of a range."""
        return self.low if self.high is None else (self.low + self.high) / 2

    def missed_by(self, price: Decimal) -> str:
        """What a price is to it, in words; empty where it lies within."""
        if self.high is None:
            if abs(price - self.low) <= NORM_MISSED * self.low:
                return ""
            return f"more than 10 % from the own norm of {shown(self.low)}"
        if self.low <= price <= self.high:
            return ""
        return f"outside the own norm of {shown(self.low)} to {shown(self.high)}"


@dataclass(frozen=True)
class Price:
    """A resource's price with how it was reached.

    Attributes:
        value: money for one unit; None when no quote can be used.
        used: the quotes it was made of.
        findings: what looks wrong.
    """

    value: Decimal | None
    used: tuple[Quote, ...]
    findings: tuple[Finding, ...] = ()


def price(
    quotes: Sequence[Quote], basis: Basis, on: date, chosen: int | None = None, norm: Norm | None = None
) -> Price:
    """The price of a resource on a day.

    A chosen quote is used even when it has lapsed, with a finding; the other bases read valid
    quotes only. By the own norm no quote is used.

    Raises:
        BadEntry: it is larger than a price can be.
    """
    if basis == "norm":
        if norm is None:
            says = "Has no own norm yet."
            return Price(None, (), (Finding(says, wrong=True, code="no-norm"),))
        return Price(within_size(norm.price, "price"), ())
    valid = sorted((q for q in quotes if q.valid(on)), key=lambda q: (q.quoted_on, q.reference))
    if basis == "chosen":
        used = [q for q in quotes if q.reference == chosen]
    elif basis == "latest":
        used = valid[-1:]
    elif basis == "lowest":
        used = sorted(valid, key=lambda q: q.per_unit)[:1]
    else:
        used = valid
    if not used:
        why = (
            "has no quote"
            if not quotes
            else "has no chosen quote"
            if basis == "chosen"
            else f"has no quote valid on {on:%d %b %Y}"
        )
        says = f"{why[0].upper()}{why[1:]}."
        return Price(None, (), (Finding(says, wrong=True, code="no-quote"),))
    each = [q.per_unit for q in used]
    value = median(each) if basis == "median" else sum(each, Decimal(0)) / len(each)
    within_size(value, "price")
    return Price(value, tuple(used), tuple(_findings(used, quotes, on, norm)))


def _findings(used: Sequence[Quote], quotes: Sequence[Quote], on: date, norm: Norm | None) -> list[Finding]:
    out_of_date: dict[Validity, tuple[str, str]] = {
        "lapsed": ("is past its date", "quote-lapsed"),
        "not yet": ("is dated after the day prices hold on", "quote-early"),
    }
    found = [
        Finding(f"The quote of {q.supplier} {says}.", code=code)
        for q in used
        if (told := out_of_date.get(q.validity(on)))
        for says, code in [told]
    ]
    if norm is not None:
        found += [
            Finding(
                f"The quote of {q.supplier} is {missed}.", code="outside-norm",
                numbers=(float(q.per_unit), float(norm.price)),
            )
            for q in used
            if (missed := norm.missed_by(q.per_unit))
        ]  # fmt: skip
    middle = median([q.per_unit for q in quotes])
    return found + [
        Finding(
            f"The quote of {q.supplier} is more than 25 % from the median.",
            code="quote-outlying",
            numbers=(float(q.per_unit), float(middle)),
        )
        for q in used
        if middle and abs(q.per_unit - middle) > OUTLYING * middle
    ]


def too_little(quote: Quote, needed: Decimal, unit: str) -> Finding | None:
    """What looks wrong with a quote that is for more than is needed.

    Args:
        quote: the quote.
        needed: of the resource, in its unit.
        unit: the resource's unit.
    """
    least = (quote.least or Decimal(0)) * quote.contains
    if needed >= least:
        return None
    return Finding(
        f"The quote of {quote.supplier} is for {shown(least, least=0)} {unit} at least; the bill needs "
        f"{shown(needed)} {unit}.",
        code="below-least", numbers=(float(needed), float(least)),
    )  # fmt: skip
