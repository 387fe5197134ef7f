"""The part of the graph that is the bill: items, the sums of sections, totals."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import RATE, exact
from ...core.pricing import bill as bill_rules
from ...store.database import database
from ...store.models import Adjustment, Bill, BuildUp, Item, ItemLink, Project, RateBand, Section
from ..keeping.graph import After, Ids, Node, Written, ids_in
from ..rates.banded import Banded
from .reading import core_links, places_of, quantity_of, summary_of, typed_amount

_OF_ITEMS = (
    Item.id, Item.kind, Item.unit, Item.typed_quantity, Item.typed_amount, Item.typed_rate, Item.build_up,
    Item.size, Item.quantity, Item.rate, Item.amount,
)  # fmt: skip


def _items(project_id: int, ids: Ids) -> Ids:
    """Quantities, rates and amounts of items."""
    items = Item.some(_OF_ITEMS, Item.id, ids)
    if not items:
        return set()
    differ: dict[int, dict[str, Any]] = {}
    places = places_of(Project.get_by_id(project_id))
    links = core_links(ids)
    drawn = {item.build_up_id for item in items} - {None}
    rates = {row.id: row for row in BuildUp.some((BuildUp.id, BuildUp.kind, BuildUp.rate), BuildUp.id, drawn)}
    by_band = Banded(row.id for row in rates.values() if row.kind == "banded")
    for item in items:
        rate = _rate(item, rates, by_band, places[RATE])
        quantity = quantity_of(item, links[item.id], places)
        amount = bill_rules.amount(quantity, rate, item.kind, typed_amount(item))
        if (quantity, rate, amount) != (item.quantity, item.rate, item.amount):
            differ[item.id] = {"quantity": quantity, "rate": rate, "amount": amount}
    Item.keep(differ)
    return set(differ)


def _rate(item: Any, rates: dict[int, Any], by_band: Banded, places: int) -> Decimal | None:
    if item.typed_rate.strip():
        return exact(read_entry(item.typed_rate, "", field="rate"))
    if item.build_up_id in by_band.heads:
        return by_band.rate_at(item.build_up_id, item.size, places)
    return rates[item.build_up_id].rate if item.build_up_id else None


_SUMMED = """
SELECT s.id, s.items_total, s.set_aside, COALESCE(SUM(i.amount), 0),
COALESCE(SUM(i.amount) FILTER (WHERE i.kind = ANY(%s)), 0)
FROM section s LEFT JOIN item i ON i.section_id = s.id WHERE s.id = ANY(%s) GROUP BY s.id"""


def _sections(_project_id: int, ids: Ids) -> Ids:
    """The sums of sections, each of its own items."""
    differ: dict[int, dict[str, Any]] = {}
    sums = database.execute_sql(_SUMMED, (list(bill_rules.SET_ASIDE), list(ids))) if ids else ()
    for section_id, *were, total, set_aside in sums:
        if were != [total, set_aside]:
            differ[section_id] = {"items_total": total, "set_aside": set_aside}
    Section.keep(differ)
    return set(differ)


def _totals(project_id: int, ids: Ids) -> Ids:
    """The totals of bills; the own bill's is the project's."""
    moved: Ids = set()
    for bill in Bill.those(Bill.id, ids):
        total = summary_of(bill.id).total
        if bill.kind == "own":
            Project.keep({project_id: {"bill_total": total}})
        if total != bill.total:
            Bill.keep({bill.id: {"total": total}})
            moved.add(bill.id)
    return moved


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(Item.select(Item.id).where(Item.project == project_id))


NODES = (
    Node(
        name="items",
        table=Item,
        gives=(Item.quantity, Item.rate, Item.amount),
        edges=(
            Written(
                Item,
                (
                    Item.kind, Item.unit, Item.typed_quantity, Item.typed_amount, Item.typed_rate,
                    Item.build_up,
                    Item.section, Item.size,
                ),
            ),
            Written(
                BuildUp,
                (BuildUp.kind, BuildUp.added, BuildUp.added_on, BuildUp.sized_in),
                through=(Item.build_up,),
            ),
            Written(RateBand, through=(RateBand.build_up, Item.build_up)),
            After("rates", through=(RateBand.nested, RateBand.build_up, Item.build_up)),
            Written(ItemLink, through=(ItemLink.item,)),
            Written(Project, (Project.rounding,), found=_of_project),
            After("quantities", through=(ItemLink.element, ItemLink.item)),
            After("rates", through=(Item.build_up,)),
        ),
        work=_items,
    ),
    Node(
        name="sections",
        table=Section,
        gives=(Section.items_total, Section.set_aside),
        edges=(
            Written(Section),
            Written(Item, (Item.section, Item.kind), through=(Item.section,)),
            After("items", through=(Item.section,)),
        ),
        work=_sections,
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
