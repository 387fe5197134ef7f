"""Bills beside the project's own: those received from clients, and the own bill as it was issued, which
stays so."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any

from ...core.numbers.entry import kept, read_entry
from ...core.pricing.bill import MEASURED
from ...core.refusals import BadEntry
from ...store.models import Adjustment, Bill, Item, ItemLink, RatePart, Section
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from .actions import refuse_drawn, refuse_issued
from .reading import adjustments_of, ordered_sections, own_bill


@action
def receive_bill(actor: Actor, title: str, dated: date) -> Saved:
    """A new bill as it comes from a client; its sections and items are added to it.

    Raises:
        BadEntry: the title is empty.
    """
    with recording(actor, f"Bill {title.strip()} received") as log:
        bill = new_bill(log, "received", title, dated)
    return log.saved(bill)


@action
def change_bill(actor: Actor, bill_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Give a bill another title, or say how long its work lasts, which time-related charges follow.

    Raises:
        BadEntry: the title is empty, or the period no time.
        InUse: it was issued.
    """
    row = find(Bill, actor, bill_id)
    refuse_issued(row)
    if "title" in fields:
        fields["title"] = _titled(fields["title"])
    if "period" in fields:
        fields["period"] = checked_period(fields["period"])
    check_version(row, version, fields)
    with recording(actor, f"Bill {fields.get('title', row.title)}: {', '.join(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


def checked_period(text: str) -> str:
    """How long the work lasts, as it is kept: a bare number counts weeks.

    Raises:
        BadEntry: it is no time, or below zero.
    """
    if not text.strip():
        return ""
    bare = text.strip().replace(".", "", 1).isdecimal()
    period = f"{text.strip()} weeks" if bare else kept(text.strip(), "week", field="period")
    read_entry(period, "week", field="period", minimum=0)
    return period


@action
def delete_bill(actor: Actor, bill_id: int) -> Saved:
    """Take a bill out, with all that is in it; the project keeps its own.

    Raises:
        InUse: it is the project's own.
    """
    row = find(Bill, actor, bill_id)
    if row.kind == "own":
        raise InUse("A project keeps a bill of its own.", remedy="Delete what is in it instead.")
    with recording(actor, f"Bill {row.title} deleted") as log:
        places = ordered_sections(row.id)
        items = Item.those(Item.section, [place.section.id for place in places])
        refuse_drawn(item.id for item in items)
        held = [item.id for item in items]
        log.delete_all(ItemLink.those(ItemLink.item, held))
        log.delete_all(RatePart.those(RatePart.item, held))
        log.delete_all(items)
        for place in reversed(places):
            log.delete(place.section)
        for adjustment in adjustments_of(row.id):
            log.delete(adjustment)
        log.delete(row)
    return log.saved()


@action
def issue_bill(actor: Actor, title: str, dated: date) -> Saved:
    """The project's own bill as it is now, kept as it goes out: every quantity, rate and amount is typed in
    it, so nothing that moves later moves it.

    Raises:
        BadEntry: the title is empty.
    """
    own = own_bill(actor.project_id)
    with recording(actor, f"Bill {title.strip()} issued") as log:
        bill = new_bill(log, "issued", title, dated, period=own.period)
        made: dict[int | None, int | None] = {None: None}
        places = ordered_sections(own.id)
        for place in places:
            section = place.section
            fields = {name: getattr(section, name) for name in ("title", "position", "number")}
            fields["parent"] = made[section.parent_id]
            made[section.id] = log.insert(Section, bill=bill.id, **fields).id
        items = Item.those(Item.section, [place.section.id for place in places], Item.position, Item.id)
        log.insert_all(Item, [{"section": made[item.section_id], **_frozen(item)} for item in items])
        for row in adjustments_of(own.id):
            fields = {"position": row.position, "name": row.name, "percent": row.percent, "base": row.base}
            log.insert(Adjustment, bill=bill.id, **fields)
    return log.saved(bill)


def _frozen(item: Item) -> dict[str, Any]:
    """An item as it goes out, with all that it comes to typed."""
    rate = "" if item.rate is None else text(item.rate)
    return {
        "position": item.position, "kind": item.kind, "description": item.description, "unit": item.unit,
        "note": item.note, "number": item.number, "client_text": item.client_text, "place": "",
        "typed_quantity": text(item.quantity) if item.kind in MEASURED else "", "typed_reason": "as issued",
        "typed_rate": rate, "rate_reason": "as issued" if rate else "",
        "typed_amount": text(item.amount) if item.typed_amount else "",
    }  # fmt: skip


def text(number: Decimal) -> str:
    """A number as it would be typed."""
    return f"{Decimal(number).normalize():f}"


def new_bill(log: Recording, kind: str, title: str, dated: date, **fields: Any) -> Bill:
    """A bill after the others, in the currency that the project has now where no other is named.

    Raises:
        BadEntry: the title is empty.
    """
    position = Bill.select().where(Bill.project == log.project.id).count()
    fields = {"currency": log.project.currency, **fields}
    return log.insert(Bill, kind=kind, title=_titled(title), dated=dated, position=position, **fields)


def _titled(title: str) -> str:
    if not title.strip():
        raise BadEntry("A bill needs a title.", field="title")
    return title.strip()[:120].strip()
