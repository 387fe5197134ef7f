"""What the bill needs by section or stage, and what of the elements on the sheets is ordered."""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from ...core.pricing.build_up import GROUPS
from ...core.pricing.orders import Standing
from ...store.models import ItemLink, Project, Resource
from ..bill.reading import own_bill
from ..bill.report import shares_of
from ..keeping.acting import Actor
from .explosion import OfRate, Takes, exploded, together
from .reading import Ordered, ordered_of
from .views import GroupNeed, NeedGroup, OrderedElements

NeededBy = Literal["section", "stage"]
_SHOWN, _CENT = Decimal("0.0001"), Decimal("0.01")


def needed_by(actor: Actor, by: NeededBy) -> list[NeedGroup]:
    """The own bill's resources by section or stage, each group's adding up to the whole; what an item is
    split into shares what it takes as it shares its quantity."""
    bill, project = own_bill(actor.project_id), Project.get_by_id(actor.project_id)
    of_items = exploded(project, bill.id)
    groups: dict[str, OfRate] = {}
    for item, shares in shares_of(bill, by).items():
        for name, share in shares.items():
            own = groups.setdefault(name, {})
            for resource, takes in of_items.get(item, {}).items():
                own[resource] = own.get(resource, Takes()) + takes.times(share, share, share)
    names = {r for own in groups.values() for r in own}
    rows = {row.id: row for row in Resource.those(Resource.id, names)}
    return [_group(name, own, rows) for name, own in groups.items() if own]


def _group(name: str, own: OfRate, rows: dict[int, Resource]) -> NeedGroup:
    ordered = sorted(own, key=lambda each: (GROUPS.index(rows[each].kind), rows[each].name.casefold()))
    return NeedGroup(
        name=name, money=sum((takes.money for takes in own.values()), Decimal(0)).quantize(_CENT),
        rows=[
            GroupNeed(
                resource=each, name=rows[each].name, kind=rows[each].kind, unit=rows[each].unit,
                net=own[each].net.quantize(_SHOWN), gross=own[each].gross.quantize(_SHOWN),
                money=own[each].money.quantize(_CENT),
            )
            for each in ordered
        ],
    )  # fmt: skip


def ordered_elements(actor: Actor) -> OrderedElements:
    """Which elements' materials are all ordered, and which aren't; those that take none are in neither.

    A resource is ordered once as much of it is as the whole bill needs."""
    project = Project.get_by_id(actor.project_id)
    of_items, ordered = exploded(project, own_bill(project.id).id), ordered_of(project.id)
    missing = {
        resource
        for resource, takes in together(of_items).items()
        if not Standing(takes.gross, ordered.get(resource, Ordered()).ordered, Decimal(0)).covered
    }
    resources = {resource for own in of_items.values() for resource in own}
    bought = {row.id for row in Resource.those(Resource.id, resources) if row.kind != "labour"}
    needs: dict[int, set[int]] = {}
    for link in ItemLink.those(ItemLink.item, list(of_items)):
        needs.setdefault(link.element_id, set()).update(bought & of_items[link.item_id].keys())
    return OrderedElements(
        ordered=[element for element, needed in needs.items() if needed and not needed & missing],
        missing=[element for element, needed in needs.items() if needed & missing],
    )
