"""Walking prices."""

from __future__ import annotations

from decimal import Decimal

from ...core.numbers.working import Working, shown
from ...core.pricing.quotes import BASES
from ...store.models import BuildUp, BuildUpLine, Project, Quote, Resource
from ..keeping.acting import Actor, find
from ..keeping.views import WalkView
from ..keeping.walking import Step, currency_of, link_to, view_of
from .reading import core_quote, price_of


def _resource(actor: Actor, ref: str, resource_id: str) -> WalkView:
    row, project = find(Resource, actor, int(resource_id)), Project.get_by_id(actor.project_id)
    unit = f"{project.currency}/{row.unit}"
    price = price_of(row, row.quotes, project)
    figures = " ; ".join(shown(q.per_unit) for q in price.used)
    basis = f"{BASES[row.basis]} on {project.price_date:%d %b %Y}"
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
    return view_of(ref, working, comes, goes, [f.says for f in price.findings])


def _quote(actor: Actor, ref: str, quote_id: str) -> WalkView:
    row, currency = find(Quote, actor, int(quote_id)), currency_of(actor)
    unit = f"{currency}/{row.resource.unit}"
    figures = f"{shown(row.price)} / {shown(row.contains, least=0)}"
    source = f"{row.source or 'no source noted'}; {row.quoted_on:%d %b %Y}" + (
        f", valid to {row.valid_to:%d %b %Y}" if row.valid_to else ""
    )
    working = Working(
        f"Quote of {row.supplier}",
        core_quote(row).per_unit,
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
    return view_of(ref, working, [], goes)


STEPS = {"resource": Step(1, _resource), "quote": Step(1, _quote)}
