"""What is read of the bills."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Literal

from ...core.measurers.measurer import Split
from ...core.pricing.bill import BillKind, ItemKind
from ..keeping.views import View


class LinkView(View):
    """A quantity line an item draws on, or a part of one."""

    id: int
    element: int
    output: str
    split: Split | Literal[""]
    part: str
    name: str
    net: float
    unit: str
    factor: str


class ItemView(View):
    """An item; ``ref`` is its number in the bill, ``number`` the client's own. ``waiting``: its quantity is
    being worked out."""

    id: int
    version: int
    section: int
    ref: str
    kind: ItemKind
    description: str
    unit: str
    quantity: Decimal
    typed_quantity: str
    typed_reason: str
    typed_amount: str
    typed_rate: str
    number: str
    client_text: str
    build_up: int | None
    size: str
    sized_by: str
    sized_in: str
    build_up_name: str
    rate: Decimal | None
    amount: Decimal
    links: int
    waiting: bool


class SectionHead(View):
    """A section without its items: how many it ``holds`` itself, and its total with the sections in it."""

    id: int
    version: int
    ref: str
    depth: int
    title: str
    parent: int | None
    total: Decimal
    holds: int


class SectionView(SectionHead):
    items: list[ItemView]


class AdjustmentView(View):
    id: int
    version: int
    name: str
    percent: Decimal
    base: str
    base_words: str
    on: Decimal
    adds: Decimal


class BillBrief(View):
    id: int
    version: int
    kind: BillKind
    title: str
    dated: date | None
    total: Decimal


class Foot(View):
    """The foot of a bill; ``set_aside`` are the provisional and prime cost sums within ``items_total``,
    ``resting`` is how much of it rests on figures that are still being worked out."""

    items_total: Decimal
    set_aside: Decimal
    adjustments: list[AdjustmentView]
    total: Decimal
    resting: Decimal


class BillOutline(Foot):
    """A bill without its items, which are read in windows."""

    id: int
    kind: BillKind
    title: str
    sections: list[SectionHead]


class BillView(Foot):
    """A whole bill."""

    id: int
    kind: BillKind
    title: str
    sections: list[SectionView]
