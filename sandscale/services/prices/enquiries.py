"""Enquiries: resources that suppliers are asked to price, and answers taken in as quotes."""

from __future__ import annotations

import re
from collections.abc import Iterable
from decimal import Decimal
from typing import Any

from peewee import fn

from ...core.refusals import BadEntry, Refusal
from ...settings import mail
from ...store.models import (
    Answer,
    Enquiry,
    EnquiryLine,
    EnquirySupplier,
    Project,
    Quote,
    Resource,
    Supplier,
    now,
)
from ..keeping import jobs
from ..keeping.acting import Actor, InUse, Missing, check_version, find, require_writer
from ..keeping.naming import refuse_twin, stripped
from ..keeping.recording import Recording, action, in_words, recording
from ..keeping.views import Saved
from .desk import answers_to
from .needs import needed

LETTER = "enquiry_letter"  # the job that sends one
_MOST_LINES = 400
_EMAIL = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")
_PLACES = Decimal("0.001")


@action
def add_supplier(actor: Actor, fields: dict[str, Any]) -> Saved:
    """A supplier who can be asked.

    Raises:
        BadEntry: the name is empty or taken, or the address is none.
    """
    fields = _checked_supplier(actor, fields)
    with recording(actor, f"Supplier {fields['name']}") as log:
        row = log.insert(Supplier, **fields)
    return log.saved(row)


