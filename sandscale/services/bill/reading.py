"""The bills: in order, numbered, with their totals and their foot; whole, in outline, or a window of their
items."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.numbers.entry import as_typed, read_entry
from ...core.numbers.rounding import DEFAULT_PLACES, billed, exact
from ...core.numbers.units import unit
from ...core.numbers.written import written
from ...core.pricing import bill as bill_rules
from ...core.pricing.bill import base_words
from ...store.database import database
from ...store.models import (
    Adjustment,
    Bill,
    BuildUp,
    Item,
    ItemLink,
    Project,
    RateBand,
    Section,
)
from ..keeping.acting import Actor, find
from ..keeping.one_reading import once_a_reading
from ..rates.banded import banded
from .views import (
    AdjustmentView,
    BillBrief,
    BillOutline,
    BillView,
    Foot,
    ItemView,
    LinkView,
    SectionHead,
    SectionView,
)

MOST_ITEMS = 400  # in one window

MOST_DEEP = 8  # sections within sections


@once_a_reading
def own_bill(project_id: int) -> Bill:
    """The project's own bill."""
    return Bill.those(Bill.project, [project_id], Bill.id, kind="own")[0]


def bill_of(actor: Actor, bill_id: int | None) -> Bill:
    """A bill of the project; its own when none is named.

    Raises:
        Missing: there is none of that id.
    """
    return own_bill(actor.project_id) if bill_id is None else find(Bill, actor, bill_id)


def bills(actor: Actor) -> list[BillBrief]:
    """The project's bills: its own first, then those received and issued."""
    rows = Bill.select().where(Bill.project == actor.project_id).order_by(Bill.position, Bill.id)
    return [BillBrief.model_validate(row) for row in rows]


@dataclass(frozen=True)
class Place:
    """A section in its bill: its number, how deep it lies, and what it comes to with those inside it."""

    section: Section
    ref: str
    depth: int
    total: Decimal


@once_a_reading
def ordered_sections(bill_id: int) -> list[Place]:
    """The sections of a bill in order."""
    children: dict[int | None, list[Section]] = {}
    for section in Section.those(Section.bill, [bill_id], Section.position, Section.id):
        children.setdefault(section.parent_id, []).append(section)

    def visit(parent: int | None, before: str, depth: int) -> tuple[list[Place], Decimal]:
        places, total = list[Place](), Decimal(0)
        for number, section in enumerate(children.get(parent, []), start=1):
            inner, inside = visit(section.id, f"{before}{number}.", depth + 1)
            own = Decimal(section.items_total) + inside
            places += [Place(section, f"{before}{number}", depth, own), *inner]
            total += own
        return places, total

    return visit(None, "", 0)[0]


def bill_view(actor: Actor, bill_id: int | None = None) -> BillView:
    """A whole bill, with every item; for documents. Screens read its outline, and its items in windows."""
    bill = bill_of(actor, bill_id)
    outline = bill_outline(actor, bill.id)
    sections = [place.section.id for place in ordered_sections(bill.id)]
    shown = item_views(Item.column(Item.id, Item.section, sections))
    inside: dict[int, list[ItemView]] = {}
    for view in shown:
        inside.setdefault(view.section, []).append(view)
    heads = [
        SectionView(**{**head.model_dump(), "items": inside.get(head.id, [])}) for head in outline.sections
    ]
    return BillView(**{**outline.model_dump(), "sections": heads})


def bill_outline(actor: Actor, bill_id: int | None = None) -> BillOutline:
    """A bill's sections with their totals and how many items each holds, and its foot."""
    bill = bill_of(actor, bill_id)
    counts = _held(bill.id)
    places = ordered_sections(bill.id)
    heads = [section_head(place, counts.get(place.section.id, 0)) for place in places]
    return BillOutline(
        **foot_of(bill.id).model_dump(), id=bill.id, kind=bill.kind, title=bill.title, sections=heads
    )


