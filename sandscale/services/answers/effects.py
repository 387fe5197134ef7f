"""By how much a change moved rates and items: the project as it would be without it, and as it is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal
from typing import Any

from peewee import IntegrityError

from ...core.refusals import Refusal
from ...store.changes import ChangeLog, Conflict, Entry, entries_of
from ...store.database import database
from ...store.models import Bill, BuildUp, Change, Item, Project, Section
from ...store.shadow import tried
from ..bill.reading import refs_of
from ..keeping.acting import Actor, Missing, require_writer
from ..keeping.graph import Ids, settle
from ..keeping.views import View

MOST_TOLD = 200  # of each, those that moved most


class MovedRate(View):
    """A rate before and after; none where it is a price that isn't known."""

    id: int
    name: str
    unit: str
    before: Decimal | None
    after: Decimal | None


class MovedItem(View):
    """An item of the bill before and after."""

    id: int
    ref: str
    description: str
    unit: str
    quantity_before: Decimal
    quantity_after: Decimal
    rate_before: Decimal | None
    rate_after: Decimal | None
    before: Decimal
    after: Decimal


class ChangeEffect(View):
    """What a change moved: how many rates and items, those that moved most, and the bill's total."""

    label: str
    rates: list[MovedRate]
    rates_moved: int
    items: list[MovedItem]
    items_moved: int
    bill_before: Decimal
    bill_after: Decimal


def effect_of(actor: Actor, change_id: int) -> ChangeEffect:
    """What a change that stands moved. Nothing is written and nobody waits: it is taken back in the project's
    shadow.

    Raises:
        Missing: the project has no such change.
        Refusal: what it touched was changed since.
    """
    require_writer(actor)
    return tried(lambda: _without(actor, change_id))


def _without(actor: Actor, change_id: int) -> ChangeEffect:
    change = next(iter(Change.those(Change.id, [change_id], project=actor.project_id)), None)
    if change is None:
        raise Missing("That change is not in this project.")
    project = Project.get_by_id(actor.project_id)
    log = ChangeLog(project, None, change.label)
    with database.atomic() as trial:
        try:
            for entry in reversed(entries_of(change)):
                log.apply(Entry(entry.table, entry.row_id, entry.after, entry.before))
        except (Conflict, IntegrityError):
            raise Refusal(
                f"What “{change.label}” touched was changed since, so what it moved by itself can't be told.",
                remedy="Look at the later change.",
            ) from None
        moved = settle(project.id, log.entries)
        rates, items = moved.get("rates", set()), moved.get("items", set())
        before = figures_of(rates, items), Project.get_by_id(project.id).bill_total
        trial.rollback()
    items = of_own_bill(items)  # of those there are: the change may have deleted some
    after = figures_of(rates, items), Project.get_by_id(project.id).bill_total
    return ChangeEffect(
        label=change.label,
        rates=moved_rates(rates, before[0][0], after[0][0]), rates_moved=len(rates),
        items=moved_items(items, before[0][1], after[0][1]), items_moved=len(items),
        bill_before=before[1], bill_after=after[1],
    )  # fmt: skip


_Rows = Mapping[int, Any]


def figures_of(rates: Ids, items: Ids) -> tuple[_Rows, _Rows]:
    """What rates and items come to, by their ids."""
    of_rates = BuildUp.some((BuildUp.id, BuildUp.rate), BuildUp.id, rates)
    of_items = Item.some((Item.id, Item.quantity, Item.rate, Item.amount), Item.id, items)
    return {row.id: row for row in of_rates}, {row.id: row for row in of_items}


def moved_rates(ids: Iterable[int], before: _Rows, after: _Rows) -> list[MovedRate]:
    """Rates before and after, those that moved most first."""

    def by(row_id: int, rows: _Rows) -> Decimal:
        return (rows[row_id].rate if row_id in rows else None) or Decimal(0)

    there = sorted((each for each in ids if each in after), key=lambda i: -abs(by(i, after) - by(i, before)))
    named = {row.id: row for row in BuildUp.those(BuildUp.id, there[:MOST_TOLD])}
    return [
        MovedRate(
            id=each, name=named[each].name, unit=named[each].unit, after=after[each].rate,
            before=before[each].rate if each in before else None,
        )
        for each in there[:MOST_TOLD]
    ]  # fmt: skip


def of_own_bill(ids: Iterable[int]) -> Ids:
    """Those of some items that are in a project's own bill."""
    own = Item.select(Item.id).join(Section).join(Bill).where(Bill.kind == "own")
    return {each for (each,) in own.where(Item.id << list(ids)).tuples()}


def moved_items(ids: Iterable[int], before: _Rows, after: _Rows) -> list[MovedItem]:
    """Items before and after, those whose amounts moved most first."""

    def by(row_id: int, rows: _Rows) -> Decimal:
        return rows[row_id].amount if row_id in rows else Decimal(0)

    there = sorted(ids, key=lambda i: (-abs(by(i, after) - by(i, before)), i))[:MOST_TOLD]
    rows = {row.id: row for row in Item.those(Item.id, there)}
    refs = refs_of(rows.values())
    told = []
    for each in there:
        was, now = before.get(each), after[each]
        told.append(
            MovedItem(
                id=each, ref=refs[each], description=rows[each].description, unit=rows[each].unit,
                quantity_before=was.quantity if was else Decimal(0), quantity_after=now.quantity,
                rate_before=was.rate if was else None, rate_after=now.rate,
                before=was.amount if was else Decimal(0), after=now.amount,
            )
        )  # fmt: skip
    return told
