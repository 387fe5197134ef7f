"""Quotes from a list of prices, seen and put right before they are kept."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from ...core.numbers.days import read_day
from ...core.numbers.units import is_unit, unit
from ...core.numbers.written import listed
from ...core.pricing.columns import QuoteColumn, fields_of, recognise
from ...core.pricing.packs import density_of, holds
from ...core.refusals import BadEntry, Refusal
from ...formats.table import cells
from ...store.models import Project, Quote, Resource
from ..keeping.acting import Actor
from ..keeping.recording import action, recording
from ..keeping.views import RowRead, Saved, TableRead
from .actions import UNTOLD, checked_quote, checked_resource

SAMPLE = 6  # rows shown as they came
MOST_AT_ONCE = 20_000
_ROW = "Row {}: {}"


@dataclass(frozen=True)
class _Known:
    """What the project has already: resources by name in small letters, and its quotes."""

    project: Project
    resources: Mapping[str, Resource]
    quotes: frozenset[tuple[int, str, date, Decimal]]


def _known(project_id: int) -> _Known:
    project = Project.get_by_id(project_id)
    rows = Resource.select().where(Resource.project == project_id)
    quotes = Quote.select(Quote.resource, Quote.supplier, Quote.quoted_on, Quote.price)
    return _Known(
        project,
        {_name(row.name): row for row in rows},
        frozenset(
            (resource, supplier.lower(), quoted_on, price)
            for resource, supplier, quoted_on, price in quotes.where(Quote.project == project_id).tuples()
        ),
    )


def _name(text: str) -> str:
    return " ".join(text.lower().split())


def read(
    actor: Actor, content: bytes, name: str, said: Sequence[QuoteColumn] | None = None, supplier: str = ""
) -> TableRead:
    """Rows of a file or of the clipboard as they would become quotes; nothing is kept.

    Args:
        content: CSV or any text in columns, or a workbook.
        name: what the user calls it, for sentences.
        said: what the columns are, where they were put right by hand.
        supplier: whose list it is, where no column says.

    Raises:
        UnreadableTable: it holds no rows.
    """
    known, table = _known(actor.project_id), cells(content, name)
    columns = recognise(table, said)
    rows = []
    for at, row in enumerate(table[columns.first :], start=columns.first + 1):
        fields = fields_of(row, columns)
        if supplier.strip():
            fields.setdefault("supplier", supplier.strip())
        if fields.keys() - {"supplier"}:
            rows.append(_looked_over(at, fields, known))
    return TableRead(
        columns=list(columns.columns),
        heads=list(table[columns.first - 1]) if columns.first else [],
        sample=[list(row) for row in table[columns.first : columns.first + SAMPLE]],
        rows=rows,
        wrong=sum(bool(row.says) for row in rows),
    )


def _looked_over(at: int, fields: dict[str, str], known: _Known) -> RowRead:
    """A row with what keeps it from being taken in, or what looks wrong with it."""
    try:
        resource, made = _quote_of(fields, known)
        looks = []
        if resource.id is None:
            looks.append(
                f"There is no resource “{resource.name}”; it is made, as material in {resource.unit}."
            )
        elif _same(resource, made) in known.quotes:
            raise BadEntry("The project has this quote already.", field="price")
        try:
            if made.get("contains") is None:
                holds(made["unit"], resource.unit, density_of(resource.density))
        except BadEntry as refusal:
            if refusal.code not in UNTOLD:
                raise
            looks.append(refusal.sentence)
    except Refusal as refusal:
        return RowRead(line=at, fields=fields, says=refusal.sentence)
    return RowRead(line=at, fields=fields, says="", looks=" ".join(looks))


def _same(resource: Resource, made: Mapping[str, Any]) -> tuple[int, str, date, Decimal]:
    return resource.id, made["supplier"].lower(), made["quoted_on"], made["price"].quantize(Decimal("0.0001"))


def _quote_of(fields: Mapping[str, str], known: _Known) -> tuple[Resource, dict[str, Any]]:
    """A row's resource, a new one where there is none of the name, and its fields as a quote."""
    name = fields.get("resource", "").strip()
    if not name:
        raise BadEntry("It names no resource.", field="resource")
    if not fields.get("price"):
        raise BadEntry("It has no price.", field="price")
    sold = fields.get("unit", "")
    resource = known.resources.get(_name(name)) or Resource(
        **checked_resource(
            {"name": name[:200].strip(), "kind": "material", "unit": _own_unit(sold), "density": ""}
        )
    )
    quoted_on = read_day(fields["quoted_on"], "quoted_on") if fields.get("quoted_on") else None
    made = {
        "supplier": fields.get("supplier", ""),
        "price": listed(fields["price"], "price"),
        "unit": sold or resource.unit,
        "contains": listed(fields["contains"], "contains") if fields.get("contains") else None,
        "least": listed(re.sub(r"[^\d.,]*$", "", fields["least"]), "least") if fields.get("least") else None,
        "quoted_on": quoted_on or known.project.price_date,
        "valid_to": read_day(fields["valid_to"], "valid_to") if fields.get("valid_to") else None,
        "source": fields.get("source", "")[:500],
    }
    return resource, checked_quote(made, made, resource)


def _own_unit(sold: str) -> str:
    """The unit a resource that is only known by how it is sold is used in: the last one named, or nr."""
    named = [word for word in re.findall(r"[^\W\d]+[²³23]?", sold) if is_unit(word)]
    return unit(named[-1]).symbol if named else "nr"


@action
def add_quotes(actor: Actor, rows: Sequence[Mapping[str, str]]) -> Saved:
    """Many quotes at once, as one change, each naming its resource. Resources there aren't are made.

    Raises:
        BadEntry: a row can't be; its number is told, and nothing is kept.
    """
    if len(rows) > MOST_AT_ONCE:
        raise BadEntry(f"{len(rows)} quotes are more than the {MOST_AT_ONCE} taken in at once.", field="rows")
    known = _known(actor.project_id)
    ready: list[tuple[Resource, dict[str, Any]]] = []
    fresh: dict[str, Resource] = {}
    for number, row in enumerate(rows, start=1):
        try:
            resource, made = _quote_of(row, known)
        except Refusal as refusal:
            raise BadEntry(
                f"Row {number}: {refusal.sentence}", field=f"{number - 1}.{refusal.field}",
                remedy=refusal.remedy or "Put it right, or leave the row out.",
            ) from None  # fmt: skip
        if resource.id is None:
            resource = fresh.setdefault(_name(resource.name), resource)
        ready.append((resource, made))
    with recording(actor, f"{len(ready)} quote{'s' if len(ready) != 1 else ''} taken in") as log:
        columns = ("name", "kind", "unit", "density")
        rows_made = log.insert_all(
            Resource, [{name: getattr(each, name) for name in columns} for each in fresh.values()]
        )
        for each, made_row in zip(fresh.values(), rows_made, strict=True):
            each.id = made_row.id
        log.insert_all(Quote, [{"resource": resource.id, **made} for resource, made in ready])
    return log.saved(len(ready))
