"""What looks wrong in the bill."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.checks.unpriced import unpriced
from ...store.models import Bill, Item, Section
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place
from .reading import refs_of


def _items(actor: Actor) -> Iterator[Place]:
    empty = (Item.amount == 0) & (Item.kind != "heading")
    rows = list(
        Item.select()
        .join(Section)
        .join(Bill)
        .where((Item.project == actor.project_id) & (Bill.kind == "own") & empty)
        .order_by(Item.section, Item.position)
        .limit(MOST)
    )
    numbers = refs_of(rows)
    for item in rows:
        name = f"{numbers[item.id]} {item.description}"
        yield from (
            (c, item.id, numbers[item.id])
            for c in unpriced(name, f"item:{item.id}", item.kind, item.quantity, item.rate, item.amount)
        )


CHECKS = (_items,)
