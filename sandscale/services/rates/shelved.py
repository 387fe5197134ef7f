"""Rates put on shelves, and taken from there or from another project, with all that they draw on."""

from __future__ import annotations

from graphlib import TopologicalSorter
from typing import Any

from ...core.numbers.rounding import exact
from ...core.pricing.rate_document import (
    BandDocument,
    DrawnResource,
    LineDocument,
    RateDocument,
    RatesDocument,
    SizeDocument,
    read_rate,
)
from ...core.refusals import BadEntry
from ...store.models import BuildUp, BuildUpLine, Membership, Project, RateBand, ReferenceSize, Resource
from ..keeping.acting import Actor, Missing, find
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from ..prices.actions import checked_resource
from ..shelves import actions as shelves
from .actions import HEAD_FIELDS, checked_build_up
from .bands import check_band, refuse_overlaps
from .lines import check_line, refuse_once_in_gang
from .reading import core_line, lines_of, taken_by
from .sizes import check_size

_OF_LINES = ("group", "basis", "percent_of", "quantity", "allowance", "escalation", "size", "note")
_OF_SIZES = ("size", "labour", "plant", "material", "whole")
_Key = tuple[str, str]  # a name in small letters, and a unit


def document_of(row: BuildUp) -> RatesDocument:
    """A rate with all that it draws on, however deep."""
    known: dict[int, RateDocument] = {}
    waiting = [row]
    while waiting:
        fresh = {each.id: each for each in waiting if each.id not in known}
        lines = lines_of(fresh)
        sizes = ReferenceSize.those(ReferenceSize.build_up, fresh, ReferenceSize.id)
        bands = RateBand.those(RateBand.build_up, fresh, RateBand.id)
        for each in fresh.values():
            known[each.id] = RateDocument(
                name=each.name, **_head_of(each),
                lines=[_line_of(line) for line in lines[each.id]],
                sizes=[
                    SizeDocument(**{name: getattr(size, name) for name in _OF_SIZES})
                    for size in sizes if size.build_up_id == each.id
                ],
                bands=[
                    BandDocument(
                        low=band.low, below=band.below, price=band.price,
                        rate=band.nested.name if band.nested_id else None,
                    )
                    for band in bands if band.build_up_id == each.id
                ],
            )  # fmt: skip
        drawn_on = {line.nested_id for each in fresh for line in lines[each]}
        waiting = BuildUp.those(BuildUp.id, (drawn_on | {band.nested_id for band in bands}) - {None})
    return RatesDocument(currency=row.project.currency, rates=list(known.values()))


def _head_of(row: BuildUp) -> dict[str, Any]:
    """What a rate says of itself; what it takes from quantity lines of the project, as a number."""
    taken = {name: f"{exact(each.value):f}" for name, each in taken_by(row).items() if each}
    return {**{name: getattr(row, name) for name in HEAD_FIELDS}, **taken}


def _line_of(line: Any) -> LineDocument:
    fields = {name: getattr(line, name) for name in _OF_LINES}
    if line.taken_id:
        fields["quantity"] = f"{core_line(line).quantity:f}"
    resource = line.resource if line.resource_id else None
    return LineDocument(
        resource=resource and DrawnResource(name=resource.name, kind=resource.kind, unit=resource.unit),
        rate=line.nested.name if line.nested_id else None,
        **fields,
    )  # fmt: skip


@action
def put_rate_on_shelf(actor: Actor, build_up_id: int, shelf_id: int) -> Saved:
    """Put a rate on a shelf, with all that it draws on.

    Raises:
        Missing: the shelf isn't the person's.
    """
    row = find(BuildUp, actor, build_up_id)
    shelves.put(actor.person_id, shelf_id, "rate", document_of(row).model_dump_json(indent=1))
    with recording(actor, f"Rate {row.name} put on a shelf") as log:
        pass
    return log.saved(row)


@action
def take_rate_from_shelf(actor: Actor, shelf_id: int, key: str) -> Saved:
    """Take a rate from a shelf, with all that it draws on.

    Raises:
        BadEntry: the project has one of that name, or one of another unit within it, or it tells costs in
            another currency.
        Missing: the shelf isn't the person's, or has no such rate.
    """
    there = shelves.latest(actor.person_id, shelf_id, "rate", key)
    return _take(actor, read_rate(there.source), f"{there.name}, no. {there.number}")


