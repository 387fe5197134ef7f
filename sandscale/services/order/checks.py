"""What looks wrong with what is ordered."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

from ...core.checks.check import Check
from ...core.numbers.working import shown
from ...core.pricing.orders import Standing
from ...store.models import Project, PurchaseOrder, Resource, now
from ..keeping.acting import Actor
from ..keeping.checking import Place
from ..prices.needs import needed
from .reading import ordered_of


def _orders(actor: Actor) -> Iterator[Place]:
    """Resources of which the bill needs more by now than is ordered, and those that are late."""
    sent = (PurchaseOrder.project == actor.project_id) & PurchaseOrder.ordered_on.is_null(False)
    if not PurchaseOrder.select().where(sent).exists():
        return
    ordered = {each: told for each, told in ordered_of(actor.project_id).items() if told.ordered}
    needs = needed(Project.get_by_id(actor.project_id), ordered)
    today = now().date()
    for row in Resource.those(Resource.id, ordered, Resource.name):
        told = ordered[row.id]
        standing = Standing(needs.get(row.id, Decimal(0)), told.ordered, told.came, told.due)
        ref = f"need:{row.id}"
        if standing.outgrown:
            says = (
                f"{row.name}: the bill needs {shown(standing.needed)} {row.unit} by now, "
                f"{shown(standing.ordered)} are ordered."
            )
            numbers = (float(standing.needed), float(standing.ordered))
            yield Check("look", "outgrown order", says, ref, numbers=numbers), row.id, row.name
        elif standing.state(today) == "late" and told.due:
            says = f"{row.name} was due on {told.due:%d %b %Y} and hasn't all come."
            yield Check("look", "late order", says, ref), row.id, row.name


CHECKS = (_orders,)
