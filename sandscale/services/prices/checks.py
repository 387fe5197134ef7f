"""What looks wrong with prices."""

from __future__ import annotations

from collections.abc import Iterator

from peewee import fn

from ...core.checks.quoted import quoted
from ...core.findings import Finding
from ...store.models import BuildUpLine, Project, Quote, Resource
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place
from .reading import below_least, price_of


def _prices(actor: Actor) -> Iterator[Place]:
    used = BuildUpLine.column(BuildUpLine.resource, BuildUpLine.project, [actor.project_id])
    for row in (
        Resource.select()
        .where((Resource.project == actor.project_id) & (fn.jsonb_array_length(Resource.findings) > 0))
        .limit(MOST)
    ):
        for says, wrong, code, numbers in row.findings:
            finding = Finding(says, wrong=wrong, code=code, numbers=tuple(numbers))
            yield quoted(row.name, finding, f"resource:{row.id}", used=row.id in used), row.id, row.name


def _least(actor: Actor) -> Iterator[Place]:
    """Quotes that are used for less than they are for."""
    project, quotes = Project.get_by_id(actor.project_id), dict[int, list[Quote]]()
    sold = Quote.select(Quote.resource).where((Quote.project == project.id) & Quote.least.is_null(False))
    for quote in Quote.select().where(Quote.resource << sold).order_by(Quote.id):
        quotes.setdefault(quote.resource_id, []).append(quote)
    rows = {row.id: row for row in Resource.select().where(Resource.id << list(quotes)).limit(MOST)}
    priced = [(row, price_of(row, quotes[row.id], project)) for row in rows.values()]
    for resource, findings in below_least(project, priced).items():
        for finding in findings:
            name = rows[resource].name
            yield quoted(name, finding, f"resource:{resource}", used=True), resource, name


CHECKS = (_prices, _least)
