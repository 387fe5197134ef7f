"""A firm's own norms, as a shelf keeps them: what each resource is expected to cost."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from ..documents import from_text
from ..numbers.units import is_unit, unit
from ..refusals import BadFormula

LARGEST_NORMS = 1_000_000  # characters
Name = Annotated[str, StringConstraints(max_length=200, strip_whitespace=True, min_length=1)]
Money = Annotated[Decimal, Field(ge=0, lt=Decimal("1e9"), allow_inf_nan=False, decimal_places=6)]


class NormEntry(BaseModel):
    """What one unit of a resource is expected to cost: a price, or from one to another."""

    model_config = ConfigDict(extra="forbid")

    resource: Name
    unit: Annotated[str, StringConstraints(max_length=8)]
    low: Money
    high: Money | None = None

    @model_validator(mode="after")
    def _holds(self) -> NormEntry:
        if not is_unit(self.unit) or (self.high is not None and self.high <= self.low):
            raise ValueError("a norm is per unit, from its lower price to its higher one")
        return self

    @property
    def known_by(self) -> tuple[str, str]:
        """What a resource is matched by: its name whatever its case and blanks, and its unit."""
        return known_by(self.resource, self.unit)


class NormsDocument(BaseModel):
    """The norms of a firm, in one currency."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, StringConstraints(max_length=60, strip_whitespace=True, min_length=1)]
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")]
    norms: Annotated[list[NormEntry], Field(max_length=5_000)]


def known_by(name: str, symbol: str) -> tuple[str, str]:
    """What a resource is matched by."""
    return " ".join(name.lower().split()), unit(symbol).symbol


def read_norms(source: str) -> NormsDocument:
    """Norms from their text, as a shelf keeps it.

    Raises:
        BadFormula: it is none, or two norms are for one resource.
    """
    made = from_text(NormsDocument, source, "list of norms", LARGEST_NORMS)
    if len({each.known_by for each in made.norms}) < len(made.norms):
        raise BadFormula("Two norms of the list are for one resource in one unit.", field="source")
    return made
