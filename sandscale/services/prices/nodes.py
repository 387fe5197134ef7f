"""The part of the graph that is prices."""

from __future__ import annotations

from collections.abc import Collection
from decimal import Decimal
from typing import Any

from ...store.models import PriceDraw, Project, Quote, Resource
from ..keeping.graph import After, Differing, Ids, Node, Written, ids_in
from .reading import price_of

_PLACES = Decimal("0.000001")


def _price(project: Project, ids: Collection[int]) -> Ids:
    """Prices of resources, and what looks wrong with their quotes."""
    quotes: dict[int, list[Quote]] = {}
    for quote in Quote.those(Quote.resource, ids, Quote.id):
        quotes.setdefault(quote.resource_id, []).append(quote)
    differing: list[Differing] = []
    for resource in Resource.those(Resource.id, ids):
        price = price_of(resource, quotes.get(resource.id, []), project)
        value = None if price.value is None else price.value.quantize(_PLACES)
        findings = [[f.says, f.wrong, f.code, list(f.numbers)] for f in price.findings]
        if (resource.price, resource.findings) != (value, findings):
            differing.append((resource.id, value, findings))
    return Resource.keep([Resource.price, Resource.findings], differing)


def _of_project(project_id: int, _were: list[Any]) -> Ids:
    return ids_in(Resource.select(Resource.id).where(Resource.project == project_id))


NODES = (
    Node(
        name="prices",
        table=Resource,
        gives=(Resource.price, Resource.findings),
        edges=(
            Written(
                Resource,
                (
                    Resource.basis,
                    Resource.chosen,
                    Resource.unit,
                    Resource.density,
                    Resource.norm_low,
                    Resource.norm_high,
                    Resource.worked,
                ),
            ),
            Written(Quote, through=(Quote.resource,)),
            Written(PriceDraw, through=(PriceDraw.resource,)),
            After("prices", through=(PriceDraw.source, PriceDraw.resource)),
            Written(Project, (Project.price_date,), found=_of_project),
        ),
        work=_price,
    ),
)
