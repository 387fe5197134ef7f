"""Bills beside the project's own: those received from clients, and the own bill as it was issued, which
stays so."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from ...core.numbers.entry import kept, read_entry
from ...core.pricing.bill import MEASURED
from ...core.refusals import BadEntry
from ...store.models import (
    Adjustment,
    Bill,
    IssuedPackage,
    Item,
    ItemLink,
    Project,
    RatePart,
    Section,
)
from ..keeping.acting import Actor, InUse, check_version, find
from ..keeping.recording import Recording, action, in_words, recording
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
    with recording(actor, f"Bill {fields.get('title', row.title)}: {in_words(fields)}") as log:
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
    if (package := next(iter(IssuedPackage.those(IssuedPackage.bill, [row.id])), None)) is not None:
        raise InUse(
            f"Package {package.number} went out with this bill.", remedy="Take the package back first."
        )
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
    frozen = own_as_it_is(actor.project_id)
    with recording(actor, f"Bill {title.strip()} issued") as log:
        bill = keep_issued(log, title, dated, frozen)
    return log.saved(bill)


@dataclass(frozen=True)
class Frozen:
    """A bill as it was at one moment: its sections outer first, its items, its adjustments; with the rows
    they came from."""

    currency: str
    period: str
    sections: Sequence[Section]
    items: Sequence[tuple[int, dict[str, Any]]]
    adjustments: Sequence[Adjustment]


def own_as_it_is(project_id: int) -> Frozen:
    """The project's own bill as it is now, every quantity, rate and amount typed."""
    own = own_bill(project_id)
    sections = [place.section for place in ordered_sections(own.id)]
    items = Item.those(Item.section, [section.id for section in sections], Item.position, Item.id)
    composed = RatePart.column(RatePart.item, RatePart.item, [item.id for item in items])
    return Frozen(
        Project.get_by_id(project_id).currency, own.period, sections,
        [(item.section_id, _frozen(item, item.id in composed)) for item in items], adjustments_of(own.id),
    )  # fmt: skip


def keep_issued(log: Recording, title: str, dated: date, frozen: Frozen) -> Bill:
    """A bill as it went out, as a bill of the project's.

    Raises:
        BadEntry: the title is empty.
    """
    bill = new_bill(log, "issued", title, dated, period=frozen.period, currency=frozen.currency)
    made: dict[int | None, int | None] = {None: None}
    for section in frozen.sections:
        fields = {name: getattr(section, name) for name in ("title", "position", "number")}
        fields["parent"] = made[section.parent_id]
        made[section.id] = log.insert(Section, bill=bill.id, **fields).id
    log.insert_all(Item, [{"section": made[section], **item} for section, item in frozen.items])
    for row in frozen.adjustments:
        fields = {"position": row.position, "name": row.name, "percent": row.percent, "base": row.base}
        log.insert(Adjustment, bill=bill.id, **fields)
    return bill


def _frozen(item: Item, composite: bool) -> dict[str, Any]:
    """An item as it goes out, with all that it comes to typed."""
    rate = "" if item.rate is None else text(item.rate)
    return {
        "position": item.position, "kind": item.kind, "description": item.description, "unit": item.unit,
        "note": item.note, "number": item.number, "client_text": item.client_text, "place": "",
        "typed_quantity": text(item.quantity) if item.kind in MEASURED else "", "typed_reason": "as issued",
        "typed_rate": rate, "rate_reason": "as issued" if rate else "",
        "typed_amount": text(item.amount) if item.typed_amount else "", "composite": composite,
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
