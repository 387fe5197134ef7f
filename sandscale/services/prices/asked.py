"""Enquiries as the screens show them: what is asked, of whom, what came, and what is still waited for."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from statistics import median

from ...core.pricing.packs import density_of, holds
from ...core.pricing.quotes import OUTLYING
from ...core.refusals import BadEntry
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
from ..keeping.acting import Actor, find
from .needs import needed
from .reading import norm_of
from .views import AnswerView, AskedSupplier, EnquiryBrief, EnquiryLineView, EnquiryView, SupplierView

_SHOWN = Decimal("0.0001")


def suppliers(actor: Actor) -> list[SupplierView]:
    """The project's suppliers by name."""
    rows = Supplier.select().where(Supplier.project == actor.project_id)
    return [SupplierView.model_validate(row) for row in sorted(rows, key=lambda row: row.name.lower())]


def enquiries(actor: Actor) -> list[EnquiryBrief]:
    """The project's enquiries, the newest first, with how many answers are still waited for."""
    rows = list(Enquiry.select().where(Enquiry.project == actor.project_id).order_by(Enquiry.number.desc()))
    return [_brief(row) for row in rows]


def _brief(row: Enquiry) -> EnquiryBrief:
    waited = 0
    if row.asked_on:
        pairs = Answer.select(Answer.supplier, Answer.resource).where(Answer.enquiry == row.id).distinct()
        waited = row.lines.count() * row.suppliers.count() - pairs.count()
    late = row.asked_on is not None and row.answer_by is not None and row.answer_by < now().date()
    return EnquiryBrief(
        id=row.id, number=row.number, title=row.title, asked_on=row.asked_on, answer_by=row.answer_by,
        waited=waited, late=late,
    )  # fmt: skip


def enquiry_view(actor: Actor, enquiry_id: int) -> EnquiryView:
    """An enquiry with all that belongs to it."""
    row, project = find(Enquiry, actor, enquiry_id), Project.get_by_id(actor.project_id)
    lines = list(
        EnquiryLine.select(EnquiryLine, Resource)
        .join(Resource)
        .where(EnquiryLine.enquiry == row.id)
        .order_by(EnquiryLine.id)
    )
    asked = list(
        EnquirySupplier.select(EnquirySupplier, Supplier)
        .join(Supplier)
        .where(EnquirySupplier.enquiry == row.id)
        .order_by(Supplier.name)
    )
    found = list(
        Answer.select(Answer, Supplier).join(Supplier).where(Answer.enquiry == row.id).order_by(Answer.id)
    )
    quotes = {q.answer_id: q.id for q in Quote.those(Quote.answer, [each.id for each in found])}
    needs = needed(project, [line.resource_id for line in lines])
    came = {(each.supplier_id, each.resource_id) for each in found}
    return EnquiryView(
        **_brief(row).model_dump(), version=row.version, words=row.words,
        lines=[
            EnquiryLineView(
                id=line.id, version=line.version, resource=line.resource_id, name=line.resource.name,
                unit=line.resource.unit, quantity=line.quantity,
                needed=needs.get(line.resource_id, Decimal(0)).quantize(Decimal("0.001")),
            )
            for line in lines
        ],
        suppliers=[
            AskedSupplier(
                supplier=each.supplier_id, name=each.supplier.name, email=each.supplier.email,
                waited=[
                    line.resource.name
                    for line in lines
                    if row.asked_on and (each.supplier_id, line.resource_id) not in came
                ],
            )
            for each in asked
        ],
        answers=[
            view
            for line in lines
            for view in _answers_for(
                line, [each for each in found if each.resource_id == line.resource_id], quotes, row
            )
        ],
    )  # fmt: skip


def _answers_for(
    line: EnquiryLine, found: Iterable[Answer], quotes: dict[int, int], row: Enquiry
) -> list[AnswerView]:
    """The answers for one resource, the lowest first, each with what is to be known of it."""
    told = [(answer, *_held(answer, line.resource)) for answer in found]
    each = [answer.price / contains for answer, contains, _ in told if contains]
    middle = median(each) if each else Decimal(0)
    views = [_answer_view(*one, line, middle, quotes.get(one[0].id), row) for one in told]
    return sorted(views, key=lambda v: (v.per_unit is None, v.per_unit or 0, v.id))


def _held(answer: Answer, resource: Resource) -> tuple[Decimal | None, str]:
    """How much what was answered holds, or why that can't be told."""
    try:
        return holds(answer.unit, resource.unit, density_of(resource.density)), ""
    except BadEntry as refusal:
        return None, refusal.sentence


def _answer_view(
    answer: Answer, contains: Decimal | None, unread: str, line: EnquiryLine, middle: Decimal,
    quote: int | None, row: Enquiry,
) -> AnswerView:  # fmt: skip
    resource, says, per_unit = line.resource, [unread] if unread else [], None
    if contains is not None:
        per_unit, norm = answer.price / contains, norm_of(resource)
        if middle and abs(per_unit - middle) > OUTLYING * middle:
            says.append(f"{(per_unit / middle - 1) * 100:+.0f} % from the middle".replace("-", "−"))
        if answer.least is not None and line.quantity < answer.least * contains:
            says.append("sold in more than is asked for")
        if norm is not None and (missed := norm.missed_by(per_unit)):
            says.append(missed)
    if row.answer_by is not None and answer.came_on > row.answer_by:
        says.append("came late")
    return AnswerView(
        id=answer.id, line=line.id, resource=resource.id, name=resource.name, used_in=resource.unit,
        supplier=answer.supplier.name, price=answer.price, unit=answer.unit, least=answer.least,
        per_unit=None if per_unit is None else per_unit.quantize(_SHOWN), quoted_on=answer.quoted_on,
        valid_to=answer.valid_to, came_on=answer.came_on, source=answer.source, aside=answer.aside,
        quote=quote, says="; ".join(says),
    )  # fmt: skip
