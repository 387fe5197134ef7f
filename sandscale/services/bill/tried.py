"""What of the bill can be tried: an item's quantity and rate, and the percentages at its foot."""

from __future__ import annotations

from ...core.pricing.bill import MEASURED, SUMS
from ...store.models import Adjustment, Item
from ..keeping.acting import Actor
from ..keeping.trying import Field, Offers, Tries
from .actions import change_item
from .adjustments import change_adjustment
from .bills import text
from .reading import adjustments_of, own_bill

REASON = "as tried"


def _fields(item: Item) -> list[Field]:
    if item.section.bill.kind != "own":
        return []
    if item.kind in SUMS:
        return [Field("amount", "amount", "", item.typed_amount)]
    rate = Field("rate", "rate", "", "" if item.rate is None else text(item.rate))
    return (
        [Field("quantity", "quantity", item.unit, text(item.quantity)), rate] if item.kind in MEASURED else []
    )


def _change(actor: Actor, item: Item, field: str, value: str) -> object:
    fields = {f"typed_{field}": value}
    if field == "quantity":
        fields["typed_reason"] = item.typed_reason or REASON
    elif field == "rate":
        fields["rate_reason"] = item.rate_reason or REASON
    return change_item(actor, item.id, item.version, fields)


def _change_percent(actor: Actor, row: Adjustment, _field: str, value: str) -> object:
    return change_adjustment(actor, row.id, row.version, {"percent": value})


TRIES = {
    "item": Tries(Item, lambda item: str(item.description), _fields, _change),
    "adjustment": Tries(
        Adjustment, lambda row: str(row.name),
        lambda row: [Field("percent", "percentage", "%", text(row.percent))], _change_percent,
    ),
}  # fmt: skip
OFFERS: Offers = {
    "item": lambda _actor, row: [("item", row)],
    "item-quantity": lambda _actor, row: [("item", row)],
    "item-rate": lambda _actor, row: [("item", row)],
    "bill": lambda actor, _row: [
        ("adjustment", each.id) for each in adjustments_of(own_bill(actor.project_id).id)
    ],
}
