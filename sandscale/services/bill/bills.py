"""Bills beside the project's own: those received from clients, and the own bill as it was issued, which
stays so."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from ...core.refusals import BadEntry
from ...store.models import Adjustment, Bill, Item, Section
from ..keeping.acting import Actor
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from .reading import adjustments_of, ordered_sections, own_bill


@action
def receive_bill(actor: Actor, title: str, dated: date) -> Saved:
    """A new bill as it comes from a client; its sections and items are added to it.

    Raises:
        BadEntry: the title is empty.
    """
    with recording(actor, f"Bill {title.strip()} received") as log:
        bill = _new(log, "received", title, dated)
    return log.saved(bill)


@action
def issue_bill(actor: Actor, title: str, dated: date) -> Saved:
    """The project's own bill as it is now, kept as it goes out: every quantity, rate and amount is typed in
    it, so nothing that moves later moves it.

    Raises:
        BadEntry: the title is empty.
    """
    own = own_bill(actor.project_id)
    with recording(actor, f"Bill {title.strip()} issued") as log:
        bill = _new(log, "issued", title, dated)
        made: dict[int | None, int | None] = {None: None}
        for place in ordered_sections(own.id):
            section = place.section
            fields = {"title": section.title, "position": section.position, "parent": made[section.parent_id]}
            made[section.id] = log.insert(Section, bill=bill.id, **fields).id
            for item in section.items.order_by(Item.position, Item.id):
                _freeze(log, item, made[section.id] or 0)
        for row in adjustments_of(own.id):
            fields = {"position": row.position, "name": row.name, "percent": row.percent, "base": row.base}
            log.insert(Adjustment, bill=bill.id, **fields)
    return log.saved(bill)


def _freeze(log: Recording, item: Item, section: int) -> None:
    measured = item.kind in ("measured", "rate_only")
    log.insert(
        Item, section=section, position=item.position, kind=item.kind, description=item.description,
        unit=item.unit,
        typed_quantity=_text(item.quantity) if measured else "", typed_reason="as issued",
        typed_rate=_text(item.rate) if item.rate is not None else "",
        typed_amount=_text(item.amount) if item.typed_amount else "",
        number=item.number, client_text=item.client_text,
    )  # fmt: skip


def _text(number: Decimal) -> str:
    return f"{Decimal(number).normalize():f}"


def _new(log: Recording, kind: str, title: str, dated: date) -> Bill:
    if not title.strip():
        raise BadEntry("A bill needs a title.", field="title")
    position = Bill.select().where(Bill.project == log.project.id).count()
    return log.insert(Bill, kind=kind, title=title.strip()[:120].strip(), dated=dated, position=position)