def foot_of(bill_id: int) -> Foot:
    """The foot of a bill: its adjustments one by one, and how much of it isn't known yet."""
    rows, (items, set_aside) = adjustments_of(bill_id), _sums(bill_id)
    summary = bill_rules.summary(items, [core_adjustment(row) for row in rows], set_aside)
    return Foot(
        items_total=summary.items, set_aside=set_aside, total=summary.total,
        adjustments=_adjustment_views(rows, summary), resting=_resting(bill_id),
    )  # fmt: skip


def section_heads(project_id: int) -> list[SectionHead]:
    """The sections of a project's own bill in order, as lists show them."""
    bill_id = own_bill(project_id).id
    counts = _held(bill_id)
    return [section_head(place, counts.get(place.section.id, 0)) for place in ordered_sections(bill_id)]


_HELD = """
SELECT i.section_id, COUNT(*) FROM item i JOIN section s ON s.id = i.section_id WHERE s.bill_id = %s
GROUP BY i.section_id"""


def _held(bill_id: int) -> dict[int, int]:
    """How many items each section of a bill holds."""
    return dict(database.execute_sql(_HELD, (bill_id,)).fetchall())


def section_head(place: Place, items: int) -> SectionHead:
    """A section as lists show it."""
    s = place.section
    return SectionHead(
        id=s.id, version=s.version, ref=place.ref, depth=place.depth, title=s.title, parent=s.parent_id,
        total=place.total, holds=items,
    )  # fmt: skip


def _adjustment_views(rows: list[Adjustment], summary: bill_rules.Summary) -> list[AdjustmentView]:
    return [
        AdjustmentView(
            id=a.id, version=a.version, name=a.name, percent=a.percent, base=a.base,
            base_words=base_words(a.base),
            on=w.on, adds=w.adds,
        )
        for a, w in zip(rows, summary.adjustments, strict=True)
    ]  # fmt: skip


# Items wait that draw on an element whose quantities are still being worked out.
_WAITING = """
SELECT l.item_id FROM being_worked_out w JOIN item_link l ON l.element_id = w.row_id
WHERE w.node = 'quantities'"""
_RESTING = f"""
SELECT COALESCE(SUM(i.amount), 0) FROM item i JOIN section s ON s.id = i.section_id
WHERE s.bill_id = %s AND i.id IN ({_WAITING})"""


def _resting(bill_id: int) -> Decimal:
    """How much of a bill rests on figures that are being worked out."""
    (amount,) = database.execute_sql(_RESTING, (bill_id,)).fetchone()
    return Decimal(amount)


def bill_items(actor: Actor, first: int, most: int, bill_id: int | None = None) -> list[ItemView]:
    """A window of a bill's items in its order, beginning with the ``first`` (0 is the bill's first)."""
    bill = bill_of(actor, bill_id)
    counts = _held(bill.id)
    passed, left, views = 0, min(most, MOST_ITEMS), list[ItemView]()
    for place in ordered_sections(bill.id):
        holds = counts.get(place.section.id, 0)
        skip = max(first - passed, 0)
        if left > 0 and skip < holds:
            ids = (
                Item.select(Item.id).where(Item.section == place.section.id).order_by(Item.position, Item.id)
            )
            window = [item_id for (item_id,) in ids.offset(skip).limit(left).tuples()]
            views += item_views(window)
            left -= len(window)
        passed += holds
    return views


def index_of(actor: Actor, item_id: int) -> int:
    """Where an item stands in its bill's order: 0 is the first."""
    item = find(Item, actor, item_id)
    earlier = (Item.position < item.position) | ((Item.position == item.position) & (Item.id < item.id))
    passed = 0
    for place in ordered_sections(item.section.bill_id):
        within = Item.select().where(Item.section == place.section.id)
        if place.section.id == item.section_id:
            return passed + within.where(earlier).count()
        passed += within.count()
    raise AssertionError("a section is in its bill")


_LINKED = "SELECT item_id, COUNT(*) FROM item_link WHERE item_id = ANY(%s) GROUP BY item_id"


