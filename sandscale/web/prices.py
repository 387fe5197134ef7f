"""The prices stage: resources and quotes."""

from __future__ import annotations

from typing import Any

from flask import g
from pydantic import RootModel

from ..services.keeping.views import Saved
from ..services.prices import actions as prices
from ..services.prices import reading as prices_reading
from ..services.prices.views import ResourceView
from .api import answers, api, stage, writes
from .schemas import NewQuote, NewResource, QuoteChange, ResourceChange

blueprint = stage("prices")


class Resources(RootModel[list[ResourceView]]):
    """The project's resources."""


@blueprint.get("/resources")
@api.validate(resp=answers(Resources))
def resources() -> Any:
    """The resources with their quotes."""
    return Resources(prices_reading.resources(g.actor))


@blueprint.post("/resources")
@writes
def add_resource(json: NewResource) -> Saved:
    """Add a resource."""
    return prices.add_resource(g.actor, json.model_dump())


@blueprint.patch("/resources/<int:resource>")
@writes
def change_resource(resource: int, json: ResourceChange) -> Saved:
    """Change a resource."""
    return prices.change_resource(g.actor, resource, json.version, json.given())


@blueprint.delete("/resources/<int:resource>")
@writes
def delete_resource(resource: int) -> Saved:
    """Delete a resource nothing draws on."""
    return prices.delete_resource(g.actor, resource)


@blueprint.post("/resources/<int:resource>/quotes")
@writes
def add_quote(resource: int, json: NewQuote) -> Saved:
    """Add a quote."""
    return prices.add_quote(g.actor, resource, json.given())


@blueprint.patch("/quotes/<int:quote>")
@writes
def change_quote(quote: int, json: QuoteChange) -> Saved:
    """Change a quote."""
    return prices.change_quote(g.actor, quote, json.version, json.given())


@blueprint.delete("/quotes/<int:quote>")
@writes
def delete_quote(quote: int) -> Saved:
    """Delete a quote."""
    return prices.delete_quote(g.actor, quote)