@action
def take_rate_from_project(actor: Actor, project_id: int, build_up_id: int) -> Saved:
    """Take a rate of another project of the person's, with all that it draws on.

    Raises:
        BadEntry: the project has one of that name, or one of another unit within it, or it tells costs in
            another currency.
        Missing: they don't belong to that project, or it has no such rate.
    """
    mine = (Membership.project == project_id) & (Membership.person == actor.person_id)
    if not Membership.select().where(mine).exists():
        raise Missing("There is no such project of yours.")
    row = find(BuildUp, Actor(actor.person_id, project_id, "viewer"), build_up_id)
    return _take(actor, document_of(row), f"{row.name}, from {row.project.name}")


def _take(actor: Actor, document: RatesDocument, called: str) -> Saved:
    first, currency = document.rates[0], Project.get_by_id(actor.project_id).currency
    if document.tells_costs and document.currency not in ("", currency):
        raise BadEntry(
            f"“{first.name}” tells costs in {document.currency}; the project is in {currency}.",
            field="currency", remedy=f"Take one whose costs are in {currency}.",
        )  # fmt: skip
    rates = {row.name.lower(): row for row in BuildUp.those(BuildUp.project, [actor.project_id])}
    if first.name.lower() in rates:
        raise BadEntry(
            f"There is a rate “{first.name}” already.",
            field="name",
            remedy="Call that one something else first.",
        )
    resources = {
        (row.name.lower(), row.unit): row for row in Resource.those(Resource.project, [actor.project_id])
    }
    with recording(actor, f"Rate {called}") as log:
        for each in _within_first(document):
            if (there := rates.get(each.name.lower())) is None:
                rates[each.name.lower()] = _made(log, each, rates, resources)
            elif there.unit != each.unit:
                raise BadEntry(
                    f"“{each.name}” is per {there.unit} in this project, and per {each.unit} there.",
                    field="unit", remedy="Call the project's something else first.",
                )  # fmt: skip
    return log.saved(rates[first.name.lower()])


def _within_first(document: RatesDocument) -> list[RateDocument]:
    """The rates of a document, each after those it draws on."""
    known = {each.name.lower(): each for each in document.rates}
    uses = {name: set(each.draws_on) for name, each in known.items()}
    return [known[name] for name in TopologicalSorter(uses).static_order()]


def _made(
    log: Recording, told: RateDocument, rates: dict[str, BuildUp], resources: dict[_Key, Resource]
) -> BuildUp:
    head = {name: getattr(told, name) for name in HEAD_FIELDS}
    row = log.insert(BuildUp, **checked_build_up({"name": told.name, **head}))
    for position, line in enumerate(told.lines):
        drawn = rates[line.rate.lower()] if line.rate else None
        resource = _resource(log, line.resource, resources) if line.resource else None
        fields = {name: getattr(line, name) for name in _OF_LINES}
        symbol = resource.unit if resource else drawn.unit if drawn else "%"
        check_line(fields, symbol)
        refuse_once_in_gang(row.kind, line.basis)
        log.insert(
            BuildUpLine, build_up=row.id, position=position, resource=resource and resource.id,
            nested=drawn and drawn.id, **fields,
        )  # fmt: skip
    for size in told.sizes:
        fields = {name: getattr(size, name) for name in _OF_SIZES}
        check_size(fields, row.sized_in)
        log.insert(ReferenceSize, build_up=row.id, **fields)
    for band in told.bands:
        nested = rates[band.rate.lower()] if band.rate else None
        fields = {"low": band.low, "below": band.below, "price": band.price, "nested": nested and nested.id}
        check_band(fields, row.sized_in)
        log.insert(RateBand, build_up=row.id, **fields)
    if told.bands:
        refuse_overlaps(row)
    return row


def _resource(log: Recording, told: DrawnResource, resources: dict[_Key, Resource]) -> Resource:
    """The project's resource of a name and unit; a new one, without a price, where it has none."""
    key = (told.name.lower(), told.unit)
    if key not in resources:
        if any(name == key[0] for name, _ in resources):
            raise BadEntry(
                f"“{told.name}” is in another unit in this project than in {told.unit}.", field="unit",
                remedy="Call the project's something else first.",
            )  # fmt: skip
        fields = {"name": told.name, "kind": told.kind, "unit": told.unit}
        resources[key] = log.insert(Resource, **checked_resource(fields))
    return resources[key]
