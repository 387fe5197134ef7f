"""What is read of rates."""

from __future__ import annotations

from decimal import Decimal

from ...core.pricing.build_up import AddedOn, Basis, Group
from ...core.words import RateKind
from ..keeping.views import View


class BuildUpBrief(View):
    """A unit rate, or a gang (``kind``)."""

    id: int
    name: str
    unit: str
    heading: str
    kind: RateKind
    rate: Decimal | None


class TakenView(View):
    """A quantity line that a rate takes from: what it is called, what it comes to, where it is walked to."""

    element: int
    output: str
    name: str
    value: float
    unit: str
    ref: str


class BandView(View):
    """A band of a banded rate: its limits as typed, the rate it takes, and what a unit costs by it."""

    id: int
    version: int
    low: str
    below: str
    nested: int | None
    nested_name: str
    price: Decimal | None
    cost: Decimal | None


class BuildUpLineView(View):
    """A line of a build-up; ``entered`` is its quantity as a number, ``shares`` its money per unit by group,
    more than one where it is ``parted``, as a gang is, or a reference told in parts. ``reads`` how a
    reference was read at its ``size``."""

    id: int
    version: int
    group: Group
    basis: Basis
    percent_of: str
    resource: int | None
    nested: int | None
    parted: bool
    size: str
    sized_in: str
    reads: str
    name: str
    unit: str
    quantity: str
    taken: TakenView | None
    entered: Decimal
    note: str
    allowance: Decimal
    escalation: Decimal
    price: Decimal | None
    total_quantity: Decimal
    amount: Decimal
    unit_quantity: Decimal
    unit_price: Decimal
    shares: dict[str, Decimal]


class GroupTotal(View):
    """The subtotal of a group; quantities where all of them are in one unit."""

    group: Group
    unit: str
    total_quantity: Decimal | None
    amount: Decimal
    unit_quantity: Decimal | None
    unit_price: Decimal


class ReferenceSizeView(View):
    """What a reference tells at a size; ``at`` is that as a number, ``together`` the sum of its parts."""

    id: int
    version: int
    size: str
    at: Decimal
    labour: Decimal | None
    plant: Decimal | None
    material: Decimal | None
    whole: Decimal | None
    together: Decimal | None


class ReadingView(View):
    """A reference read at a size."""

    at: Decimal
    total: Decimal
    parts: dict[str, Decimal]
    whole: Decimal | None
    told: str
    findings: list[str]


class BuildUpView(BuildUpBrief):
    """A rate with its lines; ``adds`` is the money that mark-up or margin add, ``billed`` how much is billed
    by it where something is had once."""

    version: int
    output: str
    hours: str
    added: Decimal
    added_on: AddedOn
    adds: Decimal
    cost: Decimal
    billed: Decimal | None
    note: str
    lines: list[BuildUpLineView]
    groups: list[GroupTotal]
    findings: list[str]
    items: int
    sized_by: str
    sized_in: str
    source: str
    year: str
    sizes: list[ReferenceSizeView]
    output_taken: TakenView | None
    hours_taken: TakenView | None
    bands: list[BandView]
