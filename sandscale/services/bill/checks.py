"""What looks wrong in the bill."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.checks.check import Check
from ...core.checks.unpriced import unpriced
from ...core.refusals import BadEntry
from ...store.models import Bill, Item, Section
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place
from ..rates.priced import Priced
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
    priced = Priced(item.build_up_id for item in rows)
    for item in rows:
        name = f"{numbers[item.id]} {item.description}"
        if item.rate is None and priced.is_sized(item.build_up_id):
            try:
                priced.at(item.build_up_id, item.size)
            except BadEntry as refusal:
                says = f"{name}: {refusal.sentence}"
                yield Check("stop", "no size", says, f"item:{item.id}"), item.id, numbers[item.id]
                continue
        yield from (
            (c, item.id, numbers[item.id])
            for c in unpriced(name, f"item:{item.id}", item.kind, item.quantity, item.rate, item.amount)
        )


CHECKS = (_items,)