def item_views(ids: Iterable[int]) -> list[ItemView]:
    """Items as the screens show them, in the order of their sections' rows."""
    rows = Item.those(Item.id, ids, Item.section, Item.position, Item.id)
    if not rows:
        return []
    wanted = [row.id for row in rows]
    numbers = refs_of(rows)
    rates = BuildUp.those(BuildUp.id, {row.build_up_id for row in rows if row.build_up_id})
    heads = {row.id: row for row in rates}
    links = dict(database.execute_sql(_LINKED, (wanted,)).fetchall())
    waiting = {item for (item,) in database.execute_sql(f"{_WAITING} AND l.item_id = ANY(%s)", (wanted,))}
    return [
        ItemView(
            id=item.id, version=item.version, section=item.section_id, ref=numbers[item.id], kind=item.kind,
            description=item.description, unit=item.unit, quantity=item.quantity,
            typed_quantity=written(item.typed_quantity), typed_reason=item.typed_reason,
            typed_amount=written(item.typed_amount),
            typed_rate=written(item.typed_rate), number=item.number, client_text=item.client_text,
            build_up=item.build_up_id, **_priced_by(heads.get(item.build_up_id), item.size),
            rate=item.rate, amount=item.amount, links=links.get(item.id, 0), waiting=item.id in waiting,
        )
        for item in rows
    ]  # fmt: skip


def _priced_by(rate: BuildUp | None, size: str) -> dict[str, str]:
    """The rate of an item in words; of a banded one, by what size its band is picked."""
    if rate is None or rate.kind != "banded":
        return {"build_up_name": rate.name if rate else "", "size": "", "sized_by": "", "sized_in": ""}
    return {
        "build_up_name": rate.name, "size": as_typed(size, rate.sized_in) if size else "",
        "sized_by": rate.sized_by or "size", "sized_in": rate.sized_in,
    }  # fmt: skip


_PLACED = """
SELECT id, ROW_NUMBER() OVER (PARTITION BY section_id ORDER BY position, id) FROM item
WHERE section_id = ANY(%s)"""


def refs_of(items: Iterable[Item]) -> dict[int, str]:
    """The numbers of some items in their bills; reads the sections they lie in, not the whole bill."""
    rows = list(items)
    sections = {row.section_id for row in rows}
    if not sections:
        return {}
    places = dict(database.execute_sql(_PLACED, (list(sections),)).fetchall())
    bills = Section.column(Section.bill, Section.id, sections)
    refs = {p.section.id: p.ref for bill_id in bills for p in ordered_sections(bill_id)}
    return {row.id: f"{refs[row.section_id]}.{places[row.id]}" for row in rows}


def ref_of(item: Item) -> str:
    """The number of an item in its bill."""
    return refs_of([item])[item.id]


def links(actor: Actor, item_id: int) -> list[LinkView]:
    """What an item draws on."""
    item = find(Item, actor, item_id)
    rows = list(item.links.order_by(ItemLink.id))
    worked = core_links([item.id])[item.id]
    return [
        LinkView(
            id=row.id, element=row.element_id, output=row.output, split=row.split, part=row.part,
            name=link.name,
            net=link.net, unit=link.unit, factor=written(row.factor),
        )
        for row, link in zip(rows, worked, strict=False)
    ]  # fmt: skip


_DRAWN_ON = """
SELECT l.item_id, l.factor, l.output, l.part, e.id, e.mark, q.label, q.unit, q.net, p.net FROM item_link l
JOIN element e ON e.id = l.element_id JOIN quantity_line q ON q.element_id = e.id AND q.output = l.output
LEFT JOIN quantity_part p ON p.element_id = e.id AND p.output = l.output AND p.split = l.split
AND p.part = l.part WHERE l.item_id = ANY(%s) ORDER BY l.id"""


