"""The part of the graph that is the bill: items, the sums of sections, totals."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from ...core.numbers.rounding import RATE
from ...core.pricing import bill as bill_rules
from ...store.database import database
from ...store.models import (
    Adjustment,
    Bill,
    BuildUp,
    Item,
    ItemLink,
    Project,
    RateBand,
    RatePart,
    ReferenceSize,
    Section,
)
from ..keeping.graph import After, Differing, Ids, Node, Rows, Written, ids_in
from ..rates.priced import Priced
from .quantities import core_links, periods_of, places_of, quantity_of
from .rating import parts_of, rate_of
from .reading import summary_of, typed_amount


def _quantities(project: Project, items: Rows) -> Ids:
    """Quantities of items."""
    places, links = places_of(project), core_links(items)
    periods = periods_of(item.section_id for item in items.values() if item.kind == "time")

    def differing() -> Iterator[Differing]:
        for item_id, item in items.items():
            quantity = quantity_of(item, links[item_id], places, periods.get(item.section_id, ""))
            if quantity != item.quantity:
                yield item_id, quantity

    return Item.keep([Item.quantity], differing())


def _items(project: Project, items: Rows) -> Ids:
    """Rates and amounts of items."""
    places, parts = places_of(project)[RATE], parts_of(items)
    drawn = {item.build_up_id for item in items.values()}
    priced = Priced(drawn | {part.build_up_id for each in parts.values() for part in each})

    def differing() -> Iterator[Differing]:
        for item_id, item in items.items():
            rate = rate_of(item, parts.get(item_id, ()), priced, places)
            typed = typed_amount(item) if item.typed_amount else None
            amount = bill_rules.amount(item.quantity, rate, item.kind, typed)
            if rate != item.rate or amount != item.amount:
                yield item_id, rate, amount

    return Item.keep([Item.rate, Item.amount], differing())


_SUMMED = """
SELECT i.section_id, i.kind,
i.kind = 'measured' AND (i.composite OR EXISTS (SELECT FROM rate_part p WHERE p.item_id = i.id)),
COUNT(*), SUM(i.amount) FROM item i WHERE i.section_id = ANY(%s::integer[]) GROUP BY 1, 2, 3"""
_OF_SECTIONS = (
    Section.items_held, Section.items_total, Section.set_aside, Section.composite_total,
    Section.preliminary_total,
)  # fmt: skip


def _sections(_project: Project, were: Rows) -> Ids:
    """The sums of sections, each of its own items, and how many these are."""
    sums = {each: _Sums() for each in were}
    for section_id, *summed in database.execute_sql(_SUMMED, (list(were),)):
        sums[section_id].add(*summed)
    are = ((section_id, *sums[section_id].figures()) for section_id in were)
    return Section.keep(_OF_SECTIONS, [now for now in are if now != were[now[0]][: len(now)]])


@dataclass
class _Sums:
    """What the items of a section come to, and how many they are."""

    held: int = 0
    total: Decimal = Decimal(0)
    apart: dict[str, Decimal] = field(default_factory=lambda: defaultdict(Decimal))

    def add(self, kind: bill_rules.ItemKind, composed: bool, number: int, amount: Decimal) -> None:
        """Items of a kind, composed or not: how many, and their amounts."""
        self.held += number
        self.total += amount
        self.apart[bill_rules.apart_of(kind, composed)] += amount

    def figures(self) -> tuple[Any, ...]:
        """As they are kept."""
        apart = (self.apart[each] for each in ("set_aside", "composite", "preliminaries"))
        return (self.held, self.total, *apart)


def _totals(project: Project, ids: Collection[int]) -> Ids:
    """The totals of bills; the own bill's is the project's."""
    moved: Ids = set()
    for bill in Bill.those(Bill.id, ids):
        total = summary_of(bill.id).total
        if bill.kind == "own":
            Project.keep([Project.bill_total], [(project.id, total)])
        if total != bill.total:
            Bill.keep([Bill.total], [(bill.id, total)])
            moved.add(bill.id)
    return moved


# What of a banded or a reference rate the bill goes by.
_HEADS = (BuildUp.kind, BuildUp.added, BuildUp.added_on, BuildUp.sized_in)


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(Item.select(Item.id).where(Item.project == project_id))


NODES = (
    Node(
        name="item-quantities",
        table=Item,
        gives=(Item.quantity,),
        edges=(
            Written(Item, (Item.kind, Item.unit, Item.typed_quantity, Item.section)),
            Written(ItemLink, through=(ItemLink.item,)),
            Written(Bill, (Bill.period,), through=(Section.bill, Item.section)),
            Written(Project, (Project.rounding,), found=_of_project),
            After("quantities", through=(ItemLink.element, ItemLink.item)),
        ),
        work=_quantities,
        reads=(Item.kind, Item.unit, Item.typed_quantity, Item.section, Item.quantity),
    ),
    Node(
        name="items",
        table=Item,
        gives=(Item.rate, Item.amount),
        edges=(
            Written(
                Item,
                (
                    Item.kind, Item.typed_amount, Item.typed_rate, Item.build_up, Item.section, Item.size,
                ),
            ),
            Written(RatePart, through=(RatePart.item,)),
            Written(BuildUp, _HEADS, through=(Item.build_up,)),
            Written(BuildUp, _HEADS, through=(RatePart.build_up, RatePart.item)),
            Written(RateBand, through=(RateBand.build_up, Item.build_up)),
            Written(RateBand, through=(RateBand.build_up, RatePart.build_up, RatePart.item)),
            Written(ReferenceSize, through=(ReferenceSize.build_up, Item.build_up)),
            Written(ReferenceSize, through=(ReferenceSize.build_up, RatePart.build_up, RatePart.item)),
            Written(Project, (Project.rounding,), found=_of_project),
            After("item-quantities"),
            After("rates", through=(Item.build_up,)),
            After("rates", through=(RateBand.nested, RateBand.build_up, Item.build_up)),
            After("rates", through=(RatePart.build_up, RatePart.item)),
            After("rates", through=(RateBand.nested, RateBand.build_up, RatePart.build_up, RatePart.item)),
        ),
        work=_items,
        reads=(
            Item.kind, Item.typed_amount, Item.typed_rate, Item.build_up, Item.size, Item.quantity,
            Item.rate, Item.amount, Item.section,
        ),
    ),
    Node(
        name="sections",
        table=Section,
        gives=_OF_SECTIONS,
        edges=(
            Written(Section),
            Written(Item, (Item.section, Item.kind), through=(Item.section,)),
            Written(RatePart, through=(RatePart.item, Item.section)),
            After("items", through=(Item.section,)),
        ),
        work=_sections,
        reads=(*_OF_SECTIONS, Section.bill),
    ),
    Node(
        name="totals",
        table=Bill,
        gives=(Bill.total, Project.bill_total),
        edges=(
            Written(Bill, (Bill.kind,)),
            Written(Adjustment, through=(Adjustment.bill,)),
            Written(Section, (Section.bill,), through=(Section.bill,)),
            After("sections", through=(Section.bill,)),
        ),
        work=_totals,
    ),
)  # fmt: skip
