"""The part of the graph that is rates."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.numbers.formula import refuse_deeper
from ...core.numbers.rounding import RATE
from ...core.pricing import build_up as rate_rules
from ...store.models import (
    Bill,
    BuildUp,
    BuildUpLine,
    Item,
    ItemLink,
    Project,
    RateBand,
    RatePart,
    ReferenceSize,
    Resource,
)
from ..bill.quantities import places_of
from ..keeping.graph import After, Differing, Ids, Node, Written, ids_in
from .priced import SIZED
from .reading import MOST_NESTED, nesting_told
from .takes import prices_of, taken_by_rates, takes_known

_KEPT = Decimal(1).scaleb(-12)


_OF_RATES = (
    BuildUp.id, BuildUp.kind, BuildUp.takes, BuildUp.added, BuildUp.added_on, BuildUp.cost, BuildUp.rate,
)  # fmt: skip


def _takes(project: Project, ids: Collection[int]) -> Ids:
    """What rates take: of resources, of other rates, of the money of a group."""
    known = taken_by_rates(project, ids)
    differing = ((row.id, takes) for row, takes in known if takes != row.takes and row.kind not in SIZED)
    return BuildUp.keep([BuildUp.takes], differing)


def _rate(project: Project, ids: Collection[int]) -> Ids:
    """Rates of build-ups by what they take, and of all that take these, once for each; of a banded or a
    reference rate none, it comes to nothing by itself."""
    depths = _depths(project.id, ids)
    rows = [row for row in BuildUp.some(_OF_RATES, BuildUp.id, depths) if row.kind not in SIZED]
    rows.sort(key=lambda row: depths[row.id])
    takes = takes_known(project, rows)
    prices, places = prices_of(takes.values(), takes), places_of(project)[RATE]

    def differing() -> Iterator[Differing]:
        for row in rows:
            cost = rate_rules.cost_of(takes[row.id], prices)
            rate = _added(row.added, row.added_on, places).rate_of(cost)
            prices[f"build-up:{row.id}"] = cost = cost.quantize(_KEPT)
            if cost != row.cost or rate != row.rate:
                yield row.id, cost, rate

    return BuildUp.keep([BuildUp.cost, BuildUp.rate], differing())


def _depths(project_id: int, ids: Collection[int]) -> dict[int, int]:
    """Rates and all that take them by others, each with how deep these are nested in it: those of less come
    first.

    Raises:
        BadFormula: one takes itself by others, as it may after an undo; or they are nested too deep.
    """
    depths, fresh, depth = dict[int, int](), set(ids), 0
    while fresh:
        if depth > MOST_NESTED:
            refuse_deeper(nesting_told(project_id), "Rates", MOST_NESTED)
        depths |= dict.fromkeys(fresh, depth)
        fresh, depth = _by_rates(fresh), depth + 1
    return depths


@lru_cache(maxsize=64)
def _added(added: Decimal, on: rate_rules.AddedOn, places: int) -> rate_rules.Terms:
    """What is added to the cost of rates: the same for most of them."""
    return rate_rules.Terms(added=added, added_on=on, places=places)


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(BuildUp.select(BuildUp.id).where(BuildUp.project == project_id))


def _fixed(build_ups: Iterable[Any]) -> Ids:
    """Those of some rates in which something is had once."""
    ids = set(build_ups)
    ids |= RateBand.column(RateBand.nested, RateBand.build_up, ids)
    those = BuildUpLine.those(BuildUpLine.build_up, ids, basis="fixed")
    return {line.build_up_id for line in those}


def _fixed_of_items(_project_id: int, were: list[Any]) -> Ids:
    return _fixed(were)


def _fixed_of_links(_project_id: int, items: list[Any]) -> Ids:
    pricing = Item.column(Item.build_up, Item.id, items) - {None}
    return _fixed(pricing | RatePart.column(RatePart.build_up, RatePart.item, items))


def _on_gangs(rates: Ids) -> Ids:
    """The rates that draw on gangs among some."""
    gangs = {row.id for row in BuildUp.those(BuildUp.id, rates, kind="gang")}
    return BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.nested, gangs)


def _by_rates(rates: Ids) -> Ids:
    """By lines, and by bands."""
    banded = RateBand.column(RateBand.build_up, RateBand.nested, rates)
    return BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.nested, rates | banded)


def _all_fixed(project_id: int, _were: list[Any]) -> Ids:
    lines = (BuildUpLine.project == project_id) & (BuildUpLine.basis == "fixed")
    return ids_in(BuildUpLine.select(BuildUpLine.build_up).where(lines))


def _fixed_of_elements(project_id: int, elements: Ids) -> Ids:
    if not _all_fixed(project_id, []):
        return set()
    return _fixed_of_links(project_id, list(ItemLink.column(ItemLink.item, ItemLink.element, elements)))


# What of an item says how much of its rate is billed.
_BILLED = (Item.typed_quantity, Item.typed_rate, Item.kind, Item.section, Item.size)

_NESTING = (BuildUpLine.nested, BuildUpLine.build_up)

NODES = (
    Node(
        name="takes",
        table=BuildUp,
        gives=(BuildUp.takes,),
        edges=(
            Written(
                BuildUp,
                (
                    BuildUp.output, BuildUp.hours, BuildUp.output_taken, BuildUp.output_key,
                    BuildUp.hours_taken, BuildUp.hours_key, BuildUp.unit, BuildUp.kind,
                ),
            ),
            Written(Project, (Project.working_day,), found=_of_project),
            # What is had once is spread over what is billed.
            Written(Item, (Item.build_up, *_BILLED), found=_fixed_of_items),
            Written(Item, _BILLED, through=(RatePart.item, RatePart.build_up)),
            Written(RatePart, (RatePart.build_up, RatePart.factor, RatePart.size), found=_fixed_of_items),
            Written(Bill, (Bill.period,), found=_all_fixed),
            Written(ItemLink, (ItemLink.item, ItemLink.factor, ItemLink.part), found=_fixed_of_links),
            After("quantities", found=_fixed_of_elements),
            Written(BuildUpLine, through=(BuildUpLine.build_up,)),
            # Quantities are in the units of what lines draw on.
            Written(Resource, (Resource.unit,), through=(BuildUpLine.resource, BuildUpLine.build_up)),
            Written(BuildUp, (BuildUp.unit, BuildUp.kind, BuildUp.sized_in), through=_NESTING),
            Written(ReferenceSize, through=(ReferenceSize.build_up, *_NESTING)),
            Written(RateBand, through=(RateBand.build_up, *_NESTING)),
            After("quantities", through=(BuildUpLine.taken, BuildUpLine.build_up)),
            After("quantities", through=(BuildUp.output_taken,)),
            After("quantities", through=(BuildUp.hours_taken,)),
            After("takes", found=lambda _project, rates: _on_gangs(rates)),
        ),
        work=_takes,
    ),
    Node(
        name="rates",
        table=BuildUp,
        gives=(BuildUp.cost, BuildUp.rate),
        edges=(
            Written(BuildUp, (BuildUp.kind, BuildUp.added, BuildUp.added_on)),
            Written(Project, (Project.rounding,), found=_of_project),
            After("takes"),
            After("prices", through=(BuildUpLine.resource, BuildUpLine.build_up)),
        ),
        work=_rate,
    ),
)  # fmt: skip
