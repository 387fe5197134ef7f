"""Walking what the bill needs of a resource."""

from __future__ import annotations

from decimal import Decimal

from ...core.numbers.working import Working, shown
from ...store.models import Resource
from ..keeping.acting import Actor, find
from ..keeping.views import WalkView
from ..keeping.walking import MOST_LINKS, Step, currency_of, link_to, view_of
from .reading import item_needs


def _need(actor: Actor, ref: str, resource_id: str) -> WalkView:
    row = find(Resource, actor, int(resource_id))
    items = item_needs(actor, row.id)
    gross = sum((each.gross for each in items), Decimal(0))
    net = sum((each.net for each in items), Decimal(0))
    parts = tuple(
        Working(f"{each.ref} {each.description}", each.gross, row.unit, link=f"item-quantity:{each.id}")
        for each in items[:MOST_LINKS]
    )
    told = " + ".join(shown(part.value) for part in parts[:8]) + (" + …" if len(parts) > 8 else "")
    working = Working(
        f"{row.name} needed", gross, row.unit, "what each item takes, waste and allowances in it", told,
        source=f"net {shown(net)} {row.unit}", parts=parts,
    )  # fmt: skip
    comes = [
        link_to(f"item-quantity:{i.id}", f"{i.ref} {i.description}", i.gross, row.unit, "bill", i.id)
        for i in items
    ]
    unit = f"{currency_of(actor)}/{row.unit}"
    goes = [link_to(f"resource:{row.id}", row.name, row.price, unit, "prices", row.id)]
    return view_of(ref, working, comes, goes, [] if items else ["No item of the bill takes it."])


STEPS = {"need": Step(1, _need, Resource)}
