"""How much of some resources the project's own bill needs, waste and allowances in it."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from ...core.pricing.bands import Picked
from ...core.pricing.build_up import analyse
from ...store.models import Bill, BuildUp, BuildUpLine, Item, Project, RateBand, Resource, Section
from ..bill.rating import billed_by, drawing_on, priced_by
from ..bill.reading import refs_of
from ..keeping.acting import Actor, find
from ..rates.reading import core_lines, lines_of, terms_of
from .views import NeedView

MOST_NEEDING = 1000  # items, in a list of those that need a resource
_Shares = dict[int, Decimal]  # by resource, in its unit, for one unit of a rate


def needed(project: Project, resource_ids: Iterable[int]) -> dict[int, Decimal]:
    """What the bill needs of resources, in their units; nothing stands for those no item draws on.

    Only the rates that draw on them, at whatever depth, are read.
    """
    wanted = set(resource_ids)
    if not wanted:
        return {}
    shares: dict[int, _Shares] = {}
    drawing = _drawing_on(wanted)
    found = dict.fromkeys(wanted, Decimal(0))
    for build_up, quantity in billed_by(drawing).items():
        for resource, share in _shares(build_up, project, wanted, drawing, shares).items():
            found[resource] += quantity * share
    return found


def needed_by(project: Project, resource_ids: Iterable[int], items: Iterable[Item]) -> dict[int, _Shares]:
    """What each of some items needs of resources, in their units."""
    wanted, there = set(resource_ids), list(items)
    drawing, shares = _drawing_on(wanted), dict[int, _Shares]()
    found: dict[int, _Shares] = {item.id: {} for item in there}
    for item, rate, quantity in priced_by(there):
        if rate in drawing:
            for resource, share in _shares(rate, project, wanted, drawing, shares).items():
                found[item.id][resource] = found[item.id].get(resource, Decimal(0)) + quantity * share
    return found


def items_needing(actor: Actor, resource_id: int) -> list[NeedView]:
    """The items of the own bill that need a resource, by their rates, with how much each does."""
    resource = find(Resource, actor, resource_id)
    drawing = _drawing_on({resource.id})
    own = Bill.select(Bill.id).where((Bill.project == actor.project_id) & (Bill.kind == "own"))
    query = Item.select(Item, Section).join(Section)
    query = query.where(drawing_on(drawing) & (Section.bill << own))
    items = list(query.order_by(Section.position, Section.id, Item.position, Item.id).limit(MOST_NEEDING))
    refs = refs_of(items)
    needs = needed_by(Project.get_by_id(actor.project_id), [resource.id], items)
    return [
        NeedView(
            id=item.id, ref=refs[item.id], description=item.description, quantity=item.quantity,
            unit=item.unit, needs=needs[item.id].get(resource.id, Decimal(0)),
        )
        for item in items
    ]  # fmt: skip


def _drawing_on(resource_ids: set[int]) -> set[int]:
    """The rates that draw on resources, themselves or by others."""
    found = BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.resource, resource_ids)
    fresh = found
    while fresh:
        outer = BuildUpLine.column(BuildUpLine.build_up, BuildUpLine.nested, fresh)
        fresh = (outer | RateBand.column(RateBand.build_up, RateBand.nested, fresh)) - found
        found |= fresh
    return found


def _shares(
    build_up_id: int, project: Project, wanted: set[int], drawing: set[int], known: dict[int, _Shares]
) -> _Shares:
    """What one unit of a rate takes of the resources."""
    if build_up_id not in known:
        own: _Shares = {}
        row = BuildUp.get_by_id(build_up_id)
        row.project = project
        rows = lines_of([row.id])
        lines, picked = core_lines(row, rows), {line.id: line.reading for line in rows[row.id]}
        for worked in analyse(lines, terms_of(row, lines)).lines:
            kind, _, source = worked.line.link.partition(":")
            reading = picked.get(worked.line.row)
            if isinstance(reading, Picked):  # a banded rate is what it takes at the line's size
                kind, _, source = reading.band.link.partition(":")
            if kind == "resource" and int(source) in wanted:
                own[int(source)] = own.get(int(source), Decimal(0)) + worked.unit_quantity
            elif kind == "build-up" and int(source) in drawing:
                for resource, share in _shares(int(source), project, wanted, drawing, known).items():
                    own[resource] = own.get(resource, Decimal(0)) + worked.unit_quantity * share
        known[build_up_id] = own
    return known[build_up_id]
