"""What items are priced by: a rate typed, a build-up, a banded or a reference rate at a size, or several of
them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import exact
from ...core.numbers.written import written
from ...core.pricing import composed
from ...core.refusals import BadEntry
from ...store.models import Bill, Item, Project, RateBand, RatePart, Section
from ..keeping.acting import Actor, find
from ..rates.banded import size_beside
from ..rates.priced import SIZED, Priced
from .quantities import core_links, periods_of, places_of, quantity_of
from .views import RatePartView


def parts_of(item_ids: Iterable[int]) -> dict[int, list[Any]]:
    """What the rates of items are composed of, in order; items with a rate of one are missing."""
    found: dict[int, list[Any]] = {}
    for row in RatePart.some(
        RatePart._meta.sorted_fields, RatePart.item, item_ids, RatePart.position, RatePart.id
    ):
        found.setdefault(row.item_id, []).append(row)
    return found


def core_parts(parts: Iterable[Any], priced: Priced) -> list[composed.Part]:
    """The parts of a composed rate as the core takes them."""
    return [
        composed.Part(
            priced.heads[p.build_up_id].name, priced.heads[p.build_up_id].unit, factor_of(p.factor),
            priced.price_at(p.build_up_id, p.size), f"build-up:{p.build_up_id}",
        )
        for p in parts
    ]  # fmt: skip


@lru_cache(maxsize=20_000)
def factor_of(text: str) -> Decimal:
    """A factor as it was typed."""
    return exact(read_entry(text, "", field="factor"))


def rate_of(item: Any, parts: Sequence[Any], priced: Priced, places: int) -> Decimal | None:
    """What the bill takes for an item: the rate typed, or composed of parts, or of its build-up; None where
    there is none."""
    if item.typed_rate.strip():
        return factor_of(item.typed_rate)
    if parts:
        return composed.rate(core_parts(parts, priced), places)
    return priced.rate_at(item.build_up_id, item.size, places) if item.build_up_id else None


def billed_by(build_up_ids: Iterable[int]) -> dict[int, Decimal]:
    """How much of the project's own bill each of some rates prices, in its unit."""
    ids = set(build_up_ids)
    own = Bill.select(Bill.id).where(Bill.kind == "own")
    items = Item.select(Item, Section).join(Section)
    found: dict[int, Decimal] = {}
    for _, rate, quantity in priced_by(items.where(drawing_on(ids) & (Section.bill << own))):
        if rate in ids:
            found[rate] = found.get(rate, Decimal(0)) + quantity
    return found


def drawing_on(build_up_ids: Iterable[int]) -> Any:
    """Which items are priced by some rates: themselves, as a band of another, or as a part of several."""
    pricing = set(build_up_ids)
    pricing |= RateBand.column(RateBand.build_up, RateBand.nested, pricing)
    of_several = RatePart.column(RatePart.item, RatePart.build_up, pricing)
    return (Item.build_up << list(pricing)) | (Item.id << list(of_several))


def priced_by(items: Iterable[Item]) -> Iterator[tuple[Item, int, Decimal]]:
    """Items that have a quantity with each rate that prices them, of a banded one that of its band, and how
    much they take of it."""
    there = [item for item in items if item.kind in ("measured", "time")]
    if not there:
        return
    ids = [item.id for item in there]
    links, places = core_links(ids), places_of(Project.get_by_id(there[0].project_id))
    parts = parts_of(ids)
    priced = Priced(
        {item.build_up_id for item in there} | {p.build_up_id for each in parts.values() for p in each}
    )
    periods = periods_of({item.section_id for item in there if item.kind == "time"})
    for item in there:
        quantity = quantity_of(item, links[item.id], places, periods.get(item.section_id, ""))
        for build_up, size, factor in taken_by(item, parts.get(item.id, ())):
            if (rate := priced.rate_within(build_up, size)) is not None:
                yield item, rate, quantity * factor


def taken_by(item: Any, parts: Sequence[Any]) -> list[tuple[int, str, Decimal]]:
    """The rates that an item takes: which, at what size, and how many of it in one of its own unit."""
    if item.typed_rate.strip():
        return []
    if parts:
        return [(p.build_up_id, p.size, factor_of(p.factor)) for p in parts]
    return [(item.build_up_id, item.size, Decimal(1))] if item.build_up_id else []


def parts(actor: Actor, item_id: int) -> list[RatePartView]:
    """The rates that an item's is composed of, in order."""
    item = find(Item, actor, item_id)
    rows = parts_of([item.id]).get(item.id, [])
    priced = Priced(row.build_up_id for row in rows)
    return [
        RatePartView(
            id=row.id, version=row.version, build_up=row.build_up_id, name=part.name, unit=part.unit,
            factor=written(row.factor), price=part.price, comes_to=part.comes_to.quantize(_KEPT),
            says=_unread(priced, row), **size_told(priced.heads[row.build_up_id], row.size),
        )
        for row, part in zip(rows, core_parts(rows, priced), strict=True)
    ]  # fmt: skip


_KEPT = Decimal("0.0001")


def _unread(priced: Priced, row: Any) -> str:
    """Why a rate can't be read at its size; empty where it can."""
    if not priced.is_sized(row.build_up_id):
        return ""
    try:
        priced.at(row.build_up_id, row.size)
    except BadEntry as refusal:
        return refusal.sentence
    return ""


def size_told(rate: Any, size: str) -> dict[str, str]:
    """At what size a banded or a reference rate is read; nothing of a plain one."""
    if rate is None or rate.kind not in SIZED:
        return {"size": "", "sized_by": "", "sized_in": ""}
    told = size_beside(size, rate.sized_in)
    return {"size": told, "sized_by": rate.sized_by or "size", "sized_in": rate.sized_in}
