"""The adjustments at the foot of a bill: percentages, each on a named base, in their order."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from ...core.numbers.entry import kept, read_entry
from ...core.pricing.bill import AFTER
from ...core.refusals import BadEntry, Refusal
from ...store.models import Adjustment, Bill
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from .actions import arrange, refuse_issued
from .reading import adjustments_of, bill_of

MOST_ADJUSTMENTS = 200


@action
def add_adjustment(actor: Actor, name: str, percent: str, base: str, bill_id: int | None = None) -> Saved:
    """A new adjustment at the foot of a bill (the project's own when none is named), after the others.

    Raises:
        BadEntry: the name is empty or taken, the percentage or base doesn't fit.
    """
    bill = bill_of(actor, bill_id)
    refuse_issued(bill)
    refuse_many(len(adjustments_of(bill.id)) + 1)
    fields = _checked_adjustment(bill, {"name": name, "percent": percent, "base": base})
    position = max((a.position for a in adjustments_of(bill.id)), default=-1) + 1
    with recording(actor, f"{fields['name']} {fields['percent']:f} %") as log:
        row = log.insert(Adjustment, bill=bill.id, position=position, **fields)
    return log.saved(row)


def refuse_many(number: int) -> None:
    """Refuse more adjustments than a bill has at its foot.

    Raises:
        Refusal: they are too many.
    """
    if number > MOST_ADJUSTMENTS:
        raise Refusal(f"A bill has up to {MOST_ADJUSTMENTS} adjustments.", remedy="Put some together.")


@action
def change_adjustment(actor: Actor, adjustment_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change an adjustment's name, percentage or base; those taken after it keep to it by its new name.

    Raises:
        BadEntry: a value can't be read, or the percentage is out of −100 to 1000.
        Refusal: its base doesn't stand before it.
    """
    row = find(Adjustment, actor, adjustment_id)
    bill = row.bill
    refuse_issued(bill)
    fields = _checked_adjustment(bill, fields, row.id)
    check_version(row, version, fields)
    old = row.name
    with recording(actor, f"{fields.get('name', row.name)} {fields.get('percent', row.percent):f} %") as log:
        log.update(row, **fields)
        for other in adjustments_of(bill.id):
            if other.base == AFTER + old:
                log.update(other, base=AFTER + row.name)
    return log.saved(row)


@action
def move_adjustment(actor: Actor, adjustment_id: int, by: int) -> Saved:
    """Put an adjustment earlier (below zero) or later in their order.

    Raises:
        Refusal: one would be taken on an adjustment that no longer stands before it.
    """
    row = find(Adjustment, actor, adjustment_id)
    bill = row.bill
    refuse_issued(bill)
    order = [a.id for a in adjustments_of(bill.id) if a.id != row.id]
    at = min(max([a.id for a in adjustments_of(bill.id)].index(row.id) + by, 0), len(order))
    with recording(actor, f"{row.name} moved") as log:
        arrange(log, Adjustment, [*order[:at], row.id, *order[at:]])
    return log.saved(row)


@action
def delete_adjustment(actor: Actor, adjustment_id: int) -> Saved:
    """Take an adjustment off.

    Raises:
        InUse: another is taken after it.
    """
    row = find(Adjustment, actor, adjustment_id)
    bill = row.bill
    refuse_issued(bill)
    if taken := [a.name for a in adjustments_of(bill.id) if a.base == AFTER + row.name]:
        raise InUse(
            f"{taken[0]} is taken on the total after {row.name}.", remedy="Give it another base first."
        )
    with recording(actor, f"{row.name} taken off") as log:
        log.delete(row)
    return log.saved()


def _checked_adjustment(bill: Bill, fields: dict[str, Any], adjustment_id: int = 0) -> dict[str, Any]:
    checked: dict[str, Any] = {}
    others = [a.name for a in adjustments_of(bill.id) if a.id != adjustment_id]
    if "name" in fields:
        checked["name"] = fields["name"].strip()[:60].strip()
        if not checked["name"]:
            raise BadEntry("An adjustment needs a name.", field="name")
        if checked["name"].lower() in (name.lower() for name in others):
            raise BadEntry(f"There is {checked['name']} already.", field="name")
    if "percent" in fields:
        typed = kept(fields["percent"].strip().rstrip("%"), "", field="percent")
        percent = read_entry(typed, "", field="percent")
        checked["percent"] = checked_percent(Decimal(str(round(percent, 4))))
    if "base" in fields:
        if fields["base"] not in ("items", "work", "running", *(AFTER + name for name in others)):
            raise BadEntry(
                "An adjustment is taken on the items, the work, the total so "
                "far, or the total after another.",
                field="base",
            )
        checked["base"] = fields["base"]
    return checked


def checked_percent(percent: Decimal) -> Decimal:
    """A percentage as an adjustment may have it.

    Raises:
        BadEntry: it is out of range.
    """
    if not -100 <= percent <= 1000:
        raise BadEntry(
            f"{percent} % is out of range.",
            field="percent",
            remedy="Type a percentage between −100 and 1000.",
        )
    return percent