def core_links(item_ids: Iterable[int]) -> dict[int, list[bill_rules.Link]]:
    """What items draw on, as the core takes it: quantity lines, or named parts of them."""
    wanted = list(item_ids)
    found: dict[int, list[bill_rules.Link]] = {item_id: [] for item_id in wanted}
    rows = database.execute_sql(_DRAWN_ON, (wanted,)) if wanted else ()
    for item, factor, output, part, element, mark, label, symbol, net, of_part in rows:
        name = f"{label} in {mark}" + (f", {part}" if part else "")
        drawn = net if not part else of_part or 0.0  # a part that is no more gives nothing
        link = f"quantity:{element}:{output}"
        found[item].append(bill_rules.Link(drawn, symbol, read_entry(factor, ""), name, link))
    return found


def places_of(project: Project) -> dict[str, int]:
    """A project's rounding rules: decimal places per unit."""
    return {**DEFAULT_PLACES, **project.rounding}


def quantity_of(item: Any, links: list[bill_rules.Link], places: dict[str, int]) -> Decimal:
    """What an item comes to as it is measured or typed; sums have none."""
    if item.kind not in ("measured", "rate_only"):
        return Decimal(0)
    if item.typed_quantity.strip():
        return billed(_typed_quantity(item.typed_quantity, item.unit), item.unit, places)
    return bill_rules.item_quantity(links, item.unit, places)


@lru_cache(maxsize=20_000)
def _typed_quantity(text: str, symbol: str) -> float:
    return read_entry(text, symbol, field="quantity") / unit(symbol).size


def billed_by(build_up_ids: Iterable[int]) -> dict[int, Decimal]:
    """How much of the project's own bill each of some rates prices, in its unit."""
    ids = list(build_up_ids)
    own = Bill.select(Bill.id).where(Bill.kind == "own")
    items = Item.select(Item, Section).join(Section)
    pricing = [*ids, *RateBand.column(RateBand.build_up, RateBand.nested, ids)]
    found: dict[int, Decimal] = {}
    for _, rate, quantity in priced_by(items.where((Item.build_up << pricing) & (Section.bill << own))):
        if rate in ids:
            found[rate] = found.get(rate, Decimal(0)) + quantity
    return found


def priced_by(items: Iterable[Item]) -> Iterator[tuple[Item, int, Decimal]]:
    """Measured items with the rate that prices them, of a banded one that of its band, and their
    quantities."""
    there = [item for item in items if item.kind == "measured" and item.build_up_id]
    if not there:
        return
    links, places = core_links([item.id for item in there]), places_of(Project.get_by_id(there[0].project_id))
    by_band = banded({item.build_up_id for item in there})
    for item in there:
        rate = item.build_up_id
        if rate in by_band.heads:
            rate = by_band.nested_at(rate, item.size)
        if rate is not None:
            yield item, rate, quantity_of(item, links[item.id], places)


def typed_amount(item: Item) -> Decimal | None:
    """The amount typed for a sum; None where none is."""
    return (
        exact(read_entry(item.typed_amount, "", field="amount"))
        if item.kind in bill_rules.SUMS and item.typed_amount.strip()
        else None
    )


def summary_of(bill_id: int) -> bill_rules.Summary:
    """The foot of a bill."""
    core = [core_adjustment(a) for a in adjustments_of(bill_id)]
    items, set_aside = _sums(bill_id)
    return bill_rules.summary(items, core, set_aside)


_SUMS = "SELECT COALESCE(SUM(items_total), 0), COALESCE(SUM(set_aside), 0) FROM section WHERE bill_id = %s"


@once_a_reading
def _sums(bill_id: int) -> tuple[Decimal, Decimal]:
    """What a bill's items come to, and what of that is set aside."""
    items, set_aside = database.execute_sql(_SUMS, (bill_id,)).fetchone()
    return items, set_aside


@once_a_reading
def adjustments_of(bill_id: int) -> list[Adjustment]:
    """The adjustments at the foot of a bill, in order."""
    return Adjustment.those(Adjustment.bill, [bill_id], Adjustment.position, Adjustment.id)


def core_adjustment(row: Adjustment) -> bill_rules.Adjustment:
    """An adjustment as the core takes it."""
    return bill_rules.Adjustment(row.name, row.percent, row.base)
