"""Items of a client's bill matched to what is measured and priced: by words and unit, and as they were
matched before."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from ...core.numbers.units import unit
from ...core.pricing.comparing import Index, Stood, words
from ...core.refusals import BadEntry
from ...store.models import Bill, Item, ItemLink, RatePart
from ..keeping.acting import Actor, find
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from ..measure.draws import refuse_ring
from .actions import refuse_issued
from .compared import stood, stood_view
from .reading import ordered_sections
from .views import MatchView

MOST_OFFERED = 5
_Known = dict[tuple[str, str], Stood]


def matches(actor: Actor, bill_id: int) -> list[MatchView]:
    """The items of a bill that have no rate of their own making yet, each with the items it may be priced as:
    what has its words and unit is sure, what is mostly alike is offered.

    Raises:
        Missing: there is no such bill.
    """
    bill = find(Bill, actor, bill_id)
    mine = stood(bill)
    open_ids = _open(mine)
    known = _known(actor, bill)
    units = {item.unit for item in known.values()}
    by_unit = {each: Index(item for item in known.values() if item.unit == each) for each in units}
    found = []
    for item in mine:
        if item.id not in open_ids:
            continue
        sure = known.get((words(item.description), item.unit))
        index = by_unit.get(item.unit)
        offered = [sure] if sure else index.like(item.description, MOST_OFFERED) if index else []
        found.append(
            MatchView(
                item=stood_view(item), sure=sure is not None,
                offered=[view for each in offered if (view := stood_view(each))],
            )
        )  # fmt: skip
    return found


def _open(items: Iterable[Stood]) -> set[int]:
    """Those of some items that nobody has priced yet."""
    measured = [item.id for item in items if item.kind in ("measured", "rate_only", "time")]
    composed = RatePart.column(RatePart.item, RatePart.item, measured)
    return {
        row.id
        for row in Item.some((Item.id, Item.build_up, Item.typed_rate), Item.id, measured)
        if row.build_up_id is None and not row.typed_rate and row.id not in composed
    }


def _known(actor: Actor, bill: Bill) -> _Known:
    """What is priced in the project's own bill and in others that were received, by words and unit: the own
    bill's first, then what was matched last."""
    others = Bill.select().where(
        (Bill.project == actor.project_id) & (Bill.id != bill.id) & (Bill.kind != "issued")
    )
    found: _Known = {}
    for each in sorted(others, key=lambda row: (row.kind != "own", -row.id)):
        for item in stood(each):
            if item.rate is not None and item.kind in ("measured", "rate_only", "time"):
                found.setdefault((words(item.description), item.unit), item)
    return found


@action
def take_matches(actor: Actor, bill_id: int, taken: Mapping[int, int]) -> Saved:
    """Price items of a bill as other items are: with their rate, and drawing on the same quantities beside
    what the client says.

    Args:
        taken: for each item, the one it is priced as.

    Raises:
        BadEntry: the two are in units of different kinds, or one is in another bill than it says.
        InUse: the bill was issued.
    """
    bill = find(Bill, actor, bill_id)
    refuse_issued(bill)
    items = {row.id: row for row in Item.those(Item.id, [*taken, *taken.values()], project=actor.project_id)}
    sections = {place.section.id for place in ordered_sections(bill.id)}
    for mine, other in taken.items():
        if mine not in items or other not in items or items[mine].section_id not in sections:
            raise BadEntry("That item is not in this bill any more.", field="taken")
        _refuse_other_unit(items[mine], items[other])
    count = len(taken)
    with recording(actor, f"Bill {bill.title}: {count} item{'s' if count != 1 else ''} matched") as log:
        _price_as(log, {items[mine]: items[other] for mine, other in taken.items()})
        refuse_ring(actor.project_id)
    return log.saved()


def _refuse_other_unit(item: Item, other: Item) -> None:
    if unit(item.unit).symbol != unit(other.unit).symbol:
        raise BadEntry(
            f"“{item.description}” is in {item.unit}, “{other.description}” in {other.unit}.", field="taken",
            remedy="Match it to an item in its own unit.",
        )  # fmt: skip


def _price_as(log: Recording, taken: Mapping[Item, Item]) -> None:
    """Give items the rates and the quantity lines of others."""
    both = [row.id for pair in taken.items() for row in pair]
    parts, links = _by_item(RatePart, both), _by_item(ItemLink, both)
    fresh_parts, fresh_links = list[dict[str, Any]](), list[dict[str, Any]]()
    names = ("build_up", "size", "typed_rate", "rate_reason")
    log.delete_all([part for item in taken for part in parts.get(item.id, ())])
    for item, other in taken.items():
        log.update(item, **{name: other.__data__[name] for name in names})
        for part in parts.get(other.id, ()):
            columns = ("position", "build_up", "factor", "size")
            fresh_parts.append({"item": item.id, **{name: part.__data__[name] for name in columns}})
        there = {(link.element_id, link.output) for link in links.get(item.id, ())}
        for link in links.get(other.id, ()):
            if (link.element_id, link.output) not in there:
                columns = ("element", "output", "split", "part", "factor")
                fresh_links.append({"item": item.id, **{name: link.__data__[name] for name in columns}})
    log.insert_all(RatePart, fresh_parts)
    log.insert_all(ItemLink, fresh_links)


def _by_item(table: Any, items: Iterable[int]) -> dict[int, list[Any]]:
    found: dict[int, list[Any]] = {}
    for row in table.those(table.item, set(items), table.id):
        found.setdefault(row.item_id, []).append(row)
    return found
