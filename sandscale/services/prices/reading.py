"""Resources with their quotes and the price they come to."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from peewee import fn

from ...core.pricing import quotes as price_rules
from ...core.pricing.build_up import GROUPS
from ...store.models import BuildUpLine, Project, Quote, Resource
from ..keeping.acting import Actor
from .views import QuoteView, ResourceView


def resources(actor: Actor) -> list[ResourceView]:
    """The project's resources by kind and name, with their quotes and the price they come to."""
    rows = Resource.select().where(Resource.project == actor.project_id)
    return resource_views(actor, sorted(rows, key=lambda r: (GROUPS.index(r.kind), r.name.lower())))


def resource_views(actor: Actor, rows: Iterable[Resource]) -> list[ResourceView]:
    """Resources as the screens show them, in the order given."""
    project, rows = Project.get_by_id(actor.project_id), list(rows)
    ids = [row.id for row in rows]
    quotes: dict[int, list[Quote]] = {}
    for quote in Quote.select().where(Quote.resource << ids).order_by(Quote.quoted_on.desc(), Quote.id):
        quotes.setdefault(quote.resource_id, []).append(quote)
    used = dict(
        BuildUpLine.select(BuildUpLine.resource, fn.COUNT(BuildUpLine.build_up.distinct()))
        .where(BuildUpLine.resource << ids)
        .group_by(BuildUpLine.resource)
        .tuples()
    )
    return [_view(row, quotes.get(row.id, []), project, used.get(row.id, 0)) for row in rows]


def _view(row: Resource, quotes: list[Quote], project: Project, used_in: int) -> ResourceView:
    price = price_of(row, quotes, project)
    used = {quote.reference for quote in price.used}
    return ResourceView(
        id=row.id, version=row.version, name=row.name, kind=row.kind, unit=row.unit, basis=row.basis,
        chosen=row.chosen, price=row.price,
        findings=[f.says for f in price.findings], used_in=used_in,
        quotes=[
            QuoteView(
                id=q.id, version=q.version, supplier=q.supplier, price=q.price, unit=q.unit,
                contains=q.contains,
                per_unit=core_quote(q).per_unit.quantize(Decimal("0.0001")), quoted_on=q.quoted_on,
                valid_to=q.valid_to, source=q.source,
                used=q.id in used, lapsed=not core_quote(q).valid(project.price_date),
            )
            for q in quotes
        ],
    )  # fmt: skip


def core_quote(quote: Quote) -> price_rules.Quote:
    """A quote as the core takes it."""
    return price_rules.Quote(
        quote.id, quote.supplier, quote.price, quote.contains, quote.quoted_on, quote.valid_to
    )


def price_of(resource: Resource, quotes: Iterable[Quote], project: Project) -> price_rules.Price:
    """A resource's price on the project's price date."""
    return price_rules.price(
        [core_quote(q) for q in quotes], resource.basis, project.price_date, resource.chosen
    )
