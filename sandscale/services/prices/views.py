"""What is read of prices."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from ...core.pricing.build_up import Group
from ...core.pricing.quotes import Basis
from ..keeping.views import View


class QuoteView(View):
    id: int
    version: int
    supplier: str
    price: Decimal
    unit: str
    contains: Decimal
    per_unit: Decimal
    quoted_on: date
    valid_to: date | None
    source: str
    used: bool
    lapsed: bool


class ResourceView(View):
    id: int
    version: int
    name: str
    kind: Group
    unit: str
    basis: Basis
    chosen: int | None
    price: Decimal | None
    quotes: list[QuoteView]
    findings: list[str]
    used_in: int