@action
def change_supplier(actor: Actor, supplier_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a supplier's name or address.

    Raises:
        BadEntry: a value doesn't fit.
        Stale: someone else changed it meanwhile.
    """
    row = find(Supplier, actor, supplier_id)
    fields = _checked_supplier(actor, fields, row.id)
    check_version(row, version, fields)
    with recording(actor, f"Supplier {row.name}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_supplier(actor: Actor, supplier_id: int) -> Saved:
    """Take a supplier out.

    Raises:
        InUse: an enquiry went to them.
    """
    row = find(Supplier, actor, supplier_id)
    if row.asked.exists() or Answer.select().where(Answer.supplier == row.id).exists():
        raise InUse(f"{row.name} is asked in an enquiry.", remedy="Take them out of it first.")
    with recording(actor, f"Supplier {row.name} deleted") as log:
        log.delete(row)
    return log.saved()


def _checked_supplier(actor: Actor, fields: dict[str, Any], supplier_id: int = 0) -> dict[str, Any]:
    fields = checked_supplier(fields)
    if "name" in fields:
        refuse_twin(actor.project_id, Supplier, "supplier", fields["name"], supplier_id)
    return fields


def checked_supplier(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed of a supplier, as it is kept.

    Raises:
        BadEntry: a value doesn't fit.
    """
    fields = stripped(fields)
    if fields.get("name") == "":
        raise BadEntry("A supplier needs a name.", field="name")
    if fields.get("email") and not _EMAIL.fullmatch(fields["email"]):
        raise BadEntry(f"“{fields['email'][:60]}” is no e-mail address.", field="email")
    return fields


@action
def add_enquiry(
    actor: Actor, resource_ids: Iterable[int], supplier_ids: Iterable[int], fields: dict[str, Any]
) -> Saved:
    """A new enquiry: it stands ready, and goes out when it is sent. It asks for what the bill needs now.

    Raises:
        BadEntry: it asks for nothing, or nobody.
    """
    resources = [find(Resource, actor, each) for each in dict.fromkeys(resource_ids)]
    suppliers = [find(Supplier, actor, each) for each in dict.fromkeys(supplier_ids)]
    if not resources:
        raise BadEntry("An enquiry asks for something.", field="resources", remedy="Choose what is priced.")
    if len(resources) > _MOST_LINES:
        raise BadEntry(f"An enquiry asks for {_MOST_LINES} resources at most.", field="resources")
    needs = needed(Project.get_by_id(actor.project_id), [each.id for each in resources])
    last = Enquiry.select(fn.MAX(Enquiry.number)).where(Enquiry.project == actor.project_id).scalar() or 0
    with recording(actor, f"Enquiry {last + 1}") as log:
        row = log.insert(Enquiry, number=last + 1, **checked_enquiry(fields))
        log.insert_all(
            EnquiryLine,
            [
                {"enquiry": row.id, "resource": each.id, "quantity": _needed(needs.get(each.id))}
                for each in resources
            ],
        )
        log.insert_all(EnquirySupplier, [{"enquiry": row.id, "supplier": each.id} for each in suppliers])
    return log.saved(row)


def _needed(quantity: Decimal | None) -> Decimal:
    return (quantity or Decimal(0)).quantize(_PLACES)


def checked_enquiry(fields: dict[str, Any]) -> dict[str, Any]:
    """What was typed of an enquiry, as it is kept."""
    return stripped(fields)


def _open(row: Enquiry) -> Enquiry:
    """An enquiry that wasn't sent.

    Raises:
        Refusal: it was; what was asked stays as it was.
    """
    if row.asked_on is not None:
        raise Refusal(
            f"Enquiry {row.number} went out on {row.asked_on:%d %b %Y} and stays as it was sent.",
            remedy="Make another one for what changed.",
        )
    return row


@action
def change_enquiry(actor: Actor, enquiry_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change what an enquiry that wasn't sent says.

    Raises:
        Refusal: it was sent.
        Stale: someone else changed it meanwhile.
    """
    row = _open(find(Enquiry, actor, enquiry_id))
    fields = checked_enquiry(fields)
    check_version(row, version, fields)
    with recording(actor, f"Enquiry {row.number}: {in_words(fields)}") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_enquiry(actor: Actor, enquiry_id: int) -> Saved:
    """Take an enquiry out, with what was answered; quotes taken from it stay."""
    row = find(Enquiry, actor, enquiry_id)
    with recording(actor, f"Enquiry {row.number} deleted") as log:
        ids = [each.id for each in row.answers]
        for quote in Quote.those(Quote.answer, ids):
            log.update(quote, answer=None)
        for model in (Answer, EnquiryLine, EnquirySupplier):
            log.delete_all(list(model.those(model.enquiry, [row.id])))
        log.delete(row)
    return log.saved()


@action
def add_enquiry_line(actor: Actor, enquiry_id: int, resource_id: int) -> Saved:
    """Ask for one resource more, as much as the bill needs of it.

    Raises:
        BadEntry: it is asked for already.
        Refusal: it was sent.
    """
    row, resource = _open(find(Enquiry, actor, enquiry_id)), find(Resource, actor, resource_id)
    if row.lines.where(EnquiryLine.resource == resource.id).exists():
        raise BadEntry(f"It asks for {resource.name} already.", field="resource")
    quantity = _needed(needed(Project.get_by_id(actor.project_id), [resource.id]).get(resource.id))
    with recording(actor, f"Enquiry {row.number}: {resource.name}") as log:
        line = log.insert(EnquiryLine, enquiry=row.id, resource=resource.id, quantity=quantity)
    return log.saved(line)


@action
def change_enquiry_line(actor: Actor, line_id: int, version: int, quantity: Decimal) -> Saved:
    """Ask for another quantity.

    Raises:
        BadEntry: it is below zero or too large.
        Refusal: it was sent.
        Stale: someone else changed it meanwhile.
    """
    line = find(EnquiryLine, actor, line_id)
    row = _open(line.enquiry)
    check_asked(quantity)
    check_version(line, version, {"quantity": quantity})
    with recording(actor, f"Enquiry {row.number}: {line.resource.name} {quantity}") as log:
        log.update(line, quantity=quantity)
    return log.saved(line)


def check_asked(quantity: Decimal) -> None:
    """Refuse what can't be asked for.

    Raises:
        BadEntry: it is below zero or too large.
    """
    if not (quantity.is_finite() and 0 <= quantity < Decimal("1e9")):
        raise BadEntry(
            f"{quantity} can't be asked for.", field="quantity", remedy="Type a number above zero."
        )


@action
def delete_enquiry_line(actor: Actor, line_id: int) -> Saved:
    """Ask for a resource no longer.

    Raises:
        Refusal: it was sent.
    """
    line = find(EnquiryLine, actor, line_id)
    row = _open(line.enquiry)
    with recording(actor, f"Enquiry {row.number}: without {line.resource.name}") as log:
        log.delete(line)
    return log.saved()


@action
def ask_suppliers(actor: Actor, enquiry_id: int, supplier_ids: Iterable[int]) -> Saved:
    """Whom an enquiry goes to.

    Raises:
        Refusal: it was sent.
    """
    row = _open(find(Enquiry, actor, enquiry_id))
    wanted = {find(Supplier, actor, each).id for each in supplier_ids}
    there = {each.supplier_id: each for each in row.suppliers}
    with recording(actor, f"Enquiry {row.number}: suppliers") as log:
        log.delete_all([each for supplier, each in there.items() if supplier not in wanted])
        fresh = [{"enquiry": row.id, "supplier": each} for each in sorted(wanted - set(there))]
        log.insert_all(EnquirySupplier, fresh)
    return log.saved(row)


@action
def send_enquiry(actor: Actor, enquiry_id: int) -> Saved:
    """Send an enquiry: a letter to each supplier, with what is asked for as a table.

    Raises:
        Refusal: it was sent, asks nobody or for nothing, or a supplier has no address, or no letters go out.
    """
    row = _open(find(Enquiry, actor, enquiry_id))
    suppliers = [each.supplier for each in row.suppliers]
    if not suppliers or not row.lines.exists():
        lacks = "a supplier" if row.lines.exists() else "something to be priced"
        raise Refusal(f"Enquiry {row.number} lacks {lacks}.", remedy="Choose it, then send.")
    if nameless := [each.name for each in suppliers if not each.email]:
        raise Refusal(f"{nameless[0]} has no e-mail address.", remedy="Type it in the list of suppliers.")
    if row.answer_by is not None and row.answer_by < now().date():
        raise BadEntry(
            f"The day for answers, {row.answer_by:%d %b %Y}, is past.",
            field="answer_by",
            remedy="Set another.",
        )
    if not mail():
        raise Refusal(
            "No letters go out from here.", remedy="Whoever runs the application sets SANDSCALE_MAIL."
        )
    with recording(actor, f"Enquiry {row.number} sent") as log:
        log.update(row, asked_on=now().date())
        for supplier in suppliers:
            jobs.begin(actor, LETTER, {"enquiry": row.id, "supplier": supplier.id})
    return log.saved(row)


def fetch_answers(actor: Actor, enquiry_id: int) -> Saved:
    """Ask the price desk what was answered, and keep what is new.

    Raises:
        Refusal: it wasn't sent, or the desk can't be reached.
    """
    require_writer(actor)
    row = find(Enquiry, actor, enquiry_id)
    if row.asked_on is None:
        raise Refusal(f"Enquiry {row.number} wasn't sent yet.", remedy="Send it first.")
    return _keep_answers(actor, row.id, *answers_to(row))


@action
def _keep_answers(actor: Actor, enquiry_id: int, told: list[dict[str, Any]], left_out: int) -> Saved:
    row = find(Enquiry, actor, enquiry_id)
    there = {(each.supplier_id, each.resource_id, each.source, each.price) for each in row.answers}
    asked = {each.supplier.email.lower(): each.supplier_id for each in row.suppliers}
    lines = {each.id: each.resource_id for each in row.lines}
    fresh = []
    for each in told:
        supplier, resource = asked.get(each.pop("email")), lines.get(each.pop("line"))
        if supplier is None or resource is None:
            left_out += 1  # an answer to nobody's question
        elif (known := (supplier, resource, each["source"], each["price"])) not in there:
            there.add(known)
            fresh.append({"enquiry": row.id, "supplier": supplier, "resource": resource, **each})
    came = f"{len(fresh)} answer{'s' if len(fresh) != 1 else ''}" if fresh else "nothing new yet"
    odd = f"; {left_out} left out, which can't be or wasn't asked for" if left_out else ""
    with recording(actor, f"Enquiry {row.number}: {came}{odd}") as log:
        log.insert_all(Answer, [{"aside": False, **each} for each in fresh])
    return log.saved(len(fresh))


@action
def take_answer(actor: Actor, answer_id: int) -> Saved:
    """Take an answer in as a quote.

    Raises:
        InUse: it was taken in.
    """
    answer = find(Answer, actor, answer_id)
    if answer.quotes.exists():
        raise InUse(f"The answer of {answer.supplier.name} for {answer.resource.name} was taken in already.")
    with recording(actor, f"Quote of {answer.supplier.name} for {answer.resource.name}") as log:
        quote = _taken(log, answer)
    return log.saved(quote)


@action
def take_answers(actor: Actor, enquiry_id: int) -> Saved:
    """Take all in that was answered and is neither taken in nor set aside, as one change."""
    row = find(Enquiry, actor, enquiry_id)
    left = [each for each in row.answers.order_by(Answer.id) if not each.aside and not each.quotes.exists()]
    if not left:
        raise Missing(f"Nothing of enquiry {row.number} is left to be taken in.")
    with recording(actor, f"Enquiry {row.number}: {len(left)} quotes taken in") as log:
        for answer in left:
            _taken(log, answer)
    return log.saved(len(left))


def _taken(log: Recording, answer: Answer) -> Quote:
    if answer.aside:
        log.update(answer, aside=False)
    return log.insert(
        Quote, resource=answer.resource_id, supplier=answer.supplier.name, price=answer.price,
        unit=answer.unit, contains=None, least=answer.least, quoted_on=answer.quoted_on,
        valid_to=answer.valid_to,
        source=answer.source, answer=answer.id,
    )  # fmt: skip


@action
def set_aside(actor: Actor, answer_id: int, aside: bool) -> Saved:
    """Leave an answer out, or heed it again.

    Raises:
        InUse: it was taken in.
    """
    answer = find(Answer, actor, answer_id)
    if answer.quotes.exists():
        raise InUse("That answer was taken in.", remedy="Delete its quote first.")
    name = f"{answer.supplier.name} for {answer.resource.name}"
    with recording(actor, f"Answer of {name} {'set aside' if aside else 'heeded'}") as log:
        log.update(answer, aside=aside)
    return log.saved(answer)
