"""Walking prices."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from ...core.numbers.working import Working, shown
from ...core.pricing.packs import holds
from ...core.pricing.quotes import BASES
from ...core.pricing.worked_out import INPUTS
from ...core.refusals import BadEntry
from ...store.models import Answer, BuildUp, BuildUpLine, EnquiryLine, Project, Quote, Resource
from ..keeping.acting import Actor, find
from ..keeping.views import WalkView
from ..keeping.walking import Step, currency_of, link_to, view_of
from .reading import core_quote, norm_of, price_of
from .working_out import way_of, working_of


def _resource(actor: Actor, ref: str, resource_id: str) -> WalkView:
    row, project = find(Resource, actor, int(resource_id)), Project.get_by_id(actor.project_id)
    unit = f"{project.currency}/{row.unit}"
    price = price_of(row, row.quotes, project)
    figures = " ; ".join(shown(q.per_unit) for q in price.used)
    basis = f"{BASES[row.basis]} on {project.price_date:%d %b %Y}"
    if row.basis == "norm" and (norm := norm_of(row)):
        high = "" if norm.high is None else f" to {shown(norm.high)}"
        basis, figures = f"own norm, {norm.source or 'typed here'}", f"{shown(norm.low)}{high}"
    if row.basis == "worked" and price.value is not None:
        told = working_of(row, project.currency)
        working = replace(told, name=f"Price of {row.name}")
    else:
        working = Working(f"Price of {row.name}", price.value or Decimal(0), unit, basis, figures)
    comes = [
        link_to(
            f"quote:{q.reference}",
            f"{q.supplier}, {q.quoted_on:%d %b %Y}",
            q.per_unit,
            unit,
            "prices",
            row.id,
        )
        for q in price.used
    ]
    labels = {each.key: each.label for each in INPUTS[way_of(row)]}
    comes += [
        link_to(
            f"resource:{each.source_id}",
            f"{each.source.name}, {labels[each.input].lower()}",
            each.source.price,
            f"{project.currency}/{each.source.unit}",
            "prices",
            each.source_id,
        )
        for each in (row.draws if row.basis == "worked" else ())
        if each.input in labels
    ]
    lines = (
        BuildUpLine.select(BuildUpLine, BuildUp)
        .join(BuildUp, on=(BuildUpLine.build_up == BuildUp.id))
        .where(BuildUpLine.resource == row.id)
    )
    outer = {line.build_up.id: line.build_up for line in lines}
    goes = [
        link_to(f"build-up:{b.id}", b.name, b.rate, f"{project.currency}/{b.unit}", "rates", b.id)
        for b in outer.values()
    ]
    goes += [
        link_to(
            f"resource:{each.resource_id}",
            each.resource.name,
            each.resource.price,
            f"{project.currency}/h",
            "prices",
            each.resource_id,
        )
        for each in row.drawn_by
    ]
    return view_of(ref, working, comes, goes, [f.says for f in price.findings])


def _quote(actor: Actor, ref: str, quote_id: str) -> WalkView:
    row, currency = find(Quote, actor, int(quote_id)), currency_of(actor)
    unit = f"{currency}/{row.resource.unit}"
    core = core_quote(row, row.resource)
    figures = f"{shown(row.price)} / {shown(core.contains, least=0)}"
    source = f"{row.source or 'no source noted'}; {row.quoted_on:%d %b %Y}" + (
        f", valid to {row.valid_to:%d %b %Y}" if row.valid_to else ""
    )
    if row.contains is None and row.resource.density and core.contains != holds_alone(row):
        source += f"; {row.resource.density}, {row.resource.density_source or 'no source noted'}"
    working = Working(
        f"Quote of {row.supplier}",
        core.per_unit,
        unit,
        f"price of one {row.unit} / {row.resource.unit} in it",
        figures,
        source=source,
    )
    goes = [
        link_to(
            f"resource:{row.resource_id}",
            row.resource.name,
            row.resource.price,
            unit,
            "prices",
            row.resource_id,
        )
    ]
    comes = [
        link_to(
            f"answer:{each.id}",
            f"Enquiry {each.enquiry.number}, answer of {each.supplier.name}",
            each.price,
            f"{currency}/{each.unit}",
            "prices",
            each.enquiry_id,
        )
        for each in Answer.those(Answer.id, {row.answer_id} - {None})
    ]
    return view_of(ref, working, comes, goes)


def holds_alone(row: Quote) -> Decimal | None:
    """What a quote's unit holds without the resource's density; None where it doesn't tell."""
    try:
        return holds(row.unit, row.resource.unit)
    except BadEntry:
        return None


def _answer(actor: Actor, ref: str, answer_id: str) -> WalkView:
    row, currency = find(Answer, actor, int(answer_id)), currency_of(actor)
    unit = f"{currency}/{row.unit}"
    asked = row.enquiry.lines.where(EnquiryLine.resource == row.resource_id).first()
    told = f"{row.source}; came {row.came_on:%d %b %Y}"
    told += f"; asked for {shown(asked.quantity)} {row.resource.unit}" if asked else ""
    working = Working(
        f"Answer of {row.supplier.name} for {row.resource.name}", row.price, unit,
        f"enquiry {row.enquiry.number}", shown(row.price), source=told,
    )  # fmt: skip
    goes = [
        link_to(f"quote:{q.id}", f"Quote of {q.supplier}", q.price, unit, "prices", q.resource_id)
        for q in row.quotes
    ]
    return view_of(ref, working, [], goes)


STEPS = {
    "resource": Step(1, _resource, Resource),
    "quote": Step(1, _quote, Quote),
    "answer": Step(1, _answer, Answer),
}
