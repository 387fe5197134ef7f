"""What of prices can be tried: what a quote asks."""

from __future__ import annotations

from ...core.numbers.written import listed
from ...store.models import Quote, Resource
from ..bill.bills import text
from ..keeping.acting import Actor, find
from ..keeping.trying import Field, Offers, Tries
from .actions import change_quote
from .reading import price_of


def _change(actor: Actor, quote: Quote, _field: str, value: str) -> object:
    return change_quote(actor, quote.id, quote.version, {"price": listed(value, "price")})


def _used(actor: Actor, resource: int) -> list[tuple[str, int]]:
    """The quotes that a resource is priced by."""
    row = find(Resource, actor, resource)
    return [("quote", quote.reference) for quote in price_of(row, row.quotes, row.project).used]


TRIES = {
    "quote": Tries(
        Quote, lambda row: f"{row.resource.name}, {row.supplier}",
        lambda row: [Field("price", "price", row.unit, text(row.price))], _change,
    )
}  # fmt: skip
OFFERS: Offers = {"quote": lambda _actor, row: [("quote", row)], "resource": _used}
