"""Inputs that are drawn from the project: hours of a resource over items of the bill, or quantity lines."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from ...core.numbers.formula import refuse_deeper
from ...core.numbers.working import Working
from ...store.models import (
    Bill,
    BuildUp,
    BuildUpLine,
    DimensionLine,
    Element,
    InputDraw,
    Item,
    ItemLink,
    Location,
    Project,
    RateBand,
    RatePart,
    Resource,
    Section,
)
from ..bill.reading import refs_of
from ..keeping.graph import After, Ids, Written, ids_in
from ..prices.needs import needed_by
from .taken import Taken, taken_of

MOST_DRAWN = 60  # elements that draw on elements that draw …


Drawn = tuple[str, Working]  # an input's key; a number in its unit, from what, and where that is walked to


def drawn_by(elements: Iterable[int], units: Mapping[int, Mapping[str, str]]) -> dict[int, list[Drawn]]:
    """What the inputs of elements draw from the project, by element (see :func:`draws_of`)."""
    found: dict[int, list[Drawn]] = {}
    for row, told in draws_of(elements, units):
        found.setdefault(row.element_id, []).append((row.input, told))
    return found


def draws_of(
    elements: Iterable[int], units: Mapping[int, Mapping[str, str]]
) -> Iterator[tuple[InputDraw, Working]]:
    """What inputs of elements draw, each with the number it comes to, in the input's unit.

    Args:
        units: for each element, the units its inputs are in, by their keys.

    Raises:
        BadEntry: a quantity line is in another unit than the input.
    """
    rows = InputDraw.those(InputDraw.element, elements, InputDraw.id)
    asked = [row for row in rows if row.input in units[row.element_id]]
    found = {row.id: line for row, line in _of_items([row for row in asked if row.resource_id])}
    taken = taken_of((row.taken_id, row.taken_key) for row in asked)
    for row in asked:
        symbol = units[row.element_id][row.input]
        line = found.get(row.id) or taken.get((row.taken_id, row.taken_key))
        gone = Taken(0.0, symbol, f"quantity:{row.taken_id}:{row.taken_key}", "A quantity that is gone")
        line = line or gone
        yield row, Working(line.name, line.held_in(symbol), symbol, link=line.link)


def _of_items(rows: list[InputDraw]) -> Iterator[tuple[InputDraw, Taken]]:
    """How much of its resource each draw's item takes."""
    if not rows:
        return
    project = Project.get_by_id(rows[0].project_id)
    items = {row.id: row for row in Item.those(Item.id, {row.item_id for row in rows})}
    resources = {row.id: row for row in Resource.those(Resource.id, {row.resource_id for row in rows})}
    amounts, refs = needed_by(project, resources, list(items.values())), refs_of(items.values())
    for row in rows:
        item, resource = items[row.item_id], resources[row.resource_id]
        name = f"{resource.name} in {refs[item.id]} {item.description}"
        value = float(amounts[item.id].get(resource.id, 0))
        yield row, Taken(value, resource.unit, f"item-quantity:{item.id}", name)


def refuse_ring(project_id: int) -> None:
    """Refuse that what an input draws hangs on its own element, by however many steps.

    Raises:
        BadFormula: it does; the sentence names the elements.
    """
    draws = list(InputDraw.select().where(InputDraw.project == project_id))
    if not draws:
        return
    uses: dict[int, set[int]] = {}
    taking = (DimensionLine.project == project_id) & DimensionLine.taken_from.is_null(False)
    lines = DimensionLine.select(DimensionLine.element, DimensionLine.taken_from).where(taking)
    for element, source in lines.tuples():
        uses.setdefault(element, set()).add(source)
    for draw in draws:
        behind = {draw.taken_id} - {None}
        if draw.item_id:
            behind = ItemLink.column(ItemLink.element, ItemLink.item, [draw.item_id])
            for rate in _rates_of(draw.item):
                behind |= _behind(draw.resource_id, rate, set())
        uses.setdefault(draw.element_id, set()).update(behind)
    names = _names(set(uses).union(*uses.values()))
    told = {names[each]: [names[source] for source in uses.get(each, ())] for each in names}
    refuse_deeper(told, "Elements", MOST_DRAWN)


def _names(elements: set[int]) -> dict[int, str]:
    """What elements are called, each otherwise."""
    query = Element.select(Element, Location).join(Location).where(Element.id << list(elements))
    found: dict[int, str] = {}
    for row in query.order_by(Element.id):
        name = f"{row.mark} in {row.location.name}"
        found[row.id] = f"{name}, no. {row.id}" if name in found.values() else name
    return found


def _rates_of(item: Item) -> set[int]:
    """The rates that an item is priced by."""
    return RatePart.column(RatePart.build_up, RatePart.item, [item.id]) | {item.build_up_id} - {None}


def _behind(resource: int, rate: int, seen: set[int]) -> set[int]:
    """The elements that say how much of a resource a rate takes."""
    if rate in seen:
        return set()
    seen.add(rate)
    found: set[int] = set()
    reaches = RateBand.column(RateBand.nested, RateBand.build_up, [rate])
    for line in BuildUpLine.those(BuildUpLine.build_up, [rate]):
        if line.nested_id:
            reaches.add(line.nested_id)
        if line.resource_id == resource or line.nested_id:
            found.add(line.taken_id)
    row = BuildUp.get_by_id(rate)
    found |= {row.output_taken_id, row.hours_taken_id}
    for each in reaches:
        found |= _behind(resource, each, seen)
    return found - {None}


def _drawing(project_id: int, _were: Any) -> Ids:
    """The elements that draw on what rates take."""
    mine = (InputDraw.project == project_id) & InputDraw.resource.is_null(False)
    return ids_in(InputDraw.select(InputDraw.element).where(mine))


def _through_rates(project_id: int, moved: Ids) -> Ids:
    """Those, where rates take from elements that moved."""
    if not (drawing := _drawing(project_id, None)):
        return drawing
    taking = BuildUpLine.column(BuildUpLine.id, BuildUpLine.taken, moved)
    taking |= BuildUp.column(BuildUp.id, BuildUp.output_taken, moved)
    taking |= BuildUp.column(BuildUp.id, BuildUp.hours_taken, moved)
    return drawing if taking else set()


WRITTEN = (
    Written(InputDraw, through=(InputDraw.element,)),
    Written(Resource, (Resource.unit,), through=(InputDraw.resource, InputDraw.element)),
    Written(
        Item,
        (Item.build_up, Item.kind, Item.unit, Item.typed_quantity, Item.typed_rate, Item.size),
        through=(InputDraw.item, InputDraw.element),
    ),
    Written(RatePart, through=(RatePart.item, InputDraw.item, InputDraw.element)),
    Written(Bill, (Bill.period,), through=(Section.bill, Item.section, InputDraw.item, InputDraw.element)),
    Written(ItemLink, through=(ItemLink.item, InputDraw.item, InputDraw.element)),
    Written(BuildUpLine, found=_drawing),
    Written(BuildUp, (BuildUp.output, BuildUp.hours, BuildUp.kind), found=_drawing),
    Written(RateBand, found=_drawing),
    # How quantities are rounded into the bill, and how long a day is.
    Written(Project, (Project.rounding, Project.working_day), found=_drawing),
)
AMONG = (
    After("quantities", through=(InputDraw.taken, InputDraw.element)),
    After("quantities", through=(ItemLink.element, ItemLink.item, InputDraw.item, InputDraw.element)),
    After("quantities", found=_through_rates),
)
