"""The part of the graph that is rates."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from decimal import Decimal
from typing import Any

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
)
from ..keeping.graph import After, Differing, Ids, Node, Written, ids_in
from .priced import SIZED
from .reading import core_lines, lines_of, terms_of

_KEPT = Decimal(1).scaleb(-12)


_OF_RATES = (
    BuildUp.id, BuildUp.kind, BuildUp.unit, BuildUp.output, BuildUp.hours, BuildUp.output_taken,
    BuildUp.output_key, BuildUp.hours_taken, BuildUp.hours_key, BuildUp.added, BuildUp.added_on, BuildUp.cost,
    BuildUp.rate,
)  # fmt: skip


def _rate(project_id: int, ids: Ids) -> Ids:
    """Rates of build-ups."""
    project, known = Project.get_by_id(project_id), lines_of(ids)
    build_ups = BuildUp.some(_OF_RATES, BuildUp.id, ids)

    def differing() -> Iterator[Differing]:
        for build_up in build_ups:
            if build_up.kind in SIZED:
                continue  # comes to nothing by itself
            build_up.project = project  # read once for all of them
            lines = core_lines(build_up, known)
            analysis = rate_rules.analyse(lines, terms_of(build_up, lines))
            cost = analysis.cost.quantize(_KEPT)
            if (cost, analysis.rate) != (build_up.cost, build_up.rate):
                yield build_up.id, {"cost": cost, "rate": analysis.rate}

    return BuildUp.keep(differing())


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


def _all_fixed(project_id: int, _were: list[Any]) -> Ids:
    lines = (BuildUpLine.project == project_id) & (BuildUpLine.basis == "fixed")
    return ids_in(BuildUpLine.select(BuildUpLine.build_up).where(lines))


def _fixed_of_elements(project_id: int, elements: Ids) -> Ids:
    if not _all_fixed(project_id, []):
        return set()
    return _fixed_of_links(project_id, list(ItemLink.column(ItemLink.item, ItemLink.element, elements)))


# What of an item says how much of its rate is billed.
_BILLED = (Item.typed_quantity, Item.typed_rate, Item.kind, Item.section, Item.size)

NODES = (
    Node(
        name="rates",
        table=BuildUp,
        gives=(BuildUp.cost, BuildUp.rate),
        edges=(
            Written(
                BuildUp,
                (
                    BuildUp.output,
                    BuildUp.hours,
                    BuildUp.output_taken,
                    BuildUp.output_key,
                    BuildUp.hours_taken,
                    BuildUp.hours_key,
                    BuildUp.unit,
                    BuildUp.kind,
                    BuildUp.added,
                    BuildUp.added_on,
                ),
            ),
            Written(Project, (Project.rounding, Project.working_day), found=_of_project),
            # What is had once is spread over what is billed.
            Written(Item, (Item.build_up, *_BILLED), found=_fixed_of_items),
            Written(Item, _BILLED, through=(RatePart.item, RatePart.build_up)),
            Written(RatePart, (RatePart.build_up, RatePart.factor, RatePart.size), found=_fixed_of_items),
            Written(Bill, (Bill.period,), found=_all_fixed),
            Written(ItemLink, (ItemLink.item, ItemLink.factor, ItemLink.part), found=_fixed_of_links),
            After("quantities", found=_fixed_of_elements),
            Written(BuildUpLine, through=(BuildUpLine.build_up,)),
            Written(
                ReferenceSize, through=(ReferenceSize.build_up, BuildUpLine.nested, BuildUpLine.build_up)
            ),
            Written(BuildUp, (BuildUp.sized_in,), through=(BuildUpLine.nested, BuildUpLine.build_up)),
            After("prices", through=(BuildUpLine.resource, BuildUpLine.build_up)),
            After("quantities", through=(BuildUpLine.taken, BuildUpLine.build_up)),
            After("quantities", through=(BuildUp.output_taken,)),
            After("quantities", through=(BuildUp.hours_taken,)),
            Written(RateBand, through=(RateBand.build_up, BuildUpLine.nested, BuildUpLine.build_up)),
            # Rates draw on one another, by lines and by bands.
            After("rates", through=(BuildUpLine.nested, BuildUpLine.build_up)),
            After(
                "rates",
                through=(RateBand.nested, RateBand.build_up, BuildUpLine.nested, BuildUpLine.build_up),
            ),
        ),
        work=_rate,
    ),
)
