"""Finding anything in a project by its words."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import reduce
from operator import and_
from typing import Any

from peewee import Field

from ...store.models import (
    BuildUp,
    Drawing,
    Element,
    GroundSurface,
    Item,
    Location,
    Resource,
    Revision,
    Section,
    Sheet,
    Survey,
)
from ..bill.reading import ordered_sections, own_bill, refs_of
from ..keeping.acting import Actor
from .views import FoundView

_REF = re.compile(r"\d+(\.\d+)+")


def find_all(actor: Actor, text: str, most: int) -> list[FoundView]:
    """What holds every one of some words: elements, sheets, resources, rates and items, in the order of
    the work."""
    words = text.split()
    if not words:
        return []
    found = []
    for view in _everything(actor, words, most):
        found.append(view)
        if len(found) == most:
            break
    return found


def _everything(actor: Actor, words: list[str], most: int) -> Iterator[FoundView]:
    mine = Element.select(Element, Location).join(Location).where(Element.project == actor.project_id)
    for row in _holding(mine, words, most, Element.mark, Element.description, Location.name).order_by(
        Element.position
    ):
        name = f"{row.mark} {row.description}".strip()
        to = (
            f"/ground/{row.measurer}/{row.id}"
            if row.measurer in ("earthwork", "trench", "route")
            else f"/measure/{row.id}"
        )
        yield FoundView(kind=row.location.name, name=name, to=to)
    for table, kind in ((Survey, "survey"), (GroundSurface, "surface")):
        for row in _holding(table.select().where(table.project == actor.project_id), words, most, table.name):
            yield FoundView(kind=kind, name=row.name, to=f"/ground/{kind}/{row.id}")
    sheets = (
        Sheet.select(Sheet, Revision, Drawing)
        .join(Revision)
        .join(Drawing)
        .where(Sheet.project == actor.project_id)
    )
    for row in _holding(sheets, words, most, Drawing.number, Drawing.title, Sheet.title):
        name = f"{row.revision.drawing.number} p. {row.page} {row.title}".strip()
        yield FoundView(kind="sheet", name=name, to=f"/sheets/{row.id}")
    resources = Resource.select().where(Resource.project == actor.project_id)
    for row in _holding(resources, words, most, Resource.name, Resource.kind):
        yield FoundView(kind=row.kind, name=row.name, to=f"/prices/{row.id}")
    rates = BuildUp.select().where(BuildUp.project == actor.project_id)
    for row in _holding(rates, words, most, BuildUp.name, BuildUp.kind):
        yield FoundView(kind=row.kind, name=row.name, to=f"/rates/{row.id}")
    yield from _items(actor, words, most)


def _items(actor: Actor, words: list[str], most: int) -> Iterator[FoundView]:
    bill = own_bill(actor.project_id)
    query = Item.select().join(Section).where(Section.bill == bill.id)
    rows = list(
        _holding(query, words, most, Item.description, Item.number).order_by(Item.section, Item.position)
    )
    if _REF.fullmatch(words[0]):
        rows = [*_by_ref(bill.id, words[0]), *rows]
    numbers = refs_of(rows)
    for row in rows:
        name = f"{numbers[row.id]} {row.description}"
        yield FoundView(kind="bill item", name=name, to=f"/bill?at=item:{row.id}")


def _by_ref(bill_id: int, ref: str) -> list[Item]:
    """The item of a number such as 2.14."""
    section_ref, _, at = ref.rpartition(".")
    section = next((p.section for p in ordered_sections(bill_id) if p.ref == section_ref), None)
    if section is None or not 0 < int(at) < 1_000_000:
        return []
    inside = Item.select().where(Item.section == section.id).order_by(Item.position, Item.id)
    return list(inside.offset(int(at) - 1).limit(1))


def _holding(query: Any, words: list[str], most: int, *columns: Field) -> Any:
    """The rows of a query in whose columns each of some words stands."""
    each = [reduce(lambda a, b: a | b, (column.contains(word) for column in columns)) for word in words]
    return query.where(reduce(and_, each)).limit(most)
