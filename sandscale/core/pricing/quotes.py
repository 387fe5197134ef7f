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

Basis = Literal["latest", "lowest", "mean", "median", "chosen"]
BASES: dict[Basis, str] = {
    "latest": "latest valid quote",
    "lowest": "lowest valid quote",
    "mean": "mean of valid quotes",
    "median": "median of valid quotes",
    "chosen": "chosen quote",
}
OUTLYING = Decimal("0.25")  # of the median, above which a quote is a finding


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
    """

    reference: int
    supplier: str
    price: Decimal
    contains: Decimal
    quoted_on: date
    valid_to: date | None = None

    @property
    def per_unit(self) -> Decimal:
        """Money for one unit of the resource, unrounded."""
        return self.price / self.contains

    def valid(self, on: date) -> bool:
        """Whether it holds on a day: not before its date, not after its last day."""
        return self.quoted_on <= on and (self.valid_to is None or on <= self.valid_to)


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


def price(quotes: Sequence[Quote], basis: Basis, on: date, chosen: int | None = None) -> Price:
    """The price of a resource on a day.

    A chosen quote is used even when it has lapsed, with a finding; the other bases read valid
    quotes only.

    Raises:
        BadEntry: it is larger than a price can be.
    """
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
    return Price(value, tuple(used), tuple(_findings(used, quotes, on)))


def _findings(used: Sequence[Quote], quotes: Sequence[Quote], on: date) -> list[Finding]:
    found = [
        Finding(f"The quote of {q.supplier} is past its date.", code="quote-lapsed")
        for q in used
        if not q.valid(on)
    ]
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
