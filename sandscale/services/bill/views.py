"""What is read of the bills."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Literal

from ...core.measurers.measurer import Split
from ...core.pricing.bill import BillKind, ItemKind
from ...core.pricing.bill_columns import BillColumn
from ...core.pricing.comparing import Differs
from ...core.pricing.merging import Choice
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
    """An item; ``ref`` is its number by its place in the bill, ``number`` its own where it has one. ``parts``
    is how many rates its own is composed of. ``measured`` is what it draws on where another quantity is
    typed. ``waiting``: its quantity is being worked out; ``near``: it rests on figures near a change of their
    drawing that nobody has looked at."""

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
    rate_reason: str
    number: str
    note: str
    client_text: str
    measured: Decimal | None
    parts: int
    build_up: int | None
    size: str
    sized_by: str
    sized_in: str
    build_up_name: str
    rate: Decimal | None
    amount: Decimal
    links: int
    waiting: bool
    near: bool


class RatePartView(View):
    """One of the rates that an item's is composed of; ``price`` is per its own unit, ``comes_to`` per unit of
    the item."""

    id: int
    version: int
    build_up: int
    name: str
    unit: str
    factor: str
    size: str
    sized_by: str
    sized_in: str
    price: Decimal | None
    comes_to: Decimal
    says: str


class SectionHead(View):
    """A section without its items: how many it ``holds`` itself, and its total with the sections in it."""

    id: int
    version: int
    ref: str
    depth: int
    title: str
    number: str
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
    currency: str
    total: Decimal
    file: str


class Foot(View):
    """The foot of a bill; within ``items_total``, ``set_aside`` are the provisional and prime cost sums,
    ``composite`` what is priced by several rates, ``preliminaries`` the fixed and time-related charges, and
    the rest is priced by one rate. ``resting`` is how much of it rests on figures that are still being worked
    out."""

    items_total: Decimal
    set_aside: Decimal
    composite: Decimal
    preliminaries: Decimal
    adjustments: list[AdjustmentView]
    total: Decimal
    resting: Decimal


class BillOutline(Foot):
    """A bill without its items, which are read in windows. ``period`` is how long its work lasts; ``file``
    the client's workbook that it came in."""

    id: int
    version: int
    kind: BillKind
    title: str
    dated: date | None
    currency: str
    period: str
    file: str
    sections: list[SectionHead]


class BillView(Foot):
    """A whole bill."""

    id: int
    kind: BillKind
    title: str
    currency: str
    sections: list[SectionView]


class StoodView(View):
    """An item as it stands in a bill that is held against another."""

    id: int
    ref: str
    section: str
    description: str
    unit: str
    kind: ItemKind
    quantity: Decimal
    rate: Decimal | None
    amount: Decimal


class PairView(View):
    """An item of one bill and what it is in the other; ``moved`` is by how much its amount is more there."""

    before: StoodView | None
    after: StoodView | None
    differs: list[Differs]
    moved: Decimal


class FootPair(View):
    """A line at the foot of two bills; none where one doesn't have it."""

    name: str
    before: Decimal | None
    after: Decimal | None


class ComparedView(View):
    """Two bills held against one another; ``pairs`` are those that differ, as many as are ``told``."""

    before: BillBrief
    after: BillBrief
    same: int
    added: int
    removed: int
    changed: int
    moved: Decimal
    told: int
    pairs: list[PairView]
    foot: list[FootPair]


class SectionMatch(View):
    """A section of a bill that is brought in, and the one it goes ``into``; none where it is made new."""

    id: int
    ref: str
    title: str
    depth: int
    into: int | None
    into_title: str


class ClashView(View):
    """An item that both bills have otherwise, and what may be chosen."""

    ours: StoodView | None
    theirs: StoodView | None
    differs: list[Differs]
    choices: list[Choice]


class MergeView(View):
    """What bringing a bill into another would come to; ``fresh`` items are new, ``same`` say the same."""

    sections: list[SectionMatch]
    fresh: int
    same: int
    clashes: list[ClashView]


class SheetSeen(View):
    """A sheet of a client's workbook: what its columns were taken for, and what its rows are. The first cell
    of each row of ``sample`` is its number; ``says`` is what about rows is to be looked at, ``more`` how much
    isn't told."""

    name: str
    hidden: bool
    taken: bool
    columns: list[BillColumn]
    heads: list[str]
    sample: list[list[str]]
    sections: int
    items: int
    words: int
    totals: int
    says: list[str]
    more: int


class WorkbookSeen(View):
    """A client's workbook as it would be taken in."""

    sheets: list[SheetSeen]
    items: int


class MatchView(View):
    """An item of a client's bill and what it may be priced as; ``sure``: one has its words and its unit."""

    item: StoodView | None
    sure: bool
    offered: list[StoodView]


class ReportRow(View):
    """A group of a report: its items' money, what each chosen adjustment puts on it, all of it, and its share
    of the whole."""

    name: str
    amount: Decimal
    added: list[Decimal]
    total: Decimal
    share: float


class ReportTable(View):
    """A bill by one thing."""

    by: str
    rows: list[ReportRow]
    amount: Decimal
    total: Decimal


class ReportView(View):
    """A bill by several things, each a table; ``adjustments`` are those whose money is in it, ``subcontract``
    whether what is done by others is."""

    bill: str
    currency: str
    adjustments: list[str]
    subcontract: bool
    tables: list[ReportTable]


class MostRow(View):
    """One of the items that make most of a bill: its share of the money, and that of all up to it."""

    item: StoodView
    share: float
    together: float


class MostView(View):
    """The few items that make most of a bill, of how many that come to anything."""

    items: list[MostRow]
    of: int
    share: float
