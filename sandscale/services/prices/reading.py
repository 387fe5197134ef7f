"""Resources with their quotes and the price they come to."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from ...core.findings import Finding
from ...core.numbers.entry import as_typed
from ...core.pricing import quotes as price_rules
from ...core.pricing.build_up import GROUPS
from ...core.pricing.packs import density_of, holds
from ...core.refusals import BadEntry
from ...store.database import database
from ...store.models import Project, Quote, Resource
from ..keeping.acting import Actor
from .needs import needed
from .views import QuoteView, ResourceView
from .working_out import worked_price, worked_view

_SHOWN = Decimal("0.0001")


def resources(actor: Actor) -> list[ResourceView]:
    """The project's resources by kind and name, with their quotes and the price they come to."""
    rows = Resource.select().where(Resource.project == actor.project_id)
    return resource_views(actor, sorted(rows, key=lambda r: (GROUPS.index(r.kind), r.name.lower())))


_USED = """
SELECT resource_id, COUNT(DISTINCT build_up_id) FROM build_up_line WHERE resource_id = ANY(%s::integer[])
GROUP BY resource_id"""


def resource_views(actor: Actor, rows: Iterable[Resource]) -> list[ResourceView]:
    """Resources as the screens show them, in the order given."""
    project, rows = Project.get_by_id(actor.project_id), list(rows)
    ids = [row.id for row in rows]
    quotes: dict[int, list[Quote]] = {}
    by_id = Quote.those(Quote.resource, ids, Quote.id)
    for quote in sorted(by_id, key=lambda quote: quote.quoted_on, reverse=True):
        quotes.setdefault(quote.resource_id, []).append(quote)
    used = dict(database.execute_sql(_USED, (ids,)).fetchall())
    priced = {row.id: price_of(row, quotes.get(row.id, []), project) for row in rows}
    least = below_least(project, [(row, priced[row.id]) for row in rows])
    return [
        _view(
            row, quotes.get(row.id, []), project, used.get(row.id, 0), priced[row.id], least.get(row.id, [])
        )
        for row in rows
    ]


def below_least(
    project: Project, priced: Iterable[tuple[Resource, price_rules.Price]]
) -> dict[int, list[Finding]]:
    """What is said of resources whose quotes are for more than the bill needs."""
    sold = [(row, price) for row, price in priced if any(quote.least for quote in price.used)]
    needs = needed(project, [row.id for row, _ in sold])
    return {
        row.id: [
            found
            for quote in price.used
            if row.id in needs and (found := price_rules.too_little(quote, needs[row.id], row.unit))
        ]
        for row, price in sold
    }


def _view(
    row: Resource, quotes: list[Quote], project: Project, used_in: int, price: price_rules.Price,
    least: Iterable[Finding],
) -> ResourceView:  # fmt: skip
    used = {quote.reference for quote in price.used}
    return ResourceView(
        id=row.id, version=row.version, name=row.name, kind=row.kind, unit=row.unit, basis=row.basis,
        chosen=row.chosen, density=as_typed(row.density, "kg/m³"), density_source=row.density_source,
        norm_low=row.norm_low, norm_high=row.norm_high, norm_source=row.norm_source,
        worked=worked_view(row) if row.basis == "worked" else None, price=row.price,
        findings=[f.says for f in (*price.findings, *least)], used_in=used_in,
        quotes=[_quote_view(q, row, q.id in used, project) for q in quotes],
    )  # fmt: skip


def _quote_view(quote: Quote, resource: Resource, used: bool, project: Project) -> QuoteView:
    try:
        core, says = core_quote(quote, resource), ""
    except BadEntry as refusal:
        core, says = None, refusal.sentence
    return QuoteView(
        id=quote.id, version=quote.version, supplier=quote.supplier, price=quote.price, unit=quote.unit,
        contains=quote.contains, holds=core and core.contains, least=quote.least,
        per_unit=core and core.per_unit.quantize(_SHOWN), quoted_on=quote.quoted_on, valid_to=quote.valid_to,
        source=quote.source, answer=quote.answer_id, used=used, says=says,
        validity="valid" if core is None else core.validity(project.price_date),
    )  # fmt: skip


def core_quote(quote: Quote, resource: Resource) -> price_rules.Quote:
    """A quote as the core takes it; how much it holds is read from its unit where it isn't typed.

    Raises:
        BadEntry: its unit doesn't tell.
    """
    contains = quote.contains
    if contains is None:
        contains = holds(quote.unit, resource.unit, density_of(resource.density))
    return price_rules.Quote(
        quote.id, quote.supplier, quote.price, contains, quote.quoted_on, quote.valid_to, quote.least
    )


def norm_of(resource: Resource) -> price_rules.Norm | None:
    """The own norm of a resource."""
    if resource.norm_low is None:
        return None
    return price_rules.Norm(resource.norm_low, resource.norm_high, resource.norm_source)


def usable(resource: Resource, quotes: Iterable[Quote]) -> tuple[list[price_rules.Quote], list[Finding]]:
    """The quotes that tell how much they are for, and what is said of those that don't."""
    found, said = list[price_rules.Quote](), list[Finding]()
    for quote in quotes:
        try:
            found.append(core_quote(quote, resource))
        except BadEntry as refusal:
            says = f"The quote of {quote.supplier} isn't used: {refusal.sentence}"
            said.append(Finding(says, code="pack-unread"))
    return found, said


def price_of(resource: Resource, quotes: Iterable[Quote], project: Project) -> price_rules.Price:
    """A resource's price on the project's price date."""
    if resource.basis == "worked":
        return worked_price(resource)
    found, said = usable(resource, quotes)
    price = price_rules.price(found, resource.basis, project.price_date, resource.chosen, norm_of(resource))
    return price_rules.Price(price.value, price.used, (*price.findings, *said)) if said else price
